<script setup lang="ts">
import { type RiskPlan } from './useRisk.ts';
import { gatheredIn } from '@keen/core/record';
import { api } from '@keen/contract';
import WhenThere from '../../common/WhenThere.vue';
import { ahead, PlanField, type ClosingStep, type OpeningStep, afterOpening } from '@keen/core/sequence';
import { LockOutlined } from '@ant-design/icons-vue';
import { Button, Popconfirm, Switch, message } from 'ant-design-vue';
import { computed, nextTick, watch } from 'vue';
import { RouterLink, useRoute, useRouter } from 'vue-router';
import { call } from '../../api/client.ts';
import { problemText } from '../../common/outcome.ts';
import EmptyState from '../../common/EmptyState.vue';
import KeptBar from '../../common/KeptBar.vue';
import VerdictLine from '../../common/VerdictLine.vue';
import WorkingFold from '../../common/WorkingFold.vue';
import { useClub } from '../../stores/club.ts';
import { plainCopy } from '../../workers/index.ts';
import { useUnits } from '../../stores/units.ts';
import { useSession } from '../../stores/session.ts';
import FramingLine from './FramingLine.vue';
import TemplatePick from './TemplatePick.vue';
import PlanFiles from './PlanFiles.vue';
import RunSheet from './RunSheet.vue';
import PlanFigures from './PlanFigures.vue';
import PlanPicture from './PlanPicture.vue';
import RiskPanel from './RiskPanel.vue';
import { useNight } from './useNight.ts';
import { planDraftOf, usePlan } from './usePlan.ts';
import { useLegEditor } from './useLegEditor.ts';
import { usePlanWords } from './usePlanWords.ts';
import PickOne from '../../common/PickOne.vue';
import { planTitle, worksFor } from '../../common/records.ts';
import KeptWays from './KeptWays.vue';
import LegPanel from './LegPanel.vue';
import { usePlanAccess } from './usePlanAccess.ts';
import ClosedFields from './ClosedFields.vue';
import LockPanel from './LockPanel.vue';
import { closedValue, FIELD_WORDS } from './planLocks.ts';
import { clock, dayName } from '../../common/times.ts';
import NightPassed from './NightPassed.vue';
import NightOutline from './NightOutline.vue';
import StepsForm from './StepsForm.vue';
import WatchesForm from '../../common/WatchesForm.vue';

const club = useClub();
const units = useUnits();
const session = useSession();
const route = useRoute();
const router = useRouter();
const { night, targets, plans, picks, templates, readyMs, held, booked } = useNight();
const projectId = computed(() => {
  const wanted = typeof route.query.project === 'string' ? route.query.project : '';
  const known = club.rigProjects.some((p) => p.id === wanted);
  return known
    ? wanted
    : (plans.value.find((p) => p.status === 'planned')?.legs[0]!.projectId ??
        picks.value[0]?.id ??
        club.rigProjects[0]?.id ??
        '');
});
// a link may name a project of another rig
watch(
  () => route.query.project,
  (id) => {
    const p = club.projects.find((q) => q.id === id);
    if (p && (p.rigId !== club.rig?.id || p.system !== club.rig.system.key)) club.selectRig(p.rigId, p.system);
  },
  { immediate: true },
);
const project = computed(() => club.rigProjects.find((p) => p.id === projectId.value) ?? null);
const target = computed(() => targets.value.get(projectId.value) ?? null);
/** Its own booked hours come first, as far as they are still to come. */
const suggestion = computed(
  () =>
    ahead(
      held.value.filter((b) => b.projectId === projectId.value && b.planId === null),
      readyMs.value,
    )[0] ??
    picks.value.find((p) => p.id === projectId.value) ??
    null,
);
const plan = usePlan(project, { night, targets, plans, booked, suggestion, readyMs });
const { draft, existing, scheduleOther, saving } = plan;
const zone = computed(() => club.site?.timeZone ?? 'UTC');
const done = computed(() => plans.value.find((p) => worksFor(p, projectId.value) && p.status === 'done') ?? null);

