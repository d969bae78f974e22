import { z } from 'zod';
import { positive, quantity } from '../calculation/index.ts';

/** One attitude of the free axis, and the pulls at which it starts either way. */
export const Reading = z.strictObject({
  axis: z.enum(['dec', 'ra']),
  attitudeDeg: quantity('deg', 'How far the tube’s front is raised above level'),
  tubeSide: z.enum(['left', 'right']).default('left'),
  forceTowardN: quantity('N', 'Pull at which the axis starts in the positive sense; negative when it must be held'),
  forceBackN: quantity('N', 'Pull at which the axis starts the other way; negative when it must be held'),
  leverMm: positive('mm', 'Distance from the axis to where the scale pulls'),
});
export type Reading = z.infer<typeof Reading>;
