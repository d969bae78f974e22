<script setup lang="ts">
import type { PlanSent } from '@keen/contract';
import { figure } from '@keen/core/quantities';
import type { Order } from '@keen/core/sequence';
import { Button, Progress } from 'ant-design-vue';
import { computed, toRef } from 'vue';
import JobProgress from '../../common/JobProgress.vue';
import FilterTile from '../../common/FilterTile.vue';
import QuantityInput from '../../common/QuantityInput.vue';
import { useForecast } from '../../common/useForecast.ts';
import VerdictText from '../../common/VerdictText.vue';
import WorkingFold from '../../common/WorkingFold.vue';
import { useRisk, type RiskPlan } from './useRisk.ts';

/** What a cloudy night leaves of this plan, order by order, so that the choice is plain before going to bed. */
const props = defineProps<{
  plan: RiskPlan | null;
  /** Under which the plan is saved, and as it would be sent. */
  saved: string | null;
  sent: () => PlanSent;
  order: Order;
  filters: readonly { name: string }[];
  off: boolean;
}>();
const emit = defineEmits<{ take: [order: Order] }>();
const {
  weather,
  guessed,
  setWeather,
  learnt,
  fromForecast,
  found,
  progress,
  trouble,
  play,
  cancel,
  nights,
  job,
  asking,
  playMore,
  cancelJob,
  moreNights,
} = useRisk(toRef(props, 'plan'), { id: () => props.saved, sent: () => props.sent() });
const forecast = useForecast();
const learntSpells = computed(() => ({
  clearMeanMin: Math.round(learnt.value!.clearMeanMin),
  cloudMeanMin: Math.max(1, Math.round(learnt.value!.cloudMeanMin)),
}));
const sameAsLearnt = computed(() => JSON.stringify(learntSpells.value) === JSON.stringify(weather.value));
/** Cloud foretold on average while this leg may work. */
const cloudShare = computed(() => {
  const [f, p] = [forecast.value, props.plan];
  if (!f || !p) return null;
  const hours = p.prepared[p.legIndex]?.input;
  if (!hours) return null;
  const inside = f.hours.filter((h) => h.at >= hours.start && h.at <= hours.end);
  return inside.length ? inside.reduce((s, h) => s + h.cloudShare, 0) / inside.length : null;
});
const rows = computed(() =>
  (Object.keys(found.value?.perOrder ?? {}) as Order[]).map((order) => ({
    order,
    left: found.value!.perOrder[order]!,
  })),
);
const percent = (share: number) => figure(100 * share, 0);
</script>

