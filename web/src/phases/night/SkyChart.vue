<script setup lang="ts">
import { figure } from '@keen/core/quantities';
import { ref } from 'vue';
import { BARE, MIDDLE, RING, SIZE, SKY, useSkyChart, type SkyChartProps } from './useSkyChart.ts';
import { useSkyDrag } from './useSkyDrag.ts';

/**
 * The real sky about a framing, north up and east to the left: stars, objects, the fields of the camera, the guide window,
 * and round it the ring of angles that have a guide star. Fields are dragged to move, the window or the ring to turn.
 */
const props = defineProps<SkyChartProps>();
const emit = defineEmits<{ turn: [deg: number]; move: [raDeg: number, decDeg: number]; panel: [at: number] }>();

const svg = ref<SVGSVGElement>();
const { scale, grid, dots, fields, windows, opposite, marks, outlines, lead, arcs, value, ticks, handle } =
  useSkyChart(props);
const { grabRing, grabField, drag, drop, nudge } = useSkyDrag({
  svg,
  size: () => (props.ring.length ? SIZE : SIZE - 2 * BARE),
  off: () => props.off,
  value: () => value.value,
  lead: () => lead.value,
  centre: () => props.centre,
  pxPerRadian: () => scale.value,
  turned: (deg) => emit('turn', deg),
  moved: (ra, dec) => emit('move', ra, dec),
});
</script>

<template>
  <svg
    ref="svg"
    :viewBox="ring.length ? `0 0 ${SIZE} ${SIZE}` : `${BARE} ${BARE} ${SIZE - 2 * BARE} ${SIZE - 2 * BARE}`"
    class="chart"
    role="group"
    aria-label="Sky about the framing"
    @pointermove="drag"
    @pointerup="drop"
    @pointercancel="drop"
  >
    <defs>
      <clipPath id="sky-edge"><circle :cx="MIDDLE" :cy="MIDDLE" :r="SKY" /></clipPath>
    </defs>
    <circle :cx="MIDDLE" :cy="MIDDLE" :r="SKY" class="sky" />
    <g clip-path="url(#sky-edge)">
      <path v-if="grid" :d="grid" class="grid" />
      <path v-for="o in outlines" :key="o.name" :d="o.d ?? undefined" class="object" :class="{ main: o.main }" />
      <path v-for="(d, i) in dots" :key="i" :d="d" class="star" />
      <template v-for="(f, i) in fields" :key="`f${i}`">
        <path
          :d="f.d"
          class="field"
          :class="{ chosen: panels.length > 1 && i === chosenPanel, still: off }"
          data-test="field"
          @pointerdown="(e) => (emit('panel', i), grabField(e))"
        >
          <title>The camera’s field; drag to move the framing</title>
        </path>
        <circle :cx="f.top[0]" :cy="f.top[1]" r="3.5" class="top">
          <title>Top of the picture</title>
        </circle>
        <text v-if="panels.length > 1" :x="f.middle[0]" :y="f.middle[1] + 5" text-anchor="middle" class="number">
          {{ i + 1 }}
        </text>
      </template>
      <path v-for="(d, i) in opposite" :key="`o${i}`" :d="d" class="opposite" data-test="opposite">
        <title>What the guide camera sees after the meridian flip</title>
      </path>
      <path
        v-for="(d, i) in windows"
        :key="`w${i}`"
        :d="d"
        class="window"
        :class="{ still: off || view?.kind !== 'off-axis' }"
        data-test="window"
        @pointerdown="(e) => view?.kind === 'off-axis' && grabRing(e)"
      >
        <title>
          {{ view?.kind === 'off-axis' ? 'What the guide camera sees; drag to turn' : 'Field of the guide scope' }}
        </title>
      </path>
      <g v-for="m in marks" :key="m.i">
        <circle :cx="m.xy[0]" :cy="m.xy[1]" :r="m.i === 0 ? 9 : 7" class="mark" :class="{ usable: m.usable }">
          <title>
            Magnitude {{ figure(m.mag, 1) }}, signal to noise {{ figure(m.snr, 0) }}{{ m.saturated ? ', saturated' : ''
            }}{{ m.blendArcsec === null ? '' : ', blends with a neighbour' }}
          </title>
        </circle>
        <text v-if="m.labelled" :x="m.xy[0] + 12" :y="m.xy[1] + 4" class="label" :class="{ usable: m.usable }">
          {{ figure(m.mag, 1) }}
        </text>
      </g>
      <text
        v-for="o in outlines"
        :key="`t${o.name}`"
        :x="o.xy[0]"
        :y="o.xy[1] + o.r + 13"
        text-anchor="middle"
        class="label"
        :class="{ main: o.main }"
      >
        {{ o.name }}
      </text>
    </g>
    <!-- on the rim, where neither window nor star lies on them -->
    <text :x="MIDDLE" :y="MIDDLE - SKY + 5" text-anchor="middle" class="label compass">N</text>
    <text :x="MIDDLE - SKY" :y="MIDDLE + 5" text-anchor="middle" class="label compass">E</text>
    <template v-if="ring.length">
      <circle :cx="MIDDLE" :cy="MIDDLE" :r="RING" class="track" @pointerdown="grabRing" />
      <path v-if="arcs.barred" :d="arcs.barred" class="barred"><title>The prism would shade the sensor</title></path>
      <path v-if="arcs.lit" :d="arcs.lit" class="lit"><title>Angles with a guide star</title></path>
      <text v-for="t in ticks" :key="t.deg" :x="t.xy[0]" :y="t.xy[1] + 4" text-anchor="middle" class="tick mono">
        {{ t.deg }}
      </text>
      <g
        role="slider"
        tabindex="0"
        :aria-label="mode === 'camera' ? 'Camera angle' : 'Guider turned against the camera'"
        aria-valuemin="0"
        aria-valuemax="360"
        :aria-valuenow="Math.round(value)"
        :aria-valuetext="`${figure(value, 1)}°, ${ring[Math.round(value) % 360]?.lit ? 'with' : 'without'} a guide star`"
        :aria-disabled="off"
        class="handle"
        data-test="turn"
        @pointerdown="grabRing"
        @keydown="nudge"
      >
        <circle :cx="handle[0]" :cy="handle[1]" r="22" fill="transparent" />
        <circle :cx="handle[0]" :cy="handle[1]" r="10" class="knob" />
      </g>
    </template>
  </svg>
