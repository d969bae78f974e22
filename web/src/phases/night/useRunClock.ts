import { useIntervalFn } from '@vueuse/core';
import { ref, watch } from 'vue';
import type { FollowedRun } from './useLiveRun.ts';

const TICK_MS = 250;

/** The moment of a run: between two events it goes on as the run does, and never past what is under way. */
export function useRunClock({ run, state, coming, hearing }: FollowedRun) {
  const nowMs = ref(0);
  let heardAt = performance.now();
  const tell = () => {
    const s = state.value;
    if (!s) return;
    const goes = run.value?.state === 'running' && run.value.driven && hearing.value !== 'deaf' && !s.finished;
    const since = goes ? (performance.now() - heardAt) * (run.value?.speed ?? 1) : 0;
    const end = coming.value[0] ? Date.parse(coming.value[0].end) : s.nowMs;
    nowMs.value = Math.max(s.nowMs, Math.min(s.nowMs + since, end));
  };
  watch(
    state,
    () => {
      heardAt = performance.now();
      tell();
    },
    { immediate: true },
  );
  useIntervalFn(tell, TICK_MS);
  return { nowMs };
}
