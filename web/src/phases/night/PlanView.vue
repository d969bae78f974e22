<script setup lang="ts">
import { api } from '@keen/contract';
import { filtersOf } from '@keen/core/rig';
import { timelineInputOf, type PlanSettings } from '@keen/core/sequence';
import { LockOutlined } from '@ant-design/icons-vue';
import { Button, Switch, message } from 'ant-design-vue';
import { computed, ref, watch } from 'vue';
import { RouterLink, useRoute, useRouter } from 'vue-router';
import { call } from '../../api/client.ts';
import { problemText } from '../../common/outcome.ts';
import EmptyState from '../../common/EmptyState.vue';
import KeptBar from '../../common/KeptBar.vue';
import TimeInput from '../../common/TimeInput.vue';
import VerdictLine from '../../common/VerdictLine.vue';
import WorkingFold from '../../common/WorkingFold.vue';
import { useClub } from '../../stores/club.ts';
import { useUnits } from '../../stores/units.ts';
import { useSession } from '../../stores/session.ts';
import { plainCopy } from '../../workers/index.ts';
import FramingLine from './FramingLine.vue';
import PlanFigures from './PlanFigures.vue';
import PlanPicture from './PlanPicture.vue';
import PlanSettingsForm from './PlanSettingsForm.vue';
import RiskPanel from './RiskPanel.vue';
import { useNight } from './useNight.ts';
import { planDraftOf, usePlan } from './usePlan.ts';
import { usePlanWords } from './usePlanWords.ts';
import PickOne from '../../common/PickOne.vue';

const club = useClub();
const units = useUnits();
const session = useSession();
const route = useRoute();
const router = useRouter();
const { night, targets, plans, picks } = useNight();
const projectId = computed(() => {
  const asked = typeof route.query.project === 'string' ? route.query.project : '';
  const known = club.rigProjects.some((p) => p.id === asked);
  return known
    ? asked
    : (plans.value.find((p) => p.status === 'planned')?.projectId ??
        picks.value[0]?.id ??
        club.rigProjects[0]?.id ??
        '');
});
// a link may name a project of another rig
watch(
  () => route.query.project,
  (id) => {
    const p = club.projects.find((q) => q.id === id);
    if (p && (p.rigId !== club.rig?.id || p.system !== club.rig.system.key)) club.look(p.rigId, p.system);
  },
  { immediate: true },
);
const project = computed(() => club.rigProjects.find((p) => p.id === projectId.value) ?? null);
const target = computed(() => targets.value.get(projectId.value) ?? null);
const suggestion = computed(() => picks.value.find((p) => p.id === projectId.value) ?? null);
const plan = usePlan(project, target, plans, suggestion);
const { draft, existing, laidOther, saving } = plan;
const zone = computed(() => club.site?.timeZone ?? 'UTC');
const done = computed(() => plans.value.find((p) => p.projectId === projectId.value && p.status === 'done') ?? null);

const which = ref<'A' | 'B'>('A');
const settings = computed<PlanSettings | null>(
  () => (which.value === 'B' && draft.value?.other) || draft.value?.settings || null,
);
function compare() {
  const d = draft.value!;
  const b = plainCopy(d.settings);
  b.order = b.order === 'rolling' ? 'block' : 'rolling';
  if (b.order !== 'rolling') b.dither.perRound = false;
  d.other = b;
  which.value = 'B';
}
function drop() {
  draft.value!.other = null;
  which.value = 'A';
}
function takeB() {
  const d = draft.value!;
  d.settings = plainCopy(d.other!);
  drop();
}
const locked = computed(() => existing.value?.locked === true && !session.isSteward);
const notMine = computed(
  () => existing.value !== null && !session.isSteward && existing.value.ownerId !== session.member?.id,
);
const off = computed(() => !session.mayEdit || locked.value || notMine.value);
const closed = computed(() => {
  if (!session.mayEdit) return 'Guests may look, not change.';
  if (locked.value) return `Locked by ${existing.value!.updatedBy}, a steward. Ask there to have it opened.`;
  if (notMine.value) return `${existing.value!.owner}’s plan; only the owner or a steward may change it.`;
  return undefined;
});
watch(
  () => draft.value?.settings.order,
  (order) => {
    if (order && order !== 'rolling' && draft.value) draft.value.settings.dither.perRound = false;
  },
);

/** How often the plan turns its wheel: what focusing on every change hangs on. */
const focusCost = computed(() => {
  const [d, rig] = [draft.value, club.rig];
  if (!a.value || !d || !rig) return null;
  const hours = (Date.parse(d.end) - Date.parse(d.start)) / 3_600_000;
  const changes = a.value.events.filter((e) => e.kind === 'filter').length;
  return { filterChangesPerHour: changes / hours, hours, autofocusS: rig.setup.overheads.autofocusS };
});
/** The plan as it stands, for the nights that are drawn; null where nothing is wanted any more. */
const riskPlan = computed(() => {
  const [d, p, rig] = [draft.value, project.value, club.rig];
  if (!d || !p || !rig || !d.settings.filters.some((f) => f.quota > (p.done[f.name] ?? 0))) return null;
  const { order: _o, blocked: _b, ...rest } = timelineInputOf({ settings: d.settings, start: d.start, end: d.end, overheads: rig.setup.overheads, done: p.done, flipAt: plan.flipAt.value }); // prettier-ignore
  return rest;
});
const { a, b, verdict, detail, outside } = usePlanWords(plan, project, target);

