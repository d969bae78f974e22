// A club’s year, three ways to share three rigs among five members, under the same drawn weather and with the same wants:
// booked first come first served, the best piece first, and the best whole. Prints the table of docs/season.md; nothing is timed.
import { addDays } from '@keen/core/sky';
import {
  allocate,
  fairMaxima,
  fieldOf,
  greedyAllocation,
  NOBODY,
  seasonField,
  type AllocateInput,
  type SeasonProject,
} from '@keen/core/season';
import { highsSolver } from '@keen/core/solver';
import { seeded } from '@keen/core/statistics';

const [NIGHTS, AHEAD, CLEAR, PERSISTS] = [365, 7, 0.35, 0.6];
/** What a change of object costs, as the rules of the board have it [min]. */
const CHANGE_MIN = 15;
const MEMBERS = ['ada', 'bela', 'cleo', 'dov', 'eris'];
const RIGS = ['dome', 'roof', 'pier'];
/** How often each looks whether a night is free, against the others: some are quicker. */
const EAGER = [5, 4, 3, 2, 1];
const FROM = '2026-09-01';
const site = { latitudeDeg: 47, longitudeDeg: 8, elevationM: 500, timeZone: 'Europe/Zurich', horizon: [] };

function club(seed: number) {
  const r = seeded(seed);
  const projects: SeasonProject[] = Array.from({ length: 60 }, (_, i) => {
    const hours = 40 + 50 * r.next();
    const narrow = r.next() < 0.4;
    return {
      id: `p${i}`,
      member: MEMBERS[i % 5]!,
      weight: 1,
      rigs: [RIGS[Math.floor(3 * r.next())]!],
      raDeg: 360 * r.next(),
      decDeg: -5 + 70 * r.next(),
      minimumAltitudeDeg: 30,
      narrowMinutes: narrow ? 60 * hours : 0,
      broadMinutes: narrow ? 0 : 60 * hours,
    };
  });
  // nights clear or not, with spells: tomorrow is as today more often than chance
  const clear: boolean[] = [];
  for (let n = 0; n < NIGHTS; n++) clear.push(n > 0 && r.next() < PERSISTS ? clear[n - 1]! : r.next() < CLEAR);
  const field = seasonField(
    RIGS.map((id) => ({ id, site, clearOf: () => 1 })),
    projects,
    { from: FROM, nights: NIGHTS, slotMinutes: 60 },
  );
  return { projects, clear, field };
}
type Club = ReturnType<typeof club>;

/** What is left of needs, and what everybody had. */
interface State {
  need: Map<string, number>;
  had: Record<string, number>;
  worth: number;
  idle: number;
}
const begin = ({ projects }: Club): State => ({
  need: new Map(projects.map((p) => [p.id, p.narrowMinutes + p.broadMinutes])),
  had: Object.fromEntries(MEMBERS.map((m) => [m, 0])),
  worth: 0,
  idle: 0,
});

/** The question of the next nights as needs stand, expected minutes and all. */
function question({ field, projects }: Club, s: State, night: number): AllocateInput {
  const days = new Set(Array.from({ length: AHEAD }, (_, k) => addDays(FROM, night + k)));
  const slots = field.slots.filter((x) => days.has(x.night));
  const ids = new Set(slots.map((x) => x.id));
  const own = field.projects
    .map((p, i) => ({ ...p, member: projects[i]!.member, needMinutes: s.need.get(p.id)! / CLEAR }))
    .filter((p) => p.needMinutes > 0)
    .map((p) => ({ ...p, eligible: p.eligible.filter((e) => ids.has(e.slot)) }));
  const sent: AllocateInput = {
    slots: slots.map(({ id, night: n, rig, order, minutes }) => ({ id, night: n, rig, order, minutes })),
    projects: own,
    locked: [],
    switchPenalty: 15,
    minimumBlockSlots: 1,
    timeLimitS: 20,
    gap: 0.005,
  };
  const had = Object.fromEntries(Object.entries(s.had).map(([m, v]) => [m, v / CLEAR]));
  return { ...sent, memberMaxMinutes: fairMaxima({ slots, projects: own }, had, []) };
}
/** Slots of tonight that somebody was given, with the rest given to whoever can use it. */
function tonightOf(sent: AllocateInput, given: ArrayLike<number>, night: number): [slot: string, project: string][] {
  const tonight = addDays(FROM, night);
  const done = sent.slots.map((x, i): [string, string | null] => [
    x.id,
    given[i] === NOBODY ? null : sent.projects[given[i]!]!.id,
  ]);
  const qualityOf = (slot: string, p: AllocateInput['projects'][number]) =>
    p.eligible.find((e) => e.slot === slot)?.quality ?? 0;
  return done
    .filter(([slot]) => slot.startsWith(tonight))
    .flatMap(([slot, project]): [string, string][] => {
      if (project) return [[slot, project]];
      const best = [...sent.projects].sort((a, b) => qualityOf(slot, b) - qualityOf(slot, a))[0];
      return best && qualityOf(slot, best) > 0 ? [[slot, best.id]] : [];
    });
}
function take(c: Club, s: State, night: number, given: readonly [string, string][]): void {
  if (!c.clear[night]) return;
  const tonight = addDays(FROM, night);
  const minutes = new Map(c.field.slots.filter((x) => x.night === tonight).map((x) => [x.id, x.minutes]));
  const order = new Map(c.field.slots.map((x, i) => [x.id, i]));
  const whose = new Map(given);
  for (const [slot, project] of [...given].sort((a, b) => order.get(a[0])! - order.get(b[0])!)) {
    const [n, rig, place] = slot.split(' ') as [string, string, string];
    const before = whose.get(`${n} ${rig} ${Number(place) - 1}`);
    // slewing, centring, focusing: the first minutes after a change of object are lost
    const lost = before === project ? 0 : CHANGE_MIN;
    const p = c.field.projects.find((x) => x.id === project)!;
    const got = Math.min(s.need.get(project)!, minutes.get(slot)! - lost);
    s.need.set(project, s.need.get(project)! - got);
    s.had[p.member]! += got;
    s.worth += got * (p.eligible.find((e) => e.slot === slot)?.quality ?? 0);
    minutes.set(slot, minutes.get(slot)! - got - lost);
  }
  s.idle += [...minutes.values()].reduce((a, b) => a + b, 0);
}

