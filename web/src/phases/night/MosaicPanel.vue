<script setup lang="ts">
import type { HeaderFraming } from '@keen/core/exchange';
import { figure, formatDec, formatRa } from '@keen/core/quantities';
import type { Panel } from '@keen/core/sky';
import QuantityInput from '../../common/QuantityInput.vue';
import FramingImport from './FramingImport.vue';
import type { FramingDraft } from './useFraming.ts';

/** Panels of a mosaic with the place and angle of each, and a framing taken from a picture. */
defineProps<{ draft: FramingDraft; panels: readonly Panel[]; scaleArcsecPerPx: number; off: boolean }>();
const emit = defineEmits<{ panel: [at: number]; take: [framing: HeaderFraming] }>();
</script>

<template>
  <section class="panel stack">
    <h2>Mosaic and import</h2>
    <div class="three">
      <QuantityInput
        v-model="draft.columns"
        dimension="number"
        label="Panels across"
        :min="1"
        :max="8"
        :decimals="0"
        :disabled="off"
      />
      <QuantityInput
        v-model="draft.rows"
        dimension="number"
        label="Panels down"
        :min="1"
        :max="8"
        :decimals="0"
        :disabled="off"
      />
      <QuantityInput
        :model-value="100 * draft.overlap"
        dimension="number"
        unit="%"
        label="Overlap"
        :min="0"
        :max="60"
        :decimals="0"
        :disabled="off || panels.length === 1"
        @update:model-value="(v) => v !== null && (draft.overlap = v / 100)"
      />
    </div>
    <table v-if="panels.length > 1" class="figures" data-test="panels">
      <tbody>
        <tr v-for="(p, i) in panels" :key="i">
          <td>
            <button type="button" class="link" @click="emit('panel', i)">Panel {{ i + 1 }}</button>
          </td>
          <td class="mono small">{{ formatRa(p.raDeg) }} {{ formatDec(p.decDeg) }}</td>
          <td class="num">{{ figure(p.angleDeg, 1) }}°</td>
        </tr>
      </tbody>
    </table>
    <FramingImport v-if="!off" :scale-arcsec-per-px="scaleArcsecPerPx" @take="emit('take', $event)" />
  </section>
</template>

<style scoped>
.three {
  display: grid;
  grid-template-columns: repeat(3, minmax(0, 1fr));
  gap: 8px 12px;
}
</style>
