import { parseInput, type Verdict } from '@keen/core';
import {
  assess,
  AssessInput,
  assessInputOf,
  FEASIBLE_NM,
  solveInputOf,
  STANDARD_GRAVITY,
  type SolveOutput,
} from '@keen/core/balance';
import { figure } from '@keen/core/quantities';
import type { RigSetup } from '@keen/core/rig';
import { computed, ref, shallowRef, watch, type Ref } from 'vue';
import { core } from '../../workers/index.ts';

/** A rig's balance as it stands, and the moves that mend it, worked out anew with every change of the draft. */
export function useBalance(setup: Readonly<Ref<RigSetup | null>>, latitudeDeg: Readonly<Ref<number>>) {
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
  let turn = 0;
  watch(
    () => (setup.value ? JSON.stringify(solveInputOf(setup.value, latitudeDeg.value)) : ''),
    async (text) => {
      if (!text) return;
      const mine = ++turn;
      const got = await core().solve(JSON.parse(text));
      if (mine !== turn) return;
      solution.value = got.ok ? got.value : null;
      solveTrouble.value = got.ok ? '' : got.message;
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
    if (balanced.value) return { level: 'good' as const, text: 'In balance on every axis. Nothing to move.' };
    const now = a.verdict.text.split('.').slice(0, 1).join('');
    return s.feasible
      ? {
          level: 'caution' as const,
          text: `${a.verdict.text.replace(/\. Load.*$/, '.')} ${s.steps.length === 1 ? 'One move cures it.' : `${s.steps.length} moves cure it.`}`,
        }
      : { level: 'bad' as const, text: `${now}. ${s.obstacles[0] ?? 'No arrangement of what is at hand cures it.'}` };
  });
  const detail = computed(() => {
    const s = solution.value;
    const a = assessed.value;
    if (!s || !a || !setup.value) return '';
    const load =
      a.loadFraction === undefined
        ? ''
        : `Load ${figure(a.tubeMassKg, 1)} of ${setup.value.mount.ratedLoadKg} kg rated (${Math.round(a.loadFraction * 100)} %).`;
    return balanced.value
      ? load
      : `After the moves: ${figure(s.residual.decTorqueNm, 2)} N·m in declination, ${figure(s.residual.raTorqueNm, 2)} N·m in right ascension. ${load}`;
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
