<script setup lang="ts">
/** Done and what a plan would add, against a goal. */
defineProps<{ done: number; goal: number; adding?: number }>();
const share = (n: number, goal: number) => `${Math.min(100, (100 * Math.max(0, n)) / Math.max(goal, 1e-9))}%`;
</script>

<template>
  <span class="track" role="img" :aria-label="`${done} of ${goal}${adding ? `, ${adding} more planned` : ''}`">
    <span class="fill" :style="{ width: share(done, goal) }" />
    <span
      v-if="adding"
      class="adding"
      :style="{ left: share(done, goal), width: share(Math.min(adding, goal - done), goal) }"
    />
  </span>
</template>

<style scoped>
.track {
  position: relative;
  display: block;
  height: 9px;
  min-width: 60px;
  background: var(--sunk);
  border: 1px solid var(--line);
}
.fill,
.adding {
  position: absolute;
  top: 0;
  bottom: 0;
  left: 0;
  background: var(--accent);
}
.adding {
  background: repeating-linear-gradient(135deg, var(--accent) 0 2px, transparent 2px 5px);
}
</style>
