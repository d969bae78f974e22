<script setup lang="ts">
import { api, type FocusRunFields } from '@keen/contract';
import {
  FOCUS_FIELDS,
  type FocusCsv,
  type FocusField,
  type FocusMapping,
  type ReadRun,
  type TableAnswers,
} from '@keen/core/exchange';
import { matchFilter } from '@keen/core/frames';
import { figure } from '@keen/core/quantities';
import { Button, TabPane, Tabs, message } from 'ant-design-vue';
import { computed, ref, shallowRef } from 'vue';
import { call } from '../../api/client.ts';
import { problemText } from '../../common/outcome.ts';
import ColumnMapper from '../../common/ColumnMapper.vue';
import { useColumnMemory } from '../../common/columnMemory.ts';
import DropFile from '../../common/DropFile.vue';
import TableQuestions from '../../common/TableQuestions.vue';
import { useClub } from '../../stores/club.ts';
import { useHandOver } from '../../stores/handOver.ts';
import { core, plainCopy } from '../../workers/index.ts';
import PickOne from '../../common/PickOne.vue';
import FocusTyped from './FocusTyped.vue';
import { useUnits } from '../../stores/units.ts';

const units = useUnits();
const club = useClub();
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
const answers = ref<TableAnswers>({});
const memory = useColumnMemory<{ mapping: FocusMapping; fahrenheit: boolean; answers?: TableAnswers }>('focus');
/** What names in the file mean in this rig, where they are spelled otherwise. */
const meant = ref<Record<string, string>>({});
const WORDS: Record<FocusField, string> = {
  run: 'Run (each row a point)',
  filter: 'Filter',
  position: 'Position',
  hfd: 'Diameter',
  temperature: 'Temperature',
  date: 'Day, where apart',
  time: 'Time (UTC unless it says)',
};

async function take(file: File) {
  trouble.value = '';
  fileName.value = file.name;
  if (file.size > 6_000_000) {
    trouble.value = `${file.name} is ${(file.size / 1e6).toFixed(0)} MB; focus logs up to 5 MB are read. Split it by night.`;
    return;
  }
  text.value = await file.text();
  [answers.value, meant.value] = [{}, {}];
  await parse();
  const before = memory.recall(read.value?.columns ?? []);
  if (!before) return;
  fahrenheit.value = before.fahrenheit;
  answers.value = before.answers ?? {};
  await parse(before.mapping);
}
const given = useHandOver().take('focus-log');
if (given) void take(given);
async function parse(given?: FocusMapping) {
  const got = await core().readFocusCsv(
    text.value,
    given && plainCopy(given),
    fahrenheit.value,
    plainCopy(answers.value),
  );
  read.value = got;
  mapping.value = got.mapping;
}
/** What a person chose holds for the next file with these headings. */
async function choose(given: FocusMapping) {
  await parse(given);
  if (read.value)
    memory.remember(read.value.columns, {
      mapping: mapping.value,
      fahrenheit: fahrenheit.value,
      answers: answers.value,
    });
}
/** Answers to what the table left open. */
async function answer(columns: Record<string, string>, how: TableAnswers) {
  answers.value = { ...answers.value, ...how };
  const chosen = Object.fromEntries(Object.entries({ ...mapping.value, ...columns }).filter(([, c]) => c));
  await choose(chosen as FocusMapping);
}
const unknown = computed(() =>
  [...new Set(read.value?.runs.map((r) => r.filter) ?? [])].filter((f) => !props.filters.includes(f)),
);
/** The rig’s own name where a spelling is known, else what a person chose, else as in the file. */
const filterOf = (name: string) => meant.value[name] || matchFilter(name, props.filters) || name;
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
      filter: filterOf(r.filter),
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
      : { ...base, position: r.points[0]!.position, usable: false, reason: problemText(f.problem).slice(0, 500) };
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
    trouble.value = problemText(got.problem);
    return false;
  }
  const { added, known } = got.value;
  void message.success(
    `${added} run${added === 1 ? '' : 's'} stored for ${props.words}${known ? `; ${known} were there already` : ''}.`,
  );
  if (source === 'file') read.value = null;
  emit('stored');
  return true;
}
</script>

<template>
  <Tabs>
    <TabPane key="file" tab="From a file">
      <DropFile
        title="Drop a focus log here, or choose one"
        accept=".csv,.tsv,.txt,text/csv"
        test="file"
        class="file"
        @take="take"
        >CSV with a heading: filter and position are needed; diameter, temperature, time and run are used where they
        are. One row a run, or one row a point.</DropFile
      >
      <template v-if="read">
        <ColumnMapper
          :fields="FOCUS_FIELDS"
          :words="WORDS"
          :columns="read.columns"
          :mapping="mapping"
          class="file"
          @map="choose"
        >
          <PickOne
            label="Bare temperatures"
            shown
            :value="fahrenheit ? 'F' : 'C'"
            size="small"
            :options="[
              { value: 'C', label: '°C' },
              { value: 'F', label: '°F' },
            ]"
            @update:value="((fahrenheit = $event === 'F'), choose(mapping))"
          />
        </ColumnMapper>
        <TableQuestions
          v-if="read.asks.length"
          :asks="read.asks"
          :columns="read.columns"
          :sample="read.sample"
          :words="WORDS"
          :time-zone="club.site?.timeZone ?? 'UTC'"
          @answer="answer"
        />
        <p v-else>
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
        <div v-if="unknown.length && filters.length" class="row meant" data-test="meant">
          <span class="level-caution small">Not called so in this rig:</span>
          <PickOne
            v-for="f in unknown"
            :key="f"
            shown
            size="small"
            :label="`“${f}” is`"
            :value="filterOf(f)"
            :options="[...filters.map((x) => ({ value: x, label: x })), { value: f, label: `${f}, as it stands` }]"
            @update:value="meant = { ...meant, [f]: String($event) }"
          />
        </div>
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
              <th class="num">Temperature</th>
              <th>Time</th>
              <th class="num">Points</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="r in read.runs.slice(0, 5)" :key="r.line">
              <td>{{ filterOf(r.filter) }}</td>
              <td class="num">{{ r.position === null ? 'from the curve' : figure(r.position, 0) }}</td>
              <td class="num">{{ r.temperatureC === undefined ? '–' : units.temperature(r.temperatureC) }}</td>
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
      <FocusTyped :filters="filters" :busy="busy" :store="(run) => store('typed', [run])" />
    </TabPane>
  </Tabs>
  <p v-if="trouble" class="level-bad" role="alert">{{ trouble }}</p>
</template>

<style scoped>
.file {
  margin-bottom: 10px;
}
.meant {
  flex-wrap: wrap;
  align-items: end;
}
.bad {
  max-height: 200px;
  margin-bottom: 8px;
}
.acts {
  margin-top: 10px;
}
</style>
