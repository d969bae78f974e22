import {
  mkdtempSync,
  openAsBlob,
  readFileSync,
  readdirSync,
  rmSync,
  statSync,
  truncateSync,
  writeFileSync,
} from 'node:fs';
import { fork, spawnSync } from 'node:child_process';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { gzipSync } from 'node:zlib';
import { calculations } from '@keen/core';
import { seeded } from '@keen/core/statistics';
import {
  frame,
  framingVerdict,
  guideStarsOf,
  guideViewOf,
  reachMm,
  ringOf,
  spectrumOf,
  StarsInput,
} from '@keen/core/guiding';
import { writeFits16 } from '@keen/core/exchange';
import { inventedStars, measurePicture, practiceFrame, renderCounts } from '@keen/core/frames';
import { simulatedTruthOf, simulateGuiding, standIns } from '@keen/core/observatory';
import { ordinaryNight, play, replay, stateText } from '@keen/core/run';
import { scheduleNight, NightPlan, prepareLeg, usualClosing, usualOpening } from '@keen/core/sequence';
import { ANYTHING, night as nightOf, pickTonight, scanNight, target as targetOf, type Catalogue } from '@keen/core/sky';
import { viewOf } from '@keen/core/rig';
import { RIGS } from '@keen/demo';
import { drawFrame } from '../server/src/areas/live/drawFrame.ts';
import { healthyScene } from '../core/src/test/faultyFrames.ts';
import { shippedStars } from '../core/src/test/shippedStars.ts';
import { readFrameFiles } from '../web/src/workers/frameFiles.ts';

/** Times of what people wait for, against the figure each should keep. Printed, never asserted. */
const ROOT = join(import.meta.dirname, '..');
const input = (path: string) =>
  (JSON.parse(readFileSync(join(ROOT, 'examples', path), 'utf8')) as { input: object }).input;

interface Row {
  what: string;
  took: number;
  figure: number;
  unit: string;
}
const rows: Row[] = [];

/** Median of many runs, once warm [ms]: what takes a millisecond is slower by two until it has run a hundred times. */
function time(what: string, figure: number, work: () => unknown, runs = 30): void {
  const until = performance.now() + 250;
  for (let i = 0; i < 2 || performance.now() < until; i++) work();
  const took = Array.from({ length: runs }, () => {
    const begun = performance.now();
    work();
    return performance.now() - begun;
  }).sort((a, b) => a - b);
  rows.push({ what, took: took[Math.floor(runs / 2)]!, figure, unit: 'ms' });
}

const T0 = Date.parse('2026-11-24T17:00:00Z');
const night10h = (exposureS: number) => ({
  start: new Date(T0).toISOString(),
  end: new Date(T0 + 36_000_000).toISOString(),
  filters: ['L', 'R', 'G', 'B'].map((name) => ({ name, exposureS, quota: 400 })),
  order: 'rolling',
  overheads: {
    downloadS: 4,
    filterChangeS: 6,
    autofocusS: 180,
    ditherS: 14,
    slewCentreS: 120,
    flipS: 240,
    guideStartS: 20,
  },
  focus: { policy: 'offsets', everyMin: 60 },
  flipAt: new Date(T0 + 15_000_000).toISOString(),
});
const run = (name: string, value: object) => calculations.get(name)!.run(value);
const target = input('sky.target/local-group-spiral.json');
time('sky.target', 5, () => run('sky.target', target));
/** Five filters over ten hours of a changeable sky. */
const riskOf = (exposureS: number) => ({
  start: '2026-11-13T18:00:00Z',
  end: '2026-11-14T04:00:00Z',
  filters: ['L', 'R', 'G', 'B', 'Ha'].map((name) => ({ name, exposureS, quota: 60 })),
  overheads: { downloadS: 5, filterChangeS: 10, autofocusS: 120, ditherS: 15, slewCentreS: 90, guideStartS: 30 },
  focus: { policy: 'offsets', everyMin: 60 },
  weather: { clearMeanMin: 90, cloudMeanMin: 40 },
});
time('sequence.timeline, 10 h of 180 s frames', 2, () => run('sequence.timeline', night10h(180)));
time('sequence.risk, 2,000 nights × 3 orders, 180 s frames', 1500, () => run('sequence.risk', riskOf(180)));
const yard = { latitudeDeg: 47.1, longitudeDeg: 15.4, elevationM: 350, timeZone: 'Europe/Vienna' };
time(
  'sky.year, 365 nights of one object',
  400,
  () => run('sky.year', { site: yard, from: '2026-11-24', raDeg: 10.7, decDeg: 41.3 }),
  10,
);
const nightSky = nightOf({ site: yard, date: '2026-11-24' });
const tenLegs = NightPlan.parse({
  opening: usualOpening(120),
  legs: Array.from({ length: 10 }, (_, i) => {
    const { filters } = night10h(180);
    const [from, until] = [T0 + i * 3_600_000, T0 + (i + 1) * 3_600_000].map((ms) => ({
      by: 'clock',
      at: new Date(ms).toISOString(),
    }));
    return {
      id: `leg-${i}`,
      projectId: `p${i}`,
      from,
      until,
      settings: {
        filters,
        order: 'rolling',
        dither: { everyFrames: 2, perRound: false },
        focus: { policy: 'offsets', everyMin: 90 },
      },
    };
  }),
  closing: usualClosing(),
});
const tenTargets = tenLegs.legs.map((_, i) =>
  targetOf({
    site: yard,
    date: '2026-11-24',
    raDeg: 36 * i,
    decDeg: 45,
    minimumAltitudeDeg: 30,
    darkness: 'astronomical',
    stepMin: 5,
  }),
);
const overheads = {
  downloadS: 2,
  filterChangeS: 5,
  autofocusS: 120,
  ditherS: 10,
  slewCentreS: 60,
  flipS: 90,
  guideStartS: 15,
};
const prepareTen = () =>
  tenLegs.legs.map((leg, i) =>
    prepareLeg(leg, { night: nightSky, target: tenTargets[i]! }, { watches: tenLegs.watches, overheads, done: [] }),
  );
