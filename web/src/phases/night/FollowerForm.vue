<script setup lang="ts">
import { useUnits } from '../../stores/units.ts';
import { phrase } from '@keen/core/phrases';
import { framesThere, goalFor, gatheredIn } from '@keen/core/record';
import type { ProjectRecord } from '@keen/contract';
import { figure, fieldOfView } from '@keen/core/quantities';
import type { RigSetup } from '@keen/core/rig';
import {
  fittingExposure,
  type LegSchedule,
  type Leg,
  type PlanField,
  type TimelineOutput,
  waitedShare,
} from '@keen/core/sequence';
import { separationDeg } from '@keen/core/sky';
import { Button } from 'ant-design-vue';
import { computed } from 'vue';
import FilterTile from '../../common/FilterTile.vue';
import ChoiceCards from '../../common/ChoiceCards.vue';
import PickOne from '../../common/PickOne.vue';
import QuantityInput from '../../common/QuantityInput.vue';
import { hours } from '../../common/times.ts';
import { firstSettings } from '@keen/core/sequence';
import { framesOf } from './usePlanWords.ts';

/** A second camera of the rig beside a leg: whose frames, how long, and what the lead’s pace leaves it. */
const props = defineProps<{
  leg: Leg;
  /** Projects of the rig’s other systems. */
  choices: readonly { project: ProjectRecord; system: string; setup: RigSetup }[];
  leadDownloadS: number;
  /** Where the lead points. */
  pointing: { raDeg: number; decDeg: number };
  schedule: LegSchedule | null;
  /** The same leg under the other of the two paces. */
  otherPace: LegSchedule | null;
  off: boolean;
  /** Fields closed to this person. */
  closed: ReadonlySet<PlanField>;
}>();
const chosen = computed(() => props.choices.find((c) => c.project.id === props.leg.follower?.projectId) ?? null);
function take(id: string | null) {
  const c = props.choices.find((one) => one.project.id === id);
  const leg = props.leg;
  leg.follower = c
    ? {
        projectId: c.project.id,
        waitedFor: false,
        settings: { ...firstSettings(c.project, null), dither: { everyFrames: 0, perRound: false } },
      }
    : null;
}
const first = computed(() => props.leg.follower?.settings.filters[0] ?? null);
const fit = computed(() =>
  first.value && chosen.value
    ? fittingExposure(props.leg.settings, {
        leadDownloadS: props.leadDownloadS,
        downloadS: chosen.value.setup.overheads.downloadS,
        wishedS: first.value.exposureS,
      })
    : null,
);
const fits = computed(
  () => fit.value && props.leg.follower!.settings.filters.every((f) => f.exposureS === fit.value!.exposureS),
);
function useFit() {
  for (const f of props.leg.follower!.settings.filters) f.exposureS = fit.value!.exposureS;
}
/** Frames whose length no goal of its project asks for count for nothing. */
const aside = computed(
  () =>
    props.leg.follower?.settings.filters
      .filter((f) => !goalFor(chosen.value?.project.goals ?? [], { filter: f.name, exposureS: f.exposureS }))
      .map((f) => f.name) ?? [],
);
/** How far the second camera’s own object lies from what it will see, where that is beyond its field [deg]. */
const missedDeg = computed(() => {
  const c = chosen.value;
  if (!c) return null;
  const { camera, focalLengthMm } = c.setup;
  const half = fieldOfView(camera, focalLengthMm).diagonalDeg / 2;
  const off = separationDeg(props.pointing, { raDeg: c.project.raDeg, decDeg: c.project.decDeg });
  return off > half ? off : null;
});
const units = useUnits();
/** What it takes, and what the lead’s moves cost it while it still wants frames. */
const idle = computed(() => {
  const t = props.schedule?.follower;
  if (!t) return '';
  const took = { frames: framesOf(t), openMin: t.openShutterS / 60 };
  const waited = waitedShare(t.events);
  return units.say(
    waited === null
      ? phrase('follower.none-fits', took)
      : phrase('follower.waits', { ...took, waitedPercent: 100 * waited }),
  );
});
const open = (t: TimelineOutput) => hours(t.openShutterS / 60).replaceAll(' ', '\u00a0');
/** Frames and open shutter of both cameras under a pace. */
const givesOf = (l: LegSchedule | null) =>
  l?.schedule && l.follower
    ? `Lead ${framesOf(l.schedule)} frames, ${open(l.schedule)}; second camera ${framesOf(l.follower)}, ${open(l.follower)}.`
    : '';
