<script setup lang="ts">
import type { Board } from '@keen/contract';
import { figure } from '@keen/core/quantities';
import { Button } from 'ant-design-vue';
import { computed } from 'vue';
import { clock, dayName } from '../../common/times.ts';

/** One slot of the board: who has it, what it would be worth to everybody who may have it, and what a wish would cost. */
const props = defineProps<{
  board: Board;
  slotId: string;
  zones: ReadonlyMap<string, string>;
  names: ReadonlyMap<string, string>;
  members: ReadonlyMap<string, string>;
  rigNames: ReadonlyMap<string, string>;
  busy: boolean;
  /** Wishes are for whoever may change something. */
  may: boolean;
}>();
const emit = defineEmits<{ give: [project: string]; release: []; show: [project: string] }>();
const slot = computed(() => props.board.slots.find((s) => s.id === props.slotId)!);
const timeZone = computed(() => props.zones.get(slot.value.rigId) ?? 'UTC');
const locked = computed(() => props.board.locked.some((l) => l.slot === props.slotId));
const rows = computed(() =>
  props.board.projects
    .flatMap((p) => {
      const at = p.eligible.find((e) => e.slot === props.slotId);
      return at ? [{ p, quality: at.quality, worth: p.weight * at.quality * slot.value.minutes }] : [];
    })
    .sort((a, b) => b.worth - a.worth),
);
const holder = computed(() => rows.value.find((r) => r.p.projectId === slot.value.projectId) ?? null);
const moon = computed(() =>
  slot.value.moonUp === 0
    ? 'Moon down'
    : `Moon ${Math.round(100 * slot.value.moonlit)} % lit, up for ${Math.round(100 * slot.value.moonUp)} % of it`,
);
/** Why an hour goes to somebody to whom it is worth less: what binds the others, by their own sentences. */
const better = computed(() => (holder.value ? rows.value.filter((r) => r.worth > holder.value!.worth + 1e-9) : []));
</script>

<template>
  <section class="panel stack" data-test="board-slot">
    <h2>
      {{ dayName(slot.night) }}, {{ clock(slot.start, timeZone) }}–{{ clock(slot.end, timeZone) }},
      {{ rigNames.get(slot.rigId) }}
    </h2>
    <p class="small muted">{{ moon }}. {{ figure(slot.minutes, 0) }} min may be expected of it.</p>
    <p>
      <template v-if="holder">
        <strong>{{ names.get(holder.p.projectId) }}</strong> of {{ members.get(holder.p.memberId) }} has it{{
          locked ? ', as was wished' : ''
        }}{{ slot.beyondShare ? ': beyond their share, for nobody else can use it within theirs' : '' }}.
        <template v-if="!locked && better.length">
          It is worth more by itself to {{ better.map((r) => names.get(r.p.projectId)).join(', ') }}, but not for the
          whole: their need, their share or a change of object stands against it. Give it to them to see what it costs.
        </template>
      </template>
      <template v-else-if="rows.length">Nobody has it.</template>
      <template v-else>No project stands free in it.</template>
    </p>
    <table v-if="rows.length" class="figures">
      <thead>
        <tr>
          <th>Object</th>
          <th>Whose</th>
          <th class="num" title="Height, and what the Moon takes of it">Quality</th>
          <th class="num" title="Weight × quality × minutes">Worth</th>
          <th></th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="r in rows" :key="r.p.projectId" :class="{ has: r.p.projectId === slot.projectId }">
          <td>
            <button type="button" class="by-name" @click="emit('show', r.p.projectId)">
              {{ names.get(r.p.projectId) }}
            </button>
          </td>
          <td>{{ members.get(r.p.memberId) }}</td>
          <td class="num">{{ figure(100 * r.quality, 0) }}</td>
          <td class="num">{{ figure(r.worth, 1) }}</td>
          <td>
            <Button
              v-if="may && (r.p.projectId !== slot.projectId || !locked)"
              size="small"
              :disabled="busy"
              @click="emit('give', r.p.projectId)"
              >{{ r.p.projectId === slot.projectId ? 'Keep it' : 'Give it' }}</Button
            >
            <Button v-else-if="may" size="small" :disabled="busy" @click="emit('release')">Let it go</Button>
          </td>
        </tr>
      </tbody>
    </table>
  </section>
</template>

<style scoped>
.has td {
  font-weight: 600;
}
td:last-child {
  text-align: right;
}
</style>