const prepared = prepareTen();
time('a night of ten legs laid out, 180 s frames', 10, () => scheduleNight(tenLegs, prepared, nightSky));
time('the same with its windows, as after every change in the plan', 50, () =>
  scheduleNight(tenLegs, prepareTen(), nightSky),
);
time('sequence.timeline, 10 h of 60 s frames', 3, () => run('sequence.timeline', night10h(60)));
const random = seeded(7);
const place = () => ({ xMm: 120 + 80 * random.next(), yMm: 160 * random.next() - 80, zMm: 500 * random.next() - 250 });
const parts = Array.from({ length: 9 }, (_, i) => ({ name: `part ${i}`, massKg: 0.2 + 3 * random.next(), ...place() }));
const heavyBalance = {
  masses: parts,
  counterweights: [{ massKg: 5, distanceMm: 200 }],
  latitudeDeg: 47,
  slide: { minMm: -80, maxMm: 80 },
  shaftRangeMm: { min: 80, max: 330 },
  counterweightStock: [
    { massKg: 5, count: 3 },
    { massKg: 2, count: 3 },
    { massKg: 1, count: 4 },
  ],
  trimPoints: Array.from({ length: 8 }, (_, i) => ({ name: `point ${i}`, maxMassKg: 1, ...place() })),
  relocations: parts
    .slice(0, 6)
    .map((p) => ({ mass: p.name, to: [1, 2, 3].map((k) => ({ name: `place ${k}`, ...place() })) })),
};
time('balance.solve, 6 parts × 3 places, 8 points, 10 weights', 60, () => run('balance.solve', heavyBalance), 7);
time('train.prism', 50, () => run('train.prism', input('train.prism/exit-pupil-and-rotated.json')));
const kinds = Array.from({ length: 30 }, (_, i) => ({
  id: `s${i}`,
  lengthMm: 0.3 + Math.round(2500 * random.next()) / 100,
  count: 1 + (i % 3),
}));
time(
  'train.spacers, 30 kinds, up to 5 pieces',
  200,
  () => run('train.spacers', { gapMm: 47.3, stock: kinds, toleranceMm: 0.3 }),
  10,
);
const many = Array.from({ length: 40 }, (_, i) => ({
  id: `s${i}`,
  lengthMm: 0.3 + Math.round(2500 * random.next()) / 100,
  count: 1 + (i % 2),
}));
time(
  'two configurations, 40 kinds of pieces',
  200,
  () =>
    run('train.configurations', {
      configurations: [
        { name: 'a', requiredMm: 105 },
        { name: 'b', requiredMm: 85 },
      ],
      common: [{ name: 'rest', lengthMm: 61.7 }],
      stock: many,
      maxPieces: 3,
    }),
  5,
);
const runs = input('focus.offsets/rolling-night-cools.json');
time('focus.offsets', 20, () => run('focus.offsets', runs));

