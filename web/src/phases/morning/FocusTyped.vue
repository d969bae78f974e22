<script setup lang="ts">
import type { ReadRun } from '@keen/core/exchange';
import { Button, Input } from 'ant-design-vue';
import { reactive, ref } from 'vue';
import PickOne from '../../common/PickOne.vue';
import QuantityInput from '../../common/QuantityInput.vue';

/** One focus run entered by hand. */
const props = defineProps<{ filters: string[]; busy: boolean; store: (run: ReadRun) => Promise<boolean> }>();
const typed = reactive({
  filter: '',
  position: null as number | null,
  temperatureC: null as number | null,
  hfd: null as number | null,
  time: '',
});
const trouble = ref('');
/** An instant as typed, UTC unless it says; null when nothing is typed. */
function instantOf(text: string): Date | null {
  const t = text.trim();
  return t ? new Date(/z|[+-]\d\d:?\d\d$/i.test(t) ? t : `${t.replace(' ', 'T')}Z`) : null;
}
async function add() {
  const time = instantOf(typed.time);
  if (!typed.filter) trouble.value = 'Choose the filter.';
  else if (typed.position === null) trouble.value = 'Type the focuser position.';
  else if (time && Number.isNaN(time.getTime()))
    trouble.value = `“${typed.time}” is not a time; write 2026-11-24 20:15 (UTC).`;
  else {
    trouble.value = '';
    const stored = await props.store({
      filter: typed.filter,
      position: typed.position,
      points: [],
      line: 0,
      ...(typed.hfd === null ? {} : { hfd: typed.hfd }),
      ...(typed.temperatureC === null ? {} : { temperatureC: typed.temperatureC }),
      ...(time ? { time: time.toISOString() } : {}),
    });
    if (stored) typed.position = null;
  }
}
</script>

<template>
  <div class="row typed">
    <PickOne
      v-model:value="typed.filter"
      shown
      class="filter"
      label="Filter"
      :options="filters.map((f) => ({ value: f, label: f }))"
    />
    <QuantityInput
      v-model="typed.position"
      dimension="number"
      unit="steps"
      label="Best position"
      optional
      :decimals="0"
      :step="10"
      width="140px"
    />
    <QuantityInput
      v-model="typed.temperatureC"
      dimension="temperature"
      label="Temperature"
      optional
      :decimals="1"
      width="120px"
      :min="-90"
      :max="70"
    />
    <QuantityInput
      v-model="typed.hfd"
      dimension="number"
      unit="px"
      label="Diameter"
      optional
      width="110px"
      :min="0.1"
      :max="500"
    />
    <label class="small muted"
      >Time, UTC<Input v-model:value="typed.time" placeholder="2026-11-24 20:15" class="when"
    /></label>
    <Button type="primary" :loading="busy" @click="add">Add</Button>
  </div>
  <p v-if="trouble" class="level-bad small" role="alert">{{ trouble }}</p>
</template>

<style scoped>
.typed {
  align-items: end;
}
.typed label {
  display: grid;
  gap: 2px;
}
.filter {
  width: 100px;
}
.when {
  width: 160px;
}
</style>
