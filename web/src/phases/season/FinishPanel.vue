<script setup lang="ts">
import type { ProjectRecord } from '@keen/contract';
import { phrase, type Phrase } from '@keen/core/phrases';
import { pointedAt, stillWanted, wantedMinutes } from '@keen/core/record';
import { finishing, inHundred } from '@keen/core/season';
import { onlyNarrow } from '@keen/core/sequence';
import { eveningDate, type YearNight } from '@keen/core/sky';
import { computed, shallowRef, watch } from 'vue';
import { latestOnly } from '../../common/latestOnly.ts';
import { coreSite } from '../../common/records.ts';
import { dayName } from '../../common/times.ts';
import WhenThere from '../../common/WhenThere.vue';
import { useClub } from '../../stores/club.ts';
import { useUnits } from '../../stores/units.ts';
import { calculate, plainCopy } from '../../workers/index.ts';
import HelpsPanel from './HelpsPanel.vue';
import { useClearNights } from './useClearNights.ts';

/** When a project would be finished if it had its rig to itself, and until when it is up. */
const props = defineProps<{ project: ProjectRecord }>();
const club = useClub();
const units = useUnits();
const site = computed(() => {
  const siteId = club.records.find((r) => r.id === props.project.rigId)?.siteId;
  return club.sites.find((s) => s.id === siteId) ?? null;
});
const { likelyPercent, learntPercent, spells } = useClearNights(computed(() => site.value?.id ?? null));
const tonight = computed(() => (site.value ? eveningDate(site.value.timeZone, club.now) : ''));
const nights = shallowRef<readonly YearNight[] | null>(null);
const ask = latestOnly();
watch(
  () =>
    [
      site.value,
      tonight.value,
      JSON.stringify(pointedAt(props.project, null, [])),
      props.project.minimumAltitudeDeg,
    ] as const,
  async ([place, from]) => {
    const late = ask();
    nights.value = null;
    if (!place || !from) return;
    const { minimumAltitudeDeg } = props.project;
    const at = pointedAt(props.project, null, []);
    const got = await calculate(
      'sky.year',
      plainCopy({
        site: coreSite(place),
        from,
        nights: 365,
        ...at,
        minimumAltitudeDeg,
        darkness: 'astronomical' as const,
      }),
    );
    if (!late() && got.ok) nights.value = got.value.nights;
  },
  { immediate: true },
);
const left = computed(() => stillWanted(props.project).filter((g) => g.left > 0));
const said = computed<Phrase[] | null>(() => {
  if (!nights.value) return null;
  if (left.value.length === 0) return [phrase('season.finish-done')];
  const found = finishing({
    nights: nights.value,
    needMinutes: wantedMinutes(props.project),
    narrow: onlyNarrow(left.value.map((g) => g.filter)),
    clearFraction: likelyPercent.value / 100,
    deadline: props.project.season.deadline,
  });
  const { season } = found;
  if (!season) return [phrase(props.project.season.deadline ? 'season.never-before' : 'season.never-up')];
  const percent = inHundred(found.chance);
  const name = (day: string | null) => (day ? dayName(day) : '');
  const clearNights = (30 * likelyPercent.value) / 100;
  const [early, likely, late] = [name(found.p10), name(found.p50), name(found.p90)];
  return [
    late
      ? phrase('season.finish', { clearNights, early, likely, late })
      : likely
        ? phrase('season.finish-open', { clearNights, likely, percent })
        : phrase('season.finish-late', { clearNights, percent }),
    season.now
      ? phrase('season.up-until', { last: name(season.last) })
      : phrase('season.up-again', { first: name(season.first), last: name(season.last) }),
  ];
});
</script>

<template>
  <WhenThere v-if="left.length" :of="[spells]">
    <div v-if="said" data-test="finish">
      <h3>When it would be finished</h3>
      <p>{{ units.sentences(said) }}</p>
      <p class="small muted">
        With the rig to itself and the shutter open for four fifths of the time; moonlit hours count for narrow filters
        alone.
        {{
          learntPercent === null
            ? 'How many nights are clear is a guess.'
            : 'Clear nights as those brought in from here were.'
        }}
      </p>
      <HelpsPanel :project="project" :clear-fraction="likelyPercent / 100" />
    </div>
  </WhenThere>
  <p v-else-if="said" data-test="finish">{{ units.sentences(said) }}</p>
</template>
