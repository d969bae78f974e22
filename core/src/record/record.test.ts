import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import {
  byNight,
  countsAsNight,
  gatheredAside,
  gatheredBefore,
  gatheredIn,
  isLostToCloud,
  isOfNight,
  isStopped,
  nightEndsMs,
  nightOf,
  pointedAt,
  progressOf,
  RefusalCode,
  refusalPhrase,
  RUN_KINDS,
  sameExposure,
  servesGoal,
  openShutterThere,
  stillWanted,
  wantedMinutes,
} from './index.ts';
import { words } from '../phrases/index.ts';

const filter = fc.constantFrom('L', 'Ha', 'OIII');
const exposureS = fc.constantFrom(10, 60, 300);
const taken = fc.record({
  night: fc.constantFrom('2026-11-18', '2026-11-19'),
  panel: fc.option(fc.integer({ min: 0, max: 3 })),
  filter,
  exposureS,
  accepted: fc.nat(40),
  rejected: fc.nat(9),
});
const goals = fc.uniqueArray(fc.record({ filter, exposureS, quota: fc.integer({ min: 1, max: 50 }) }), {
  selector: (g) => `${g.filter} ${g.exposureS}`,
  maxLength: 9,
});

describe('one length', () => {
  test('is the same from either side, and three exposures that differ by steps a program rounds to are one', () => {
    fc.assert(
      fc.property(
        fc.double({ min: 0.001, max: 86_400, noNaN: true }),
        fc.double({ min: -0.004, max: 0.004, noNaN: true }),
        (s, by) => {
          expect(sameExposure(s, s * (1 + by))).toBe(sameExposure(s * (1 + by), s));
          if (Math.abs(by) < 0.00099) expect(sameExposure(s, s * (1 + by))).toBe(true);
          if (Math.abs(by) > 0.00102) expect(sameExposure(s, s * (1 + by))).toBe(false);
        },
      ),
      { seed: 1001 },
    );
    expect(sameExposure(300, 299.7)).toBe(true);
    expect(sameExposure(0, 0)).toBe(true);
  });
});

describe('what counts', () => {
  test('live and recorded nights while they are accepted; a rehearsal in no state', () => {
    const states = ['rehearsed', 'accepted', 'discarded'];
    const counting = RUN_KINDS.flatMap((kind) => states.map((state) => ({ kind, state }))).filter(countsAsNight);
    expect(counting).toEqual([
      { kind: 'live', state: 'accepted' },
      { kind: 'recorded', state: 'accepted' },
    ]);
  });
  test('every refusal has words, and two of them lie with the sky', () => {
    expect(RefusalCode.options.map((c) => words(refusalPhrase(c))).every((w) => w.length > 4)).toBe(true);
    expect(RefusalCode.options.filter(isLostToCloud)).toEqual(['cloud', 'bright']);
    expect(isLostToCloud(null)).toBe(false);
  });
});

describe('progress', () => {
  test('of one field: every frame of a goal’s filter and length, whatever panel it says; counted one by one', () => {
    fc.assert(
      fc.property(goals, fc.array(taken, { maxLength: 20 }), (wanted, nights) => {
        const plain = wanted.map((g) =>
          nights
            .filter((n) => n.filter === g.filter && n.exposureS === g.exposureS)
            .map((n) => n.accepted)
            .reduce((a, b) => a + b, 0),
        );
        expect(progressOf(wanted, nights, 1)).toEqual({ done: plain, byPanel: [] });
      }),
      { seed: 1002 },
    );
  });
  test('of a mosaic: no panel counts beyond its goal, what lies beside all panels counts for none', () => {
    fc.assert(
      fc.property(
        goals,
        fc.array(taken, { maxLength: 20 }),
        fc.integer({ min: 2, max: 4 }),
        (wanted, nights, panels) => {
          const { done, byPanel } = progressOf(wanted, nights, panels);
          wanted.forEach((g, i) => {
            let counted = 0;
            for (let k = 0; k < panels; k++) {
              const own = nights.filter((n) => n.panel === k && n.filter === g.filter && n.exposureS === g.exposureS);
              const frames = own.reduce((s, n) => s + n.accepted, 0);
              expect(byPanel[k]![i]).toBe(frames);
              counted += Math.min(frames, g.quota);
            }
            expect(done[i]).toBe(counted);
            expect(done[i]).toBeLessThanOrEqual(g.quota * panels);
          });
        },
      ),
      { seed: 1003 },
    );
  });
  test('what is there and what is wanted add up; nothing is wanted of a goal that is reached', () => {
    fc.assert(
      fc.property(
        goals,
        fc.array(taken, { maxLength: 20 }),
        fc.integer({ min: 1, max: 4 }),
        (wanted, nights, panels) => {
          const p = { goals: wanted, panels, ...progressOf(wanted, nights, panels) };
          for (const g of stillWanted(p)) expect(g.left).toBe(Math.max(0, g.quota - g.done));
          const { thereS, askedS } = openShutterThere(p);
          expect((askedS - thereS) / 60).toBeCloseTo(wantedMinutes(p), 9);
          expect(askedS).toBe(wanted.reduce((s, g) => s + g.quota * panels * g.exposureS, 0));
          const minutes = stillWanted(p).map((g) => (g.left * g.exposureS) / 60);
          expect(wantedMinutes(p)).toBeCloseTo(
            minutes.reduce((a, b) => a + b, 0),
            9,
          );
        },
      ),
      { seed: 1004 },
    );
  });
  test('before a night brought its frames there were as many less; frames of no goal stand beside', () => {
    fc.assert(
      fc.property(goals, fc.array(taken, { maxLength: 20 }), (wanted, nights) => {
        const p = { goals: wanted, panels: 1, nights, ...progressOf(wanted, nights, 1) };
        const before = gatheredBefore(p, null, '2026-11-19');
        const without = progressOf(
          wanted,
          nights.filter((n) => n.night !== '2026-11-19'),
          1,
        );
        expect(before.map((g) => g.done)).toEqual(without.done);
        expect(gatheredIn(p, null).map((g) => g.done)).toEqual(p.done);
        const marked = nights.map((n) => ({ ...n, counts: servesGoal(wanted, n, 1) }));
        const aside = gatheredAside({ goals: wanted, nights: marked }).reduce((s, g) => s + g.done, 0);
        const all = nights.reduce((s, n) => s + n.accepted, 0);
        expect(aside + p.done.reduce((a, b) => a + b, 0)).toBe(all);
      }),
      { seed: 1005 },
    );
  });
});