async function cancel() {
  const p = existing.value;
  if (!p) return;
  const got = await call(api.cancelPlan, { params: { id: p.id } });
  if (!got.ok) {
    void message.error(problemText(got.problem));
    return;
  }
  plan.saved();
  await club.loadPlans();
  void message.success('Plan cancelled; the rig is free again.');
}
const choose = (id: unknown) => void router.replace({ query: { project: String(id) } });
</script>

<template>
  <EmptyState v-if="!club.rig" title="No rig yet" lacks="rig">
    A plan fills the dark hours of one rig with frames: it follows from the rig, its place and a project.
  </EmptyState>
  <EmptyState v-else-if="!project" title="Nothing to plan yet">
    A plan belongs to a project of the chosen rig. Start one under Season, then plan it here.
    <template #actions><RouterLink to="/season">Projects</RouterLink></template>
  </EmptyState>
  <template v-else-if="night && target">
    <VerdictLine v-if="verdict" :verdict="verdict" :detail="detail" />
    <VerdictLine v-else :verdict="target.verdict" />
    <FramingLine v-if="project" :project="project" />
    <p v-if="plan.stale.value.length" class="level-caution small" data-test="stale">
      Made for an earlier state of the rig. {{ units.say(plan.stale.value) }}
      <template v-if="!off">Look it over and save it again for the rig as it is now.</template>
    </p>
    <div class="split board">
      <div class="stack">
        <section class="panel stack">
          <div class="row spread">
            <span class="row">
              <PickOne
                :value="projectId"
                class="project"
                label="Project"
                :options="club.rigProjects.map((p) => ({ value: p.id, label: `${p.object}: ${p.name}` }))"
                :dropdown-match-select-width="false"
                @update:value="choose"
              />
              <span v-if="existing?.locked" class="lock"><LockOutlined /> locked</span>
            </span>
            <RouterLink v-if="existing || done" :to="{ path: '/night/run', query: { plan: (existing ?? done)!.id } }">{{
              done && !existing ? 'See how it went' : 'Rehearse it'
            }}</RouterLink>
          </div>
          <PlanPicture
            v-if="draft"
            :night="night"
            :target="target"
            :limit-deg="project.minimumAltitudeDeg"
            :time-zone="zone"
            :start="draft.start"
            :end="draft.end"
            :flip-at="plan.flipAt.value"
            :laid="a"
            :other="b"
            :taken="plan.others.value"
            :now="club.now"
            :locked="off"
            @span="(s, e) => ((draft!.start = s), (draft!.end = e))"
          />
          <p v-else class="muted">
            {{ units.verdict(target.verdict) }} Try another night with <kbd>[</kbd> and <kbd>]</kbd>, or another
            project.
          </p>
          <p v-if="draft && outside" class="level-caution small">{{ outside }}</p>
        </section>
        <PlanFigures v-if="a && draft" :filters="draft.settings.filters" :done="project.done" :a="a" :b="b" />
        <RiskPanel
          v-if="draft && settings"
          :plan="riskPlan"
          :order="draft.settings.order"
          :filters="draft.settings.filters"
          :off="off"
          @take="draft.settings.order = $event"
        />
        <WorkingFold :steps="[...(a?.working ?? []), ...target.working]" />
      </div>
      <section v-if="draft && settings" class="panel stack">
        <KeptBar
          :kept="plan"
          :saving="saving"
          :fields-of="planDraftOf"
          :record="existing"
          :fresh="!existing || plan.stale.value.length > 0"
          :locked="closed"
        />
        <div class="row times">
          <TimeInput v-model="draft.start" label="Start" :time-zone="zone" :night="club.night" :disabled="off" />
          <TimeInput v-model="draft.end" label="End" :time-zone="zone" :night="club.night" :disabled="off" />
          <span v-if="b" class="toggle" role="group" aria-label="Which plan">
            <button
              v-for="w in ['A', 'B'] as const"
              :key="w"
              type="button"
              :aria-pressed="which === w"
              @click="which = w"
            >
              {{ w }}
            </button>
          </span>
          <Button v-if="!draft.other && session.mayEdit" size="small" @click="compare">Compare with another way</Button>
        </div>
        <div v-if="draft.other" class="row">
          <Button size="small" @click="takeB">Take B</Button>
          <Button size="small" @click="drop">Drop B</Button>
          <span class="muted small">Only A is saved.</span>
        </div>
        <PlanSettingsForm
          :key="which"
          :settings="settings"
          :project="project"
          :filters="filtersOf(club.rig!.setup)"
          :offsets="club.offsets"
          :cost="focusCost"
          :off="off"
        />
        <p v-if="laidOther && !laidOther.ok" class="level-bad small">B: {{ laidOther.message }}</p>
        <div class="row spread">
          <label v-if="session.isSteward" class="row small"
            ><Switch v-model:checked="draft.locked" size="small" /> locked: members may look, not change</label
          >
          <Button v-if="existing && !off" size="small" danger @click="cancel">Cancel this plan</Button>
        </div>
      </section>
    </div>
  </template>
</template>

<style scoped>
.board {
  grid-template-columns: minmax(0, 1fr) 372px;
}
.project {
  min-width: 300px;
}
.times {
  align-items: end;
}
.lock {
  color: var(--accent);
}
@media (max-width: 1100px) {
  .board {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
