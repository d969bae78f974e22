<script setup lang="ts">
import { api, type PartRecord } from '@keen/contract';
import { InvalidInput, parseInput } from '@keen/core';
import { figure, signed } from '@keen/core/quantities';
import type { TrainPart } from '@keen/core/rig';
import {
  adapters,
  AdaptersInput,
  backfocus,
  BackfocusInput,
  backfocusInputOf,
  configurationsInputOf,
  field,
  FieldInput,
  mates,
  reducer,
  ReducerInput,
  trainLength,
  type ConfigurationsOutput,
} from '@keen/core/train';
import { HolderOutlined } from '@ant-design/icons-vue';
import { Button, Checkbox, Input, Progress } from 'ant-design-vue';
import { proxy } from 'comlink';
import { VueDraggable } from 'vue-draggable-plus';
import { computed, ref, shallowRef, watch } from 'vue';
import { call } from '../../api/client.ts';
import EmptyState from '../../common/EmptyState.vue';
import PickOne from '../../common/PickOne.vue';
import QuantityInput from '../../common/QuantityInput.vue';
import VerdictLine from '../../common/VerdictLine.vue';
import WorkingFold from '../../common/WorkingFold.vue';
import { useClub } from '../../stores/club.ts';
import { useSession } from '../../stores/session.ts';
import { core, plainCopy } from '../../workers/index.ts';
import RigSaveBar from './RigSaveBar.vue';
import ThreadInput from './ThreadInput.vue';
import TrainRuler from './TrainRuler.vue';
import { useRigDraft } from './useRigDraft.ts';

const club = useClub();
const session = useSession();
const edit = useRigDraft();
const setup = computed(() => edit.draft.value?.setup ?? null);
const off = computed(() => !session.mayEdit);
const drawer = shallowRef<PartRecord[]>([]);
void call(api.parts).then((got) => {
  if (got.ok) drawer.value = got.value;
});
const chosen = ref(-1);
const piece = computed(() => setup.value?.train[chosen.value] ?? null);
function markGuider(on: boolean) {
  setup.value?.train.forEach((p, i) => {
    if (i === chosen.value && on) p.guider = true;
    else delete p.guider;
  });
}

/** Which configuration is shown: the one that stands, or another of the same tube. */
const shown = ref('');
watch(
  () => club.rig?.id,
  () => (shown.value = ''),
);
const variant = computed(() => setup.value?.variants?.find((v) => v.name === shown.value) ?? null);
const corrector = computed(() => variant.value?.corrector ?? setup.value?.corrector ?? null);
const train = computed<TrainPart[]>(() => {
  const s = setup.value;
  if (!s) return [];
  if (!variant.value) return s.train;
  const at = s.train.findIndex((p) => p.guider);
  return [...variant.value.front, ...s.train.slice(Math.max(0, at))];
});

const result = computed(() => {
  const s = setup.value;
  if (!s || !corrector.value) return null;
  try {
    const input = backfocusInputOf({ ...plainCopy(s), corrector: plainCopy(corrector.value) }, plainCopy(train.value));
    return input ? backfocus(parseInput(BackfocusInput, input)) : null;
  } catch (e) {
    if (e instanceof InvalidInput) return null;
    throw e;
  }
});
const reduced = computed(() => {
  const r = corrector.value?.reducer;
  const s = setup.value;
  if (!r || !s || !result.value) return null;
  try {
    return reducer(
      parseInput(ReducerInput, {
        designFactor: r.designFactor,
        designSpacingMm: r.designSpacingMm,
        spacingMm: result.value.mechanicalMm - result.value.glassShiftMm,
        focalLengthMm: r.nativeFocalLengthMm,
      }),
    );
  } catch {
    return null;
  }
});
const view = computed(() => {
  const s = setup.value;
  if (!s) return null;
  const focalLengthMm = reduced.value?.focalLengthMm ?? variant.value?.focalLengthMm ?? s.focalLengthMm;
  return field(
    parseInput(FieldInput, {
      focalLengthMm,
      apertureMm: s.apertureMm,
      pixelUm: s.camera.pixelUm,
      widthPx: s.camera.widthPx,
      heightPx: s.camera.heightPx,
      seeingArcsec: 2.2,
    }),
  );
});

