<script setup lang="ts">
import { framesThere, goalFor, type Goal, gatheredIn } from '@keen/core/record';
import type { OffsetSetRecord, ProjectRecord } from '@keen/contract';
import { type MoonRule, type PlanField, type PlanSettings } from '@keen/core/sequence';
import { Button, Checkbox, RadioButton, RadioGroup } from 'ant-design-vue';
import { computed } from 'vue';
import FilterTile from '../../common/FilterTile.vue';
import PickOne from '../../common/PickOne.vue';
import QuantityInput from '../../common/QuantityInput.vue';
import { refocusEveryC } from '@keen/core/sequence';
import { useUnits } from '../../stores/units.ts';
import { parseInput } from '@keen/core/calculation';
import { figure } from '@keen/core/quantities';
import { policy as focusPolicy, PolicyInput } from '@keen/core/focus';
import { valueOrNull } from '../../common/outcome.ts';

const units = useUnits();

/** What a person decides about the night: filters, order, focus, dither. */
const props = defineProps<{
  settings: PlanSettings;
  project: ProjectRecord;
  panel: number | null;
  /** Goals of this project that no leg works for. */
  lacking: readonly Goal[];
  filters: string[];
  offsets: OffsetSetRecord | null;
  off: boolean;
  /** Fields closed to this person: they are not shown here. */
  closed: ReadonlySet<PlanField>;
  /** Changes of filter an hour, hours, and the length of a focus run, of the plan as it is laid out. */
  cost: { filterChangesPerHour: number; hours: number; autofocusS: number } | null;
}>();
const emit = defineEmits<{ lengths: [] }>();
const there = computed(() => gatheredIn(props.project, props.panel));
const mended = computed(() =>
  unasked.value.flatMap((f) => {
    const goal = props.project.goals.find((g) => g.filter === f.name);
    return goal ? [{ name: f.name, exposureS: goal.exposureS }] : [];
  }),
);
/** Lengths of the plan that no goal asks for: their frames would count for nothing. */
const unasked = computed(() =>
  props.settings.filters.filter((f) => !goalFor(props.project.goals, { filter: f.name, exposureS: f.exposureS })),
);
const chosen = (name: string) => props.settings.filters.find((f) => f.name === name);
const list = computed(() => {
  const used = props.settings.filters.map((f) => f.name);
  // which filters are used is closed: the others are of no interest
  return props.closed.has('filters') ? used : [...new Set([...props.filters, ...used])];
});
function toggle(name: string, on: boolean) {
  const s = props.settings;
  if (!on) {
    s.filters = s.filters.filter((f) => f.name !== name);
    return;
  }
  const goal = props.project.goals.find((g) => g.filter === name);
  const like = s.filters[0];
  s.filters = list.value.flatMap((f) => {
    if (f === name)
      return [{ name, exposureS: goal?.exposureS ?? like?.exposureS ?? 120, quota: goal?.quota ?? like?.quota ?? 20 }];
    return s.filters.filter((o) => o.name === f);
  });
}
const ORDERS = [
  ['rolling', 'Rolling', 'One frame of each filter in turn: cloud at any time leaves every colour.'],
  ['lagging', 'Lagging', 'Always the filter farthest behind its goal: evens out what earlier nights left.'],
  ['block', 'Block', 'One filter to its end, then the next: fewest changes, but cloud may leave colours empty.'],
] as const;
const FOCUS = [
  ['offsets', 'Offsets', 'Move by the adopted offset on every change; focus by time or temperature only.'],
  ['every-change', 'Every change', 'A focus run on every filter change: slow, and how offsets are found.'],
  ['every-change-and-time', 'Change and time', 'Both: on every change, and when time or temperature has run on.'],
] as const;
/** What focusing costs this plan either way; silent without adopted offsets that follow the temperature. */
const focusing = computed(() => {
  const [o, c] = [props.offsets, props.cost];
  if (!o?.zoneSteps || !c) return null;
  const chosen = new Set(props.settings.filters.map((f) => f.name));
  return valueOrNull(() =>
    focusPolicy(
      parseInput(PolicyInput, {
        offsets: Object.fromEntries(
          Object.entries(o.offsets)
            .filter(([f]) => chosen.has(f))
            .map(([f, { steps, error }]) => [f, { steps, error }]),
        ),
        temperatureStepsPerC: o.temperatureStepsPerC ?? 0,
        criticalZoneSteps: o.zoneSteps,
        coolingCPerHour: props.settings.coolingCPerHour,
        ...c,
      }),
    ),
  );
});
const everyC = computed(() => refocusEveryC(props.offsets));
const MOON = [
  { value: 'any', label: 'whatever the Moon does' },
  { value: 'down', label: 'only while the Moon is down' },
  { value: 'apart', label: 'Moon down, or so far away' },
];
const moonOf = (name: string): MoonRule => chosen(name)?.moon ?? { by: 'any' };
function setMoon(name: string, rule: MoonRule) {
  const f = chosen(name);
  if (f) f.moon = rule.by === 'any' ? undefined : rule;
}
const MOON_RULES: Record<string, MoonRule> = {
  any: { by: 'any' },
  down: { by: 'down' },
  apart: { by: 'apart', deg: 60 },
};
const setDither = (per: boolean) => (props.settings.dither.perRound = per);
</script>

