import { parseInput, type SpokenVerdict } from '@keen/core/calculation';
import type { RigSetup } from '@keen/core/rig';
import {
  filterShiftMm,
  guidePath,
  GuidePathInput,
  guidePathInputOf,
  stretchOf,
  offAxisSigns,
  PrismInput,
  prismInputOf,
  type PrismOutput,
} from '@keen/core/train';
import { computed, ref, shallowRef, watch, type Ref } from 'vue';
import { valueOrNull } from '../../common/outcome.ts';
import { calculate, plainCopy } from '../../workers/index.ts';
import { makeVerdict, type Phrase } from '@keen/core/phrases';
import { latestOnly } from '../../common/latestOnly.ts';

const RANK = { good: 0, caution: 1, bad: 2 } as const;

/** The off-axis guider of an edited rig: its shadow (worked out in the worker), its paths, and what they explain. */
export function useOffAxis(setup: Readonly<Ref<RigSetup | null>>) {
  /** Where the exit pupil is taken to be: far away, or at the objective itself. */
  const pupil = ref<'far' | 'objective'>('objective');
  const guider = computed(() => setup.value?.offAxis ?? null);
  const path = computed(() => {
    const input = setup.value ? guidePathInputOf(plainCopy(setup.value)) : null;
    return input ? valueOrNull(() => guidePath(parseInput(GuidePathInput, input))) : null;
  });
  const prismInput = computed(() => {
    const input = setup.value ? prismInputOf(plainCopy(setup.value), pupil.value) : null;
    return input ? valueOrNull(() => parseInput(PrismInput, input)) : null;
  });
  const found = shallowRef<PrismOutput | null>(null);
  const ask = latestOnly();
  watch(
    prismInput,
    async (input) => {
      const late = ask();
      if (!input) {
        found.value = null;
        return;
      }
      const got = await calculate('train.prism', plainCopy(input));
      if (!late()) found.value = got.ok ? got.value : null;
    },
    { immediate: true },
  );
  /** The worse of shadow and path first, the other beside it; both in one sentence when all is well. */
  const told = computed<{ verdict: SpokenVerdict; notes: Phrase[] } | null>(() => {
    const [p, f] = [path.value?.verdict, found.value?.verdict];
    if (!p || !f) return null;
    const [first, second] = RANK[f.level] >= RANK[p.level] ? [f, p] : [p, f];
    return first.level === 'good'
      ? { verdict: makeVerdict('good', ...f.phrases, ...p.phrases), notes: [] }
      : { verdict: first, notes: second.phrases };
  });
  const signs = computed(() =>
    found.value && path.value && guider.value
      ? offAxisSigns(found.value, guider.value.prism.innerEdgeMm, path.value)
      : [],
  );
  /** Filters of unlike thickness move the main focus only: what the guide camera would need to follow. */
  const otherGlassMm = ref<number | null>(1);
  const filterShift = computed(() =>
    setup.value && otherGlassMm.value !== null ? filterShiftMm(setup.value, otherGlassMm.value) : null,
  );

  /** A common guider to begin with, and a piece of the train that is its body. */
  function begin(): void {
    const s = setup.value!;
    if (!s.train.some((p) => p.guider)) {
      const { before, counted } = stretchOf(s.train);
      const at = before.length + Math.max(0, counted.length - 2);
      s.train.splice(at, 0, { name: 'off-axis guider body', lengthMm: 20, guider: true });
    }
    s.offAxis = {
      prism: { widthMm: 8, depthMm: 8, angleDeg: 90, innerEdgeMm: 12, glassMm: 0 },
      behindPrismMm: 10,
      holderMm: 22,
      spacersMm: 0,
      focuserMinMm: 0,
      focuserMaxMm: 6,
      cameraDepthMm: 12.5,
      camera: { pixelUm: 2.9, widthPx: 1936, heightPx: 1096 },
    };
  }
  function place(innerEdgeMm: number, angleDeg: number): void {
    guider.value!.prism.innerEdgeMm = innerEdgeMm;
    guider.value!.prism.angleDeg = angleDeg;
  }
  function moveOut(): void {
    if (found.value) place(Math.ceil(found.value.clearInnerEdgeMm * 10 + 0.5) / 10, guider.value!.prism.angleDeg);
  }
  /** What to add to the guide side, or to take away, so that the focuser stands in the middle of its travel [mm]. */
  const guideSideMm = computed(() => {
    const [g, p] = [guider.value, path.value];
    if (!g || !p || p.reachable) return 0;
    const half = (g.focuserMaxMm - g.focuserMinMm) / 2;
    const wanted = g.spacersMm + p.shortfallMm + Math.sign(p.shortfallMm) * half;
    // to a tenth, but into the reach and not just short of it
    const into = p.shortfallMm < 0 ? Math.floor : Math.ceil;
    return Math.max(0, into(wanted * 10) / 10) - g.spacersMm;
  });
  function fillGuideSide(): void {
    guider.value!.spacersMm += guideSideMm.value;
  }
  return {
    pupil,
    guider,
    path,
    prismInput,
    found,
    told,
    signs,
    otherGlassMm,
    filterShift,
    begin,
    place,
    moveOut,
    guideSideMm,
    fillGuideSide,
  };
}
