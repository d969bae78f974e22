<script setup lang="ts">
import type { JobRecord } from '@keen/contract';
import { Button, Progress } from 'ant-design-vue';
import { computed } from 'vue';
import { useUnits } from '../stores/units.ts';

/** How far a job is, what it is at, and the way out of it. */
const props = defineProps<{ job: JobRecord }>();
const emit = defineEmits<{ cancel: [] }>();
const units = useUnits();
const percent = computed(() => Math.floor(100 * props.job.share));
const words = computed(() => (props.job.stage ? units.say(props.job.stage) : ''));
</script>

<template>
  <div class="job row" role="status" data-test="job">
    <Progress :percent="percent" size="small" class="bar" :aria-label="words" />
    <span class="small muted words">{{ words }}</span>
    <Button size="small" :disabled="job.cancelRequested" @click="emit('cancel')">Cancel</Button>
  </div>
</template>

<style scoped>
.bar {
  width: 180px;
  margin: 0;
}
.words {
  min-width: 130px;
}
</style>
