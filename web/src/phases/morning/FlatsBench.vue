<script setup lang="ts">
import { FLAT_LEVEL, panelExposure, readFlats, type FlatsReading, type TakenFlat } from '@keen/core/calibration';
import { figure } from '@keen/core/quantities';
import { useLocalStorage } from '@vueuse/core';
import { computed, ref, shallowRef } from 'vue';
import FilterTile from '../../common/FilterTile.vue';
import QuantityInput from '../../common/QuantityInput.vue';
import { useUnits } from '../../stores/units.ts';
import { lookAtFiles } from '../../workers/looking.ts';
import DropFolder from './DropFolder.vue';

/** Flats from a panel: the exposure from one test flat, and whether those that were taken are well exposed and straight. */
const units = useUnits();
const panel = useLocalStorage('keen.flats.panel', {
  level: 20_000,
  bias: 500,
  exposureS: 2,
  full: 65_535,
  wanted: FLAT_LEVEL.wanted as number,
  shortestS: 0.5,
});
const found = computed(() => panelExposure(panel.value));
const set = (key: keyof typeof panel.value, v: number | null) =>
  v !== null && (panel.value = { ...panel.value, [key]: v });
const FIELDS = [
  ['level', 'Level of a test flat', 'counts', 0, 1e7],
  ['exposureS', 'its exposure', 's', 0.0001, 3600],
  ['bias', 'Level of a bias', 'counts', 0, 1e7],
  ['full', 'Full count', 'counts', 1, 1e7],
  ['shortestS', 'Shortest exposure', 's', 0, 600],
] as const;

const taken = shallowRef<TakenFlat[]>([]);
const bad = ref<string[]>([]);
const busy = ref(false);
const readings = computed<FlatsReading[]>(() =>
  taken.value.length ? readFlats(taken.value, panel.value.full, null) : [],
);
async function take(files: File[]) {
  if (busy.value) return;
  [taken.value, bad.value, busy.value] = [[], [], true];
  try {
    await lookAtFiles(
      files.filter((f) => /\.(fits?|fts)$/i.test(f.name)),
      'flat',
      (got) => {
        if (!got.ok) bad.value = [...bad.value, `${got.file} ${got.reason}`];
        else if (got.frame.exposureS === null) bad.value = [...bad.value, `${got.file} tells no exposure`];
        else
          taken.value = [
            ...taken.value,
            { filter: got.frame.filter || 'no filter', exposureS: got.frame.exposureS, level: got.look.background },
          ];
        return true;
      },
    );
  } catch (e) {
    bad.value = [...bad.value, (e as Error).message];
  }
  busy.value = false;
}
/** The test flat of the panel is the first of those dropped. */
function asTest(filter: string) {
  const one = taken.value.find((t) => t.filter === filter);
  if (one) panel.value = { ...panel.value, level: Math.round(one.level), exposureS: one.exposureS };
}
</script>

<template>
  <section class="panel stack" data-test="flats-panel">
    <h2>Flats from a panel</h2>
    <p :class="`level-${found.level}`">{{ units.say(found.phrase) }}</p>
    <div class="row fields">
      <QuantityInput
        v-for="[key, label, unit, min, max] in FIELDS"
        :key="key"
        :model-value="panel[key]"
        dimension="number"
        :unit="unit"
        :label="label"
        :min="min"
        :max="max"
        :decimals="unit === 's' ? 3 : 0"
        width="130px"
        @update:model-value="set(key, $event)"
      />
      <QuantityInput
        :model-value="100 * panel.wanted"
        dimension="number"
        unit="%"
        label="Wanted level"
        :min="5"
        :max="90"
        :decimals="0"
        width="100px"
        @update:model-value="set('wanted', $event === null ? null : $event / 100)"
      />
    </div>
    <DropFolder slim title="Drop flats" @take="take"
      >Levels are read here, and whether counts grow straight with time.</DropFolder
    >
    <p v-if="busy" class="muted small" role="status">{{ taken.length }} flats read …</p>
    <ul v-if="bad.length" class="level-bad small">
      <li v-for="b in bad.slice(0, 10)" :key="b">{{ b }}</li>
    </ul>
    <table v-if="readings.length" class="figures" data-test="flat-readings">
      <thead>
        <tr>
          <th>Filter</th>
          <th class="num">Flats</th>
          <th class="num">Levels</th>
          <th>What they say</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="r in readings" :key="r.filter">
          <td><FilterTile :name="r.filter" /></td>
          <td class="num">{{ r.frames }}</td>
          <td class="num">{{ figure(100 * r.lowest, 0) }} to {{ figure(100 * r.highest, 0) }} %</td>
          <td :class="`level-${r.level}`">
            {{ r.phrases.map((p) => units.say(p)).join(' ') }}
            <button type="button" class="link" @click="asTest(r.filter)">Reckon from it</button>
          </td>
        </tr>
      </tbody>
    </table>
    <p class="muted small">
      Well exposed between {{ figure(100 * FLAT_LEVEL.least, 0) }} and {{ figure(100 * FLAT_LEVEL.most, 0) }} % of the
      full count: common practice. A straight line needs three exposures under one light.
    </p>
  </section>
</template>

<style scoped>
.fields {
  align-items: start;
}
.link {
  border: 0;
  background: none;
  padding: 4px 6px;
  min-height: 24px;
  font: inherit;
  color: var(--accent);
  text-decoration: underline;
  cursor: pointer;
}
</style>
