<script setup lang="ts">
import { api, type ProjectRecord } from '@keen/contract';
import { firstGoals } from '@keen/core/sequence';
import { eveningDate, OBJECT_TYPES, type CatalogueEntry } from '@keen/core/sky';
import type { SpokenVerdict } from '@keen/core/calculation';
import { filtersOf } from '@keen/core/rig';
import { formatDec, formatRa } from '@keen/core/quantities';
import { AutoComplete, Input, Modal } from 'ant-design-vue';
import { computed, reactive, ref, shallowRef, watch } from 'vue';
import { call } from '../../api/client.ts';
import { coreSite } from '../../common/records.ts';
import { problemPlaces } from '../../common/outcome.ts';
import PickOne from '../../common/PickOne.vue';
import QuantityInput from '../../common/QuantityInput.vue';
import { rigView, useClub } from '../../stores/club.ts';
import { useSession } from '../../stores/session.ts';
import { useUnits } from '../../stores/units.ts';
import { calculate, core, plainCopy } from '../../workers/index.ts';
import { latestOnly } from '../../common/latestOnly.ts';

/** Start a project: an object of the catalogue, a rig, and a first goal for its filters. */
const open = defineModel<boolean>('open', { required: true });
const props = defineProps<{ object?: string }>();
const emit = defineEmits<{ made: [project: ProjectRecord] }>();
const club = useClub();
const units = useUnits();
const session = useSession();
const typed = ref('');
const found = shallowRef<CatalogueEntry[]>([]);
const entry = shallowRef<CatalogueEntry | null>(null);
const form = reactive({
  name: '',
  rigId: '',
  system: '',
  filters: [] as string[],
  exposureS: 180 as number | null,
  quota: 40 as number | null,
  /** Null: as everybody begins. */
  lowest: null as number | null,
});
const limit = computed({
  get: () => form.lowest ?? session.settings.lowestAltitudeDeg,
  set: (deg: number | null) => (form.lowest = deg),
});
const trouble = ref('');
const busy = ref(false);
const record = computed(() => club.records.find((r) => r.id === form.rigId) ?? null);
const rig = computed(() => (record.value ? rigView(record.value, form.system) : null));
/** Every camera a project can be taken with: a rig, or one of its systems where it has several. */
const cameras = computed(() =>
  club.records.flatMap((r) =>
    r.systems.map((s) => ({
      value: `${r.id} ${s.key}`,
      label: r.systems.length > 1 ? `${r.name}: ${s.name}` : r.name,
    })),
  ),
);
function pickCamera(value: unknown) {
  [form.rigId = '', form.system = ''] = String(value).split(' ');
  suit();
}
/** Filters and exposure that suit the object, of those this camera has. */
function suit() {
  const filters = rig.value ? filtersOf(rig.value.setup) : [];
  const goals = firstGoals(entry.value?.type ?? '', filters);
  form.filters = goals.map((g) => g.filter);
  form.exposureS = goals[0]?.exposureS ?? form.exposureS;
  form.quota = goals[0]?.quota ?? form.quota;
}

