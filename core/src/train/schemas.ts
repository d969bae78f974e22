import { z } from 'zod';
import { atLeastZero } from '../calculation/index.ts';
import { countedMm, GLASS_INDEX, plateShiftMm } from '../rig/index.ts';

/** Limits hold to this [mm]: 55.3 − 55 must count as 0.3. */
export const SLACK_MM = 1e-6;

export const Glass = z.strictObject({
  thicknessMm: atLeastZero('mm', 'Thickness of the glass in the converging beam'),
  refractiveIndex: z.number().min(1).meta({ description: 'Refractive index' }).default(GLASS_INDEX),
});
export type Glass = z.infer<typeof Glass>;

/** One piece of the optical path, with the length the maker states and the one somebody measured. */
export const PathPart = z
  .strictObject({
    name: z.string().min(1).max(120),
    lengthMm: atLeastZero('mm', 'Documented length'),
    measuredMm: atLeastZero('mm', 'Measured length').optional(),
    use: z.enum(['documented', 'measured']).optional(),
    glass: Glass.optional(),
  })
  .superRefine((p, ctx) => {
    if (p.use === 'measured' && p.measuredMm === undefined)
      ctx.addIssue({
        code: 'custom',
        path: ['measuredMm'],
        message: 'is required when the measured length is to be used',
      });
  });
export type PathPart = z.infer<typeof PathPart>;

/** How far a piece of glass moves the focus back [mm]; not at all without one. */
export const glassShiftMm = (g: Glass | undefined): number => (g ? plateShiftMm(g.thicknessMm, g.refractiveIndex) : 0);

export const pathLengthMm = (parts: readonly PathPart[]): number => parts.reduce((s, p) => s + countedMm(p), 0);
export const pathShiftMm = (parts: readonly PathPart[]): number => parts.reduce((s, p) => s + glassShiftMm(p.glass), 0);

export const Thread = z.strictObject({
  size: z.string().min(1).max(60).meta({ description: 'Such as M48x0.75; compared letter by letter' }),
  gender: z.enum(['male', 'female']),
});
export type Thread = z.infer<typeof Thread>;

/** Two faces go together: one size, opposite genders. */
export const mates = (a: Thread, b: Thread): boolean => a.size === b.size && a.gender !== b.gender;

export const toleranceMm = (fallback: number) => atLeastZero('mm', 'Allowed error').default(fallback);
