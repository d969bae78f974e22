<script setup lang="ts">
import { questions } from '../../api/questions.ts';
import { type PartRecord } from '@keen/contract';
import { RouterLink } from 'vue-router';
import { useAnswer } from '../../common/answer.ts';
import WhenThere from '../../common/WhenThere.vue';
import { phrase } from '@keen/core/phrases';
import { countedMm, type TrainPart } from '@keen/core/rig';
import { tiltsUnseen } from '@keen/core/train';
import { Button, Input } from 'ant-design-vue';
import { VueDraggable } from 'vue-draggable-plus';
import { computed, ref } from 'vue';
import EmptyState from '../../common/EmptyState.vue';
import OriginMark from '../../common/OriginMark.vue';
import MoveHandle from '../../common/MoveHandle.vue';
import { moveBy } from '../../common/order.ts';
import PickOne from '../../common/PickOne.vue';
import QuantityInput from '../../common/QuantityInput.vue';
import VerdictLine from '../../common/VerdictLine.vue';
import WorkingFold from '../../common/WorkingFold.vue';
import { useClub } from '../../stores/club.ts';
import { useSession } from '../../stores/session.ts';
import RigSaveBar from '../../common/RigSaveBar.vue';
import ThreadInput from '../../common/ThreadInput.vue';
import TrainPiece from './TrainPiece.vue';
import TrainRuler from './TrainRuler.vue';
import TrainSearch from './TrainSearch.vue';
import { useRigDraft } from '../../common/useRigDraft.ts';
import { useTrain } from './useTrain.ts';
import { useUnits } from '../../stores/units.ts';

const units = useUnits();
const club = useClub();
const session = useSession();
const edit = useRigDraft();
const setup = computed(() => edit.draft.value?.setup ?? null);
const off = computed(() => !session.mayEdit);
const parts = useAnswer('The drawer', questions.parts);
const drawer = computed<PartRecord[]>(() => parts.value.value ?? []);
const chosen = ref(-1);
const unseen = computed(() => tiltsUnseen({ train: train.value }));
const piece = computed(() => setup.value?.train[chosen.value] ?? null);
/** A name no piece has yet. */
const freeName = computed(() => {
  const names = new Set(setup.value?.train.map((p) => p.name));
  let n = names.size + 1;
  while (names.has(`piece ${n}`)) n++;
  return `piece ${n}`;
});
function markGuider(on: boolean) {
  setup.value?.train.forEach((p, i) => {
    if (i === chosen.value && on) p.guider = true;
    else delete p.guider;
  });
}
const {
  shown,
  variant,
  corrector,
  train,
  distance,
  result,
  reduced,
  view,
  mismatches,
  pieceOf,
  insert,
  add,
  sayRole,
  verdict,
  notes,
} = useTrain(setup, drawer);
/** A length somebody typed is theirs, no longer assumed. */
function typedLength(p: TrainPart, mm: number | null) {
  if (mm === null || mm === p.lengthMm) return;
  p.lengthMm = mm;
  delete p.from;
}
function typedDistance(mm: number | null) {
  const c = corrector.value;
  if (!c || mm === null || mm === c.requiredMm) return;
  c.requiredMm = mm;
  delete c.from;
}
const IS = { corrector: 'the corrector', camera: 'the camera' } as const;
</script>

