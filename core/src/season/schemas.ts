import { z } from 'zod';
import { atLeastZero, day, explained, noRepeats, PlainPhraseSchema, positive, within } from '../calculation/index.ts';

/** What one question may hold; so many pairs take the solver up to 0.7 GB, and the largest club that is planned for has nearly as many. */
export const MOST = { slots: 5000, projects: 500, eligible: 40_000 } as const;
const name = z.string().min(1).max(100);

export const Slot = z.strictObject({
  id: name,
  night: day('Night it belongs to'),
  rig: name,
  order: z.int().min(-1e6).max(1e6).meta({ description: 'Place in its night on its rig; neighbours differ by 1' }),
  minutes: positive('min', 'Length'),
});
export type Slot = z.infer<typeof Slot>;
export const Contender = z.strictObject({
  id: name,
  member: name,
  weight: atLeastZero('', 'Worth of a minute of full quality'),
  needMinutes: atLeastZero('min', 'What it needs at most'),
  eligible: z
    .array(z.strictObject({ slot: name, quality: within('', 0, 1, 'How good the slot is for it') }))
    .superRefine(noRepeats((e) => e.slot, 'slot')),
});
export type Contender = z.infer<typeof Contender>;
export const Given = z.strictObject({ slot: z.string(), project: z.string() });
export type Given = z.infer<typeof Given>;

export const AllocateInput = z
  .strictObject({
    slots: z
      .array(Slot)
      .max(MOST.slots)
      .superRefine(noRepeats((s) => s.id, 'slot'))
      .superRefine(noRepeats((s) => `${s.night}, ${s.rig}, ${s.order}`, 'place')),
    projects: z
      .array(Contender)
      .max(MOST.projects)
      .superRefine(noRepeats((p) => p.id, 'project')),
    memberMaxMinutes: z.record(z.string(), atLeastZero('min', 'Most a member may have')).optional(),
    locked: z.array(Given).max(MOST.slots).default([]),
    switchPenalty: atLeastZero('', 'Price of a change of project between neighbouring slots').default(0),
    minimumBlockSlots: z.int().min(1).max(50).default(1).meta({ description: 'Shortest run of one project, in slots' }),
    timeLimitS: positive('s', 'Longest search').max(600).default(10),
    gap: within('', 0, 1, 'Share of the best that may be left unproven').default(0.001),
  })
  .superRefine((input, ctx) => {
    const slots = new Set(input.slots.map((s) => s.id));
    let pairs = 0;
    input.projects.forEach((p, i) => {
      pairs += p.eligible.length;
      p.eligible.forEach((e, k) => {
        if (!slots.has(e.slot))
          ctx.addIssue({
            code: 'custom',
            path: ['projects', i, 'eligible', k, 'slot'],
            message: `there is no slot “${e.slot}”`,
          });
      });
    });
    if (pairs > MOST.eligible)
      ctx.addIssue({
        code: 'custom',
        path: ['projects'],
        message: `have ${pairs} eligible slots in all; at most ${MOST.eligible} are searched`,
      });
  });
export type AllocateInput = z.infer<typeof AllocateInput>;

export const ProjectShare = z.strictObject({
  minutes: z.number(),
  shareOfNeed: z.number(),
  /** Why it has no more, in metric units; the code and its values stand beside it. */
  why: z.string(),
  because: PlainPhraseSchema,
});
export const AllocateOutput = z.strictObject({
  assignments: z.array(Given),
  objective: z.number(),
  bound: z.number(),
  /** Null where the objective is 0 and the bound is not. */
  gap: z.number().nullable(),
  perProject: z.record(z.string(), ProjectShare),
  perMember: z.record(z.string(), z.strictObject({ minutes: z.number(), maxMinutes: z.number().nullable() })),
  greedyObjective: z.number(),
  ...explained,
});
export type AllocateOutput = z.input<typeof AllocateOutput>;
