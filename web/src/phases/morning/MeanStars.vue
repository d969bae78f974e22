<script setup lang="ts">
import type { SmallPicture } from '@keen/core/frames';
import TonePicture from '../../common/TonePicture.vue';

/** The mean star of nine parts of a picture, as they lie. */
defineProps<{ stars: readonly SmallPicture[] }>();
const WHERE = ['top left', 'top', 'top right', 'left', 'middle', 'right', 'bottom left', 'bottom', 'bottom right'];
/** White is nearly the brightest place of each. */
const WHITE = 55;
</script>

<template>
  <div class="nine" data-test="mean-stars">
    <TonePicture
      v-for="(s, i) in stars"
      :key="i"
      :picture="s"
      :stretch="{ whiteSigma: WHITE, times: 1, above: 0 }"
      :name="`The mean star at the ${WHERE[i]}`"
    />
  </div>
</template>

<style scoped>
.nine {
  display: grid;
  grid-template-columns: repeat(3, minmax(0, 1fr));
  gap: 3px;
}
</style>
