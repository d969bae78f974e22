import { beforeEach, describe, expect, test } from '@jest/globals';
import { RIGS } from '@keen/demo';
import { flushPromises } from '@vue/test-utils';
import { defineComponent, h, nextTick, reactive, ref } from 'vue';
import { mountScreen, me, rig, sent } from '../../test/mountScreen.ts';
import SpringScale from './SpringScale.vue';
import { useSpringScale } from './useSpringScale.ts';
import RulerPlace from './RulerPlace.vue';
import RigSystems from './RigSystems.vue';
import { useUnits } from '../../stores/units.ts';

type Wrapper = Awaited<ReturnType<typeof mountScreen>>['wrapper'];
const button = (w: Wrapper, text: string) => w.findAll('button').find((b) => b.text() === text);
const field = (root: ParentNode, label: string) => {
  const at = [...root.querySelectorAll('label')].find((l) => l.textContent === label)!;
  return at.parentElement!.querySelector('input')!;
};
async function type(root: ParentNode, label: string, text: string) {
  const input = field(root, label);
  input.value = text;
  input.dispatchEvent(new Event('input', { bubbles: true }));
  input.dispatchEvent(new Event('change', { bubbles: true }));
  await nextTick();
}

beforeEach(() => {
  localStorage.clear();
  document.body.innerHTML = '';
});

/** As the balance screen holds it. */
const OfScale = defineComponent({
  props: { latitudeDeg: { type: Number, required: true }, computedMoment: { type: Object, required: true } },
  setup: (props) => {
    const scale = useSpringScale(ref('r'), ref(props.latitudeDeg));
    return () => h(SpringScale as never, { scale, computedMoment: props.computedMoment });
  },
});
describe('three pulls of a spring scale', () => {
  const begin = () => mountScreen(OfScale, { props: { latitudeDeg: 47, computedMoment: { x: 0, y: 0, z: -100 } } });
  const pull = async (wrapper: Wrapper, kind: string, toward: string, back: string) => {
    await button(wrapper, kind)!.trigger('click');
    const row = wrapper.findAll('.reading').at(-1)!.element;
    const [down, up] = kind.includes('right') ? ['Tube down', 'Tube up'] : ['Front down', 'Front up'];
    await type(row, down!, toward);
    await type(row, up!, back);
  };
  test('give the moment of each axis, beside what the parts add up to', async () => {
    const { wrapper } = await begin();
    expect(wrapper.find('[data-test="measured"]').exists()).toBe(false);
    await pull(wrapper, 'Add declination, level', '4 N', '2 N');
    // (2 − 4)·0.3/2 = −0.3 N·m, by g: −30.6 kg·mm
    const rows = wrapper.findAll('.narrow tbody tr').map((r) => r.findAll('td').map((c) => c.text()));
    expect(rows[0]).toEqual(['fore and aft', '−3.1\u202fkg·cm', '−10.0\u202fkg·cm', '+6.9\u202fkg·cm']);
    expect(rows[1]![1]).toBe('not measured');
    expect(wrapper.find('[data-test="measured"]').text()).toContain('fore and aft −3.1\u202fkg·cm');
  });
  test('are said in the reader’s units', async () => {
    const { wrapper } = await begin();
    await pull(wrapper, 'Add declination, level', '4 N', '2 N');
    useUnits().system = 'imperial';
    await nextTick();
    expect(wrapper.find('[data-test="measured"]').text()).toContain('in·lb');
    expect(wrapper.text()).not.toMatch(/kg·cm/);
  });
  test('with a slip of ten ask first, and are mended at a press', async () => {
    const { wrapper } = await begin();
    await pull(wrapper, 'Add declination, level', '53 N', '5.1 N');
    expect(wrapper.get('[data-test="slip"]').text()).toContain('Is it 5.30');
    expect(wrapper.find('.narrow').exists()).toBe(false);
    await wrapper.get('[data-test="slip"] button').trigger('click');
    expect(wrapper.find('[data-test="slip"]').exists()).toBe(false);
    expect(wrapper.get('[data-test="measured"]').text()).toContain('Friction holds it');
  });
  test('that are swapped say so instead of a moment', async () => {
    const { wrapper } = await begin();
    await pull(wrapper, 'Add right ascension', '-2 N', '-2 N');
    expect(wrapper.text()).toMatch(/swapped/);
  });
  test('are kept in this browser until they are taken away', async () => {
    const { wrapper } = await begin();
    await pull(wrapper, 'Add declination, level', '4', '2');
    wrapper.unmount();
    const again = await begin();
    expect(again.wrapper.findAll('.reading')).toHaveLength(1);
    await again.wrapper.find('[aria-label="Remove this reading"]').trigger('click');
    expect(again.wrapper.findAll('.reading')).toHaveLength(0);
  });
});

