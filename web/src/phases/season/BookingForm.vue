<script setup lang="ts">
import type { SharingRecord } from '@keen/contract';
import { wayOf } from '@keen/core/booking';
import { instantOfLocal } from '@keen/core/sky';
import { Button, Input } from 'ant-design-vue';
import { computed, ref, watch } from 'vue';
import { darkHours } from '../../common/darkHours.ts';
import PickOne from '../../common/PickOne.vue';
import TimeInput from '../../common/TimeInput.vue';
import type { Hours } from '../../common/useHours.ts';
import { useClub } from '../../stores/club.ts';
import { useSession } from '../../stores/session.ts';

/** Books hours of a night: all of its dark, a half of it, or from when to when. */
const props = defineProps<{ night: string; sharing: readonly SharingRecord[]; hours: Hours }>();
const emit = defineEmits<{ changed: [] }>();
const club = useClub();
const session = useSession();
const rigId = ref(club.rig?.id ?? '');
const rig = computed(() => club.records.find((r) => r.id === rigId.value) ?? club.records[0] ?? null);
const site = computed(() => club.sites.find((s) => s.id === rig.value?.siteId) ?? null);
const zone = computed(() => site.value?.timeZone ?? 'UTC');
const MINUTE = 60_000;
const minuteNow = computed(() => Math.ceil(club.now / MINUTE) * MINUTE);
const dark = computed(() => {
  if (!site.value) return null;
  const found = darkHours(site.value, props.night);
  // where it never gets dark the night is what the clock says
  const at = (hour: number) => instantOfLocal(zone.value, Date.parse(`${props.night}T00:00:00Z`) + hour * 3_600_000);
  const { fromMs, toMs } = found ?? { fromMs: at(22), toMs: at(28) };
  // what is offered for tonight begins now
  return { fromMs: Math.max(fromMs, minuteNow.value), toMs };
});
const from = ref('');
const until = ref('');
const projectId = ref('');
const note = ref('');
const iso = (ms: number) => new Date(Math.round(ms / MINUTE) * MINUTE).toISOString();
/** A part of the dark, as shares of it. */
function part(a: number, b: number) {
  const d = dark.value;
  if (!d) return;
  from.value = iso(d.fromMs + a * (d.toMs - d.fromMs));
  until.value = iso(d.fromMs + b * (d.toMs - d.fromMs));
}
watch([() => props.night, rigId], () => part(0, 1), { immediate: true });
/** A member books for what is theirs. */
const projects = computed(() =>
  club.projects.filter((p) => p.rigId === rig.value?.id && !p.archived && p.ownerId === session.member?.id),
);
watch(
  projects,
  (list) => {
    if (!list.some((p) => p.id === projectId.value)) projectId.value = list[0]?.id ?? '';
  },
  { immediate: true },
);
/** The dark of this night has passed. */
const over = computed(() => dark.value !== null && dark.value.toMs <= dark.value.fromMs);
const closed = computed(() => {
  const shared = props.sharing.find((s) => s.rigId === rig.value?.id);
  return !session.isSteward && shared !== undefined && wayOf(shared, props.night) === 'queue';
});
const { busy, refused } = props.hours;
// what was refused was about the hours that were sent
watch([() => props.night, rigId, from, until], () => props.hours.forget());
const taken = computed(() => refused.value?.code === 'night_overlap');
async function book(wait = false) {
  const made = await props.hours.book({
    rigId: rig.value!.id,
    night: props.night,
    start: from.value,
    end: until.value,
    projectId: projectId.value || null,
    note: note.value,
    wait,
  });
  if (!made) return;
  note.value = '';
  emit('changed');
}
</script>

<template>
  <form v-if="rig && from" class="stack book" @submit.prevent="book()">
    <h3>Book hours</h3>
    <div class="row">
      <PickOne
        v-model:value="rigId"
        label="Rig"
        shown
        :options="club.records.map((r) => ({ value: r.id, label: r.name }))"
        style="min-width: 160px"
      />
      <PickOne
        v-model:value="projectId"
        label="For"
        shown
        :options="[...projects.map((p) => ({ value: p.id, label: p.object })), { value: '', label: 'said later' }]"
        style="min-width: 120px"
      />
    </div>
    <p v-if="closed" class="small muted">
      On this weekday the rig’s hours are given by the rules under Coming nights; they are not booked.
    </p>
    <p v-else-if="over" class="small muted">The dark of this night has passed.</p>
    <template v-else>
      <div class="row">
        <TimeInput v-model="from" label="From" :time-zone="zone" :night="night" />
        <TimeInput v-model="until" label="Until" :time-zone="zone" :night="night" />
        <span class="row halves">
          <Button size="small" @click="part(0, 1)">All the dark</Button>
          <Button size="small" @click="part(0, 0.5)">First half</Button>
          <Button size="small" @click="part(0.5, 1)">Second half</Button>
        </span>
      </div>
      <Input
        v-model:value="note"
        :maxlength="500"
        placeholder="a word to the others"
        aria-label="A word to the others"
      />
      <div class="row">
        <Button type="primary" html-type="submit" :disabled="busy">Book</Button>
        <Button v-if="taken" :disabled="busy" @click="book(true)">Wait for them</Button>
      </div>
    </template>
  </form>
</template>

<style scoped>
.book {
  border-top: 1px solid var(--line);
  padding-top: 8px;
}
h3 {
  font-size: 15px;
  margin: 0;
}
.halves {
  align-self: end;
  gap: 4px;
}
</style>
