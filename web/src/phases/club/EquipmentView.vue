<script setup lang="ts">
import { nameOf } from '@keen/core/phrases';
import { questions } from '../../api/questions.ts';
import { api, type PartRecord } from '@keen/contract';
import { partsToCsv, type BadRow } from '@keen/core/exchange';
import { PartKind, type Face } from '@keen/core/rig';
import { Button, Checkbox, Input, Modal, SelectOption, Textarea, message } from 'ant-design-vue';
import { computed, reactive, ref, shallowRef } from 'vue';
import { call } from '../../api/client.ts';
import { useAnswer } from '../../common/answer.ts';
import WhenThere from '../../common/WhenThere.vue';
import { problemPlaces, problemText } from '../../common/outcome.ts';
import ListTable, { type Column } from '../../common/ListTable.vue';
import CountPanel from './CountPanel.vue';
import PickOne from '../../common/PickOne.vue';
import QuantityInput from '../../common/QuantityInput.vue';
import { download } from '../../common/download.ts';
import ThreadInput from '../../common/ThreadInput.vue';
import { useShortcut } from '../../common/shortcuts.ts';
import { useSession } from '../../stores/session.ts';
import { core } from '../../workers/index.ts';
import { useUnits } from '../../stores/units.ts';

const session = useSession();
const drawer = useAnswer('The drawer', questions.parts);
const load = drawer.load;
const parts = computed<PartRecord[]>(() => drawer.value.value ?? []);

const units = useUnits();
const lengthOf = (mm: number | undefined) => (mm === undefined ? null : units.bare('lengthMm', mm));
const decimals = computed(() => (units.system === 'imperial' ? 3 : 2));
const columns = computed<Column<PartRecord>[]>(() => [
  { key: 'name', title: 'Part', value: (p) => p.name },
  { key: 'kind', title: 'Kind', value: (p) => units.say(nameOf(p.kind)) },
  {
    key: 'mass',
    title: `Mass, ${units.unitOf('massKg')}`,
    value: (p) => units.bare('massKg', p.massKg),
    decimals: 2,
    numeric: true,
  },
  {
    key: 'length',
    title: `Length, ${units.unitOf('lengthMm')}`,
    value: (p) => lengthOf(p.lengthMm),
    decimals: decimals.value,
    numeric: true,
  },
  { key: 'measured', title: 'measured', value: (p) => lengthOf(p.measuredMm), decimals: decimals.value, numeric: true },
  { key: 'count', title: 'Count', value: (p) => p.count, numeric: true },
  {
    key: 'threads',
    title: 'Threads',
    value: (p) =>
      [p.front, p.rear]
        .map((f) => (f ? `${f.size} ${f.gender}` : ''))
        .filter(Boolean)
        .join(' / '),
  },
  { key: 'owner', title: 'Owner', value: (p) => (p.lentTo ? `${p.owner}, lent to ${p.lentTo}` : p.owner) },
  { key: 'used', title: 'In', value: (p) => p.usedIn.join(', ') },
]);

