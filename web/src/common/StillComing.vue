<script setup lang="ts">
import { Button } from 'ant-design-vue';

/** Stands where a screen will be, until what it rests on is there: coming, or failed with a way to try again. */
defineProps<{ what: string; failed?: string }>();
const emit = defineEmits<{ again: [] }>();
</script>

<template>
  <p v-if="failed" class="row level-bad" role="alert" data-test="failed">
    {{ what }} could not be read: {{ failed }}
    <Button size="small" @click="emit('again')">Try again</Button>
  </p>
  <p v-else class="muted" role="status" data-test="coming">Reading {{ what.toLowerCase() }} …</p>
</template>
