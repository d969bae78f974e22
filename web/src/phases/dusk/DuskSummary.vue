<script setup lang="ts">
import { makeVerdict, phrase } from '@keen/core/phrases';
import { night as nightOf } from '@keen/core/sky';
import WhenThere from '../../common/WhenThere.vue';
import { computed } from 'vue';
import { RouterLink } from 'vue-router';
import EmptyState from '../../common/EmptyState.vue';
import { clock, clockOr, hours } from '../../common/times.ts';
import VerdictLine from '../../common/VerdictLine.vue';
import { useClub } from '../../stores/club.ts';
import { useUnits } from '../../stores/units.ts';
import { coreSite, firstLegOf } from '../../common/records.ts';
import { useDuskSettings } from './useDuskSettings.ts';
import { useSetupFacts } from './useSetupFacts.ts';
import { useSetupList } from './useSetupList.ts';
import { darkWords } from '../../common/moonWords.ts';

/** What dusk asks for: when to begin what, and what is not ready yet. */
const club = useClub();
const units = useUnits();
const zone = computed(() => club.site?.timeZone ?? 'UTC');
const night = computed(() =>
  club.site && club.night ? nightOf({ site: coreSite(club.site), date: club.night }) : null,
);
const plans = computed(() => club.nightPlans.filter((p) => p.rigId === club.rig?.id && p.status === 'planned'));
/** The first leg of tonight. */
const first = computed(() => {
  const plan = [...plans.value].sort((a, b) => (a.start < b.start ? -1 : 1))[0];
  return plan ? firstLegOf(plan) : null;
});
const { cool, criteria, coolNow } = useSetupFacts();
const coolAt = computed(() =>
  !cool.value ? '–' : coolNow.value?.late ? 'now' : clock(cool.value.startAt, zone.value),
);
/** Over already, tonight. */
const past = (iso: string | null | undefined) => !!iso && club.nightNow !== null && Date.parse(iso) < club.nightNow;
const rows = computed(() => {
  const n = night.value;
  if (!n) return [];
  const begin = first.value?.start ?? n.astronomicalDusk;
  return [
    {
      at: clockOr(n.sunset, zone.value),
      past: past(n.sunset),
      what: 'Sunset',
      note: 'Caps stay on until the Sun is down; never point near it without a full-aperture solar filter.',
    },
    {
      at: coolAt.value,
      past: false,
      what: 'Start cooling',
      note: cool.value
        ? `${coolNow.value?.late ? `${clock(cool.value.startAt, zone.value)} has passed; begun now it is cold at ${clock(coolNow.value.coldMs, zone.value)}. ` : ''}${Math.ceil(cool.value.minutes)} min to ${units.temperature(criteria.value.setPointC, 0)} from ${units.temperature(criteria.value.ambientC, 0)} air; change both under Set-up list.`
        : 'Enter air and set point under Set-up list.',
    },
    {
      at: clockOr(n.nauticalDusk, zone.value),
      past: past(n.nauticalDusk),
      what: 'Focus, centre, calibrate the guider',
      note: 'Stars are bright enough from nautical dusk on.',
    },
    {
      at: begin ? clock(begin, zone.value) : '–',
      past: past(begin),
      what: first.value ? `First exposures: ${first.value.object}` : 'Dark',
      note: first.value
        ? `${first.value.settings.order} order until ${clock(first.value.end, zone.value)}`
        : 'No plan is saved for this rig tonight.',
    },
    {
      at: clockOr(n.astronomicalDawn, zone.value),
      past: past(n.astronomicalDawn),
      what: 'Dawn begins',
      note: 'Flats before anything is turned or taken apart.',
    },
  ];
});
const verdict = computed(() => {
  const n = night.value;
  if (!n) return null;
  const sky = darkWords(n, zone.value, club.nightNow);
  if (!first.value)
    return makeVerdict('caution', phrase('dusk.nothing-planned', { sky, rig: club.rig?.name ?? 'this rig' }));
  const values = { sky, object: first.value.object, at: clock(first.value.start, zone.value) };
  const begins = past(first.value.start) ? 'dusk.was-to-begin' : 'dusk.begins';
  return makeVerdict(
    'good',
    coolNow.value?.late
      ? phrase(`${begins}-cool-now`, values)
      : phrase(begins, { ...values, coolAt: coolAt.value ?? '' }),
  );
});
const { steps, answer: list } = useSetupList();
const dusk = useDuskSettings();
const framed = computed(() => club.projects.find((p) => p.id === first.value?.projectId)?.framing ?? null);
const ready = computed(() => [
  {
    ok: steps.value.length > 0 && steps.value.every((s) => s.done),
    text: steps.value.length
      ? `Set-up list: ${steps.value.filter((s) => s.done).length} of ${steps.value.length} ticked`
      : 'Set-up list',
    to: '/dusk/setup',
  },
  ...(first.value
    ? [
        {
          ok: framed.value?.star !== undefined && framed.value?.star !== null,
          text: framed.value
            ? `Framing pinned at ${framed.value.angleDeg.toFixed(0)}°${framed.value.star ? `, guide star of magnitude ${framed.value.star.mag.toFixed(1)}` : ', no guide star'}`
            : `No framing pinned for ${first.value.object}`,
          to: `/night/target?project=${first.value.projectId}`,
        },
      ]
    : []),
  {
    ok: club.offsets !== null,
    text: club.offsets
      ? `Offsets adopted for ${club.rig?.words}`
      : `No offsets for ${club.rig?.words ?? 'this train state'}: focus on every change tonight`,
    to: '/morning/focus',
  },
  {
    ok: plans.value.length > 0,
    text: plans.value.length
      ? `${plans.value.length === 1 ? 'One plan' : `${plans.value.length} plans`} for tonight`
      : 'No plan for tonight',
    to: '/night/plan',
  },
  // without a plan there is nothing to rehearse
  ...(plans.value.length
    ? [
        {
          ok: plans.value.some((p) => p.runs.length > 0),
          text: plans.value.some((p) => p.runs.length) ? 'Rehearsed' : 'Not rehearsed',
          to: '/night/run',
        },
      ]
    : []),
]);
const flip = computed(() => first.value?.flipAt ?? null);
</script>