</template>

<style scoped>
.chart {
  width: 100%;
  max-height: 66vh;
  touch-action: none;
  user-select: none;
}
.sky {
  fill: var(--sky-night);
  stroke: var(--line-strong);
}
.grid {
  fill: none;
  stroke: var(--line-strong);
  stroke-width: 0.6;
  opacity: 0.55;
}
.star {
  fill: var(--ink);
}
.object {
  fill: none;
  stroke: var(--ink-2);
  stroke-dasharray: 3 4;
}
.object.main {
  stroke: var(--accent);
  stroke-width: 1.6;
}
.field {
  fill: var(--lane-edge);
  fill-opacity: 0.07;
  stroke: var(--lane-edge);
  stroke-width: 1.8;
  cursor: move;
}
.field.chosen {
  stroke-width: 3;
}
.top {
  fill: var(--lane-edge);
}
.number {
  fill: var(--lane-edge);
  font-size: 17px;
  font-weight: 700;
  pointer-events: none;
}
.window {
  fill: var(--accent);
  fill-opacity: 0.14;
  stroke: var(--accent);
  stroke-width: 2;
  cursor: grab;
}
.opposite {
  fill: none;
  stroke: var(--accent);
  stroke-width: 1.4;
  stroke-dasharray: 6 4;
  pointer-events: none;
}
.still {
  cursor: default;
}
.mark {
  fill: none;
  stroke: var(--caution);
  stroke-width: 1.6;
  stroke-dasharray: 3 2;
}
.mark.usable {
  stroke: var(--good);
  stroke-width: 2.2;
  stroke-dasharray: none;
}
.label {
  font-size: 13px;
  fill: var(--ink-2);
  paint-order: stroke;
  stroke: var(--sky-night);
  stroke-width: 3.5px;
  pointer-events: none;
}
.label.main {
  fill: var(--accent);
  font-weight: 650;
}
.label.usable {
  fill: var(--good);
  font-weight: 650;
}
.compass {
  font-weight: 700;
  font-size: 15px;
}
.track {
  fill: none;
  stroke: var(--line);
  stroke-width: 10;
  cursor: pointer;
}
.lit,
.barred {
  fill: none;
  stroke-width: 10;
  pointer-events: none;
}
.lit {
  stroke: var(--good);
}
.barred {
  stroke: var(--bad);
  stroke-width: 3;
  stroke-dasharray: 2 3;
}
.tick {
  font-size: 12px;
  fill: var(--ink-2);
}
.handle {
  cursor: grab;
}
.handle:focus-visible {
  outline: none;
}
.handle:focus-visible .knob {
  stroke-width: 5;
}
.knob {
  fill: var(--accent);
  stroke: var(--surface);
  stroke-width: 3;
}
</style>
