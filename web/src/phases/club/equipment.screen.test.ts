import { beforeEach, describe, expect, jest, test } from '@jest/globals';
import { MOST_A_PAGE, type ChangeRecord, type PartRecord } from '@keen/contract';
import { readPartsCsv } from '@keen/core/exchange';
import { flushPromises, type VueWrapper } from '@vue/test-utils';
import { field, press, pressOutside } from '../../test/userActions.ts';
import { workWith } from '../../test/doubles/worker.ts';
import { saved } from '../../test/doubles/download.ts';
import { mountScreen, me } from '../../test/mountScreen.ts';
import EquipmentView from './EquipmentView.vue';
import ChangesView from './ChangesView.vue';

workWith(() => ({ readPartsCsv: async (text: string) => readPartsCsv(text) }));

const id = (n: number) => `00000000-0000-4000-8000-${String(n).padStart(12, '0')}`;
const part = (n: number, more: Partial<PartRecord> = {}): PartRecord =>
  ({
    id: id(n),
    name: `ring ${n}`,
    kind: 'adapter',
    massKg: 0.25,
    lengthMm: 5,
    count: 1,
    note: '',
    ownerId: null,
    owner: 'the club',
    usedIn: [],
    version: 1,
    updatedAt: '2026-11-01T12:00:00.000Z',
    updatedBy: 'Noor Vik',
    ...more,
  }) as PartRecord;
const own = part(2, { name: 'own spacer', ownerId: id(7), owner: 'Teun' });
const drawer = [part(1), own, part(3, { name: 'other’s', ownerId: id(8), owner: 'Odalys', lentTo: 'Ilse' })];
async function open(options: { member?: object; answers?: object[]; parts?: PartRecord[] } = {}) {
  const at = await mountScreen(EquipmentView, {
    member: me({ clubKind: 'club', ...options.member }),
    answers: [...((options.answers ?? []) as never[]), { path: /\/api\/parts/, body: options.parts ?? drawer }],
  });
  await flushPromises();
  const rows = () => at.wrapper.findAll('tbody tr.ant-table-row');
  const acts = (name: string) =>
    rows()
      .find((r) => r.text().includes(name))!
      .findAll('button')
      .map((b) => b.text());
  return { ...at, rows, acts };
}
/** The dialog hangs on the body, beside the screen. */
const dialog = (w: VueWrapper) => w.findComponent({ name: 'AModal' });
const inDialog = (name: string) => {
  const label = [...document.querySelectorAll('.ant-modal label')].find((l) => l.textContent!.trim().startsWith(name))!;
  return label.querySelector('input') ?? document.getElementById(label.getAttribute('for')!)!;
};
const typeThere = async (name: string, text: string) => {
  const input = inDialog(name) as HTMLInputElement;
  input.value = text;
  input.dispatchEvent(new Event('input', { bubbles: true }));
  input.dispatchEvent(new Event('change', { bubbles: true }));
  await flushPromises();
};
const dropCsv = async (w: VueWrapper, text: string) => {
  const input = w.find('[data-test="parts-file"]');
  const file = new File([text], 'drawer.csv');
  Object.defineProperty(file, 'text', { value: async () => text });
  Object.defineProperty(input.element, 'files', { value: [file] });
  await input.trigger('change');
  for (let i = 0; i < 6; i++) await flushPromises();
};
beforeEach(() => {
  localStorage.clear();
  document.body.innerHTML = '';
  saved.length = 0;
});