<template>
  <div class="stack form">
    <table v-if="!(closed.has('filters') && closed.has('exposures'))" class="figures">
      <thead>
        <tr>
          <th>Filter</th>
          <th class="num">Exposure</th>
          <th class="num">Goal</th>
          <th class="num">there</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="name in list" :key="name">
          <td>
            <Checkbox
              :checked="!!chosen(name)"
              :disabled="off || closed.has('filters')"
              :aria-label="`Use ${name}`"
              @update:checked="toggle(name, $event)"
            />
            <FilterTile :name="name" class="tile" />
          </td>
          <template v-if="chosen(name)">
            <td class="num">
              <QuantityInput
                v-model="chosen(name)!.exposureS"
                dimension="duration"
                :label="`Exposure of ${name}`"
                hide-label
                :decimals="0"
                :min="1"
                :max="7200"
                :step="30"
                width="88px"
                :disabled="off || closed.has('exposures')"
              />
            </td>
            <td class="num">
              <QuantityInput
                v-model="chosen(name)!.quota"
                dimension="number"
                :label="`Frames of ${name}`"
                hide-label
                :decimals="0"
                :min="1"
                :max="9999"
                width="66px"
                :disabled="off || closed.has('filters')"
              />
            </td>
            <td class="num">{{ framesThere(there, chosen(name)!) }}</td>
          </template>
          <td v-else colspan="3" class="muted small">left out</td>
        </tr>
      </tbody>
    </table>
    <p v-if="unasked.length" class="small level-caution" data-test="unasked">
      No goal of {{ project.object }} asks for
      {{ unasked.map((f) => `${f.name} ${figure(f.exposureS, 1)} s`).join(', ') }}: these frames would count for
      nothing.
      <Button
        v-for="f in off || closed.has('exposures') ? [] : mended"
        :key="f.name"
        size="small"
        @click="chosen(f.name)!.exposureS = f.exposureS"
        >{{ f.name }} at {{ figure(f.exposureS, 1) }} s, as the goal</Button
      >
    </p>
    <p v-if="lacking.length" class="row small" data-test="lacking">
      Wanted too: {{ lacking.map((g) => `${g.filter} ${figure(g.exposureS, 1)} s`).join(', ') }}. A leg takes each
      filter at one length.
      <Button v-if="!off && !closed.has('targets') && !closed.has('exposures')" size="small" @click="emit('lengths')"
        >Add a leg for it</Button
      >
    </p>
    <details v-if="!closed.has('filters')" class="moon" :open="settings.filters.some((f) => f.moon)">
      <summary>
        Moon: {{ settings.filters.some((f) => f.moon) ? 'some filters mind it' : 'no filter minds it' }}
      </summary>
      <div v-for="f in settings.filters" :key="f.name" class="row">
        <FilterTile :name="f.name" />
        <PickOne
          :value="moonOf(f.name).by"
          class="rule"
          :label="`Moon rule of ${f.name}`"
          :options="MOON"
          :disabled="off"
          @update:value="setMoon(f.name, MOON_RULES[String($event)]!)"
        />
        <QuantityInput
          v-if="f.moon?.by === 'apart'"
          :model-value="f.moon.deg"
          dimension="angle"
          unit="°"
          :label="`Least distance of the Moon for ${f.name}`"
          hide-label
          :decimals="0"
          :min="1"
          :max="180"
          :step="5"
          width="76px"
          :disabled="off"
          @update:model-value="setMoon(f.name, { by: 'apart', deg: $event ?? 60 })"
        />
      </div>
      <p class="muted small">
        Broad filters suffer from moonlight first; through narrow ones most of the sky is shut out. 60° is common
        practice, no source.
      </p>
    </details>
    <div v-if="!closed.has('order')">
      <h3>Order</h3>
      <RadioGroup v-model:value="settings.order" button-style="solid" size="small" :disabled="off" aria-label="Order">
        <RadioButton v-for="[key, label] in ORDERS" :key="key" :value="key">{{ label }}</RadioButton>
      </RadioGroup>
      <p class="muted small">{{ ORDERS.find(([k]) => k === settings.order)?.[2] }}</p>
    </div>
    <div v-if="!closed.has('focus')">
      <h3>Focus</h3>
      <RadioGroup
        v-model:value="settings.focus.policy"
        button-style="solid"
        size="small"
        :disabled="off"
        aria-label="Focus"
      >
        <RadioButton v-for="[key, label] in FOCUS" :key="key" :value="key">{{ label }}</RadioButton>
      </RadioGroup>
      <p class="muted small">{{ FOCUS.find(([k]) => k === settings.focus.policy)?.[2] }}</p>
      <div v-if="settings.focus.policy !== 'every-change'" class="row">
        <QuantityInput
          :model-value="settings.focus.everyMin ?? null"
          dimension="number"
          unit="min"
          label="At latest after"
          optional
          :decimals="0"
          :min="1"
          :step="10"
          width="116px"
          :disabled="off"
          @update:model-value="settings.focus.everyMin = $event ?? undefined"
        />
        <QuantityInput
          :model-value="settings.focus.everyC ?? null"
          dimension="degrees"
          label="or a change of"
          optional
          :decimals="1"
          :min="0.1"
          :step="0.1"
          width="116px"
          :disabled="off"
          @update:model-value="settings.focus.everyC = $event ?? undefined"
        />
        <QuantityInput
          v-model="settings.coolingCPerHour"
          dimension="degrees"
          per="h"
          label="Cooling"
          :decimals="1"
          :step="0.1"
          width="110px"
          :disabled="off"
        />
      </div>
      <p v-if="focusing" class="small" data-test="focusing">
        {{ units.verdict(focusing.verdict) }}
        <span class="muted">
          On every change {{ focusing.everyChange.runs }} runs, {{ figure(focusing.everyChange.minutes, 0) }} min; by
          offsets {{ focusing.withOffsets.runs }}, {{ figure(focusing.withOffsets.minutes, 0) }} min.
        </span>
      </p>
      <p v-if="everyC !== null && settings.focus.policy !== 'every-change'" class="muted small">
        Half the focus zone is used up after {{ units.degrees(everyC, 1) }} in this train state.
      </p>
    </div>
    <div v-if="!closed.has('dither')">
      <h3>Dither</h3>
      <div class="row">
        <RadioGroup
          :value="settings.dither.perRound"
          button-style="solid"
          size="small"
          :disabled="off"
          aria-label="Dither"
          @update:value="setDither"
        >
          <RadioButton :value="false">Every frames</RadioButton>
          <RadioButton :value="true" :disabled="settings.order !== 'rolling'">Once a round</RadioButton>
        </RadioGroup>
        <QuantityInput
          v-if="!settings.dither.perRound"
          v-model="settings.dither.everyFrames"
          dimension="number"
          label="Frames between dithers"
          hide-label
          :decimals="0"
          :min="0"
          :max="99"
          width="64px"
          :disabled="off"
        />
      </div>
      <p v-if="!settings.dither.perRound && settings.dither.everyFrames === 0" class="level-caution small">
        Never: fixed patterns of the camera will add up.
      </p>
    </div>
  </div>
</template>

<style scoped>
.form p {
  margin-top: 4px;
}
.tile {
  margin-left: 8px;
}
h3 {
  margin-bottom: 4px;
}
.moon summary {
  cursor: pointer;
}
.moon .row {
  margin-top: 4px;
}
.rule {
  width: 210px;
}
td :deep(.ant-checkbox-wrapper) {
  vertical-align: -1px;
}
</style>
