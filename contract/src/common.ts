import { PhraseSchema } from '@keen/core/calculation';
import { z } from 'zod';

/** A sentence as code and values; the reader's own units are put in last. */
export const SaidPhrase = PhraseSchema;

export const Id = z.uuid();
export const none = z.strictObject({});
export const byId = z.strictObject({ id: Id });
export const Instant = z.iso.datetime({ offset: true });
export const Day = z.iso.date();

/** A long list is asked for in pages, in an order that stays: from the how-manyeth record, and how many at most. */
export const MOST_A_PAGE = 100;
export const paged = {
  from: z.coerce.number().int().min(0).max(1e7).default(0),
  count: z.coerce.number().int().min(1).max(MOST_A_PAGE).default(MOST_A_PAGE),
};
export const Page = z.strictObject(paged);
export type Page = z.output<typeof Page>;

/** Fields of every shared record that is edited: the version read is sent back with a change. */
export const versioned = {
  version: z.int().min(0).max(1e9),
  updatedAt: Instant,
  updatedBy: z.string(),
};

/** RFC 9457 problem document. `code` is what the interface acts on. */
export const Problem = z.object({
  type: z.string(),
  title: z.string(),
  status: z.int(),
  code: z.string(),
  detail: z.string().optional(),
  issues: z.array(z.object({ path: z.string(), message: z.string() })).optional(),
  /** On a stale save: the record as it now stands. */
  current: z.unknown().optional(),
});
export type Problem = z.infer<typeof Problem>;

export const Ok = z.strictObject({ ok: z.literal(true) });

/** What a change sends with it: the version it was begun from. */
export const version = z.int().min(0).max(1e9).meta({ description: 'Version the change is based on' });
