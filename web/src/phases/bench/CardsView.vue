<script setup lang="ts">
import { assess, AssessInput, assessInputOf, type SolveOutput, solveInputOf } from '@keen/core/balance';
import { parseInput } from '@keen/core/calculation';
import { countedMm, filtersOf } from '@keen/core/rig';
import { guidePath, GuidePathInput, guidePathInputOf, stretchOf, trainDistance } from '@keen/core/train';
import { Button } from 'ant-design-vue';
import dayjs from 'dayjs';
import { computed, shallowRef, watch } from 'vue';
import EmptyState from '../../common/EmptyState.vue';
import { useClub } from '../../stores/club.ts';
import { calculate, plainCopy } from '../../workers/index.ts';
import { useUnits } from '../../stores/units.ts';

const units = useUnits();

/** Two cards to print and take to the mount: attaching and balancing, and the train in its order. */
const club = useClub();
const setup = computed(() => club.rig?.setup ?? null);
const site = computed(() => club.site);
const a = computed(() =>
  setup.value && site.value
    ? assess(parseInput(AssessInput, assessInputOf(setup.value, site.value.latitudeDeg)))
    : null,
);
const solution = shallowRef<SolveOutput | null>(null);
watch(
  [setup, site],
  async () => {
    if (!setup.value || !site.value) return;
    const got = await calculate('balance.solve', plainCopy(solveInputOf(setup.value, site.value.latitudeDeg)));
    solution.value = got.ok ? got.value : null;
  },
  { immediate: true },
);
const marks = computed(() => {
  const [s, x] = [setup.value, solution.value];
  if (!s || !x) return null;
  return { bar: s.slide.markMm + x.slideMm, weights: x.counterweights, trim: x.trim, endStop: s.shaft.maxMm };
});
/** Counted from the corrector to the sensor; what stands before or behind has a length but no place in that sum. */
const train = computed(() => {
  const all = setup.value?.train ?? [];
  const { counted } = stretchOf(all);
  let sum = 0;
  return all.map((p) => {
    const length = countedMm(p);
    if (!counted.includes(p)) return { p, length, at: null };
    sum += length;
    return { p, length, at: sum };
  });
});
const focus = computed(() => (setup.value ? trainDistance(plainCopy(setup.value)) : null));
const guide = computed(() => {
  const input = setup.value ? guidePathInputOf(setup.value) : null;
  return input ? guidePath(parseInput(GuidePathInput, input)) : null;
});
const print = () => window.print();
</script>

