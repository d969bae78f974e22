import type { ProjectRecord } from '@keen/contract';
import type { Verdict } from '@keen/core';
import { figure } from '@keen/core/quantities';
import { planFocus, type TimelineOutput } from '@keen/core/sequence';
import type { TargetOutput } from '@keen/core/sky';
import { computed, type Ref } from 'vue';
import { clock, hours } from '../../common/times.ts';
import { useClub } from '../../stores/club.ts';
import type { Laid, usePlan } from './usePlan.ts';

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
};

const ok = (l: Laid | null): TimelineOutput | null => (l?.ok ? l.value : null);
export const framesOf = (t: TimelineOutput) => Object.values(t.frames).reduce((s, n) => s + n, 0);
const roundWords = (x: TimelineOutput, y: TimelineOutput) =>
  x.completeRounds === y.completeRounds
    ? `${x.completeRounds} complete rounds either way.`
    : `Complete rounds ${x.completeRounds} against ${y.completeRounds}, should cloud end the night.`;

/** What a laid-out plan says: its verdict, beside a second way where there is one, and where the minutes go. */
export function usePlanWords(
  plan: Pick<ReturnType<typeof usePlan>, 'draft' | 'laid' | 'laidOther'>,
  project: Readonly<Ref<ProjectRecord | null>>,
  target: Readonly<Ref<TargetOutput | null>>,
) {
  const club = useClub();
  const zone = computed(() => club.site?.timeZone ?? 'UTC');
  const a = computed(() => ok(plan.laid.value));
  const b = computed(() => ok(plan.laidOther.value));
  const verdict = computed<Verdict | null>(() => {
    if (!plan.draft.value || !project.value) return null;
    const l = plan.laid.value;
    if (l && !l.ok) return { level: 'bad' as const, text: l.message };
    const focus = planFocus(plan.draft.value.settings, club.offsets, club.rig?.words ?? '');
    if (focus?.level === 'bad') return focus;
    if (!a.value) return null;
    if (b.value) {
      const [na, nb] = [framesOf(a.value), framesOf(b.value)];
      const open = (b.value.openShutterS - a.value.openShutterS) / 60;
      return {
        level: 'good' as const,
        text: `B gives ${nb} frames against ${na}: ${open === 0 ? 'the same open-shutter time' : `${figure(Math.abs(open), 0)} min ${open > 0 ? 'more' : 'less'} open shutter`}. ${roundWords(a.value, b.value)}`,
      };
    }
    const level = focus?.level ?? (focusMinutes.value ? 'caution' : a.value.verdict.level);
    return { ...a.value.verdict, level };
  });
  /** Minutes that focusing on every change takes, when it takes more than a tenth of the plan. */
  const focusMinutes = computed(() => {
    const [d, t] = [plan.draft.value, a.value];
    if (!d || !t || d.settings.focus.policy === 'offsets') return 0;
    return t.overheadS.focus > 0.1 * (t.openShutterS + t.overheadS.focus) ? Math.round(t.overheadS.focus / 60) : 0;
  });
  const detail = computed(() => {
    const focus = plan.draft.value ? planFocus(plan.draft.value.settings, club.offsets, club.rig?.words ?? '') : null;
    const o = club.offsets;
    const known =
      o && plan.draft.value?.settings.focus.policy === 'offsets'
        ? `Offsets for ${club.rig?.words} from ${o.runCount} runs.`
        : '';
    const span = plan.draft.value
      ? `${clock(plan.draft.value.start, zone.value)} to ${clock(plan.draft.value.end, zone.value)}, ${hours((Date.parse(plan.draft.value.end) - Date.parse(plan.draft.value.start)) / 60_000)}.`
      : '';
    const unknown =
      plan.draft.value?.settings.filters.filter((f) => !(f.name in (o?.offsets ?? {}))).map((f) => f.name) ?? [];
    const cure = unknown.length
      ? `once offsets are adopted for ${unknown.join(', ')}, most of that is exposing time.`
      : 'with the adopted offsets most of that is exposing time.';
    const price = focusMinutes.value ? `Focus runs take ${focusMinutes.value} min of it: ${cure}` : '';
    return [span, focus?.level === 'caution' ? focus.text : known, price].filter(Boolean).join(' ');
  });
  const outside = computed(() => {
    const [d, t] = [plan.draft.value, target.value];
    if (!d || !t) return '';
    const inside = t.windows.some(
      (w) => Date.parse(w.start) <= Date.parse(d.start) + 60_000 && Date.parse(w.end) >= Date.parse(d.end) - 60_000,
    );
    return inside ? '' : 'Part of this plan lies outside the hours in which the object stands free and it is dark.';
  });
  return { a, b, verdict, detail, outside };
}
