<script setup lang="ts">
import { GUIDE_FIELDS, type GuideCsv, type GuideField, type GuideMapping } from '@keen/core/exchange';
import type { LogOutput } from '@keen/core/guiding';
import { figure, scaleArcsecPerPx, signed } from '@keen/core/quantities';
import { Button } from 'ant-design-vue';
import { computed, ref, shallowRef, watch } from 'vue';
import EmptyState from '../../common/EmptyState.vue';
import PickOne from '../../common/PickOne.vue';
import QuantityInput from '../../common/QuantityInput.vue';
import VerdictLine from '../../common/VerdictLine.vue';
import WorkingFold from '../../common/WorkingFold.vue';
import { useClub } from '../../stores/club.ts';
import { core, plainCopy } from '../../workers/index.ts';
import GuideTrace from './GuideTrace.vue';

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
const text = ref('');
const name = ref('');
const trouble = ref('');
const read = shallowRef<GuideCsv | null>(null);
const mapping = ref<GuideMapping>({});
const unit = ref<'arcsec' | 'px'>('arcsec');
const scale = ref<number | null>(1);
const result = shallowRef<LogOutput | null>(null);
const before = shallowRef<{ name: string; result: LogOutput } | null>(null);
const span = ref<[number, number] | null>(null);
const tookMs = ref(0);
/** The rule by which a person calls guiding good. */
const rule = ref<'1' | '0.8' | 'half-px' | 'seeing'>('0.8');
const imagingScale = computed(() =>
  club.rig ? scaleArcsecPerPx(club.rig.setup.camera.pixelUm, club.rig.setup.focalLengthMm) : null,
);

async function take(file: File | undefined) {
  if (!file) return;
  trouble.value = '';
  if (file.size > 120_000_000) {
    trouble.value = `${file.name} is ${(file.size / 1e6).toFixed(0)} MB; logs up to 120 MB are read. Split it by night.`;
    return;
  }
  if (result.value) before.value = { name: name.value, result: result.value };
  name.value = file.name;
  text.value = await file.text();
  span.value = null;
  await parse();
}
async function parse(given?: GuideMapping) {
  const got = await core().readGuideCsv(
    text.value,
    given && plainCopy(given),
    unit.value === 'px' ? (scale.value ?? 1) : 1,
  );
  read.value = got;
  mapping.value = got.mapping;
}
function map(field: GuideField, column: unknown) {
  const next = { ...mapping.value };
  if (typeof column === 'string' && column) next[field] = column;
  else delete next[field];
  void parse(next);
}
watch([unit, scale], () => text.value && void parse(mapping.value));
let turn = 0;
watch([read, span], async () => {
  const mine = ++turn;
  result.value = null;
  const all = read.value?.samples ?? [];
  if (!all.length) return;
  const samples = span.value ? all.filter((s) => s.timeS >= span.value![0] && s.timeS <= span.value![1]) : all;
  const begun = performance.now();
  const got = await core().guideLog({
    samples,
    ...(imagingScale.value ? { imagingScaleArcsecPerPx: imagingScale.value } : {}),
  });
  if (mine !== turn) return;
  tookMs.value = performance.now() - begun;
  if (got.ok) result.value = got.value;
  trouble.value = got.ok ? '' : got.message;
});
const judged = computed(() => {
  const r = result.value;
  if (!r) return null;
  const limit =
    rule.value === 'half-px' ? (imagingScale.value ?? 1) / 2 : rule.value === 'seeing' ? 2.2 / 3 : Number(rule.value);
  const ok = r.rms.total <= limit;
  return { ok, text: `${figure(r.rms.total, 2)}″ against ${figure(limit, 2)}″: ${ok ? 'kept' : 'not kept'}` };
});
</script>

