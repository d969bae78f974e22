<script setup lang="ts">
import { phrase } from '@keen/core/phrases';
import { InvalidInput, parseInput } from '@keen/core/calculation';
import { focusTravel, FocusTravelInput, stackMm } from '@keen/core/train';
import { Button } from 'ant-design-vue';
import { computed, ref } from 'vue';
import EmptyState from '../../common/EmptyState.vue';
import QuantityInput from '../../common/QuantityInput.vue';
import VerdictLine from '../../common/VerdictLine.vue';
import WorkingFold from '../../common/WorkingFold.vue';
import { useClub } from '../../stores/club.ts';
import { useSession } from '../../stores/session.ts';
import RigSaveBar from '../../common/RigSaveBar.vue';
import { useRigDraft } from '../../common/useRigDraft.ts';
import { useUnits } from '../../stores/units.ts';

const units = useUnits();

const club = useClub();
const session = useSession();
const edit = useRigDraft();
const off = computed(() => !session.mayEdit);
const setup = computed(() => edit.draft.value?.setup ?? null);
const reach = computed(() => setup.value?.focuserReach ?? null);
const near = ref<number | null>(null);
const carriedMm = computed(() => (setup.value ? (reach.value?.beforeTrainMm ?? 0) + stackMm(setup.value.train) : 0));
const result = computed(() => {
  const r = reach.value;
  const s = setup.value;
  if (!r || !s) return null;
  const ask = (distance: number | null) =>
    focusTravel(
      parseInput(FocusTravelInput, {
        focalPlaneBehindFocuserMm: r.focalPlaneBehindFocuserMm,
        travelMm: r.travelMm,
        marginMm: r.marginMm,
        stackMm: carriedMm.value,
        rings: r.rings,
        ...(distance === null ? {} : { objectDistanceM: distance, focalLengthMm: s.focalLengthMm }),
      }),
    );
  try {
    return { ok: true as const, stars: ask(null), near: near.value === null ? null : ask(near.value) };
  } catch (e) {
    if (e instanceof InvalidInput) return { ok: false as const, message: e.message };
    throw e;
  }
});
const begin = () =>
  (setup.value!.focuserReach = {
    focalPlaneBehindFocuserMm: Math.round(carriedMm.value + 30),
    travelMm: 50,
    marginMm: 2,
    beforeTrainMm: 0,
    rings: [],
  });
const bar = computed(() => {
  const r = reach.value;
  if (!r || !result.value?.ok) return null;
  const bare = r.focalPlaneBehindFocuserMm - carriedMm.value;
  const low = Math.min(-5, bare - 10);
  const high = Math.max(r.travelMm + 5, bare + 10);
  const X = (mm: number) => 20 + (600 * (mm - low)) / (high - low);
  return { X, bare, best: result.value.stars.choices[0] ?? null, travel: r.travelMm, margin: r.marginMm };
});
</script>