<template>
  <EmptyState v-if="!night" title="No site yet" lacks="site">Dusk follows from a site and its horizon.</EmptyState>
  <template v-else>
    <p v-if="dusk.missing" class="level-bad small" role="alert">{{ dusk.missing }} Common values are used meanwhile.</p>
    <WhenThere :of="[dusk.answer]">
      <VerdictLine
        v-if="verdict"
        :verdict="verdict"
        :notes="
          flip && first ? [phrase(past(flip) ? 'dusk.flip-was-due' : 'dusk.flip-due', { at: clock(flip, zone) })] : []
        "
      />
    </WhenThere>
    <div class="split board">
      <section class="panel">
        <h2>This evening at {{ club.site?.name }}</h2>
        <ol class="evening">
          <li v-for="r in rows" :key="r.what" :class="{ past: r.past }">
            <span class="mono at">{{ r.at }}<span v-if="r.past" class="small gone">passed</span></span>
            <span><strong>{{ r.what }}</strong><br /><span class="muted small">{{ r.note }}</span></span>
          </li>
        </ol>
      </section>
      <section class="panel stack">
        <h2>Ready?</h2>
        <WhenThere :of="[club.offsetsAnswer, list]">
          <ul class="ready">
            <li v-for="r in ready" :key="r.text" :class="r.ok ? 'level-good' : 'level-caution'">
              <span aria-hidden="true">{{ r.ok ? '✓' : '!' }}</span> <RouterLink :to="r.to">{{ r.text }}</RouterLink>
            </li>
          </ul>
        </WhenThere>
        <p class="muted small">
          Night length {{ hours(night.darkHours * 60) }}. Sun and Moon for {{ club.site?.name }}, in its own time.
        </p>
        <p class="muted small">
          Mains outdoors: residual-current protection, local electrical code, a licensed electrician for fixed wiring.
        </p>
      </section>
    </div>
  </template>
</template>

<style scoped>
.board {
  grid-template-columns: minmax(0, 1fr) 330px;
}
.evening {
  list-style: none;
  margin: 0;
  padding: 0;
}
.evening li {
  display: grid;
  grid-template-columns: 70px minmax(0, 1fr);
  gap: 12px;
  padding: 9px 0;
  border-bottom: 1px solid var(--line);
}
.evening li:last-child {
  border: 0;
}
.at {
  font-size: 17px;
}
.past {
  color: var(--ink-2);
}
.gone {
  display: block;
}
.ready {
  list-style: none;
  padding: 0;
  margin: 0;
  display: grid;
  gap: 8px;
}
@media (max-width: 900px) {
  .board {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
