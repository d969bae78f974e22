import { beforeEach, describe, expect, test } from '@jest/globals';
import type { LiveRun, NumberedEvent } from '@keen/contract';
import { RIGS } from '@keen/demo';
import { ordinaryNight, play, type Happened } from '@keen/core/run';
import { simulatedTruthOf, standIns } from '@keen/core/observatory';
import { viewOf } from '@keen/core/rig';
import { flushPromises } from '@vue/test-utils';
import { button, press } from '../../test/userActions.ts';
import { mountScreen, me, rig } from '../../test/mountScreen.ts';
import LiveRunView from './LiveRunView.vue';
import QuietRunView from './QuietRunView.vue';

const id = (n: number) => `00000000-0000-4000-8000-${String(n).padStart(12, '0')}`;
const setup = viewOf(RIGS[0]!.build);
const plan = ordinaryNight(setup, 4);
const world = { ...simulatedTruthOf(setup, 4, Date.parse(plan.legs[0]!.timeline.start), plan.endMs), cloud: [] };
/** A night really played on the stand-ins. */
const { events } = await play(plan, standIns(world, setup.overheads));
const numbered = events.map((event, i) => ({ seq: i + 1, event }) as unknown as NumberedEvent);
const run = (more: Partial<LiveRun> = {}): LiveRun => ({
  id: id(70),
  planId: id(60),
  rigId: rig().id,
  rig: '120 mm triplet',
  system: 'main',
  night: '2026-11-24',
  objects: 'NGC 281',
  state: 'running',
  speed: 60,
  bridge: '',
  by: 'Noor Vik',
  begunAt: '2026-11-24T18:00:00.000Z',
  endedAt: null,
  holderId: id(1),
  holder: 'Noor Vik',
  askedById: null,
  askedBy: '',
  events: 100,
  at: '2026-11-24T19:00:00.000Z',
  frames: 9,
  driven: true,
  takenOver: 0,
  runId: null,
  problem: '',
  debrief: null,
  ...more,
});

/** A stream a test speaks through. */
class Line {
  static last: Line;
  readyState = 1;
  readonly heard = new Map<string, (e: object) => void>();
  url: string;
  constructor(url: string) {
    this.url = url;
    Line.last = this;
  }
  addEventListener(name: string, what: (e: object) => void) {
    this.heard.set(name, what);
  }
  close() {
    this.readyState = 2;
  }
  says(events: readonly NumberedEvent[]) {
    for (const e of events) this.heard.get('happened')!({ data: JSON.stringify(e), lastEventId: String(e.seq) });
  }
}
beforeEach(() => {
  (globalThis as { EventSource?: unknown }).EventSource = Line;
  localStorage.clear();
});
const settle = async () => {
  for (let i = 0; i < 6; i++) await flushPromises();
  await new Promise((r) => setTimeout(r, 620));
  await flushPromises();
};
interface Options {
  upTo: number;
  more?: Partial<LiveRun>;
  member?: object;
  answers?: object[];
}
async function open(view: unknown, { upTo, more = {}, member = {}, answers = [] }: Options) {
  const { wrapper } = await mountScreen(
    view as never,
    {
      member: me({ id: id(1), ...member }),
      props: { id: id(70) },
      answers: [
        ...(answers as never[]),
        { path: /\/events/, body: { events: numbered.slice(0, upTo), more: false } },
        { path: /\/api\/live-runs\/[^/]+$/, body: run(more) },
      ],
    } as never,
  );
  await settle();
  return { screen: wrapper };
}
const text = (at: { screen: { text: () => string } }) => at.screen.text();
const cut = (when: (e: Happened, i: number) => boolean) => events.findIndex(when) + 1;
const inFrame = cut((e, i) => i > 300 && e.code === 'tick' && events[i - 1]!.code !== 'tick');

