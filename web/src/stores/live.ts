import type { ClubEvent, JobRecord } from '@keen/contract';
import { phrase, type Phrase } from '@keen/core/phrases';
import { useDocumentVisibility } from '@vueuse/core';
import { defineStore } from 'pinia';
import { ref, shallowRef, watch } from 'vue';
import { wroteJustNow } from '../api/client.ts';
import { serverState } from '../api/serverState.ts';
import { hear, type Hearing } from '../api/stream.ts';
import { dayName } from '../common/times.ts';
import { useClub } from './club.ts';
import { useSession } from './session.ts';

/** What somebody else did that whoever sits here should know of. */
export interface Notice {
  seq: number;
  text: Phrase;
  rigId: string | null;
  night: string | null;
}
const MOST_NOTICES = 3;
/** Changes that come together are read anew once [ms]. */
const TOGETHER_MS = 250;
type Changed = Extract<ClubEvent, { kind: 'changed' }>;

/** Questions whose answers a change makes old, beside the club’s own records. */
const QUESTIONS: Partial<Record<Changed['what'], readonly string[]>> = {
  parts: ['parts', 'counts'],
  upkeep: ['upkeep', 'handovers'],
  members: ['members', 'invitations'],
  plans: ['runs', 'bookings'],
  bookings: ['bookings', 'sharing', 'season-rules', 'ledger'],
  rigs: ['revisions', 'since-last-night'],
  nights: [
    'ledger',
    'upkeep',
    'nights',
    'night-frames',
    'night-figures',
    'judgements',
    'calibration',
    'calibration-needs',
    'clear-spells',
  ],
  focus: ['focus-runs', 'offset-sets'],
  masters: ['masters', 'calibration', 'calibration-needs'],
  'guide-logs': ['guide-logs'],
  logbook: ['log', 'stops', 'since-last-night'],
  'set-up': ['setup-list'],
  'live-runs': ['live-runs', 'live-run', 'runs'],
};

/** What happens elsewhere, as it happens: records are read anew, one’s jobs are followed, and others’ plans are told of. */
export const useLive = defineStore('live', () => {
  const club = useClub();
  const session = useSession();
  const hearing = ref<Hearing>('deaf');
  const notices = shallowRef<readonly Notice[]>([]);
  /** One’s own jobs of which something was heard, by their id. */
  const jobs = shallowRef<ReadonlyMap<string, JobRecord>>(new Map());
  const visibility = useDocumentVisibility();
  let ear: ReturnType<typeof hear> | null = null;

  const old = new Set<Changed['what']>();
  let reading: ReturnType<typeof setTimeout> | undefined;
  async function readAnew(): Promise<void> {
    const what = [...old];
    old.clear();
    const own: Partial<Record<Changed['what'], () => Promise<unknown>>> = {
      plans: club.loadPlans,
      projects: club.loadProjects,
      rigs: club.loadRigs,
      sites: club.loadSites,
      focus: club.loadOffsets,
      settings: session.load,
    };
    await Promise.all([
      ...what.map((w) => own[w]?.()),
      ...what.flatMap((w) => QUESTIONS[w] ?? []).map((k) => serverState.invalidateQueries({ queryKey: [k] })),
    ]);
  }
  function changed(what: readonly Changed['what'][]): void {
    for (const w of what) old.add(w);
    clearTimeout(reading);
    reading = setTimeout(() => void readAnew(), TOGETHER_MS);
  }
  /** Of others’ doings those are told that change what one is about to do: the rig’s nights, and the rig. */
  function noticeOf(e: Changed): Notice | null {
    const rig = club.rigs.find((r) => r.id === e.rigId);
    if (e.byId === session.member?.id || !rig) return null;
    const { seq, rigId, night, by } = e;
    if (e.what === 'plans' && night)
      return { seq, rigId, night, text: phrase('live.plans', { by, rig: rig.name, night: dayName(night) }) };
    if (e.what === 'rigs') return { seq, rigId, night: null, text: phrase('live.rig', { by, rig: rig.name }) };
    return null;
  }
  function happened(e: ClubEvent): void {
    if (e.kind === 'job') {
      jobs.value = new Map(jobs.value).set(e.job.id, e.job);
      return;
    }
    // one’s own doing is on this screen already; in another tab it is news, and what becomes of a run is a server’s doing
    if (e.byId !== session.member?.id || !wroteJustNow() || e.what === 'live-runs') changed([e.what]);
    const notice = noticeOf(e);
    if (!notice) return;
    // the same again says it once
    const others = notices.value.filter((n) => JSON.stringify(n.text) !== JSON.stringify(notice.text));
    notices.value = [notice, ...others].slice(0, MOST_NOTICES);
  }
  const listening = ref(false);
  watch(
    () => (listening.value ? session.member?.id : undefined),
    (id) => {
      ear?.stop();
      ear = null;
      clearTimeout(reading);
      old.clear();
      [notices.value, jobs.value] = [[], new Map()];
      if (id)
        ear = hear({
          happened,
          forgotten: () => {
            void club.load();
            void serverState.invalidateQueries();
          },
          hearing: (how) => (hearing.value = how),
        });
    },
  );
  watch(visibility, () => ear?.shown());
  return {
    /** From now on, for whoever sits here: the page around the screens says so, once. */
    begin: () => (listening.value = true),
    heard: happened,
    hearing,
    notices,
    jobs,
    /** A job that was just asked for: what is heard of it later comes after this. */
    follow: (job: JobRecord) => {
      if (!jobs.value.has(job.id)) jobs.value = new Map(jobs.value).set(job.id, job);
    },
    dismiss: (seq: number) => (notices.value = notices.value.filter((n) => n.seq !== seq)),
  };
});
