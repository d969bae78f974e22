import { expect, test } from '@jest/globals';
import { seeded } from '../statistics/index.ts';
import { SkyByHand } from '../test/nightChecker.ts';
import { AllocateInput } from './schemas.ts';
import { seasonField, type SeasonProject } from './nights.ts';

const MIN = 60_000;
const WALL = [
  [0, 10],
  [140, 12],
  [150, 45],
  [190, 45],
  [200, 8],
  [330, 15],
].map(([azimuthDeg, altitudeDeg]) => ({ azimuthDeg: azimuthDeg!, altitudeDeg: altitudeDeg! }));
const site = (latitudeDeg: number, longitudeDeg: number, horizon: typeof WALL = []) => ({
  name: 'ridge',
  latitudeDeg,
  longitudeDeg,
  elevationM: 0,
  timeZone: 'UTC',
  horizon,
});
const project = (id: string, more: Partial<SeasonProject> = {}): SeasonProject => ({
  id,
  member: 'ida',
  weight: 1,
  rigs: ['dome'],
  raDeg: 90,
  decDeg: 20,
  minimumAltitudeDeg: 30,
  narrowMinutes: 0,
  broadMinutes: 600,
  ...more,
});
const rig = (at: ReturnType<typeof site>, id = 'dome', clear = 1) => ({ id, site: at, clearOf: () => clear });

/** Rules of the Moon in turn; none, down, or down or so far away. */
const RULES = [null, { by: 'down' }, { by: 'apart', deg: 80 }, { by: 'any' }] as const;
/** Held against the ephemeris library minute by minute; shares nothing with what is tested. */
test('on 50 nights all over the Earth a slot is dark, and a project has those it stands free in, at the worth of their hours', () => {
  const r = seeded(1201);
  let [held, refused, moonlit, shut] = [0, 0, 0, 0];
  for (let n = 0; n < 50; n++) {
    const at = site(-55 + 110 * r.next(), -175 + 350 * r.next(), r.next() < 0.5 ? WALL : []);
    const from = new Date(Date.UTC(2026, 0, 1 + Math.floor(700 * r.next()))).toISOString().slice(0, 10);
    const narrow = r.next() < 0.4;
    const p = project('p', {
      raDeg: 360 * r.next(),
      decDeg: Math.max(-85, Math.min(85, at.latitudeDeg + 120 * (r.next() - 0.5))),
      minimumAltitudeDeg: 20 + 20 * r.next(),
      ...(narrow ? { narrowMinutes: 600, broadMinutes: 0 } : {}),
      moon: RULES[n % RULES.length],
    });
    const { slots, projects } = seasonField([rig(at)], [p], { from, nights: 1, slotMinutes: 40 + 40 * r.next() });
    const hand = new SkyByHand(at);
    const quality = new Map(projects[0]!.eligible.map((e) => [e.slot, e.quality]));
    slots.forEach((s, i) => {
      expect(hand.sunDeg(s.fromMs)).toBeLessThan(-17.9);
      expect(hand.sunDeg(s.untilMs)).toBeLessThan(-17.9);
      if (i > 0) expect([s.fromMs, s.order]).toEqual([slots[i - 1]!.untilMs, slots[i - 1]!.order + 1]);
      let [free, steps, worth] = [0, 0, 0];
      for (let ms = s.fromMs + MIN; ms < s.untilMs; ms += 2 * MIN) {
        steps++;
        const { altitudeDeg, azimuthDeg } = hand.star(p.raDeg, p.decDeg, ms);
        if (altitudeDeg < Math.max(p.minimumAltitudeDeg, hand.wallDeg(azimuthDeg))) continue;
        const { limbDeg, apartDeg } = hand.moon(p.raDeg, p.decDeg, ms);
        if (limbDeg > 0 && (n % RULES.length === 1 || (n % RULES.length === 2 && apartDeg < 80))) {
          shut++;
          continue;
        }
        free++;
        const moon = limbDeg > 0.7 ? s.moonlit * Math.exp(-apartDeg / 60) : 0;
        worth += Math.sin((altitudeDeg * Math.PI) / 180) * (1 - moon * (narrow ? 0.25 : 1));
        if (moon > 0.05) moonlit++;
      }
      const found = quality.get(s.id);
      // a step of five minutes sees the edge of a wall that late
      if (free / steps > 0.6) expect([from, s.id, found]).toEqual([from, s.id, expect.closeTo(worth / steps, 1)]);
      if (free / steps < 0.4) expect([from, s.id, found]).toEqual([from, s.id, undefined]);
      if (found === undefined) refused++;
      else held++;
    });
  }
  // the draw has met both, and the Moon
  for (const times of [held, refused, moonlit, shut]) expect(times).toBeGreaterThan(60);
}, 60_000);

