<script setup lang="ts">
import { figure, scaleArcsecPerPx } from '@keen/core/quantities';
import type { RigSetup } from '@keen/core/rig';
import { placeForPiece } from '@keen/core/train';
import { Button, Input } from 'ant-design-vue';
import FieldGrid from '../../common/FieldGrid.vue';
import FilterTile from '../../common/FilterTile.vue';
import QuantityInput from '../../common/QuantityInput.vue';

/** Optics, camera, the wheel's slots and the pieces between corrector and sensor. */
defineProps<{ setup: RigSetup; off: boolean }>();
const OPTICS = [
  { key: 'focalLengthMm', label: 'Focal length', dimension: 'length', decimals: 0, min: 10, max: 20000 },
  { key: 'apertureMm', label: 'Aperture', dimension: 'length', decimals: 0, min: 5, max: 2000 },
  {
    key: 'obstructionMm',
    label: 'Obstruction, across',
    dimension: 'length',
    decimals: 0,
    min: 0,
    max: 1500,
    optional: true,
  },
  { key: 'focuserStepUm', label: 'Focuser step', dimension: 'number', unit: 'µm', min: 0.01, step: 0.1 },
] as const;
const CAMERA = [
  { key: 'pixelUm', label: 'Pixel', dimension: 'number', unit: 'µm', min: 0.5, max: 50, step: 0.01 },
  { key: 'widthPx', label: 'Width', dimension: 'number', unit: 'px', decimals: 0, min: 1 },
  { key: 'heightPx', label: 'Height', dimension: 'number', unit: 'px', decimals: 0, min: 1 },
  { key: 'angleDeg', label: 'Camera turned', dimension: 'angle', decimals: 0 },
] as const;
</script>

<template>
  <FieldGrid :record="setup" :fields="OPTICS" :off="off" class="gap" />
  <FieldGrid :record="setup.camera" :fields="CAMERA" :off="off" class="gap" />
  <p class="muted small">
    f/{{ figure(setup.focalLengthMm / setup.apertureMm, 1) }},
    {{ figure(scaleArcsecPerPx(setup.camera.pixelUm, setup.focalLengthMm), 2) }}″ per pixel.
  </p>
  <h3>Wheel</h3>
  <p class="muted small">Write the order down before the wheel is closed; name the blank slot “blank”.</p>
  <div class="row">
    <span v-for="(s, i) in setup.wheel" :key="i" class="slot">
      <span class="muted mono">{{ s.slot }}</span>
      <Input v-model:value="s.filter" :aria-label="`Slot ${s.slot}`" class="filter" :disabled="off" />
      <FilterTile v-if="s.filter" :name="s.filter" />
    </span>
    <Button v-if="!off" size="small" @click="setup.wheel.push({ slot: setup.wheel.length + 1, filter: '' })"
      >Add slot</Button
    >
  </div>
  <h3>From the corrector to the sensor</h3>
  <table class="figures">
    <thead>
      <tr>
        <th>Piece</th>
        <th class="num">documented</th>
        <th class="num">measured</th>
        <th />
      </tr>
    </thead>
    <tbody>
      <tr v-for="(t, i) in setup.train" :key="i">
        <td><Input v-model:value="t.name" :aria-label="`Piece ${i + 1}`" :disabled="off" /></td>
        <td class="num">
          <QuantityInput
            v-model="t.lengthMm"
            dimension="length"
            label="documented"
            hide-label
            :min="0"
            width="110px"
            :step="0.1"
            :disabled="off"
          />
        </td>
        <td class="num">
          <QuantityInput
            :model-value="t.measuredMm ?? null"
            dimension="length"
            label="measured"
            hide-label
            optional
            :min="0"
            width="110px"
            :step="0.1"
            :disabled="off"
            @update:model-value="t.measuredMm = $event ?? undefined"
          />
        </td>
        <td>
          <Button type="text" size="small" aria-label="Remove" :disabled="off" @click="setup.train.splice(i, 1)"
            >✕</Button
          >
        </td>
      </tr>
    </tbody>
  </table>
  <Button
    v-if="!off"
    size="small"
    @click="setup.train.splice(placeForPiece(setup.train, -1), 0, { name: 'new piece', lengthMm: 0 })"
    >Add piece</Button
  >
</template>

<style scoped>
.gap {
  margin-bottom: 10px;
}
.slot {
  display: inline-flex;
  align-items: center;
  gap: 6px;
}
.filter {
  width: 74px;
}
h3 {
  margin: 10px 0 6px;
}
</style>
