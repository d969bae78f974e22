import { beforeEach, describe, expect, test } from '@jest/globals';
import type { Board, JobRecord } from '@keen/contract';
import { phrase } from '@keen/core/phrases';
import { flushPromises } from '@vue/test-utils';
import { useLive } from '../../stores/live.ts';
import { me, mountScreen, project, rig, sent as requests, type Answer } from '../../test/mountScreen.ts';
import { button, field, press, type } from '../../test/userActions.ts';
import BoardView from './BoardView.vue';

// the test browser lays nothing out: everything is as wide as on a desk
globalThis.ResizeObserver = class {
  readonly told: (entries: object[]) => void;
  constructor(told: (entries: object[]) => void) {
    this.told = told;
  }
  observe(target: Element) {
    this.told([
      { target, contentBoxSize: [{ inlineSize: 900, blockSize: 600 }], contentRect: { width: 900, height: 600 } },
    ]);
  }
  unobserve = () => undefined;
  disconnect = () => undefined;
} as unknown as typeof ResizeObserver;

const id = (n: number) => `00000000-0000-4000-8000-${String(n).padStart(12, '0')}`;
const [ONE, TWO] = [id(50), id(51)];
const projects = [
  project(),
  project({ id: TWO, object: 'M 33', owner: 'Teun Ferwerda', ownerId: id(9), raDeg: 23.5, decDeg: 30.7 }),
];
/** Two nights of three hours on one rig. */
function board(given: (string | null)[], more: Partial<Board> = {}): Board {
  const slots = given.map((projectId, i) => {
    const [night, order] = [i < 3 ? '2026-11-20' : '2026-11-21', i % 3];
    return {
      id: `${night} ${id(3)} ${order}`,
      night,
      rigId: id(3),
      order,
      start: `${night}T${19 + order}:00:00.000Z`,
      end: `${night}T${20 + order}:00:00.000Z`,
      minutes: 30,
      moonlit: 0.8,
      moonUp: order === 2 ? 1 : 0,
      projectId,
      beyondShare: i === 5,
      greedyProjectId: ONE,
    };
  });
  const of = (projectId: string, memberId: string, quality: number) => ({
    projectId,
    memberId,
    weight: 1,
    wantedMinutes: 240,
    promisedMinutes: 0,
    minutes: 30 * given.filter((g) => g === projectId).length,
    why: phrase('season.why-others', { projects: ['NGC 281'] }) as Board['projects'][number]['why'],
    eligible: slots.map((s) => ({ slot: s.id, quality })),
    chance: 0.25,
    nights: { p10: '2026-11-20', p50: null, p90: null },
  });
  return {
    settings: {
      from: '2026-11-20',
      nights: 2,
      slotMinutes: 60,
      switchPenalty: 15,
      minimumBlockSlots: 1,
      clearFraction: 0.5,
      fairDays: 90,
    },
    locked: [],
    promised: [],
    slots,
    projects: [of(ONE, id(1), 0.8), of(TWO, id(9), 0.6)],
    members: [
      { memberId: id(1), received: 120, promised: 0, minutes: 90, most: 100 },
      { memberId: id(9), received: 0, promised: 0, minutes: 90, most: 220 },
    ],
    objective: 120,
    bound: 120.2,
    gap: 0.0017,
    proven: true,
    greedyObjective: 100,
    seconds: 0.4,
    ...more,
  };
}
const job = (n: number, more: object = {}) => ({
  id: id(700 + n),
  kind: 'board',
  subjectId: null,
  state: 'waiting',
  share: 0,
  stage: { code: 'job.waiting', values: {} },
  attempts: 0,
  cancelRequested: false,
  problem: null,
  byId: id(1),
  madeAt: '2026-11-20T12:00:00.000Z',
  begunAt: null,
  endedAt: null,
  ...more,
});
const over = (n: number) => job(n, { state: 'done', share: 1, stage: null, endedAt: '2026-11-20T12:00:09.000Z' });
const first = board([ONE, ONE, TWO, TWO, null, TWO]);

