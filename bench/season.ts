import { allocate, AllocateInput, forecast, greedyAllocation, fieldOf, atOnce, type Board } from '@keen/core/season';
import { highsSolver } from '@keen/core/solver';
import { seeded } from '@keen/core/statistics';

/** How long a club’s nights take to be given out, against the figures. Printed, never asserted. */
const solver = await highsSolver();

/** Nights whose hours grow and shrink with the season, projects that are up for part of them, five members. */
export function clubOf(nights: number, rigs: number, slotsANight: number, projects: number, seed = 3): object {
  const r = seeded(seed);
  const slots = Array.from({ length: nights * rigs * slotsANight }, (_, i) => {
    const order = i % slotsANight;
    const rig = Math.floor(i / slotsANight) % rigs;
    const night = Math.floor(i / (slotsANight * rigs));
    return {
      id: `${night}-${rig}-${order}`,
      night: new Date(Date.UTC(2026, 10, 1 + night)).toISOString().slice(0, 10),
      rig: `r${rig}`,
      order,
      minutes: 60,
    };
  });
  const moonOf = (night: number) => 0.5 + 0.5 * Math.cos((2 * Math.PI * night) / 29.5);
  return {
    slots,
    projects: Array.from({ length: projects }, (_, p) => {
      const narrow = r.next() < 0.5;
      const [from, long, rig] = [
        Math.floor(slotsANight * 0.7 * r.next()),
        2 + Math.floor(4 * r.next()),
        Math.floor((rigs + 1) * r.next()),
      ];
      const [opens, closes] = [Math.floor(nights * 0.3 * r.next()), nights - Math.floor(nights * 0.3 * r.next())];
      return {
        id: `p${p}`,
        member: `m${p % 5}`,
        weight: 1 + Math.floor(4 * r.next()),
        needMinutes: 60 * (8 + Math.floor(40 * r.next())),
        eligible: slots.flatMap((s, i) => {
          const [order, k, night] = [
            i % slotsANight,
            Math.floor(i / slotsANight) % rigs,
            Math.floor(i / (slotsANight * rigs)),
          ];
          if (rig < rigs && k !== rig) return [];
          if (night < opens || night >= closes || order < from || order >= from + long) return [];
          const height = 1 - Math.abs((order - from + 0.5) / long - 0.5);
          const moon = narrow ? 1 : 1 - 0.7 * moonOf(night);
          return [{ slot: s.id, quality: Math.round(100 * height * moon * (0.9 + 0.1 * r.next())) / 100 }];
        }),
      };
    }),
    memberMaxMinutes: Object.fromEntries(
      Array.from({ length: 5 }, (_, m) => [`m${m}`, Math.floor((nights * rigs * slotsANight * 60) / 4)]),
    ),
  };
}

/** The dearest: nearly everything may go anywhere, at any quality. */
export function crowd(nights: number, rigs: number, slotsANight: number, projects: number, seed = 8): object {
  const r = seeded(seed);
  const club = clubOf(nights, rigs, slotsANight, projects) as { slots: { id: string }[]; projects: object[] };
  return {
    ...club,
    projects: club.projects.map((p) => ({
      ...p,
      eligible: club.slots
        .filter(() => r.next() < 0.6)
        .map((s) => ({ slot: s.id, quality: Math.round(100 * (0.3 + 0.7 * r.next())) / 100 })),
    })),
  };
}