const log6h = { samples: simulateGuiding({ seed: 6, seconds: 21_600, cadenceS: 1, fault: 'worm' }) };
time(`guide.log, 6 h at 1 s, ${log6h.samples.length} samples`, 150, () => run('guide.log', log6h), 7);
time('its spectrum, 420 periods, both axes', 500, () => spectrumOf(log6h.samples), 7);
const source = shippedStars();
// the Scutum cloud: as crowded as the sky gets
const crowded = StarsInput.parse({
  raDeg: 281,
  decDeg: -7,
  focalLengthMm: 800,
  centreRadiusMm: 15,
  fieldMm: { tangential: 5.6, radial: 3.2 },
  faintestMag: 13,
});
const radiusDeg = (Math.atan(reachMm(crowded) / crowded.focalLengthMm) * 180) / Math.PI;
const held = source({ raDeg: 281, decDeg: -7, radiusDeg, faintestMag: 13 });
time(`guide.stars, 360 angles, ${held.length} stars at hand`, 60, () => guideStarsOf(crowded, () => held));
const dome = RIGS.find((r) => r.key === 'astrograph')!.setup;
time('how a rig sees its guide stars, prism and shadow', 100, () => guideViewOf(dome, { skyMagArcsec2: 20.6 }), 10);
const view = guideViewOf(dome, { skyMagArcsec2: 20.6 })!;
const panel = { column: 0, row: 0, raDeg: 281, decDeg: -7, angleDeg: 0, acrossMm: 0, upMm: 0 };
time('one turn of the camera on the target chart', 16, () => {
  const f = frame(view, { exposureS: 2, snr: 20 }, held, [panel], 0);
  return framingVerdict(f, 'camera', 0, 0, ringOf(f, 'camera', 0));
});

const catalogue = JSON.parse(readFileSync(join(ROOT, 'data/deep-sky.json'), 'utf8')) as Catalogue;
const site = {
  latitudeDeg: 47.07,
  longitudeDeg: 15.44,
  elevationM: 353,
  timeZone: 'Europe/Vienna',
  horizon: [
    { azimuthDeg: 0, altitudeDeg: 12 },
    { azimuthDeg: 180, altitudeDeg: 20 },
  ],
};
time(
  `whole sky, ${catalogue.id.length} objects, 5-minute steps`,
  60,
  () => {
    const scan = scanNight(catalogue, {
      site,
      date: '2026-12-21',
      minimumAltitudeDeg: 30,
      darkness: 'astronomical',
      stepMin: 5,
    });
    return pickTonight(catalogue, scan, { shortSideArcmin: 60, moonlit: 0.5, skyMag: 20.5, criteria: ANYTHING });
  },
  10,
);
time(
  'the whole catalogue with every filter set',
  400,
  () => {
    const scan = scanNight(catalogue, {
      site,
      date: '2026-12-21',
      minimumAltitudeDeg: 30,
      darkness: 'astronomical',
      stepMin: 5,
    });
    const criteria = {
      kinds: ['galaxies', 'nebulae'],
      size: 'fits',
      leastHours: 2,
      leastAltitudeDeg: 40,
      leastMoonDeg: 30,
      belowSkyMag: 3,
      light: 'line',
    } as const;
    return pickTonight(catalogue, scan, { shortSideArcmin: 60, moonlit: 0.5, skyMag: 20.5, criteria });
  },
  10,
);
rows.push({ what: 'memory after all of it', took: process.memoryUsage().rss / 1e6, figure: 400, unit: 'MB' });

// a night's folder: 1,000 files of 52 MB, their pixels left sparse on the disk
const folder = mkdtempSync(join(tmpdir(), 'night-'));
const sample = readFileSync(join(ROOT, 'e2e/fixtures/light-ha-1.fits'));
const files = await Promise.all(
  Array.from({ length: 1000 }, async (_, i) => {
    const path = join(folder, `light-${i}.fits`);
    writeFileSync(path, sample);
    truncateSync(path, 52_000_000 + i);
    return Object.assign(await openAsBlob(path), { name: `light-${i}.fits` }) as File;
  }),
);
const memoryBefore = process.memoryUsage().rss;
const begun = performance.now();
const read = await readFrameFiles(files, {}, () => true);
rows.push({
  what: `headers of ${read.filter((f) => f.ok).length} files of 52 MB`,
  took: (performance.now() - begun) / 1000,
  figure: 20,
  unit: 's',
});
rows.push({
  what: 'memory that took',
  took: Math.max(0, process.memoryUsage().rss - memoryBefore) / 1e6,
  figure: 300,
  unit: 'MB',
});
rmSync(folder, { recursive: true, force: true });