<template>
  <EmptyState v-if="!club.rig || !setup" title="No rig yet" lacks="rig"
    >A train belongs to a rig: its pieces from the corrector to the sensor.</EmptyState
  >
  <template v-else>
    <VerdictLine :verdict="verdict" :notes="notes" />
    <section class="panel stack">
      <div class="row spread">
        <span class="row">
          <h2>From the corrector to the sensor</h2>
          <span v-if="setup.variants?.length" class="toggle" role="group" aria-label="Configuration">
            <button type="button" :aria-pressed="shown === ''" @click="shown = ''">as it stands</button>
            <button
              v-for="v in setup.variants"
              :key="v.name"
              type="button"
              :aria-pressed="shown === v.name"
              @click="shown = v.name"
            >
              {{ v.name }}
            </button>
          </span>
        </span>
      </div>
      <TrainRuler
        :train="train"
        :result="result"
        :tolerance-mm="corrector?.toleranceMm ?? 1"
        :stretch="distance?.stretch ?? null"
        :chosen="chosen"
        @choose="chosen = $event"
      />
      <div
        v-for="a in off || variant ? [] : (distance?.stretch.asked ?? [])"
        :key="a.name"
        class="row small"
        data-test="asked"
      >
        Is “{{ a.name }}” {{ IS[a.as] }}?
        <Button size="small" @click="sayRole(a.name, a.as)">Yes, {{ IS[a.as] }}</Button>
        <Button size="small" @click="sayRole(a.name, 'piece')">No, a piece like the others</Button>
      </div>
      <p v-if="unseen" class="level-bad small" role="alert" data-test="tilts-unseen">
        {{ units.say(phrase('train.tilts-unseen', { name: unseen })) }}
      </p>
      <div v-for="m in mismatches" :key="m.at" class="row level-bad small">
        {{ units.say(m.phrase) }}
        <Button v-if="m.chain && !off && !variant" size="small" @click="insert(m.at + 1, m.chain.ids)"
          >Put in {{ m.chain.ids.join(' + ') }}</Button
        >
      </div>
    </section>
    <section class="panel stack">
      <RigSaveBar :edit="edit" />
      <div class="scroll pieces">
        <div class="piece heads muted small" aria-hidden="true">
          <span /><span>Piece</span><span class="right">documented</span><span /><span class="right">measured</span
          ><span class="right">glass</span><span>front thread</span><span>rear thread</span><span />
        </div>
        <VueDraggable
          v-model="setup.train"
          tag="div"
          handle=".handle"
          :animation="120"
          :disabled="off"
          class="list"
          data-test="train"
        >
          <div v-for="(p, i) in setup.train" :key="p.name" class="piece" :class="{ here: chosen === i && !variant }">
            <MoveHandle class="handle" :label="p.name" :disabled="off" @move="moveBy(setup!.train, i, $event)" />
            <Input v-model:value="p.name" :aria-label="`Piece ${i + 1}`" size="small" class="name" :disabled="off" />
            <QuantityInput
              :model-value="p.lengthMm"
              dimension="length"
              label="documented"
              hide-label
              :min="0"
              :step="0.1"
              width="96px"
              :disabled="off"
              @update:model-value="typedLength(p, $event)"
            />
            <OriginMark
              v-if="p.from"
              :origin="p.from"
              :what="`Length of ${p.name}`"
              dimension="length"
              :off="off"
              @change="p.from = $event"
            />
            <span v-else />
            <QuantityInput
              :model-value="p.measuredMm ?? null"
              dimension="length"
              label="measured"
              hide-label
              optional
              :min="0"
              :step="0.1"
              width="96px"
              :disabled="off"
              @update:model-value="p.measuredMm = $event ?? undefined"
            />
            <QuantityInput
              :model-value="p.glassMm ?? null"
              dimension="length"
              label="glass"
              hide-label
              optional
              :min="0"
              :step="0.1"
              width="92px"
              :disabled="off"
              @update:model-value="p.glassMm = $event ?? undefined"
            />
            <ThreadInput v-model="p.front" :label="`Front of ${p.name}`" :disabled="off" />
            <ThreadInput v-model="p.rear" :label="`Rear of ${p.name}`" :disabled="off" />
            <Button
              type="text"
              size="small"
              :aria-label="`Take out ${p.name}`"
              :disabled="off"
              @click="setup.train.splice(i, 1)"
              >✕</Button
            >
          </div>
        </VueDraggable>
      </div>
      <div v-if="!off" class="row">
        <span v-if="parts.there.value && !drawer.length" class="muted small"
          >The drawer is empty: <RouterLink to="/club/equipment">put parts into it</RouterLink>, or</span
        >
        <PickOne
          v-else
          :value="undefined"
          label="Add a piece from the drawer"
          placeholder="Add a piece from the drawer"
          show-search
          option-filter-prop="label"
          style="width: 280px"
          :options="
            drawer
              .filter((d) => d.lengthMm !== undefined)
              .map((d) => ({ value: d.name, label: `${d.name}, ${units.length(d.measuredMm ?? d.lengthMm ?? 0, 1)}` }))
          "
          @update:value="add(pieceOf(String($event)), chosen)"
        />
        <Button size="small" @click="add({ name: freeName, lengthMm: 0 }, chosen)">Add another piece</Button>
      </div>
    </section>
    <TrainPiece
      v-if="piece && !variant"
      :piece="piece"
      :off="off"
      @guider="markGuider"
      @role="sayRole(piece.name, $event)"
    />
    <div class="split board">
      <section class="panel stack">
        <h2>What the corrector asks for</h2>
        <div v-if="corrector" class="row">
          <QuantityInput
            :model-value="corrector.requiredMm"
            dimension="length"
            label="Distance"
            :min="1"
            :max="1000"
            :step="0.5"
            width="120px"
            :disabled="off"
            @update:model-value="typedDistance"
          />
          <OriginMark
            v-if="corrector.from"
            :origin="corrector.from"
            what="Distance asked for"
            dimension="length"
            :off="off"
            @change="corrector.from = $event"
          />
          <QuantityInput
            v-model="corrector.toleranceMm"
            dimension="length"
            label="give or take"
            :min="0.01"
            :max="20"
            :step="0.1"
            width="110px"
            :disabled="off"
          />
          <QuantityInput
            v-model="corrector.imageCircleMm"
            dimension="length"
            label="Image circle"
            :min="1"
            :max="200"
            width="120px"
            :disabled="off"
          />
        </div>
        <Button
          v-else-if="!off"
          size="small"
          @click="setup.corrector = { requiredMm: 55, toleranceMm: 1, imageCircleMm: 44 }"
          >Say what it asks for</Button
        >
      </section>
      <WhenThere :of="[parts]"
        ><TrainSearch :setup="setup" :drawer="drawer" :piece-of="pieceOf" :off="off"
      /></WhenThere>
    </div>
    <WorkingFold :steps="[...(result?.working ?? []), ...(reduced?.working ?? []), ...(view?.working ?? [])]" />
    <p class="muted small">
      Lengths here:
      {{
        units.length(
          (distance?.stretch.counted ?? setup.train).reduce((s, p) => s + countedMm(p), 0),
          2,
        )
      }}
      between corrector and sensor. Common practice, no source: fast correctors want tenths of a millimetre, slow ones
      forgive two. Snug, not tight; spanner slots of inner rings toward the side you can reach.
    </p>
  </template>
</template>

<style scoped>
.board {
  grid-template-columns: minmax(300px, 1fr) minmax(0, 1.5fr);
}
.list {
  display: grid;
  gap: 4px;
}
.pieces {
  overflow-x: auto;
}
.piece {
  display: grid;
  grid-template-columns: 26px minmax(130px, 1fr) 96px 18px 96px 92px 146px 148px 28px;
  gap: 6px;
  align-items: center;
  min-width: 824px;
  border-left: 3px solid transparent;
}
.piece.here {
  border-color: var(--accent);
}
.right {
  text-align: right;
}
@media (max-width: 1180px) {
  .board {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
