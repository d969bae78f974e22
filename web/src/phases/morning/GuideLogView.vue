<script setup lang="ts">
import { useUnits } from '../../stores/units.ts';
import { nameOf, phrase } from '@keen/core/phrases';
import { nightOf } from '@keen/core/record';
import { GUIDE_FIELDS, type GuideField } from '@keen/core/exchange';
import { GUIDE_FAULTS } from '@keen/core/observatory';
import { figure } from '@keen/core/quantities';
import { Button, Input } from 'ant-design-vue';
import { instantOfLocal } from '@keen/core/sky';
import { computed, ref, watch } from 'vue';
import ColumnMapper from '../../common/ColumnMapper.vue';
import DropFile from '../../common/DropFile.vue';
import EmptyState from '../../common/EmptyState.vue';
import PickOne from '../../common/PickOne.vue';
import TimeInput from '../../common/TimeInput.vue';
import QuantityInput from '../../common/QuantityInput.vue';
import VerdictLine from '../../common/VerdictLine.vue';
import WhenThere from '../../common/WhenThere.vue';
import WorkingFold from '../../common/WorkingFold.vue';
import { useClub } from '../../stores/club.ts';
import { useSession } from '../../stores/session.ts';
import GuideFigures from './GuideFigures.vue';
import GuideSpectrum from './GuideSpectrum.vue';
import GuideTrace from './GuideTrace.vue';
import KeptLogs from './KeptLogs.vue';
import { useGuideLog } from './useGuideLog.ts';

const WORDS: Record<GuideField, string> = {
  time: 'Time',
  ra: 'Right ascension',
  dec: 'Declination',
  raPulse: 'Pulse, RA',
  decPulse: 'Pulse, Dec',
  snr: 'Signal to noise',
  state: 'State',
};
const club = useClub();
const session = useSession();
const units = useUnits();
const used = useGuideLog();
const {
  name,
  trouble,
  read,
  mapping,
  unit,
  scale,
  result,
  spectrum,
  before,
  span,
  tookMs,
  busy,
  imagingScale,
  beganAt,
} = used;
const zone = computed(() => club.site?.timeZone ?? 'UTC');
/** A log that knows its time belongs to the evening before it, whatever night is looked at. */
const night = computed(() => (beganAt.value ? nightOf(beganAt.value, zone.value) : club.night));
/** Where nobody told yet: the evening, to be changed. */
const proposed = computed(() =>
  new Date(instantOfLocal(zone.value, Date.parse(`${club.night}T20:00:00Z`))).toISOString(),
);
const note = ref('');
const title = ref('');
/** Opens by itself where something cannot be read, and then stays until the next file. */
const showColumns = ref(false);
watch(name, (n) => {
  title.value = n.replace(/\.\w{2,4}$/, '');
  showColumns.value = false;
});
watch(read, (r) => {
  if (r && (r.bad.length || !r.samples.length)) showColumns.value = true;
});
const keeping = ref(false);
async function keep() {
  keeping.value = true;
  if (
    await used.keep({
      name: title.value.trim() || name.value,
      note: note.value,
      night: night.value,
      beganAt: beganAt.value,
    })
  )
    note.value = '';
  keeping.value = false;
}
</script>

