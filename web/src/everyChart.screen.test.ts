import { beforeEach, describe, expect, test } from '@jest/globals';
import type { GuideLogRecord } from '@keen/contract';
import { offsets } from '@keen/core/focus';
import { guideViewOf } from '@keen/core/guiding';
import { viewOf } from '@keen/core/rig';
import { RIGS } from '@keen/demo';
import { given } from './test/doubles/charts.ts';
import { mountScreen, project, site as aSite } from './test/mountScreen.ts';
import GuideTrace from './phases/morning/GuideTrace.vue';
import KeptLogs from './phases/morning/KeptLogs.vue';
import OffsetsPicture from './phases/morning/OffsetsPicture.vue';
import NightsChart from './phases/season/NightsChart.vue';
import YearStrip from './phases/night/YearStrip.vue';
import FrameTrend from './phases/morning/FrameTrend.vue';
import ExposureBars from './phases/dusk/ExposureBars.vue';

/** A canvas cannot be looked at here; what a chart is given can. */
interface Given {
  data: {
    labels?: unknown[];
    datasets: { label?: string; data: unknown[]; backgroundColor?: unknown; borderColor?: unknown }[];
  };
  options: {
    scales: { x: Record<string, unknown>; y: Record<string, unknown> };
    onClick?: (e: object, hit: { index: number }[]) => void;
    plugins: {
      zoom?: { zoom: { onZoomComplete: (c: object) => void } };
      annotation?: { annotations: Record<string, Record<string, unknown>> };
      tooltip: { callbacks: Record<string, (x: never) => string> };
    };
  };
}
const last = () => given.at(-1) as Given;
beforeEach(() => {
  given.length = 0;
});

const sample = (timeS: number, state = 'guiding') => ({
  timeS,
  raArcsec: Math.sin(timeS),
  decArcsec: 0.1,
  raPulseMs: 0,
  decPulseMs: 0,
  state,
});

describe('the guide trace', () => {
  const samples = Array.from({ length: 100 }, (_, i) => sample(36 * i, i === 50 ? 'lost' : 'guiding'));
  test('breaks where the star was lost, shows the chosen span, and a closer look is a choice', async () => {
    const { wrapper } = await mountScreen(GuideTrace, { props: { samples, span: null } });
    const ra = last().data.datasets[0]!.data as { x: number; y: number }[];
    expect(ra.filter((p) => Number.isNaN(p.y)).map((p) => p.x)).toEqual([1800]);
    expect([last().options.scales.x.min, last().options.scales.x.max]).toEqual([0, 3564]);
    const axis = { ticks: [] as { value: number }[] };
    (last().options.scales.x.afterBuildTicks as (a: object) => void)(axis);
    expect(axis.ticks.map((t) => t.value)).toEqual([0, 600, 1200, 1800, 2400, 3000]);
    const look = (min: number, max: number) =>
      last().options.plugins.zoom!.zoom.onZoomComplete({ chart: { scales: { x: { min, max } } } });
    look(600, 1200);
    look(-5, 3570);
    const part = wrapper.findComponent(GuideTrace);
    expect(part.emitted('span')).toEqual([[[600, 1200]], [null]]);
  });
});

test('kept nights stand in order, a change of the train is marked between them, and a click reads one', async () => {
  const log = (n: number, words: string) =>
    ({
      id: `l${n}`,
      night: `2026-11-0${n}`,
      at: '',
      name: `log ${n}`,
      note: '',
      by: 'Noor Vik',
      words,
      guider: words,
      holds: true,
      system: 'a',
      rigId: 'r',
      trainStateId: 't',
      summary: { rms: { total: n / 2, ra: 0.3, dec: 0.2 }, findings: [] },
    }) as unknown as GuideLogRecord;
  const logs = [log(3, 'heather-linnet'), log(1, 'amber-heron'), log(2, 'amber-heron')];
  const { wrapper } = await mountScreen(KeptLogs, { props: { logs, comparedId: 'l2' } });
  expect(last().data.datasets[0]!.data).toEqual([0.5, 1, 1.5]);
  expect(last().options.plugins.annotation!.annotations).toMatchObject({
    good: { yMin: 0.8 },
    changed2: { xMin: 1.5 },
  });
  expect(Object.keys(last().options.plugins.annotation!.annotations)).toHaveLength(2);
  last().options.onClick!({}, [{ index: 2 }]);
  expect(wrapper.findComponent(KeptLogs).emitted('open')).toEqual([[logs[0]]]);
});

