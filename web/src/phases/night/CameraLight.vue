<script setup lang="ts">
import type { FilterBand, ImagingSensor } from '@keen/core/rig';
import { computed } from 'vue';
import FilterTile from '../../common/FilterTile.vue';
import QuantityInput from '../../common/QuantityInput.vue';
import RigSaveBar from '../../common/RigSaveBar.vue';
import SkyFromFrame from './SkyFromFrame.vue';
import type { useRigDraft } from '../../common/useRigDraft.ts';
import { useClub } from '../../stores/club.ts';
import { useUnits } from '../../stores/units.ts';
import type { Row } from './useExposures.ts';

/** How well the camera sees, what each filter lets through, and the sky a frame showed: kept with the rig. */
const props = defineProps<{ edit: ReturnType<typeof useRigDraft>; rows: readonly Row[]; off: boolean }>();
const club = useClub();
const units = useUnits();

const SENSOR = [
  { key: 'readNoiseE', label: 'Read noise', dimension: 'number', unit: 'e⁻', min: 0, max: 100, step: 0.1 },
  {
    key: 'fullWellE',
    label: 'Full well',
    dimension: 'number',
    unit: 'e⁻',
    decimals: 0,
    min: 100,
    max: 1e6,
    step: 1000,
  },
  {
    key: 'quantumEfficiency',
    label: 'Quantum efficiency',
    dimension: 'number',
    unit: '%',
    decimals: 0,
    min: 5,
    max: 100,
  },
  {
    key: 'darkEPerSPx',
    label: 'Dark current',
    dimension: 'number',
    unit: 'e⁻/s',
    decimals: 4,
    min: 0,
    max: 100,
    step: 0.001,
  },
] as const;
/** Shares are typed in per cent. */
const storedAs = (key: keyof ImagingSensor) => (key === 'quantumEfficiency' ? 0.01 : 1);
/** The camera's figures; an emptied one leaves the record, and so does the last. */
function setSensor(key: keyof ImagingSensor, value: number | null) {
  const camera = props.edit.draft.value!.setup.camera;
  const { [key]: _was, ...rest } = camera.sensor ?? {};
  const next = value === null ? rest : { ...rest, [key]: value };
  if (Object.keys(next).length) camera.sensor = next;
  else delete camera.sensor;
}
const bandOf = (filter: string) => props.edit.draft.value?.setup.bands?.find((b) => b.filter === filter);
function setBand(filter: string, part: Partial<FilterBand>) {
  const setup = props.edit.draft.value!.setup;
  const next = { ...(bandOf(filter) ?? { filter }), ...part };
  for (const k of Object.keys(next) as (keyof FilterBand)[]) if (next[k] === undefined) delete next[k];
  const others = (setup.bands ?? []).filter((b) => b.filter !== filter);
  setup.bands = Object.keys(next).length > 1 ? [...others, next] : others;
}
const setSky = (filter: string, e: number | null) =>
  setBand(filter, { skyEPerSPx: e ?? undefined, skyOn: e === null ? undefined : club.tonight });

const assumed = computed(() => [
  ...new Map(
    props.rows.flatMap((r) => r.light.assumed.filter((a) => a.code !== 'assumed.band')).map((a) => [a.code, a]),
  ).values(),
]);
</script>

<template>
  <section class="panel stack">
    <RigSaveBar :edit="edit" />
    <h2>The camera, the filters</h2>
    <div class="figures-of">
      <QuantityInput
        v-for="{ key, ...f } in SENSOR"
        :key="key"
        v-bind="f"
        :model-value="
          edit.draft.value!.setup.camera.sensor?.[key] === undefined
            ? null
            : edit.draft.value!.setup.camera.sensor[key] / storedAs(key)
        "
        :disabled="off"
        optional
        @update:model-value="setSensor(key, $event === null ? null : $event * storedAs(key))"
      />
    </div>
    <p v-if="assumed.length" class="muted small">Not entered, so taken as {{ units.say(assumed, ', ') }}.</p>
    <table class="figures">
      <thead>
        <tr>
          <th>Filter</th>
          <th class="num">band, nm</th>
          <th class="num">sky of a frame, e⁻/s</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="{ light: l } in rows" :key="l.filter">
          <td><FilterTile :name="l.filter" /></td>
          <td class="num">
            <QuantityInput
              :model-value="bandOf(l.filter)?.bandwidthNm ?? null"
              dimension="number"
              :label="`Band of ${l.filter}`"
              hide-label
              optional
              :min="0.5"
              :max="2000"
              :decimals="1"
              width="92px"
              :disabled="off"
              @update:model-value="setBand(l.filter, { bandwidthNm: $event ?? undefined })"
            />
          </td>
          <td class="num">
            <QuantityInput
              :model-value="bandOf(l.filter)?.skyEPerSPx ?? null"
              dimension="number"
              :label="`Sky through ${l.filter}`"
              hide-label
              optional
              :min="0.00001"
              :max="100000"
              :decimals="3"
              width="110px"
              :disabled="off"
              @update:model-value="setSky(l.filter, $event)"
            />
          </td>
        </tr>
      </tbody>
    </table>
    <SkyFromFrame
      v-if="!off"
      :filters="rows.map((r) => r.light.filter)"
      :time-zone="club.site?.timeZone ?? 'UTC'"
      :width-px="edit.draft.value!.setup.camera.widthPx"
      @use="(filter, e, on) => setBand(filter, { skyEPerSPx: e, skyOn: on })"
    />
    <p class="muted small">
      Sky of a frame: its background less the bias, times the electrons a count stands for, over the seconds; of a night
      without the Moon. It goes before every estimate.
    </p>
  </section>
</template>

<style scoped>
.figures-of {
  display: grid;
  grid-template-columns: repeat(2, minmax(0, 1fr));
  gap: 10px 14px;
}
</style>
