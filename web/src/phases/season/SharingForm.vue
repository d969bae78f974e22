<script setup lang="ts">
import { api, type SharingRecord } from '@keen/contract';
import { Button, Switch, message } from 'ant-design-vue';
import { computed, ref, watch } from 'vue';
import { call } from '../../api/client.ts';
import { problemText } from '../../common/outcome.ts';
import PickOne from '../../common/PickOne.vue';
import QuantityInput from '../../common/QuantityInput.vue';
import { useClub } from '../../stores/club.ts';
import { plainCopy } from '../../workers/index.ts';

/** How a rig is shared: by calendar, by the rules, or both, by weekday. */
const props = defineProps<{ sharing: readonly SharingRecord[] }>();
const emit = defineEmits<{ changed: [] }>();
const club = useClub();
const DAYS = ['Mon', 'Tue', 'Wed', 'Thu', 'Fri', 'Sat', 'Sun'];
const WAYS = [
  { value: 'mixed', label: 'both' },
  { value: 'calendar', label: 'calendar' },
  { value: 'queue', label: 'rules' },
];
const rigId = ref(club.rig?.id ?? '');
const there = computed(() => props.sharing.find((s) => s.rigId === rigId.value) ?? props.sharing[0] ?? null);
/** Rigs of which something was changed and not saved yet, and on what it was begun. */
const drafts = ref<Record<string, SharingRecord>>({});
const same = (a: SharingRecord, b: SharingRecord) => JSON.stringify(a) === JSON.stringify(b);
watch(
  [there, () => props.sharing],
  ([now], [was]) => {
    if (!now) return;
    const mine = drafts.value[now.rigId];
    // what was typed stays when others’ bookings have the list read anew, and when another rig was looked at between
    if (!mine || (was?.rigId === now.rigId && same(mine, was))) drafts.value[now.rigId] = plainCopy(now);
  },
  { immediate: true },
);
const draft = computed(() => (there.value ? (drafts.value[there.value.rigId] ?? null) : null));
const dirty = computed(() => draft.value !== null && !same(draft.value, there.value!));
const limited = computed({
  get: () => draft.value?.mostHours !== null,
  set: (on) => draft.value && (draft.value.mostHours = on ? 20 : null),
});
const trouble = ref('');
const busy = ref(false);
async function save() {
  const { rigId: id, updatedAt: _a, updatedBy: _b, ...body } = draft.value!;
  busy.value = true;
  const got = await call(api.changeSharing, { params: { id }, body });
  busy.value = false;
  trouble.value = got.ok ? '' : problemText(got.problem);
  if (!got.ok) return;
  drafts.value[id] = plainCopy(got.value);
  void message.success('Saved.');
  emit('changed');
}
</script>

<template>
  <section v-if="draft" class="panel stack no-print" data-test="sharing">
    <h2>How a rig is shared</h2>
    <p class="small muted">
      By calendar hours are booked, first come first served: simple, and everybody knows when. By the rules projects
      compete under Coming nights, and clear hours go where they are worth most. With both, what nobody booked goes by
      the rules.
    </p>
    <div class="row days">
      <PickOne
        v-model:value="rigId"
        label="Rig"
        shown
        :options="club.records.map((r) => ({ value: r.id, label: r.name }))"
        style="min-width: 160px"
      />
      <PickOne
        v-for="(d, i) in DAYS"
        :key="d"
        v-model:value="draft.ways[i]"
        :label="d"
        shown
        :options="WAYS"
        style="min-width: 92px"
      />
    </div>
    <div class="limits">
      <QuantityInput
        v-model="draft.aheadNights"
        dimension="number"
        unit="nights"
        label="Booked ahead at most"
        :decimals="0"
        :min="1"
        :max="400"
      />
      <QuantityInput
        v-if="draft.mostHours !== null"
        v-model="draft.mostHours"
        dimension="number"
        unit="h"
        label="A member’s, not yet had"
        :decimals="0"
        :min="1"
        :max="500"
      />
    </div>
    <label class="row small"
      ><Switch v-model:checked="draft.approval" size="small" /> a steward agrees to each booking</label
    >
    <label class="row small"><Switch v-model:checked="limited" size="small" /> so many hours a member, at most</label>
    <p v-if="trouble" class="level-bad" role="alert">{{ trouble }}</p>
    <div class="row">
      <Button type="primary" :disabled="!dirty || busy" @click="save">Save</Button>
      <Button v-if="dirty" @click="drafts[there!.rigId] = plainCopy(there!)">As it was</Button>
    </div>
  </section>
</template>

<style scoped>
.limits {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(170px, 220px));
  gap: 10px 14px;
}
.days {
  align-items: end;
}
</style>