test('offsets: bars of 95 %, plain averages but for the reference, the focus zone as a band', async () => {
  const runs = ['L', 'Ha'].flatMap((filter, k) =>
    [0, 1, 2, 3, 4].map((i) => ({ filter, position: 1000 + 60 * k + 10 * i + (i % 2), temperatureC: i + k })),
  );
  const found = offsets({ runs, reference: 'L', model: 'temperature' });
  await mountScreen(OffsetsPicture, {
    props: { found, reference: 'L', zoneSteps: 30, adopted: { Ha: { steps: 12 } } },
  });
  const of = (label: string) => last().data.datasets.filter((d) => d.label === label);
  const ha = found.offsets.Ha!;
  const row = Object.entries(found.offsets)
    .sort((a, b) => a[1].steps - b[1].steps)
    .findIndex(([f]) => f === 'Ha');
  expect(of('at 95 %')[row]!.data).toEqual([
    { x: ha.steps - ha.interval95, y: row },
    { x: ha.steps + ha.interval95, y: row },
  ]);
  expect(of('plain average')[0]!.data).toEqual([{ x: found.naiveOffsets.Ha, y: row }]);
  expect(of('adopted')[0]!.data).toEqual([{ x: 12, y: row }]);
  expect(last().options.plugins.annotation!.annotations.zone).toMatchObject({ xMin: -15, xMax: 15 });
});

test('nights of a project: hours by filter, refused frames in none of them', async () => {
  const night = (n: string, filter: string, accepted: number) => ({
    night: n,
    panel: null,
    filter,
    exposureS: 300,
    accepted,
    rejected: 3,
    counts: true,
  });
  const p = project({
    goals: [
      { filter: 'Ha', exposureS: 300, quota: 40 },
      { filter: 'OIII', exposureS: 300, quota: 40 },
    ],
    nights: [night('2026-11-02', 'Ha', 12), night('2026-11-01', 'OIII', 6), night('2026-11-03', 'Ha', 0)],
  });
  await mountScreen(NightsChart, { props: { project: p } });
  expect(last().data.labels).toHaveLength(2);
  // the goal named first stands on top
  expect(last().data.datasets.map((d) => [d.label, d.data])).toEqual([
    ['OIII', [0.5, 0]],
    ['Ha', [0, 1]],
  ]);
});

test('exposures: what is full or faint is hollow, and a bar and a radio choose alike', async () => {
  const setup = viewOf(RIGS[0]!.build);
  const view = guideViewOf(setup, { skyMagArcsec2: 20, fwhmArcsec: 3 });
  const { wrapper } = await mountScreen(ExposureBars, {
    props: { optics: view!.optics, mag: 9, wanted: 20, roomE: 3000, chosen: 2 },
  });
  const { labels, datasets } = last().data as { labels: string[][]; datasets: { backgroundColor: string[] }[] };
  const hollow = labels.flatMap(([, why], i) => (datasets[0]!.backgroundColor[i] === 'transparent' ? [why] : []));
  expect(hollow.length).toBeGreaterThan(0);
  expect(hollow.every((w) => w === 'full' || w === 'faint')).toBe(true);
  last().options.onClick!({}, [{ index: 0 }]);
  await wrapper.findAll('input')[1]!.trigger('change');
  expect(wrapper.findComponent(ExposureBars).emitted('choose')).toEqual([
    [Number.parseFloat(labels[0]![0]!)],
    [Number.parseFloat(labels[1]![0]!)],
  ]);
  expect(wrapper.findAll('input')[1]!.attributes('aria-label')).toMatch(/seconds: \d/);
});