<template>
  <section class="panel stack" data-test="risk">
    <div class="row spread">
      <h2>If cloud comes</h2>
      <span v-if="progress < 0" class="row">
        <Button size="small" :disabled="!plan || asking" @click="play">
          {{ found ? 'Play them again' : `Play ${figure(nights, 0)} nights` }}
        </Button>
        <Button size="small" :disabled="!plan" :loading="asking" @click="playMore"
          >{{ figure(moreNights, 0) }} on the server</Button
        >
      </span>
      <Button v-else size="small" @click="cancel()">Cancel</Button>
    </div>
    <div class="row">
      <QuantityInput
        :model-value="weather.clearMeanMin"
        dimension="number"
        unit="min"
        label="Clear spells, on average"
        :min="1"
        :max="100000"
        :step="10"
        :decimals="0"
        width="150px"
        @update:model-value="(v) => v !== null && setWeather({ clearMeanMin: v })"
      />
      <QuantityInput
        :model-value="weather.cloudMeanMin"
        dimension="number"
        unit="min"
        label="Cloud, on average"
        :min="1"
        :max="100000"
        :step="10"
        :decimals="0"
        width="150px"
        @update:model-value="(v) => v !== null && setWeather({ cloudMeanMin: v })"
      />
    </div>
    <p v-if="learnt" class="row small" data-test="learnt">
      <span
        >{{ learnt.nights }} nights of this site on record: clear {{ figure(learnt.clearMeanMin, 0) }} min, cloud
        {{ figure(learnt.cloudMeanMin, 0) }} min on average, from {{ learnt.clearEnds }} and
        {{ learnt.cloudEnds }} changes.</span
      >
      <Button v-if="!sameAsLearnt" size="small" @click="setWeather(learntSpells)">Take these</Button>
    </p>
    <p v-if="forecast && cloudShare !== null" class="row small" data-test="foretold">
      <span>Foretold ({{ forecast.source }}): {{ percent(cloudShare) }} % cloud in the hours of this leg.</span>
      <Button size="small" @click="fromForecast(cloudShare)">Take this share</Button>
    </p>
    <p v-if="guessed" class="muted small">
      A guess to begin with, no source: put in what nights at this place are like.
    </p>
    <Progress v-if="progress >= 0" :percent="Math.round(100 * progress)" size="small" />
    <JobProgress v-if="job && !job.endedAt" :job="job" @cancel="cancelJob" />
    <p v-if="trouble" class="level-bad small" role="alert">{{ trouble }}</p>
    <template v-if="found">
      <VerdictText :verdict="found.verdict" />
      <table class="figures">
        <thead>
          <tr>
            <th>Order</th>
            <th>Frames a night</th>
            <th class="num">of the goal</th>
            <th>eight nights in ten</th>
            <th class="num">something in all</th>
            <th class="num">focusing</th>
            <th />
          </tr>
        </thead>
        <tbody>
          <tr v-for="{ order: o, left } in rows" :key="o" :class="{ best: o === found.best }">
            <td><strong v-if="o === found.best">{{ o }}</strong><template v-else>{{ o }}</template></td>
            <td>
              <span v-for="f in filters" :key="f.name" class="frames">
                <FilterTile :name="f.name" /> {{ figure(left.expectedFrames[f.name] ?? 0, 1) }}
              </span>
            </td>
            <td class="num">{{ percent(left.expectedBalanced) }} ± {{ figure(196 * left.balancedError, 1) }} %</td>
            <td>
              <span
                class="range"
                role="img"
                :aria-label="`from ${percent(left.quantiles.p10)} to ${percent(left.quantiles.p90)} %, half of the nights over ${percent(left.quantiles.p50)} %`"
              >
                <span
                  class="most"
                  :style="{ left: `${percent(left.quantiles.p10)}%`, right: `${100 - 100 * left.quantiles.p90}%` }"
                />
                <span class="half" :style="{ left: `${percent(left.quantiles.p50)}%` }" />
              </span>
            </td>
            <td class="num">
              {{ percent(Math.min(left.probabilityAllFilters, left.probabilityAllFilters < 1 ? 0.99 : 1)) }} %
            </td>
            <td class="num">{{ figure(left.minutes.focus, 0) }} min</td>
            <td class="num">
              <Button v-if="!off && o !== order" size="small" @click="emit('take', o)">Take it</Button>
              <span v-else-if="o === order" class="muted small">planned</span>
            </td>
          </tr>
        </tbody>
      </table>
      <p class="muted small">
        Of the goal: the filter that has least of its own, with the frames the project has already; so is “something in
        all”. ± is what {{ figure(nights, 0) }} drawn nights leave open (95 %), not what the two averages above leave
        open. The cloud of a drawn night is known beforehand here; in the real one a frame or two more are lost at every
        edge of it.
      </p>
      <WorkingFold :steps="found.working" />
    </template>
  </section>
</template>

<style scoped>
.frames {
  display: inline-flex;
  align-items: center;
  gap: 4px;
  margin-right: 10px;
  white-space: nowrap;
}
.best td {
  background: color-mix(in srgb, var(--sunk) 70%, transparent);
}
.range {
  position: relative;
  display: block;
  min-width: 110px;
  height: 12px;
  border-bottom: 1px solid var(--line-strong);
}
.most {
  position: absolute;
  top: 3px;
  bottom: 2px;
  background: color-mix(in srgb, var(--accent) 45%, transparent);
}
.half {
  position: absolute;
  top: 0;
  bottom: 0;
  width: 2px;
  background: var(--accent);
}
</style>
