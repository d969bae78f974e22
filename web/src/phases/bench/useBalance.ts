import { parseInput, type Verdict } from '@keen/core';
import {
  assess,
  AssessInput,
  assessInputOf,
  FEASIBLE_NM,
  solveInputOf,
  STANDARD_GRAVITY,
  type SolveOutput,
  heaviness,
  assumptionPhrase,
} from '@keen/core/balance';
import { judge, phrase, type Phrase } from '@keen/core/phrases';
import type { RigSetup } from '@keen/core/rig';
import { computed, ref, shallowRef, watch, type Ref } from 'vue';
import { useUnits } from '../../stores/units.ts';
import { problemText } from '../../common/outcome.ts';
import { calculate, plainCopy } from '../../workers/index.ts';
import { lateness } from '../../common/late.ts';

/** A rig's balance as it stands, and the moves that mend it, worked out anew with every change of the draft. */
export function useBalance(setup: Readonly<Ref<RigSetup | null>>, latitudeDeg: Readonly<Ref<number>>) {
  const units = useUnits();
  const assessed = computed(() => {
    if (!setup.value) return null;
    try {
      return assess(parseInput(AssessInput, assessInputOf(setup.value, latitudeDeg.value)));
    } catch {
      return null;
    }
  });

  const solution = shallowRef<SolveOutput | null>(null);
  const solveTrouble = ref('');
  const ask = lateness();
  watch(
    () => (setup.value ? JSON.stringify(solveInputOf(setup.value, latitudeDeg.value)) : ''),
    async (text) => {
      const late = ask();
      if (!text) return;
      const got = await calculate('balance.solve', JSON.parse(text));
      if (late()) return;
      solution.value = got.ok ? got.value : null;
      solveTrouble.value = got.ok ? '' : problemText(got.problem);
    },
    { immediate: true },
  );

  /** As it stands, below the limit on both axes: the last half millimetre is not worth a move. */
  const balanced = computed(() => {
    const [a, s] = [assessed.value, setup.value];
    if (!a || !s) return false;
    const perKgMm = (STANDARD_GRAVITY * Math.abs(Math.cos((latitudeDeg.value * Math.PI) / 180))) / 1000;
    const wanted = s.biasNm && perKgMm > 0 ? s.biasNm / perKgMm : 0;
    return a.decTorqueMaxNm < FEASIBLE_NM && perKgMm * Math.abs(a.momentKgMm.x - wanted) < FEASIBLE_NM;
  });
  const verdict = computed<Verdict>(() => {
    const s = solution.value;
    const a = assessed.value;
    if (!s || !a) return { level: 'caution' as const, text: solveTrouble.value || 'Working it out …' };
    if (balanced.value) return judge('good', phrase('balance.even'), phrase('balance.nothing-to-move'));
    const now = heaviness(a.momentKgMm);
    if (s.feasible)
      return judge(
        'caution',
        now,
        s.steps.length === 1 ? phrase('balance.one-move') : phrase('balance.moves', { n: s.steps.length }),
      );
    return judge('bad', now, (s.obstaclePhrases[0] as Phrase | undefined) ?? phrase('balance.no-cure'));
  });
  const detail = computed(() => {
    const s = solution.value;
    const a = assessed.value;
    if (!s || !a || !setup.value) return '';
    const load =
      a.loadFraction === undefined
        ? []
        : [
            phrase('balance.load-of', {
              massKg: a.tubeMassKg,
              ratedKg: setup.value.mount.ratedLoadKg,
              loadPercent: Math.round(a.loadFraction * 100),
            }),
          ];
    const after = phrase('balance.after', { decNm: s.residual.decTorqueNm, raNm: s.residual.raTorqueNm });
    const assumed = assumptionPhrase(plainCopy(setup.value));
    return units.say([...(balanced.value ? [] : [after]), ...load, ...(assumed ? [assumed] : [])]);
  });
  const after = computed(() => solution.value?.residual.momentKgMm ?? null);
  const moments = computed(() => {
    const m = assessed.value?.momentKgMm;
    if (!m) return [];
    return [
      { name: 'fore and aft', now: m.z, after: after.value?.z },
      { name: 'sideways', now: m.y, after: after.value?.y },
      { name: 'tube to weights', now: m.x, after: after.value?.x },
    ];
  });
  return { assessed, solution, balanced, verdict, detail, after, moments };
}
