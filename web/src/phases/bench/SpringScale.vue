<script setup lang="ts">
import type { Moment } from '@keen/core/balance';
import { Button, SelectOption } from 'ant-design-vue';
import { computed } from 'vue';
import QuantityInput from '../../common/QuantityInput.vue';
import WorkingFold from '../../common/WorkingFold.vue';
import PickOne from '../../common/PickOne.vue';
import type { ScaleRow, useSpringScale } from './useSpringScale.ts';
import { useUnits } from '../../stores/units.ts';

const units = useUnits();

/** Spring-scale readings: what the rig itself says about its balance, against what its parts add up to. */
const props = defineProps<{ scale: ReturnType<typeof useSpringScale>; computedMoment: Moment; off?: boolean }>();
const emit = defineEmits<{ carry: [measured: Partial<Moment>] }>();
const { rows, result, slip, found, mend } = props.scale;
const add = (axis: ScaleRow['axis'], attitudeDeg: number) =>
  rows.value.push({ axis, attitudeDeg, tubeSide: 'left', forceTowardN: null, forceBackN: null, leverMm: 300 });
const compared = computed(() => {
  const r = found.value;
  if (!r) return [];
  const names = { x: 'tube to weights', y: 'sideways', z: 'fore and aft' } as const;
  return (['z', 'y', 'x'] as const).map((k) => ({
    name: names[k],
    measured: r.momentKgMm[k],
    computed: props.computedMoment[k],
  }));
});
</script>

<template>
  <div class="stack">
    <p class="muted">
      Unlock one axis, pull at a known distance until it just starts to move, once each way. Level readings settle fore
      and aft; readings with the tube upright settle the side. Keep a hand on the tube: it may swing.
    </p>
    <div v-for="(r, i) in rows" :key="i" class="reading">
      <PickOne v-model:value="r.axis" label="Axis" size="small">
        <SelectOption value="dec">declination</SelectOption>
        <SelectOption value="ra">right ascension</SelectOption>
      </PickOne>
      <QuantityInput
        v-model="r.attitudeDeg"
        dimension="angle"
        label="Tube raised"
        :step="5"
        :decimals="0"
        :min="-90"
        :max="90"
      />
      <PickOne v-model:value="r.tubeSide" label="Tube side" size="small">
        <SelectOption value="left">tube left</SelectOption>
        <SelectOption value="right">tube right</SelectOption>
      </PickOne>
      <QuantityInput
        v-model="r.forceTowardN"
        dimension="force"
        :label="r.axis === 'dec' ? 'Front down' : 'Tube down'"
        :step="0.1"
        optional
      />
      <QuantityInput
        v-model="r.forceBackN"
        dimension="force"
        :label="r.axis === 'dec' ? 'Front up' : 'Tube up'"
        :step="0.1"
        optional
      />
      <QuantityInput v-model="r.leverMm" dimension="length" label="Lever" :step="10" :decimals="0" :min="1" />
      <Button size="small" type="text" aria-label="Remove this reading" @click="rows.splice(i, 1)">✕</Button>
    </div>
    <div class="row">
      <Button size="small" @click="add('dec', 0)">Add declination, level</Button>
      <Button size="small" @click="add('dec', 90)">Add declination, upright</Button>
      <Button size="small" @click="add('ra', 0)">Add right ascension</Button>
    </div>
    <p v-if="result?.ok && slip" class="level-bad row" role="alert" data-test="slip">
      {{ units.verdict(result.value.verdict) }}
      <Button v-if="!off" size="small" @click="mend">Yes, {{ units.quantity('pullN', slip.likelyN, 2) }}</Button>
    </p>
    <template v-else-if="result?.ok">
      <p :class="`level-${result.value.verdict.level}`" data-test="measured">
        {{ units.verdict(result.value.verdict) }}
      </p>
      <table class="figures narrow">
        <thead>
          <tr>
            <th>Moment</th>
            <th class="num">measured</th>
            <th class="num">from the parts</th>
            <th class="num">difference</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="c in compared" :key="c.name">
            <td>{{ c.name }}</td>
            <td class="num">{{ c.measured === undefined ? 'not measured' : units.moment(c.measured) }}</td>
            <td class="num">{{ units.moment(c.computed) }}</td>
            <td class="num">{{ c.measured === undefined ? '–' : units.moment(c.measured - c.computed, true) }}</td>
          </tr>
        </tbody>
      </table>
      <p class="small muted">
        Friction
        <template v-if="result.value.frictionNm.dec !== undefined">
          <span class="mono">{{ units.torque(result.value.frictionNm.dec, 2) }}</span> in declination
        </template>
        <template v-if="result.value.frictionNm.ra !== undefined">
          <span class="mono">{{ units.torque(result.value.frictionNm.ra, 2) }}</span> in right ascension
        </template>
        . A difference above {{ units.moment(30) }} or so means that a mass or a place in the list of parts is wrong:
        caps, cables, a focuser racked out.
      </p>
      <p v-if="!off" class="row small">
        <Button size="small" @click="emit('carry', result.value.momentKgMm)"
          >Let the tube’s mass centre carry the difference</Button
        >
        <span class="muted">The rig then reckons with what was measured; nobody needs to know the centre.</span>
      </p>
      <WorkingFold :steps="result.value.working" />
    </template>
    <p v-else-if="result" class="level-bad">{{ result.message }}</p>
  </div>
</template>

<style scoped>
.reading {
  display: grid;
  grid-template-columns: 150px 110px 110px 120px 120px 120px 32px;
  gap: 8px;
  align-items: end;
}
.narrow {
  max-width: 560px;
}
@media (max-width: 900px) {
  .reading {
    grid-template-columns: 1fr 1fr;
  }
}
</style>
