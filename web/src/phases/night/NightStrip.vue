<script setup lang="ts">
import { useElementSize } from '@vueuse/core';
import type { SiteRecord } from '@keen/contract';
import { night as nightOf } from '@keen/core/sky';
import { computed, ref } from 'vue';
import { coreSite } from '../../common/records.ts';
import { timeScale } from './lanes.ts';
import NightSky from './NightSky.vue';
import PlanStrip from './PlanStrip.vue';

/** What was done in a night, or what there was of it so far, under the sky of that night. */
const props = defineProps<{
  site: SiteRecord;
  date: string;
  fromMs: number;
  untilMs: number;
  nowMs: number;
  events: InstanceType<typeof PlanStrip>['$props']['events'];
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
const x = computed(() => timeScale(from.value, to.value, 22, Math.max(200, width.value - 22)));
</script>

<template>
  <div ref="box">
    <svg v-if="width > 0" :width="width" height="110" role="img" :aria-label="label">
      <NightSky
        :night="night"
        :time-zone="site.timeZone"
        :x="x"
        :from="from"
        :to="to"
        :top="20"
        :bottom="72"
        :now="nowMs"
      />
      <PlanStrip :events="events" :x="x" :y="32" :height="28" detailed />
      <text v-if="hours" x="50%" y="51" text-anchor="middle" font-size="13" fill="var(--ink-2)">{{ hours }}</text>
    </svg>
  </div>
</template>
