<script setup lang="ts">
/** What an empty place says: what would stand here, and how to get it there. */
defineProps<{ title: string }>();
</script>

<template>
  <div class="empty panel">
    <h2>{{ title }}</h2>
    <p class="muted"><slot /></p>
    <div class="row"><slot name="actions" /></div>
  </div>
</template>

<style scoped>
.empty {
  padding: 28px 32px;
  display: grid;
  gap: 8px;
  max-width: 46rem;
}
</style>
