import { stillWanted } from '@keen/core/record';
import type { RigSetup } from '@keen/core/rig';
import { parseInput } from '@keen/core/calculation';
import {
  coverageOf,
  cycleOf,
  ditherPlan,
  DitherPlanInput,
  meanMove,
  moveTimeS,
  pattern,
  positionsByFilter,
  spoiledShare,
  sync,
  SyncInput,
  type Cycle,
} from '@keen/core/dither';
import { scaleArcsecPerPx } from '@keen/core/quantities';
import { computed } from 'vue';
import { valueOrNull } from '../../common/outcome.ts';
import { useClub } from '../../stores/club.ts';
import { useDuskSettings } from './useDuskSettings.ts';

/** One cycle of both cameras, and what dithering without waiting would smear. */
export interface SharedCycle {
  found: ReturnType<typeof sync>;
  cycle: Cycle;
  spoiled: number;
}
/** Frames a project without open goals is reckoned with. */
const SOME_FRAMES = 40;

/** The dither of one rig: size in every camera, pattern, positions by filter, and the cycle two cameras share. */
export function useDither() {
  const club = useClub();
  const dusk = useDuskSettings();
  const criteria = computed(() => dusk.settings.dither);
  const second = computed(() => dusk.settings.second);
  const setup = computed<RigSetup | null>(() => club.rig?.setup ?? null);
  const guide = computed(() => {
    const s = setup.value;
    if (!s) return null;
    if (s.offAxis) return { focalLengthMm: s.focalLengthMm, pixelUm: s.offAxis.camera.pixelUm };
    return s.guideScope ? { focalLengthMm: s.guideScope.focalLengthMm, pixelUm: s.guideScope.pixelUm } : null;
  });
  const cameras = computed(() => {
    const s = setup.value;
    if (!s) return [];
    return [
      { name: 'main camera', focalLengthMm: s.focalLengthMm, pixelUm: s.camera.pixelUm },
      ...(second.value
        ? [
            {
              name: second.value.name.trim() || 'second camera',
              focalLengthMm: second.value.focalLengthMm,
              pixelUm: second.value.pixelUm,
            },
          ]
        : []),
    ];
  });
  const plan = computed(() => {
    if (!setup.value) return null;
    const w = criteria.value;
    return valueOrNull(() =>
      ditherPlan(
        parseInput(DitherPlanInput, {
          cameras: cameras.value,
          guide: guide.value ?? { focalLengthMm: setup.value!.focalLengthMm, pixelUm: setup.value!.camera.pixelUm },
          ditherPx: w.ditherPx,
          reference: w.reference,
          guideRate: dusk.settings.guider.guideRate,
          settlePx: w.settlePx,
          settleTimeS: w.settleTimeS,
        }),
      ),
    );
  });
  const project = computed(
    () =>
      club.projects.find(
        (p) =>
          p.id === club.nightPlans.find((q) => q.rigId === club.rig?.id && q.status === 'planned')?.legs[0]!.projectId,
      ) ??
      club.rigProjects[0] ??
      null,
  );
  /** Names of the filters, one for each frame still wanted. */
  const order = computed(() => {
    const open = project.value
      ? stillWanted(project.value).map((g) => ({ filter: g.filter, left: g.left || SOME_FRAMES }))
      : [{ filter: 'L', left: SOME_FRAMES }];
    const list: string[] = [];
    if (criteria.value.order === 'block') for (const g of open) for (let k = 0; k < g.left; k++) list.push(g.filter);
    else
      for (let k = 0; k < Math.max(...open.map((g) => g.left)); k++)
        for (const g of open) if (k < g.left) list.push(g.filter);
    return list;
  });
  const byFilter = computed(() => positionsByFilter(order.value, criteria.value.everyFrames || 'round'));
  const places = computed(() => {
    const most = Math.max(1, ...byFilter.value.map((f) => f.positions));
    return pattern(criteria.value.pattern, Math.min(400, most), plan.value?.amplitudeArcsec ?? 1);
  });
  /** Moving by the pattern’s own mean move, then settling: a pattern that fills a disk evenly jumps farther than one step. */
  const movesS = computed(() =>
    moveTimeS(meanMove(places.value) || (plan.value?.amplitudeArcsec ?? 0), dusk.settings.guider.guideRate),
  );
  const takesS = computed(() => movesS.value + criteria.value.settleTimeS);
  const coverage = computed(() =>
    cameras.value.map((c) => ({
      name: c.name,
      ...coverageOf(places.value, scaleArcsecPerPx(c.pixelUm, c.focalLengthMm)),
    })),
  );
  const filtersARound = computed(() => Math.max(1, new Set(order.value).size));
  const syncInput = computed(() => {
    const [s, other] = [setup.value, second.value];
    if (!s || !other || !plan.value) return null;
    return valueOrNull(() =>
      parseInput(SyncInput, {
        lead: {
          exposureS: criteria.value.leadExposureS,
          downloadS: s.overheads.downloadS,
          framesPerDither: criteria.value.everyFrames || filtersARound.value,
        },
        follower: { exposureS: other.exposureS, downloadS: other.downloadS, weight: other.weight },
        ditherSettleS: takesS.value,
      }),
    );
  });
  const shared = computed<SharedCycle | null>(() => {
    const input = syncInput.value;
    if (!input) return null;
    const found = sync(input);
    return { found, cycle: cycleOf(input, found.followerFrames, found.cycleS), spoiled: spoiledShare(input) };
  });
  return {
    criteria,
    setup,
    guide,
    cameras,
    plan,
    project,
    byFilter,
    places,
    movesS,
    takesS,
    coverage,
    shared,
    filtersARound,
  };
}
