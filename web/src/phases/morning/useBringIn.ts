import { fieldOfView } from '@keen/core/quantities';
import { questions } from '../../api/questions.ts';
import { phrase, type PlainPhrase } from '@keen/core/phrases';
import { byHand, byNight } from '@keen/core/record';
import { api, MAX_NIGHT_FRAMES, type ProjectRecord } from '@keen/contract';
import { useAnswer } from '../../common/answer.ts';
import {
  recogniseText,
  type FrameColumns,
  type FrameKind,
  type FramesCsv,
  type KeywordMapping,
  type TableAnswers,
} from '@keen/core/exchange';
import {
  focuserDrift,
  foldedFilter,
  frameGroups,
  matchFrames,
  openQuestions,
  readTypedFrames,
  storable,
  type FrameGroup,
  type Incoming,
} from '@keen/core/frames';
import { filtersOf } from '@keen/core/rig';
import { eveningDate } from '@keen/core/sky';
import { proxy } from 'comlink';
import { computed, ref, shallowRef, watch } from 'vue';
import { call } from '../../api/client.ts';
import { useColumnMemory } from '../../common/columnMemory.ts';
import { problemText } from '../../common/outcome.ts';
import { panelsOfProject } from '../../common/records.ts';
import { Texts, useStored } from '../../common/stored.ts';
import { useHandOver } from '../../stores/handOver.ts';
import { useClub } from '../../stores/club.ts';
import type { FrameFile } from '../../workers/frameFiles.ts';
import { core, plainCopy } from '../../workers/index.ts';
import { fieldsOf, incomingOf } from './bringIn.ts';

const FITS = /\.(fits?|fts|fit\.fz|fits\.fz)$/i;
const TEXT = /\.(csv|txt|log|tsv)$/i;
/** Largest text file looked into [bytes]. */
const MAX_TEXT = 120_000_000;

/** Files handed to the worker at a time: thousands in one message hold the page for a second. */
const HANDFUL = 200;

/** The night of so long ago is offered first: by day the one that is over is meant [ms]. */
const EVENING_MS = 8 * 3_600_000;