describe('the drawer', () => {
  test('a member measures the club’s parts and puts away only their own; a guest looks', async () => {
    const member = await open({ member: { id: id(7), role: 'member' } });
    expect(member.acts('ring 1')).toEqual(['Edit']);
    expect(member.acts('own spacer')).toEqual(['Edit', 'Put away']);
    expect(member.acts('other’s')).toEqual([]);
    const guest = await open({ member: { id: id(9), role: 'guest' } });
    expect(guest.acts('ring 1')).toEqual([]);
    expect(guest.wrapper.text()).not.toContain('Add a part');
  });
  test('who has it stands in the list, lent or not', async () => {
    const { rows } = await open();
    expect(
      rows()
        .map((r) => r.text())
        .join(),
    ).toContain('Odalys, lent to Ilse');
  });
  test('a part is changed on the version it was read with; what the form does not show is carried through', async () => {
    const tube = part(4, { name: 'tube', kind: 'tube', focalLengthMm: 480, apertureMm: 80, version: 6 });
    const answers = [{ method: 'PUT', path: /parts/, body: tube }];
    const { wrapper, sent } = await open({ parts: [tube], answers });
    await press(wrapper, 'Edit');
    await typeThere('Length, measured', '29.4');
    await pressOutside('Save');
    const put = sent.find((s) => s.method === 'PUT')!;
    expect(put.path).toBe(`/api/parts/${tube.id}`);
    expect(put.body).toMatchObject({
      measuredMm: 29.4,
      focalLengthMm: 480,
      apertureMm: 80,
      version: 6,
      ownedByClub: true,
    });
    expect(put.body).not.toHaveProperty('owner');
  });
  test('somebody saved first: what was typed stays, and goes over theirs at the next save', async () => {
    const theirs = part(1, { version: 5 });
    const stale = {
      type: 'x',
      title: 'stale',
      status: 409,
      code: 'stale',
      detail: 'Odalys saved it at 21:40.',
      current: theirs,
    };
    const { wrapper, sent } = await open({
      parts: [part(1)],
      answers: [{ method: 'PUT', path: /parts/, status: 409, body: stale }],
    });
    await press(wrapper, 'Edit');
    await typeThere('Name', 'ring, blackened');
    await pressOutside('Save');
    expect(document.querySelector('.ant-modal [role="alert"]')!.textContent).toBe('Odalys saved it at 21:40.');
    expect((inDialog('Name') as HTMLInputElement).value).toBe('ring, blackened');
    await pressOutside('Save');
    expect(sent.filter((s) => s.method === 'PUT').map((s) => (s.body as { version: number }).version)).toEqual([1, 5]);
  });
  test('a new one is refused with the field that is wrong, and nothing typed is lost', async () => {
    const refused = {
      type: 'x',
      title: 'x',
      status: 400,
      code: 'invalid_input',
      issues: [{ path: 'name', message: 'must not be empty' }],
    };
    const { wrapper, sent } = await open({ answers: [{ method: 'POST', path: /parts/, status: 400, body: refused }] });
    await press(wrapper, 'Add a part');
    await typeThere('Lent to', '  Ilse ');
    await pressOutside('Save');
    expect(document.querySelector('.ant-modal [role="alert"]')!.textContent).toBe('name: must not be empty');
    expect(sent.find((s) => s.method === 'POST')!.body).toMatchObject({ lentTo: 'Ilse', kind: 'accessory', count: 1 });
    expect(dialog(wrapper).props('open')).toBe(true);
  });
  test('a person alone has no club to give it to', async () => {
    const { wrapper } = await open({ member: { clubKind: 'alone' } });
    await press(wrapper, 'Add a part');
    expect(document.body.textContent).not.toContain('Belongs to the club');
  });
  test('what is put away can be taken back at once', async () => {
    const answers = [
      { method: 'DELETE', path: /parts/, body: { ok: true } },
      { method: 'POST', path: /restore/, body: { ok: true } },
    ];
    const { wrapper, sent } = await open({ answers, parts: [part(1)] });
    await press(wrapper, 'Put away');
    await pressOutside('Take it back');
    expect(sent.filter((s) => s.method !== 'GET').map((s) => `${s.method} ${s.path}`)).toEqual([
      expect.stringMatching(new RegExp(`/api/parts/${id(1)}`)),
      expect.stringMatching(/restore/),
    ]);
  });
});