const CASES: [what: string, input: object, seconds: number, gap: number][] = [
  ['60 nights × 3 rigs × 8 slots × 25 projects', clubOf(60, 3, 8, 25), 10, 0.001],
  ['60 × 3 × 8 × 25, everything anywhere', crowd(60, 3, 8, 25), 10, 0.001],
  ['14 × 2 × 8, everything anywhere, runs of two', { ...crowd(14, 2, 8, 25), minimumBlockSlots: 2 }, 15, 0.001],
  ['60 × 3 × 8, everything anywhere, runs of two', { ...crowd(60, 3, 8, 25), minimumBlockSlots: 2 }, 60, 0.01],
  ['the club with a price of 15 for a change', { ...clubOf(60, 3, 8, 25), switchPenalty: 15 }, 60, 0.001],
  ['14 × 2 × 8, runs of two', { ...clubOf(14, 2, 8, 25), minimumBlockSlots: 2 }, 15, 0.001],
  [
    '14 × 2 × 8, runs of two, 15 a change',
    { ...clubOf(14, 2, 8, 25), minimumBlockSlots: 2, switchPenalty: 15 },
    15,
    0.001,
  ],
  ['60 × 3 × 8, runs of two', { ...clubOf(60, 3, 8, 25), minimumBlockSlots: 2 }, 60, 0.01],
  [
    '60 × 3 × 8, runs of two, 15 a change',
    { ...clubOf(60, 3, 8, 25), minimumBlockSlots: 2, switchPenalty: 15 },
    60,
    0.01,
  ],
];
for (const [what, sent, seconds, wanted] of CASES) {
  const input = AllocateInput.parse({ ...sent, timeLimitS: seconds, gap: wanted });
  let begun = performance.now();
  greedyAllocation(fieldOf(input));
  const greedyMs = performance.now() - begun;
  begun = performance.now();
  const got = allocate(input, solver);
  const took = (performance.now() - begun) / 1000;
  const pairs = input.projects.reduce((s, p) => s + p.eligible.length, 0);
  console.log(
    `${what} (${pairs} pairs): ${took.toFixed(1)} s of ${seconds}, gap ${got.gap === null ? 'not known' : `${(100 * got.gap).toFixed(3)} %`} of ${100 * wanted} %; worth ${got.objective.toFixed(0)}, limit ${got.bound.toFixed(0)}, greedy ${got.greedyObjective.toFixed(0)} in ${greedyMs.toFixed(0)} ms`,
  );
}
const r = seeded(4);
const nights = Array.from({ length: 400 }, () => ({ minutes: 200 + Math.floor(280 * r.next()) }));
for (const needMinutes of [3000, 12_000, 60_000]) {
  forecast({ needMinutes, nights, clearFraction: 0.4, meanClearNights: 3 });
  const begun = performance.now();
  forecast({ needMinutes, nights, clearFraction: 0.4, meanClearNights: 3 });
  console.log(
    `forecast over 400 nights, ${needMinutes} min wanted: ${(performance.now() - begun).toFixed(0)} ms of 50`,
  );
}

// what drawing an object onto another hour does, at once
{
  const input = AllocateInput.parse({ ...clubOf(60, 3, 8, 25), timeLimitS: 1, gap: 1 });
  const given = greedyAllocation(fieldOf(input));
  const minutes = (project: number) => input.slots.reduce((s, x, i) => s + (given[i] === project ? x.minutes : 0), 0);
  const board = {
    settings: { switchPenalty: 15, clearFraction: 0.5, minimumBlockSlots: 1 },
    locked: [],
    promised: [],
    slots: input.slots.map((s, i) => ({ ...s, rigId: s.rig, projectId: input.projects[given[i]!]?.id ?? null })),
    projects: input.projects.map((p, i) => ({
      projectId: p.id,
      memberId: p.member,
      weight: p.weight,
      wantedMinutes: p.needMinutes,
      promisedMinutes: 0,
      minutes: minutes(i),
      eligible: p.eligible,
    })),
    members: [...new Set(input.projects.map((p) => p.member))].map((memberId) => ({ memberId, most: null })),
  } as unknown as Board;
  const times = input.projects
    .flatMap((p) => p.eligible.slice(0, 4).map((e) => ({ slot: e.slot, project: p.id })))
    .map((wish) => {
      const begun = performance.now();
      atOnce(board, wish);
      return performance.now() - begun;
    })
    .sort((a, b) => a - b);
  console.log(
    `drawn onto another hour, 60 × 3 × 8: median ${times[Math.floor(times.length / 2)]!.toFixed(0)} ms, worst ${times.at(-1)!.toFixed(0)} ms of 100`,
  );
}
