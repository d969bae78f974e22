import { InvalidInput } from '../calculation/index.ts';
import { seeded } from '../statistics/index.ts';
import { drawSpells, type ClearSpells } from './clearSpells.ts';
import { legInNight } from './legInNight.ts';
import type { PreparedLeg } from './legTimeline.ts';
import { playLegs } from './playLegs.ts';
import { partsOf } from './rules.ts';
import { MOST_FRAMES_PLAYED, noMinutes, riskResult, Tally, type PlayedNight, type RiskOutput } from './risk.ts';
import { mostFrames, type Order } from './schemas.ts';
import type { LegInNight } from './whoseTurn.ts';

/** A laid-out night, one of whose legs is asked about. */
export interface NightRiskInput {
  prepared: readonly PreparedLeg[];
  legIndex: number;
  /** When the opening is done [ms], and how it leaves the rig. */
  openedMs: number;
  focused: boolean;
  wheel: string;
  weather: ClearSpells;
  nights: number;
  seed: number;
  orders: readonly Order[];
}
/** Nights between two looks at whether anybody still wants the answer. */
const CHUNK = 20;

/**
 * What a cloudy night leaves of one leg, order by order, while the other legs are worked as they are planned: turns,
 * meridian waits, Moon and second cameras are all in it. Every order is played under the same drawn skies. A generator, so
 * that whoever runs it can stop between nights: it yields the share that is done.
 * @throws InvalidInput where the leg has no hours, nothing left to want, or too many frames would be played
 */
export function* playNightRisk(of: NightRiskInput): Generator<number, RiskOutput> {
  const { prepared, legIndex, openedMs, focused, wheel, weather, nights, orders } = of;
  const legInput = prepared[legIndex]?.input;
  if (!legInput) throw InvalidInput.at('legIndex', 'has no hours in this night');
  if (legInput.filters.every((f) => (f.quota ?? Infinity) <= f.done))
    throw InvalidInput.at('filters', 'every quota is reached already');
  const all = prepared.map((p) => legInNight(p, openedMs));
  const legIndices = all.flatMap((l, i) => (l ? [i] : []));
  const k = legIndices.indexOf(legIndex);
  const legs = legIndices.map((i) => all[i]!);
  const endMs = Math.max(...legs.map((l) => l.hours.at(-1)![1]));
  const frames = prepared.reduce(
    (s, p) => s + (p.input ? mostFrames(p.input.filters, p.input.overheads.downloadS, (endMs - openedMs) / 1000) : 0),
    0,
  );
  if (nights * orders.length * frames > MOST_FRAMES_PLAYED)
    throw InvalidInput.at('nights', 'would play more frames than can be answered: fewer nights or longer exposures');
  const night = (order: Order, shut: readonly (readonly [number, number])[]): PlayedNight => {
    const ms = noMinutes();
    const own = { ...legs[k]!.rules, order };
    const started = legs.map((l, i): LegInNight => (i === k ? { ...l, rules: own } : l));
    const played = playLegs(
      started,
      { openedMs, focused, wheel, shut },
      {
        frame: (i, rules, step) => {
          if (i === k) for (const part of partsOf(rules, step)) ms[part.kind] += part.ms;
        },
        wait: (i, _why, from, to) => {
          if (i === k) ms.wait += to - from;
        },
      },
    );
    return { taken: played.legs[k]!.state.taken, ms };
  };
  const tallies = orders.map((order) => new Tally(order, legInput.filters, (shut) => night(order, shut)));
  const source = seeded(of.seed);
  let clear = 0;
  for (let n = 0; n < nights; n++) {
    const shut = drawSpells(weather, source.fork(`night ${n}`), openedMs, endMs);
    if (shut.length === 0) clear++;
    for (const t of tallies) t.add(shut);
    if (n % CHUNK === CHUNK - 1) yield (n + 1) / nights;
  }
  return riskResult({ weather, nights, orders }, tallies, clear / nights);
}