/** Joints whose threads do not meet, each with the shortest chain of adapters that mends it. */
const mismatches = computed(() =>
  train.value.slice(0, -1).flatMap((p, i) => {
    const next = train.value[i + 1]!;
    if (!p.rear || !next.front || mates(p.rear, next.front)) return [];
    const stock = drawer.value
      .filter((d) => d.kind === 'adapter' && d.front && d.rear && d.count > 0 && d.usedIn.length === 0)
      .map((d) => ({ id: d.name, a: d.front!, b: d.rear!, lengthMm: d.measuredMm ?? d.lengthMm ?? 0 }));
    const got = adapters(parseInput(AdaptersInput, { from: p.rear, to: next.front, stock, maxPieces: 3, limit: 1 }));
    return [
      {
        at: i,
        text: `${p.name} (${p.rear.size} ${p.rear.gender}) does not meet ${next.name} (${next.front.size} ${next.front.gender})`,
        chain: got.chains[0] ?? null,
      },
    ];
  }),
);
const pieceOf = (name: string): TrainPart => {
  const d = drawer.value.find((p) => p.name === name);
  let unique = name;
  for (let n = 2; setup.value!.train.some((p) => p.name === unique); n++) unique = `${name} (${n})`;
  return {
    name: unique,
    lengthMm: d?.lengthMm ?? 0,
    ...(d?.measuredMm === undefined ? {} : { measuredMm: d.measuredMm, measuredBy: d.measuredBy ?? '' }),
    ...(d?.front ? { front: d.front } : {}),
    ...(d?.rear ? { rear: d.rear } : {}),
  };
};
function insert(at: number, names: string[]) {
  for (const [k, n] of names.entries()) setup.value!.train.splice(at + k, 0, pieceOf(n));
}

const verdict = computed(() => {
  const bad = mismatches.value[0];
  if (bad)
    return {
      level: 'bad' as const,
      text: `${bad.text}. ${bad.chain ? `${bad.chain.ids.join(' + ')} mends it.` : 'No adapter in the drawer mends it.'}`,
    };
  return (
    result.value?.verdict ?? {
      level: 'caution' as const,
      text: 'Say what distance the corrector asks for; the rest is arithmetic.',
    }
  );
});
const detail = computed(() => {
  const parts = [
    reduced.value ? `Reducer: ${reduced.value.verdict.text}` : '',
    view.value
      ? `${figure(view.value.scaleArcsecPerPx, 2)}″ per pixel, ${figure(60 * view.value.fieldDeg.width, 0)}′ × ${figure(60 * view.value.fieldDeg.height, 0)}′.`
      : '',
    result.value && result.value.residualRangeMm.max - result.value.residualRangeMm.min > 0.005
      ? `By documented or measured lengths the residual is ${signed(result.value.residualRangeMm.min, 2)} to ${signed(result.value.residualRangeMm.max, 2)} mm.`
      : '',
  ];
  return parts.filter(Boolean).join(' ');
});

/** Pieces the search may take out again: spacers and rings. */
const isLoose = (p: TrainPart) => /spacer|ring|shim/i.test(p.name);
const loose = computed(() => new Set(setup.value?.train.filter(isLoose).map((p) => p.name) ?? []));
const found = shallowRef<ConfigurationsOutput | null>(null);
const searching = ref(-1);
const searchTrouble = ref('');
const maxPieces = ref(3);
let turn = 0;
async function search() {
  const s = setup.value;
  if (!s) return;
  const mine = ++turn;
  searchTrouble.value = '';
  found.value = null;
  searching.value = 0;
  // pieces in this train lie in the drawer too for as long as the search goes on
  const inTrain = [...loose.value].filter((n) => !drawer.value.some((d) => d.name === n));
  const extra = s.train
    .filter((p) => inTrain.includes(p.name))
    .map((p) => ({
      name: p.name,
      kind: 'adapter' as const,
      lengthMm: p.lengthMm,
      measuredMm: p.measuredMm,
      count: 1,
      front: p.front,
      rear: p.rear,
    }));
  const input = configurationsInputOf(
    plainCopy(s),
    plainCopy([...drawer.value.filter((d) => d.usedIn.length === 0 || loose.value.has(d.name)), ...extra]),
    loose.value,
  );
  const got = input
    ? await core().configurations(
        { ...input, maxPieces: maxPieces.value },
        proxy((share: number) => mine === turn && (searching.value = Math.round(100 * share))),
      )
    : null;
  if (mine !== turn) return;
  searching.value = -1;
  if (got?.ok) found.value = got.value;
  else searchTrouble.value = got?.message ?? 'Say first what the corrector asks for.';
}
function putIn(s: ConfigurationsOutput['solutions'][number]) {
  const d = setup.value!;
  const strip = (list: TrainPart[]) => list.filter((p) => !isLoose(p));
  const at = d.train.findIndex((p) => p.guider);
  const [front, common] = at < 0 ? [[], strip(d.train)] : [strip(d.train.slice(0, at)), strip(d.train.slice(at))];
  const old = new Map(d.train.map((p) => [p.name, p]));
  const piece = (n: string) => old.get(n) ?? pieceOf(n);
  d.train = [
    ...front,
    ...s.perConfiguration[0]!.pieces.map(piece),
    ...common.slice(0, 1),
    ...s.common.map(piece),
    ...common.slice(1),
  ];
  for (const v of d.variants ?? []) {
    const mineOf = s.perConfiguration.find((c) => c.name === v.name);
    if (mineOf) v.front = [...strip(v.front), ...mineOf.pieces.map(piece)];
  }
  found.value = null;
}
const listed = (names: string[]) => names.join(' + ') || 'nothing';
</script>