const paces = computed(() => {
  const waited = props.leg.follower?.waitedFor === true;
  const [lead, both] = waited ? [props.otherPace, props.schedule] : [props.schedule, props.otherPace];
  return [
    { value: 'lead', label: 'The lead sets the pace', more: givesOf(lead) },
    { value: 'both', label: 'The mount waits for both', more: givesOf(both) },
  ] as const;
});
const pace = computed({
  get: () => (props.leg.follower?.waitedFor ? 'both' : 'lead'),
  set: (to: 'lead' | 'both' | '') => (props.leg.follower!.waitedFor = to === 'both'),
});
</script>

<template>
  <div v-if="choices.length" class="stack" data-test="follower">
    <PickOne
      :value="leg.follower?.projectId ?? ''"
      label="Second camera"
      shown
      :options="[
        { value: '', label: 'takes nothing beside this leg' },
        ...choices.map((c) => ({ value: c.project.id, label: `${c.system}: ${c.project.object}, ${c.project.name}` })),
      ]"
      :dropdown-match-select-width="false"
      :disabled="off || closed.has('targets')"
      @update:value="take(String($event) || null)"
    />
    <template v-if="leg.follower && chosen">
      <table class="figures">
        <tbody>
          <tr v-for="f in leg.follower.settings.filters" :key="f.name">
            <td><FilterTile :name="f.name" /></td>
            <td class="num">
              <QuantityInput
                v-model="f.exposureS"
                dimension="duration"
                :label="`Second camera’s exposure of ${f.name}`"
                hide-label
                :decimals="0"
                :min="1"
                :max="7200"
                :step="10"
                width="92px"
                :disabled="off || closed.has('exposures')"
              />
            </td>
            <td class="muted small">
              {{ schedule?.follower?.frames[f.name] ?? 0 }} tonight,
              {{ framesThere(gatheredIn(chosen.project, null), f) }} of {{ f.quota }} there
            </td>
          </tr>
        </tbody>
      </table>
      <p v-if="missedDeg !== null" class="level-bad small" data-test="missed">
        The mount points {{ figure(missedDeg, missedDeg < 10 ? 1 : 0) }}° away from {{ chosen.project.object }}: this
        camera would not see it.
      </p>
      <p v-if="idle" class="small" data-test="idle">{{ idle }}</p>
      <p v-if="!fit" class="muted small">The lead never dithers: any length fits.</p>
      <p v-else-if="fits" class="muted small">
        {{ fit.frames }} × {{ figure(fit.exposureS, 0) }} s fill the {{ figure(fit.blockS, 0) }} s between two dithers.
      </p>
      <p v-else class="row small">
        <span
          >{{ fit.frames }} × {{ figure(fit.exposureS, 0) }} s would fill the {{ figure(fit.blockS, 0) }} s between two
          dithers.</span
        >
        <Button v-if="!off && !closed.has('exposures')" size="small" @click="useFit">Take that</Button>
      </p>
      <p v-if="aside.length" class="level-caution small">
        No goal of {{ chosen.project.name }} asks for this length of {{ aside.join(', ') }}: the frames are kept, but do
        not count.
      </p>
      <ChoiceCards
        v-model="pace"
        label="Before it dithers, slews or flips"
        :options="paces"
        :disabled="off || closed.has('dither')"
        data-test="pace"
      />
      <p class="muted small">
        The first suits a lead whose frames matter more; the second a pair worth the same, or long frames that no pause
        of the lead holds.
      </p>
    </template>
  </div>
</template>
