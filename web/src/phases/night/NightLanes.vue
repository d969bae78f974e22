<script setup lang="ts">
import type { NightOutput, TargetOutput } from '@keen/core/sky';
import type { EveningPick } from '@keen/core/sequence';
import type { Forecast } from '@keen/contract';
import { useElementSize } from '@vueuse/core';
import { computed, ref } from 'vue';
import { clock } from '../../common/times.ts';
import { useUnits } from '../../stores/units.ts';
import { laneGhost, laneWindows, timeScale, wrapWords } from './lanes.ts';
import NightSky from './NightSky.vue';
import PlanStrip from './PlanStrip.vue';

export interface Lane {
  id: string;
  title: string;
  sub: string;
  target: TargetOutput;
  minimumAltitudeDeg: number;
  strips: {
    id: string;
    start: string;
    end: string;
    events: { kind: string; start: string; end: string; filter?: string; frame?: number }[];
  }[];
}
const props = defineProps<{
  night: NightOutput;
  timeZone: string;
  lanes: Lane[];
  picks: EveningPick[];
  chosen: string;
  now: number;
  /** Foretold for the night; null where nobody says anything. */
  forecast?: Forecast | null;
}>();
const emit = defineEmits<{ choose: [id: string]; open: [id: string] }>();

const units = useUnits();
const TOP = 26;
const MOON_LANE = 30;
const CLOUD_LANE = 24;
/** What stands over the objects: the Moon, and under it the cloud that is foretold. */
const MOON = computed(() => MOON_LANE + (props.forecast ? CLOUD_LANE : 0));
const box = ref<HTMLElement>();
const { width } = useElementSize(box);
/** Room for the objects' names: less of it on a phone, where the hours need it more. */
const label = computed(() => (width.value < 480 ? 116 : 176));
const laneHeight = computed(() => Math.max(54, Math.min(78, 400 / Math.max(1, props.lanes.length))));
const bottom = computed(() => TOP + MOON.value + 8 + laneHeight.value * props.lanes.length + 4);
const height = computed(() => bottom.value + 40);
const from = computed(
  () => Date.parse(props.night.sunset ?? props.lanes[0]?.target.track[0]?.time ?? props.night.middle) - 600_000,
);
const to = computed(
  () => Date.parse(props.night.sunrise ?? props.lanes[0]?.target.track.at(-1)?.time ?? props.night.middle) + 600_000,
);
const x = computed(() => timeScale(from.value, to.value, label.value, Math.max(label.value + 100, width.value - 6)));
const half = computed(() => laneHeight.value / 2 - 13);
const rows = computed(() =>
  props.lanes.map((lane, i) => {
    const mid = TOP + MOON.value + 16 + laneHeight.value * (i + 0.5);
    const t = lane.target;
    const transit = Date.parse(t.transit);
    return {
      lane,
      mid,
      windows: laneWindows(t, x.value, mid, half.value),
      ghost: laneGhost(t, x.value, mid, half.value),
      transit:
        transit > from.value && transit < to.value && t.transitAltitudeDeg > 5
          ? { x: x.value(transit), altitude: Math.round(t.transitAltitudeDeg) }
          : null,
      note: t.windows.length ? [] : wrapWords(units.verdict(t.verdict), (width.value - label.value - 32) / 7.7),
      picks: props.picks.filter((p) => p.id === lane.id),
    };
  }),
);
const moon = computed(() =>
  props.night.moon.up
    .map((u) => ({ a: Math.max(from.value, Date.parse(u.start)), b: Math.min(to.value, Date.parse(u.end)) }))
    .filter((u) => u.b > u.a),
);
/** An hour stands from half an hour before it to half an hour after. */
const cloud = computed(() =>
  (props.forecast?.hours ?? []).flatMap((h) => {
    const ms = Date.parse(h.at);
    const [a, b] = [Math.max(from.value, ms - 1_800_000), Math.min(to.value, ms + 1_800_000)];
    return b > a ? [{ ...h, x: x.value(a), w: Math.max(0, x.value(b) - x.value(a) - 0.6) }] : [];
  }),
);
const moonText = computed(() => `${Math.round(100 * props.night.moon.illumination)} % lit`);
</script>

