<script setup lang="ts">
import type { SmallPicture } from '@keen/core/frames';
import { onMounted, ref, watch } from 'vue';
import { useLight } from '../stores/light.ts';
import { brightnessOf, type Stretch } from './tones.ts';

/** A small picture under a stretch; red alone where eyes are adapted to the dark. */
const props = defineProps<{ picture: SmallPicture; stretch: Stretch; name: string }>();
const canvas = ref<HTMLCanvasElement>();
const light = useLight();
function draw() {
  const context = canvas.value?.getContext('2d');
  if (!context) return;
  const { widthPx, heightPx, tones } = props.picture;
  const table = brightnessOf(props.stretch);
  const pixels = context.createImageData(widthPx, heightPx);
  const red = light.light === 'dark-adapted';
  for (let i = 0; i < tones.length; i++) {
    const v = table[tones[i]!]!;
    pixels.data[4 * i] = v;
    pixels.data[4 * i + 1] = pixels.data[4 * i + 2] = red ? 0 : v;
    pixels.data[4 * i + 3] = 255;
  }
  context.putImageData(pixels, 0, 0);
}
onMounted(draw);
watch(() => [props.picture, props.stretch.whiteSigma, props.stretch.times, props.stretch.above, light.light], draw);
</script>

<template>
  <canvas ref="canvas" :width="picture.widthPx" :height="picture.heightPx" role="img" :aria-label="name" />
</template>

<style scoped>
canvas {
  display: block;
  width: 100%;
  height: auto;
  background: #000;
  image-rendering: pixelated;
}
</style>
