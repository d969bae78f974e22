<script setup lang="ts">
import type { GuideSample } from '@keen/core/exchange';
import { useElementSize } from '@vueuse/core';
import { computed, onMounted, ref, watch } from 'vue';
import { useLight } from '../../stores/light.ts';

/** Guide errors over time: right ascension solid ochre, declination dashed violet; dithers and lost spells marked. Drag to choose a span. */
const props = defineProps<{ samples: GuideSample[]; span: [number, number] | null }>();
const emit = defineEmits<{ span: [span: [number, number] | null] }>();
const box = ref<HTMLElement>();
const canvas = ref<HTMLCanvasElement>();
const { width } = useElementSize(box);
const light = useLight();
const HEIGHT = 240;
const LEFT = 46;
const end = computed(() => props.samples.at(-1)?.timeS ?? 1);
const reach = computed(() => {
  const v = props.samples
    .filter((s) => s.state === 'guiding' || s.state === 'off')
    .flatMap((s) => [Math.abs(s.raArcsec), Math.abs(s.decArcsec)])
    .sort((a, b) => a - b);
  return Math.max(1, (v[Math.floor(0.995 * v.length)] ?? 1) * 1.15);
});
const X = (t: number) => LEFT + (t / end.value) * (width.value - LEFT - 8);
const Y = (v: number) =>
  HEIGHT / 2 - (Math.max(-reach.value, Math.min(reach.value, v)) / reach.value) * (HEIGHT / 2 - 18);
function paint() {
  const c = canvas.value;
  const draw = c?.getContext('2d');
  if (!c || !draw || width.value === 0) return;
  const ratio = window.devicePixelRatio || 1;
  c.width = width.value * ratio;
  c.height = HEIGHT * ratio;
  draw.scale(ratio, ratio);
  const style = getComputedStyle(document.documentElement);
  const get = (n: string) => style.getPropertyValue(n).trim();
  const red = light.light === 'dark-adapted';
  draw.font = "12px 'Atkinson Hyperlegible Mono', monospace";
  draw.strokeStyle = get('--line');
  draw.fillStyle = get('--ink-2');
  for (const v of [-reach.value / 2, 0, reach.value / 2]) {
    draw.beginPath();
    draw.moveTo(LEFT, Y(v));
    draw.lineTo(width.value - 8, Y(v));
    draw.stroke();
    draw.fillText(`${v < 0 ? '−' : ''}${Math.abs(v).toFixed(1)}″`, 2, Y(v) + 4);
  }
  for (const m of Array.from({ length: 7 }, (_, k) => (k * end.value) / 6))
    draw.fillText(`${Math.round(m / 60)} min`, Math.min(width.value - 52, X(m)), HEIGHT - 2);
  for (const s of props.samples) {
    if (s.state !== 'dithering' && s.state !== 'lost') continue;
    draw.fillStyle = s.state === 'lost' ? get('--bad') : get('--ghost');
    draw.fillRect(X(s.timeS), s.state === 'lost' ? 4 : 8, 2, s.state === 'lost' ? HEIGHT - 24 : 8);
  }
  const trace = (axis: 'raArcsec' | 'decArcsec', colour: string, dash: number[]) => {
    draw.strokeStyle = colour;
    draw.lineWidth = 1.3;
    draw.setLineDash(dash);
    draw.beginPath();
    let open = false;
    for (const s of props.samples) {
      if (s.state === 'lost') {
        open = false;
        continue;
      }
      if (open) draw.lineTo(X(s.timeS), Y(s[axis]));
      else draw.moveTo(X(s.timeS), Y(s[axis]));
      open = true;
    }
    draw.stroke();
    draw.setLineDash([]);
  };
  trace('raArcsec', red ? get('--ink') : get('--caution'), []);
  trace('decArcsec', get('--violet'), [5, 3]);
}
onMounted(paint);
watch(() => [props.samples, width.value, light.light], paint);

let from: number | null = null;
const timeAt = (e: PointerEvent) =>
  Math.max(0, Math.min(end.value, ((e.offsetX - LEFT) / (width.value - LEFT - 8)) * end.value));
function down(e: PointerEvent) {
  from = timeAt(e);
}
function move(e: PointerEvent) {
  if (from === null) return;
  const to = timeAt(e);
  if (Math.abs(to - from) > end.value / 200) emit('span', [Math.min(from, to), Math.max(from, to)]);
}
</script>

<template>
  <div ref="box" class="trace" :style="{ height: `${HEIGHT}px` }">
    <canvas
      ref="canvas"
      :style="{ width: `${width}px`, height: `${HEIGHT}px` }"
      role="img"
      aria-label="Guide errors over time"
      @pointerdown="down"
      @pointermove="move"
      @pointerup="from = null"
      @dblclick="emit('span', null)"
    />
    <div v-if="span" class="chosen" :style="{ left: `${X(span[0])}px`, width: `${X(span[1]) - X(span[0])}px` }" />
  </div>
</template>

<style scoped>
.trace {
  position: relative;
}
.chosen {
  position: absolute;
  top: 0;
  bottom: 18px;
  border: 1px solid var(--accent);
  pointer-events: none;
}
</style>