/** A night taken elsewhere, from its folder, a table or a line typed, to the record. */
export function useBringIn() {
  const club = useClub();
  const handOver = useHandOver();
  const mapping = useStored<KeywordMapping>('keen.frame-keywords', Texts, {});
  const slot = () => `keen.filter-names.${club.rig?.id ?? ''}.${club.rig?.system.key ?? ''}`;
  const aliases = useStored(slot, Texts, {});
  const frames = shallowRef<Incoming[]>([]);
  const files = shallowRef<File[]>([]);
  const bad = shallowRef<{ file: string; reason: string }[]>([]);
  const others = shallowRef<{ file: File; kind: 'guide-log' | 'focus-log' | 'frames' }[]>([]);
  const keywords = shallowRef<string[]>([]);
  const reading = ref({ done: 0, of: 0 });
  const tookMs = ref(0);
  const busy = ref(false);
  const trouble = ref('');
  /** What came of the last step. */
  const told = shallowRef<PlainPhrase | null>(null);
  /** Each frame’s file, by its hash. */
  const fileOf = new Map<string, File>();
  /** Lights just brought in from files, by evening: they can be looked through at once. */
  const brought = shallowRef<{ evening: string; files: File[] }[]>([]);
  /** For frames without a time: by day the night that has passed, after eight in the evening the one under way. */
  const night = ref(eveningDate(club.site?.timeZone ?? 'UTC', club.now - EVENING_MS));
  const ofRig = () => [club.rig?.id, club.rig?.system.key].join();
  const nightsAnswer = useAnswer('The nights of this rig', () => (club.rig ? questions.nights(club.rig.id) : null));
  const nights = computed(() => nightsAnswer.value.value ?? []);
  const calibrationAnswer = useAnswer('The calibration frames on record', () =>
    club.rig ? questions.calibration(club.rig.id, club.rig.system.key) : null,
  );
  const calibration = computed(() => calibrationAnswer.value.value ?? []);
  let stopped = false;

  const setup = computed(() => club.rig?.setup ?? null);
  const filters = computed(() => (setup.value ? filtersOf(setup.value) : []));
  /** About half the field's diagonal, at least a third of a degree: people centre by hand. */
  const reachDeg = computed(() => {
    const s = setup.value;
    if (!s) return 1;
    return Math.max(0.33, fieldOfView(s.camera, s.focalLengthMm).diagonalDeg / 2);
  });
  const matched = computed(() =>
    matchFrames(frames.value, {
      projects: club.rigProjects.flatMap((p) =>
        placesOf(p).map(({ raDeg, decDeg }) => ({ id: p.id, object: p.object, raDeg, decDeg })),
      ),
      filters: filters.value,
      reachDeg: reachDeg.value,
      aliases: aliases.value,
    }),
  );
  const groups = computed(() => frameGroups(matched.value));
  const waiting = computed(() => matched.value.filter((f) => openQuestions(f).some((o) => o !== 'no-time')).length);
  const ready = computed(() => matched.value.filter(storable));

  async function read(list: File[]): Promise<void> {
    stopped = false;
    reading.value = { done: 0, of: list.length };
    const begun = performance.now();
    const got: FrameFile[] = [];
    for (let at = 0; at < list.length && !stopped; at += HANDFUL) {
      const some = list.slice(at, at + HANDFUL);
      const read = await core().frameFiles(
        some,
        plainCopy(mapping.value),
        proxy((done: number) => {
          reading.value = { done: at + done, of: list.length };
          return !stopped;
        }),
      );
      // answers come in the order of the files, unless reading was stopped
      if (read.length === some.length) read.forEach((f, i) => f.ok && fileOf.set(f.hash, some[i]!));
      got.push(...read);
    }
    tookMs.value = performance.now() - begun;
    reading.value = { done: 0, of: 0 };
    bad.value = [...bad.value, ...got.flatMap((f) => (f.ok ? [] : [{ file: f.file, reason: f.reason }]))];
    const have = new Set(frames.value.map((f) => f.hash));
    const fresh = got.flatMap((f) => (f.ok && !have.has(f.hash) ? [f] : []));
    keywords.value = [...new Set([...keywords.value, ...fresh.flatMap((f) => f.keywords)])].sort();
    // one file twice in a folder is one frame
    const seen = new Set<string>();
    const own = fresh.filter((f) => !seen.has(f.hash) && seen.add(f.hash));
    frames.value = [
      ...frames.value,
      ...own.map((f) => ({ file: f.file, hash: f.hash, read: f.frame, accepted: true, reason: '' })),
    ];
  }
  async function take(list: File[]): Promise<void> {
    trouble.value = '';
    told.value = null;
    const fits = list.filter((f) => FITS.test(f.name));
    const texts = list.filter((f) => TEXT.test(f.name) && f.size <= MAX_TEXT);
    const known = new Set([...fits, ...texts]);
    const rest = list.filter((f) => !known.has(f));
    if (fits.length > MAX_NIGHT_FRAMES) {
      trouble.value = `${fits.length} FITS files are more than one night’s ${MAX_NIGHT_FRAMES}; drop the folder night by night.`;
      return;
    }
    if (rest.length)
      bad.value = [
        ...bad.value,
        ...rest.slice(0, 50).map((f) => ({ file: f.name, reason: 'is no FITS file, table or log' })),
      ];
    for (const file of texts) {
      const kind = recogniseText(await file.slice(0, 20_000).text());
      if (kind) others.value = [...others.value, { file, kind }];
      else bad.value = [...bad.value, { file: file.name, reason: 'is no guide log, focus log or table of frames' }];
    }
    files.value = [...files.value, ...fits];
    if (fits.length) await read(fits);
  }
  /** Other keywords: every file is read again with them; what was set by hand starts anew. */
  async function remap(next: KeywordMapping): Promise<void> {
    mapping.value = next;
    if (!files.value.length) return;
    frames.value = frames.value.filter((f) => f.hash === null);
    bad.value = [];
    await read(files.value);
  }
  async function openText(o: { file: File; kind: string }): Promise<void> {
    handOver.give(o.kind === 'guide-log' ? 'guide-log' : 'focus-log', o.file);
  }
  /** A table that could be understood in more than one way: asked before a row of it counts. */
  const asked = shallowRef<{ file: File; read: FramesCsv } | null>(null);
  const tableMemory = useColumnMemory<{ columns: FrameColumns; answers: TableAnswers }>('frames');
  async function answerTable(columns: Record<string, string>, answers: TableAnswers): Promise<void> {
    const open = asked.value;
    if (!open) return;
    const before = tableMemory.recall(open.read.columns);
    const chosen = Object.fromEntries(Object.entries({ ...open.read.mapping, ...columns }).filter(([, c]) => c));
    tableMemory.remember(open.read.columns, { columns: chosen, answers: { ...before?.answers, ...answers } });
    await takeTable(open.file);
  }
  async function takeTable(file: File): Promise<void> {
    const text = await file.text();
    let got = await core().readFramesCsv(text, undefined);
    const known = tableMemory.recall(got.columns);
    if (known) got = await core().readFramesCsv(text, plainCopy(known.columns), plainCopy(known.answers));
    if (got.asks.length) {
      asked.value = { file, read: got };
      return;
    }
    asked.value = null;
    bad.value = [...bad.value, ...got.bad.map((b) => ({ file: `${file.name}, line ${b.line}`, reason: b.reason }))];
    frames.value = [...frames.value, ...got.frames.flatMap(incomingOf)];
    others.value = others.value.filter((o) => o.file !== file);
  }
  /** Where frames of a project may point: at its panels, else where it is framed, else at the object. */
  function placesOf(p: ProjectRecord): { raDeg: number; decDeg: number }[] {
    const panels = club.rig ? panelsOfProject(p, club.rig.setup) : [];
    return panels.length ? panels : [p.framing ?? p];
  }
  function type(text: string, projectId: string, panel: number | null): string {
    const held = club.rig ? filtersOf(club.rig.setup) : [];
    const got = readTypedFrames(text, held.length ? held : undefined, aliases.value);
    if (!got.ok)
      return {
        shape: `“${got.piece}” is not read${got.rest ? ` from “${got.rest}” on` : ''}; write it such as 12 × 300 s Ha`,
        count: `“${got.piece}”: between 1 and 5000 frames`,
        exposure: `“${got.piece}”: an exposure between 0 and 7200 s`,
        doubt: `“${got.piece}” could mean two things; write the exposure with its unit, such as 90 s or 1 h 30 min`,
        filter: `“${got.piece}” stops at “${got.rest}”, which is no filter of this rig (${held.join(', ')})`,
      }[got.problem];
    // a panel is known by where its frames point
    const project = club.rigProjects.find((p) => p.id === projectId);
    const place = panel === null || !project ? undefined : placesOf(project)[panel];
    const at = ({ read }: Incoming) => (place ? { read: { ...read, raDeg: place.raDeg, decDeg: place.decDeg } } : {});
    told.value = null;
    frames.value = [
      ...frames.value,
      ...got.groups.flatMap((g) => incomingOf(g)).map((f) => ({ ...f, ...at(f), projectId: projectId || null })),
    ];
    return '';
  }
  const change = (g: FrameGroup, how: Partial<Incoming>) => {
    const of = new Set(g.frames.map((f) => f.hash ?? f));
    const same = (f: Incoming, i: number) => of.has(f.hash ?? matched.value[i]!);
    frames.value = frames.value.map((f, i) => (same(f, i) ? { ...f, ...how } : f));
  };
  const setProject = (g: FrameGroup, projectId: string | null) => change(g, { projectId });
  const setKind = (g: FrameGroup, kind: FrameKind) => change(g, { kind });
  /** A filter set by hand is remembered for this spelling on this rig. */
  function setFilter(g: FrameGroup, filter: string): void {
    aliases.value = { ...aliases.value, [foldedFilter(g.spelled)]: filter };
    change(g, { filter });
  }
  const accept = (g: FrameGroup, accepted: boolean) => change(g, byWord(accepted));
  const byWord = (word: boolean) => {
    const { accepted, reason } = byHand(word);
    return { accepted, reason };
  };
  const acceptOne = (index: number, accepted: boolean) =>
    (frames.value = frames.value.map((f, i) => (i === index ? { ...f, ...byWord(accepted) } : f)));
  const clear = () => {
    asked.value = null;
    frames.value = [];
    files.value = [];
    bad.value = [];
    others.value = [];
  };

  const load = () => Promise.all([nightsAnswer.load(), calibrationAnswer.load()]);
  watch(ofRig, () => {
    // what was brought in belongs to the rig it was brought in for
    [brought.value, told.value] = [[], null];
  });

  async function store(): Promise<void> {
    const rig = club.rig;
    if (!rig || !club.site) return;
    busy.value = true;
    trouble.value = '';
    const sent = ready.value.map((f) => ({ startedAt: f.read.startedAt, f }));
    let [added, known] = [0, 0];
    const done = new Set<unknown>();
    brought.value = [];
    for (const [evening, items] of byNight(sent, (i) => i.startedAt, club.site.timeZone, night.value)) {
      const got = await call(api.recordNight, {
        params: { id: rig.id },
        body: {
          system: rig.system.key,
          night: evening,
          name: files.value.length ? `${items.length} files` : 'typed',
          frames: items.map((i) => fieldsOf(i.f)),
        },
      });
      if (!got.ok) {
        trouble.value = `Night of ${evening}: ${got.problem.issues?.[0]?.message ?? problemText(got.problem)}`;
        break;
      }
      added += got.value.added;
      known += got.value.known;
      for (const i of items) done.add(i.f.hash ?? i.f.read);
      const lights = items.flatMap((i) => (i.f.kindNow === 'light' && i.f.hash ? (fileOf.get(i.f.hash) ?? []) : []));
      if (lights.length) brought.value = [...brought.value, { evening, files: lights }];
    }
    busy.value = false;
    frames.value = frames.value.filter((f) => !done.has(f.hash ?? f.read));
    if (!frames.value.length) files.value = [];
    // of what was refused whole only the refusal is said
    if (added || known)
      told.value = known ? phrase('bring-in.done-known', { added, known }) : phrase('bring-in.done', { added });
    await Promise.all([load(), club.loadProjects()]);
  }
  async function undo(id: string): Promise<void> {
    brought.value = [];
    const got = await call(api.undoNight, { params: { id } });
    trouble.value = got.ok ? '' : problemText(got.problem);
    told.value = got.ok ? phrase('bring-in.undone') : null;
    await Promise.all([load(), club.loadProjects()]);
  }
  /** How the focuser was moved per degree over these frames, beside what the adopted offsets say. */
  const drift = computed(() => {
    const readings = matched.value.flatMap((f) => {
      const { focuserPosition, focuserC } = f.read;
      return f.kindNow === 'light' && f.filterNow && focuserPosition !== null && focuserC !== null
        ? [{ filter: f.filterNow, position: focuserPosition, temperatureC: focuserC }]
        : [];
    });
    const found = focuserDrift(readings);
    return found && { ...found, adopted: club.offsets?.temperatureStepsPerC ?? null };
  });
  return {
    mapping,
    aliases,
    frames,
    matched,
    groups,
    bad,
    others,
    keywords,
    reading,
    tookMs,
    busy,
    trouble,
    told,
    night,
    nights,
    calibration,
    nightsAnswer,
    calibrationAnswer,
    waiting,
    ready,
    filters,
    drift,
    brought,
    asked,
    answerTable,
    take,
    takeTable,
    openText,
    type,
    remap,
    setProject,
    setFilter,
    setKind,
    accept,
    acceptOne,
    clear,
    store,
    undo,
    load,
    cancel: () => (stopped = true),
  };
}
