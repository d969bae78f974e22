/** What a result owes to values nobody measured. */
export const assumedPhrases = {
  'assumed.place': 'Assumed place of the {name} ±{spreadMm}: ±{momentKgCm}; measure it.',
  'assumed.mass': 'Assumed mass of the {name} ±{spreadKg}: ±{momentKgCm}; weigh it.',
  'assumed.saddle':
    'Assumed height of the saddle ±{spreadMm}: ±{momentKgCm} about right ascension; measure it from the polar axis.',
} as const;
