<script setup lang="ts">
import { FLAT_LEVEL, twilightFlats, twilightMag, type TwilightTurn } from '@keen/core/calibration';
import { filterLight, surfaceElectrons } from '@keen/core/exposure';
import { figure } from '@keen/core/quantities';
import { filtersOf } from '@keen/core/rig';
import { computed } from 'vue';
import { z } from 'zod';
import FilterTile from '../../common/FilterTile.vue';
import { valueOrNull } from '../../common/outcome.ts';
import QuantityInput from '../../common/QuantityInput.vue';
import { coreSite } from '../../common/records.ts';
import { useStored } from '../../common/stored.ts';
import { clock, dayName } from '../../common/times.ts';
import { useClub } from '../../stores/club.ts';

const Criteria = z.object({
  count: z.number().default(20),
  shortestS: z.number().default(1),
  longestS: z.number().default(20),
  betweenS: z.number().default(8),
  brighterMag: z.number().default(0),
});
/** When each filter’s flats are taken at dusk and at dawn, and how long each is. */
const club = useClub();
const criteria = useStored('keen.flats.twilight', Criteria, Criteria.parse({}));
const set = (key: keyof typeof criteria.value, v: number | null) =>
  v !== null && (criteria.value = { ...criteria.value, [key]: v });
const zone = computed(() => club.site?.timeZone ?? 'UTC');
/** Altitude of the Sun at which the twilight’s light is told [°]. */
const AT_DEG = -6;
const filters = computed(() => {
  const setup = club.rig?.setup;
  if (!setup) return [];
  return filtersOf(setup).map((filter) => {
    const light = filterLight(setup, filter);
    const perS = surfaceElectrons(light.instrument, twilightMag(AT_DEG)) * 10 ** (0.4 * criteria.value.brighterMag);
    return {
      filter,
      perS,
      atSunDeg: AT_DEG,
      wanted: FLAT_LEVEL.wanted * light.fullWellE,
      assumed: light.assumed.length > 0,
    };
  });
});
const plan = (when: 'dusk' | 'dawn'): TwilightTurn[] => {
  const { site } = club;
  if (!site || !filters.value.length) return [];
  const { count, shortestS, longestS, betweenS } = criteria.value;
  return (
    valueOrNull(() =>
      twilightFlats({
        site: coreSite(site),
        date: club.night,
        when,
        filters: filters.value,
        count,
        shortestS,
        longestS,
        betweenS,
      }),
    ) ?? []
  );
};
const plans = computed(() => [
  { when: 'At dusk', turns: plan('dusk') },
  { when: 'At dawn', turns: plan('dawn') },
]);
const short = (turns: readonly TwilightTurn[]) =>
  turns.filter((t) => t.frames < criteria.value.count).map((t) => t.filter);
/** Whether a turn can no longer begin: the sky has gone on without it. */
const passed = (t: TwilightTurn) => t.startMs !== null && club.nightNow !== null && t.startMs < club.nightNow;
const over = (turns: readonly TwilightTurn[]) =>
  turns.some(passed) && turns.every((t) => t.startMs === null || passed(t));
const FIELDS = [
  ['count', 'Flats by filter', '', 1, 200, 0],
  ['shortestS', 'Shortest', 's', 0.001, 60, 2],
  ['longestS', 'Longest', 's', 0.1, 300, 1],
  ['betweenS', 'Between two', 's', 0, 120, 0],
  ['brighterMag', 'Sky brighter than reckoned by', 'mag', -4, 4, 1],
] as const;
</script>

<template>
  <section class="panel stack" data-test="flats-twilight">
    <h2>Flats in twilight, night of {{ dayName(club.night) }}</h2>
    <div class="row fields">
      <QuantityInput
        v-for="[key, label, unit, min, max, decimals] in FIELDS"
        :key="key"
        :model-value="criteria[key]"
        dimension="number"
        :unit="unit"
        :label="label"
        :min="min"
        :max="max"
        :decimals="decimals"
        width="150px"
        @update:model-value="set(key, $event)"
      />
    </div>
    <div class="split two">
      <div v-for="p in plans" :key="p.when" class="stack">
        <p v-if="over(p.turns)" class="muted"><strong>{{ p.when }}</strong>: this night’s has passed.</p>
        <p v-else-if="p.turns.length" :class="short(p.turns).length ? 'level-caution' : 'level-good'">
          <strong>{{ p.when }}</strong
          >{{
            short(p.turns).length ? `: too little time for ${short(p.turns).join(', ')}.` : ': there is time for all.'
          }}
        </p>
        <table v-if="p.turns.length" class="figures">
          <thead>
            <tr>
              <th>Filter</th>
              <th>Begin</th>
              <th class="num">Sun</th>
              <th class="num">Flats</th>
              <th class="num">Exposures</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="t in p.turns" :key="t.filter" :class="{ muted: passed(t) }">
              <td><FilterTile :name="t.filter" /></td>
              <td class="mono">
                {{ t.startMs === null ? '–' : clock(t.startMs, zone) }}{{ passed(t) ? ' passed' : '' }}
              </td>
              <td class="num">{{ t.sunDeg === null ? '–' : `${figure(t.sunDeg, 1)}°` }}</td>
              <td class="num">{{ t.frames }}</td>
              <td class="num">{{ t.firstS === null ? '–' : `${figure(t.firstS, 1)} to ${figure(t.lastS!, 1)} s` }}</td>
            </tr>
          </tbody>
        </table>
      </div>
    </div>
    <p class="muted small">
      A clear sky overhead, its brightness from almanac tables (good to about a magnitude), light from this rig’s optics
      and camera<template v-if="filters.some((f) => f.assumed)"> (some of it assumed: see Exposures)</template>. Were
      your flats fuller or emptier than {{ figure(100 * FLAT_LEVEL.wanted, 0) }} %? Change the sky until the exposures
      agree. Never point near the Sun: the opposite side of the sky, a little from overhead.
    </p>
  </section>
</template>

<style scoped>
.fields {
  align-items: start;
}
.two {
  grid-template-columns: minmax(0, 1fr) minmax(0, 1fr);
}
@media (max-width: 900px) {
  .two {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
