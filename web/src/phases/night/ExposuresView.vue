<script setup lang="ts">
import { figure } from '@keen/core/quantities';
import WhenThere from '../../common/WhenThere.vue';
import { makeVerdict, phrase } from '@keen/core/phrases';
import type { FilterLight } from '@keen/core/exposure';
import { computed, ref } from 'vue';
import EmptyState from '../../common/EmptyState.vue';
import FieldGrid from '../../common/FieldGrid.vue';
import FilterTile from '../../common/FilterTile.vue';
import PickOne from '../../common/PickOne.vue';
import QuantityInput from '../../common/QuantityInput.vue';
import { useRigDraft } from '../../common/useRigDraft.ts';
import VerdictLine from '../../common/VerdictLine.vue';
import WorkingFold from '../../common/WorkingFold.vue';
import { useClub } from '../../stores/club.ts';
import { useSession } from '../../stores/session.ts';
import CameraLight from './CameraLight.vue';
import DepthPanel from './DepthPanel.vue';
import ExposureCurves from './ExposureCurves.vue';
import ExposureGoals from './ExposureGoals.vue';
import LongFrame from './LongFrame.vue';
import { useExposures } from './useExposures.ts';

const club = useClub();
const session = useSession();
const edit = useRigDraft();
const { draft } = edit;
const { criteria, project, sky, there, rows, held, logs, log, offAxis, sameDepth } = useExposures(draft);
const off = computed(() => !session.mayEdit);
const mineToGive = computed(() => session.isSteward || project.value?.ownerId === session.member?.id);

const WISH = [
  {
    key: 'noiseIncreasePercent',
    label: 'Accepted on top',
    dimension: 'number',
    unit: '%',
    decimals: 0,
    min: 1,
    max: 100,
  },
  {
    key: 'brightestMag',
    label: 'Brightest star kept',
    dimension: 'number',
    unit: 'mag',
    decimals: 1,
    min: -1,
    max: 18,
    step: 0.5,
  },
  {
    key: 'fwhmArcsec',
    label: 'Star’s width',
    dimension: 'number',
    unit: '″',
    decimals: 1,
    min: 0.5,
    max: 20,
    step: 0.5,
  },
] as const;

const isEntered = (light: FilterLight) => !light.assumed.some((a) => a.code === 'assumed.band');
const verdict = computed(() => {
  const clipped = rows.value.filter((r) => r.advice.clipS < r.advice.minimumS).map((r) => r.light.filter);
  const lengths = [...new Set(rows.value.map((r) => r.advice.recommendedS))];
  const perFilter = lengths.map(
    (s) =>
      `${rows.value
        .filter((r) => r.advice.recommendedS === s)
        .map((r) => r.light.filter)
        .join(' ')} ${s}\u202fs`,
  );
  // what these lengths really add, which is more than was wished where stars or habit cut them short
  const addedPercent = Math.ceil(
    Math.max(0, ...rows.value.map((r) => 100 * r.advice.addedAt(r.advice.recommendedS))) - 1e-6,
  );
  const { limitS = null, flexureS = null } = held.value ?? {};
  if (limitS !== null && rows.value.some((r) => r.advice.recommendedS > limitS))
    return makeVerdict(
      'bad',
      flexureS === limitS
        ? phrase('exposure.flexure', { perFilter, flexureS: limitS })
        : phrase('exposure.creep', { perFilter, creepS: limitS }),
    );
  return clipped.length
    ? makeVerdict('caution', phrase('exposure.filters-clip', { perFilter, filters: clipped }))
    : makeVerdict('good', phrase('exposure.filters', { perFilter, addedPercent }));
});
const notes = computed(() => {
  const s = sky.value;
  const skyMag = there.value.skyMagArcsec2;
  if (!s || !project.value) return [phrase('exposure.sky-zenith', { site: club.site?.name ?? 'the site', skyMag })];
  const { object } = project.value;
  if (criteria.value.underMoon) return [phrase('exposure.sky-moonlit', { object, skyMag })];
  const moon = s.moonShare > 0 ? [phrase('exposure.moon-takes', { brighteningMag: s.brighteningMag })] : [];
  return [phrase('exposure.sky-dark', { object, skyMag }), ...moon];
});
const [long, short, through] = [ref(300), ref(60), ref('')];
const compared = computed(() => rows.value.find((r) => r.light.filter === through.value) ?? rows.value[0] ?? null);
const more = computed(() =>
  compared.value ? 100 * (sameDepth(compared.value.advice, short.value, long.value) - 1) : 0,
);
</script>

