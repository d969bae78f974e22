import { makeVerdict, phrase, type Phrase } from '@keen/core/phrases';
import { legName } from '@keen/core/sequence';
import type { SpokenVerdict, Verdict } from '@keen/core/calculation';
import { planFocus, type NightSchedule, type Leg, type TimelineOutput } from '@keen/core/sequence';
import { computed, type Ref } from 'vue';
import { clock, hours } from '../../common/times.ts';
import { useClub } from '../../stores/club.ts';
import type { Laid } from './schedulePlan.ts';
import type { usePlan } from './usePlan.ts';

/** What the parts of a night’s time are called. */
export const KIND_WORDS: Record<string, string> = {
  slew: 'slewing, centring',
  focus: 'focus runs',
  guide: 'guider starts',
  filter: 'filter changes',
  download: 'read-out',
  dither: 'dithering',
  flip: 'meridian flip',
  cloud: 'cloud',
  wait: 'idle',
  opening: 'opening',
  closing: 'closing',
};

/** What focusing on every change costs, by whether some filters have no offsets and whether it is of one leg. */
const FOCUS_PRICE = {
  none: { night: 'plan.focus-price', leg: 'plan.focus-price-leg' },
  some: { night: 'plan.focus-price-unknown', leg: 'plan.focus-price-unknown-leg' },
} as const;

const ok = (l: Laid | null): NightSchedule | null => (l?.ok ? l.value : null);
export const framesOf = (t: TimelineOutput) => Object.values(t.frames).reduce((s, n) => s + n, 0);
/** Frames, open shutter and rounds of all legs. */
const totals = (n: NightSchedule) => {
  const worked = n.legs.flatMap((l) => (l.schedule ? [l.schedule] : []));
  const sum = (of: (t: TimelineOutput) => number) => worked.reduce((s, t) => s + of(t), 0);
  return { frames: sum(framesOf), openS: sum((t) => t.openShutterS), rounds: sum((t) => t.completeRounds) };
};

/** What a laid-out night says: its verdict, beside a second way where there is one, and where the minutes of a leg go. */
export function usePlanWords(
  plan: Pick<ReturnType<typeof usePlan>, 'draft' | 'schedule' | 'scheduleOther'>,
  leg: Readonly<Ref<Leg | null>>,
) {
  const club = useClub();
  const zone = computed(() => club.site?.timeZone ?? 'UTC');
  const whole = computed(() => ok(plan.schedule.value));
  const wholeOther = computed(() => ok(plan.scheduleOther.value));
  const legIn = (n: NightSchedule | null) => n?.legs.find((l) => l.id === leg.value?.id) ?? null;
  const mainLegSchedule = computed(() => legIn(whole.value));
  const a = computed(() => mainLegSchedule.value?.schedule ?? null);
  const b = computed(() => legIn(wholeOther.value)?.schedule ?? null);
  /** With several objects in the plan a sentence says which it is about. */
  const about = (l: Leg) => {
    const several = new Set((plan.draft.value?.legs ?? []).map((o) => o.projectId)).size > 1;
    return several ? legName(l, club.projects) : '';
  };
  const focusOf = (l: Leg): SpokenVerdict | null => {
    const v = planFocus(l.settings, club.offsets, club.rig?.words ?? '');
    const name = about(l);
    return v && name ? makeVerdict(v.level, phrase('screen.of', { name }), ...v.phrases) : v;
  };
  /** The worst that stands against focusing as any leg plans it. */
  const focus = computed(() => {
    const all = (plan.draft.value?.legs ?? []).flatMap((l) => focusOf(l) ?? []);
    return all.find((v) => v.level === 'bad') ?? all[0] ?? null;
  });
  const verdict = computed<Verdict | null>(() => {
    if (!plan.draft.value) return null;
    const l = plan.schedule.value;
    if (l && !l.ok) return makeVerdict('bad', phrase('plan.not-laid', { why: l.message }));
    if (focus.value?.level === 'bad') return focus.value;
    if (!whole.value) return null;
    if (wholeOther.value) {
      const [x, y] = [totals(whole.value), totals(wholeOther.value)];
      const open = (y.openS - x.openS) / 60;
      return makeVerdict(
        'good',
        phrase(open === 0 ? 'plan.other-same-time' : open > 0 ? 'plan.other-more' : 'plan.other-less', {
          frames: y.frames,
          before: x.frames,
          openMin: Math.abs(open),
        }),
        phrase(x.rounds === y.rounds ? 'plan.rounds-same' : 'plan.rounds-other', {
          rounds: y.rounds,
          before: x.rounds,
        }),
      );
    }
    const level = focus.value?.level ?? (focusMinutes.value ? 'caution' : whole.value.verdict.level);
    return { ...whole.value.verdict, level };
  });
  /** Minutes that focusing on every change takes in this leg, when it takes more than a tenth of it. */
  const focusMinutes = computed(() => {
    const [l, t] = [leg.value, a.value];
    if (!l || !t || l.settings.focus.policy === 'offsets') return 0;
    return t.overheadS.focus > 0.1 * (t.openShutterS + t.overheadS.focus) ? Math.round(t.overheadS.focus / 60) : 0;
  });
  const notes = computed<Phrase[]>(() => {
    const o = club.offsets;
    const settings = leg.value?.settings;
    const known =
      o && settings?.focus.policy === 'offsets'
        ? [phrase('plan.offsets-known', { train: club.rig?.words ?? '', runs: o.runCount })]
        : [];
    const n = whole.value;
    const span = n
      ? [
          phrase('plan.span', {
            from: clock(n.startMs, zone.value),
            to: clock(n.closedMs, zone.value),
            hours: hours((n.closedMs - n.startMs) / 60_000),
          }),
        ]
      : [];
    const unknown = settings?.filters.filter((f) => !(f.name in (o?.offsets ?? {}))).map((f) => f.name) ?? [];
    const name = leg.value ? about(leg.value) : '';
    const costs = focusMinutes.value
      ? [
          phrase(FOCUS_PRICE[unknown.length ? 'some' : 'none'][name ? 'leg' : 'night'], {
            focusMin: focusMinutes.value,
            ...(unknown.length ? { filters: unknown } : {}),
            ...(name ? { leg: name } : {}),
          }),
        ]
      : [];
    const own = n && n.legs.length > 1 && a.value ? [phrase('plan.this-leg'), ...a.value.verdict.phrases] : [];
    return [...span, ...own, ...(focus.value?.level === 'caution' ? focus.value.phrases : known), ...costs];
  });
  return { whole, wholeOther, mainLegSchedule, a, b, verdict, notes };
}
