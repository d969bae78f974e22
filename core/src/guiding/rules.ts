/** By what people call guiding good; common practice, no source. */
export const RULES = [
  { id: 'one', label: 'below 1″' },
  { id: 'point-eight', label: 'below 0.8″' },
  { id: 'half-pixel', label: 'below half a pixel of the main camera' },
  { id: 'seeing', label: 'below a third of the seeing' },
] as const;
export type RuleId = (typeof RULES)[number]['id'];

/** Greatest scatter in all that a rule allows [″]. */
export function allowedArcsec(rule: RuleId, main: { scaleArcsecPerPx: number; seeingArcsec: number }): number {
  switch (rule) {
    case 'one':
      return 1;
    case 'point-eight':
      return 0.8;
    case 'half-pixel':
      return main.scaleArcsecPerPx / 2;
    case 'seeing':
      return main.seeingArcsec / 3;
  }
}
