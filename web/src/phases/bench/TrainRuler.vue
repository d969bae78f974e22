<script setup lang="ts">
import { figure } from '@keen/core/quantities';
import { countedMm, type TrainPart } from '@keen/core/rig';
import { mates, soundsLike, type BackfocusOutput, type Stretch } from '@keen/core/train';
import { useElementSize } from '@vueuse/core';
import { computed, ref } from 'vue';
import { useUnits } from '../../stores/units.ts';

const units = useUnits();

/** The imaging train as a ruler: every piece to scale, threads at its faces, and where the sensor should be. */
const props = defineProps<{
  train: TrainPart[];
  result: BackfocusOutput | null;
  toleranceMm: number;
  stretch: Stretch | null;
  chosen: number;
}>();
const emit = defineEmits<{ choose: [place: number] }>();
const box = ref<HTMLElement>();
const { width } = useElementSize(box);
const LEFT = 26;
const ROW = 17;
const lengths = computed(() => props.train.map(countedMm));
const sumOf = (list: readonly TrainPart[]) => list.reduce((s, p) => s + countedMm(p), 0);
/** The ruler's nought is the corrector's rear face: what stands before it reaches to the left, what does not count behind. */
const leadMm = computed(() => sumOf(props.stretch?.before ?? []));
const total = computed(() => sumOf(props.stretch?.counted ?? props.train));
const tailMm = computed(() => sumOf(props.stretch?.behind ?? []));
const span = computed(
  () => Math.max(20, total.value + tailMm.value, (props.result?.targetMm ?? 0) + props.toleranceMm) * 1.06 + 3,
);
const scale = computed(() => (width.value - LEFT - 20) / (span.value + leadMm.value));
const X = (mm: number) => LEFT + (leadMm.value + mm) * scale.value;
/** A text under the ruler, held inside the picture. */
const inside = (x: number) => Math.min(width.value - 92, Math.max(92, x));
const sensorAt = computed(() => {
  const off = props.result && units.signedLength(props.result.residualMm, 2);
  return `sensor at ${units.length(total.value, 2)}${off ? `, ${off}` : ''}`;
});
const HALF: Record<string, number> = { wheel: 44, guider: 36, camera: 34 };
const pieces = computed(() => {
  let at = -leadMm.value;
  return props.train.map((part, i) => {
    const from = at;
    at += lengths.value[i]!;
    const kind = part.guider
      ? 'guider'
      : /wheel|drawer/i.test(part.name)
        ? 'wheel'
        : soundsLike(part, 'camera')
          ? 'camera'
          : 'piece';
    return { part, from, to: at, half: HALF[kind] ?? 26, kind, i };
  });
});
/** Names in rows above, so that none runs into another. */
const labels = computed(() => {
  const ends: number[] = [];
  return pieces.value.map((p) => {
    const text = `${p.part.name} ${bareLength(p.to - p.from)}`;
    const w = text.length * 6.4;
    const middle = X((p.from + p.to) / 2);
    const x = Math.min(width.value - w - 4, Math.max(4, middle - w / 2));
    let row = ends.findIndex((e) => e + 10 <= x);
    if (row < 0) row = ends.length;
    ends[row] = x + w;
    return { text, x, row, middle, i: p.i };
  });
});
const rows = computed(() => Math.max(1, ...labels.value.map((l) => l.row + 1)));
const axis = computed(() => 14 + rows.value * ROW + 54);
const height = computed(() => axis.value + 140);
const joints = computed(() =>
  pieces.value.slice(0, -1).map((p, i) => {
    const [a, b] = [p.part.rear, pieces.value[i + 1]!.part.front];
    const known = a !== undefined && b !== undefined;
    return {
      x: X(p.to),
      known,
      ok: known && mates(a, b),
      text: a?.size ?? b?.size ?? '',
      full: `${a ? `${a.size} ${a.gender}` : 'not noted'} to ${b ? `${b.size} ${b.gender}` : 'not noted'}`,
    };
  }),
);
const guider = computed(() => pieces.value.find((p) => p.part.guider) ?? null);
/** Marks of the ruler, in the reader's unit, a handful of them. */
const ticks = computed(() => {
  const unitMm = 1 / units.bare('lengthMm', 1);
  const shown = span.value / unitMm;
  const step = [20, 10, 5, 2, 1, 0.5].find((s) => shown / s >= 6) ?? 0.25;
  return Array.from({ length: Math.floor(shown / step) + 1 }, (_, k) => ({
    mm: k * step * unitMm,
    text: String(k * step),
  }));
});
/** A length beside a name in the picture, whose unit the ruler's end shows. */
const bareLength = (mm: number) =>
  figure(units.bare('lengthMm', mm), units.system === 'imperial' ? 3 : 2).replace(/\.?0+$/, '');
</script>

