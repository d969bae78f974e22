<script setup lang="ts">
import { useUnits } from '../../stores/units.ts';
import { phrase } from '@keen/core/phrases';
import type { OffsetSetRecord } from '@keen/contract';
import { bestHome, guideShifts, HARMLESS_BLUR_PX } from '@keen/core/focus';
import { figure, signed } from '@keen/core/quantities';
import type { RigSetup } from '@keen/core/rig';
import { computed, ref } from 'vue';
import FilterTile from '../../common/FilterTile.vue';
import PickOne from '../../common/PickOne.vue';

/** What focusing through each filter does to the off-axis guide camera, which no filter stands before. */
const props = defineProps<{ setup: RigSetup; adopted: OffsetSetRecord }>();
const chosen = ref('');
const best = computed(() => bestHome(props.adopted.offsets));
const from = computed(() => (chosen.value in props.adopted.offsets ? chosen.value : (best.value ?? '')));
const shifts = computed(() =>
  guideShifts(props.adopted.offsets, {
    stepUm: props.setup.focuserStepUm,
    focalRatio: props.setup.focalLengthMm / props.setup.apertureMm,
    guidePixelUm: props.setup.offAxis!.camera.pixelUm,
    from: from.value,
  }),
);
const units = useUnits();
const worst = computed(() => Math.max(0, ...shifts.value.map((s) => s.blurPx)));
const said = computed(() => [
  worst.value > HARMLESS_BLUR_PX
    ? phrase('guide-focus.grow', { worstPx: worst.value })
    : phrase('guide-focus.harmless'),
  ...(best.value && best.value !== from.value ? [phrase('guide-focus.best', { best: best.value })] : []),
]);
</script>

<template>
  <section v-if="setup.offAxis && shifts.length > 1" class="panel stack" data-test="guide-focus">
    <div class="row spread">
      <h2>The guide camera’s own focus</h2>
      <PickOne
        :value="from"
        label="Guide camera focused with"
        :options="Object.keys(adopted.offsets).map((f) => ({ value: f, label: `focused with ${f}` }))"
        @update:value="chosen = String($event)"
      />
    </div>
    <table class="figures">
      <tbody>
        <tr v-for="s in shifts" :key="s.filter">
          <td><FilterTile :name="s.filter" /></td>
          <td class="num">{{ signed(s.offUm, 0) }} µm</td>
          <td class="num" :class="{ 'level-caution': s.blurPx > HARMLESS_BLUR_PX }">
            {{ figure(s.blurPx, 1) }} px wider
          </td>
        </tr>
      </tbody>
    </table>
    <p class="small" :class="worst > HARMLESS_BLUR_PX ? 'level-caution' : 'muted'">
      {{ units.sentences(said) }}
    </p>
  </section>
</template>
