<script setup lang="ts">
import { pointedAt } from '@keen/core/record';
import { api, type ProjectRecord, type RigRecord, type SiteRecord } from '@keen/contract';
import { toCsv } from '@keen/core/exchange';
import {
  planFileOf,
  planOfFile,
  planSteps,
  readPlanFile,
  type NightSchedule,
  type NightPlan,
} from '@keen/core/sequence';
import { Button } from 'ant-design-vue';
import { computed, ref, watch } from 'vue';
import { call } from '../../api/client.ts';
import { problemText } from '../../common/outcome.ts';
import { download } from '../../common/download.ts';
import { plainCopy } from '../../workers/index.ts';
import { planCalendar } from './planCalendar.ts';

/** The night as files, and a plan from one. */
const props = defineProps<{
  plan: NightPlan;
  schedule: NightSchedule | null;
  names: string[];
  rig: Pick<RigRecord, 'id' | 'name'>;
  site: SiteRecord;
  night: string;
  projects: ProjectRecord[];
  now: number;
  /** A plan may be read in. */
  open: boolean;
}>();
const emit = defineEmits<{ take: [plan: NightPlan] }>();
const trouble = ref<string[]>([]);
const pointing = (p: ProjectRecord) => ({ object: p.object, ...pointedAt(p, null, []) });
const stem = computed(() => `night-${props.night}-${props.rig.name.toLowerCase().replace(/[^a-z0-9]+/g, '-')}`);
function asPlan() {
  const { opening, legs, closing, watches } = plainCopy(props.plan);
  const targetOf = (id: string) => pointing(props.projects.find((p) => p.id === id)!);
  const file = planFileOf(
    { opening, legs, closing, watches },
    { rig: props.rig.name, night: props.night, timeZone: props.site.timeZone, targetOf },
  );
  download(`${stem.value}.json`, `${JSON.stringify(file, null, 2)}\n`);
}
const asSteps = () => download(`${stem.value}.csv`, toCsv(planSteps(props.schedule!, props.names) as never));
const asCalendar = () =>
  download(
    `${stem.value}.ics`,
    planCalendar(props.schedule!, {
      id: `${props.rig.id}.${props.night}`,
      rig: props.rig.name,
      site: props.site.name,
      names: props.names,
      now: new Date(props.now),
    }),
  );
const feed = ref('');
async function askFeed() {
  const got = await call(api.calendarFeed, { params: { id: props.rig.id } });
  if (got.ok) feed.value = `${location.origin}${got.value.path}`;
  else trouble.value = [problemText(got.problem)];
}
/** Whoever was given the address reads no more. */
async function dropFeed() {
  const got = await call(api.dropCalendarFeed, { params: { id: props.rig.id } });
  if (got.ok) feed.value = '';
  else trouble.value = [problemText(got.problem)];
}
watch(
  () => props.rig.id,
  () => (feed.value = ''),
);
const print = () => window.print();
/** A plan of the most legs there can be has a hundredth of it [bytes]. */
const MOST_PLAN = 5_000_000;
async function take(e: Event) {
  const field = e.target as HTMLInputElement;
  const file = field.files?.[0];
  field.value = '';
  if (!file) return;
  if (file.size > MOST_PLAN) {
    trouble.value = [
      `${file.name} has ${(file.size / 1e6).toFixed(0)} MB; a plan’s file has ${MOST_PLAN / 1e6} at most. Is it another file?`,
    ];
    return;
  }
  const got = readPlanFile(await file.text());
  if (!got.ok) {
    trouble.value = got.issues.map((i) => `${file.name}${i.path ? `, ${i.path}` : ''}: ${i.message}.`);
    return;
  }
  const projects = props.projects.map((p) => ({ id: p.id, ...pointing(p) }));
  const { plan, missing } = planOfFile(got.file, { night: props.night, timeZone: props.site.timeZone, projects });
  trouble.value = plan
    ? []
    : [`No project of this rig points at ${missing.join(', ')}: start one under Season, then open the file again.`];
  if (plan) emit('take', plan);
}
</script>

<template>
  <div class="stack no-print" data-test="files">
    <div class="row">
      <slot />
      <Button size="small" :disabled="!schedule" @click="print">Print the run sheet</Button>
      <Button size="small" @click="asPlan">Plan (JSON)</Button>
      <Button size="small" :disabled="!schedule" @click="asSteps">Steps (CSV)</Button>
      <Button size="small" :disabled="!schedule" @click="asCalendar">Calendar</Button>
      <Button size="small" @click="askFeed">Calendar feed</Button>
      <label v-if="open" class="take">
        <input
          type="file"
          accept=".json,application/json"
          class="visually-hidden"
          data-test="plan-file"
          @change="take"
        />
        Open a plan file
      </label>
    </div>
    <p v-if="feed" class="small feed" data-test="feed">
      <label
        >Every night of the {{ rig.name }}, kept up to date, for a calendar to subscribe to
        <input class="mono" readonly :value="feed" @focus="($event.target as HTMLInputElement).select()"
      /></label>
      <span class="muted">Your own address: whoever has it can read the plans, nothing else.</span>
      <Button size="small" data-test="drop-feed" @click="dropFeed">Take it back</Button>
    </p>
    <ul v-if="trouble.length" class="level-bad small" role="alert">
      <li v-for="t in trouble" :key="t">{{ t }}</li>
    </ul>
  </div>
</template>

<style scoped>
.feed label {
  display: grid;
  gap: 2px;
}
.feed input {
  width: 100%;
  font-size: 12px;
  padding: 4px 8px;
  border: 1px solid var(--line-strong);
  background: var(--surface);
  color: var(--ink);
}
.take {
  cursor: pointer;
  text-decoration: underline;
  color: var(--accent-ink, var(--accent));
  font-size: 13px;
}
.take:focus-within {
  outline: 2px solid var(--accent);
}
ul {
  margin: 0;
  padding-left: 18px;
}
</style>
