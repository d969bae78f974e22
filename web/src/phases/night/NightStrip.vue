<script setup lang="ts">
import { useElementSize } from '@vueuse/core';
import type { SiteRecord } from '@keen/contract';
import { night as nightOf } from '@keen/core/sky';
import { computed, ref } from 'vue';
import { coreSite } from '../../common/records.ts';
import { timeScale } from './lanes.ts';
import NightSky from './NightSky.vue';
import PlanStrip from './PlanStrip.vue';

type Events = InstanceType<typeof PlanStrip>['$props']['events'];
/** What was done in a night, or what there was of it so far, under the sky of that night. */
const props = defineProps<{
  site: SiteRecord;
  date: string;
  fromMs: number;
  untilMs: number;
  nowMs: number;
  events: Events;
  /** What is still to come, if nothing goes wrong: drawn fainter. */
  ahead?: Events;
  /** What a second camera did in the same time. */
  beside?: Events;
  label: string;
  /** Said where nothing is drawn yet. */
  hours?: string;
}>();
/** A little of the evening and of the morning beside it [ms]. */
const BESIDE_MS = 600_000;
const box = ref<HTMLElement>();
const { width } = useElementSize(box);
const night = computed(() => nightOf({ site: coreSite(props.site), date: props.date }));
const from = computed(() => props.fromMs - BESIDE_MS);
const to = computed(() => props.untilMs + BESIDE_MS);
/** The second camera has a lane of its own under the first. */
const LANE = 24;
const bottom = computed(() => 72 + (props.beside ? LANE : 0));
const toCome = computed(() => props.ahead?.filter((e) => Date.parse(e.end) > props.nowMs) ?? []);
const x = computed(() => timeScale(from.value, to.value, 22, Math.max(200, width.value - 22)));
</script>

<template>
  <div ref="box">
    <svg v-if="width > 0" :width="width" :height="bottom + 38" role="img" :aria-label="label">
      <NightSky
        :night="night"
        :time-zone="site.timeZone"
        :x="x"
        :from="from"
        :to="to"
        :top="20"
        :bottom="bottom"
        :now="nowMs"
      />
      <PlanStrip :events="events" :x="x" :y="32" :height="28" detailed />
      <PlanStrip v-if="beside" :events="beside" :x="x" :y="66" :height="20" detailed />
      <g v-if="toCome.length" opacity="0.4" data-test="to-come">
        <title>still to come, if nothing goes wrong</title>
        <PlanStrip :events="toCome" :x="x" :y="32" :height="28" detailed />
      </g>
      <text v-if="hours" x="50%" y="51" text-anchor="middle" font-size="13" fill="var(--ink-2)">{{ hours }}</text>
    </svg>
  </div>
</template>
