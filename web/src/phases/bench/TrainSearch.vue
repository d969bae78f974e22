<script setup lang="ts">
import type { PartRecord } from '@keen/contract';
import type { RigSetup, TrainPart } from '@keen/core/rig';
import { configurationsInputOf, cutForSearch, guiderAt, stretchOf, type ConfigurationsOutput } from '@keen/core/train';
import { Button, Progress } from 'ant-design-vue';
import { proxy } from 'comlink';
import { computed, ref, shallowRef } from 'vue';
import QuantityInput from '../../common/QuantityInput.vue';
import { problemText } from '../../common/outcome.ts';
import { core, plainCopy } from '../../workers/index.ts';
import { useUnits } from '../../stores/units.ts';
import { latestOnly } from '../../common/latestOnly.ts';

const units = useUnits();

/** One search over the drawer for every configuration of the tube, in the worker, with progress and Cancel. */
const props = defineProps<{
  setup: RigSetup;
  drawer: readonly PartRecord[];
  pieceOf: (name: string) => TrainPart;
  off: boolean;
}>();
/** Pieces the search may take out again: spacers and rings. */
const isLoose = (p: TrainPart) => /spacer|ring|shim/i.test(p.name);
const loose = computed(() => new Set(props.setup.train.filter(isLoose).map((p) => p.name)));
const hasGuider = computed(() => guiderAt(props.setup) >= 0);
/** Faces nobody has noted cannot be checked: said beside the way that needs them. */
const unnoted = (s: ConfigurationsOutput['solutions'][number]) =>
  [...new Set([...s.common, ...s.perConfiguration.flatMap((c) => c.pieces)])].filter((n) => {
    const p = props.setup.train.find((t) => t.name === n) ?? props.drawer.find((d) => d.name === n);
    return !p?.front || !p.rear;
  });
const found = shallowRef<ConfigurationsOutput | null>(null);
const searching = ref(-1);
const searchTrouble = ref('');
const maxPieces = ref(3);
const ask = latestOnly();
async function search() {
  const s = props.setup;
  const late = ask();
  searchTrouble.value = '';
  found.value = null;
  searching.value = 0;
  // pieces in this train lie in the drawer too for as long as the search goes on
  const inTrain = [...loose.value].filter((n) => !props.drawer.some((d) => d.name === n));
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
    plainCopy([...props.drawer.filter((d) => d.usedIn.length === 0 || loose.value.has(d.name)), ...extra]),
    loose.value,
  );
  const got = input
    ? await core().configurations(
        { ...input, maxPieces: maxPieces.value },
        proxy((share: number) => !late() && (searching.value = Math.round(100 * share))),
      )
    : null;
  if (late()) return;
  searching.value = -1;
  if (got?.ok) found.value = got.value;
  else searchTrouble.value = got ? problemText(got.problem) : 'Say first what the corrector asks for.';
}
function putIn(s: ConfigurationsOutput['solutions'][number]) {
  const d = props.setup;
  const { before, behind } = stretchOf(d.train);
  const { front, common, after } = cutForSearch(d.train, isLoose);
  const old = new Map(d.train.map((p) => [p.name, p]));
  const piece = (n: string) => old.get(n) ?? props.pieceOf(n);
  d.train = [
    ...before,
    ...front,
    ...s.perConfiguration[0]!.pieces.map(piece),
    ...common.slice(0, after),
    ...s.common.map(piece),
    ...common.slice(after),
    ...behind,
  ];
  for (const v of d.variants ?? []) {
    const mineOf = s.perConfiguration.find((c) => c.name === v.name);
    if (mineOf) v.front = [...v.front.filter((p) => !isLoose(p)), ...mineOf.pieces.map(piece)];
  }
  found.value = null;
}
const listed = (names: string[]) => names.join(' + ') || 'nothing';
</script>

<template>
  <section class="panel stack">
    <h2>Find pieces in the drawer</h2>
    <p class="muted small">
      One search for
      {{ setup.variants?.length ? `all ${setup.variants.length + 1} configurations together` : 'this train' }}. Spacers
      and rings may be moved;
      {{
        hasGuider
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
      <Button v-if="searching >= 0" @click="(ask(), (searching = -1))">Cancel</Button>
    </div>
    <Progress v-if="searching >= 0" :percent="searching" size="small" />
    <p v-if="searchTrouble" class="level-bad small">{{ searchTrouble }}</p>
    <div v-if="found" class="stack" data-test="stacks">
      <p :class="`level-${found.verdict.level}`">
        {{
          found.solutions.length ? `${found.solutions.length} ways, fewest pieces first` : units.verdict(found.verdict)
        }}
      </p>
      <ul v-if="found.buy.length" class="small">
        <li v-for="b in found.buy" :key="b.name + b.text">To buy: {{ units.say(b.phrases) }}</li>
      </ul>
      <div v-for="(s, i) in found.solutions" :key="i" class="way">
        <p v-if="hasGuider || s.common.length" class="small">
          <strong>{{ hasGuider ? 'behind the guider' : 'before the camera' }}</strong> {{ listed(s.common)
          }}<template v-if="s.guideMm"> (guide sensor at {{ units.length(s.guideMm, 1) }})</template>
        </p>
        <p v-for="c in s.perConfiguration" :key="c.name" class="small">
          <strong>{{ c.name }}</strong> {{ listed(c.pieces) }}
          <span class="mono">{{ units.signedLength(c.errorMm, 2) }}</span>
        </p>
        <p v-if="unnoted(s).length" class="small level-caution">
          Threads of {{ unnoted(s).join(', ') }} are not noted: whether they screw together was not looked at.
        </p>
        <Button v-if="!off" size="small" @click="putIn(s)">Put these in</Button>
      </div>
    </div>
  </section>
</template>

<style scoped>
.way {
  border-top: 1px solid var(--line);
  padding-top: 8px;
  display: grid;
  gap: 3px;
  justify-items: start;
}
</style>
