<script setup lang="ts">
import { shortSideArcmin } from '@keen/core/rig';
import { figure } from '@keen/core/quantities';
import { alignment } from '@keen/core/setup';
import { Button } from 'ant-design-vue';
import { computed } from 'vue';
import FieldGrid from '../../common/FieldGrid.vue';
import { valueOrNull } from '../../common/outcome.ts';
import PickOne from '../../common/PickOne.vue';
import { useClub } from '../../stores/club.ts';
import { useDuskSettings } from './useDuskSettings.ts';
import { useUnits } from '../../stores/units.ts';
import { useOtherSystem } from './otherSystem.ts';

const units = useUnits();

/** A second tube or lens on the same mount: from where the star stands to the screws to turn. */
const club = useClub();
const dusk = useDuskSettings();
const { other, tubeOf } = useOtherSystem();
const second = computed(() => dusk.settings.second);
const px = { dimension: 'number', unit: 'px', decimals: 0 } as const;
const FIELDS = [
  { key: 'rightPx', label: 'Star right of centre', ...px, min: -20000, max: 20000, step: 10 },
  { key: 'upPx', label: 'Star above centre', ...px, min: -20000, max: 20000, step: 10 },
  { key: 'focalLengthMm', label: 'Its focal length', dimension: 'length', decimals: 0, min: 10, max: 5000 },
  { key: 'pixelUm', label: 'Its pixel', dimension: 'number', unit: 'µm', min: 1, max: 30, step: 0.1 },
  { key: 'widthPx', label: 'Sensor width', ...px, min: 100, max: 20000 },
  { key: 'heightPx', label: 'Sensor height', ...px, min: 100, max: 20000 },
  { key: 'cameraAngleDeg', label: 'Camera turned, anticlockwise from behind', dimension: 'angle', decimals: 0 },
] as const;
const screw = computed(
  () =>
    [
      {
        key: 'leverMm',
        label: second.value?.holder === 'plate' ? 'Pivot to screw' : 'Between the rings',
        dimension: 'length',
        decimals: 0,
        min: 5,
        max: 1000,
      },
      { key: 'pitchMm', label: 'Screw’s pitch', dimension: 'length', min: 0.1, max: 3, step: 0.05 },
    ] as const,
);
const found = computed(() => {
  const [setup, tube] = [club.rig?.setup, second.value];
  if (!setup || !tube) return null;
  const { name: _n, exposureS: _e, downloadS: _d, weight: _w, ...held } = tube;
  return valueOrNull(() => alignment({ ...held, mainFieldArcmin: shortSideArcmin(setup) }));
});
</script>

<template>
  <details class="panel" data-test="alignment">
    <summary><strong>A second tube or lens on this mount</strong></summary>
    <div v-if="!second" class="stack inner">
      <p class="muted small">Two pictures at once only pay when both tubes point to the same place.</p>
      <Button class="add" @click="dusk.settings.second = tubeOf(null)">{{
        other ? `Take “${other.name}” of this rig` : 'Add a second tube'
      }}</Button>
    </div>
    <div v-else class="stack inner">
      <p class="muted small">
        Centre a bright star or the Moon’s edge in the main camera; read where it stands in the second picture, from its
        centre.
      </p>
      <FieldGrid :record="second" :fields="FIELDS" width="150px">
        <PickOne
          v-model:value="second.holder"
          shown
          label="Held by"
          :options="[
            { value: 'plate', label: 'two-axis plate' },
            { value: 'rings', label: 'two rings, three screws each' },
          ]"
        />
      </FieldGrid>
      <FieldGrid :record="second" :fields="screw" width="150px" />
      <template v-if="found">
        <p :class="`level-${found.verdict.level}`" data-test="alignment-verdict">{{ units.verdict(found.verdict) }}</p>
        <ol v-if="found.moves.length" class="moves">
          <li v-for="m in found.moves" :key="m.screw">
            {{ m.screw }}: {{ m.way }}, <span class="mono">{{ units.length(m.mm, 2) }}</span>,
            <span class="mono">{{ figure(m.turns, 1) }} turns</span>
          </li>
        </ol>
        <p class="muted small">
          Tolerance: a tenth of the smaller field (common practice, no source). The picture is taken as seen on the sky;
          for a mirrored one, right and left change places.
        </p>
      </template>
    </div>
  </details>
</template>

<style scoped>
summary {
  cursor: pointer;
}
.inner {
  margin-top: 10px;
}
.add {
  justify-self: start;
}
.moves {
  margin: 0;
  padding-left: 20px;
}
</style>