test('the Sun that does not set leaves no slots, what is taken is not given, and chances shorten what may be expected', () => {
  const far = { from: '2026-06-20', nights: 3, slotMinutes: 60 };
  expect(seasonField([rig(site(66, 20))], [project('p')], far).slots).toEqual([]);
  const span = { from: '2026-12-01', nights: 2, slotMinutes: 60 };
  const whole = seasonField([rig(site(47, 8))], [project('p')], span);
  expect(new Set(whole.slots.map((s) => s.night))).toEqual(new Set(['2026-12-01', '2026-12-02']));
  const lasts = (s: { fromMs: number; untilMs: number }) => (s.untilMs - s.fromMs) / MIN;
  for (const s of whole.slots) expect([s.minutes, Math.abs(lasts(s) - 60) < 6]).toEqual([lasts(s), true]);
  const [first, second] = whole.slots;
  const without = seasonField([rig(site(47, 8))], [project('p')], span, () => [
    [first!.untilMs - MIN, second!.fromMs + MIN],
  ]);
  expect(without.slots.map((s) => s.id)).toEqual(whole.slots.slice(2).map((s) => s.id));
  const doubtful = seasonField([rig(site(47, 8), 'dome', 0.4)], [project('p')], span);
  doubtful.slots.forEach((s, i) => expect(s.minutes).toBeCloseTo(0.4 * whole.slots[i]!.minutes, 9));
  expect(seasonField([rig(site(47, 8), 'dome', 0)], [project('p')], span).slots).toEqual([]);
});

test('only its rigs, and only within its spells; narrow filters make a moonlit hour worth more', () => {
  const span = { from: '2026-12-22', nights: 3, slotMinutes: 60 };
  const rigs = [rig(site(47, 8)), rig(site(47, 8), 'shed')];
  const { slots } = seasonField(rigs, [], span);
  const inside = slots.filter((s) => s.rig === 'shed').slice(3, 5);
  const { projects } = seasonField(
    rigs,
    [
      project('any', { rigs: ['dome', 'shed'] }),
      project('shed', { rigs: ['shed'] }),
      project('transit', { rigs: ['shed'], spells: [[inside[0]!.fromMs, inside[1]!.untilMs]] }),
      project('lines', { rigs: ['dome', 'shed'], narrowMinutes: 300, broadMinutes: 0 }),
      project('both', { rigs: ['dome', 'shed'], narrowMinutes: 300 }),
    ],
    span,
  );
  const [any, shed, transit, lines, both] = projects.map((p) => new Map(p.eligible.map((e) => [e.slot, e.quality])));
  expect(any!.size).toBeGreaterThan(shed!.size);
  expect([...shed!.keys()].every((id) => id.includes(' shed '))).toBe(true);
  expect([...transit!.keys()]).toEqual(inside.map((s) => s.id).filter((id) => shed!.has(id)));
  // close to full Moon
  for (const [id, quality] of any!) {
    expect(lines!.get(id)!).toBeGreaterThanOrEqual(quality);
    expect(both!.get(id)!).toBeCloseTo(lines!.get(id)!, 12);
  }
  expect(Math.max(...[...any!].map(([id, q]) => lines!.get(id)! - q))).toBeGreaterThan(0.1);
});

test('is what the allocation takes', () => {
  const { slots, projects } = seasonField([rig(site(47, 8))], [project('p')], {
    from: '2026-12-01',
    nights: 4,
    slotMinutes: 45,
  });
  const sent = {
    projects,
    slots: slots.map(({ id, night, rig: on, order, minutes }) => ({ id, night, rig: on, order, minutes })),
  };
  expect(AllocateInput.safeParse(sent).error?.issues).toBeUndefined();
});