<template>
  <EmptyState v-if="!club.rig || !setup || !a" title="No rig yet" lacks="rig"
    >Cards are made from a rig: one for balancing, one for the train.</EmptyState
  >
  <template v-else>
    <div class="row spread no-print">
      <p class="muted">
        Two cards, a page each, for the mount and the workbench. They are of revision {{ club.rig.revision }}, train
        state {{ club.rig.words }}.
      </p>
      <Button type="primary" @click="print">Print</Button>
    </div>
    <article class="card" data-test="card">
      <header>
        <h1>{{ club.rig.name }}: attach and balance</h1>
        <span>{{ club.site?.name }} · {{ club.rig.words }} · {{ dayjs().format('D MMM YYYY') }}</span>
      </header>
      <ol>
        <li>Tripod or pier firm, level; mount clutches closed, shaft down.</li>
        <li>
          <strong>Weights first</strong>:
          {{ solution?.counterweights.map((w) => units.mass(w.massKg)).join(', ') || 'none' }} on the shaft,
          <strong>end-stop back on at once</strong>.
        </li>
        <li>
          Tube into the saddle, both clamps tight, safety strap over a knob before you let go. It weighs
          {{ units.mass(a.tubeMassKg) }}: two people above {{ units.mass(12, 0) }}.
        </li>
        <li>
          Everything on it as at night: {{ setup.placed.map((p) => p.name).join(', ') }}. Caps off, focuser at focus,
          cables on.
        </li>
        <li v-for="t in marks?.trim ?? []" :key="t.point">Hang {{ units.mass(t.massKg) }} at {{ t.point }}.</li>
        <li>
          Right ascension locked, declination free: bar to mark
          <strong class="mono">{{ units.length(marks?.bar ?? setup.slide.markMm, 0) }}</strong>. One hand on the tube.
        </li>
        <li>
          Declination locked, right ascension free: weights’ centre at
          <strong class="mono">{{
            units.length(marks?.weights[0]?.distanceMm ?? setup.counterweights[0]?.distanceMm ?? 0, 0)
          }}</strong>
          from the polar axis.
        </li>
        <li>
          Try level, upright and halfway: released, it stays. If it swings only upright, something heavy sits sideways.
        </li>
        <li>Take down in reverse: tube off before any weight.</li>
      </ol>
      <table class="figures">
        <tbody>
          <tr>
            <td>Tube side</td>
            <td class="num">{{ units.mass(a.tubeMassKg) }} of {{ units.mass(setup.mount.ratedLoadKg) }} rated</td>
          </tr>
          <tr>
            <td>Bar mark, weights</td>
            <td class="num">
              {{ units.length(marks?.bar ?? 0, 0) }}, {{ units.length(marks?.weights[0]?.distanceMm ?? 0, 0) }}
            </td>
          </tr>
          <tr>
            <td>End-stop</td>
            <td class="num">beyond {{ units.length(setup.shaft.maxMm, 0) }}</td>
          </tr>
        </tbody>
      </table>
    </article>
    <article class="card">
      <header>
        <h1>{{ club.rig.name }}: the train</h1>
        <span>{{ club.rig.words }} · {{ dayjs().format('D MMM YYYY') }}</span>
      </header>
      <p>
        Gloves, dust cap on the camera until the last moment, blower. Snug, not tight. Spanner slots of inner rings
        toward the side you can reach.
      </p>
      <table class="figures">
        <thead>
          <tr>
            <th class="num">No.</th>
            <th>Piece</th>
            <th>front thread</th>
            <th>rear thread</th>
            <th class="num">length</th>
            <th class="num">so far</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="(t, i) in train" :key="t.p.name">
            <td class="num">{{ i + 1 }}</td>
            <td>
              {{ t.p.name
              }}<template v-if="t.p.guider">: prism’s face to the sky, beside the sensor’s long side</template>
            </td>
            <td>{{ t.p.front ? `${t.p.front.size} ${t.p.front.gender}` : '–' }}</td>
            <td>{{ t.p.rear ? `${t.p.rear.size} ${t.p.rear.gender}` : '–' }}</td>
            <td class="num">{{ units.length(t.length, 2) }}</td>
            <td class="num">{{ t.at === null ? '–' : units.length(t.at, 2) }}</td>
          </tr>
        </tbody>
      </table>
      <p v-if="focus">
        <strong>{{ units.verdict(focus.verdict) }}</strong>
      </p>
      <p v-if="guide">{{ units.verdict(guide.verdict) }}</p>
      <p>
        Wheel: {{ setup.wheel.map((s) => `${s.slot} ${s.filter || 'blank'}`).join(' · ') }}. Checked twice? Focus
        filter: {{ filtersOf(setup)[0] ?? '–' }}.
      </p>
      <p>
        Bolted faces: M2.5 screws long enough to hold and short enough not to bottom out; where
        {{ units.length(8) }} would touch, {{ units.length(6) }}. Pencil mark across camera and guider, so that sensor
        and prism stay square.
      </p>
    </article>
  </template>
</template>

<style scoped>
.card {
  background: var(--surface);
  border: 1px solid var(--line);
  padding: 22px 26px;
  max-width: 900px;
  display: grid;
  grid-template-columns: minmax(0, 1fr);
  gap: 12px;
}
header {
  display: flex;
  flex-wrap: wrap;
  justify-content: space-between;
  align-items: baseline;
  border-bottom: 2px solid var(--ink);
  padding-bottom: 6px;
}
h1 {
  font-size: 20px;
}
ol {
  margin: 0;
  padding-left: 22px;
  display: grid;
  gap: 6px;
}
@media print {
  .card {
    border: 0;
    padding: 0;
    max-width: none;
    break-after: page;
    color: #000;
    background: #fff;
  }
}
</style>
