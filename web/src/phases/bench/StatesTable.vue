<script setup lang="ts">
import { AssessInput, assessInputOf, commonMarks, variantSetup } from '@keen/core/balance';
import { parseInput } from '@keen/core/calculation';
import type { RigSetup } from '@keen/core/rig';
import { Checkbox } from 'ant-design-vue';
import { computed, ref } from 'vue';
import { plainCopy } from '../../workers/index.ts';
import { useUnits } from '../../stores/units.ts';

const units = useUnits();

/** States of one rig compared: one pair of marks that serves all, or the marks to scribe for each. */
const props = defineProps<{ setup: RigSetup; latitudeDeg: number }>();
const without = ref<string[]>([]);
const states = computed(() => {
  const s = plainCopy(props.setup);
  const named = [
    { name: 'as it stands', setup: s },
    ...(s.variants ?? []).map((v) => ({ name: v.name, setup: variantSetup(s, v.name) })),
  ];
  const stripped = without.value.map((n) => ({
    name: `without ${n}`,
    setup: { ...s, placed: s.placed.filter((p) => p.name !== n) },
  }));
  return [...named, ...stripped].map((x) => ({
    name: x.name,
    input: parseInput(AssessInput, assessInputOf(x.setup, props.latitudeDeg)),
  }));
});
const marks = computed(() =>
  commonMarks(states.value, props.setup.slide, { min: props.setup.shaft.minMm, max: props.setup.shaft.maxMm }),
);
const toggle = (n: string, on: boolean) =>
  (without.value = on ? [...without.value, n] : without.value.filter((x) => x !== n));
</script>

<template>
  <div class="stack">
    <p v-if="states.length > 1" :class="marks.serves ? 'level-good' : 'level-caution'" data-test="states">
      <template v-if="marks.serves"
        >One pair of marks serves them all: bar at {{ units.length(setup.slide.markMm + marks.slideMm, 0) }}, weights at
        {{ units.length(marks.distanceMm, 0) }}.</template
      >
      <template v-else
        >No one place serves them all (best leaves {{ units.torque(marks.decNm) }} and
        {{ units.torque(marks.raNm, 2) }}): scribe a mark for each on bar and shaft.</template
      >
    </p>
    <table class="figures">
      <thead>
        <tr>
          <th>State</th>
          <th class="num">bar mark</th>
          <th class="num">weights at</th>
          <th class="num">with the common marks</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="s in marks.states" :key="s.name">
          <td>{{ s.name }}</td>
          <td class="num">
            {{ units.length(setup.slide.markMm + s.slideMm, 0) }} ({{ units.signedLength(s.slideMm) }})
          </td>
          <td class="num">{{ units.length(s.distanceMm, 0) }}</td>
          <td class="num">{{ units.torque(s.decNm) }} / {{ units.torque(s.raNm, 2) }}</td>
        </tr>
      </tbody>
    </table>
    <p class="row small">
      Compare also without:
      <Checkbox
        v-for="p in setup.placed"
        :key="p.name"
        :checked="without.includes(p.name)"
        @update:checked="toggle(p.name, $event)"
        >{{ p.name }}</Checkbox
      >
    </p>
  </div>
</template>
