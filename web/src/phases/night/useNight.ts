import { goalKey, stillWanted } from '@keen/core/record';
import { night as nightOf, type NightOutput, type TargetOutput } from '@keen/core/sky';
import {
  ahead,
  orderEvening,
  planTemplates,
  onlyNarrow,
  stepsMs,
  usualOpening,
  type EveningPick,
  legTargetInput,
  neededMinutes,
} from '@keen/core/sequence';
import { takesHours } from '@keen/core/booking';
import { computed, ref, shallowRef, watch } from 'vue';
import { questions } from '../../api/questions.ts';
import { useAnswer } from '../../common/answer.ts';
import { useClub } from '../../stores/club.ts';
import { useSession } from '../../stores/session.ts';
import { problemText } from '../../common/outcome.ts';
import { core, plainCopy } from '../../workers/index.ts';
import { latestOnly } from '../../common/latestOnly.ts';
import { coreSite, panelsOfProject } from '../../common/records.ts';

/** The chosen night at the chosen site: Sun and Moon at once, the projects' objects from the worker. */
export function useNight() {
  const club = useClub();
  const session = useSession();
  const night = computed<NightOutput | null>(() =>
    club.site && club.night ? nightOf({ site: coreSite(club.site), date: club.night }) : null,
  );
  /** Where each project points, and each panel of a mosaic, by what a leg’s frames count for. */
  const targets = shallowRef(new Map<string, TargetOutput>());
  const trouble = ref('');
  /** Until the sky of this very night is there nothing is said of it. */
  const skyComing = ref(true);
  let shown = '';
  const ask = latestOnly();
  watch(
    () => [club.site, club.night, club.rigProjects, club.rig?.setup] as const,
    async ([site, date, projects, setup]) => {
      const late = ask();
      if (!site || !date || !setup) return;
      const key = `${site.id} ${date} ${projects.map((p) => p.id).join(' ')}`;
      skyComing.value = key !== shown;
      // where the framing was pinned, and every panel of a mosaic, as the plan and its run point
      const places = projects.flatMap((p) => {
        const panels = panelsOfProject(p, setup);
        return [null, ...panels.keys()].map((panel) => ({
          key: goalKey({ projectId: p.id, panel }),
          input: legTargetInput(p, panel, { site: coreSite(site), date, panels }),
        }));
      });
      const inputs = places.map(({ input }) => input);
      const got = await core().targets(plainCopy(inputs));
      if (late()) return;
      trouble.value = got.ok ? '' : problemText(got.problem);
      [shown, skyComing.value] = [got.ok ? key : '', false];
      targets.value = got.ok ? new Map(places.map(({ key }, i) => [key, got.value[i]!])) : new Map();
    },
    { immediate: true },
  );
  /** Plans that hold this rig tonight. */
  const plans = computed(() =>
    club.nightPlans.filter((p) => p.rigId === club.rig?.id).sort((a, b) => (a.start < b.start ? -1 : 1)),
  );
  /** Whose this night’s hours are. */
  const hours = useAnswer('Whose hours are whose', () =>
    club.night ? questions.bookings(club.night, club.night) : null,
  );
  const held = computed(() => (hours.value.value ?? []).filter((b) => b.rigId === club.rig?.id && takesHours(b.state)));
  /** Hours of others: nothing is proposed in them. */
  const others = computed(() => held.value.filter((b) => b.memberId !== session.member?.id));
  const coming = computed(() => skyComing.value || (!hours.there.value && !hours.trouble.value && hours.asking.value));
  /** When the rig can be at work tonight: now, with what opening and cooling still take [ms]; another night whole. */
  const readyMs = computed(() =>
    club.nightNow === null
      ? -Infinity
      : club.nightNow + stepsMs(usualOpening(club.rig?.setup.overheads.autofocusS ?? 0)),
  );
  /** The projects of this rig as candidates for the hours of the night. */
  const candidates = computed(() =>
    club.rigProjects.flatMap((p) => {
      const t = targets.value.get(p.id);
      if (!t) return [];
      const needMinutes = neededMinutes(stillWanted(p), club.rig!.setup.overheads);
      return [
        {
          id: p.id,
          object: p.object,
          windows: ahead(t.windows, readyMs.value),
          track: t.track,
          needMinutes,
          narrowband: onlyNarrow(p.goals.map((g) => g.filter)),
        },
      ];
    }),
  );
  /** Hours that are for a project of this rig, and have no plan: they are its before anything is proposed. */
  const promised = computed(() =>
    ahead(held.value, readyMs.value).flatMap((b): EveningPick[] =>
      b.planId === null && candidates.value.some((c) => c.id === b.projectId)
        ? [{ id: b.projectId!, start: b.start, end: b.end }]
        : [],
    ),
  );
  const picks = computed<EveningPick[]>(() =>
    [
      ...promised.value,
      ...orderEvening(candidates.value, night.value?.moon.illumination ?? 0, [...plans.value, ...held.value]),
    ].sort((a, b) => (a.start < b.start ? -1 : 1)),
  );
  /** Ways to begin a plan of the night, beside those that others have. */
  const templates = (others: readonly { start: string; end: string }[]) =>
    night.value ? planTemplates(candidates.value, night.value, others) : [];
  return { held, booked: others, night, targets, trouble, coming, plans, picks, templates, readyMs };
}