<template>
  <EmptyState v-if="!club.rig || !draft" title="No rig yet" lacks="rig">
    How long a frame should be follows from a rig’s optics, its camera and filters, and the sky of its place.
  </EmptyState>
  <template v-else>
    <VerdictLine :verdict="verdict" :notes="notes" />
    <div class="split board">
      <div class="stack">
        <section class="panel stack">
          <div class="row spread">
            <h2>Each filter</h2>
            <span class="row">
              <PickOne
                v-if="club.rigProjects.length"
                :value="project?.id ?? ''"
                label="Over"
                :options="club.rigProjects.map((p) => ({ value: p.id, label: p.object }))"
                @update:value="criteria.projectId = String($event)"
              />
              <span v-if="sky && sky.moonShare > 0" class="toggle" role="group" aria-label="Moon">
                <button type="button" :aria-pressed="!criteria.underMoon" @click="criteria.underMoon = false">
                  no Moon
                </button>
                <button type="button" :aria-pressed="criteria.underMoon" @click="criteria.underMoon = true">
                  tonight’s
                </button>
              </span>
            </span>
          </div>
          <table class="figures" data-test="filters">
            <thead>
              <tr>
                <th>Filter</th>
                <th class="num">band, nm</th>
                <th class="num">sky, e⁻/s</th>
                <th class="num">at least</th>
                <th class="num">3× · 5× · 10×</th>
                <th class="num">star clips</th>
                <th class="num">set</th>
                <th class="num">the goal’s</th>
              </tr>
            </thead>
            <tbody>
              <tr v-for="{ light: l, advice: r, goalsS } in rows" :key="l.filter">
                <td><FilterTile :name="l.filter" /></td>
                <td class="num">
                  {{ figure(l.instrument.bandwidthNm, 0) }}
                  <span v-if="!isEntered(l)" class="mark" title="Taken from its name, not entered">?</span>
                </td>
                <td class="num">
                  {{ figure(r.skyEPerSPx, r.skyEPerSPx < 0.1 ? 3 : 2) }}
                  <span
                    class="mark"
                    :title="
                      r.from === 'measured'
                        ? `From a frame${l.measured?.on ? `, entered on ${l.measured.on}` : ''}`
                        : 'Reckoned from the brightness of the sky'
                    "
                    >{{ r.from === 'measured' ? 'm' : '?' }}</span
                  >
                </td>
                <td class="num">{{ figure(r.minimumS, r.minimumS < 10 ? 1 : 0) }} s</td>
                <td class="num">{{ r.schools.map((s) => figure(s.seconds, 0)).join(' · ') }}</td>
                <td class="num" :class="{ 'level-caution': r.clipS < r.minimumS }">{{ figure(r.clipS, 0) }} s</td>
                <td class="num">
                  <strong>{{ r.recommendedS }} s</strong>
                </td>
                <td class="num">
                  <div v-for="goalS in goalsS" :key="goalS">
                    {{ figure(goalS, 0) }} s, +{{ figure(100 * r.addedAt(goalS), 0) }} %
                  </div>
                  <template v-if="!goalsS.length">–</template>
                </td>
              </tr>
            </tbody>
          </table>
          <ExposureCurves :rows="rows" :criteria-percent="criteria.noiseIncreasePercent" />
          <FieldGrid :record="criteria" :fields="WISH" width="150px" />
          <p class="muted small">
            “At least”: read noise adds no more than what is accepted. 3×, 5×, 10×: so many times read noise squared
            over the sky’s rate. Others say ten minutes because it works: the last column shows what a goal’s own length
            costs. Sky light is taken as even over the band; lamps and airglow are not, least in narrow ones.
          </p>
        </section>
        <DepthPanel :rows="rows" :sky-mag="there.skyMagArcsec2" />
        <WhenThere :of="[logs]">
          <LongFrame
            v-if="held"
            :held="held"
            :fwhm-arcsec="criteria.fwhmArcsec"
            :off-axis="offAxis"
            :log-of="log?.night ?? ''"
          />
        </WhenThere>
        <section v-if="compared" class="panel row" data-test="compare">
          <h2>One long or several short</h2>
          <PickOne
            :value="compared.light.filter"
            label="Through"
            :options="rows.map((r) => ({ value: r.light.filter, label: r.light.filter }))"
            @update:value="through = String($event)"
          />
          <QuantityInput
            v-model="long"
            dimension="duration"
            label="Long"
            hide-label
            :min="0.1"
            :max="7200"
            :decimals="0"
            width="100px"
          />
          <QuantityInput
            v-model="short"
            dimension="duration"
            label="Short"
            hide-label
            :min="0.1"
            :max="7200"
            :decimals="0"
            width="100px"
          />
          <span>
            {{ figure(short, 0) }} s frames want
            <strong>{{ figure(Math.abs(more), 1) }} % {{ more >= 0 ? 'more' : 'less' }}</strong> open shutter than
            {{ figure(long, 0) }} s frames for the same depth; what a frame’s end costs (read-out, dither) comes on top.
          </span>
        </section>
      </div>
      <div class="stack">
        <CameraLight :edit="edit" :rows="rows" :off="off" />
        <ExposureGoals
          :rows="rows"
          :project="project"
          :hours="criteria.hours"
          :flexure-s="held?.limitS ?? null"
          :off="off || !mineToGive"
          @hours="criteria.hours = $event"
        />
      </div>
    </div>
    <WorkingFold :steps="compared?.advice.working ?? []" />
  </template>
</template>

<style scoped>
.board {
  grid-template-columns: minmax(0, 1fr) 340px;
}
.mark {
  color: var(--ink-2);
  font-size: 12px;
  cursor: help;
}
@media (max-width: 1000px) {
  .board {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
