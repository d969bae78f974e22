/** How a filter is marked: letters first, then a hatch, then the colour of its light. */
export interface FilterLook {
  colour: string;
  ink: string;
  hatch: 'none' | 'down' | 'up' | 'across' | 'along' | 'dots' | 'cross';
}

const LOOKS: [RegExp, FilterLook][] = [
  [/^(l|lum.*|clear)$/i, { colour: '#B9B2A2', ink: '#16181B', hatch: 'none' }],
  [/^(r|red)$/i, { colour: '#A33A34', ink: '#FFFFFF', hatch: 'up' }],
  [/^(g|green)$/i, { colour: '#2F6B3C', ink: '#FFFFFF', hatch: 'across' }],
  [/^(b|blue)$/i, { colour: '#3557A8', ink: '#FFFFFF', hatch: 'down' }],
  [/^(h|ha|h-?alpha)$/i, { colour: '#8C1F2B', ink: '#FFFFFF', hatch: 'cross' }],
  [/^(o|oiii|o3)$/i, { colour: '#1B6C73', ink: '#FFFFFF', hatch: 'along' }],
  [/^(s|sii|s2)$/i, { colour: '#6A1414', ink: '#FFFFFF', hatch: 'dots' }],
];

export const filterLook = (name: string): FilterLook =>
  LOOKS.find(([pattern]) => pattern.test(name))?.[1] ?? { colour: '#5B6470', ink: '#FFFFFF', hatch: 'none' };

/** Side of a hatch's tile. */
export const HATCH_TILE = 6;
/** SVG path data of a hatch in its tile. */
export const HATCH: Record<FilterLook['hatch'], string> = {
  none: '',
  up: 'M0 6L6 0',
  down: 'M0 0L6 6',
  across: 'M0 3H6',
  along: 'M3 0V6',
  cross: 'M0 0L6 6M0 6L6 0',
  dots: 'M2.5 3h1',
};
export const hatchId = (name: string): string => `hatch-${filterLook(name).hatch}`;