let boards: Board[];
async function open({
  earlier = null as Board | null,
  alone = false,
  role = 'steward' as 'steward' | 'guest',
  answers = [] as Answer[],
} = {}) {
  const asks = () => requests.filter((s) => s.method === 'POST').length;
  const { wrapper, sent } = await mountScreen(BoardView, {
    rigs: [rig()],
    projects,
    member: me({ clubKind: alone ? 'alone' : 'club', role }),
    answers: [
      ...answers,
      {
        method: 'POST',
        path: /jobs\/board/,
        get body() {
          return job(asks());
        },
      } as Answer,
      { path: /api\/jobs\?/, body: earlier ? [over(0)] : [] },
      {
        path: /api\/jobs\/./,
        get body() {
          return { ...over(asks()), result: { kind: 'board', board: asks() ? boards[asks() - 1] : earlier } };
        },
      } as Answer,
      { path: /clear-spells/, body: null },
    ],
  });
  const settle = async () => {
    for (let i = 0; i < 8; i++) await flushPromises();
  };
  await settle();
  /** The job that was asked for last is done. */
  const come = async () => {
    useLive().heard({ kind: 'job', seq: asks(), at: '2026-11-20T12:00:09.000Z', job: over(asks()) as JobRecord });
    await settle();
  };
  const slotsNamed = () => wrapper.findAll('[data-slot]').map((s) => s.attributes('aria-label')!.split(': ')[1]);
  const body = () => sent.filter((s) => s.method === 'POST').at(-1)!.body as Record<string, unknown>;
  return { wrapper, come, slotsNamed, body, settle };
}
beforeEach(() => {
  localStorage.clear();
  document.body.innerHTML = '';
  boards = [];
});

