import { describe, expect, test } from '@jest/globals';
import request from 'supertest';
import { makeApp } from '../../app.ts';
import { testPool, testServer } from '../../test/harness.ts';
import type { Workers } from './pool.ts';

const { server, teun: member } = testServer(['teun']);

type Made = (i: number) => unknown;
const list = (n: number, make: Made) => Array.from({ length: n }, (_, i) => make(i));
const thread = (gender: string, size = 'M48x0.75') => ({ size, gender });
const plan = (more: object) => ({
  start: '2026-11-24T18:00:00Z',
  end: '2026-11-25T04:00:00Z',
  filters: [{ name: 'L', exposureS: 60 }],
  order: 'rolling',
  focus: { policy: 'offsets' },
  ...more,
});
const rig = (more: object) => ({
  masses: [
    { name: 'tube', massKg: 8, xMm: 180, yMm: 7, zMm: 31 },
    ...list(12, (i) => ({ name: `p${i}`, massKg: 0.3 + 0.07 * i, xMm: 150, yMm: 30 - 7 * i, zMm: 100 - 20 * i })),
  ],
  counterweights: [{ massKg: 5, distanceMm: 250 }],
  latitudeDeg: 47,
  slide: { minMm: -20, maxMm: 20 },
  shaftRangeMm: { min: 150, max: 350 },
  ...more,
});
const places = (n: number) => list(n, (j) => ({ name: `q${j}`, xMm: 100 + 5 * j, yMm: -60 + 3 * j, zMm: 10 * j }));
const drawer = (n: number, count: number) => list(n, (i) => ({ id: `s${i}`, lengthMm: 1 + 0.37 * i, count }));

const risk = (more: object, exposureS: number) => {
  const { order: _o, ...p } = plan({
    filters: ['L', 'R', 'G', 'B'].map((name) => ({ name, exposureS, quota: 9000 })),
    weather: { clearMeanMin: 90, cloudMeanMin: 40 },
    ...more,
  }) as Record<string, unknown>;
  return p;
};
/** Hours anybody may have at nearly the same worth: nothing is harder to prove. */
const crowd = (nights: number, projects: number) => {
  const slots = list(nights * 8, (i) => ({
    id: `${i}`,
    night: `2026-11-${String(1 + Math.floor(i / 8)).padStart(2, '0')}`,
    rig: 'a',
    order: i % 8,
    minutes: 45 + (i % 5),
  })) as { id: string }[];
  return {
    slots,
    projects: list(projects, (p) => ({
      id: `p${p}`,
      member: `m${p % 3}`,
      weight: 1 + (p % 7) / 100,
      needMinutes: 300 + 7 * p,
      eligible: slots.flatMap(({ id }, i) =>
        (i * 5 + p * 3) % 7 ? [{ slot: id, quality: 0.9 + ((i * p) % 11) / 100 }] : [],
      ),
    })),
    switchPenalty: 13,
    minimumBlockSlots: 3,
    gap: 0,
    timeLimitS: 600,
  };
};
/** Requests that once held the server for minutes or for good. What each may answer, and what it must say of itself. */
const DEAR: [what: string, name: string, input: object, status: number[], says: RegExp][] = [
  [
    '1 ms frames',
    'sequence.timeline',
    plan({ filters: [{ name: 'L', exposureS: 0.001 }] }),
    [400],
    /more than 100000 frames/,
  ],
  [
    'frames of no length',
    'sequence.timeline',
    plan({ filters: [{ name: 'L', exposureS: 1e-300 }] }),
    [400],
    /at least 0.001/,
  ],
  [
    'a season that nobody proves',
    'season.allocate',
    crowd(25, 12),
    [200, 422],
    /The search was cut short after 1 s|longer than 2 s/,
  ],
  [
    'ten thousand years',
    'sequence.timeline',
    plan({ start: '0001-01-01T00:00:00Z', end: '9999-01-01T00:00:00Z' }),
    [400],
    /within 31 days/,
  ],
  [
    'a thousandth of a degree',
    'guide.stars',
    {
      raDeg: 270,
      decDeg: -25,
      focalLengthMm: 400,
      centreRadiusMm: 20,
      fieldMm: { tangential: 7, radial: 5 },
      stepDeg: 0.001,
      faintestMag: 12,
    },
    [400],
    /finely/,
  ],
  [
    'every angle of a wide window',
    'guide.stars',
    {
      raDeg: 270,
      decDeg: -25,
      focalLengthMm: 50,
      centreRadiusMm: 0,
      fieldMm: { tangential: 400, radial: 400 },
      faintestMag: 14,
    },
    [400, 422],
    /too fine|longer than/,
  ],
  [
    'ten samples over thirty years',
    'guide.log',
    { samples: list(10, (i) => ({ timeS: i * 1e8, raArcsec: i % 3, decArcsec: i % 2 })) },
    [400],
    /two days/,
  ],
  [
    'twenty kinds of weights, twenty of each',
    'balance.solve',
    rig({ counterweightStock: list(20, (i) => ({ massKg: 0.5 + 0.137 * i, count: 20 })) }),
    [200, 422],
    /./,
  ],
  [
    'twelve parts at forty places',
    'balance.solve',
    rig({ relocations: list(12, (i) => ({ mass: `p${i}`, to: places(40) })) }),
    [200, 422],
    /./,
  ],
  [
    'sixty kinds, twenty of each',
    'train.configurations',
    {
      configurations: list(4, (i) => ({ name: `c${i}`, requiredMm: 56 + i, toleranceMm: 0.5 })),
      common: [{ name: 'guider', lengthMm: 15 }],
      stock: drawer(60, 20),
      maxPieces: 5,
      limit: 20,
    },
    [200, 422],
    /up to \d|best of what was looked at|longer than/,
  ],
  [
    'two hundred kinds of spacers',
    'train.spacers',
    { gapMm: 61.2345, toleranceMm: 0, stock: drawer(200, 12), maxPieces: 12, limit: 200 },
    [200, 422],
    /up to \d|longer than/,
  ],
  [
    'two hundred adapters of one thread',
    'train.adapters',
    {
      from: thread('male'),
      to: thread('male', 'M42'),
      stock: list(200, (i) => ({
        id: `s${i}`,
        a: thread('female'),
        b: i ? thread('male') : thread('female', 'M42'),
        lengthMm: i,
      })),
      maxPieces: 8,
      limit: 1000,
    },
    [200, 422],
    /./,
  ],
  [
    'fifty thousand nights of short frames',
    'sequence.risk',
    risk({ nights: 50_000 }, 2),
    [400],
    /more frames than can be answered/,
  ],
  [
    'as many frames as may be asked for',
    'sequence.risk',
    risk({ nights: 1_350 }, 5),
    [200, 422],
    /balanced|longer than/,
  ],
  [
    'weather that turns every second',
    'sequence.risk',
    risk({ nights: 1_000, weather: { clearMeanMin: 0.01, cloudMeanMin: 0.01 } }, 60),
    [400],
    /changes too often/,
  ],
  [
    'a frame of a millisecond under a sky of no light',
    'exposure.sub',
    { readNoiseE: 1e6, skyEPerSPx: 1e-12, noiseIncrease: 1e-6 },
    [200],
    /longest in use/,
  ],
  [
    'sixty-one filters',
    'focus.policy',
    {
      offsets: Object.fromEntries(list(61, (i) => [`f${i}`, { steps: i }]) as [string, object][]),
      temperatureStepsPerC: 1,
      criticalZoneSteps: 1,
      coolingCPerHour: 1,
      autofocusS: 1,
      filterChangesPerHour: 1,
      hours: 1,
    },
    [400],
    /at most 60/,
  ],
  [
    'four hundred filters',
    'focus.offsets',
    { runs: list(900, (i) => ({ filter: `f${i % 400}`, position: i, temperatureC: i % 17 })), reference: 'f0' },
    [400],
    /at most 60/,
  ],
];