/** Whole nights of a rig, booked up to a week ahead by whoever is quickest, two at a time; worked for their own wants, best first. */
function byCalendar(c: Club, seed: number): State {
  const r = seeded(seed);
  const s = begin(c);
  const booked = new Map<string, string>();
  const bySlot = new Map<string, { id: string; member: string; quality: number }[]>();
  for (const p of c.field.projects)
    for (const e of p.eligible)
      bySlot.set(e.slot, [...(bySlot.get(e.slot) ?? []), { id: p.id, member: p.member, quality: e.quality }]);
  const slotsOf = new Map<string, string[]>();
  for (const x of c.field.slots)
    slotsOf.set(`${x.night} ${x.rig}`, [...(slotsOf.get(`${x.night} ${x.rig}`) ?? []), x.id]);
  const worthOf = (key: string, member: string) =>
    (slotsOf.get(key) ?? []).reduce((sum, slot) => {
      const own = (bySlot.get(slot) ?? []).filter((o) => o.member === member && s.need.get(o.id)! > 0);
      return sum + Math.max(0, ...own.map((o) => o.quality));
    }, 0);
  for (let night = 0; night < NIGHTS; night++) {
    const coming = Array.from({ length: AHEAD }, (_, k) => addDays(FROM, night + k));
    // those who look more often come first more often
    const order = MEMBERS.map((m, i) => ({ m, at: -Math.log(1 - r.next()) / EAGER[i]! })).sort((a, b) => a.at - b.at);
    for (const { m } of order) {
      for (;;) {
        const held = coming.flatMap((d) => RIGS.map((g) => `${d} ${g}`)).filter((k) => booked.get(k) === m).length;
        const free = coming.flatMap((d) => RIGS.map((g) => `${d} ${g}`)).filter((k) => !booked.has(k));
        const best = free.map((k) => ({ k, w: worthOf(k, m) })).sort((a, b) => b.w - a.w)[0];
        if (held >= 2 || !best || best.w <= 0) break;
        booked.set(best.k, m);
      }
    }
    const given = RIGS.flatMap((g): [string, string][] => {
      const key = `${coming[0]} ${g}`;
      const m = booked.get(key);
      return (slotsOf.get(key) ?? []).flatMap((slot): [string, string][] => {
        const own = (bySlot.get(slot) ?? []).filter((o) => o.member === m && s.need.get(o.id)! > 0);
        const best = own.sort((a, b) => b.quality - a.quality)[0];
        return best ? [[slot, best.id]] : [];
      });
    });
    take(c, s, night, given);
  }
  return s;
}
function byRules(c: Club, solve: (sent: AllocateInput) => ArrayLike<number>): State {
  const s = begin(c);
  for (let night = 0; night < NIGHTS; night++) {
    // a cloudy night is not worked: what would be given is given again tomorrow
    if (!c.clear[night]) continue;
    const sent = question(c, s, night);
    take(c, s, night, tonightOf(sent, solve(sent), night));
  }
  return s;
}

const solver = await highsSolver();
const rows: Record<string, number[][]> = {};
const seeds = (process.argv[2] ?? '1,2,3').split(',').map(Number);
for (const seed of seeds) {
  const c = club(seed);
  const ways: [string, () => State][] = [
    ['first come, by calendar', () => byCalendar(c, 100 + seed)],
    ['best piece first', () => byRules(c, (sent) => greedyAllocation(fieldOf(sent)))],
    ['best whole', () => byRules(c, (sent) => allocate(sent, solver).given)],
  ];
  const clearHours =
    c.field.slots
      .filter((x) => c.clear[(Date.parse(x.night) - Date.parse(FROM)) / 86_400_000])
      .reduce((a, x) => a + x.minutes, 0) / 60;
  for (const [name, run] of ways) {
    const s = run();
    const had = Object.values(s.had).map((m) => m / 60);
    const finished = [...s.need.values()].filter((n) => n <= 1e-6).length;
    const row = [
      had.reduce((a, b) => a + b, 0),
      s.worth / 60,
      finished,
      Math.max(...had) - Math.min(...had),
      clearHours,
    ];
    (rows[name] ??= []).push(row);
    console.error(seed, name, row.map((x) => x.toFixed(1)).join(' '), had.map((h) => h.toFixed(0)).join(' '));
  }
}
const mean = (list: number[][], k: number) => list.reduce((s, r) => s + r[k]!, 0) / list.length;
console.log('| way | hours had | worth, h at the zenith | finished of 60 | most less fewest, h |');
console.log('| --- | --- | --- | --- | --- |');
for (const [name, list] of Object.entries(rows))
  console.log(
    `| ${name} | ${mean(list, 0).toFixed(0)} | ${mean(list, 1).toFixed(0)} | ${mean(list, 2).toFixed(1)} | ${mean(list, 3).toFixed(0)} |`,
  );
console.log(`clear dark hours of all rigs: ${mean(Object.values(rows)[0]!, 4).toFixed(0)}; ${seeds.length} years`);
