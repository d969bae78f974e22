import { questions } from '../../api/questions.ts';
import { isLogOfNight } from '@keen/core/record';
import { api, type GuideLogRecord } from '@keen/contract';
import {
  guidedVerdict,
  guidingOfFrames,
  likelyShift,
  type ClockShift,
  type ExposedFrame,
  type FrameGuiding,
  type TimedLog,
} from '@keen/core/frames';
import { scaleArcsecPerPx } from '@keen/core/quantities';
import { computed, shallowRef, watch, type ComputedRef } from 'vue';
import { call } from '../../api/client.ts';
import { useAnswer } from '../../common/answer.ts';
import { latestOnly } from '../../common/latestOnly.ts';
import { problemText } from '../../common/outcome.ts';
import { useClub } from '../../stores/club.ts';
import { core } from '../../workers/index.ts';
import type { FrameRow } from './frameRow.ts';

/** A kept log as it is joined to frames. */
export interface JoinedLog extends TimedLog {
  id: string;
}

/** The kept guide logs of a night, joined to its frames by time. */
export function useNightGuiding(
  night: ComputedRef<{ night: string; rigId: string; system: string } | null>,
  rows: ComputedRef<FrameRow[]>,
  busy: () => boolean = () => false,
) {
  const club = useClub();
  const kept = useAnswer('The guide logs', () => (night.value ? questions.guideLogs(night.value.rigId) : null));
  const records = computed<GuideLogRecord[]>(() => {
    const n = night.value;
    return n ? (kept.value.value ?? []).filter((l) => isLogOfNight(l, n)) : [];
  });
  const logs = shallowRef<JoinedLog[]>([]);
  const failed = shallowRef('');
  const trouble = computed(() => failed.value || kept.trouble.value);
  const ask = latestOnly();
  async function readLogs(): Promise<void> {
    const late = ask();
    logs.value = [];
    failed.value = '';
    for (const record of records.value) {
      if (!record.beganAt) continue;
      const got = await call(api.guideLog, { params: { id: record.id } });
      if (late()) return;
      if (!got.ok) {
        failed.value = problemText(got.problem);
        continue;
      }
      const { samples } = await core().readGuideCsv(got.value.csv, undefined, 1);
      if (late()) return;
      logs.value = [
        ...logs.value,
        { id: record.id, name: record.name, beganAtMs: Date.parse(record.beganAt), samples },
      ];
    }
  }
  watch(() => JSON.stringify(records.value.map((r) => [r.id, r.beganAt])), readLogs, { immediate: true });

  const exposed = shallowRef<ExposedFrame[]>([]);
  // once for all pictures that are being measured, not for each
  watch(
    [rows, busy],
    () => {
      if (busy()) return;
      exposed.value = rows.value.flatMap((r) =>
        r.startedAt && r.exposureS > 0
          ? [{ id: r.id, startedMs: Date.parse(r.startedAt), exposureS: r.exposureS, look: r.look }]
          : [],
      );
    },
    { immediate: true },
  );
  const scale = computed(() => {
    const setup = club.rig?.setup;
    return setup ? scaleArcsecPerPx(setup.camera.pixelUm, setup.focalLengthMm) : null;
  });
  const guiding = computed<Map<string, FrameGuiding>>(() =>
    scale.value === null || logs.value.length === 0
      ? new Map()
      : guidingOfFrames(exposed.value, logs.value, scale.value),
  );
  const guidedWords = computed(() => guidedVerdict(exposed.value, guiding.value));
  /** Logs whose clock seems to run in another zone, and logs of the night that know no time of day. */
  const shifted = computed(() =>
    logs.value.flatMap((log) => {
      const shift: ClockShift | null = likelyShift(exposed.value, log);
      return shift ? [{ log, shift }] : [];
    }),
  );
  const timeless = computed(() => records.value.filter((r) => !r.beganAt));
  async function began(id: string, at: string): Promise<void> {
    const got = await call(api.timeGuideLog, { params: { id }, body: { beganAt: at } });
    failed.value = got.ok ? '' : problemText(got.problem);
    if (got.ok) await kept.load();
  }
  const shift = (log: JoinedLog, hours: number) =>
    began(log.id, new Date(log.beganAtMs + hours * 3_600_000).toISOString());
  return { records, logs, guiding, phrases: guidedWords, shifted, timeless, trouble, shift, began };
}