describe('a place by ruler', () => {
  test('follows from the mark, and is on record as measured, by whom and when', async () => {
    const setup = reactive(structuredClone(RIGS[0]!.setup));
    delete (setup as { saddle?: unknown }).saddle;
    const part = setup.placed.find((p) => p.kind === 'tube')!;
    const { wrapper, club } = await mountScreen(RulerPlace, { props: { setup, part: null } });
    club.now = Date.parse('2026-11-19T14:00:00Z');
    await wrapper.setProps({ part } as never);
    await flushPromises();
    // nobody measured the saddle: a usual one, marked as assumed
    expect(setup.saddle!.from).toMatchObject({ kind: 'assumed' });
    const box = document.querySelector('.ant-modal-body')!;
    await type(box, 'along the bar toward the camera end', '130 mm');
    await type(box, 'out from the saddle’s surface', '80');
    await type(box, 'sideways (+ is the +y side)', '-5');
    (document.querySelector('.ant-modal-footer .ant-btn-primary') as HTMLButtonElement).click();
    await nextTick();
    expect([part.xMm, part.yMm]).toEqual([setup.saddle!.xMm + 80, -5]);
    expect(part.placeFrom).toEqual({ kind: 'measured', by: 'Noor Vik', at: '2026-11-19' });
    expect(part.ruler).toMatchObject({ alongMm: 130, aboveSaddleMm: 80, sidewaysMm: -5 });
    expect(wrapper.emitted('close')).toHaveLength(1);
  });
  test('read back, it is the reading that was taken', async () => {
    const setup = reactive(structuredClone(RIGS[0]!.setup));
    const part = setup.placed[0]!;
    const { wrapper } = await mountScreen(RulerPlace, { props: { setup, part: null } });
    await wrapper.setProps({ part } as never);
    await flushPromises();
    const before = [part.xMm, part.yMm, part.zMm];
    (document.querySelector('.ant-modal-footer .ant-btn-primary') as HTMLButtonElement).click();
    await nextTick();
    [part.xMm, part.yMm, part.zMm].forEach((v, i) => expect(v).toBeCloseTo(before[i]!, 6));
  });
});

describe('imaging systems', () => {
  const record = rig(RIGS.find((r) => r.key === 'newtonian')!.build);
  const edit = (dirty = false) => ({
    record: () => record,
    dirty: { value: dirty },
    draft: { value: { setup: { practice: true } } },
  });
  const begin = (props: object = {}) =>
    mountScreen(RigSystems, {
      rigs: [record],
      props: { edit: edit(), off: false, ...props },
      answers: [
        { method: 'PUT', path: /rigs/, body: { ...record, revision: 2 } },
        { method: 'POST', path: /rigs/, body: { ...record, revision: 2 } },
      ],
    });
  const revised = () =>
    sent.find((s) => s.method !== 'GET')?.body as
      | { setup?: { systems: { key: string; name: string; offAxis?: unknown }[] }; version?: number }
      | undefined;
  test('a new one begins like the one looked at, without its guider, at the end', async () => {
    const { wrapper } = await begin();
    await button(wrapper, 'Add a system')!.trigger('click');
    await flushPromises();
    const systems = revised()!.setup!.systems;
    expect(systems.map((s) => s.name)).toEqual([...record.setup.systems.map((s) => s.name), 'second camera']);
    expect(systems.at(-1)!.offAxis).toBeUndefined();
    expect(new Set(systems.map((s) => s.key)).size).toBe(systems.length);
  });
  test('another may lead; the record’s version goes along, so that nobody’s change is lost', async () => {
    const { wrapper } = await begin();
    await button(wrapper, 'Let it lead')!.trigger('click');
    await flushPromises();
    expect(revised()).toMatchObject({ version: record.version });
    expect(revised()!.setup!.systems[0]!.key).toBe(record.setup.systems[1]!.key);
  });
  test('what is changed and not saved comes first; nothing is sent', async () => {
    const { wrapper } = await begin({ edit: edit(true) });
    await button(wrapper, 'Add a system')!.trigger('click');
    await flushPromises();
    expect(wrapper.find('[role="alert"]').text()).toContain('Save or discard what is changed first');
    expect(revised()).toBeUndefined();
  });
  test('who may not change it sees them, and no button that changes', async () => {
    const { wrapper } = await mountScreen(RigSystems, {
      rigs: [record],
      props: { edit: edit(), off: true },
      member: me({ role: 'guest' }),
    });
    expect(wrapper.findAll('tbody tr')).toHaveLength(2);
    for (const text of ['Add a system', 'Take away', 'Let it lead']) expect(button(wrapper, text)).toBeUndefined();
  });
});
