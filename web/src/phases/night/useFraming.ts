import { offAxisDeg } from '@keen/core/quantities';
import { legTargetInput } from '@keen/core/sequence';
import { api, type FramingFields, type ProjectRecord } from '@keen/contract';
import {
  afterFlip,
  frame,
  framingVerdict,
  guideViewOf,
  reachMm,
  ringOf,
  starsIn,
  windowPa,
  type Framed,
  type TurnMode,
} from '@keen/core/guiding';
import { isCrowded, panelsOf, target, turn, type CatalogueEntry, type Stars, separationDeg } from '@keen/core/sky';
import { sensorOf } from '@keen/core/train';
import { useLocalStorage } from '@vueuse/core';
import { computed, ref, shallowRef, watch, type ComputedRef } from 'vue';
import { call } from '../../api/client.ts';
import { useDraft } from '../../common/draft.ts';
import { useSaving } from '../../common/savedDraft.ts';
import { valueOrNull } from '../../common/outcome.ts';
import { coreSite } from '../../common/records.ts';
import { useClub } from '../../stores/club.ts';
import { core, plainCopy } from '../../workers/index.ts';
import { latestOnly } from '../../common/latestOnly.ts';

/** What a person moves on the chart. */
export interface FramingDraft {
  raDeg: number;
  decDeg: number;
  angleDeg: number;
  /** The guider's turn against the camera; 0 as it is bolted. */
  guiderDeg: number;
  columns: number;
  rows: number;
  overlap: number;
}
/** Stars are fetched a little beyond what is needed, so that small moves need no new ones. */
const SPARE_DEG = 0.3;
/** Faintest star asked for [mag]. */
const FAINTEST = 13.5;

const draftOf = (p: ProjectRecord, offsetDeg: number): FramingDraft => {
  const f = p.framing;
  return {
    raDeg: f?.raDeg ?? p.raDeg,
    decDeg: f?.decDeg ?? p.decDeg,
    angleDeg: f?.angleDeg ?? p.angleDeg,
    guiderDeg: f && f.windowPaDeg !== null ? turn(Math.round((f.windowPaDeg - f.angleDeg - offsetDeg) * 10) / 10) : 0,
    columns: f?.columns ?? 1,
    rows: f?.rows ?? 1,
    overlap: f?.overlap ?? 0.15,
  };
};