<template>
  <EmptyState v-if="!club.rig || !setup" title="No rig yet"
    >A train belongs to a rig: its pieces from the corrector to the sensor.</EmptyState
  >
  <template v-else>
    <VerdictLine :verdict="verdict" :detail="detail" />
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
        :required-mm="corrector?.requiredMm ?? null"
        :chosen="chosen"
        @choose="chosen = $event"
      />
      <div v-for="m in mismatches" :key="m.at" class="row level-bad small">
        {{ m.text }}.
        <Button v-if="m.chain && !off && !variant" size="small" @click="insert(m.at + 1, m.chain.ids)"
          >Put in {{ m.chain.ids.join(' + ') }}</Button
        >
      </div>
    </section>
    <section class="panel stack">
      <RigSaveBar :edit="edit" />
      <div class="piece heads muted small" aria-hidden="true">
        <span /><span>Piece</span><span class="right">documented</span><span class="right">measured</span
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
          <span class="handle" title="Drag to another place"><HolderOutlined /></span>
          <Input v-model:value="p.name" :aria-label="`Piece ${i + 1}`" size="small" class="name" :disabled="off" />
          <QuantityInput
            v-model="p.lengthMm"
            dimension="length"
            label="documented"
            hide-label
            :min="0"
            :step="0.1"
            width="96px"
            :disabled="off"
          />
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
            width="82px"
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
      <div v-if="!off" class="row">
        <PickOne
          :value="undefined"
          label="Add a piece from the drawer"
          placeholder="Add a piece from the drawer"
          show-search
          option-filter-prop="label"
          style="width: 280px"
          :options="
            drawer
              .filter((d) => d.lengthMm !== undefined)
              .map((d) => ({ value: d.name, label: `${d.name}, ${d.measuredMm ?? d.lengthMm} mm` }))
          "
          @update:value="insert(chosen >= 0 ? chosen + 1 : setup.train.length, [String($event)])"
        />
        <Button size="small" @click="setup.train.push({ name: `piece ${setup.train.length + 1}`, lengthMm: 0 })"
          >Add another piece</Button
        >
      </div>
    </section>
    <section v-if="piece && !variant" class="panel stack" data-test="piece">
      <h2>{{ piece.name }}</h2>
      <div class="row ends">
        <PickOne
          label="Length that counts"
          shown
          style="width: 210px"
          :value="piece.use ?? ''"
          :options="[
            { value: '', label: piece.measuredMm === undefined ? 'documented, none measured' : 'measured' },
            { value: 'documented', label: 'documented' },
          ]"
          :disabled="off"
          @update:value="piece.use = $event ? ($event as TrainPart['use']) : undefined"
        />
        <label class="small muted"
          >Measured by<Input v-model:value="piece.measuredBy" style="width: 130px" :disabled="off"
        /></label>
        <label class="small muted"
          >on<input v-model="piece.measuredAt" type="date" class="date" :disabled="off"
        /></label>
        <QuantityInput
          :model-value="piece.glassIndex ?? null"
          dimension="number"
          label="Index of its glass"
          optional
          :decimals="3"
          :min="1"
          :max="3"
          :step="0.01"
          width="130px"
          :disabled="off"
          @update:model-value="piece.glassIndex = $event ?? undefined"
        />
        <QuantityInput
          :model-value="piece.screwsMm ?? null"
          dimension="length"
          label="Screws, if bolted"
          optional
          :decimals="0"
          :min="0"
          :max="60"
          width="130px"
          :disabled="off"
          @update:model-value="piece.screwsMm = $event ?? undefined"
        />
        <Checkbox :checked="piece.guider === true" :disabled="off" @update:checked="markGuider($event)"
          >This is the guider’s body</Checkbox
        >
      </div>
      <p v-if="piece.measuredMm !== undefined" class="small muted">
        Documented {{ figure(piece.lengthMm, 2) }} mm, measured {{ figure(piece.measuredMm, 2) }} mm: choosing the other
        would move the sensor by
        {{
          signed(piece.use === 'documented' ? piece.measuredMm - piece.lengthMm : piece.lengthMm - piece.measuredMm, 2)
        }}
        mm.
      </p>
      <p v-if="piece.screwsMm" class="small muted">
        Screws of {{ figure(piece.screwsMm, 0) }} mm: try them without the part first; where they would bottom out, take
        the next shorter ones.
      </p>
    </section>
    <div class="split board">
      <section class="panel stack">
        <h2>What the corrector asks for</h2>
        <div v-if="corrector" class="row">
          <QuantityInput
            v-model="corrector.requiredMm"
            dimension="length"
            label="Distance"
            :min="1"
            :max="1000"
            :step="0.5"
            width="120px"
            :disabled="off"
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
      <section class="panel stack">
        <h2>Find pieces in the drawer</h2>
        <p class="muted small">
          One search for
          {{ setup.variants?.length ? `all ${setup.variants.length + 1} configurations together` : 'this train' }}.
          Spacers and rings may be moved;
          {{
            setup.train.some((p) => p.guider)
              ? 'what is behind the guider stays the same in all, so the guide camera keeps its focus.'
              : 'the rest stays.'
          }}
        </p>
        <div class="row">
          <QuantityInput
            v-model="maxPieces"
            dimension="number"
            label="Pieces in a place, at most"
            :decimals="0"
            :min="1"
            :max="5"
            width="170px"
          />
          <Button type="primary" :loading="searching >= 0" @click="search">Find stacks</Button>
          <Button v-if="searching >= 0" @click="((turn += 1), (searching = -1))">Cancel</Button>
        </div>
        <Progress v-if="searching >= 0" :percent="searching" size="small" />
        <p v-if="searchTrouble" class="level-bad small">{{ searchTrouble }}</p>
        <div v-if="found" class="stack" data-test="stacks">
          <p :class="`level-${found.verdict.level}`">
            {{ found.solutions.length ? `${found.solutions.length} ways, fewest pieces first` : found.verdict.text }}
          </p>
          <ul v-if="found.buy.length" class="small">
            <li v-for="b in found.buy" :key="b.name + b.text">To buy: {{ b.text }}</li>
          </ul>
          <div v-for="(s, i) in found.solutions" :key="i" class="way">
            <p class="small">
              <strong>behind the guider</strong> {{ listed(s.common)
              }}<template v-if="s.guideMm"> (guide sensor at {{ figure(s.guideMm, 1) }} mm)</template>
            </p>
            <p v-for="c in s.perConfiguration" :key="c.name" class="small">
              <strong>{{ c.name }}</strong> {{ listed(c.pieces) }}
              <span class="mono">{{ signed(c.errorMm, 2) }} mm</span>
            </p>
            <Button v-if="!off" size="small" @click="putIn(s)">Put these in</Button>
          </div>
        </div>
      </section>
    </div>
    <WorkingFold
      :steps="[
        ...(result?.working ?? []),
        ...(reduced?.working ?? []),
        ...(view?.working ?? []),
        ...(found?.working ?? []),
      ]"
    />
    <p class="muted small">
      Lengths here:
      {{
        figure(
          setup.train.reduce((s, p) => s + trainLength(p), 0),
          2,
        )
      }}
      mm in all. Common practice, no source: fast correctors want tenths of a millimetre, slow ones forgive two. Snug,
      not tight; spanner slots of inner rings toward the side you can reach.
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
  overflow-x: auto;
}
.piece {
  display: grid;
  grid-template-columns: 22px minmax(130px, 1fr) 96px 96px 82px 148px 148px 28px;
  gap: 6px;
  align-items: center;
  min-width: 800px;
  border-left: 3px solid transparent;
}
.piece.here {
  border-color: var(--accent);
}
.right {
  text-align: right;
}
.ends {
  align-items: end;
}
.ends label {
  display: grid;
  gap: 2px;
}
.date {
  height: 32px;
  background: var(--surface);
  color: var(--ink);
  border: 1px solid var(--line-strong);
  border-radius: 4px;
  padding: 0 8px;
  color-scheme: light dark;
}
.handle {
  cursor: grab;
  color: var(--ink-2);
  text-align: center;
}
.way {
  border-top: 1px solid var(--line);
  padding-top: 8px;
  display: grid;
  gap: 3px;
  justify-items: start;
}
@media (max-width: 1180px) {
  .board {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
