import { api, MOST_LOOKS, type FrameRecord, type NightRecord } from '@keen/contract';
import type { FrameKind } from '@keen/core/exchange';
import { practiceFrame, type DustSpot, type FrameMeasures, type SmallPicture } from '@keen/core/frames';
import { scaleArcsecPerPx } from '@keen/core/quantities';
import { computed, onScopeDispose, ref, shallowRef, type Ref } from 'vue';
import { call } from '../../api/client.ts';
import { problemText } from '../../common/outcome.ts';
import { useClub } from '../../stores/club.ts';
import type { LookedFile } from '../../workers/look.worker.ts';
import { lookAtFiles, lookAtPractice } from '../../workers/looking.ts';
import type { AtHand } from './frameRow.ts';

/** What is kept of a measured frame. */
interface Kept {
  id: string;
  look: FrameMeasures;
  picture: string | null;
}
/** Measured frames wait so long for others to be kept with [ms]. */
const KEPT_AFTER_MS = 1500;

/** The night whose frames are measured. */
interface NightAtWork {
  nights: Readonly<Ref<NightRecord[]>>;
  nightId: Ref<string>;
  records: Readonly<Ref<FrameRecord[]>>;
  changeFrames: (changed: (f: FrameRecord) => FrameRecord) => void;
  small: Ref<Map<string, SmallPicture>>;
  allRead: () => Promise<void>;
}

/** What dropped files, and files of a practice rig, turned out to be; nothing of it is on the server. */
export const droppedFrames = () => ({
  loose: shallowRef<Extract<LookedFile, { ok: true }>[]>([]),
  bad: shallowRef<{ file: string; reason: string }[]>([]),
  atHand: shallowRef(new Map<string, AtHand>()),
});

/** Measures dropped pictures in this browser; those of frames on record are kept with them as they come. */
export function useMeasuring(
  { nights, nightId, records, changeFrames, small, allRead }: NightAtWork,
  { loose, bad, atHand }: ReturnType<typeof droppedFrames>,
  trouble: Ref<string>,
) {
  const club = useClub();
  /** Kinds of dropped files that are none to look through. */
  const leftOut = shallowRef<FrameKind[]>([]);
  const measuring = ref({ done: 0, of: 0 });
  const tookMs = ref(0);
  const mayJudge = ref(true);
  let stopped = false;

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
  const put = (id: string, look: FrameMeasures) => changeFrames((f) => (f.id === id ? { ...f, look } : f));

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
    // what was taken elsewhere has pictures of its own
    club.rig?.build.practice && nights.value.find((n) => n.id === nightId.value)?.kind === 'live'
      ? records.value.filter((r) => !r.look && r.measures.hfdPx)
      : [],
  );
  async function drawPractice(): Promise<void> {
    const setup = club.rig?.setup;
    if (!setup) return;
    const most = Math.max(...practice.value.map((r) => r.measures.stars ?? 0), 1e-9);
    const scale = scaleArcsecPerPx(setup.camera.pixelUm, setup.focalLengthMm);
    const jobs = practice.value.flatMap(({ id, header: { raDeg, decDeg }, measures: m }) => {
      const figures = {
        hfdPx: m.hfdPx!,
        eccentricity: m.eccentricity ?? 0,
        stars: m.stars ?? most,
        background: m.background,
      };
      return raDeg === undefined || decDeg === undefined
        ? []
        : [practiceFrame(id, { raDeg, decDeg }, figures, most, scale)];
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
  const stop = () => (stopped = true);
  // what is measured by then is kept
  onScopeDispose(stop);
  return { leftOut, measuring, tookMs, mayJudge, take, takeBroughtIn, practice, drawPractice, stop };
}