<template>
  <VerdictLine
    v-if="result"
    :verdict="result.verdict"
    :notes="[
      span
        ? phrase('guide-log.part', { name, fromMin: span[0] / 60, toMin: span[1] / 60 })
        : phrase('guide-log.whole', { name }),
    ]"
  />
  <p v-if="trouble" class="level-bad" role="alert">{{ trouble }}</p>
  <section class="panel stack">
    <DropFile
      :title="read ? 'Read another log, to compare' : 'Drop a guide log here, or choose one'"
      accept=".csv,.txt,.tsv,.log,text/csv"
      test="guide-file"
      @take="used.take"
      >CSV: time (s or date), ra, dec as star minus lock on the sky; pulses in ms, snr and state where there are any.
      Read on this device; sent only when you keep it.</DropFile
    >
    <div class="row small">
      <span class="muted">Or a simulated night, to learn by:</span>
      <Button v-for="f in GUIDE_FAULTS" :key="f" size="small" @click="used.rehearse(f)">{{
        units.say(nameOf(f))
      }}</Button>
    </div>
    <template v-if="read">
      <details :open="showColumns" @toggle="showColumns = ($event.target as HTMLDetailsElement).open">
        <summary class="small">
          {{ read.rows.toLocaleString('en') }} rows, {{ read.samples.length.toLocaleString('en') }} used<template
            v-if="read.bad.length"
            >, <span class="level-caution">some left out</span></template
          ><template v-if="read.gaps">, {{ read.gaps }} long gap{{ read.gaps > 1 ? 's' : '' }}</template>.
          <span class="muted">Columns and units</span>
        </summary>
        <ColumnMapper
          :fields="GUIDE_FIELDS"
          :words="WORDS"
          :columns="read.columns"
          :mapping="mapping"
          class="mapping"
          @map="used.map"
        >
          <PickOne
            v-model:value="unit"
            label="Errors in"
            shown
            size="small"
            :options="[
              { value: 'arcsec', label: 'arcseconds' },
              { value: 'px', label: 'pixels' },
            ]"
          />
          <QuantityInput
            v-if="unit === 'px'"
            v-model="scale"
            dimension="number"
            unit="″/px"
            label="Guide scale"
            :min="0.01"
            :max="60"
            :step="0.1"
          />
        </ColumnMapper>
      </details>

      <table v-if="read.bad.length" class="figures" data-test="bad-rows">
        <tbody>
          <tr v-for="b in read.bad.slice(0, 12)" :key="b.line + b.reason">
            <td class="num">line {{ b.line }}</td>
            <td>{{ b.reason }}</td>
            <td class="mono small muted">{{ b.text }}</td>
          </tr>
        </tbody>
      </table>
    </template>
  </section>
  <p v-if="busy" class="muted" role="status">Reading {{ name }} …</p>
  <WhenThere :of="[used.answer]" />
  <EmptyState v-if="!read && used.answer.there.value && !used.logs.value.length" title="No guide log yet"
    >The trace says more than its rms: over-correction, backlash, wind, a worm, a polar error or a hot pixel each have
    their own mark.</EmptyState
  >
  <template v-if="read?.samples.length">
    <section class="panel stack">
      <div class="row spread">
        <h2>Trace <span class="muted small">right ascension solid, declination dashed; drag to choose a span</span></h2>
        <Button v-if="span" size="small" @click="span = null">Whole log</Button>
      </div>
      <GuideTrace :samples="read.samples" :span="span" @span="span = $event" />
    </section>
    <div v-if="result" class="split board">
      <section class="panel stack" data-test="findings">
        <h2>What stands out</h2>
        <div v-for="f in result.findings" :key="f.code" class="finding" :class="`level-${f.severity}`">
          <strong>{{ units.say(nameOf(f.code)) }}</strong>
          <p>{{ units.say(f.phrases[0]) }}</p>
          <p class="muted">{{ units.say(f.phrases[1]) }}</p>
        </div>
      </section>
      <GuideFigures :result="result" :before="before" :scale-arcsec-per-px="imagingScale" />
    </div>
    <section v-if="result && session.mayEdit" class="panel row keep" data-test="keep-log">
      <label class="small muted field"
        >Keep it as<Input v-model:value="title" :maxlength="120" aria-label="Name of the log"
      /></label>
      <label class="small muted field wide"
        >What was different that night<Input
          v-model:value="note"
          :maxlength="1000"
          placeholder="60 % of the error corrected, cable tied up"
          aria-label="What was different that night"
      /></label>
      <TimeInput
        v-if="beganAt"
        v-model="beganAt"
        label="Began, site time"
        :time-zone="zone"
        :night="night"
        title="With it every frame of the night knows how it was guided"
      />
      <Button v-else title="With it every frame of the night knows how it was guided" @click="beganAt = proposed"
        >Say when it began</Button
      >
      <Button type="primary" :loading="keeping" :disabled="!title.trim()" @click="keep"
        >Keep with the night of {{ night }}</Button
      >
    </section>
    <section v-if="spectrum" class="panel stack">
      <h2>Rhythms <span class="muted small">worked out in {{ figure(tookMs, 0) }} ms</span></h2>
      <GuideSpectrum :spectrum="spectrum" :worm-s="club.rig?.setup.mount.wormPeriodS ?? null" />
    </section>
    <WorkingFold v-if="result" :steps="result.working" />
  </template>
  <KeptLogs
    :logs="used.logs.value"
    :compared-id="before?.id ?? null"
    @open="used.open"
    @compare="used.compare"
    @drop="used.drop"
  />
</template>

<style scoped>
.keep {
  align-items: end;
}
.field {
  display: grid;
  gap: 2px;
  min-width: 200px;
}
.wide {
  flex: 1;
}
summary {
  cursor: pointer;
}
.mapping {
  margin-top: 8px;
}
.board {
  grid-template-columns: minmax(0, 1.5fr) minmax(280px, 1fr);
}
.finding {
  border-left: 3px solid currentcolor;
  padding-left: 12px;
}
.finding p {
  color: var(--ink);
}
.finding .muted {
  color: var(--ink-2);
}
@media (max-width: 960px) {
  .board {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
