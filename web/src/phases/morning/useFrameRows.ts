import type { FrameRecord } from '@keen/contract';
import {
  diagnose,
  fieldOf,
  learnLimits,
  settleEdges,
  standardsOf,
  suggestRefusal,
  USUAL_LIMITS,
  type FrameFinding,
  type FrameLimits,
  type Judgement,
} from '@keen/core/frames';
import { scaleArcsecPerPx } from '@keen/core/quantities';
import { nightEndsMs } from '@keen/core/record';
import { computed, type Ref } from 'vue';
import { questions } from '../../api/questions.ts';
import { useAnswer } from '../../common/answer.ts';
import { useClub } from '../../stores/club.ts';
import type { LookedFile } from '../../workers/look.worker.ts';
import type { FrameRow } from './frameRow.ts';

/** The frames of a night as rows, on record or not, each held against its fellows. */
export function useFrameRows(
  records: Readonly<Ref<FrameRecord[]>>,
  loose: Ref<Extract<LookedFile, { ok: true }>[]>,
  judgements: Readonly<Ref<Judgement[]>>,
) {
  const club = useClub();
  const limitsFor = computed(() => {
    const known = new Map<string, { limits: FrameLimits; learnt: boolean }>();
    return (filter: string) => {
      const there = known.get(filter);
      if (there) return there;
      const learnt = learnLimits(judgements.value, filter);
      const made = { limits: learnt ?? USUAL_LIMITS, learnt: learnt !== null };
      known.set(filter, made);
      return made;
    };
  });
  const focus = useAnswer('The focus runs', () =>
    club.rig?.trainStateId ? questions.focusRuns(club.rig.trainStateId) : null,
  );
  /** When focus was found, in order [ms]. */
  const focused = computed(() =>
    (focus.value.value ?? []).flatMap((r) => (r.usable && r.time ? [Date.parse(r.time)] : [])).sort((a, b) => a - b),
  );
  const focusEnds = computed(() => {
    const zone = club.site?.timeZone;
    return zone ? focused.value.map((ms) => nightEndsMs(new Date(ms).toISOString(), zone)) : [];
  });
  const focusAge = (startedAt: string | null) => {
    const at = startedAt === null ? NaN : Date.parse(startedAt);
    const last = focused.value.findLastIndex((ms) => ms <= at);
    // a run of another night says nothing of this frame
    return last >= 0 && at < (focusEnds.value[last] ?? 0) ? (at - focused.value[last]!) / 60_000 : null;
  };
  const usualOf = computed(() => standardsOf(records.value));
  const rows = computed<FrameRow[]>(() => {
    const onRecord = records.value.map((f): FrameRow => ({
      id: f.id,
      record: f,
      file: f.file,
      filter: f.filter,
      exposureS: f.exposureS,
      startedAt: f.startedAt,
      temperatureC: f.header.focuserC ?? null,
      focusAgeMin: focusAge(f.startedAt),
      place:
        f.header.raDeg === undefined || f.header.decDeg === undefined
          ? null
          : { raDeg: f.header.raDeg, decDeg: f.header.decDeg },
      look: f.look,
      accepted: f.accepted,
      // what a person decided needs no suggestion any more
      suggestion: f.judged ? null : suggestRefusal(f, usualOf.value(f), limitsFor.value(f.filter).limits),
    }));
    const others = loose.value.map((f): FrameRow => ({
      id: f.hash,
      record: null,
      file: f.file,
      filter: f.frame.filter,
      exposureS: f.frame.exposureS ?? 0,
      startedAt: f.frame.startedAt,
      temperatureC: f.frame.focuserC,
      focusAgeMin: focusAge(f.frame.startedAt),
      place:
        f.frame.raDeg === null || f.frame.decDeg === null ? null : { raDeg: f.frame.raDeg, decDeg: f.frame.decDeg },
      look: f.look,
      accepted: false,
      suggestion: null,
    }));
    return [...onRecord, ...others].sort((a, b) => (a.startedAt ?? '').localeCompare(b.startedAt ?? ''));
  });
  /** What is wrong with each frame, against the usual one of its filter; a dark edge is settled by frames of other fields. */
  const findings = computed(() => {
    const setup = club.rig?.setup;
    const scale = setup ? scaleArcsecPerPx(setup.camera.pixelUm, setup.focalLengthMm) : null;
    const looked = rows.value.flatMap((row) => {
      if (!row.look) return [];
      const field = row.record && fieldOf({ projectId: row.record.projectId, ...row.record.header });
      return [{ id: row.id, field, findings: diagnose(row.look, row.record && usualOf.value(row.record), scale) }];
    });
    return new Map(settleEdges(looked).map((found, i) => [looked[i]!.id, found]));
  });
  const findingsOf = (row: FrameRow): FrameFinding[] => findings.value.get(row.id) ?? [];
  return { rows, limitsFor, findingsOf, focus };
}
