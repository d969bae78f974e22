<script setup lang="ts">
import { comingEvening } from '@keen/core/sky';
import { Button } from 'ant-design-vue';
import { computed } from 'vue';
import { RouterLink, useRouter } from 'vue-router';
import { coreSite } from '../../common/records.ts';
import { useClub } from '../../stores/club.ts';
import { useSession } from '../../stores/session.ts';
import EmptyState from '../../common/EmptyState.vue';
import FiltersStep from './FiltersStep.vue';
import FirstRig from './FirstRig.vue';
import MountStep from './MountStep.vue';
import PlaceStep from './PlaceStep.vue';
import ProjectStep from './ProjectStep.vue';
import RidersStep from './RidersStep.vue';
import TonightHere from './TonightHere.vue';
import TubeStep from './TubeStep.vue';
import { missing, STEPS, useFirstEvening, type Step } from './useFirstEvening.ts';

/** From an empty start to a plan for tonight, one thing after the other, each showing at once what it is good for. */
const club = useClub();
const session = useSession();
const router = useRouter();
const evening = useFirstEvening();
const { draft, step, busy, trouble } = evening;
const TITLES: Record<Step, string> = {
  place: 'Place',
  mount: 'Mount',
  tube: 'Tube',
  riders: 'What rides on it',
  filters: 'Filters',
  project: 'First object',
};
const ASKS: Record<Step, string> = {
  place: 'Where do you observe?',
  mount: 'What carries the telescope?',
  tube: 'Which tube or lens?',
  riders: 'What rides on it?',
  filters: 'Which filters, slot by slot?',
  project: 'What shall it be tonight?',
};
const lacks = computed(() => missing(draft.value));
const at = computed(() => STEPS.indexOf(step.value));
/** A step can be gone to when everything before it is told. */
const open = (s: Step) => {
  const first = lacks.value ? STEPS.indexOf(lacks.value) : STEPS.length;
  const known = s === 'project' ? evening.rig.value !== null : true;
  return STEPS.indexOf(s) <= first && known;
};
const ready = computed(() => lacks.value === null || STEPS.indexOf(lacks.value) > at.value);

async function next() {
  if (step.value === 'place' && !(await evening.savePlace())) return;
  if (step.value === 'filters' && !(await evening.saveRig())) return;
  // without a wheel or drawer there is nothing to name
  if (step.value === 'riders' && draft.value.holder === 'none') {
    draft.value.filters = [];
    if (!(await evening.saveRig())) return;
    step.value = 'project';
    return;
  }
  step.value = STEPS[at.value + 1]!;
}
function back() {
  const before = step.value === 'project' && draft.value.holder === 'none' ? 'riders' : STEPS[at.value - 1]!;
  step.value = before;
}
function toPlan(id: string) {
  // in the morning the night to plan is the one to come
  if (club.site) club.goToNight(comingEvening(coreSite(club.site), club.now));
  void router.push({ path: '/night/plan', query: { project: id } });
}
</script>

<template>
  <EmptyState v-if="!session.isSteward" title="A steward sets this up"
    >Sites and rigs are kept by stewards. Ask one of them, or look at what stands under Bench.</EmptyState
  >
  <div v-else class="first">
    <header class="row spread">
      <h1>Your first evening</h1>
      <span class="small muted"
        >Step {{ at + 1 }} of {{ STEPS.length }}. Kept as you go;
        <RouterLink to="/night">leave and come back</RouterLink> any time.</span
      >
    </header>
    <ol class="path" aria-label="Steps">
      <li v-for="(s, i) in STEPS" :key="s">
        <button
          type="button"
          :class="{ here: s === step, done: i < at }"
          :aria-current="s === step ? 'step' : undefined"
          :disabled="!open(s)"
          @click="step = s"
        >
          <span class="mono">{{ i + 1 }}</span> {{ TITLES[s] }}
        </button>
      </li>
    </ol>
    <div class="split board">
      <section class="panel stack" :aria-label="TITLES[step]">
        <h2 class="ask">{{ ASKS[step] }}</h2>
        <PlaceStep v-if="step === 'place'" :evening="evening" />
        <MountStep v-else-if="step === 'mount'" :evening="evening" />
        <TubeStep v-else-if="step === 'tube'" :evening="evening" />
        <RidersStep v-else-if="step === 'riders'" :evening="evening" />
        <FiltersStep v-else-if="step === 'filters'" :evening="evening" />
        <ProjectStep v-else :evening="evening" @made="toPlan" />
        <p v-if="trouble" class="level-bad" role="alert">{{ trouble }}</p>
        <div class="row spread">
          <Button v-if="at > 0" @click="back">Back</Button><span v-else />
          <Button v-if="step !== 'project'" type="primary" size="large" :disabled="!ready" :loading="busy" @click="next"
            >Next</Button
          >
        </div>
      </section>
      <section class="stack" aria-label="What this is good for" aria-live="polite">
        <TonightHere v-if="step === 'place' || step === 'project'" :evening="evening" />
        <FirstRig v-if="step !== 'place'" :evening="evening" />
      </section>
    </div>
  </div>
</template>

<style scoped>
.first {
  display: grid;
  gap: 14px;
  grid-template-columns: minmax(0, 1fr);
}
h1 {
  font-size: 22px;
}
.ask {
  font-size: 19px;
  margin: 0;
}
.path {
  list-style: none;
  margin: 0;
  padding: 0;
  display: flex;
  flex-wrap: wrap;
  gap: 4px 2px;
}
.path button {
  all: unset;
  cursor: pointer;
  padding: 6px 14px 6px 10px;
  border-bottom: 3px solid var(--line);
  color: var(--ink-2);
  font-size: 14px;
}
.path button:disabled {
  cursor: default;
}
.path button:focus-visible {
  outline: 2px solid var(--accent);
}
.path .done {
  border-color: var(--good);
}
.path .here {
  border-color: var(--accent);
  color: var(--ink);
  font-weight: 650;
}
.board {
  grid-template-columns: minmax(0, 1.15fr) minmax(0, 1fr);
}
@media (max-width: 900px) {
  .board {
    grid-template-columns: minmax(0, 1fr);
  }
}
@media (max-width: 560px) {
  .path button {
    padding: 6px 8px 6px 4px;
    font-size: 13px;
  }
}
</style>
