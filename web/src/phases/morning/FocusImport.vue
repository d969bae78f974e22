<script setup lang="ts">
import { api, type FocusRunFields } from '@keen/contract';
import { FOCUS_FIELDS, type FocusCsv, type FocusField, type FocusMapping, type ReadRun } from '@keen/core/exchange';
import { figure } from '@keen/core/quantities';
import { Button, Input, TabPane, Tabs, message } from 'ant-design-vue';
import { computed, reactive, ref, shallowRef } from 'vue';
import { call, said } from '../../api/client.ts';
import QuantityInput from '../../common/QuantityInput.vue';
import { core, plainCopy } from '../../workers/index.ts';
import PickOne from '../../common/PickOne.vue';

/** Focus runs into the record: a CSV dropped, its columns mapped and its bad rows listed; or one run typed. */
const props = defineProps<{ trainStateId: string; words: string; filters: string[] }>();
const emit = defineEmits<{ stored: [] }>();

const text = ref('');
const fileName = ref('');
const read = shallowRef<FocusCsv | null>(null);
const mapping = ref<FocusMapping>({});
const fahrenheit = ref(false);
const busy = ref(false);
const trouble = ref('');
const over = ref(false);
const WORDS: Record<FocusField, string> = {
  run: 'Run (each row a point)',
  filter: 'Filter',
  position: 'Position',
  hfd: 'Diameter',
  temperature: 'Temperature',
  time: 'Time (UTC unless it says)',
};

async function take(file: File | undefined) {
  if (!file) return;
  trouble.value = '';
  fileName.value = file.name;
  if (file.size > 6_000_000) {
    trouble.value = `${file.name} is ${(file.size / 1e6).toFixed(0)} MB; focus logs up to 5 MB are read. Split it by night.`;
    return;
  }
  text.value = await file.text();
  await parse();
}
async function parse(given?: FocusMapping) {
  const got = await core().readFocusCsv(text.value, given && plainCopy(given), fahrenheit.value);
  read.value = got;
  mapping.value = got.mapping;
}
function map(field: FocusField, column: unknown) {
  const next = { ...mapping.value };
  if (typeof column === 'string' && column !== '') next[field] = column;
  else delete next[field];
  void parse(next);
}
const unknown = computed(() =>
  [...new Set(read.value?.runs.map((r) => r.filter) ?? [])].filter((f) => !props.filters.includes(f)),
);
function drop(e: DragEvent) {
  over.value = false;
  void take(e.dataTransfer?.files[0]);
}
const blank = {
  position: 0,
  hfd: null,
  error: null,
  temperatureC: null,
  time: null,
  points: [],
  usable: true,
  reason: '',
};

/** Curves are fitted before they are stored, so that the record holds what the fit said. */
async function fitted(runs: ReadRun[]): Promise<FocusRunFields[]> {
  const withPoints = runs.filter((r) => r.points.length > 0);
  const fits = await core().curves(withPoints.map((r) => r.points));
  const fitOf = new Map(withPoints.map((r, i) => [r, fits[i]!]));
  return runs.map((r) => {
    const f = fitOf.get(r);
    const base = {
      ...blank,
      filter: r.filter,
      temperatureC: r.temperatureC ?? null,
      time: r.time ?? null,
      points: r.points,
    };
    if (!f) return { ...base, position: r.position ?? 0, hfd: r.hfd ?? null };
    return f.ok
      ? {
          ...base,
          position: f.value.position,
          hfd: f.value.minHfd,
          error: f.value.positionError,
          usable: f.value.usable,
          reason: f.value.reason,
        }
      : { ...base, position: r.points[0]!.position, usable: false, reason: f.message.slice(0, 500) };
  });
}
async function store(source: 'file' | 'typed', runs: ReadRun[]) {
  busy.value = true;
  trouble.value = '';
  const got = await call(api.addFocusRuns, {
    body: { trainStateId: props.trainStateId, source, runs: await fitted(runs) },
  });
  busy.value = false;
  if (!got.ok) {
    trouble.value = said(got.problem);
    return;
  }
  const { added, known } = got.value;
  void message.success(
    `${added} run${added === 1 ? '' : 's'} stored for ${props.words}${known ? `; ${known} were there already` : ''}.`,
  );
  if (source === 'file') read.value = null;
  emit('stored');
}

const typed = reactive({
  filter: '',
  position: null as number | null,
  temperatureC: null as number | null,
  hfd: null as number | null,
  time: '',
});
const typedTrouble = ref('');
async function addTyped() {
  const time = typed.time.trim()
    ? new Date(/z|[+-]\d\d:?\d\d$/i.test(typed.time) ? typed.time : `${typed.time.trim().replace(' ', 'T')}Z`)
    : null;
  typedTrouble.value = !typed.filter
    ? 'Choose the filter.'
    : typed.position === null
      ? 'Type the focuser position.'
      : time && Number.isNaN(time.getTime())
        ? `“${typed.time}” is not a time; write 2026-11-24 20:15 (UTC).`
        : '';
  if (typedTrouble.value) return;
  await store('typed', [
    {
      filter: typed.filter,
      position: typed.position,
      points: [],
      line: 0,
      ...(typed.hfd === null ? {} : { hfd: typed.hfd }),
      ...(typed.temperatureC === null ? {} : { temperatureC: typed.temperatureC }),
      ...(time ? { time: time.toISOString() } : {}),
    },
  ]);
  if (!trouble.value) typed.position = null;
}
</script>