const ask = latestOnly();
async function search(text: string) {
  typed.value = text;
  const late = ask();
  const got = text.trim() ? await core().find(text, 8) : [];
  if (late()) return;
  found.value = got;
  entry.value =
    got.find((o) => [o.id, ...o.aliases, ...o.names].some((n) => n.toLowerCase() === text.trim().toLowerCase())) ??
    null;
}
function choose(value: unknown) {
  entry.value = found.value.find((o) => o.id === value) ?? null;
  typed.value = String(value);
  suit();
  if (entry.value && !form.name)
    form.name = entry.value.name ? `${entry.value.id}, ${entry.value.name}` : entry.value.id;
}
watch(
  open,
  async (now) => {
    if (!now) return;
    trouble.value = '';
    pickCamera(`${club.rig?.id ?? ''} ${club.rig?.system.key ?? ''}`);
    form.name = '';
    await search(props.object ?? '');
    if (entry.value) choose(entry.value.id);
  },
  { immediate: true },
);
/** The object through the coming year at the place of the rig: hours enough, few, or none at all. */
const year = shallowRef<SpokenVerdict | null>(null);
const site = computed(() => club.sites.find((s) => s.id === record.value?.siteId) ?? null);
const askYear = latestOnly();
watch(
  () => [entry.value?.id, site.value?.id, limit.value, open.value] as const,
  async () => {
    const late = askYear();
    const [o, s] = [entry.value, site.value];
    year.value = null;
    if (!o || !s || !open.value) return;
    const place = {
      site: coreSite(s),
      raDeg: o.raDeg,
      decDeg: o.decDeg,
      minimumAltitudeDeg: limit.value,
      darkness: 'astronomical' as const,
    };
    const from = eveningDate(s.timeZone, club.now);
    const through = await calculate('sky.year', plainCopy({ ...place, from, nights: 365 }));
    if (late() || !through.ok) return;
    if (through.value.verdict.level !== 'bad') {
      year.value = through.value.verdict;
      return;
    }
    // where it never has an hour, how high it comes says why
    const tonight = await calculate('sky.target', plainCopy({ ...place, date: from, darkness: 'civil' as const }));
    if (late()) return;
    const why = tonight.ok && tonight.value.verdict.level === 'bad' ? tonight.value.verdict.phrases : [];
    year.value = { ...through.value.verdict, phrases: [...through.value.verdict.phrases, ...why] };
  },
);
const never = computed(() => year.value?.level === 'bad');
async function make() {
  const o = entry.value;
  if (!o) {
    trouble.value = typed.value.trim()
      ? `“${typed.value}” is not in the catalogue; type a designation such as NGC 891 and choose it.`
      : 'Which object? Type a designation such as NGC 891.';
    return;
  }
  busy.value = true;
  const got = await call(api.addProject, {
    body: {
      name: form.name || o.id,
      object: o.id,
      objectType: OBJECT_TYPES[o.type] ?? '',
      raDeg: o.raDeg,
      decDeg: o.decDeg,
      sizeArcmin: o.majorArcmin,
      rigId: form.rigId,
      system: form.system,
      angleDeg: 0,
      minimumAltitudeDeg: limit.value,
      goals: form.filters.map((filter) => ({ filter, exposureS: form.exposureS ?? 180, quota: form.quota ?? 40 })),
      note: '',
    },
  });
  busy.value = false;
  if (!got.ok) {
    trouble.value = problemPlaces(got.problem);
    return;
  }
  open.value = false;
  emit('made', got.value);
}
</script>

<template>
  <Modal
    v-model:open="open"
    title="Start a project"
    :ok-text="never ? 'Start it all the same' : 'Start it'"
    :confirm-loading="busy"
    width="560px"
    @ok="make"
  >
    <div class="stack">
      <label>
        Object
        <AutoComplete
          :value="typed"
          placeholder="NGC 891, M 33, IC 5146 …"
          :options="
            found.map((o) => ({
              value: o.id,
              label:
                [o.id, ...o.aliases.slice(0, 2), ...o.names.slice(0, 1)].join(', ') +
                ` (${OBJECT_TYPES[o.type] ?? o.type})`,
            }))
          "
          @update:value="search(String($event ?? ''))"
          @select="choose"
        />
      </label>
      <p v-if="entry" class="muted small mono">
        {{ formatRa(entry.raDeg) }} {{ formatDec(entry.decDeg)
        }}<template v-if="entry.majorArcmin">, {{ entry.majorArcmin.toFixed(1) }}′</template>
      </p>
      <p v-if="year && site" class="small" :class="`level-${year.level}`" data-test="year">
        At {{ site.name }}: {{ units.verdict(year) }}
      </p>
      <label>Name<Input v-model:value="form.name" /></label>
      <div class="grid">
        <PickOne
          :value="`${form.rigId} ${form.system}`"
          label="Rig"
          shown
          :options="cameras"
          @update:value="pickCamera"
        />
        <PickOne
          v-model:value="form.filters"
          label="Filters"
          shown
          mode="multiple"
          :options="(rig ? filtersOf(rig.setup) : []).map((f) => ({ value: f, label: f }))"
        />
        <QuantityInput
          v-model="form.exposureS"
          dimension="duration"
          label="Exposure each"
          :decimals="0"
          :min="1"
          :max="7200"
          :step="30"
        />
        <QuantityInput
          v-model="form.quota"
          dimension="number"
          label="Frames a filter"
          :decimals="0"
          :min="1"
          :max="9999"
        />
        <QuantityInput v-model="limit" dimension="angle" label="Not below" :decimals="0" :min="0" :max="85" />
      </div>
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