const legEditor = useLegEditor(plan, projectId, targets);
const { which, legs, part, leg, shown, legIndex, shownProject, shownTarget, names } = legEditor;
const filtersUsed = computed(() => [...new Set(legs.value.flatMap((l) => l.settings.filters.map((f) => f.name)))]);
const ways = computed(() => templates(plan.others.value));
/** Another plan of mine tonight, which this project could join. */
const joinable = computed(() =>
  existing.value
    ? null
    : (plan.others.value.find((p) => p.status === 'planned' && p.ownerId === session.member?.id) ?? null),
);
async function join() {
  const p = joinable.value;
  const wanted = projectId.value;
  if (!p) return;
  await router.replace({ query: { project: p.legs[0]!.projectId } });
  await nextTick();
  legEditor.add(wanted, project.value!.panels > 1 ? 'all' : null);
}
const access = usePlanAccess(plan, { projectId, zone });
const { locks, closedFields, patterns, openWords, off, closed } = access;
function beginFrom(id: string) {
  part.value = access.beginFrom(id) ?? part.value;
}
const closedWords = (field: PlanField) =>
  shown.value && draft.value
    ? closedValue(field, draft.value, shown.value, legSchedule.value, names.value, zone.value, units)
    : '';
const { whole, wholeOther, mainLegSchedule, a, b, verdict, notes } = usePlanWords(plan, shown);
/** The night as it is laid out, for those that are drawn; null where nothing is wanted of the leg any more. */
const riskPlan = computed<RiskPlan | null>(() => {
  const schedule = plan.schedule.value;
  if (!schedule?.ok || !shownProject.value || !draft.value) return null;
  const ofLeg = legIndex.value;
  const input = schedule.prepared[ofLeg]?.input;
  if (!input?.filters.some((f) => f.quota! > f.done)) return null;
  const { prepared, value } = schedule;
  return { prepared, legIndex: ofLeg, ...afterOpening(value, draft.value.opening, prepared) };
});
const legSchedule = computed(
  () => (which.value === 'B' ? wholeOther : whole).value?.legs.find((l) => l.id === leg.value?.id) ?? null,
);
const flipAt = computed(() => {
  const schedule = plan.schedule.value;
  return (schedule?.ok && schedule.prepared[legIndex.value]?.input?.flipAt) || null;
});
function setSteps(steps: (OpeningStep | ClosingStep)[]) {
  if (part.value === 'opening') draft.value!.opening = steps as OpeningStep[];
  else draft.value!.closing = steps as ClosingStep[];
}

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
/** What stands here, as a plan of its own: the saved one was cancelled meanwhile. */
async function saveAsNew() {
  const draft = plan.draft.value;
  if (!draft) return;
  const mine = plainCopy(draft);
  saving.gone.value = '';
  await club.loadPlans();
  plan.draft.value = mine;
  await saving.save();
}
/** Another project: its leg where the plan has one, else its own plan. */
function choose(id: unknown): void {
  const own = legEditor.legs.value.find((l) => l.projectId === id);
  if (own) legEditor.part.value = own.id;
  else void router.replace({ query: { project: String(id) } });
}
</script>