<template>
  <Tabs>
    <TabPane key="file" tab="From a file">
      <label
        class="drop"
        :class="{ over }"
        @dragover.prevent="over = true"
        @dragleave="over = false"
        @drop.prevent="drop"
      >
        <input
          type="file"
          accept=".csv,.tsv,.txt,text/csv"
          class="visually-hidden"
          data-test="file"
          @change="take(($event.target as HTMLInputElement).files?.[0])"
        />
        <strong>Drop a focus log here, or choose one</strong>
        <span class="muted small"
          >CSV with a heading: filter and position are needed; diameter, temperature, time and run are used where they
          are. One row a run, or one row a point.</span
        >
      </label>
      <template v-if="read">
        <div class="mapping">
          <PickOne
            v-for="f in FOCUS_FIELDS"
            :key="f"
            shown
            :value="mapping[f] ?? ''"
            size="small"
            :label="WORDS[f]"
            :options="[{ value: '', label: '(none)' }, ...read.columns.map((c) => ({ value: c, label: c }))]"
            @update:value="map(f, $event)"
          />
          <PickOne
            label="Bare temperatures"
            shown
            :value="fahrenheit ? 'F' : 'C'"
            size="small"
            :options="[
              { value: 'C', label: '°C' },
              { value: 'F', label: '°F' },
            ]"
            @update:value="((fahrenheit = $event === 'F'), parse(mapping))"
          />
        </div>
        <p>
          <strong>{{ fileName }}</strong>: {{ read.rows }} rows, <strong>{{ read.runs.length }}</strong> run{{
            read.runs.length === 1 ? '' : 's'
          }}
          to store<template v-if="read.bad.length"
            >,
            <span class="level-caution"
              >{{ read.bad.length }} row{{ read.bad.length === 1 ? '' : 's' }} left out</span
            ></template
          >.
        </p>
        <p v-if="unknown.length" class="level-caution small">
          Not in this rig’s wheel: {{ unknown.join(', ') }}. They are stored under that name; rename the column’s values
          if they mean one of {{ filters.join(', ') }}.
        </p>
        <table v-if="read.bad.length" class="figures bad" data-test="bad-rows">
          <thead>
            <tr>
              <th class="num">Line</th>
              <th>What is wrong</th>
              <th>The row</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="b in read.bad.slice(0, 40)" :key="b.line + b.reason">
              <td class="num">{{ b.line }}</td>
              <td>{{ b.reason }}</td>
              <td class="mono small muted">{{ b.text }}</td>
            </tr>
          </tbody>
        </table>
        <table v-if="read.runs.length" class="figures">
          <thead>
            <tr>
              <th>Filter</th>
              <th class="num">Position</th>
              <th class="num">°C</th>
              <th>Time</th>
              <th class="num">Points</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="r in read.runs.slice(0, 5)" :key="r.line">
              <td>{{ r.filter }}</td>
              <td class="num">{{ r.position === null ? 'from the curve' : figure(r.position, 0) }}</td>
              <td class="num">{{ r.temperatureC === undefined ? '–' : figure(r.temperatureC, 1) }}</td>
              <td class="mono small">{{ r.time?.slice(0, 16).replace('T', ' ') ?? '–' }}</td>
              <td class="num">{{ r.points.length || '–' }}</td>
            </tr>
          </tbody>
        </table>
        <div class="row acts">
          <Button type="primary" :disabled="read.runs.length === 0" :loading="busy" @click="store('file', read.runs)"
            >Store {{ read.runs.length }} runs for {{ words }}</Button
          >
          <Button @click="read = null">Leave it</Button>
        </div>
      </template>
    </TabPane>
    <TabPane key="typed" tab="Typed">
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
        <Button type="primary" :loading="busy" @click="addTyped">Add</Button>
      </div>
      <p v-if="typedTrouble" class="level-bad small" role="alert">{{ typedTrouble }}</p>
    </TabPane>
  </Tabs>
  <p v-if="trouble" class="level-bad" role="alert">{{ trouble }}</p>
</template>

<style scoped>
.drop {
  display: grid;
  gap: 4px;
  padding: 18px 20px;
  border: 1.5px dashed var(--line-strong);
  border-radius: 4px;
  cursor: pointer;
  margin-bottom: 10px;
}
.over {
  border-color: var(--accent);
  background: var(--sunk);
}
.mapping {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(150px, 1fr));
  gap: 8px 12px;
  margin-bottom: 10px;
}
.mapping label,
.typed label {
  display: grid;
  gap: 2px;
}
.bad {
  max-height: 200px;
  margin-bottom: 8px;
}
.acts {
  margin-top: 10px;
}
.typed {
  align-items: end;
}
.filter {
  width: 100px;
}
.when {
  width: 160px;
}
</style>
