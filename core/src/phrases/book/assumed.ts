/** What a result owes to values nobody measured. */
export const assumedPhrases = {
  'assumed.place': 'Assumed place of the {name} ±{spreadMm}: ±{momentKgCm}; measure it.',
  'assumed.mass': 'Assumed mass of the {name} ±{spreadKg}: ±{momentKgCm}; weigh it.',
  'assumed.unsaid':
    '{parts} {parts|part does|parts do} not say where mass or place are from; {parts|it counts|they count} as exact.',
  'assumed.saddle':
    'Assumed height of the saddle ±{spreadMm}: ±{momentKgCm} about right ascension; measure it from the polar axis.',
  'assumed.quantum-efficiency': 'quantum efficiency {share:2}',
  'assumed.read-noise': 'read noise {electrons} e⁻',
  'assumed.full-well': 'full well {electrons} e⁻',
  'assumed.dark-current': 'dark current {perSecond:3} e⁻/s',
  'assumed.band': 'a band {width:0} nm wide',
  'assumed.no-obstruction': 'no central obstruction',
  'assumed.aperture': 'aperture {apertureMm}',
  'assumed.guide-sensor': 'guide sensor {width} × {heightPx:0}',
} as const;
