<script setup lang="ts">
import { signed } from '@keen/core/quantities';
import { instantOfLocal } from '@keen/core/sky';
import { Button } from 'ant-design-vue';
import { reactive } from 'vue';
import { RouterLink } from 'vue-router';
import TimeInput from '../../common/TimeInput.vue';
import { clock } from '../../common/times.ts';
import { useUnits } from '../../stores/units.ts';
import type { useNightGuiding } from './useNightGuiding.ts';

/** What the guide logs of a night say of its frames, and what keeps them from saying more: no time of day, another clock. */
const props = defineProps<{
  guided: ReturnType<typeof useNightGuiding>;
  night: string;
  zone: string;
  mayTell: boolean;
}>();
const units = useUnits();
const typed = reactive<Record<string, string>>({});
const evening = () => new Date(instantOfLocal(props.zone, Date.parse(`${props.night}T20:00:00Z`))).toISOString();
</script>

<template>
  <div class="stack small" data-test="guided-night">
    <p v-if="guided.trouble.value" class="level-bad" role="alert">{{ guided.trouble.value }}</p>
    <p v-if="guided.phrases.value.length">{{ guided.phrases.value.map((p) => units.say(p)).join(' ') }}</p>
    <p v-for="s in guided.shifted.value" :key="s.log.id" class="row level-caution">
      <span
        >“{{ s.log.name }}” does not fit the frames as it stands: its clock seems to read
        {{ signed(-s.shift.hours, 2) }} h against the camera’s.</span
      >
      <Button v-if="mayTell" size="small" @click="guided.shift(s.log, s.shift.hours)"
        >Begin it at {{ clock(s.log.beganAtMs + s.shift.hours * 3_600_000, zone) }}</Button
      >
    </p>
    <p v-for="log in guided.timeless.value" :key="log.id" class="row">
      <span class="muted">“{{ log.name }}” knows no time of day, so no frame is joined to it.</span>
      <template v-if="mayTell">
        <TimeInput
          :model-value="typed[log.id] ?? evening()"
          label="It began"
          :time-zone="zone"
          :night="night"
          @update:model-value="typed[log.id] = $event"
        />
        <Button size="small" @click="guided.began(log.id, typed[log.id] ?? evening())">Join it</Button>
      </template>
    </p>
    <p v-if="!guided.records.value.length" class="muted">
      No guide log of this night is kept: <RouterLink to="/morning/guiding">bring one in</RouterLink>, and every frame
      tells how it was guided.
    </p>
  </div>
</template>