<template>
  <div ref="box">
    <svg v-if="width > 0" :width="width" :height="height" role="group" aria-label="The night’s objects as lanes">
      <NightSky
        :night="night"
        :time-zone="timeZone"
        :x="x"
        :from="from"
        :to="to"
        :top="TOP"
        :bottom="bottom"
        :now="now"
      />
      <text x="2" :y="TOP + 20" font-size="13.5" fill="var(--ink)">
        Moon
        <tspan fill="var(--ink-2)">{{ moonText }}</tspan>
      </text>
      <g v-if="forecast" data-test="cloud-lane">
        <text x="2" :y="TOP + MOON_LANE + 14" font-size="13.5" fill="var(--ink)">
          Cloud
          <tspan fill="var(--ink-2)">{{ forecast.simulated ? 'invented' : forecast.source }}</tspan>
        </text>
        <g v-for="h in cloud" :key="h.at">
          <rect
            :x="h.x"
            :y="TOP + MOON_LANE + 2 + 16 * (1 - h.cloudShare)"
            :width="h.w"
            :height="Math.max(0.8, 16 * h.cloudShare)"
            fill="var(--ghost)"
          />
          <title>
            {{ clock(h.at, timeZone) }}: cloud {{ Math.round(100 * h.cloudShare) }} %, wind
            {{ units.quantity('windMS', h.windMS) }}, damp {{ Math.round(100 * h.humidity) }} % ({{ forecast.source }})
          </title>
        </g>
      </g>
      <g v-for="(m, i) in moon" :key="i">
        <rect
          :x="x(m.a)"
          :y="TOP + 8"
          :width="x(m.b) - x(m.a)"
          height="15"
          fill="var(--surface)"
          stroke="var(--ink-2)"
        />
        <text v-if="x(m.b) - x(m.a) > 120" :x="x(m.a) + 8" :y="TOP + 20" font-size="12" fill="var(--ink)" class="mono">
          up {{ clock(m.a, timeZone) }}–{{ clock(m.b, timeZone) }}
        </text>
        <title>Moon up {{ clock(m.a, timeZone) }} to {{ clock(m.b, timeZone) }}</title>
      </g>
      <text v-if="moon.length === 0" :x="label + 10" :y="TOP + 20" font-size="12" fill="var(--ink-2)" class="mono">
        down all night
      </text>
      <g
        v-for="r in rows"
        :key="r.lane.id"
        class="lane"
        :class="{ here: r.lane.id === chosen }"
        role="button"
        tabindex="0"
        :aria-pressed="r.lane.id === chosen"
        :aria-label="`${r.lane.title}: ${units.verdict(r.lane.target.verdict)}`"
        @click="emit('choose', r.lane.id)"
        @dblclick="emit('open', r.lane.id)"
        @keydown.enter="r.lane.id === chosen ? emit('open', r.lane.id) : emit('choose', r.lane.id)"
        @keydown.space.prevent="emit('choose', r.lane.id)"
      >
        <rect class="hit" x="-4" :y="r.mid - laneHeight / 2" :width="label" :height="laneHeight - 2" rx="3" />
        <rect
          :x="label"
          :y="r.mid - laneHeight / 2"
          :width="Math.max(0, width - label)"
          :height="laneHeight - 2"
          fill="transparent"
        />
        <path
          v-for="(d, i) in r.ghost"
          :key="`g${i}`"
          :d="d"
          fill="none"
          stroke="var(--ghost)"
          stroke-width="1"
          stroke-dasharray="2 4"
        />
        <path
          v-for="(d, i) in r.windows"
          :key="`w${i}`"
          :d="d"
          fill="var(--lane)"
          stroke="var(--lane-edge)"
          stroke-width="1.3"
        />
        <g v-if="r.transit">
          <path :d="`M${r.transit.x} ${r.mid - half - 1}l-5.5-9h11z`" fill="var(--accent)" />
          <text
            :x="r.transit.x + (r.transit.x > width - 44 ? -10 : 10)"
            :y="r.mid - half - 2"
            :text-anchor="r.transit.x > width - 44 ? 'end' : 'start'"
            font-size="12"
            fill="var(--ink-2)"
            class="mono"
          >
            {{ r.transit.altitude }}°
          </text>
          <title>
            Crosses the meridian at {{ clock(r.lane.target.transit, timeZone) }}, {{ r.transit.altitude }}° high
          </title>
        </g>
        <text
          v-for="(line, i) in r.note"
          :key="`n${i}`"
          :x="label + 26"
          :y="r.mid + 4 + 16 * (i - (r.note.length - 1) / 2)"
          font-size="12.5"
          fill="var(--ink)"
          class="mono note"
        >
          {{ line }}
        </text>
        <rect
          v-for="(p, i) in r.picks"
          :key="`p${i}`"
          :x="x(Date.parse(p.start))"
          :y="r.mid - 11"
          :width="x(Date.parse(p.end)) - x(Date.parse(p.start))"
          height="22"
          rx="2"
          fill="none"
          stroke="var(--accent)"
          stroke-width="1.6"
          stroke-dasharray="5 3"
        >
          <title>Suggested: {{ clock(p.start, timeZone) }} to {{ clock(p.end, timeZone) }}</title>
        </rect>
        <g v-for="s in r.lane.strips" :key="s.id">
          <rect
            :x="x(Date.parse(s.start)) - 2"
            :y="r.mid - 12"
            :width="x(Date.parse(s.end)) - x(Date.parse(s.start)) + 4"
            height="24"
            rx="2"
            fill="var(--surface)"
            stroke="var(--accent)"
            stroke-width="1.6"
          />
          <PlanStrip :events="s.events" :x="x" :y="r.mid - 9" :height="18" />
        </g>
        <svg x="0" :y="r.mid - laneHeight / 2" :width="label - 6" :height="laneHeight">
          <text x="4" :y="laneHeight / 2 - 3" font-size="14.5" font-weight="700" fill="var(--ink)">
            {{ r.lane.title }}
          </text>
          <text x="4" :y="laneHeight / 2 + 15" font-size="12.5" fill="var(--ink-2)">{{ r.lane.sub }}</text>
        </svg>
      </g>
    </svg>
  </div>
</template>

<style scoped>
.lane {
  cursor: pointer;
  outline: none;
}
.hit {
  fill: transparent;
}
.lane:hover .hit {
  fill: color-mix(in srgb, var(--sunk) 60%, transparent);
}
.here .hit {
  fill: var(--sunk);
}
.lane:focus-visible .hit {
  stroke: var(--accent);
  stroke-width: 2;
}
.note {
  paint-order: stroke;
  stroke: var(--sky-night);
  stroke-width: 4px;
}
</style>
