<script setup lang="ts">
import type { SiteRecord } from '@keen/contract';
import type { NightOutput, Suggestion, TargetOutput } from '@keen/core/sky';
import { computed, ref, shallowRef, watch } from 'vue';
import { RouterLink } from 'vue-router';
import { latestOnly } from '../../common/latestOnly.ts';
import { problemText } from '../../common/outcome.ts';
import { coreSite } from '../../common/records.ts';
import { hours } from '../../common/times.ts';
import { useSession } from '../../stores/session.ts';
import { core, plainCopy } from '../../workers/index.ts';
import NightLanes, { type Lane } from './NightLanes.vue';
import YearStrip from './YearStrip.vue';

/** The first objects of the list drawn through the night, and the year of the one looked at. */
const props = defineProps<{
  night: NightOutput;
  site: SiteRecord;
  date: string;
  objects: readonly Suggestion[];
  now: number;
  mayStart: boolean;
}>();
const emit = defineEmits<{ night: [date: string] }>();
const session = useSession();
const MOST = 6;

const first = computed(() => props.objects.slice(0, MOST));
const tracks = shallowRef(new Map<string, TargetOutput>());
const trouble = ref('');
const ask = latestOnly();
watch(
  () => [first.value.map((o) => o.id).join(' '), props.site, props.date] as const,
  async () => {
    const late = ask();
    const wanted = first.value;
    const inputs = wanted.map(({ raDeg, decDeg }) => ({
      site: coreSite(props.site),
      date: props.date,
      raDeg,
      decDeg,
      minimumAltitudeDeg: session.settings.lowestAltitudeDeg,
    }));
    const got = await core().targets(plainCopy(inputs));
    if (late()) return;
    trouble.value = got.ok ? '' : problemText(got.problem);
    tracks.value = got.ok ? new Map(wanted.map((o, i) => [o.id, got.value[i]!])) : new Map();
  },
  { immediate: true },
);
const lanes = computed<Lane[]>(() =>
  first.value.flatMap((o) => {
    const target = tracks.value.get(o.id);
    return target
      ? [
          {
            id: o.id,
            title: o.name || o.id,
            sub: hours(o.minutes),
            target,
            minimumAltitudeDeg: session.settings.lowestAltitudeDeg,
            strips: [],
          },
        ]
      : [];
  }),
);
const chosen = ref('');
watch(
  first,
  (all) => {
    if (!all.some((o) => o.id === chosen.value)) chosen.value = all[0]?.id ?? '';
  },
  { immediate: true },
);
const object = computed(() => first.value.find((o) => o.id === chosen.value) ?? null);
</script>

<template>
  <div class="stack" data-test="candidates">
    <p v-if="trouble" class="level-bad" role="alert">{{ trouble }}</p>
    <NightLanes
      v-if="lanes.length"
      :night="night"
      :time-zone="site.timeZone"
      :lanes="lanes"
      :picks="[]"
      :chosen="chosen"
      :now="now"
      @choose="chosen = $event"
    />
    <template v-if="object">
      <YearStrip
        :site="site"
        :object="object.name || object.id"
        :place="{ raDeg: object.raDeg, decDeg: object.decDeg, minimumAltitudeDeg: session.settings.lowestAltitudeDeg }"
        :night="date"
        @choose="emit('night', $event)"
      />
      <RouterLink v-if="mayStart" :to="{ path: '/season', query: { object: object.id } }"
        >Start a project with {{ object.name || object.id }}</RouterLink
      >
    </template>
  </div>
</template>
