<script setup lang="ts">
import type { Board } from '@keen/contract';
import { figure } from '@keen/core/quantities';
import { computed } from 'vue';

/** What everybody had, has and gets, and had before the last wish. */
const props = defineProps<{ board: Board; before: Board | null; members: ReadonlyMap<string, string> }>();
const shares = computed(() => props.board.members.filter((m) => m.most !== null));
const hours = (minutes: number | null | undefined) =>
  minutes === null || minutes === undefined ? '–' : figure(minutes / 60, 1);
const wasGiven = (id: string) => props.before?.members.find((m) => m.memberId === id)?.minutes;
</script>

<template>
  <section v-if="shares.length > 1" class="panel stack" data-test="shares">
    <h2>Shares</h2>
    <p class="small muted">
      Everybody comes to the same hours, those of the last {{ board.settings.fairDays }} days and the coming ones
      together, as far as they can use them. What nobody can use within their share goes to whom it is worth most.
    </p>
    <table class="figures">
      <thead>
        <tr>
          <th>Member</th>
          <th class="num">Had, h</th>
          <th class="num">Has, h</th>
          <th class="num">At most now, h</th>
          <th class="num">Given, h</th>
          <th v-if="before" class="num">Before, h</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="m in shares" :key="m.memberId">
          <td>{{ members.get(m.memberId) }}</td>
          <td class="num">{{ hours(m.received) }}</td>
          <td class="num">{{ hours(m.promised) }}</td>
          <td class="num">{{ hours(m.most) }}</td>
          <td class="num">{{ hours(m.minutes) }}</td>
          <td v-if="before" class="num">{{ hours(wasGiven(m.memberId)) }}</td>
        </tr>
      </tbody>
    </table>
  </section>
</template>