<template>
  <EmptyState v-if="!club.rig || !setup" title="No rig yet" lacks="rig">Focuser travel belongs to a rig.</EmptyState>
  <EmptyState v-else-if="!reach" title="Nothing is noted about the focuser">
    Where the focus lies behind the focuser, how far the drawtube travels and which rings there are decide whether the
    stack comes to focus. Find it out here, in daylight.
    <template #actions><Button v-if="!off" type="primary" @click="begin">Note it</Button></template>
  </EmptyState>
  <template v-else>
    <VerdictLine
      v-if="result?.ok"
      :verdict="result.stars.verdict"
      :notes="[phrase('focuser.stack', { stackMm: carriedMm })]"
    />
    <VerdictLine v-else-if="result" :verdict="{ level: 'bad', text: result.message }" />
    <div class="split board">
      <section class="panel stack">
        <h2>Drawtube</h2>
        <svg v-if="bar" viewBox="0 0 640 120" role="img" aria-label="Travel of the drawtube and where focus lies">
          <rect
            :x="bar.X(0)"
            y="40"
            :width="bar.X(bar.travel) - bar.X(0)"
            height="30"
            fill="var(--part)"
            stroke="var(--ink)"
          />
          <rect
            :x="bar.X(0)"
            y="40"
            :width="bar.X(bar.margin) - bar.X(0)"
            height="30"
            fill="var(--caution-wash)"
            stroke="var(--line-strong)"
          />
          <rect
            :x="bar.X(bar.travel - bar.margin)"
            y="40"
            :width="bar.X(bar.travel) - bar.X(bar.travel - bar.margin)"
            height="30"
            fill="var(--caution-wash)"
            stroke="var(--line-strong)"
          />
          <text :x="bar.X(0)" y="90" font-size="12" fill="var(--ink-2)" text-anchor="middle" class="mono">in</text>
          <text :x="bar.X(bar.travel)" y="90" font-size="12" fill="var(--ink-2)" text-anchor="middle" class="mono">
            {{ units.length(bar.travel) }} out
          </text>
          <path :d="`M${bar.X(bar.bare)} 30v50`" stroke="var(--ghost)" stroke-width="2" stroke-dasharray="4 3" />
          <text :x="bar.X(bar.bare)" y="24" font-size="12" text-anchor="middle" fill="var(--ink-2)">
            without rings {{ units.length(bar.bare, 1) }}
          </text>
          <template v-if="bar.best">
            <path :d="`M${bar.X(bar.best.drawtubeMm)} 34v42`" stroke="var(--good)" stroke-width="3" />
            <text
              :x="bar.X(bar.best.drawtubeMm)"
              y="112"
              font-size="12.5"
              font-weight="700"
              text-anchor="middle"
              fill="var(--good)"
            >
              stars in focus at {{ units.length(bar.best.drawtubeMm, 1) }}
            </text>
          </template>
        </svg>
        <table v-if="result?.ok" class="figures" data-test="travel">
          <thead>
            <tr>
              <th>Rings</th>
              <th class="num">drawtube out</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="c in result.stars.choices" :key="c.rings.join()">
              <td>{{ c.rings.length ? c.rings.map((r) => units.length(r, 1)).join(' + ') : 'none' }}</td>
              <td class="num">{{ units.length(c.drawtubeMm, 1) }}</td>
            </tr>
            <tr v-if="result.stars.choices.length === 0">
              <td colspan="2" class="level-bad">
                No choice of rings reaches. {{ units.verdict(result.stars.verdict) }}
              </td>
            </tr>
          </tbody>
        </table>
        <h3>In daylight, on something far away</h3>
        <div class="row">
          <QuantityInput
            v-model="near"
            dimension="distance"
            label="Its distance"
            optional
            :decimals="0"
            :min="1"
            :max="100000"
            :step="50"
            width="130px"
          />
          <p v-if="result?.ok && result.near" class="small">
            It focuses <strong class="mono">{{ units.length(result.near.nearFocusShiftMm, 2) }}</strong> farther out
            than the stars. {{ units.verdict(result.near.verdict) }}
          </p>
        </div>
        <p class="muted small">A ridge or a mast; never into people’s windows, and never near the Sun.</p>
      </section>
      <section class="panel stack">
        <RigSaveBar :edit="edit" />
        <QuantityInput
          v-model="reach.focalPlaneBehindFocuserMm"
          dimension="length"
          label="Focus behind the focuser’s face, drawtube in"
          :decimals="1"
          :min="1"
          :max="1000"
          :disabled="off"
        />
        <QuantityInput
          v-model="reach.travelMm"
          dimension="length"
          label="Travel"
          :decimals="0"
          :min="1"
          :max="300"
          :disabled="off"
        />
        <QuantityInput
          v-model="reach.marginMm"
          dimension="length"
          label="Kept free at either end"
          :decimals="1"
          :min="0"
          :max="50"
          :disabled="off"
        />
        <QuantityInput
          v-model="reach.beforeTrainMm"
          dimension="length"
          label="Corrector and what stands before the train"
          :decimals="1"
          :min="0"
          :max="500"
          :disabled="off"
        />
        <h3>Rings at hand</h3>
        <div class="row">
          <span v-for="(r, i) in reach.rings" :key="i" class="ring">
            <QuantityInput
              :model-value="r"
              dimension="length"
              :label="`Ring ${i + 1}`"
              hide-label
              :min="0.1"
              :max="300"
              width="92px"
              :disabled="off"
              @update:model-value="reach.rings[i] = $event ?? r"
            />
            <Button
              v-if="!off"
              type="text"
              size="small"
              :aria-label="`Remove ring ${i + 1}`"
              @click="reach.rings.splice(i, 1)"
              >✕</Button
            >
          </span>
          <Button v-if="!off" size="small" @click="reach.rings.push(20)">Add a ring</Button>
        </div>
      </section>
    </div>
    <WorkingFold v-if="result?.ok" :steps="(result.near ?? result.stars).working" />
  </template>
</template>

<style scoped>
.board {
  grid-template-columns: minmax(0, 1.6fr) minmax(280px, 1fr);
}
.ring {
  display: inline-flex;
  align-items: center;
}
@media (max-width: 960px) {
  .board {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
