import { flushPromises, type DOMWrapper, type VueWrapper } from '@vue/test-utils';
import { Select } from 'ant-design-vue';
import { nextTick } from 'vue';
import PickOne from '../common/PickOne.vue';

/** What a person does to a screen under test. Each fails by name when the thing is not there. */
type Screen = VueWrapper | DOMWrapper<Element>;

export function button(screen: Screen, text: string | RegExp): DOMWrapper<HTMLButtonElement> {
  const all = screen.findAll('button');
  const named = (b: DOMWrapper<Element>) => b.attributes('aria-label') ?? b.text();
  const found = all.find((b) => (typeof text === 'string' ? named(b) === text : text.test(named(b))));
  if (!found) throw new Error(`no button ${text} among ${all.map(named).join(' | ')}`);
  return found;
}
export async function press(screen: Screen, text: string | RegExp): Promise<void> {
  await button(screen, text).trigger('click');
  await flushPromises();
}
/** Presses what the toolkit hangs on the body: dialogs, menus, questions. */
export async function pressOutside(text: string | RegExp): Promise<void> {
  const all = () => [...document.querySelectorAll<HTMLElement>('body button, body [role="menuitem"]')];
  const nameOf = (b: HTMLElement) => b.textContent?.trim() ?? '';
  const look = () => all().find((b) => (typeof text === 'string' ? nameOf(b) === text : text.test(nameOf(b))));
  // the toolkit opens some of them a few turns of the clock later
  let found = look();
  for (let turn = 0; !found && turn < 50; turn++) {
    await new Promise((done) => setTimeout(done, 20));
    found = look();
  }
  if (!found) throw new Error(`nothing to press called ${text} among ${all().map(nameOf).join(' | ')}`);
  found.click();
  await flushPromises();
}
/** Chooses from a drop-down by its label. */
export async function pick(screen: VueWrapper, label: string, value: string, nth = 0): Promise<void> {
  const found = screen.findAllComponents(PickOne).filter((p) => p.props('label') === label)[nth];
  if (!found) throw new Error(`no drop-down ${label}`);
  found.findComponent(Select).vm.$emit('update:value', value);
  await nextTick();
}
/** Takes one of the large radio cards by the words on it. */
export async function card(screen: Screen, group: string, name: string): Promise<void> {
  const set = screen.findAll('fieldset').find((f) => f.find('legend').text() === group);
  const label = set?.findAll('label').find((l) => l.find('.name').text() === name);
  if (!label) throw new Error(`no card ${name} under ${group}`);
  await label.find('input').setValue();
}
/** Cards of one group, by their names. */
export const cards = (screen: Screen, group: string): string[] =>
  screen
    .findAll('fieldset')
    .filter((f) => f.find('legend').text() === group)
    .flatMap((f) => f.findAll('.name').map((n) => n.text()));
/** The field of that name, by its label or what screen readers hear. */
export function field(screen: Screen, name: string): DOMWrapper<HTMLInputElement> {
  const labels = screen.findAll('label').filter((l) => l.text().startsWith(name));
  const named = (f: DOMWrapper<Element>) =>
    f.attributes('aria-label') === name ||
    labels.some(
      (l) => l.element.contains(f.element) || (f.attributes('id') && l.attributes('for') === f.attributes('id')),
    );
  const found = screen.findAll('input').find(named);
  if (!found) throw new Error(`no field ${name}`);
  return found;
}
/** Types into it and leaves it. */
export async function type(screen: Screen, name: string, text: string): Promise<void> {
  await field(screen, name).setValue(text);
  await field(screen, name).trigger('change');
  await flushPromises();
}
