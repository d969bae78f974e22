import { fieldOfView } from '@keen/core/quantities';
import { guideViewOf } from '@keen/core/guiding';
import { filtersOf, shortSideArcmin } from '@keen/core/rig';
import { splitFilters } from '@keen/core/sequence';
import { ANYTHING, type NightOutput, type Suggestion, type TonightCriteria } from '@keen/core/sky';
import { useLocalStorage } from '@vueuse/core';
import { proxy } from 'comlink';
import { computed, ref, shallowRef, watch, type Ref } from 'vue';
import { latestOnly } from '../../common/latestOnly.ts';
import { coreSite } from '../../common/records.ts';
import { useClub } from '../../stores/club.ts';
import { useSession } from '../../stores/session.ts';
import { core, plainCopy } from '../../workers/index.ts';

/** How a star is guided on where nobody said otherwise; as for framing. */
const GUIDE = { exposureS: 2, snr: 20, fwhmArcsec: 3 };

/**
 * What of the whole catalogue stands well tonight for this field, of what is asked for.
 * @param due whether it is time: the screen's own night comes first
 */
export function useTonightScan(night: Readonly<Ref<NightOutput | null>>, due: Readonly<Ref<boolean>>) {
  const club = useClub();
  const session = useSession();
  const criteria = useLocalStorage<TonightCriteria>('keen.tonight', ANYTHING, { mergeDefaults: true });
  /** Only what has a star to guide on. */
  const guided = useLocalStorage('keen.tonight.guided', false);
  const filters = computed(() => splitFilters(club.rig ? filtersOf(club.rig.setup) : []));
  const changed = computed(() => guided.value || JSON.stringify(criteria.value) !== JSON.stringify(ANYTHING));
  const field = computed(() => {
    const s = club.rig?.setup;
    if (!s) return null;
    const { widthDeg, heightDeg } = fieldOfView(s.camera, s.focalLengthMm);
    return { w: 60 * widthDeg, h: 60 * heightDeg };
  });
  const view = computed(() => {
    const [setup, site] = [club.rig?.setup, club.site];
    return setup && site
      ? guideViewOf(plainCopy(setup), { skyMagArcsec2: site.skyMagArcsec2, fwhmArcsec: GUIDE.fwhmArcsec })
      : null;
  });
  const found = shallowRef<{ objects: Suggestion[]; matched: number; scanned: number; tookMs: number } | null>(null);
  const trouble = ref('');
  const ask = latestOnly();
  watch(
    // to the quarter of an hour: what is offered begins now, and a list that is gone through anew each minute is none
    () =>
      [
        club.site,
        club.night,
        club.rig ? shortSideArcmin(club.rig.setup) : null,
        night.value?.moon.illumination,
        JSON.stringify(criteria.value),
        club.nightNow === null ? null : Math.floor(club.nightNow / 900_000) * 900_000,
        due.value,
      ] as const,
    async ([site, date, short, moonlit, _criteria, fromMs, isDue]) => {
      const late = ask();
      if (!site || !date || !short || !isDue) return;
      try {
        const got = await core().tonight(
          {
            site: plainCopy(coreSite(site)),
            date,
            minimumAltitudeDeg: session.settings.lowestAltitudeDeg,
            darkness: 'astronomical',
            stepMin: 5,
            ...(fromMs === null ? {} : { fromMs }),
          },
          {
            shortSideArcmin: short,
            moonlit: moonlit ?? 0,
            skyMag: site.skyMagArcsec2,
            criteria: plainCopy(criteria.value),
          },
        );
        if (late()) return;
        found.value = got;
        trouble.value = '';
      } catch (e) {
        if (!late()) trouble.value = `The catalogue could not be gone through: ${(e as Error).message}`;
      }
    },
    { immediate: true },
  );
  /** By object, whether it has a guide star, as far as was looked. */
  const stars = shallowRef<ReadonlyMap<string, boolean>>(new Map());
  const looking = ref(false);
  const askStars = latestOnly();
  watch(
    [found, guided, view],
    async ([got, wanted, v]) => {
      const late = askStars();
      stars.value = new Map();
      looking.value = false;
      if (!got || !wanted || !v) return;
      looking.value = true;
      try {
        const places = got.objects.map(({ raDeg, decDeg }) => ({ raDeg, decDeg }));
        const has = await core().guidable(
          places,
          plainCopy(v),
          plainCopy(GUIDE),
          proxy(() => !late()),
        );
        if (late()) return;
        stars.value = new Map(got.objects.map((o, i) => [o.id, has[i] === true]));
      } catch (e) {
        if (!late()) trouble.value = `The stars could not be looked through: ${(e as Error).message}`;
      }
      if (!late()) looking.value = false;
    },
    { immediate: true },
  );
  const objects = computed(() => {
    const all = found.value?.objects ?? [];
    return guided.value && view.value && stars.value.size ? all.filter((o) => stars.value.get(o.id)) : all;
  });
  function reset() {
    criteria.value = { ...ANYTHING };
    guided.value = false;
  }
  return { criteria, guided, filters, changed, field, view, found, objects, looking, trouble, reset };
}