const blank = () => ({
  id: '',
  version: 0,
  name: '',
  kind: 'accessory' as PartRecord['kind'],
  massKg: 0.1 as number | null,
  lengthMm: null as number | null,
  measuredMm: null as number | null,
  widthMm: null as number | null,
  count: 1 as number | null,
  note: '',
  lentTo: '',
  measuredBy: '',
  front: undefined as Face | undefined,
  rear: undefined as Face | undefined,
  ownedByClub: true,
});
const open = ref(false);
const form = reactive(blank());
const trouble = ref('');
/** Fields the form does not show are carried through unchanged. */
let rest: Partial<PartRecord> = {};
function edit(p?: PartRecord) {
  rest = p ?? {};
  Object.assign(
    form,
    blank(),
    p
      ? {
          ...p,
          ownedByClub: p.ownerId === null,
          lengthMm: p.lengthMm ?? null,
          measuredMm: p.measuredMm ?? null,
          widthMm: p.widthMm ?? null,
        }
      : {},
  );
  trouble.value = '';
  open.value = true;
}
/** The club's parts are measured by every member and put away by a steward; a person's own are theirs. */
const isMine = (p: PartRecord) => session.isSteward || p.ownerId === session.member?.id;
const mayChange = (p: PartRecord) => session.mayEdit && (p.ownerId === null || isMine(p));
const mayPutAway = (p: PartRecord) => session.mayEdit && isMine(p);
useShortcut('n', () => session.mayEdit && edit());
const given = <K extends string>(k: K, v: number | null) => (v === null ? {} : ({ [k]: v } as Record<K, number>));
async function save() {
  const { focalLengthMm, apertureMm, pixelUm, widthPx, heightPx, focuserStepUm, slots, ratedLoadKg } = rest;
  const kept = Object.fromEntries(
    Object.entries({ focalLengthMm, apertureMm, pixelUm, widthPx, heightPx, focuserStepUm, slots, ratedLoadKg }).filter(
      ([, v]) => v !== undefined,
    ),
  );
  const body = {
    ...kept,
    name: form.name,
    kind: form.kind,
    massKg: form.massKg ?? 0,
    count: form.count ?? 1,
    note: form.note,
    ownedByClub: form.ownedByClub,
    ...(form.lentTo?.trim() ? { lentTo: form.lentTo.trim() } : {}),
    ...(form.measuredBy?.trim() ? { measuredBy: form.measuredBy.trim() } : {}),
    ...(form.front ? { front: form.front } : {}),
    ...(form.rear ? { rear: form.rear } : {}),
    ...given('lengthMm', form.lengthMm),
    ...given('measuredMm', form.measuredMm),
    ...given('widthMm', form.widthMm),
  };
  const got = form.id
    ? await call(api.changePart, { params: { id: form.id }, body: { ...body, version: form.version } })
    : await call(api.addPart, { body });
  if (got.ok) {
    open.value = false;
    await load();
    return;
  }
  trouble.value = problemPlaces(got.problem);
  if (got.problem.code === 'stale') form.version = (got.problem.current as PartRecord).version;
}
const bad = shallowRef<BadRow[]>([]);
const readIn = ref('');
const partOf = ({
  id: _i,
  ownerId: _o,
  owner: _w,
  usedIn: _u,
  version: _v,
  updatedAt: _a,
  updatedBy: _b,
  ...part
}: PartRecord) => part;
const exportAll = () => download('equipment.csv', partsToCsv(parts.value.map(partOf)));
/** Thousands of parts fit; a file beyond it is something else [bytes]. */
const MOST_CSV = 2_000_000;
/** Parts of a file; names that are there already are left alone, so that reading a file twice doubles nothing. */
async function importCsv(file: File | undefined) {
  if (!file) return;
  [bad.value, readIn.value] = [[], ''];
  if (file.size > MOST_CSV) {
    readIn.value = `${file.name} has ${(file.size / 1e6).toFixed(0)} MB; a list of parts has ${MOST_CSV / 1e6} at most. Is it another file?`;
    bad.value = [{ line: 0, text: file.name, reason: 'too large for a list of parts' }];
    return;
  }
  const got = await core().readPartsCsv(await file.text());
  const known = new Set(parts.value.map((p) => p.name));
  const fresh = got.parts.filter((p) => !known.has(p.name));
  const refused: BadRow[] = [...got.bad];
  let added = 0;
  for (const p of fresh) {
    const answer = await call(api.addPart, { body: { ...p, ownedByClub: true } });
    if (answer.ok) added++;
    else refused.push({ line: 0, text: p.name, reason: problemText(answer.problem) });
  }
  bad.value = refused;
  readIn.value = `${added} part${added === 1 ? '' : 's'} added${got.parts.length > fresh.length ? `, ${got.parts.length - fresh.length} were there already` : ''}${refused.length ? `, ${refused.length} rows left out` : ''}.`;
  await load();
}
async function archive(p: PartRecord) {
  const got = await call(api.archivePart, { params: { id: p.id } });
  if (!got.ok) {
    void message.error(problemText(got.problem), 6);
    return;
  }
  await load();
  Modal.confirm({
    title: `${p.name} is put away`,
    content: 'It can be taken back at once.',
    okText: 'Fine',
    cancelText: 'Take it back',
    onCancel: async () => {
      await call(api.restorePart, { params: { id: p.id } });
      await load();
    },
  });
}
</script>

