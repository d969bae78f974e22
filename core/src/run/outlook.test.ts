import { RIGS } from '@keen/demo';
import { describe, expect, test } from '@jest/globals';
import { parseInput } from '../calculation/index.ts';
import { viewOf } from '../rig/index.ts';
import { TimelineInput } from '../sequence/index.ts';
import { obedient } from '../test/obedient.ts';
import { oneLegRun } from '../test/oneLegRun.ts';
import { drawnRun } from '../test/drawnRuns.ts';
import { rounds } from '../test/rounds.ts';
import { simulatedTruthOf, standIns } from '../observatory/index.ts';
import {
  ordinaryNight,
  outlook,
  play,
  replay,
  standing,
  isLoud,
  step,
  underWay,
  type Happened,
  type RunState,
  type Said,
} from './index.ts';

const { overheads } = RIGS[0]!.setup;
const timeline = parseInput(TimelineInput, {
  start: '2026-11-24T18:00:00.000Z',
  end: '2026-11-24T22:00:00.000Z',
  filters: ['L', 'R', 'Ha'].map((name) => ({ name, exposureS: 180, quota: 12 })),
  order: 'rolling',
  overheads,
  dither: { everyFrames: 2 },
  focus: { policy: 'every-change-and-time', everyMin: 60 },
  flipAt: '2026-11-24T20:00:00.000Z',
});

describe('what comes next', () => {
  test('on equipment that does what it is asked: exactly what then happens, from any moment on', async () => {
    const { events, result } = await play(oneLegRun(timeline), obedient(overheads, Date.parse(timeline.start), 'L'));
    const happened = result.events.filter((e) => e.kind !== 'note');
    let state: RunState | null = null;
    let [checked, n] = [0, 0];
    for (const e of events) {
      state = step(state, e).state;
      if (state.finished) break;
      if (n++ % rounds(3, 1)) continue;
      const since = state.nowMs;
      // what is under way ends after this moment, or is one of those that take no time
      const next = happened.filter((h) => Date.parse(h.end) > since).slice(0, 4);
      const told = outlook(state).map(({ after: _a, ...h }) => h);
      const shape = (h: { kind: string; start: string; end: string }) => [
        h.kind,
        Date.parse(h.start),
        Date.parse(h.end),
      ];
      expect(told.map(shape)).toEqual(next.map(shape));
      checked++;
    }
    expect(checked).toBeGreaterThan(100);
  });
  test('of drawn nights in which much goes wrong it never breaks, changes nothing, and says what is under way', async () => {
    for (let seed = 1; seed <= rounds(3, 60); seed++) {
      const { plan, o } = drawnRun(seed, viewOf(RIGS[0]!.build));
      const { events } = await play(plan, o());
      for (let cut = 1; cut < events.length; cut += Math.ceil(events.length / 20)) {
        const state = replay(events.slice(0, cut)).state!;
        const coming = outlook(state);
        let at = -Infinity;
        for (const c of coming) {
          expect(Date.parse(c.end)).toBeGreaterThanOrEqual(at);
          at = Date.parse(c.end);
        }
        const now = underWay(state);
        if (now && coming.length && coming[0]!.phrase?.code === now.phrase?.code)
          expect(Date.parse(coming[0]!.start)).toBe(Math.round(now.startMs));
      }
    }
  }, 120_000);
});

test('frames to come are taken for as good as those that counted: filters that lag take turns', async () => {
  const setup = viewOf(RIGS[0]!.build);
  const night = ordinaryNight(setup, 6);
  const leg = night.legs[0]!;
  const plan = { ...night, legs: [{ ...leg, timeline: { ...leg.timeline, order: 'lagging' as const } }] };
  const startMs = Date.parse(leg.timeline.start);
  const world = { ...simulatedTruthOf(setup, 6, startMs, plan.endMs), cloud: [] };
  const { events } = await play(plan, standIns(world, setup.overheads));
  for (const share of [0.3, 0.5, 0.7]) {
    const { state } = replay(events.slice(0, Math.floor(share * events.length)));
    const exposed = outlook(state!, 60).flatMap((e) => (e.kind === 'expose' ? [e.filter] : []));
    expect([share, [...new Set(exposed.slice(0, 5))].sort()]).toEqual([share, ['G', 'L', 'R']]);
  }
});

describe('how it stands', () => {
  const says: Said[] = [];
  const run = (plan = oneLegRun(timeline)) => {
    says.length = 0;
    const readings = {
      temperatureC: 5,
      position: 5000,
      wheel: 'L',
      clear: true,
      windMS: 1,
      humidity: 0.5,
      safe: true,
      guider: 'off' as const,
      guideArcsec: null,
      cooler: null,
      tube: null,
    };
    let state = step(null, { code: 'began', at: Date.parse(timeline.start), plan, readings }).state;
    return (event: Happened) => {
      const stepped = step(state, event);
      state = stepped.state;
      says.push(...stepped.says);
      return standing(state, says);
    };
  };
  const at = Date.parse(timeline.start);
  test('calm while it helps itself, loud where somebody is needed', () => {
    const next = run();
    expect(next({ code: 'tick', at: at + 1000 }).level).toBe('good');
    const cloud = next({ code: 'tick', at: at + 2000, readings: { clear: false } });
    expect([cloud.level, isLoud(cloud)]).toEqual(['caution', false]);
    const open = next({ code: 'tick', at: at + 3000, readings: { safe: false } });
    expect([isLoud(open), open.text]).toEqual([true, expect.stringContaining('interlock is open')]);
    expect(isLoud(next({ code: 'tick', at: at + 9000, readings: { safe: true, clear: true } }))).toBe(false);
    expect(next({ code: 'pause', at: at + 10_000, by: 'x' }).text).toContain('Paused');
  });
  test('a device that failed for good is said until the end, and after it', () => {
    const next = run();
    const failed = next({ code: 'failed', at: at + 60_000, act: 1, reason: 'a limit switch', final: true });
    expect([isLoud(failed), failed.text]).toEqual([true, expect.stringContaining('a limit switch')]);
    expect(isLoud(next({ code: 'tick', at: at + 9e6 }))).toBe(true);
  });
});