<template>
  <EmptyState v-if="!club.rig" title="No rig yet" lacks="rig">
    A plan fills the dark hours of one rig with frames: it follows from the rig, its place and a project.
  </EmptyState>
  <EmptyState v-else-if="!project" title="Nothing to plan yet">
    A plan belongs to a project of the chosen rig. Start one under Season, then plan it here.
    <template #actions><RouterLink to="/season">Projects</RouterLink></template>
  </EmptyState>
  <WhenThere v-else-if="night && target" :of="[club.offsetsAnswer]">
    <div class="no-print stack">
      <NightPassed />
      <VerdictLine v-if="verdict" :verdict="verdict" :notes="notes" />
      <VerdictLine v-else :verdict="target.verdict" />
      <FramingLine v-if="project" :project="project" />
      <p v-if="existing && plan.late.value" class="level-caution small row" data-test="late">
        <span>It was to begin at {{ clock(existing.start, zone) }}, which has passed.</span>
        <Button v-if="!off" size="small" :loading="saving.busy.value" @click="saving.save()">Begin now</Button>
      </p>
      <p v-if="saving.gone.value" class="level-caution small row" data-test="gone">
        <span>{{ saving.gone.value }}</span>
        <Button size="small" @click="saveAsNew">Save as new</Button>
      </p>
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
                  :value="shownProject?.id ?? projectId"
                  class="project"
                  label="Project"
                  :options="club.rigProjects.map((p) => ({ value: p.id, label: `${p.object}: ${p.name}` }))"
                  :dropdown-match-select-width="false"
                  @update:value="choose"
                />
                <span v-if="existing?.locked" class="lock"><LockOutlined /> locked</span>
              </span>
              <RouterLink
                v-if="existing || done"
                :to="{ path: '/night/run', query: { plan: (existing ?? done)!.id } }"
                >{{ done && !existing ? 'See how it went' : 'Rehearse it' }}</RouterLink
              >
            </div>
            <p v-if="joinable && !off" class="row small" data-test="join">
              You have a plan tonight already, for {{ planTitle(joinable) }}.
              <Button size="small" @click="join">Make {{ project.object }} a leg of it</Button>
            </p>
            <p v-if="patterns.length && !off && draft" class="row small" data-test="patterns">
              <PickOne
                :key="projectId"
                :value="draft.fromPlanId ?? undefined"
                class="pattern"
                label="Use a protected plan"
                placeholder="Use a protected plan…"
                :options="
                  patterns.map((p) => ({ value: p.id, label: `${planTitle(p)}, ${p.owner}, ${dayName(p.night)}` }))
                "
                :dropdown-match-select-width="false"
                @update:value="beginFrom(String($event))"
              />
              <span class="muted">Its closed fields come with it; the open ones are yours.</span>
            </p>
            <p v-if="existing?.madeFrom" class="small" data-test="made-from">
              Made from {{ existing.madeFrom.owner }}’s plan of {{ dayName(existing.madeFrom.night) }};
              {{
                existing.madeFrom.changed.length
                  ? `changed: ${existing.madeFrom.changed.map((f) => FIELD_WORDS[f].label.toLowerCase()).join(', ')}.`
                  : 'nothing is changed.'
              }}
            </p>
            <PlanPicture
              v-if="draft && shown && shownTarget && shownProject"
              :night="night"
              :target="shownTarget"
              :limit-deg="shownProject.minimumAltitudeDeg"
              :time-zone="zone"
              :start-ms="legSchedule?.startMs ?? null"
              :end-ms="legSchedule?.endMs ?? null"
              :flip-at="flipAt"
              :schedule="whole"
              :other="wholeOther"
              :names="names"
              :chosen="legIndex"
              :taken="plan.others.value"
              :now="club.now"
              :locked="off || closedFields.has('hours')"
              @choose="part = legs[$event]?.id ?? part"
              @reorder="(from: number, to: number) => closedFields.has('targets') || legEditor.reorder(from, to)"
              @span="(side, at) => (shown![side] = { by: 'clock', at })"
            />
            <p v-else class="muted">
              {{ units.verdict(target.verdict) }}
              <template v-if="club.nightNow !== null"
                >From {{ clock(readyMs, zone) }} on, when work could begin, no free hour of it is left
                tonight.</template
              >
              Try another night with <kbd>[</kbd> and <kbd>]</kbd>, or another project.
            </p>
            <p v-if="draft && legSchedule?.trouble" class="level-caution small" data-test="leg-trouble">
              {{ units.say([legSchedule.trouble]) }}
            </p>
            <p v-if="whole?.troubles.length" class="level-caution small">{{ units.say(whole.troubles) }}</p>
            <NightOutline
              v-if="draft"
              :legs="legs"
              :opening="draft.opening"
              :closing="draft.closing"
              :watches="draft.watches"
              :schedule="which === 'B' ? wholeOther : whole"
              :projects="club.rigProjects"
              :chosen="part"
              :time-zone="zone"
              :off="off"
              :fixed="closedFields.has('targets')"
              @choose="part = $event"
              @move="legEditor.move"
              @remove="legEditor.remove"
              @add="legEditor.add"
            />
          </section>
          <PlanFiles
            v-if="draft && club.rig && club.site"
            :plan="draft"
            :schedule="whole"
            :names="names"
            :rig="club.rig"
            :site="club.site"
            :night="club.night"
            :projects="club.rigProjects"
            :now="club.now"
            :open="!off && !closedFields.size"
            @take="legEditor.takeFile"
          >
            <TemplatePick v-if="!off && !closedFields.size" :templates="ways" @take="legEditor.takeTemplate" />
          </PlanFiles>
          <PlanFigures
            v-if="a && shown && shownProject"
            :filters="shown.settings.filters"
            :done="gatheredIn(shownProject, shown.panel)"
            :a="a"
            :b="b"
          />
          <RiskPanel
            v-if="draft && leg"
            :plan="riskPlan"
            :saved="existing?.id ?? null"
            :sent="plan.sent"
            :order="leg.settings.order"
            :filters="leg.settings.filters"
            :off="off || closedFields.has('order')"
            @take="leg.settings.order = $event"
          />
          <WorkingFold :steps="[...(a?.working ?? []), ...(shownTarget ?? target).working]" />
        </div>
        <section v-if="draft" class="panel stack">
          <KeptBar
            :kept="plan"
            :saving="saving"
            :fields-of="planDraftOf"
            :record="existing"
            :fresh="!existing || plan.stale.value.length > 0"
            :locked="closed"
          />
          <div class="row spread">
            <h2>
              {{
                part === 'opening'
                  ? 'Opening'
                  : part === 'closing'
                    ? 'Closing'
                    : part === 'watches'
                      ? 'Watches'
                      : names[legIndex]
              }}
            </h2>
            <span v-if="draft.other" class="toggle" role="group" aria-label="Which plan">
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
            <Button v-else-if="session.mayEdit && !closedFields.has('order')" size="small" @click="legEditor.compare"
              >Compare with another way</Button
            >
          </div>
          <div v-if="draft.other" class="row">
            <Button size="small" @click="legEditor.takeB">Take B</Button>
            <Button size="small" @click="legEditor.drop">Drop B</Button>
            <span class="muted small">Only A is saved.</span>
          </div>
          <p v-if="closedFields.size && !off" class="small" data-test="open">
            Yours to set: {{ openWords }}. What is closed stands below.
          </p>
          <StepsForm
            v-if="part === 'opening' || part === 'closing'"
            :key="part"
            :part="part"
            :steps="part === 'opening' ? draft.opening : draft.closing"
            :autofocus-s="club.rig!.setup.overheads.autofocusS"
            :filters="filtersUsed"
            :off="off || closedFields.has(part as PlanField)"
            @change="setSteps"
          />
          <WatchesForm
            v-else-if="part === 'watches'"
            :watches="draft.watches"
            :off="off || closedFields.has('watches')"
            @change="draft.watches = $event"
          />
          <LegPanel
            v-else-if="leg && shownProject"
            :leg="leg"
            :project="shownProject"
            :plan="plan"
            :leg-editor="legEditor"
            :schedule="legSchedule"
            :saved="{ schedule: mainLegSchedule, timeline: a }"
            :time-zone="zone"
            :off="off"
            :closed="closedFields"
          />
          <ClosedFields v-if="closedFields.size" :locks="locks" :value="closedWords" />
          <KeptWays
            v-if="!off && !closedFields.size"
            :ways="legEditor.kept.value"
            @keep="legEditor.keep"
            @beside="legEditor.beside"
            @forget="legEditor.forget"
          />
          <LockPanel v-if="session.isSteward" :locks="draft.locks" @change="draft.locks = $event" />
          <p v-if="scheduleOther && !scheduleOther.ok" class="level-bad small">B: {{ scheduleOther.message }}</p>
          <div class="row spread">
            <label v-if="session.isSteward" class="row small"
              ><Switch v-model:checked="draft.locked" size="small" /> all of it is locked: members may look, not
              change</label
            >
            <Popconfirm
              v-if="existing && !off"
              title="Cancel this plan? The rig is free again, and the plan is gone for everybody."
              ok-text="Cancel the plan"
              cancel-text="Keep it"
              @confirm="cancel"
            >
              <Button size="small" danger>Cancel this plan</Button>
            </Popconfirm>
          </div>
        </section>
      </div>
    </div>
    <RunSheet
      v-if="draft && whole && club.rig"
      :plan="draft"
      :schedule="whole"
      :night="night"
      :names="names"
      :pointings="legEditor.pointings.value"
      :rig="club.rig.name"
      :words="club.rig.words"
      :site="club.site?.name ?? ''"
      :date="club.night"
      :time-zone="zone"
    />
  </WhenThere>
</template>

<style scoped>
.board {
  grid-template-columns: minmax(0, 1fr) 372px;
}
.project,
.pattern {
  min-width: 300px;
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
