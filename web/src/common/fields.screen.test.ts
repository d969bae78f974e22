import { beforeEach, describe, expect, test } from '@jest/globals';
import { nextTick } from 'vue';
import { mountScreen, me } from '../test/mountScreen.ts';
import QuantityInput from './QuantityInput.vue';
import WorkingFold from './WorkingFold.vue';
import VerdictLine from './VerdictLine.vue';
import { useUnits } from '../stores/units.ts';
import { makeVerdict, phrase } from '@keen/core/phrases';

beforeEach(() => {
  localStorage.clear();
  document.body.innerHTML = '';
});

describe('a quantity field', () => {
  const field = async (props: object) => {
    const { wrapper } = await mountScreen(QuantityInput, { props: { label: 'Value', ...props } });
    const input = wrapper.find('input');
    const type = async (text: string) => {
      await input.setValue(text);
      return wrapper.emitted('update:modelValue')?.at(-1)?.[0] as number | null | undefined;
    };
    return { wrapper, input, type };
  };
  test('a difference of temperatures has no zero to shift, a temperature has', async () => {
    localStorage.setItem('keen.units', 'imperial');
    const change = await field({ modelValue: 10, dimension: 'degrees', decimals: 0 });
    expect([change.input.element.value, change.wrapper.find('.unit').text()]).toEqual(['18', '°F']);
    expect(await change.type('9')).toBeCloseTo(5, 9);
    expect(await change.type('4C')).toBeCloseTo(4, 9);
    const air = await field({ modelValue: 10, dimension: 'temperature', decimals: 0 });
    expect(air.input.element.value).toBe('50');
    expect(await air.type('32')).toBeCloseTo(0, 9);
  });
  test('a rate names its time after the unit of choice', async () => {
    const rate = await field({ modelValue: 1.5, dimension: 'degrees', per: 'h', decimals: 1 });
    expect(rate.wrapper.find('.unit').text()).toBe('°C/h');
    useUnits().system = 'imperial';
    await nextTick();
    expect([rate.input.element.value, rate.wrapper.find('.unit').text()]).toEqual(['2.7', '°F/h']);
  });
  test('what cannot be read stays, with the reason; what is out of range says the range in the reader’s unit', async () => {
    localStorage.setItem('keen.units', 'imperial');
    const { wrapper, input, type } = await field({ modelValue: 100, dimension: 'length', min: 25.4, max: 254 });
    const before = wrapper.emitted('update:modelValue')?.length ?? 0;
    await type('long');
    expect(input.element.value).toBe('long');
    expect(wrapper.find('[role="alert"]').text()).toContain('“long” is not a quantity');
    await type('11');
    expect(wrapper.find('[role="alert"]').text()).toBe('At most 10 in. 3.937 in still counts');
    expect(wrapper.emitted('update:modelValue')?.length ?? 0).toBe(before);
    expect(await type('5 1/2')).toBeCloseTo(139.7, 9);
    expect(await type('5')).toBeCloseTo(127, 9);
  });
  test('looked at and left as it was, a number is not rounded to what is shown', async () => {
    const { wrapper, input } = await field({ modelValue: 5.4567, dimension: 'mass' });
    expect(input.element.value).toBe('5.46');
    await input.setValue('5.4');
    await wrapper.setProps({ modelValue: 5.4567 } as never);
    await input.setValue('5.46');
    await input.trigger('change');
    expect(wrapper.emitted('update:modelValue')!.map((e) => e[0])).toEqual([5.4, 5.4]);
    await input.setValue('44 lb');
    await wrapper.setProps({ modelValue: wrapper.emitted('update:modelValue')!.at(-1)![0] } as never);
    await input.trigger('change');
    expect(wrapper.emitted('update:modelValue')!.at(-1)![0]).toBeCloseTo(19.95806, 5);
  });
  test('arrows step, Shift ten of them, Alt a tenth, and stop at the ends of the range', async () => {
    const { wrapper, input } = await field({ modelValue: 8, dimension: 'length', step: 2, min: 0, max: 20 });
    const step = async (key: string, more: object = {}) => {
      await input.trigger('keydown', { key, ...more });
      const value = wrapper.emitted('update:modelValue')!.at(-1)![0] as number;
      await wrapper.setProps({ modelValue: value } as never);
      return value;
    };
    expect(await step('ArrowUp')).toBe(10);
    expect(await step('ArrowDown', { altKey: true })).toBe(9.8);
    expect(await step('ArrowUp', { shiftKey: true })).toBe(20);
    await step('ArrowDown', { shiftKey: true });
    expect(await step('ArrowDown')).toBe(0);
    expect(input.element.value).toBe('0');
  });
  test('emptied, an optional one is nothing and any other keeps its number', async () => {
    const may = await field({ modelValue: 3, dimension: 'mass', optional: true });
    expect(await may.type('')).toBeNull();
    const must = await field({ modelValue: 3, dimension: 'mass' });
    await must.type('');
    expect(must.wrapper.emitted('update:modelValue')).toBeUndefined();
    expect(must.wrapper.find('[role="alert"]').exists()).toBe(true);
  });
});

test('a working shows its figures in the reader’s units and says that its formulas are metric', async () => {
  const steps = [
    { label: 'Moment', formula: 'Σ m·x', value: 1152.12, unit: 'kg·mm', source: 'textbook' },
    { label: 'Drawtube', formula: 'focus − stack', value: 50.8, unit: 'mm without rings' },
    { label: 'Faces', formula: 'same size', value: 'M48 to M42', unit: '' },
    { label: 'Nothing', formula: '–', value: null, unit: '' },
  ];
  const { wrapper } = await mountScreen(WorkingFold, { props: { steps } });
  const cells = () =>
    wrapper.findAll('tbody tr').map((r) =>
      r
        .findAll('td')
        .slice(2, 4)
        .map((c) => c.text()),
    );
  expect(cells()).toEqual([
    ['1152', 'kg·mm'],
    ['50.8', 'mm without rings'],
    ['M48 to M42', ''],
    ['–', ''],
  ]);
  expect(wrapper.text()).not.toContain('The formulas want');
  useUnits().system = 'imperial';
  await nextTick();
  expect(cells().slice(0, 2)).toEqual([
    ['100.0', 'in·lb'],
    ['2.000', 'in without rings'],
  ]);
  expect(wrapper.text()).toContain('The formulas want millimetres');
});

test('a verdict is said again when the units change; one kept without codes stays as it was', async () => {
  const verdict = makeVerdict('caution', phrase('balance.after', { decNm: 1.3558179, raNm: 0 }));
  const { wrapper } = await mountScreen(VerdictLine, { props: { verdict }, member: me() });
  expect(wrapper.text()).toContain('1.36\u202fN·m in declination');
  useUnits().system = 'imperial';
  await nextTick();
  expect(wrapper.text()).toContain('1.00\u202fft·lb in declination');
  await wrapper.setProps({ verdict: { level: 'good', text: 'In balance, 1.36 N·m.' } } as never);
  expect(wrapper.text()).toContain('In balance, 1.36 N·m.');
});
