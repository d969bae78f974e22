import { answerTo } from '../../api/serverState.ts';
import { questions } from '../../api/questions.ts';
import { nightEndsMs } from '@keen/core/record';
import { api, MOST_LOOKS, type FrameRecord, type NightRecord } from '@keen/contract';
import {
  diagnose,
  fieldOf,
  settleEdges,
  learnLimits,
  practiceFrame,
  standardsOf,
  suggestRefusal,
  USUAL_LIMITS,
  type DustSpot,
  type FrameFinding,
  type FrameLimits,
  type FrameMeasures,
  type Judgement,
  type SmallPicture,
} from '@keen/core/frames';
import type { FrameKind } from '@keen/core/exchange';
import { scaleArcsecPerPx } from '@keen/core/quantities';
import { computed, nextTick, ref, shallowRef, watch, onScopeDispose } from 'vue';
import { call, callAll } from '../../api/client.ts';
import { latestOnly } from '../../common/latestOnly.ts';
import { problemText } from '../../common/outcome.ts';
import { useClub } from '../../stores/club.ts';
import { lookAtFiles, lookAtPractice } from '../../workers/looking.ts';
import type { LookedFile } from '../../workers/look.worker.ts';
import { smallPictureOf } from '../../common/tones.ts';
import type { AtHand, FrameRow } from './frameRow.ts';
import { useJudging } from './useJudging.ts';

/** What is kept of a measured frame. */
interface Kept {
  id: string;
  look: FrameMeasures;
  picture: string | null;
}
/** Kept pictures read back between two drawings of the screen. */
const AT_ONCE = 50;

