<script setup lang="ts">
import { questions } from '../../api/questions.ts';
import { isMasterOf, masterState } from '@keen/core/calibration';
import { api, type CalibrationGroup, type MasterRecord } from '@keen/contract';
import { figure } from '@keen/core/quantities';
import { Button, Input } from 'ant-design-vue';
import dayjs from 'dayjs';
import { computed, ref, shallowRef } from 'vue';
import { call } from '../../api/client.ts';
import FilterTile from '../../common/FilterTile.vue';
import { KIND_WORDS } from '../../common/frameKinds.ts';
import { useAnswer } from '../../common/answer.ts';
import ListTable, { type Column } from '../../common/ListTable.vue';
import { problemText } from '../../common/outcome.ts';
import WhenThere from '../../common/WhenThere.vue';
import { dayName } from '../../common/times.ts';
import { useClub } from '../../stores/club.ts';
import { useSession } from '../../stores/session.ts';
import { useUnits } from '../../stores/units.ts';

/** Masters on record, what they hold for and how old they are; and calibration frames of which one may be made. */
const props = defineProps<{ groups: readonly CalibrationGroup[] }>();
const emit = defineEmits<{ changed: [] }>();
const club = useClub();
const session = useSession();
const units = useUnits();
const answer = useAnswer('The masters on record', () =>
  club.rig ? questions.masters(club.rig.id, club.rig.system.key) : null,
);
const load = answer.load;
const masters = computed<MasterRecord[]>(() => answer.value.value ?? []);
const trouble = ref('');
const ageOf = (m: MasterRecord) => Math.max(0, dayjs(club.tonight || undefined).diff(dayjs(m.madeOn), 'day'));
const state = (m: MasterRecord) => {
  const { level, phrase } = masterState({ kind: m.kind, holds: m.holds, ageDays: ageOf(m) });
  return { level, words: units.say(phrase) };
};
const columns = computed<Column<MasterRecord>[]>(() => [
  { key: 'kind', title: 'Master', value: (m) => KIND_WORDS[m.kind] },
  { key: 'filter', title: 'Filter', value: (m) => m.filter },
  { key: 'exposure', title: 's', value: (m) => m.exposureS, numeric: true, decimals: 2 },
  { key: 'gain', title: 'Gain', value: (m) => m.gain, numeric: true, decimals: 0 },
  {
    key: 'set',
    title: units.unitOf('airC'),
    value: (m) => (m.setPointC === null ? null : units.bare('airC', m.setPointC)),
    numeric: true,
    decimals: 0,
  },
  { key: 'frames', title: 'Of frames', value: (m) => m.frames, numeric: true, decimals: 0 },
  { key: 'made', title: 'Made', value: (m) => m.madeOn },
  { key: 'state', title: 'Holds', value: (m) => state(m).words },
  { key: 'file', title: 'File', value: (m) => m.file },
]);
/** Groups no master was made of, newest first. */
const open = computed(() =>
  props.groups.filter((g) => g.holds && g.kind !== 'light' && !masters.value.some((m) => isMasterOf(m, g))),
);
const file = ref<Record<number, string>>({});
async function made(g: CalibrationGroup, i: number) {
  const rig = club.rig;
  if (!rig || g.kind === 'light') return;
  const { kind, filter, exposureS, gain, setPointC, binning, frames } = g;
  const body = {
    system: rig.system.key,
    kind,
    filter,
    exposureS,
    gain,
    setPointC,
    binning,
    frames,
    madeOn: club.tonight,
    file: (file.value[i] ?? '').trim(),
  };
  const got = await call(api.addMaster, { params: { id: rig.id }, body });
  trouble.value = got.ok ? '' : problemText(got.problem);
  if (!got.ok) return;
  file.value = {};
  await load();
  emit('changed');
}
const dropped = shallowRef<MasterRecord | null>(null);
async function drop(m: MasterRecord) {
  const got = await call(api.dropMaster, { params: { id: m.id } });
  trouble.value = got.ok ? '' : problemText(got.problem);
  if (got.ok) dropped.value = m;
  await load();
  emit('changed');
}
async function bringBack() {
  const got = await call(api.restoreMaster, { params: { id: dropped.value!.id }, body: {} });
  trouble.value = got.ok ? '' : problemText(got.problem);
  if (got.ok) dropped.value = null;
  await load();
  emit('changed');
}
const mayDrop = (m: MasterRecord) => session.isSteward || m.byId === session.member?.id;
</script>

<template>
  <WhenThere :of="[answer]" />
  <section
    v-if="answer.there.value && (masters.length || open.length || dropped)"
    class="panel stack"
    data-test="masters"
  >
    <h2>Masters</h2>
    <p v-if="trouble" class="level-bad" role="alert">{{ trouble }}</p>
    <p v-if="dropped" class="row small" role="status">
      The master {{ KIND_WORDS[dropped.kind] }} is put away.
      <Button size="small" @click="bringBack">Bring it back</Button>
    </p>
    <ListTable
      v-if="masters.length"
      :rows="masters"
      :columns="columns"
      name="masters"
      :row-key="(m) => m.id"
      :page-size="10"
    >
      <template #filter="{ row }"><FilterTile v-if="row.filter" :name="row.filter" /></template>
      <template #made="{ row }">{{ dayName(row.madeOn) }}</template>
      <template #state="{ row }"><span :class="`level-${state(row).level}`">{{ state(row).words }}</span></template>
      <template #acts="{ row }"
        ><Button v-if="mayDrop(row)" size="small" type="text" @click="drop(row)">Put away</Button></template
      >
    </ListTable>
    <template v-if="open.length && session.mayEdit">
      <p class="muted">On record without a master; put one on record when it is made, and it serves in their place.</p>
      <div v-for="(g, i) in open.slice(0, 12)" :key="i" class="row small">
        <span class="what"
          >{{ g.frames }} × {{ KIND_WORDS[g.kind] }} <FilterTile v-if="g.filter" :name="g.filter" />
          {{ figure(g.exposureS, g.exposureS < 10 ? 2 : 0) }} s<template v-if="g.gain !== null"
            >, gain {{ g.gain }}</template
          ><template v-if="g.setPointC !== null">, {{ units.temperature(g.setPointC, 0) }}</template></span
        >
        <Input
          v-model:value="file[i]"
          size="small"
          class="file"
          :maxlength="255"
          placeholder="its file, if you like"
          :aria-label="`File of the master ${KIND_WORDS[g.kind]} ${g.filter}`"
        />
        <Button size="small" @click="made(g, i)">A master was made of them</Button>
      </div>
    </template>
  </section>
</template>

<style scoped>
.what {
  min-width: 250px;
}
.file {
  width: 200px;
}
</style>