describe('which night', () => {
  /** The local date and hour as the platform writes them, without any of our own arithmetic. */
  const local = (at: number, timeZone: string) => {
    const parts = new Intl.DateTimeFormat('en-CA', { timeZone, dateStyle: 'short', timeStyle: 'short', hour12: false });
    const [date, time] = parts.format(at).split(', ') as [string, string];
    return { date, hour: Number(time.slice(0, 2)) % 24 };
  };
  test('what happens from noon to noon belongs to the evening between, in every zone and over the change of clocks', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: Date.parse('2026-01-01T00:00:00Z'), max: Date.parse('2027-01-01T00:00:00Z') }),
        fc.constantFrom('Europe/Vienna', 'America/Santiago', 'Australia/Lord_Howe', 'Pacific/Kiritimati', 'UTC'),
        (at, zone) => {
          const { date, hour } = local(at, zone);
          const evening = local(at - 86_400_000, zone);
          const iso = new Date(at).toISOString();
          // an hour about noon is left to the days on which the clock is changed
          if (hour === 11 || hour === 12) return;
          const expected = hour > 12 ? date : evening.date;
          expect(nightOf(iso, zone)).toBe(expected);
          expect(isOfNight(iso, expected, zone)).toBe(true);
          // the last millisecond of its night, and the first of the next
          const ends = nightEndsMs(iso, zone);
          expect(ends).toBeGreaterThan(at);
          expect(nightOf(new Date(ends - 1).toISOString(), zone)).toBe(expected);
          expect(nightOf(new Date(ends).toISOString(), zone) > expected).toBe(true);
        },
      ),
      { seed: 1006, numRuns: 400 },
    );
  });
  test('things without a time go where they are told, and belong to no night by themselves', () => {
    const at = (startedAt: string | null) => ({ startedAt });
    const items = [at('2026-11-19T03:00:00Z'), at(null), at('2026-11-18T20:00:00Z')];
    expect(byNight(items, (i) => i.startedAt, 'UTC', '2026-11-01')).toEqual([
      ['2026-11-01', [items[1]]],
      ['2026-11-18', [items[0], items[2]]],
    ]);
    expect(isOfNight(null, '2026-11-18', 'UTC')).toBe(false);
  });
});

test('a leg points at its panel, else where the framing was pinned, else at the object', () => {
  const object = { raDeg: 10, decDeg: 41, framing: null };
  const pinned = { ...object, framing: { raDeg: 10.1, decDeg: 41.1, angleDeg: 12 } };
  const panels = [{ raDeg: 9, decDeg: 40 }];
  expect(pointedAt(object, null, [])).toEqual({ raDeg: 10, decDeg: 41 });
  expect(pointedAt(pinned, null, panels)).toEqual({ raDeg: 10.1, decDeg: 41.1 });
  expect(pointedAt(pinned, 0, panels)).toEqual({ raDeg: 9, decDeg: 40 });
  expect(pointedAt(pinned, 7, panels)).toEqual({ raDeg: 10.1, decDeg: 41.1 });
});

describe('a fault that keeps a rig from work', () => {
  const fault = (system: string | null, until: string | null, cure = '') => ({ stops: { system, until }, cure });
  test.each([
    // the whole rig, until it is cured
    [fault(null, null), { night: '2027-01-08' }, true],
    [fault(null, null), { night: '2029-01-08', system: 'main' }, true],
    [fault(null, null, 'a new belt'), { night: '2027-01-08' }, false],
    [fault(null, null, '  '), { night: '2027-01-08' }, true],
    // up to a night, that one with it
    [fault(null, '2027-01-08'), { night: '2027-01-08' }, true],
    [fault(null, '2027-01-08'), { night: '2027-01-09' }, false],
    // one system: the rig itself works
    [fault('lens', null), { night: '2027-01-08', system: 'lens' }, true],
    [fault('lens', null), { night: '2027-01-08', system: 'main' }, false],
    [fault('lens', null), { night: '2027-01-08' }, false],
    [{ stops: null, cure: '' }, { night: '2027-01-08' }, false],
  ] as const)('%j, %j: %s', (what, of, stopped) => {
    expect(isStopped(what, of)).toBe(stopped);
  });
});
