<script setup lang="ts">
import type { ProjectRecord } from '@keen/contract';
import { filtersOf } from '@keen/core/rig';
import type { Leg, LegSchedule, PlanField, TimelineOutput } from '@keen/core/sequence';
import { computed } from 'vue';
import { panelsOfProject } from '../../common/records.ts';
import { rigView, useClub } from '../../stores/club.ts';
import { unplannedGoals } from '@keen/core/sequence';
import FollowerForm from './FollowerForm.vue';
import LegForm from './LegForm.vue';
import PlanSettingsForm from './PlanSettingsForm.vue';
import type { useLegEditor } from './useLegEditor.ts';
import type { usePlan } from './usePlan.ts';

/** All that is set of one leg: its hours, a second camera beside it, its filters and how it is worked. */
const props = defineProps<{
  leg: Leg;
  project: ProjectRecord;
  plan: ReturnType<typeof usePlan>;
  legEditor: ReturnType<typeof useLegEditor>;
  /** The leg as the night has it, in the plan that is looked at; and as the plan that is saved has it. */
  schedule: LegSchedule | null;
  saved: { schedule: LegSchedule | null; timeline: TimelineOutput | null };
  timeZone: string;
  off: boolean;
  closed: ReadonlySet<PlanField>;
}>();
const club = useClub();
const { which, legs, legIndex } = props.legEditor;
/** What a second camera of the rig could take beside a leg. */
const followers = computed(() => {
  const record = club.records.find((r) => r.id === club.rig?.id);
  return club.projects.flatMap((p) => {
    if (!record || p.rigId !== record.id || p.archived || p.system === club.rig!.system.key) return [];
    const view = rigView(record, p.system);
    return [{ project: p, system: view.system.name, setup: view.setup }];
  });
});
/** The same leg where the mount would, or would not, wait for the second camera. */
const otherPace = computed(() => {
  const { id, follower } = props.leg;
  if (!follower) return null;
  const turned = legs.value.map((l) =>
    l.id === id && l.follower ? { ...l, follower: { ...l.follower, waitedFor: !l.follower.waitedFor } } : l,
  );
  const got = props.plan.layout(turned);
  return got?.ok ? (got.value.legs.find((l) => l.id === id) ?? null) : null;
});
/** Where the panels of the leg’s project lie. */
const panels = computed(() => (club.rig ? panelsOfProject(props.project, club.rig.setup) : []));
/** How often the leg turns its wheel: what focusing on every change hangs on. */
const focusCost = computed(() => {
  const { schedule, timeline } = props.saved;
  if (!timeline || !schedule?.startMs || !club.rig) return null;
  const hours = (schedule.endMs! - schedule.startMs) / 3_600_000;
  const changes = timeline.events.filter((e) => e.kind === 'filter').length;
  return { filterChangesPerHour: changes / hours, hours, autofocusS: club.rig.setup.overheads.autofocusS };
});
</script>

<template>
  <LegForm
    :key="`w${which}${leg.id}`"
    :leg="leg"
    :project="project"
    :panels="panels"
    :schedule="schedule"
    :time-zone="timeZone"
    :night="club.night"
    :off="off"
    :closed="closed"
  />
  <FollowerForm
    :key="`f${which}${leg.id}`"
    :leg="leg"
    :choices="followers"
    :pointing="legEditor.pointings.value[legIndex]!"
    :lead-download-s="club.rig!.setup.overheads.downloadS"
    :schedule="schedule"
    :other-pace="otherPace"
    :off="off"
    :closed="closed"
  />
  <PlanSettingsForm
    :key="`${which}${leg.id}`"
    :settings="leg.settings"
    :project="project"
    :panel="leg.panel"
    :lacking="unplannedGoals(legs, project, leg.panel)"
    :filters="filtersOf(club.rig!.setup)"
    :offsets="club.offsets"
    :cost="focusCost"
    :off="off"
    :closed="closed"
    @lengths="legEditor.addLengths(leg.id)"
  />
</template>