<template>
  <VerdictLine
    v-if="result"
    :verdict="result.verdict"
    :detail="`${name}${span ? `, ${figure(span[0] / 60, 0)} to ${figure(span[1] / 60, 0)} min` : ''}.`"
  />
  <p v-if="trouble" class="level-bad" role="alert">{{ trouble }}</p>
  <section class="panel stack">
    <label class="drop">
      <input
        type="file"
        accept=".csv,.txt,.tsv,.log,text/csv"
        class="visually-hidden"
        data-test="guide-file"
        @change="take(($event.target as HTMLInputElement).files?.[0])"
      />
      <strong>{{ read ? 'Read another log, to compare' : 'Choose a guide log' }}</strong>
      <span class="muted small"
        >CSV: time (s or date), ra, dec as star minus lock on the sky; pulses in ms, snr and state where there are any.
        Nothing is sent anywhere.</span
      >
    </label>
    <template v-if="read">
      <div class="mapping">
        <PickOne
          v-for="f in GUIDE_FIELDS"
          :key="f"
          shown
          :label="WORDS[f]"
          size="small"
          :value="mapping[f] ?? ''"
          :options="[{ value: '', label: '(none)' }, ...read.columns.map((c) => ({ value: c, label: c }))]"
          @update:value="map(f, $event)"
        />
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
      </div>
      <p class="small">
        {{ read.rows.toLocaleString('en') }} rows, {{ read.samples.length.toLocaleString('en') }} used<template
          v-if="read.bad.length"
          >, <span class="level-caution">some left out</span></template
        ><template v-if="read.gaps">, {{ read.gaps }} long gap{{ read.gaps > 1 ? 's' : '' }}</template
        >.
      </p>
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
  <EmptyState v-if="!read" title="No guide log yet"
    >The trace says more than its rms: over-correction, backlash, wind, a worm, a polar error or a hot pixel each have
    their own mark.</EmptyState
  >
  <template v-else-if="read.samples.length">
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
          <strong>{{ f.code.replaceAll('-', ' ') }}</strong>
          <p>{{ f.evidence }}</p>
          <p class="muted">{{ f.advice }}</p>
        </div>
      </section>
      <section class="panel stack">
        <table class="figures">
          <thead>
            <tr>
              <th />
              <th class="num">now</th>
              <th v-if="before" class="num">{{ before.name }}</th>
            </tr>
          </thead>
          <tbody>
            <tr>
              <td>rms in all</td>
              <td class="num">{{ figure(result.rms.total, 2) }}″</td>
              <td v-if="before" class="num">{{ figure(before.result.rms.total, 2) }}″</td>
            </tr>
            <tr>
              <td>right ascension</td>
              <td class="num">{{ figure(result.rms.ra, 2) }}″</td>
              <td v-if="before" class="num">{{ figure(before.result.rms.ra, 2) }}″</td>
            </tr>
            <tr>
              <td>declination</td>
              <td class="num">{{ figure(result.rms.dec, 2) }}″</td>
              <td v-if="before" class="num">{{ figure(before.result.rms.dec, 2) }}″</td>
            </tr>
            <tr v-if="result.rmsImagingPx">
              <td>in the main camera</td>
              <td class="num">{{ figure(result.rmsImagingPx, 2) }} px</td>
              <td v-if="before" class="num">{{ figure(before.result.rmsImagingPx ?? 0, 2) }} px</td>
            </tr>
            <tr>
              <td>drift</td>
              <td class="num">
                {{ signed(result.driftArcsecPerMin.ra, 2) }}, {{ signed(result.driftArcsecPerMin.dec, 2) }}″/min
              </td>
              <td v-if="before" class="num">
                {{ signed(before.result.driftArcsecPerMin.ra, 2) }},
                {{ signed(before.result.driftArcsecPerMin.dec, 2) }}
              </td>
            </tr>
            <tr>
              <td>neighbours alike</td>
              <td class="num">{{ signed(result.lag1.ra, 2) }}, {{ signed(result.lag1.dec, 2) }}</td>
              <td v-if="before" class="num">
                {{ signed(before.result.lag1.ra, 2) }}, {{ signed(before.result.lag1.dec, 2) }}
              </td>
            </tr>
            <tr v-if="result.dominantPeriodS">
              <td>rhythm</td>
              <td class="num">{{ figure(result.dominantPeriodS, 0) }} s</td>
              <td v-if="before" class="num">
                {{ before.result.dominantPeriodS ? `${figure(before.result.dominantPeriodS, 0)} s` : '–' }}
              </td>
            </tr>
            <tr v-if="result.polarErrorArcmin !== undefined">
              <td>polar error, at least</td>
              <td class="num">{{ figure(result.polarErrorArcmin, 1) }}′</td>
              <td v-if="before" class="num">–</td>
            </tr>
          </tbody>
        </table>
        <PickOne
          v-model:value="rule"
          label="Your rule"
          shown
          :options="[
            { value: '1', label: 'below 1″' },
            { value: '0.8', label: 'below 0.8″' },
            { value: 'half-px', label: 'below half a pixel' },
            { value: 'seeing', label: 'below a third of the seeing' },
          ]"
        />
        <p v-if="judged" :class="judged.ok ? 'level-good' : 'level-caution'">{{ judged.text }}</p>
        <p class="muted small">Worked out in {{ figure(tookMs, 0) }} ms.</p>
      </section>
    </div>
    <WorkingFold v-if="result" :steps="result.working" />
  </template>
</template>

<style scoped>
.drop {
  display: grid;
  gap: 4px;
  padding: 16px 20px;
  border: 1.5px dashed var(--line-strong);
  border-radius: 4px;
  cursor: pointer;
}
.drop:focus-within {
  border-color: var(--accent);
}
.mapping {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(130px, 1fr));
  gap: 8px 12px;
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
