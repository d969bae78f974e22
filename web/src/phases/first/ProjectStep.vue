<script setup lang="ts">
import {
  ANYTHING,
  OBJECT_TYPES,
  comingEvening,
  night as nightOf,
  target,
  type CatalogueEntry,
  type Suggestion,
} from '@keen/core/sky';
import { figure } from '@keen/core/quantities';
import { viewOf, shortSideArcmin } from '@keen/core/rig';
import { ahead } from '@keen/core/sequence';
import { Button, Input } from 'ant-design-vue';
import { computed, ref, shallowRef, watch } from 'vue';
import { useClub } from '../../stores/club.ts';
import { useSession } from '../../stores/session.ts';
import { core, plainCopy } from '../../workers/index.ts';
import FieldPicture from './FieldPicture.vue';
import type { useFirstEvening } from './useFirstEvening.ts';
import { latestOnly } from '../../common/latestOnly.ts';

/** An object by name, or one of those that stand well tonight for this field. */
const props = defineProps<{ evening: ReturnType<typeof useFirstEvening> }>();
const emit = defineEmits<{ made: [id: string] }>();
const club = useClub();
const session = useSession();
const setup = computed(() => (props.evening.rig.value ? viewOf(props.evening.rig.value.setup) : null));
const site = computed(() => club.sites.find((s) => s.id === props.evening.draft.value.siteId) ?? club.site);
const typed = ref('');
const found = shallowRef<CatalogueEntry[]>([]);
const well = shallowRef<Suggestion[]>([]);
const working = ref(true);
const trouble = ref('');
const looking = shallowRef<CatalogueEntry | null>(null);

const question = computed(() => {
  if (!site.value) return null;
  const { latitudeDeg, longitudeDeg, elevationM, timeZone, horizon } = plainCopy(site.value);
  const place = { latitudeDeg, longitudeDeg, elevationM, timeZone };
  return {
    site: { ...place, horizon: horizon ?? [] },
    date: comingEvening(place, club.now),
    minimumAltitudeDeg: session.settings.lowestAltitudeDeg,
    darkness: 'astronomical' as const,
    stepMin: 5,
  };
});

/** To the quarter of an hour, as the list of Tonight: nothing is offered for hours that have passed. */
const fromMs = computed(() => Math.floor(club.now / 900_000) * 900_000);
const ask = latestOnly();
watch(typed, async (text) => {
  const late = ask();
  const got = text.trim() ? await core().find(text, 8) : [];
  if (!late()) found.value = got;
});
const askTonight = latestOnly();
watch(
  [site, setup, fromMs] as const,
  async ([s, rig]) => {
    const late = askTonight();
    if (!s || !rig) return;
    working.value = true;
    trouble.value = '';
    try {
      const got = await core().tonight(
        { ...question.value!, fromMs: fromMs.value },
        {
          shortSideArcmin: shortSideArcmin(rig),
          moonlit: nightOf(question.value!).moon.illumination,
          skyMag: site.value!.skyMagArcsec2,
          criteria: ANYTHING,
        },
      );
      if (late()) return;
      well.value = got.objects.slice(0, 12);
    } catch (e) {
      if (late()) return;
      trouble.value = `The catalogue could not be gone through: ${(e as Error).message}`;
    }
    working.value = false;
  },
  { immediate: true },
);
/** The found ones with their hours of tonight: nobody should begin with what does not rise. */
const foundTonight = computed(() =>
  found.value.map((o) => {
    if (!question.value) return { ...o, minutes: undefined, passed: false, bestAltitudeDeg: undefined };
    const t = target({ ...question.value, raDeg: o.raDeg, decDeg: o.decDeg });
    const windows = ahead(t.windows, fromMs.value);
    const minutes = windows.reduce((sum, w) => sum + (Date.parse(w.end) - Date.parse(w.start)) / 60_000, 0);
    const workable = (ms: number) => windows.some((w) => Date.parse(w.start) <= ms && ms <= Date.parse(w.end));
    const heights = t.track.filter((s) => workable(Date.parse(s.time))).map((s) => s.altitudeDeg);
    return { ...o, minutes, passed: minutes === 0 && t.hours > 0, bestAltitudeDeg: Math.max(30, ...heights) };
  }),
);
const list = computed<
  (CatalogueEntry & { minutes?: number | undefined; passed?: boolean; bestAltitudeDeg?: number | undefined })[]
>(() => (typed.value.trim() ? foundTonight.value : well.value));
const begun = computed(() => club.projects.find((p) => p.id === props.evening.draft.value.projectId) ?? null);
async function take(o: CatalogueEntry) {
  const there = club.projects.find((p) => p.object === o.id && p.rigId === props.evening.rig.value?.id && !p.archived);
  const id = there?.id ?? (await props.evening.saveProject(o));
  if (id) emit('made', id);
}
</script>

<template>
  <p v-if="begun" class="small">
    {{ begun.name }} is begun. <Button size="small" @click="emit('made', begun.id)">To its plan for tonight</Button>
  </p>
  <Input v-model:value="typed" size="large" allow-clear placeholder="M 31, NGC 7000, rosette …" aria-label="Object" />
  <h3>{{ typed.trim() ? 'Found' : 'Stands well tonight for this field' }}</h3>
  <p v-if="trouble" class="level-bad" role="alert">{{ trouble }}</p>
  <p v-else-if="!typed.trim() && working" class="muted">Going through the catalogue …</p>
  <p v-else-if="list.length === 0" class="muted">
    {{
      typed.trim()
        ? 'Nothing of that name in the catalogue; try its number, such as NGC 891.'
        : 'Nothing fits this field in full darkness tonight. Type an object by name.'
    }}
  </p>
  <ul class="objects" data-test="objects">
    <li v-for="o in list" :key="o.id" :class="{ here: looking?.id === o.id }">
      <button type="button" class="pick" @mouseenter="looking = o" @focus="looking = o" @click="take(o)">
        <strong>{{ o.id }}</strong>
        <span>{{ o.name ?? OBJECT_TYPES[o.type] ?? o.type }}</span>
        <span class="mono small muted"
          ><template v-if="o.majorArcmin">{{ figure(o.majorArcmin, 0) }}′</template
          ><template v-if="o.minutes">
            · {{ figure(o.minutes / 60, 1) }} h, up to {{ figure(o.bestAltitudeDeg!, 0) }}°</template
          ><span v-else-if="o.minutes === 0" class="level-caution">
            ·
            {{
              o.passed ? 'no longer tonight: its hours have passed' : 'not tonight: never above 30° in the dark'
            }}</span
          ></span
        >
      </button>
    </li>
  </ul>
  <FieldPicture v-if="setup && looking" :setup="setup" :object="looking" />
</template>

<style scoped>
.objects {
  list-style: none;
  margin: 0;
  padding: 0;
  display: grid;
  gap: 4px;
}
.pick {
  all: unset;
  box-sizing: border-box;
  width: 100%;
  cursor: pointer;
  display: grid;
  grid-template-columns: 90px minmax(0, 1fr) auto;
  gap: 10px;
  align-items: baseline;
  padding: 7px 10px;
  min-height: 40px;
  border: 1px solid var(--line);
  border-radius: 4px;
}
.pick:hover,
.here .pick {
  border-color: var(--accent);
}
.pick:focus-visible {
  outline: 2px solid var(--accent);
}
@media (max-width: 560px) {
  .pick {
    grid-template-columns: 74px minmax(0, 1fr);
  }
  .pick .small {
    grid-column: 2;
  }
}
</style>
