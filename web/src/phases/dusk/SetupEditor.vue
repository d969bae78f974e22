<script setup lang="ts">
import { api, type SetupListRecord } from '@keen/contract';
import { FACTS, SetupItems, type SetupItem } from '@keen/core/setup';
import { DeleteOutlined, PlusOutlined } from '@ant-design/icons-vue';
import { Button, Input, Textarea } from 'ant-design-vue';
import { computed } from 'vue';
import { VueDraggable } from 'vue-draggable-plus';
import { call } from '../../api/client.ts';
import ConflictDialog from '../../common/ConflictDialog.vue';
import { useDraft } from '../../common/draft.ts';
import MoveHandle from '../../common/MoveHandle.vue';
import { moveBy } from '../../common/order.ts';
import PickOne from '../../common/PickOne.vue';
import { useSaving } from '../../common/savedDraft.ts';
import { useClub } from '../../stores/club.ts';
import { plainCopy } from '../../workers/index.ts';
import UndoButtons from '../../common/UndoButtons.vue';

/** The steward makes a rig's own list: wording, order, cautions, and which of tonight's figures stands beside a step. */
const props = defineProps<{ list: SetupListRecord }>();
const emit = defineEmits<{ saved: [list: SetupListRecord]; close: [] }>();
const club = useClub();
const kept = useDraft<{ items: SetupItem[] }>(
  () => `setup-list.${props.list.rigId}`,
  () => ({ value: { items: props.list.items }, version: props.list.version }),
);
const { draft, undo, undoable, redo, redoable } = kept;
const saving = useSaving<SetupListRecord>(
  kept,
  (version) =>
    call(api.changeSetupList, {
      params: { id: props.list.rigId },
      query: { night: club.night },
      body: { items: plainCopy(draft.value!.items), version },
    }),
  (l) => emit('saved', l),
  (l) => `List saved, ${l.items.length} steps.`,
);
const { busy, trouble, conflict } = saving;
/** What keeps it from being saved, by the step it stands at. */
const wrong = computed(() => {
  const got = SetupItems.safeParse(draft.value?.items ?? []);
  return got.success
    ? ''
    : got.error.issues
        .slice(0, 2)
        .map((i) => (typeof i.path[0] === 'number' ? `Step ${i.path[0] + 1}: ${i.message}` : i.message))
        .join('. ');
});
const WORDS: Record<string, string> = {
  'focus-filter': 'focus filter',
  'guide-star': 'guide star',
  'first-exposure': 'first exposure',
};
const factOptions = [{ value: '', label: 'no figure' }, ...FACTS.map((f) => ({ value: f, label: WORDS[f] ?? f }))];
function add() {
  const last = draft.value!.items.at(-1);
  let n = draft.value!.items.length + 1;
  while (draft.value!.items.some((i) => i.key === `own-${n}`)) n++;
  draft.value!.items.push({ key: `own-${n}`, group: last?.group ?? 'Begin', text: 'New step' });
}
function setFact(item: SetupItem, value: unknown) {
  if (value === '') delete item.fact;
  else item.fact = value as (typeof FACTS)[number];
}
function setCaution(item: SetupItem, text: string | undefined) {
  if (text?.trim()) item.caution = text;
  else delete item.caution;
}
async function save() {
  if (await saving.save()) emit('close');
}
</script>

<template>
  <section v-if="draft" class="panel stack" data-test="setup-editor">
    <div class="row spread">
      <h2>{{ list.own ? 'The own list of this rig' : 'Make an own list from this one' }}</h2>
      <span class="row">
        <UndoButtons v-if="undoable || redoable" :undoable="undoable" :redoable="redoable" @undo="undo" @redo="redo" />
        <Button size="small" @click="(kept.discard(), emit('close'))">Leave it as it was</Button>
        <Button type="primary" :loading="busy" :disabled="wrong !== ''" @click="save">Save the list</Button>
      </span>
    </div>
    <p v-if="trouble || wrong" class="level-bad" role="alert">{{ trouble || wrong }}</p>
    <VueDraggable v-model="draft.items" handle=".grip" :animation="120" class="items">
      <div v-for="(item, i) in draft.items" :key="item.key" class="item">
        <MoveHandle class="grip" :label="`step ${i + 1}`" @move="moveBy(draft!.items, i, $event)" />
        <Input v-model:value="item.group" :maxlength="60" :aria-label="`Step ${i + 1}, group`" class="name" />
        <Textarea
          v-model:value="item.text"
          :maxlength="300"
          :auto-size="{ minRows: 1, maxRows: 4 }"
          :aria-label="`Step ${i + 1}, what to do`"
        />
        <PickOne
          :value="item.fact ?? ''"
          :label="`Step ${i + 1}, figure`"
          :options="factOptions"
          size="small"
          class="fact"
          @update:value="setFact(item, $event)"
        />
        <Button
          type="text"
          size="small"
          :aria-label="`Remove step ${i + 1}`"
          :disabled="draft.items.length === 1"
          @click="draft!.items.splice(i, 1)"
          ><DeleteOutlined
        /></Button>
        <Textarea
          :value="item.caution ?? ''"
          :maxlength="400"
          :auto-size="{ minRows: 1, maxRows: 4 }"
          :aria-label="`Step ${i + 1}, caution`"
          placeholder="caution, if the step can hurt somebody"
          class="caution"
          @update:value="setCaution(item, $event)"
        />
      </div>
    </VueDraggable>
    <Button class="start" @click="add"><PlusOutlined /> Add a step</Button>
    <ConflictDialog :saving="saving" :mine="draft.items" :theirs="conflict?.theirs.items ?? null" />
  </section>
</template>

<style scoped>
.items {
  display: grid;
  gap: 8px;
}
.item {
  display: grid;
  grid-template-columns: 26px 150px minmax(0, 1fr) 130px 34px;
  gap: 4px 8px;
  align-items: center;
  padding-bottom: 8px;
  border-bottom: 1px solid var(--line);
}
.caution {
  grid-column: 3 / 5;
}
.start {
  justify-self: start;
}
@media (max-width: 700px) {
  .item {
    grid-template-columns: 22px minmax(0, 1fr) 34px;
  }
  .item > :deep(*) {
    grid-column: 2;
  }
}
</style>