describe('what some rigs have', () => {
  test('is told as it stands: roof, rotator, plate, supply; of a rig without them nothing is', async () => {
    const plain = await open(LiveRunView, { upTo: inFrame });
    expect(plain.screen.find('[data-test="stands"]').exists()).toBe(false);
    const told = numbered.slice(0, inFrame);
    const { at } = told.at(-1)!.event as Happened;
    const readings = { roof: 'open', rotatorDeg: 34.2, tilt: [0.1, -0.35], supply: { volts: 12.6, on: true } } as const;
    Line.last.says([{ seq: inFrame + 1, event: { at, code: 'tick', readings } } as never]);
    await settle();
    expect(plain.screen.find('[data-test="stands"]').text()).toBe(
      'Equipment: roof open, rotator at 34.2°, tip-tilt plate at 35 % of its reach, supply 12.6 V',
    );
  });
});

test('a run that was given up before anything happened says so, and nothing is being read', async () => {
  const at = await open(LiveRunView, { upTo: 0, more: { state: 'failed', problem: 'it broke', driven: false } });
  expect(text(at)).toContain('This run was given up: it broke');
  expect(text(at)).not.toContain('Reading what has happened');
});

test('a run that another version played is not made anything of; what came of it is a press away', async () => {
  const [first, ...rest] = numbered.slice(0, 40);
  const { rules: _r, ...began } = first!.event as Happened & { rules?: number };
  const old = [{ seq: 1, event: began }, ...rest];
  const answers = [{ path: /\/events/, body: { events: old, more: false } }];
  const at = await open(LiveRunView, { upTo: 0, more: { state: 'ended', runId: id(90), driven: false }, answers });
  const said = at.screen.find('[data-test="untold"]');
  expect(said.text()).toContain('run by another version');
  expect(said.find('a').attributes('href')).toContain(`/night/run?plan=${id(60)}`);
  expect(text(at)).not.toContain('All is well');
});

test('a run of long ago, of which nothing is kept but what came of it, says so', async () => {
  const at = await open(LiveRunView, { upTo: 0, more: { state: 'ended', runId: id(90), driven: false } });
  expect(at.screen.find('[data-test="untold"]').text()).toContain('is not kept any more');
  const quiet = await open(QuietRunView, { upTo: 0, more: { state: 'ended', runId: id(90), driven: false } });
  expect(text(quiet)).toContain('It cannot be shown here');
});

