import { parseInput, type Verdict } from '@keen/core/calculation';
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
  unsaidPhrase,
  type infer,
} from '@keen/core/balance';
import { makeVerdict, phrase, type Phrase } from '@keen/core/phrases';
import type { RigSetup } from '@keen/core/rig';
import { computed, ref, shallowRef, watch, type Ref } from 'vue';
import { problemText } from '../../common/outcome.ts';
import { calculate, plainCopy } from '../../workers/index.ts';
import { latestOnly } from '../../common/latestOnly.ts';

/** What a spring scale and a ruler are good for together; common practice, no source [kg·mm]. */
const SCALE_KG_MM = 30;

/** A rig's balance as it stands, and the moves that mend it, worked out anew with every change of the draft. */
export function useBalance(
  setup: Readonly<Ref<RigSetup | null>>,
  latitudeDeg: Readonly<Ref<number>>,
  /** What the spring scale says of the same rig; null without readings. */
  measured: Readonly<Ref<ReturnType<typeof infer> | null>>,
) {
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
  const ask = latestOnly();
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
  /** Where the scale and the parts say different things of one component, by more than a scale is good for. */
  const disagrees = computed(() => {
    const [m, a] = [measured.value?.momentKgMm, assessed.value?.momentKgMm];
    if (!m || !a) return null;
    const off = (['z', 'y', 'x'] as const)
      .flatMap((k) => (m[k] === undefined ? [] : [{ k, scale: m[k], parts: a[k] }]))
      .sort((p, q) => Math.abs(q.scale - q.parts) - Math.abs(p.scale - p.parts))[0];
    return off && Math.abs(off.scale - off.parts) > SCALE_KG_MM ? off : null;
  });
  /** Friction that the scale found holds whatever the parts add up to: then no move is worth asking for. */
  const held = computed(() => {
    const [f, a] = [measured.value?.frictionNm, assessed.value];
    if (!f || !a || disagrees.value || balanced.value || f.dec === undefined || f.ra === undefined) return null;
    const raNm =
      (STANDARD_GRAVITY * Math.abs(Math.cos((latitudeDeg.value * Math.PI) / 180)) * Math.abs(a.momentKgMm.x)) / 1000;
    return a.decTorqueMaxNm < f.dec && raNm < f.ra ? { decNm: f.dec, raNm: f.ra } : null;
  });
  const verdict = computed<Verdict>(() => {
    const d = disagrees.value;
    if (d)
      return makeVerdict(
        'caution',
        phrase('balance.scale-disagrees', {
          part: [phrase(`infer.${d.k}`, { momentKgCm: d.scale / 10 })],
          partsKgCm: d.parts / 10,
        }),
      );
    if (held.value) return makeVerdict('good', phrase('balance.held', held.value));
    const s = solution.value;
    const a = assessed.value;
    if (!s || !a)
      return solveTrouble.value
        ? { level: 'caution' as const, text: solveTrouble.value }
        : makeVerdict('caution', phrase('balance.solving'));
    if (balanced.value) return makeVerdict('good', phrase('balance.even'), phrase('balance.nothing-to-move'));
    const now = heaviness(a.momentKgMm);
    if (s.feasible)
      return makeVerdict(
        'caution',
        now,
        s.steps.length === 1 ? phrase('balance.one-move') : phrase('balance.moves', { n: s.steps.length }),
      );
    return makeVerdict('bad', now, (s.obstaclePhrases[0] as Phrase | undefined) ?? phrase('balance.no-cure'));
  });
  const notes = computed<Phrase[]>(() => {
    const s = solution.value;
    const a = assessed.value;
    if (!s || !a || !setup.value) return [];
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
    const doubts = [assumptionPhrase(plainCopy(setup.value)), unsaidPhrase(setup.value)].filter((p) => p !== null);
    return [...(balanced.value || held.value ? [] : [after]), ...load, ...doubts];
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
  return { assessed, solution, balanced, held, disagrees, verdict, notes, after, moments };
}
