import { describe, expect, test } from '@jest/globals';
import { torqueAt } from '../balance/index.ts';
import { words } from '../phrases/index.ts';
import { seeded } from '../statistics/index.ts';
import { cableReach, CableSheet, checkCables, poseAxes, type Device } from './index.ts';

const device = (key: string, more: Partial<Device> = {}): Device => ({
  key,
  name: key,
  at: 'hub',
  bus: 'usb3',
  megabytesPerS: 10,
  lengthM: 1,
  feed: 'supply',
  meanW: 5,
  peakW: 10,
  dcLengthM: 1,
  dcMm2: 1.5,
  ...more,
});
const hub = { key: 'hub', name: 'hub', at: 'computer', bus: 'usb3' as const, ports: 4, givesA: 3, lengthM: 2 };
const sheet = (more: object = {}) =>
  CableSheet.parse({
    hubs: [hub],
    devices: [device('camera'), device('wheel')],
    supply: { amps: 10, fuseA: 10 },
    bundle: { freeMm: 2000 },
    airC: 20,
    ...more,
  });
const codes = (s: CableSheet, hours = 8) => checkCables(s, 50, hours).findings.map((f) => f.phrase.code);

describe('cables', () => {
  test('that hold say so, with the currents and the night by hand', () => {
    const got = checkCables(sheet(), 50, 8);
    // 20 W at most at 12 V, 10 W in the mean for 8 h
    expect(got).toMatchObject({ meanW: 10, needWh: 80, haveWh: null, lastsH: null });
    expect(got.peakA).toBeCloseTo(20 / 12, 9);
    expect(got.findings.map((f) => f.phrase.code)).toEqual(['cable.fine']);
    expect(got.buses).toEqual([
      { key: 'hub', name: 'hub', bus: 'usb3', asked: 20, carries: 350, ports: 4, used: 2, takenA: 0, givesA: 3 },
    ]);
  });
  test('data: a hub carries all that hangs below it, no faster than its slowest way', () => {
    const second = { ...hub, key: 'second', name: 'second', at: 'hub' };
    const s = sheet({
      hubs: [{ ...hub, bus: 'usb2' }, second],
      devices: [device('camera', { at: 'second', megabytesPerS: 80 })],
    });
    expect(checkCables(s, 50, 8).buses.map((b) => [b.key, b.asked, b.carries])).toEqual([
      ['hub', 80, 35],
      ['second', 80, 35],
    ]);
    expect(codes(s).filter((c) => c === 'cable.data')).toHaveLength(2);
  });
  test.each([
    ['cable.ports', { hubs: [{ ...hub, ports: 1 }] }],
    [
      'cable.hub-current',
      {
        hubs: [{ ...hub, givesA: 1 }],
        devices: [device('a', { feed: 'usb', meanW: 1, peakW: 4 }), device('b', { feed: 'usb', meanW: 1, peakW: 4 })],
      },
    ],
    ['cable.port-current', { devices: [device('a', { feed: 'usb', bus: 'usb2', meanW: 2, peakW: 3 })] }],
    ['cable.long', { devices: [device('a', { lengthM: 3.5 })] }],
    ['cable.supply', { supply: { amps: 1, fuseA: 10 } }],
    ['cable.fuse', { supply: { amps: 10, fuseA: 1.5 } }],
    ['cable.thin', { devices: [device('a', { dcMm2: 0.5 })] }],
    ['cable.drop', { devices: [device('a', { peakW: 60, dcLengthM: 8, dcMm2: 1.5 })] }],
    ['cable.battery', { supply: { amps: 10, fuseA: 10, batteryWh: 60 } }],
    ['cable.short', { bundle: { freeMm: 200 } }],
  ] as const)('%s is found where it is, and nothing else', (code, more) => {
    expect(codes(sheet(more))).toEqual([code]);
    expect(codes(sheet())).not.toContain(code);
    expect(words(checkCables(sheet(more), 50, 8).findings[0]!.phrase)).not.toMatch(/[{}]|NaN/);
  });
  test('voltage lost, by hand: 2 × 8 m of 1.5 mm² are 0.183 Ω at 20 °C; 5 A leave 11.1 V', () => {
    const { findings } = checkCables(sheet({ devices: [device('a', { peakW: 60, dcLengthM: 8 })] }), 50, 8);
    expect(findings[0]!.phrase.values.lostV).toBeCloseTo(((2 * 8 * 0.0172) / 1.5) * 5, 9);
    expect(findings[0]!.phrase.values.arrivesV).toBeCloseTo(11.08, 2);
  });
  test('cold takes from a battery, from lead more than from lithium; copper gains by it', () => {
    const have = (chemistry: string, airC: number) =>
      checkCables(sheet({ airC, supply: { batteryWh: 1000, chemistry } }), 50, 8).haveWh!;
    expect([have('lead', 20), have('lithium', 20)]).toEqual([500, 900]);
    expect(have('lead', -10) / have('lead', 20)).toBeLessThan(have('lithium', -10) / have('lithium', 20));
    const lost = (airC: number) =>
      checkCables(sheet({ airC, devices: [device('a', { peakW: 70, dcLengthM: 9 })] }), 50, 8).findings[0]!.phrase
        .values.lostV as number;
    expect(lost(-20)).toBeLessThan(lost(20));
  });
  test('what cannot be is told with its place: two of a name, a hub on nothing, a circle, less at most than in the mean', () => {
    const wrong = (more: object) =>
      CableSheet.safeParse({ hubs: [hub], devices: [device('a')], ...more })
        .error?.issues.map((i) => `${i.path.join('.')}: ${i.message}`)
        .join();
    expect(wrong({ devices: [device('a'), device('a')] })).toContain('“a” is there twice');
    expect(wrong({ hubs: [{ ...hub, at: 'nowhere' }] })).toContain('hubs.0.at: hangs on “nowhere”');
    expect(
      wrong({
        hubs: [
          { ...hub, at: 'b' },
          { ...hub, key: 'b', at: 'hub' },
        ],
      }),
    ).toContain('circle');
    expect(wrong({ devices: [device('a', { meanW: 20 })] })).toContain('devices.0.peakW');
    expect(wrong({ devices: [device('a', { at: 'tree' })] })).toContain('devices.0.at');
  });
});

