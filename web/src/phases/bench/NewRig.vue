<script setup lang="ts">
import { api } from '@keen/contract';
import { assembleRig, FILTER_SETS, MOUNTS, SENSORS, TUBES } from '@keen/core/rig';
import { Input, Modal } from 'ant-design-vue';
import { computed, reactive, ref, watch } from 'vue';
import { RouterLink } from 'vue-router';
import { call } from '../../api/client.ts';
import { problemPlaces } from '../../common/outcome.ts';
import PickOne from '../../common/PickOne.vue';
import { useClub } from '../../stores/club.ts';
import { plainCopy } from '../../workers/index.ts';

/** Another rig: a copy of one that stands, or put together from kinds of things. */
const open = defineModel<boolean>('open', { required: true });
const club = useClub();
const KINDS = 'kinds';
const blank = () => ({
  name: '',
  siteId: club.site?.id ?? '',
  from: club.rig?.id ?? KINDS,
  mount: MOUNTS[2]!.key,
  tube: TUBES[2]!.key,
  sensor: SENSORS[4]!.key,
  sees: 'mono' as 'mono' | 'colour',
  guider: 'none' as 'none' | 'guide-scope' | 'off-axis',
  holder: 'wheel' as 'none' | 'drawer' | 'wheel',
});
const form = reactive(blank());
const busy = ref(false);
const trouble = ref('');
watch(open, (now) => {
  if (now) Object.assign(form, blank());
  trouble.value = '';
});
const models = computed(() => [
  { value: KINDS, label: 'kinds of things, with typical numbers' },
  ...club.records.map((r) => ({ value: r.id, label: `a copy of ${r.name}` })),
]);
const listed = (kits: readonly { key: string; label: string }[]) => kits.map((k) => ({ value: k.key, label: k.label }));
const GUIDERS = [
  { value: 'none', label: 'none yet' },
  { value: 'guide-scope', label: 'guide scope' },
  { value: 'off-axis', label: 'off axis' },
];
const HOLDERS = [
  { value: 'none', label: 'no filter' },
  { value: 'drawer', label: 'drawer' },
  { value: 'wheel', label: 'wheel' },
];
const SEES = [
  { value: 'mono', label: 'monochrome' },
  { value: 'colour', label: 'colour' },
];
function setupOf() {
  const copied = club.records.find((r) => r.id === form.from);
  if (copied) return plainCopy(copied.setup);
  const of = <K extends { key: string }>(kits: readonly K[], key: string) => kits.find((k) => k.key === key)!;
  return assembleRig({
    mount: of(MOUNTS, form.mount),
    tube: of(TUBES, form.tube),
    sensor: of(SENSORS, form.sensor),
    bayer: form.sees === 'colour' ? 'RGGB' : null,
    guider: form.guider,
    holder: form.holder,
    filters: form.holder === 'none' || form.sees === 'colour' ? [] : FILTER_SETS[1].filters,
    dewHeater: true,
    cablesKg: 0.4,
  });
}
async function build() {
  if (!form.name.trim()) {
    trouble.value = 'Give the rig a name.';
    return;
  }
  busy.value = true;
  const got = await call(api.addRig, { body: { name: form.name, siteId: form.siteId, setup: setupOf() } });
  busy.value = false;
  if (!got.ok) {
    trouble.value = problemPlaces(got.problem);
    return;
  }
  open.value = false;
  club.putRig(got.value);
  club.selectRig(got.value.id, got.value.systems[0]!.key);
}
</script>

<template>
  <Modal
    v-model:open="open"
    title="New rig"
    ok-text="Build"
    width="600px"
    :confirm-loading="busy"
    :ok-button-props="{ disabled: !club.sites.length }"
    @ok="build"
  >
    <p v-if="!club.sites.length">
      A rig stands somewhere: <RouterLink to="/club/sites">add a site</RouterLink> first, or let
      <RouterLink to="/first-evening">the first evening</RouterLink> lead you.
    </p>
    <div v-else class="stack">
      <label>Name<Input v-model:value="form.name" :maxlength="120" /></label>
      <div class="grid">
        <PickOne
          v-model:value="form.siteId"
          label="Site"
          shown
          :options="club.sites.map((s) => ({ value: s.id, label: s.name }))"
        />
        <PickOne v-model:value="form.from" label="Begins as" shown :options="models" />
        <template v-if="form.from === KINDS">
          <PickOne v-model:value="form.mount" label="Mount" shown :options="listed(MOUNTS)" />
          <PickOne v-model:value="form.tube" label="Tube" shown :options="listed(TUBES)" />
          <PickOne v-model:value="form.sensor" label="Sensor" shown :options="listed(SENSORS)" />
          <PickOne v-model:value="form.sees" label="Camera" shown :options="SEES" />
          <PickOne v-model:value="form.guider" label="Guiding" shown :options="GUIDERS" />
          <PickOne v-model:value="form.holder" label="Filters in" shown :options="HOLDERS" />
        </template>
      </div>
      <p class="muted small">
        {{
          form.from === KINDS
            ? 'Masses and places are assumed and say so, with what they may be off; measure the ones the balance names.'
            : 'Change parts and places afterwards; offsets and flats are not copied.'
        }}
      </p>
      <p v-if="trouble" class="level-bad" role="alert">{{ trouble }}</p>
    </div>
  </Modal>
</template>

<style scoped>
label {
  display: grid;
  gap: 2px;
  font-size: 13px;
  color: var(--ink-2);
}
.grid {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 10px 14px;
}
</style>
