import { z } from 'zod';

/** Number fields that carry their unit into JSON Schema and OpenAPI. All refuse NaN and infinities. */
const unit = (u: string, description: string) => ({ unit: u, description });

/** No quantity of this trade comes near it, in any unit used here; beyond, sums and squares would lose their digits. */
const MOST = 1e12;
export const quantity = (u: string, description: string) => z.number().min(-MOST).max(MOST).meta(unit(u, description));
export const positive = (u: string, description: string) => z.number().positive().max(MOST).meta(unit(u, description));
export const atLeastZero = (u: string, description: string) => z.number().min(0).max(MOST).meta(unit(u, description));
export const within = (u: string, min: number, max: number, description: string) =>
  z.number().min(min).max(max).meta(unit(u, description));
export const count = (description: string) => z.int().min(0).max(1e9).meta({ description });

export const massKg = (d: string) => atLeastZero('kg', d);
export const latitudeDeg = within('deg', -90, 90, 'Latitude, north positive');

/** An instant, ISO 8601 in UTC. */
export const instant = (description: string) =>
  z.iso.datetime({ offset: true }).meta({ description: `${description} (ISO 8601, UTC)` });
/** A calendar day, YYYY-MM-DD. */
export const day = (description: string) => z.iso.date().meta({ description });

/** Reports values that stand twice, at the later place. */
export function noRepeats<T>(key: (item: T) => string, what: string) {
  return (items: readonly T[], ctx: z.RefinementCtx) => {
    const seen = new Set<string>();
    items.forEach((item, i) => {
      const k = key(item);
      if (seen.has(k)) ctx.addIssue({ code: 'custom', path: [i], message: `${what} “${k}” stands twice` });
      seen.add(k);
    });
  };
}