describe('the drawer as a file', () => {
  test('written and read again it doubles nothing', async () => {
    const { wrapper, sent } = await open();
    await press(wrapper, 'Drawer as CSV');
    expect(saved[0]!.name).toBe('equipment.csv');
    await dropCsv(wrapper, saved[0]!.text);
    expect(sent.filter((s) => s.method === 'POST')).toEqual([]);
    expect(wrapper.find('[role="status"]').text()).toBe('0 parts added, 3 were there already.');
  });
  test('good rows go in; bad ones are listed with their line, their reason and their text', async () => {
    const header = 'name,kind,mass_kg,length_mm,count';
    const text = [header, 'shim,adapter,0.01,0.3,4', 'wrong,adapter,heavy,1,1', ',adapter,0.1,1,1'].join('\n');
    const { wrapper, sent } = await open({ answers: [{ method: 'POST', path: /parts/, body: part(9) }] });
    await dropCsv(wrapper, text);
    expect(sent.filter((s) => s.method === 'POST').map((s) => s.body)).toEqual([
      expect.objectContaining({ name: 'shim', count: 4, ownedByClub: true }),
    ]);
    const bad = wrapper.findAll('[data-test="bad-parts"] tr').map((r) => r.text());
    expect(bad).toHaveLength(2);
    expect(bad[0]).toMatch(/^line 3.*heavy/);
    expect(wrapper.find('[role="status"]').text()).toBe('1 part added, 2 rows left out.');
  });
  test('one the server refuses is told by name', async () => {
    const no = { type: 'x', title: 'x', status: 409, code: 'name_taken', detail: 'There is a shim already, put away.' };
    const { wrapper } = await open({ answers: [{ method: 'POST', path: /parts/, status: 409, body: no }] });
    await dropCsv(wrapper, 'name,kind,mass_kg\nshim,adapter,0.01');
    expect(wrapper.find('[data-test="bad-parts"]').text()).toContain('There is a shim already, put away.');
  });
});

describe('what changed', () => {
  const change = (n: number): ChangeRecord => ({
    id: id(n),
    at: '2026-11-01T12:00:00.000Z',
    by: 'Teun',
    subject: `rig ${n}`,
    text: 'tube moved',
  });
  test('older ones come page by page; one that slid into the next page is not shown twice', async () => {
    const first = Array.from({ length: MOST_A_PAGE }, (_, i) => change(i + 1));
    const answers = [
      { path: new RegExp(`from=${MOST_A_PAGE}`), body: [change(MOST_A_PAGE), change(900)] },
      { path: /changes/, body: first },
    ];
    const { wrapper } = await mountScreen(ChangesView, { answers });
    await press(wrapper, 'Older ones');
    await field(wrapper, 'Filter changes').setValue('rig');
    expect(wrapper.text()).toContain(String(MOST_A_PAGE + 1));
    expect(wrapper.text()).not.toContain('Older ones');
  });
  test('nothing yet is said', async () => {
    const { wrapper } = await mountScreen(ChangesView, { answers: [{ path: /changes/, body: [] }] });
    expect(wrapper.text()).toContain('Nobody has changed anything yet.');
  });
});

test('a file far too large for a list of parts is refused before it is read', async () => {
  const { wrapper } = await mountScreen(EquipmentView, { answers: [{ path: /\/api\//, body: [] }] });
  const input = wrapper.find('[data-test="parts-file"]');
  const text = jest.fn(async () => '');
  const file = new File([''], 'frames.csv');
  Object.defineProperty(file, 'size', { value: 100_000_000 });
  Object.defineProperty(file, 'text', { value: text });
  Object.defineProperty(input.element, 'files', { value: [file] });
  await input.trigger('change');
  await flushPromises();
  expect(wrapper.text()).toContain('frames.csv has 100 MB; a list of parts has 2 at most. Is it another file?');
  expect(text).not.toHaveBeenCalled();
});