describe('slack through the flip', () => {
  test('the pose is that of the balance: right angles, and gravity’s torque comes out of it', () => {
    const r = seeded(9);
    for (let i = 0; i < 50; i++) {
      const [lat, h, d] = [80 * (r.next() - 0.5) * 2, 180 * (r.next() - 0.5) * 2, 90 * (r.next() - 0.5) * 2];
      const pier = r.next() < 0.5 ? 'east' : 'west';
      const { x, y, z } = poseAxes(lat, h, d, pier);
      const dot = (a: readonly number[], b: readonly number[]) => a.reduce((s, v, k) => s + v * b[k]!, 0);
      for (const [a, b] of [
        [x, y],
        [y, z],
        [z, x],
      ] as const)
        expect(dot(a, b)).toBeCloseTo(0, 9);
      for (const v of [x, y, z]) expect(dot(v, v)).toBeCloseTo(1, 9);
      // torque about the polar axis: moment east times g cos latitude
      const m = { x: 300, y: -200, z: 500 };
      const east = (m.x * x[0] + m.y * y[0] + m.z * z[0]) / 1000;
      expect(torqueAt(m, lat, h, d, pier).raNm).toBeCloseTo(east * 9.80665 * Math.cos((lat * Math.PI) / 180), 6);
    }
  });
  test('a point on the crossing of the axes never moves; one farther out reaches farther; finer steps find no more', () => {
    expect(cableReach(50, { xMm: 0, yMm: 0, zMm: 0 }, 500).farthestMm).toBe(500);
    const at = (zMm: number) => cableReach(50, { xMm: 150, yMm: 0, zMm }, 500).farthestMm;
    expect(at(-600)).toBeGreaterThan(at(-300));
    const { farthestMm } = cableReach(50, { xMm: 150, yMm: 40, zMm: -300 }, 500);
    // never farther than all lengths in one line, and by brute force over a finer net hardly farther
    expect(farthestMm).toBeLessThanOrEqual(500 + Math.hypot(150, 40, 300));
    let most = 0;
    for (const pier of ['east', 'west'] as const)
      for (let h = -100; h <= 100; h++)
        for (let d = -90; d <= 90; d++) {
          const { x, y, z } = poseAxes(50, h, d, pier);
          if (z[2] < 0) continue;
          const p = [0, 1, 2].map((k) => 150 * x[k]! + 40 * y[k]! - 300 * z[k]!);
          most = Math.max(most, Math.hypot(p[0]!, p[1]!, p[2]! + 500));
        }
    expect(most / farthestMm - 1).toBeLessThan(0.01);
  });
});
