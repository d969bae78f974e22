import { scaleArcsecPerPx } from '@keen/core/quantities';
import { questions } from '../../api/questions.ts';
import { useAnswer } from '../../common/answer.ts';
import {
  adviseFilter,
  filterLight,
  longFrame,
  sameDepth,
  type FilterAdvice,
  type FilterLight,
} from '@keen/core/exposure';
import { filtersOf } from '@keen/core/rig';
import { skyOver, type SkyOver } from '@keen/core/sky';
import { useLocalStorage } from '@vueuse/core';
import { computed, type Ref } from 'vue';
import type { RigDraft } from '../../common/useRigDraft.ts';
import { valueOrNull } from '../../common/outcome.ts';
import { useClub } from '../../stores/club.ts';
import { useSession } from '../../stores/session.ts';
import { plainCopy } from '../../workers/index.ts';
import { useNight } from './useNight.ts';

/** What is asked of the frames; the choice of one person at one browser. */
export interface Criteria {
  noiseIncreasePercent: number;
  brightestMag: number;
  fwhmArcsec: number;
  hours: number;
  underMoon: boolean;
  projectId: string;
}
const BEGIN: Criteria = {
  noiseIncreasePercent: 5,
  brightestMag: 11,
  fwhmArcsec: 3,
  hours: 10,
  underMoon: false,
  projectId: '',
};

export interface Row {
  light: FilterLight;
  advice: FilterAdvice;
  /** Exposure of the project's goal, where it has this filter. */
  /** The first goal of the filter, what depth is reckoned by, and the lengths of all. */
  goalS: number | null;
  goalsS: number[];
}

/** How long a frame should be through each filter of the chosen rig, under the site's sky and tonight's Moon. */
export function useExposures(draft: Readonly<Ref<RigDraft | null>>) {
  const club = useClub();
  const session = useSession();
  const { night, targets, picks } = useNight();
  const criteria = useLocalStorage<Criteria>(
    'keen.exposures',
    { ...BEGIN, noiseIncreasePercent: session.settings.noiseIncreasePercent },
    { mergeDefaults: true, writeDefaults: false },
  );
  const setup = computed(() => draft.value?.setup ?? club.rig?.setup ?? null);
  const project = computed(
    () =>
      [criteria.value.projectId, picks.value[0]?.id].flatMap((id) => club.rigProjects.filter((p) => p.id === id))[0] ??
      club.rigProjects[0] ??
      null,
  );
  const sky = computed<SkyOver | null>(() => {
    const [p, n, site] = [project.value, night.value, club.site];
    const t = p && targets.value.get(p.id);
    return t && n && site ? skyOver(t.track, t.windows, n.moon.phaseAngleDeg, site.skyMagArcsec2) : null;
  });
  /** The zenith of a dark night where no object says where to look. */
  const there = computed(() => {
    const dark = { skyMagArcsec2: club.site?.skyMagArcsec2 ?? 20, brighteningMag: 0 };
    if (!sky.value) return dark;
    return criteria.value.underMoon
      ? { skyMagArcsec2: sky.value.withMoonMag, brighteningMag: sky.value.brighteningMag }
      : { skyMagArcsec2: sky.value.darkMag, brighteningMag: 0 };
  });
  const rows = computed<Row[]>(() => {
    const s = setup.value && plainCopy(setup.value);
    if (!s) return [];
    const input = {
      noiseIncrease: criteria.value.noiseIncreasePercent / 100,
      brightestMag: criteria.value.brightestMag,
      fwhmArcsec: criteria.value.fwhmArcsec,
    };
    return filtersOf(s).flatMap((filter) => {
      const light = filterLight(s, filter);
      const advice = valueOrNull(() => adviseFilter(light, there.value, input));
      const goalsS = project.value?.goals.filter((g) => g.filter === filter).map((g) => g.exposureS) ?? [];
      return advice ? [{ light, advice, goalS: goalsS[0] ?? null, goalsS }] : [];
    });
  });
  const logs = useAnswer('The guide logs of this rig', () => (club.rig ? questions.guideLogs(club.rig.id) : null));
  /** The newest guided log of this system. */
  const log = computed(
    () =>
      logs.value.value?.find((l) => l.system === club.rig?.system.key && l.summary.polarErrorArcmin === undefined) ??
      null,
  );
  /** How long a frame this rig holds sharp, as far as it was measured. */
  const held = computed(() => {
    const s = setup.value;
    if (!s) return null;
    const summary = log.value?.summary;
    return longFrame({
      scaleArcsecPerPx: scaleArcsecPerPx(s.camera.pixelUm, s.focalLengthMm),
      fwhmArcsec: criteria.value.fwhmArcsec,
      flexureArcsecPerMin: s.offAxis ? null : (s.guideScope?.flexureArcsecPerMin ?? null),
      guided: summary
        ? {
            raArcsec: summary.rms.ra,
            decArcsec: summary.rms.dec,
            creepArcsecPerMin: Math.hypot(summary.driftArcsecPerMin.ra, summary.driftArcsecPerMin.dec),
            spanS: summary.spanS,
          }
        : null,
    });
  });
  return {
    logs,
    criteria,
    project,
    sky,
    there,
    rows,
    held,
    log,
    sameDepth,
    offAxis: computed(() => Boolean(setup.value?.offAxis)),
  };
}