<template>
  <section class="panel stack">
    <div class="row spread">
      <h2>Equipment drawer</h2>
      <span class="row">
        <Button size="small" :disabled="!drawer.there.value" @click="exportAll">Drawer as CSV</Button>
        <label v-if="session.mayEdit" class="file">
          <input
            type="file"
            accept=".csv,text/csv"
            class="visually-hidden"
            data-test="parts-file"
            @change="importCsv(($event.target as HTMLInputElement).files?.[0])"
          />
          Read a CSV
        </label>
        <Button v-if="session.mayEdit" type="primary" title="n" @click="edit()">Add a part</Button>
      </span>
    </div>
    <p v-if="readIn" :class="bad.length ? 'level-caution' : 'level-good'" role="status">{{ readIn }}</p>
    <table v-if="bad.length" class="figures" data-test="bad-parts">
      <tbody>
        <tr v-for="b in bad.slice(0, 20)" :key="b.line + b.text">
          <td class="num">{{ b.line ? `line ${b.line}` : '' }}</td>
          <td>{{ b.reason }}</td>
          <td class="mono small muted">{{ b.text }}</td>
        </tr>
      </tbody>
    </table>
    <WhenThere :of="[drawer]">
      <ListTable
        :rows="parts"
        :columns="columns"
        name="equipment"
        :row-key="(p) => p.id"
        sort-by="name"
        empty="The drawer is empty: add a part, or read a CSV of them."
        @choose="mayChange($event) && edit($event)"
      >
        <template v-if="session.mayEdit" #acts="{ row }">
          <Button v-if="mayChange(row)" type="text" size="small" @click="edit(row)">Edit</Button>
          <Button v-if="mayPutAway(row)" type="text" size="small" @click="archive(row)">Put away</Button>
        </template>
      </ListTable>
    </WhenThere>
  </section>
  <CountPanel v-if="drawer.there.value" :parts="parts" @changed="load" />
  <Modal v-model:open="open" :title="form.id ? form.name : 'Add a part'" ok-text="Save" width="620px" @ok="save">
    <div class="stack">
      <div class="grid">
        <label class="wide">Name<Input v-model:value="form.name" /></label>
        <PickOne v-model:value="form.kind" label="Kind" shown show-search>
          <SelectOption v-for="k in PartKind.options" :key="k" :value="k">{{ units.say(nameOf(k)) }}</SelectOption>
        </PickOne>
        <QuantityInput v-model="form.massKg" dimension="mass" label="Mass" :min="0" :max="200" :step="0.05" />
        <QuantityInput v-model="form.count" dimension="number" label="How many" :decimals="0" :min="0" :max="999" />
        <QuantityInput
          v-model="form.lengthMm"
          dimension="length"
          label="Length, documented"
          optional
          :min="0"
          :step="0.1"
        />
        <QuantityInput
          v-model="form.measuredMm"
          dimension="length"
          label="Length, measured"
          optional
          :min="0"
          :step="0.1"
        />
        <QuantityInput v-model="form.widthMm" dimension="length" label="Width" optional :min="1" />
        <label>Measured by<Input v-model:value="form.measuredBy" /></label>
        <label>Lent to<Input v-model:value="form.lentTo" /></label>
        <span />
        <div class="wide row small">
          front <ThreadInput v-model="form.front" label="Front thread" /> rear
          <ThreadInput v-model="form.rear" label="Rear thread" />
        </div>
        <label class="wide">Note<Textarea v-model:value="form.note" :rows="2" /></label>
      </div>
      <Checkbox v-if="!session.alone" v-model:checked="form.ownedByClub">Belongs to the club</Checkbox>
      <p v-if="trouble" class="level-bad" role="alert">{{ trouble }}</p>
    </div>
  </Modal>
</template>

<style scoped>
.grid {
  display: grid;
  grid-template-columns: repeat(3, 1fr);
  gap: 10px 14px;
}
.file {
  cursor: pointer;
  display: inline-block;
  border: 1px solid var(--line-strong);
  border-radius: 4px;
  padding: 2px 9px;
  font-size: 14px;
  color: var(--ink);
}
.file:focus-within {
  outline: 2px solid var(--accent);
}
.wide {
  grid-column: span 2;
}
label {
  display: grid;
  gap: 2px;
  font-size: 13px;
  color: var(--ink-2);
}
</style>