// a picture as a usual camera writes it, and a compiled source extractor with the same output on the same file
{
  const [w, h] = [6248, 4176];
  const scene = {
    ...healthyScene(3, w, h),
    stars: inventedStars({ widthPx: w, heightPx: h, count: 20_000, faintestElectrons: 600, seed: 3 }),
  };
  const bytes = writeFits16(renderCounts(scene), w, h, []);
  const path = join(mkdtempSync(join(tmpdir(), 'keen-bench-')), 'picture.fits');
  writeFileSync(path, bytes);
  time('frames.measure, 26 megapixels', 2500, () => measurePicture(bytes), 5);
  const mine = rows.at(-1)!.took / 1000;
  const compiled = spawnSync('/usr/bin/python3', [join(ROOT, 'bench/extract.py'), path], { encoding: 'utf8' });
  const took = /together ([\d.]+) s/.exec(compiled.stdout ?? '');
  if (took) {
    rows.push({ what: 'against a compiled extractor', took: mine / Number(took[1]), figure: 2, unit: '×' });
    rows.push({ what: 'the same by two workers', took: (await byTwo(path)) / Number(took[1]), figure: 1, unit: '×' });
  } else console.log('python3-sep and python3-astropy are missing: no comparison of frames.measure');
  rmSync(join(path, '..'), { recursive: true });
}

/** Seconds a picture where two processes measure beside each other, from when both are warm. */
async function byTwo(path: string, each = 4): Promise<number> {
  const args = ['--import', 'tsx', '--conditions=@keen/source'];
  const workers = [0, 1].map(() =>
    fork(join(ROOT, 'bench/measureWorker.ts'), [path, String(each)], { execArgv: args }),
  );
  const heard = (what: string) =>
    Promise.all(workers.map((w) => new Promise((done) => w.on('message', (m) => m === what && done(m)))));
  await heard('warm');
  const begun = performance.now();
  const done = heard('done');
  for (const w of workers) w.send('go');
  await done;
  return (performance.now() - begun) / 1000 / (2 * each);
}

// a ten-hour night played on stand-ins without drawing, its events played again, and how large they and the state are
{
  const setup = viewOf(RIGS[0]!.build);
  const plan = ordinaryNight(setup, 1);
  const startMs = Date.parse('2026-11-24T18:00:00Z');
  const end = new Date(startMs + 36_000_000).toISOString();
  const timeline = { ...plan.legs[0]!.timeline, end };
  const long = { ...plan, endMs: Date.parse(end), legs: [{ ...plan.legs[0]!, timeline }] };
  const world = { ...simulatedTruthOf(setup, 1, startMs, long.endMs), cloud: [] };
  const night = () => play(long, standIns(world, setup.overheads));
  await night();
  const begun = performance.now();
  const { events, state, result } = await night();
  rows.push({
    what: `a run of 10 h, ${result.frames.length} frames`,
    took: performance.now() - begun,
    figure: 1000,
    unit: 'ms',
  });
  const again = performance.now();
  replay(events);
  rows.push({ what: 'a step of it', took: (performance.now() - again) / events.length, figure: 0.1, unit: 'ms' });
  rows.push({ what: 'its events', took: JSON.stringify(events).length / 1000, figure: 2000, unit: 'kB' });
  rows.push({ what: 'its state', took: stateText(state).length / 1000, figure: 200, unit: 'kB' });
}

// a frame of a megapixel drawn from the catalogue, written and measured, as the server does it; two hundred of them on two workers
{
  const stars = source;
  const to = mkdtempSync(join(tmpdir(), 'bench-frames-'));
  const told = { hfdPx: 2.8, eccentricity: 0.3, stars: 400 };
  const draw = (n: number) =>
    drawFrame(
      {
        path: join(to, `${n}.fits`),
        frame: practiceFrame(`bench ${n}`, { raDeg: 83.8, decDeg: -5.4 }, told, 420, 1.2),
        cards: [],
        size: { widthPx: 1250, heightPx: 800 },
      },
      stars,
    );
  draw(0);
  const begun = performance.now();
  for (let n = 1; n <= 6; n++) draw(n);
  rows.push({
    what: '200 frames of 1 Mpx drawn, written, measured, 2 workers',
    took: ((performance.now() - begun) / 6 / 1000) * (200 / 2),
    figure: 60,
    unit: 's',
  });
  rmSync(to, { recursive: true });
}

const assets = join(ROOT, 'web/dist/assets');
try {
  const sizes = readdirSync(assets)
    .filter((f) => f.endsWith('.js'))
    .map((f) => ({ f, kb: gzipSync(readFileSync(join(assets, f))).length / 1000, raw: statSync(join(assets, f)).size }))
    .sort((a, b) => b.kb - a.kb);
  for (const s of sizes.slice(0, 4))
    rows.push({ what: `chunk ${s.f.replace(/-[\w-]{8}\.js$/, '')}`, took: s.kb, figure: 300, unit: 'kB gzip' });
} catch {
  console.log('web/dist is missing: npm run build first, for the chunk sizes');
}

for (const r of rows)
  console.log(
    `${r.what.padEnd(54)} ${r.took.toFixed(r.took < 10 ? 2 : 0).padStart(8)} ${r.unit.padEnd(8)} of ${String(r.figure).padStart(4)}  (${((100 * r.took) / r.figure).toFixed(0)} %)`,
  );