describe('the coming nights', () => {
  test('are worked out on a press, under what is set; whose each hour is stands to scale', async () => {
    const { wrapper, come, slotsNamed, body } = await open();
    expect(wrapper.findAll('[data-slot]')).toHaveLength(0);
    boards = [first];
    await type(wrapper, 'Nights that are clear', '40');
    await press(wrapper, 'Work out the coming nights');
    expect(body()).toMatchObject({
      nights: 14,
      clearFraction: 0.4,
      rigIds: [id(3)],
      weights: {},
      locked: [],
      standing: [],
    });
    // the club’s rule is the server’s to look up
    expect(body()).not.toHaveProperty('fairDays');
    expect(wrapper.find('[data-test="job"]').text()).toContain('waiting for its turn');
    await come();
    expect(slotsNamed()).toEqual(['NGC 281', 'NGC 281', 'M 33', 'M 33', 'nobody’s', 'M 33']);
    expect(wrapper.find('[data-test="verdict"]').text()).toContain('5 of 6 slots given');
    expect(wrapper.find('[data-test="verdict"]').text()).toContain('20.0');
    const boxes = wrapper.findAll('[data-slot] rect:first-child').map((r) => Number(r.attributes('x')));
    // the same hour of another night stands under it
    expect(boxes.slice(3)).toEqual(boxes.slice(0, 3));
    await wrapper.findAll('.ant-switch').at(-1)!.trigger('click');
    expect(slotsNamed()).toEqual(Array(6).fill('NGC 281'));
  });
  test('a slot says who has it and what it is worth to the others; a wish is asked for with what stands, and its cost is told', async () => {
    const wished = board([TWO, ONE, TWO, TWO, null, TWO], {
      objective: 114,
      locked: [{ slot: first.slots[0]!.id, project: TWO }],
    });
    boards = [wished, first];
    const { wrapper, come, slotsNamed, body } = await open({ earlier: first });
    await wrapper.findAll('[data-slot]')[0]!.trigger('click');
    const panel = () => wrapper.find('[data-test="board-slot"]');
    expect(panel().text()).toContain('NGC 281 of Noor Vik has it.');
    expect(
      panel()
        .findAll('tbody tr')
        .map((r) => r.text().replace(/\s+/g, ' ')),
    ).toEqual([
      expect.stringMatching(/NGC 281.*Noor Vik.*80.*24\.0.*Keep it/),
      expect.stringMatching(/M 33.*Teun Ferwerda.*60.*18\.0.*Give it/),
    ]);
    await press(panel(), 'Give it');
    expect(body()).toMatchObject({ locked: [{ slot: first.slots[0]!.id, project: TWO }] });
    expect((body().standing as object[]).length).toBe(5);
    await come();
    expect(slotsNamed()[0]).toBe('M 33');
    expect(wrapper.find('[data-test="cost"]').text()).toContain('1 slot goes to somebody else');
    expect(wrapper.find('[data-test="cost"]').text()).toContain('6.0 less');
    expect(panel().text()).toContain('as was wished');
    expect(wrapper.findAll('th').map((h) => h.text())).toContain('Before, h');
    await press(wrapper, 'Let everything else move');
    expect(body()).toMatchObject({ locked: [{ slot: first.slots[0]!.id, project: TWO }], standing: [] });
    boards = [wished, wished];
    await come();
    expect(slotsNamed()[0]).toBe('M 33');
    await press(wrapper, 'As it was before');
    expect(wrapper.find('[data-test="cost"]').exists()).toBe(false);
  });
  test('what is worth more to somebody else is said to be so; what goes beyond a share too', async () => {
    const { wrapper } = await open({ earlier: first });
    await wrapper.findAll('[data-slot]')[2]!.trigger('click');
    expect(wrapper.find('[data-test="board-slot"]').text()).toContain('It is worth more by itself to NGC 281');
    await wrapper.findAll('[data-slot]')[5]!.trigger('keydown', { key: 'ArrowUp' });
    expect(wrapper.find('[data-test="board-slot"]').text()).toContain('20 Nov');
    await wrapper.findAll('[data-slot]')[5]!.trigger('keydown', { key: 'Enter' });
    expect(wrapper.find('[data-test="board-slot"]').text()).toContain('beyond their share');
    await wrapper.findAll('[data-slot]')[4]!.trigger('click');
    expect(wrapper.find('[data-test="board-slot"]').text()).toContain('Nobody has it.');
  });
  test('an object drawn onto another hour says at once what that does, and is given it when it is let go', async () => {
    const { wrapper, come, settle, slotsNamed, body } = await open({ earlier: first });
    boards = [board([ONE, ONE, ONE, TWO, TWO, TWO], { locked: [{ slot: `2026-11-20 ${id(3)} 2`, project: ONE }] })];
    const slots = wrapper.findAll('[data-slot]');
    const point = document as unknown as { elementFromPoint: () => Element | null };
    const move = (over: Element | null, x: number) => {
      point.elementFromPoint = () => over;
      window.dispatchEvent(new MouseEvent('pointermove', { clientX: x, clientY: 0 }));
      return settle();
    };
    await slots[0]!.trigger('pointerdown', { button: 0, clientX: 0, clientY: 0 });
    await move(slots[2]!.element, 3);
    // so near it is a press
    expect(wrapper.find('[data-test="at-once"]').exists()).toBe(false);
    await move(slots[2]!.element, 90);
    expect(wrapper.find('[data-test="at-once"]').text()).toMatch(/^Here: .*NGC 281 \+0.5 h.*the whole is worth/);
    expect(slotsNamed()[2]).toBe('NGC 281');
    // let go beside all slots nothing is done
    await move(null, 400);
    window.dispatchEvent(new MouseEvent('pointerup'));
    await settle();
    expect(wrapper.find('[data-test="at-once"]').exists()).toBe(false);
    expect(slotsNamed()[2]).toBe('M 33');
    await slots[0]!.trigger('pointerdown', { button: 0, clientX: 0, clientY: 0 });
    await move(slots[2]!.element, 90);
    window.dispatchEvent(new MouseEvent('pointerup'));
    await settle();
    expect(body()).toMatchObject({ locked: [{ slot: `2026-11-20 ${id(3)} 2`, project: ONE }] });
    expect(wrapper.find('[data-test="at-once"]').text()).toContain('The search may find better');
    await come();
    expect(wrapper.find('[data-test="at-once"]').exists()).toBe(false);
    expect(wrapper.find('[data-test="cost"]').text()).toContain('As it was before');
    expect(wrapper.find('[data-test="shares"]').text()).toContain('Before, h');
  });
  test('what a board gives is promised up to a night, and the rest worked out anew; who may not promise is not asked', async () => {
    const { wrapper, come, settle, body } = await open({
      earlier: first,
      answers: [{ method: 'POST', path: /season\/promises/, body: [] }],
    });
    boards = [first, first];
    await press(wrapper, 'Promise these hours');
    await settle();
    expect(body()).toMatchObject({ movesPromises: false, standing: [] });
    await come();
    const refused = { type: 'about:blank', code: 'night_overlap', title: 'taken', detail: 'Ida took it.', status: 409 };
    wrapper.unmount();
    const again = await open({
      earlier: first,
      answers: [{ method: 'POST', path: /promises/, status: 409, body: refused }],
    });
    await press(again.wrapper, 'Promise these hours');
    await again.settle();
    expect(again.wrapper.find('[data-test="promise"] [role="alert"]').text()).toBe('Ida took it.');
    again.wrapper.unmount();
    const guest = await open({ earlier: first, role: 'guest' });
    expect(guest.wrapper.find('[data-test="promise"]').exists()).toBe(false);
  });
  test('hours that are somebody’s already stand in the picture and in the list', async () => {
    const promised: Board['promised'] = [
      {
        rigId: id(3),
        night: '2026-11-22',
        start: '2026-11-22T19:00:00.000Z',
        end: '2026-11-22T21:00:00.000Z',
        memberId: id(9),
        projectId: TWO,
        origin: 'rules',
      },
    ];
    const { wrapper } = await open({ earlier: { ...first, promised } });
    expect(wrapper.find('.promised').text()).toContain('M 33');
    expect(wrapper.find('.promised title').text()).toContain('22 Nov');
    expect(wrapper.text()).toContain('is open again');
  });
  test('another weight is worked out at once; a guest reads', async () => {
    boards = [first];
    const { wrapper, body, come } = await open({ earlier: first });
    await type(wrapper, 'Weight of M 33', '3');
    await new Promise((r) => setTimeout(r, 800));
    expect(body()).toMatchObject({ weights: { [TWO]: 3 } });
    boards = [
      {
        ...first,
        projects: first.projects.map((p) => ({ ...p, weight: p.projectId === TWO ? 3 : 1 })),
        objective: 300,
      },
    ];
    await come();
    // worth under other weights is another measure
    expect(wrapper.find('[data-test="cost"]').text()).toMatch(/^Now 0 slots go to somebody else\./);
    const guest = await open({ earlier: first, role: 'guest' });
    expect(field(guest.wrapper, 'Weight of M 33').element.disabled).toBe(true);
    await guest.wrapper.findAll('[data-slot]')[0]!.trigger('click');
    expect(
      guest.wrapper
        .find('[data-test="board-slot"]')
        .findAll('button')
        .map((b) => b.text()),
    ).toEqual(['NGC 281', 'M 33']);
  });
  test('alone there are no shares, and nobody’s name', async () => {
    boards = [{ ...first, members: first.members.map((m) => ({ ...m, most: null })) }];
    const { wrapper, come, body } = await open({ alone: true });
    await press(wrapper, 'Work out the coming nights');
    expect(body().fairDays).toBeNull();
    await come();
    expect(wrapper.find('[data-test="shares"]').exists()).toBe(false);
    expect(wrapper.findAll('th').map((h) => h.text())).not.toContain('Whose');
    expect(wrapper.text()).not.toContain('equal shares');
  });
  test('a search that was cut short says so, what cannot be asked says why, and nothing that stood is lost', async () => {
    const { wrapper } = await open({ earlier: { ...first, proven: false, gap: 0.02, seconds: 30 } });
    expect(wrapper.find('[data-test="verdict"]').text()).toContain('cut short after 30 s');
    const refused = await open({
      earlier: first,
      answers: [
        {
          method: 'POST',
          path: /jobs\/board/,
          status: 400,
          body: {
            type: '',
            title: 'That cannot be',
            status: 400,
            code: 'invalid_input',
            detail: 'some of these rigs are not there',
          },
        },
      ],
    });
    await press(refused.wrapper, 'Work it out anew');
    await refused.settle();
    expect(refused.wrapper.find('[role="alert"]').text()).toContain('some of these rigs are not there');
    expect(refused.slotsNamed()[0]).toBe('NGC 281');
    expect(button(refused.wrapper, 'Work it out anew').element.disabled).toBe(false);
  });
  test('without a rig or a project there is nothing to give, and it says what is lacking', async () => {
    const bare = await mountScreen(BoardView, { rigs: [], answers: [{ path: /jobs/, body: [] }] });
    expect(bare.wrapper.text()).toContain('No rig yet');
    const idle = await mountScreen(BoardView, { rigs: [rig()], answers: [{ path: /jobs/, body: [] }] });
    expect(idle.wrapper.text()).toContain('No project yet');
  });
});