<template>
  <div ref="box">
    <svg v-if="width > 0" :width="width" :height="height" role="group" aria-label="The imaging train to scale">
      <g v-if="result">
        <rect
          :x="X(result.targetMm - toleranceMm)"
          :y="axis - 52"
          :width="2 * toleranceMm * scale"
          height="112"
          fill="var(--good-wash)"
          stroke="var(--good)"
          stroke-width="0.6"
        >
          <title>
            Sensor belongs within {{ units.length(toleranceMm, 2) }} of {{ units.length(result.targetMm, 2) }}
          </title>
        </rect>
        <path
          :d="`M${X(result.targetMm)} ${axis - 56}v120`"
          stroke="var(--good)"
          stroke-width="1.6"
          stroke-dasharray="5 3"
        />
      </g>
      <g
        v-for="p in pieces"
        :key="p.i"
        class="piece"
        :class="{ here: p.i === chosen, out: p.from < -1e-9 || p.to > total + 1e-9 }"
        role="button"
        tabindex="0"
        :aria-label="`${p.part.name}, ${units.length(p.to - p.from, 2)}`"
        @click="emit('choose', p.i)"
        @keydown.enter="emit('choose', p.i)"
      >
        <rect
          :x="X(p.from)"
          :y="axis - p.half"
          :width="Math.max(2, (p.to - p.from) * scale)"
          :height="2 * p.half"
          class="body"
        />
        <path v-if="p.part.guider" :d="`M${X((p.from + p.to) / 2) - 9} ${axis - 30}h18v16z`" class="prism">
          <title>prism</title>
        </path>
        <rect v-if="p.part.glassMm" :x="X((p.from + p.to) / 2) - 2" :y="axis - 24" width="4" height="48" class="glass">
          <title>{{ units.length(p.part.glassMm, 1) }} of glass</title>
        </rect>
        <path v-if="p.kind === 'camera'" :d="`M${X(p.to)} ${axis - 17}v34`" class="sensor">
          <title>sensor</title>
        </path>
      </g>
      <path :d="`M${X(0)} ${axis}H${X(total)}`" stroke="var(--accent)" stroke-dasharray="8 3 2 3" stroke-width="0.9" />
      <g v-for="l in labels" :key="l.i">
        <path
          :d="`M${l.middle} ${18 + l.row * ROW}V${axis - (pieces[l.i]?.half ?? 20)}`"
          stroke="var(--line-strong)"
          stroke-width="0.8"
        />
        <text :x="l.x" :y="14 + l.row * ROW" font-size="12.5" fill="var(--ink)">{{ l.text }}</text>
      </g>
      <g v-for="(j, i) in joints" :key="i">
        <circle
          :cx="j.x"
          :cy="axis + 52"
          r="4"
          :fill="!j.known ? 'none' : j.ok ? 'var(--good)' : 'var(--bad)'"
          :stroke="j.known ? 'none' : 'var(--ghost)'"
        >
          <title>{{ j.full }}</title>
        </circle>
        <text v-if="j.known && !j.ok" :x="j.x + 8" :y="axis + 57" font-size="12.5" font-weight="700" fill="var(--bad)">
          ✕ {{ j.full }}
        </text>
      </g>
      <g>
        <path :d="`M${X(0)} ${axis + 74}H${X(span)}`" stroke="var(--ink-2)" />
        <g v-for="t in ticks" :key="t.mm">
          <path :d="`M${X(t.mm)} ${axis + 74}v6`" stroke="var(--ink-2)" />
          <text :x="X(t.mm)" :y="axis + 93" text-anchor="middle" font-size="12" fill="var(--ink-2)" class="mono">
            {{ t.text }}
          </text>
        </g>
        <text :x="inside(X(total))" :y="axis + 112" text-anchor="middle" font-size="12.5" fill="var(--ink)">
          {{ sensorAt }}
        </text>
        <text
          v-if="result"
          :x="inside(X(result.targetMm))"
          :y="axis + 130"
          text-anchor="middle"
          font-size="12.5"
          font-weight="700"
          fill="var(--good)"
        >
          wanted {{ units.length(result.targetMm, 2) }}
        </text>
      </g>
      <g v-if="guider">
        <path :d="`M${X(guider.from)} ${axis + 66}H${X(total)}`" stroke="var(--accent)" stroke-width="2" />
        <text :x="X(guider.from) + 12" :y="axis + 62" font-size="12" fill="var(--accent)">
          stays together from the guider on
        </text>
      </g>
    </svg>
  </div>
</template>

<style scoped>
.piece {
  cursor: pointer;
  outline: none;
}
.body {
  fill: var(--part);
  stroke: var(--ink);
  stroke-width: 1.2;
}
.here .body,
.piece:focus-visible .body {
  stroke: var(--accent);
  stroke-width: 2.4;
}
.out .body {
  fill: none;
  stroke-dasharray: 3 3;
}
.prism {
  fill: var(--lane);
  stroke: var(--lane-edge);
}
.glass {
  fill: var(--lane);
  stroke: var(--lane-edge);
  stroke-width: 0.7;
}
.sensor {
  stroke: var(--bad);
  stroke-width: 3;
}
</style>
