import { define, InvalidInput, type Solver, type WorkingStep } from '../calculation/index.ts';
import { makeVerdict, phrase, words } from '../phrases/index.ts';
import { NOBODY, objectiveOf, maximumOf, Taken, type Allocation, type Field } from './field.ts';
import { greedyAllocation } from './greedy.ts';
import { demandLocks, lockInTheWay, runsHold } from './locks.ts';
import { programmeOf } from './programme.ts';
import { AllocateInput, AllocateOutput, type Given } from './schemas.ts';
import { standingAllocation } from './standing.ts';
import { whyNoMore } from './why.ts';

/** What a search found. */
export interface Found {
  field: Field;
  given: Allocation;
  objective: number;
  /** No allocation is worth more. */
  bound: number;
  gap: number | null;
  proven: boolean;
  greedy: Allocation;
  greedyObjective: number;
}
export type SearchProgress = (found: number, bound: number) => boolean;

/** Share of the best that is unproven; null where nothing of worth was found, and more may be possible. */
function gapOf(objective: number, bound: number): number | null {
  if (bound - objective <= 0) return 0;
  return objective === 0 ? null : (bound - objective) / Math.abs(objective);
}

/** The one of several that is worth most, the first of equals. */
function bestOf(f: Field, several: readonly (Allocation | null)[]): Allocation | null {
  let best: Allocation | null = null;
  for (const a of several) if (a && (!best || objectiveOf(f, a) > objectiveOf(f, best))) best = a;
  return best;
}

/**
 * The allocation that is worth most under all rules, as far as the time allows.
 * @param standing  what was given before: it is begun with, so that only what must change does, as far as the gap allows
 * @throws InvalidInput with the lock that contradicts a rule, or that no allocation can keep
 */
export function allocate(
  input: AllocateInput,
  solver: Solver,
  progress?: SearchProgress,
  standing: readonly Given[] = [],
): Found {
  const field = demandLocks(input);
  const greedy = greedyAllocation(field);
  const greedyObjective = objectiveOf(field, greedy);
  const { programme, columnsOf, allocationOf } = programmeOf(field);
  const stood = standingAllocation(field, standing);
  const begin = bestOf(
    field,
    [stood, greedy].filter((a) => a !== null && runsHold(field, a)),
  );
  const solved = solver.maximise(programme, {
    timeLimitS: input.timeLimitS,
    gap: input.gap,
    ...(begin ? { begin: columnsOf(begin) } : {}),
    ...(progress ? { progress } : {}),
  });
  if (solved.state === 'infeasible') {
    const at = lockInTheWay(field, solver);
    const lock = at === null ? null : input.locked[at]!;
    throw InvalidInput.at(
      at === null ? 'locked' : `locked.${at}`,
      lock
        ? `no allocation can keep the lock of “${lock.slot}” for “${lock.project}” beside those before it`
        : 'no allocation can keep all of the locks',
    );
  }
  // a search that was cut short may hold less than what it began with
  const best = bestOf(field, [solved.x ? allocationOf(solved.x) : null, begin]);
  if (!best)
    throw InvalidInput.at(
      'timeLimitS',
      `no allocation that keeps the locks was found in ${input.timeLimitS} s: give it longer, or lock less`,
    );
  // what stood is kept where nothing is known to be worth more than may be left unproven
  const keeps = stood !== null && begin === stood && (gapOf(objectiveOf(field, stood), solved.bound) ?? 1) <= input.gap;
  const given = keeps ? stood : best;
  const objective = objectiveOf(field, given);
  const bound = Math.max(objective, solved.bound);
  return {
    field,
    given,
    objective,
    bound,
    gap: gapOf(objective, bound),
    proven: solved.state === 'proven',
    greedy,
    greedyObjective,
  };
}

export const seasonAllocate = define({
  name: 'season.allocate',
  summary:
    'Which project has which hours of which night: the allocation that is worth most under all rules, and why nobody has more',
  sources: ['Mixed-integer programme, solved by HiGHS; common practice for greedy, no source'],
  input: AllocateInput,
  output: AllocateOutput,
  needsSolver: true,
  compute: (input, { solver, mostSeconds = Infinity }) => {
    if (!solver) throw new Error('no solver was handed in');
    const seconds = Math.min(input.timeLimitS, mostSeconds);
    const found = allocate({ ...input, timeLimitS: seconds }, solver);
    const { field, given, objective, bound, gap, greedyObjective } = found;
    const taken = new Taken(field, given);
    const slotsGiven = given.filter((p) => p !== NOBODY).length;
    const minutes = taken.byProject.reduce((a, b) => a + b, 0);
    const working: WorkingStep[] = [
      {
        label: 'Worth of what is given',
        formula: 'Σ weight·quality·minutes − price·changes',
        value: objective,
        unit: '',
      },
      { label: 'Proven limit', formula: 'no allocation is worth more', value: bound, unit: '' },
      { label: 'Best piece first', formula: 'the same sum', value: greedyObjective, unit: '' },
      { label: 'Slots given', formula: '', value: slotsGiven, unit: '' },
    ];
    const said = { slots: slotsGiven, of: given.length, minutes };
    const gain = objective - greedyObjective;
    const main =
      gain > 1e-6 ? phrase('season.allocated', { ...said, gain }) : phrase('season.allocated-as-greedy', said);
    const verdict = found.proven
      ? makeVerdict('good', main)
      : makeVerdict(
          'caution',
          main,
          gap === null
            ? phrase('season.cut-short-unknown', { seconds })
            : phrase('season.cut-short', { seconds, openPercent: 100 * gap }),
        );
    return {
      assignments: Array.from(given, (project, slot) => ({ project, slot }))
        .filter(({ project }) => project !== NOBODY)
        .map(({ project, slot }) => ({ slot: input.slots[slot]!.id, project: input.projects[project]!.id })),
      objective,
      bound,
      gap,
      perProject: Object.fromEntries(
        input.projects.map((p, i) => {
          const because = whyNoMore(field, given, i, taken);
          const has = taken.byProject[i]!;
          return [
            p.id,
            { minutes: has, shareOfNeed: p.needMinutes === 0 ? 1 : has / p.needMinutes, why: words(because), because },
          ];
        }),
      ),
      perMember: Object.fromEntries(
        [...new Set(field.memberOf)].map((m) => {
          const most = maximumOf(field, m);
          return [m, { minutes: taken.ofMember(m), maxMinutes: most === Infinity ? null : most }];
        }),
      ),
      greedyObjective,
      working,
      verdict,
    };
  },
});