/** The framing of a project on its rig: stars, ring, window, and pinning it for later nights. */
export function useFraming(project: ComputedRef<ProjectRecord | null>) {
  const club = useClub();
  const setup = computed(() => club.rig?.setup ?? null);
  const criteria = useLocalStorage('keen.guide', { exposureS: 2, snr: 20, fwhmArcsec: 3 });
  const mode = ref<TurnMode>('camera');
  const view = computed(() =>
    setup.value && club.site
      ? guideViewOf(plainCopy(setup.value), {
          skyMagArcsec2: club.site.skyMagArcsec2,
          fwhmArcsec: criteria.value.fwhmArcsec,
        })
      : null,
  );
  const offsetDeg = computed(() => (view.value?.kind === 'off-axis' ? view.value.offsetDeg : 0));
  const kept = useDraft<FramingDraft>(
    () => `framing.${project.value?.id ?? ''}`,
    () => (project.value ? { value: draftOf(project.value, offsetDeg.value), version: project.value.version } : null),
  );
  const { draft } = kept;

  const sensorMm = computed(() => {
    const s = setup.value ? sensorOf(setup.value.camera) : { widthMm: 1, heightMm: 1 };
    return { width: s.widthMm, height: s.heightMm };
  });
  const panels = computed(() =>
    draft.value && setup.value
      ? panelsOf({
          raDeg: draft.value.raDeg,
          decDeg: draft.value.decDeg,
          angleDeg: draft.value.angleDeg,
          focalLengthMm: setup.value.focalLengthMm,
          sensorMm: sensorMm.value,
          columns: draft.value.columns,
          rows: draft.value.rows,
          overlap: draft.value.overlap,
        })
      : [],
  );
  /** From the centre to the farthest thing drawn [deg]. */
  const radiusDeg = computed(() => {
    if (!setup.value) return 1;
    const f = setup.value.focalLengthMm;
    const far = panels.value.reduce(
      (most, p) => Math.max(most, Math.hypot(p.acrossMm, p.upMm)),
      Math.hypot(sensorMm.value.width, sensorMm.value.height) / 2,
    );
    const centres = panels.value.reduce((most, p) => Math.max(most, Math.hypot(p.acrossMm, p.upMm)), 0);
    const half = Math.hypot(sensorMm.value.width, sensorMm.value.height) / 2;
    const window = view.value ? offAxisDeg(reachMm(view.value.window), view.value.window.focalLengthMm) : 0;
    return Math.max(offAxisDeg(Math.max(far, centres + half), f), offAxisDeg(centres, f) + window);
  });

  const stars = shallowRef<Stars | null>(null);
  const depthMag = ref(FAINTEST);
  /** Many cells of the catalogue are full here, so that fainter stars are missing from it. */
  const crowded = ref(false);
  const bytes = ref(0);
  const trouble = ref('');
  const nearby = shallowRef<CatalogueEntry[]>([]);
  let have: { ra: number; dec: number; radius: number } | null = null;
  const ask = latestOnly();
  watch(
    () => (draft.value ? [draft.value.raDeg, draft.value.decDeg, radiusDeg.value] : null),
    async (cap) => {
      const late = ask();
      if (!cap) return;
      const [ra, dec, radius] = cap as [number, number, number];
      const shift = have ? separationDeg({ raDeg: ra, decDeg: dec }, { raDeg: have.ra, decDeg: have.dec }) : Infinity;
      if (have && shift + radius <= have.radius) return;
      const wide = radius * 1.25 + SPARE_DEG;
      try {
        const [got, objects] = await Promise.all([
          core().stars({ raDeg: ra, decDeg: dec, radiusDeg: wide, faintestMag: FAINTEST }),
          core().objectsNear(ra, dec, radius * 1.2),
        ]);
        if (late()) return;
        have = { ra, dec, radius: wide };
        stars.value = got.stars;
        depthMag.value = Math.min(FAINTEST, got.depthMag);
        crowded.value = isCrowded(got.stars, { raDeg: ra, decDeg: dec }, radius);
        bytes.value = got.bytes;
        nearby.value = objects;
        trouble.value = '';
      } catch (e) {
        if (!late()) trouble.value = (e as Error).message;
      }
    },
    { immediate: true },
  );

  /** Worked through once for a place; while the camera turns at one place only lookups follow. */
  const framed = computed<Framed | null>(() => {
    if (!view.value || !stars.value || !panels.value.length || !draft.value) return null;
    return frame(view.value, criteria.value, stars.value, panels.value, draft.value.angleDeg);
  });
  const ring = computed(() =>
    framed.value && framed.value.view.kind === 'off-axis'
      ? ringOf(framed.value, mode.value, draft.value!.angleDeg)
      : [],
  );
  const judged = computed(() =>
    framed.value && draft.value
      ? framingVerdict(framed.value, mode.value, draft.value.angleDeg, draft.value.guiderDeg, ring.value)
      : null,
  );
  /** What the window sees on the other side of the meridian. */
  const flipped = computed(() =>
    framed.value && draft.value
      ? afterFlip(framed.value, mode.value, draft.value.angleDeg, draft.value.guiderDeg, ring.value)
      : null,
  );
  /** When the object crosses the meridian in hours it can be worked in, in the night looked at. */
  const crossing = computed(() => {
    const [p, site] = [project.value, club.site];
    if (!p || !site || !club.night) return null;
    return valueOrNull(
      () => target(legTargetInput(p, null, { site: plainCopy(coreSite(site)), date: club.night, panels: [] })).flip,
    );
  });
  /** The flip that is still to come: one that has passed is nobody’s concern any more. */
  const flipAt = computed(() =>
    crossing.value && Date.parse(crossing.value) > (club.nightNow ?? 0) ? crossing.value : null,
  );
  const chosenPanel = ref(0);
  watch(panels, (list) => chosenPanel.value >= list.length && (chosenPanel.value = 0));
  const candidates = computed(() =>
    framed.value
      ? starsIn(framed.value, Math.min(chosenPanel.value, panels.value.length - 1), draft.value!.guiderDeg)
      : [],
  );
  const windowPaDeg = computed(() =>
    view.value?.kind === 'off-axis' && draft.value
      ? windowPa(view.value, draft.value.angleDeg, draft.value.guiderDeg)
      : null,
  );

  /** A framing pinned before its stars are there would lose its guide star. */
  const ready = computed(() => !view.value || framed.value !== null || trouble.value !== '');
  function fields(): FramingFields {
    const d = draft.value!;
    const star = candidates.value.find((c) => c.usable);
    return {
      raDeg: d.raDeg,
      decDeg: d.decDeg,
      angleDeg: turn(d.angleDeg),
      windowPaDeg: windowPaDeg.value,
      columns: d.columns,
      rows: d.rows,
      overlap: d.overlap,
      star: star ? { raDeg: star.raDeg, decDeg: star.decDeg, mag: Math.round(star.mag * 1000) / 1000 } : null,
      guideExposureS: star ? criteria.value.exposureS : null,
    };
  }
  let sent: FramingFields | null = null;
  const saving = useSaving<ProjectRecord>(
    kept,
    (version) => call(api.pinFraming, { params: { id: project.value!.id }, body: { framing: sent, version } }),
    club.putProject,
    (p) => (p.framing ? `Framing pinned for every night of ${p.object}.` : 'Framing let go.'),
  );
  const pin = () => {
    sent = fields();
    return saving.save();
  };
  const unpin = () => {
    sent = null;
    return saving.save();
  };
  return {
    ...kept,
    saving,
    setup,
    view,
    criteria,
    mode,
    sensorMm,
    panels,
    radiusDeg,
    stars,
    depthMag,
    crowded,
    bytes,
    trouble,
    nearby,
    framed,
    ring,
    judged,
    flipped,
    flipAt,
    chosenPanel,
    candidates,
    windowPaDeg,
    ready,
    pin,
    unpin,
  };
}
export type UsedFraming = ReturnType<typeof useFraming>;
