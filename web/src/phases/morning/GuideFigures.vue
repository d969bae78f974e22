<script setup lang="ts">
import { nameOf, phrase, sentences, words } from '@keen/core/phrases';
import { allowedArcsec, RULES, type LogSummary, type RuleId } from '@keen/core/guiding';
import { figure, signed } from '@keen/core/quantities';
import { useLocalStorage } from '@vueuse/core';
import { computed } from 'vue';
import PickOne from '../../common/PickOne.vue';
import QuantityInput from '../../common/QuantityInput.vue';

/** A log's figures, beside those of another night, and the person's own rule for what is good. */
type Figures = Omit<LogSummary, 'samples' | 'spanS'>;
const props = defineProps<{
  result: Figures;
  before: { name: string; result: Figures } | null;
  scaleArcsecPerPx: number | null;
}>();
const rule = useLocalStorage<RuleId>('keen.guide-rule', 'point-eight');
const seeing = useLocalStorage('keen.seeing', 2.2);
const judged = computed(() => {
  const limit = allowedArcsec(rule.value, {
    scaleArcsecPerPx: props.scaleArcsecPerPx ?? 1,
    seeingArcsec: seeing.value,
  });
  const ok = props.result.rms.total <= limit;
  return {
    ok,
    text: words(
      phrase(ok ? 'guide.rule-kept' : 'guide.rule-not-kept', {
        scatterArcsec: props.result.rms.total,
        limitArcsec: limit,
      }),
    ),
  };
});
const rows = computed(() => {
  const of = (r: Figures) => [
    `${figure(r.rms.total, 2)}″`,
    `${figure(r.rms.ra, 2)}″`,
    `${figure(r.rms.dec, 2)}″`,
    r.rmsImagingPx === undefined ? '–' : `${figure(r.rmsImagingPx, 2)} px`,
    `${figure(r.peak.ra, 1)}, ${figure(r.peak.dec, 1)}″`,
    `${signed(r.driftArcsecPerMin.ra, 2)}, ${signed(r.driftArcsecPerMin.dec, 2)}″/min`,
    `${signed(r.lag1.ra, 2)}, ${signed(r.lag1.dec, 2)}`,
    r.dominantPeriodS === undefined ? '–' : `${figure(r.dominantPeriodS, 0)} s`,
    r.polarErrorArcmin === undefined ? '–' : `${figure(r.polarErrorArcmin, 1)}′`,
  ];
  const names = [
    'scatter in all, rms',
    'right ascension',
    'declination',
    'in the main camera',
    'farthest off',
    'drift',
    'neighbours alike',
    'rhythm',
    'polar error, at least',
  ];
  const [now, then] = [of(props.result), props.before ? of(props.before.result) : null];
  return names.map((name, i) => ({ name, now: now[i]!, then: then?.[i] ?? null }));
});
/** What the change between two nights did, in words. */
const change = computed(() => {
  if (!props.before) return null;
  const [a, b] = [props.before.result.rms.total, props.result.rms.total];
  const share = Math.round(100 * (b / a - 1));
  const gone = props.before.result.findings.filter(
    (f) => f.code !== 'calm' && !props.result.findings.some((g) => g.code === f.code),
  );
  const come = props.result.findings.filter(
    (f) => f.code !== 'calm' && !props.before!.result.findings.some((g) => g.code === f.code),
  );
  const named = (list: typeof gone) => ({ findings: list.map((f) => nameOf(f.code)) });
  return {
    better: b < a,
    text: sentences([
      phrase(share < 0 ? 'guide.less-scatter' : 'guide.more-scatter', {
        sharePercent: Math.abs(share),
        name: props.before.name,
      }),
      ...(gone.length ? [phrase('guide.gone', named(gone))] : []),
      ...(come.length ? [phrase('guide.come', named(come))] : []),
    ]),
  };
});
</script>

<template>
  <section class="panel stack">
    <p v-if="change" :class="change.better ? 'level-good' : 'level-caution'" data-test="change">{{ change.text }}</p>
    <table class="figures" data-test="guide-figures">
      <thead>
        <tr>
          <th />
          <th class="num">now</th>
          <th v-if="before" class="num">{{ before.name }}</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="r in rows" :key="r.name">
          <td>{{ r.name }}</td>
          <td class="num">{{ r.now }}</td>
          <td v-if="before" class="num">{{ r.then }}</td>
        </tr>
      </tbody>
    </table>
    <div class="rule">
      <PickOne
        v-model:value="rule"
        label="Your rule"
        shown
        :options="RULES.map((r) => ({ value: r.id, label: r.label }))"
      />
      <QuantityInput
        v-if="rule === 'seeing'"
        v-model="seeing"
        dimension="number"
        unit="″"
        label="Seeing"
        :min="0.3"
        :max="12"
        :step="0.1"
        :decimals="1"
      />
    </div>
    <p :class="judged.ok ? 'level-good' : 'level-caution'">{{ judged.text }}</p>
  </section>
</template>

<style scoped>
.rule {
  display: grid;
  grid-template-columns: minmax(0, 1fr) auto;
  gap: 8px;
  align-items: end;
}
</style>