/** Measured frames wait so long for others to be kept with [ms]. */
const KEPT_AFTER_MS = 1500;
/** The frames of a night: measured in this browser, held against their fellows, accepted or refused. */
export function useFrameReview({ pictures: withPictures = true } = {}) {
  const club = useClub();
  const nights = shallowRef<NightRecord[]>([]);
  const nightId = ref('');
  const records = shallowRef<FrameRecord[]>([]);
  const loose = shallowRef<Extract<LookedFile, { ok: true }>[]>([]);
  const bad = shallowRef<{ file: string; reason: string }[]>([]);
  /** Kinds of dropped files that are none to look through. */
  const leftOut = shallowRef<FrameKind[]>([]);
  const atHand = shallowRef(new Map<string, AtHand>());
  /** Held anew whenever more are there: whoever shows them sees another map. */
  const small = shallowRef(new Map<string, SmallPicture>());
  const judgements = shallowRef<Judgement[]>([]);
  const measuring = ref({ done: 0, of: 0 });
  const tookMs = ref(0);
  const trouble = ref('');
  /** Whether the nights, and the frames of the chosen one, have come. */
  const nightsState = ref<'coming' | 'failed' | 'there'>('coming');
  const framesState = ref<'coming' | 'failed' | 'there'>('coming');
  let stopped = false;

  /** The newest reading of what is on record, to be waited for by what depends on it. */
  let reading: Promise<void> = Promise.resolve();
  async function allRead(): Promise<void> {
    for (let seen = null; seen !== reading;) {
      seen = reading;
      await reading;
      // a night just chosen begins to read its frames
      await nextTick();
    }
  }
  const askNights = latestOnly();
  async function readNights(rig: string | undefined, system: string | undefined): Promise<void> {
    const late = askNights();
    nights.value = [];
    nightsState.value = 'coming';
    nightId.value = '';
    loose.value = [];
    bad.value = [];
    if (!rig || !system) return;
    const [got, said] = await Promise.all([
      answerTo(questions.nights(rig)),
      answerTo(questions.judgements(rig, system)),
    ]);
    if (late()) return;
    // limits rest on earlier judgements: without them a frame would be called by the usual ones
    const failed = [got, said].find((g) => !g.ok);
    nightsState.value = failed ? 'failed' : 'there';
    if (!got.ok || !said.ok) {
      if (failed && !failed.ok) trouble.value = problemText(failed.problem);
      return;
    }
    judgements.value = said.value;
    nights.value = got.value.filter((n) => n.system === system && !n.undone && n.taken.length > 0);
    nightId.value = nights.value[0]?.id ?? '';
  }
  watch(
    () => [club.rig?.id, club.rig?.system.key] as const,
    ([rig, system]) => void (reading = readNights(rig, system)),
    { immediate: true },
  );
  const askFrames = latestOnly();
  async function readFrames(id: string): Promise<void> {
    const late = askFrames();
    records.value = [];
    framesState.value = 'coming';
    atHand.value = new Map();
    small.value = new Map();
    forget();
    if (!id) return;
    const [got, kept] = await Promise.all([
      answerTo(questions.nightFrames(id)),
      withPictures ? callAll(api.framePictures, { params: { id } }) : { ok: true as const, value: [] },
    ]);
    if (late()) return;
    trouble.value = got.ok ? '' : problemText(got.problem);
    framesState.value = got.ok ? 'there' : 'failed';
    records.value = got.ok ? got.value.filter((f) => f.kind === 'light') : [];
    const pictures = kept.ok ? kept.value : [];
    for (let i = 0; i < pictures.length; i += AT_ONCE) {
      const some = pictures.slice(i, i + AT_ONCE);
      const read = await Promise.all(some.map((p) => smallPictureOf(p.picture)));
      if (late()) return;
      some.forEach((p, k) => read[k] && small.value.set(p.id, read[k]));
      small.value = new Map(small.value);
    }
  }
  watch(nightId, (id) => void (reading = readFrames(id)));

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
  /** When focus was found, in order [ms]. */
  const focused = shallowRef<number[]>([]);
  const askFocus = latestOnly();
  watch(
    () => club.rig?.trainStateId,
    async (state) => {
      const late = askFocus();
      focused.value = [];
      if (!state) return;
      const got = await answerTo(questions.focusRuns(state));
      if (!late() && got.ok)
        focused.value = got.value
          .flatMap((r) => (r.usable && r.time ? [Date.parse(r.time)] : []))
          .sort((a, b) => a - b);
    },
    { immediate: true },
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
    const scale = setup ? (206.264806 * setup.camera.pixelUm) / setup.focalLengthMm : null;
    const looked = rows.value.flatMap((row) => {
      if (!row.look) return [];
      const field = row.record && fieldOf({ projectId: row.record.projectId, ...row.record.header });
      return [{ id: row.id, field, findings: diagnose(row.look, row.record && usualOf.value(row.record), scale) }];
    });
    return new Map(settleEdges(looked).map((found, i) => [looked[i]!.id, found]));
  });
  const findingsOf = (row: FrameRow): FrameFinding[] => findings.value.get(row.id) ?? [];

  /** Keeps what was measured of frames on record as it comes: whoever leaves loses a moment's work at most. */
  function keeper(night: string) {
    const waiting: Kept[] = [];
    let timer: ReturnType<typeof setTimeout> | null = null;
    let sending = Promise.resolve();
    const send = () => {
      if (timer) clearTimeout(timer);
      timer = null;
      return (sending = sending.then(async () => {
        for (let some = waiting.splice(0, MOST_LOOKS); some.length; some = waiting.splice(0, MOST_LOOKS))
          if (!(await save(night, some))) {
            // they go with the next ones: a line that fails once loses nothing
            waiting.unshift(...some);
            return;
          }
      }));
    };
    return {
      keep(one: Kept) {
        waiting.push(one);
        if (waiting.length >= MOST_LOOKS) void send();
        else timer ??= setTimeout(() => void send(), KEPT_AFTER_MS);
      },
      async done() {
        await send();
        if (waiting.length) await send();
      },
    };
  }
  function hold(id: string, got: Omit<AtHand, 'dust'> & { dust?: DustSpot[]; small: SmallPicture }) {
    atHand.value.set(id, { stars: got.stars, pieces: got.pieces, meanStars: got.meanStars, dust: got.dust ?? [] });
    small.value.set(id, got.small);
  }
  async function measured(of: number, work: (keep: (one: Kept) => void, going: () => boolean) => Promise<void>) {
    if (measuring.value.of) {
      trouble.value = 'Pictures are being measured: drop these when they are done, or stop first.';
      return;
    }
    trouble.value = '';
    stopped = false;
    measuring.value = { done: 0, of };
    const begun = performance.now();
    const night = nightId.value;
    const kept = keeper(night);
    try {
      await work(kept.keep, () => {
        // a light that its header calls otherwise is read twice
        measuring.value = { done: Math.min(of, measuring.value.done + 1), of };
        return !stopped && night === nightId.value;
      });
    } catch (e) {
      trouble.value = `Measuring ended before it was done: ${(e as Error).message}`;
    }
    await kept.done();
    if (night !== nightId.value)
      trouble.value =
        'Another night was chosen while pictures were measured: what was measured by then is kept with its own night.';
    small.value = new Map(small.value);
    atHand.value = new Map(atHand.value);
    tookMs.value = performance.now() - begun;
    measuring.value = { done: 0, of: 0 };
  }
  const put = (id: string, look: FrameMeasures) =>
    (records.value = records.value.map((r) => (r.id === id ? { ...r, look } : r)));

  /** Takes the pictures of an evening that were just brought in. */
  async function takeBroughtIn({ evening, files }: { evening: string; files: File[] }): Promise<void> {
    await allRead();
    const there = nights.value.find((n) => n.night === evening);
    if (there) nightId.value = there.id;
    await take(files);
  }
  /** Measures dropped files; those on record are kept there as they come. */
  async function take(files: File[]): Promise<void> {
    const fits = files.filter((f) => /\.(fits?|fts)$/i.test(f.name));
    if (!measuring.value.of)
      bad.value = files
        .filter((f) => !fits.includes(f))
        .slice(0, 50)
        .map((f) => ({ file: f.name, reason: 'is no FITS picture' }));
    if (fits.length === 0) return;
    // dropped before the record was read: which frame a file is shows only then
    await allRead();
    const night = nightId.value;
    const byHash = new Map(records.value.map((r) => [r.hash, r]));
    // a name alone tells only frames that were never known by their file: every night has its own 001
    const byFile = new Map(records.value.flatMap((r) => (r.hash === null && r.file ? [[r.file, r] as const] : [])));
    leftOut.value = [];
    // called a dark or a flat by its header, and a light by whoever brought it in: that word counts
    const lights: File[] = [];
    const measure = (some: File[], wanted: 'light' | null, keep: (one: Kept) => void, going: () => boolean) =>
      lookAtFiles(some, wanted, (got) => {
        const on = going();
        if (!got.ok && got.kind) {
          if (byHash.has(got.hash!)) lights.push(...some.filter((f) => f.name === got.file));
          else leftOut.value = [...leftOut.value, got.kind];
        } else if (!got.ok) bad.value = [...bad.value, got];
        else if (night === nightId.value) {
          const record = byHash.get(got.hash) ?? byFile.get(got.file);
          hold(record?.id ?? got.hash, got);
          if (record) {
            put(record.id, got.look);
            keep({ id: record.id, look: got.look, picture: got.picture });
          } else loose.value = [...loose.value.filter((l) => l.hash !== got.hash), got];
        }
        return on;
      });
    await measured(fits.length, async (keep, going) => {
      await measure(fits, 'light', keep, going);
      if (lights.length) await measure(lights, null, keep, going);
    });
  }
  /** Frames of a practice rig that nobody has drawn yet. */
  const practice = computed(() =>
    nights.value.find((n) => n.id === nightId.value)?.kind === 'live'
      ? records.value.filter((r) => !r.look && r.measures.hfdPx)
      : [],
  );
  async function drawPractice(): Promise<void> {
    const setup = club.rig?.setup;
    if (!setup) return;
    const most = Math.max(...practice.value.map((r) => r.measures.stars ?? 0), 1e-9);
    const scale = scaleArcsecPerPx(setup.camera.pixelUm, setup.focalLengthMm);
    const jobs = practice.value.flatMap(({ id, header: { raDeg, decDeg }, measures: m }) => {
      const told = {
        hfdPx: m.hfdPx!,
        eccentricity: m.eccentricity ?? 0,
        stars: m.stars ?? most,
        background: m.background,
      };
      return raDeg === undefined || decDeg === undefined
        ? []
        : [practiceFrame(id, { raDeg, decDeg }, told, most, scale)];
    });
    await measured(jobs.length, (keep, going) =>
      lookAtPractice(jobs, (got) => {
        hold(got.id, got);
        put(got.id, got.look);
        keep({ id: got.id, look: got.look, picture: got.picture });
        return going();
      }),
    );
  }
  async function save(night: string, looks: Kept[]) {
    if (!mayJudge.value) return true;
    const got = await call(api.keepLooks, { params: { id: night }, body: { looks } });
    trouble.value = got.ok ? '' : `Measured, but not kept: ${problemText(got.problem)}`;
    return got.ok;
  }
  const mayJudge = ref(true);

  const { judge, undo, redo, forget, undoable, redoable } = useJudging({ records, rows, nightId, trouble });
  const stop = () => (stopped = true);
  // what is measured by then is kept
  onScopeDispose(stop);
  /** Both asked again after a failure. */
  const again = () =>
    void (reading =
      nightsState.value === 'failed' ? readNights(club.rig?.id, club.rig?.system.key) : readFrames(nightId.value));
  return {
    nightsState,
    framesState,
    again,
    nights,
    nightId,
    rows,
    atHand,
    small,
    bad,
    leftOut,
    measuring,
    tookMs,
    trouble,
    limitsFor,
    findingsOf,
    take,
    takeBroughtIn,
    practice,
    drawPractice,
    stop,
    judge,
    undo,
    redo,
    undoable,
    redoable,
    mayJudge,
  };
}
