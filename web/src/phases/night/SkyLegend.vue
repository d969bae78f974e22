<script setup lang="ts">
import type { TurnMode } from '@keen/core/guiding';

/** What the ring, the brass and the dashes of the sky chart mean. */
defineProps<{
  ring: boolean;
  mode: TurnMode;
  /** Whether the window is drawn as it stands after a flip, too. */ flips: boolean;
}>();
</script>

<template>
  <p class="muted small legend">
    <template v-if="ring"
      ><span class="key lit-key" aria-hidden="true" /> {{ mode === 'camera' ? 'camera' : 'guider' }} angles with a star
      that is alone and neither too faint nor too bright<template v-if="mode === 'guider'"
        >; <span class="key barred-key" aria-hidden="true" /> prism in the light</template
      >. </template
    >Solid brass: the guide window<template v-if="flips">; dashed brass: after the meridian flip</template>. Dashed: the
    objects’ outlines, round where the catalogue has no angle.
  </p>
</template>

<style scoped>
.legend {
  margin-top: 2px;
}
.key {
  display: inline-block;
  width: 22px;
  height: 0;
  vertical-align: middle;
}
.lit-key {
  border-top: 7px solid var(--good);
}
.barred-key {
  border-top: 3px dotted var(--bad);
}
</style>