describe('a run that goes on', () => {
  test('says how it stands, what is under way and what comes next, from its events alone', async () => {
    const at = await open(LiveRunView, { upTo: inFrame });
    expect(at.screen.find('[data-test="standing"]').text()).toContain('All is well');
    const now = at.screen.find('[data-test="live-now"]');
    expect(now.findAll('li')).toHaveLength(3);
    expect(now.text()).toMatch(/\d:\d\d/);
    expect(at.screen.find('[data-test="live-frame"]').text()).toMatch(/Counts|Refused/);
    expect(at.screen.find('[data-test="trace-guiding"]').text()).toMatch(/RA \d\.\d\d″/);
  });
  test('frames the server keeps are shown and can be saved; those that are missing are told with why', async () => {
    const frame = (n: number, more = {}) => ({
      n,
      start: '2026-11-24T19:00:00.000Z',
      filter: 'L',
      second: false,
      kept: true,
      problem: '',
      bytes: 694_080,
      stars: 200,
      hfdPx: 2.4,
      eccentricity: 0.3,
      ...more,
    });
    const gone = frame(2, {
      kept: false,
      problem: 'no room where frames are kept',
      bytes: 0,
      stars: null,
      hfdPx: null,
      eccentricity: null,
    });
    const at = await open(LiveRunView, {
      upTo: inFrame,
      answers: [
        { path: /\/frames$/, body: { days: 30, frames: [frame(0), frame(1), gone] } },
        { path: /\/picture$/, body: { widthPx: 2, heightPx: 1, tones: btoa('\x01\x02') } },
      ],
    });
    const kept = at.screen.find('[data-test="live-kept"]');
    expect(kept.text()).toContain('1 is missing: no room where frames are kept.');
    expect(kept.findAll('a').map((a) => a.attributes('href'))).toEqual(
      [0, 1].map((n) => `/api/live-runs/${id(70)}/frames/${n}/file`),
    );
    expect(kept.findAll('canvas')).toHaveLength(2);
    const none = await open(LiveRunView, { upTo: inFrame });
    expect(none.screen.find('[data-test="live-kept"]').text()).toContain('This server keeps none');
  });
  test('what comes over the line is shown; an event that is missing is read, and none counts twice', async () => {
    const at = await open(LiveRunView, { upTo: 200 });
    const frames = () => Number(/(\d+) good/.exec(text(at))?.[1]);
    const before = frames();
    const line = Line.last;
    expect(line.url).toContain('after=200');
    line.says(numbered.slice(150, 700));
    await settle();
    expect(frames()).toBeGreaterThan(before);
    const shown = frames();
    line.says(numbered.slice(300, 700));
    await settle();
    expect(frames()).toBe(shown);
    // a gap: it is asked anew instead of believed
    line.says(numbered.slice(720, 721));
    await settle();
    expect(line.readyState).toBe(2);
    expect(frames()).toBe(shown);
  });
  test('a night in which somebody is needed is loud, and says by whom it can be mended', async () => {
    const failed = events.slice(0, 40) as Happened[];
    failed.push({ at: events[39]!.at + 1000, code: 'tick', readings: { safe: false } });
    const at = await open(LiveRunView, {
      upTo: 0,
      answers: [{ path: /\/events/, body: { events: failed.map((event, i) => ({ seq: i + 1, event })), more: false } }],
    });
    expect(at.screen.find('[data-test="standing"]').classes()).toContain('is-bad');
    expect(text(at)).toContain('interlock is open');
    expect(document.title.startsWith('⚠')).toBe(true);
    at.screen.unmount();
    expect(document.title.startsWith('⚠')).toBe(false);
  });
  test('before what has happened is read nothing is said of it; a line that is down is said', async () => {
    const at = await open(LiveRunView, {
      upTo: 0,
      answers: [{ path: /\/events/, status: 503, body: { code: 'database_down' } }],
    });
    expect(text(at)).toContain('Reading what has happened');
    expect(text(at)).not.toContain('All is well');
    expect(text(at)).toContain('No line to the server');
  });
});

describe('the controls', () => {
  test('whoever is at them commands; whoever is not asks for them; who only watches has none', async () => {
    const own = await open(LiveRunView, { upTo: inFrame });
    expect(own.screen.find('[data-test="holder"]').text()).toBe('You are at them');
    expect(button(own.screen, 'Pause after this').exists()).toBe(true);
    own.screen.unmount();
    const other = await open(LiveRunView, { upTo: inFrame, more: { holderId: id(9), holder: 'Teun' } });
    expect(other.screen.find('[data-test="holder"]').text()).toContain('Teun');
    expect(text(other)).not.toContain('Pause after this');
    expect(button(other.screen, 'Ask for them').exists()).toBe(true);
    other.screen.unmount();
    const watcher = await open(LiveRunView, { upTo: inFrame, member: { id: id(5), role: 'watcher' } });
    expect(text(watcher)).toContain('You watch.');
    expect(text(watcher)).not.toContain('Practise');
  });
  test('a command that is refused is said, and whoever asks for the controls is told of', async () => {
    const at = await open(LiveRunView, {
      upTo: inFrame,
      more: { askedById: id(8), askedBy: 'Mirela' },
      answers: [
        {
          method: 'POST',
          path: /\/commands$/,
          status: 403,
          body: {
            type: '',
            title: 'no',
            status: 403,
            code: 'not_allowed',
            detail: 'Teun is at the controls: ask for them first.',
          },
        },
      ],
    });
    expect(text(at)).toContain('Mirela asks for the controls');
    await press(at.screen, 'Pause after this');
    await settle();
    expect(text(at)).toContain('Teun is at the controls: ask for them first.');
  });
});

test('the quiet page says how it stands, and nothing else', async () => {
  const at = await open(QuietRunView, { upTo: inFrame });
  expect(text(at)).toContain('All is well');
  expect(text(at)).not.toContain('Controls');
});