test('the year of an object: hours with and without the Moon, months named once, a night chosen by bar or by button', async () => {
  const site = aSite();
  const { wrapper } = await mountScreen(YearStrip as never, {
    props: { site, object: 'NGC 281', place: project(), night: '2026-11-19' },
  });
  const { labels, datasets } = last().data as { labels: string[]; datasets: { data: number[] }[] };
  expect([labels.length, labels[0]]).toEqual([365, '2026-11-19']);
  const total = labels.map((_, i) => datasets[0]!.data[i]! + datasets[1]!.data[i]!);
  expect(Math.max(...total)).toBeGreaterThan(8);
  expect(total.every((h) => h >= 0 && h < 16)).toBe(true);
  const { x } = last().options.scales as unknown as {
    x: { ticks: { callback: (v: unknown, i: number) => string | null } };
  };
  const months = labels.flatMap((_, i) => x.ticks.callback(null, i) ?? []);
  expect(months).toEqual(['Dec', 'Jan', 'Feb', 'Mar', 'Apr', 'May', 'Jun', 'Jul', 'Aug', 'Sep', 'Oct', 'Nov']);
  const { title, label, footer } = last().options.plugins.tooltip.callbacks as Record<string, (x: unknown) => string>;
  expect([title!([{ dataIndex: 0 }]), footer!([{ dataIndex: 0 }])]).toEqual([
    expect.stringContaining('19 Nov'),
    expect.stringMatching(/Moon \d+ % lit/),
  ]);
  expect(label!({ dataset: { label: 'Moon down' }, parsed: { y: 4.06 } })).toBe('Moon down: 4.1 h');
  last().options.onClick!({}, [{ index: 12 }]);
  expect(wrapper.findComponent(YearStrip).emitted('choose')!.at(-1)).toEqual([labels[12]]);
  const buttons = wrapper.findAll('button');
  expect(buttons).toHaveLength(5);
  await buttons[0]!.trigger('click');
  const chosen = wrapper.findComponent(YearStrip).emitted('choose')!.at(-1)![0] as string;
  expect(buttons[0]!.text()).toMatch(new RegExp(`^${Number(chosen.slice(8))} `));
});

test('frames of a night against time, altitude, temperature or the age of the focus; a point is a frame to look at', async () => {
  const row = (n: number, more: object = {}) => ({
    id: `f${n}`,
    record: {},
    file: `${n}.fits`,
    filter: n % 2 ? 'Ha' : 'L',
    exposureS: 300,
    startedAt: new Date(Date.UTC(2026, 10, 19, 20, 10 * n)).toISOString(),
    temperatureC: 8 - n,
    focusAgeMin: n < 2 ? null : 10 * n,
    place: { raDeg: 13.2, decDeg: 56.6 },
    look: { hfdPx: 3 + 0.1 * n, stars: 100 + n, background: 900, eccentricity: 0.6 },
    accepted: n !== 3,
    suggestion: null,
    ...more,
  });
  const rows = [0, 1, 2, 3, 4].map((n) => row(n));
  const { wrapper } = await mountScreen(FrameTrend as never, {
    props: { rows: [...rows, row(5, { look: null })], chosen: 'f2', night: '2026-11-19' },
  });
  interface Point {
    x: number;
    y: number;
    row: { id: string };
  }
  const points = () =>
    last()
      .data.datasets.slice(0, -1)
      .flatMap((d) => d.data as Point[])
      .sort((a, b) => a.row.id.localeCompare(b.row.id));
  expect(points().map((p) => [p.row.id, p.y])).toEqual(rows.map((r) => [r.id, r.look.hfdPx]));
  expect((last().data.datasets.at(-1)!.data as Point[]).map((p) => p.row.id)).toEqual(['f2']);
  expect(wrapper.text()).toContain('1 of 6 frames have none');
  const { pick } = await import('./test/userActions.ts');
  await pick(wrapper, 'against', 'altitude');
  // by the meridian altitude of +56.6° from 47.1° north: never above 80.5°, and in November’s evening near it
  for (const p of points()) expect(p.x).toBeGreaterThan(60);
  for (const p of points()) expect(p.x).toBeLessThan(80.6);
  await pick(wrapper, 'against', 'focus');
  expect(points().map((p) => p.x)).toEqual([20, 30, 40]);
  await pick(wrapper, 'against', 'temperature');
  await pick(wrapper, 'Show', 'round');
  expect(points().map((p) => [p.x, p.y.toFixed(2)])).toEqual([8, 7, 6, 5, 4].map((t) => [t, '1.25']));
  last().options.onClick!({}, [{ datasetIndex: 0, index: 1 } as never]);
  expect(wrapper.findComponent(FrameTrend).emitted('choose')).toEqual([['f2']]);
});
