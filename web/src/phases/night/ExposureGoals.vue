<script setup lang="ts">
import { goalFor } from '@keen/core/record';
import { api, type ProjectRecord } from '@keen/contract';
import { goalsOf, longestS, PALETTES } from '@keen/core/exposure';
import { figure } from '@keen/core/quantities';
import { Button, message } from 'ant-design-vue';
import { computed, reactive, ref, watch } from 'vue';
import { call } from '../../api/client.ts';
import FilterTile from '../../common/FilterTile.vue';
import { projectFieldsOf } from '../../common/records.ts';
import { problemPlaces } from '../../common/outcome.ts';
import PickOne from '../../common/PickOne.vue';
import QuantityInput from '../../common/QuantityInput.vue';
import { useClub } from '../../stores/club.ts';
import type { Row } from './useExposures.ts';

/** Hours shared out among filters, as whole frames; given to the project when asked. */
const props = defineProps<{
  rows: readonly Row[];
  project: ProjectRecord | null;
  hours: number;
  flexureS: number | null;
  off: boolean;
}>();
const emit = defineEmits<{ hours: [hours: number] }>();
const club = useClub();
const names = computed(() => props.rows.map((r) => r.light.filter));
const offered = computed(() => PALETTES.filter((p) => Object.keys(p.shares).every((f) => names.value.includes(f))));
const shares = reactive<Record<string, number>>({});
const mix = ref('');
function take(id: string) {
  mix.value = id;
  const p = PALETTES.find((q) => q.id === id);
  for (const n of names.value) shares[n] = p ? (p.shares[n] ?? 0) : (shares[n] ?? 1);
}
watch(names, () => take(offered.value[0]?.id ?? 'own'), { immediate: true });
/** Few long frames, or many that are just long enough. */
const length = ref<'long' | 'short'>('long');
const lengthOf = (r: Row) => (length.value === 'long' ? longestS(r.advice, props.flexureS) : r.advice.recommendedS);
const goals = computed(() =>
  goalsOf(
    props.hours,
    Object.fromEntries(names.value.map((n) => [n, shares[n] ?? 0])),
    Object.fromEntries(props.rows.map((r) => [r.light.filter, lengthOf(r)])),
  ),
);
const goalOf = (filter: string) => goals.value.find((g) => g.filter === filter);
function framesOf(filter: string): string {
  const g = goalOf(filter);
  return g ? `${g.quota} × ${figure(g.exposureS, 0)} s` : '–';
}
function hoursOf(filter: string): string {
  const g = goalOf(filter);
  return g ? figure((g.exposureS * g.quota) / 3600, 1) : '–';
}
const trouble = ref('');
const busy = ref(false);
/** Goals of the project that these would take away: filters or lengths that are not among them. */
const others = computed(() => props.project?.goals.filter((g) => !goalFor(goals.value, g)) ?? []);
/** @param beside what the project wants already stays, these lengths come to it */
async function give(beside: boolean) {
  const p = props.project!;
  busy.value = true;
  trouble.value = '';
  const got = await call(api.changeProject, {
    params: { id: p.id },
    body: { ...projectFieldsOf(p), version: p.version, goals: [...goals.value, ...(beside ? others.value : [])] },
  });
  busy.value = false;
  if (!got.ok) {
    trouble.value = problemPlaces(got.problem);
    return;
  }
  club.putProject(got.value);
  void message.success(`${got.value.name} has these goals now; frames taken at other exposures are kept beside them.`);
}
</script>

<template>
  <section class="panel stack" data-test="goals">
    <div class="row spread">
      <h2>Hours into frames</h2>
      <span class="row">
        <PickOne
          :value="mix"
          label="Palette"
          :options="[...offered.map((p) => ({ value: p.id, label: p.name })), { value: 'own', label: 'my own mix' }]"
          @update:value="take(String($event))"
        />
        <QuantityInput
          :model-value="hours"
          dimension="number"
          unit="h"
          label="Open shutter in all"
          hide-label
          :min="0.1"
          :max="500"
          :decimals="1"
          width="110px"
          @update:model-value="(v) => v !== null && emit('hours', v)"
        />
      </span>
    </div>
    <table class="figures">
      <thead>
        <tr>
          <th>Filter</th>
          <th class="num">share</th>
          <th class="num">frames</th>
          <th class="num">hours</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="n in names" :key="n">
          <td><FilterTile :name="n" /></td>
          <td class="num">
            <QuantityInput
              :model-value="shares[n] ?? 0"
              dimension="number"
              :label="`Share of ${n}`"
              hide-label
              :min="0"
              :max="100"
              :decimals="1"
              :step="0.5"
              width="86px"
              @update:model-value="(v) => ((shares[n] = v ?? 0), (mix = 'own'))"
            />
          </td>
          <td class="num">{{ framesOf(n) }}</td>
          <td class="num">{{ hoursOf(n) }}</td>
        </tr>
      </tbody>
    </table>
    <span class="toggle" role="group" aria-label="Length of the frames">
      <button type="button" :aria-pressed="length === 'long'" @click="length = 'long'">as long as stars allow</button>
      <button type="button" :aria-pressed="length === 'short'" @click="length = 'short'">just long enough</button>
    </span>
    <p class="muted small">Shares are common practice, no source: change them.</p>
    <p v-if="trouble" class="level-bad small" role="alert">{{ trouble }}</p>
    <div v-if="project && !off" class="row">
      <Button :loading="busy" class="whole" :disabled="goals.length === 0" @click="give(false)"
        >Make these the goals of {{ project.name }}</Button
      >
      <Button v-if="others.length && goals.length" :loading="busy" class="whole" @click="give(true)"
        >Put them beside {{ others.map((g) => `${g.filter} ${figure(g.exposureS, 0)} s`).join(', ') }}</Button
      >
    </div>
  </section>
</template>

<style scoped>
.whole {
  height: auto;
  white-space: normal;
}
</style>