describe('no question holds the server', () => {
  test.each(DEAR)('%s', async (_what, name, input, statuses, says) => {
    const asked = request(server.app)
      .post(`/api/calculations/${name}`)
      .send(input)
      .then((got) => got);
    // while it works, others are answered
    expect((await request(server.app).get('/healthz')).status).toBe(200);
    const got = await asked;
    expect(statuses).toContain(got.status);
    expect(got.text.length).toBeLessThan(200_000);
    expect(got.text).toMatch(says);
    expect((await request(server.app).post('/api/calculations/focus.zone').send({ focalRatio: 7 })).status).toBe(200);
  });
  test('a body of wrong items brings back twenty complaints, and says how many more', async () => {
    const got = await member.post('/api/calculations/guide.log', { samples: list(50_000, () => 'x') });
    expect(got.status).toBe(400);
    const { issues } = got.body.error as { issues: { message: string }[] };
    expect(issues).toHaveLength(20);
    expect(issues.at(-1)!.message).toBe('and 49981 more');
    expect(got.text.length).toBeLessThan(5_000);
    const names = Object.fromEntries(list(5_000, (i) => [`k${i}`, 1]) as [string, number][]);
    expect((await member.post('/api/calculations/focus.zone', names)).text.length).toBeLessThan(2_000);
  });
  test('a stranger brings at most 100 kB, a member a night of guiding', async () => {
    const samples = list(8_000, (i) => ({ timeS: 2 * i, raArcsec: Math.sin(i), decArcsec: Math.cos(i) }));
    const stranger = await request(server.app).post('/api/calculations/guide.log').send({ samples });
    expect([stranger.status, stranger.body.code]).toEqual([413, 'too_large']);
    expect((await member.post('/api/calculations/guide.log', { samples })).status).toBe(200);
  });
});

describe('a calculation that takes too long', () => {
  test('is ended at its deadline with a clear refusal, and the next one is answered', async () => {
    const { calculate, close } = testPool(server.config.dataFolder);
    const samples = list(150_000, (i) => ({ timeS: i, raArcsec: Math.sin(i), decArcsec: Math.cos(i) }));
    await expect(calculate('guide.log', { samples }, { key: 'a', deadlineMs: 1 })).rejects.toMatchObject({
      code: 'too_much_work',
    });
    const next = await calculate('focus.zone', { focalRatio: 7 }, { key: 'a', deadlineMs: 30_000 });
    expect(next.status).toBe(200);
    await close();
  });
  test('is given up when nobody waits for it any more', async () => {
    const { calculate, close } = testPool(server.config.dataFolder);
    const gone = new AbortController();
    const samples = list(150_000, (i) => ({ timeS: i, raArcsec: Math.sin(i), decArcsec: Math.cos(i) }));
    const asked = calculate('guide.log', { samples }, { key: 'a', deadlineMs: 60_000, gone: gone.signal });
    gone.abort();
    await expect(asked).rejects.toMatchObject({ code: 'too_much_work' });
    await close();
  });
  test('says so over HTTP', async () => {
    const calculate: Workers['calculate'] = async (name, input, asker) => {
      expect([name, input, asker.deadlineMs]).toEqual(['focus.zone', { focalRatio: 7 }, 2000]);
      throw new (await import('../../problems.ts')).Problem('too_much_work');
    };
    const slow = makeApp(server.config, server.store, { ...server, workers: { ...server.workers, calculate } });
    const got = await request(slow).post('/api/calculations/focus.zone').send({ focalRatio: 7 });
    expect([got.status, got.body.code]).toEqual([422, 'too_much_work']);
  });
});
