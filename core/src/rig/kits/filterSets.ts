/** Filter sets people fit, by what holds them. */
export const FILTER_SETS = [
  { key: 'lrgb', label: 'L R G B', filters: ['L', 'R', 'G', 'B'] },
  { key: 'lrgb-sho', label: 'L R G B and three lines', filters: ['L', 'R', 'G', 'B', 'Ha', 'OIII', 'SII'] },
  { key: 'sho', label: 'three lines: Ha OIII SII', filters: ['Ha', 'OIII', 'SII'] },
  { key: 'hoo', label: 'two lines: Ha OIII', filters: ['Ha', 'OIII'] },
] as const;
/** In a drawer before a colour camera. */
export const COLOUR_SETS = [
  { key: 'none', label: 'no filter', filters: [] },
  { key: 'dual', label: 'clear, and one that passes two lines', filters: ['clear', 'HaOIII'] },
] as const;
