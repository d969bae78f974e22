import { makeVerdict, phrase } from '@keen/core/phrases';
import { parseInput, type Verdict } from '@keen/core/calculation';
import {
  answerOf,
  budget,
  BudgetInput,
  calibration,
  CalibrationInput,
  calibrationPlace,
  exposureFor,
  guideViewOf,
  limit,
  longerWayPx,
} from '@keen/core/guiding';
import { computed, ref } from 'vue';
import { valueOrNull } from '../../common/outcome.ts';
import { useClub } from '../../stores/club.ts';
import { plainCopy } from '../../workers/index.ts';
import { coreSite } from '../../common/records.ts';
import { useDuskSettings } from './useDuskSettings.ts';

/** The guider of a rig tonight: exposure for its star, calibration, what to expect, and whether the star answers. */
export function useGuider() {
  const club = useClub();
  const dusk = useDuskSettings();
  const criteria = computed(() => dusk.settings.guider);
  const side = ref<'east' | 'west'>('east');
  const zone = computed(() => club.site?.timeZone ?? 'UTC');
  /** Stars pinned with the framings of this rig, tonight's plan first. */
  const pinned = computed(() => {
    const planned = new Set(club.nightPlans.flatMap((p) => p.legs.map((l) => l.projectId)));
    return club.rigProjects
      .filter((p) => p.framing?.star)
      .sort((a, b) => Number(planned.has(b.id)) - Number(planned.has(a.id)));
  });
  const starId = ref('');
  const pinnedStar = computed(() =>
    starId.value === 'typed' ? null : (pinned.value.find((p) => p.id === starId.value) ?? pinned.value[0] ?? null),
  );
  const mag = computed(() => pinnedStar.value?.framing?.star?.mag ?? criteria.value.mag);
  const view = computed(() =>
    club.rig && club.site
      ? guideViewOf(plainCopy(club.rig.setup), {
          skyMagArcsec2: club.site.skyMagArcsec2,
          fwhmArcsec: criteria.value.fwhmArcsec,
        })
      : null,
  );
  const best = computed(() =>
    view.value ? exposureFor(view.value.optics, mag.value, criteria.value.snr, view.value.fullWellE) : null,
  );
  const exposureS = computed(() => criteria.value.exposureS || best.value?.exposureS || 2);
  const limits = computed(() =>
    view.value ? limit({ ...view.value.optics, exposureS: exposureS.value, snr: criteria.value.snr }) : null,
  );
  const now = computed(() => new Date(club.now).toISOString());
  /** Tonight at nautical dusk, unless it is dark already. */
  const place = computed(() => (club.site ? calibrationPlace(coreSite(club.site), now.value, side.value) : null));
  const steps = computed(() =>
    view.value && place.value
      ? valueOrNull(() =>
          calibration(
            parseInput(CalibrationInput, {
              focalLengthMm: view.value!.optics.focalLengthMm,
              pixelUm: view.value!.optics.pixelUm,
              binning: criteria.value.binning,
              guideRate: criteria.value.guideRate,
              decDeg: place.value!.decDeg,
              ...(criteria.value.travelPx === null ? {} : { travelPx: criteria.value.travelPx }),
              angleErrorDeg: criteria.value.angleErrorDeg,
              centroidNoisePx: criteria.value.centroidNoisePx,
              steps: criteria.value.steps,
            }),
          ),
        )
      : null,
  );
  const shortWay = computed(() => (steps.value ? longerWayPx(steps.value, criteria.value.fwhmArcsec) : null));
  const expected = computed(() => {
    const [v, s] = [view.value, club.rig?.setup];
    if (!v || !s) return null;
    return valueOrNull(() =>
      budget(
        parseInput(BudgetInput, {
          imaging: { focalLengthMm: s.focalLengthMm, pixelUm: s.camera.pixelUm },
          guide: { focalLengthMm: v.optics.focalLengthMm, pixelUm: v.optics.pixelUm },
          offAxis: v.kind === 'off-axis',
          flexureArcsecPerMin: s.guideScope?.flexureArcsecPerMin ?? 0,
          exposureS: criteria.value.frameS,
          seeingArcsec: criteria.value.seeingArcsec,
          rmsArcsec: criteria.value.rmsArcsec,
        }),
      ),
    );
  });
  const moved = ref<number | null>(null);
  const testPulse = ref(3000);
  const answer = computed(() =>
    steps.value ? answerOf(testPulse.value, criteria.value.guideRate, steps.value.scaleArcsecPerPx, moved.value) : null,
  );
  const verdict = computed<Verdict | null>(() => {
    const [b, s, p] = [best.value, steps.value, place.value];
    if (!b || !s || !p) return null;
    if (b.saturated) return makeVerdict('bad', phrase('guider.star-full', { mag: mag.value, exposureS: b.exposureS }));
    if (!b.enough)
      return makeVerdict(
        'bad',
        phrase('guider.star-faint', {
          mag: mag.value,
          snr: b.snr,
          exposureS: b.exposureS,
          wantedSnr: criteria.value.snr,
        }),
      );
    const way = shortWay.value;
    return makeVerdict(
      p.good && way === null ? s.verdict.level : 'caution',
      phrase('guider.expose', { exposureS: b.exposureS, snr: b.snr, mag: mag.value }),
      phrase(p.good ? 'guider.calibrate-equator' : 'guider.calibrate-low', {
        pulseMs: Math.round(s.pulseMs / 10) * 10,
      }),
      ...(way === null ? [] : [phrase('guider.way-short', { travelArcsec: s.travelArcsec, wayPx: way })]),
    );
  });
  return {
    criteria,
    side,
    zone,
    pinned,
    starId,
    pinnedStar,
    mag,
    view,
    best,
    exposureS,
    limits,
    now,
    place,
    steps,
    expected,
    shortWay,
    moved,
    testPulse,
    answer,
    verdict,
  };
}
