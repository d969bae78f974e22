import { beforeEach, describe, expect, test } from '@jest/globals';
import { makeVerdict, phrase } from '@keen/core/phrases';
import { flushPromises, type VueWrapper } from '@vue/test-utils';
import { press, type } from '../../test/userActions.ts';
import { mountScreen } from '../../test/mountScreen.ts';
import MosaicPanel from './MosaicPanel.vue';
import GuideStarTable from './GuideStarTable.vue';
import GuideStarPanel from './GuideStarPanel.vue';

/** A FITS header of these cards, as a file. */
function fits(cards: Record<string, string | number>, end = true): File {
  const lines = Object.entries({ SIMPLE: 'T', BITPIX: 16, NAXIS: 0, ...cards }).map(([k, v]) =>
    `${k.padEnd(8)}= ${typeof v === 'number' || v === 'T' ? String(v).padStart(20) : `'${v}'`}`.padEnd(80),
  );
  const text = [...lines, ...(end ? ['END'.padEnd(80)] : [])].join('');
  return new File([text.padEnd(Math.ceil(text.length / 2880) * 2880)], 'last-year.fits');
}
const give = async (wrapper: VueWrapper, file: File) => {
  const input = wrapper.find<HTMLInputElement>('[data-test="fits"]');
  // the test browser reads no pieces of files by itself
  const bytes = Uint8Array.from(
    await new Promise<ArrayBuffer>((done) => {
      const reader = new FileReader();
      reader.onload = () => done(reader.result as ArrayBuffer);
      reader.readAsArrayBuffer(file);
    }).then((b) => new Uint8Array(b)),
  );
  Object.defineProperty(file, 'slice', { value: () => ({ arrayBuffer: async () => bytes.buffer }) });
  Object.defineProperty(input.element, 'files', { value: [file], configurable: true });
  Object.defineProperty(input.element, 'value', { value: '', writable: true, configurable: true });
  await input.trigger('change');
  for (let i = 0; i < 3; i++) await flushPromises();
};
const draft = () => ({ raDeg: 10.68, decDeg: 41.27, angleDeg: 20, columns: 1, rows: 1, overlap: 0.1 });
const panels = [
  { raDeg: 10.2, decDeg: 41.27, angleDeg: 19.7 },
  { raDeg: 11.1, decDeg: 41.27, angleDeg: 20.3 },
];
const open = async (more: object = {}) =>
  (
    await mountScreen(MosaicPanel as never, {
      props: { draft: draft(), panels, scaleArcsecPerPx: 1.2, off: false, ...more },
    })
  ).wrapper;
beforeEach(() => {
  localStorage.clear();
  document.body.innerHTML = '';
});

describe('a mosaic', () => {
  test('lists each panel with its own place and angle, and goes to one', async () => {
    const wrapper = await open();
    const rows = wrapper.findAll('[data-test="panels"] tr').map((r) => r.text());
    expect(rows[0]).toMatch(/Panel 1.*00h ?40m ?48.*19\.7°/);
    await press(wrapper, 'Panel 2');
    expect(wrapper.emitted('panel')).toEqual([[1]]);
  });
  test('of one panel has no list and no overlap to choose', async () => {
    const wrapper = await open({ panels: panels.slice(0, 1) });
    expect(wrapper.find('[data-test="panels"]').exists()).toBe(false);
    expect(wrapper.findAll('input').at(2)!.element.disabled).toBe(true);
  });
  test('its overlap is typed in per cent and kept as a share; beyond its range it stays', async () => {
    const own = draft();
    const wrapper = await open({ draft: own });
    await type(wrapper, 'Overlap', '25');
    expect(own.overlap).toBeCloseTo(0.25, 9);
    await type(wrapper, 'Overlap', '90');
    expect(own.overlap).toBeCloseTo(0.25, 9);
    expect(wrapper.text()).toMatch(/60/);
  });
  test('who may not change it types nothing and imports nothing', async () => {
    const wrapper = await open({ off: true });
    expect(wrapper.findAll('input').every((i) => i.element.disabled)).toBe(true);
    expect(wrapper.find('[data-test="fits"]').exists()).toBe(false);
  });
});

describe('a framing from a picture', () => {
  const solved = { OBJECT: 'M 31', CRVAL1: 10.5, CRVAL2: 41.1, CD1_1: -0.000333, CD1_2: 0, CD2_1: 0, CD2_2: 0.000333 };
  test('is told first and taken only when asked', async () => {
    const wrapper = await open();
    await give(wrapper, fits(solved));
    expect(wrapper.text()).toMatch(/M 31 at 00h ?42m ?00.*top of the picture at 0\.0°/);
    expect(wrapper.emitted('take')).toBeUndefined();
    await press(wrapper, 'Take this framing');
    expect(wrapper.emitted('take')![0]).toEqual([expect.objectContaining({ raDeg: 10.5, decDeg: 41.1 })]);
    expect(wrapper.text()).not.toContain('Take this framing');
  });
  test('of another camera says so', async () => {
    const wrapper = await open({ scaleArcsecPerPx: 2 });
    await give(wrapper, fits(solved));
    expect(wrapper.text()).toMatch(/Its scale, 1\.20″ a pixel, is not this rig’s 2\.00″/);
  });
  test('without a solved angle keeps the present one', async () => {
    const wrapper = await open();
    await give(wrapper, fits({ RA: 10.5, DEC: 41.1 }));
    expect(wrapper.text()).toContain('no solved angle in the header: the present one stays');
  });
  test('a broken file is named with what is wrong, and the next one is read', async () => {
    const wrapper = await open();
    await give(wrapper, new File(['not a picture'], 'notes.txt'));
    expect(wrapper.find('[role="alert"]').text()).toMatch(/^notes\.txt: .+FITS/);
    await give(wrapper, fits(solved, false));
    expect(wrapper.find('[role="alert"]').text()).toMatch(/^last-year\.fits: .*END/);
    await give(wrapper, fits({}));
    expect(wrapper.find('[role="alert"]').text()).toMatch(/^last-year\.fits: /);
    await give(wrapper, fits(solved));
    expect([wrapper.find('[role="alert"]').exists(), wrapper.text().includes('Take this framing')]).toEqual([
      false,
      true,
    ]);
  });
});

describe('stars of the window', () => {
  const star = (more: object) => ({
    raDeg: 10,
    decDeg: 41,
    mag: 9.4,
    snr: 40,
    exposureS: 2,
    usable: true,
    saturated: false,
    blendArcsec: null,
    ...more,
  });
  test('each says what speaks for or against it; only six are shown', async () => {
    const candidates = [
      star({}),
      star({ raDeg: 11, saturated: true, usable: false }),
      star({ raDeg: 12, blendArcsec: 6.4, usable: false }),
      star({ raDeg: 13, snr: 9, usable: false }),
      ...[14, 15, 16].map((raDeg) => star({ raDeg })),
    ];
    const { wrapper } = await mountScreen(GuideStarTable as never, { props: { candidates, snr: 20, known: true } });
    const words = wrapper.findAll('tbody tr').map((r) => r.findAll('td').at(-1)!.text());
    expect(words).toEqual(['alone', 'fills its well', 'neighbour at 6″', 'too faint', 'alone', 'alone']);
  });
  test('an empty window says so', async () => {
    const { wrapper } = await mountScreen(GuideStarTable as never, { props: { candidates: [], snr: 20, known: true } });
    expect(wrapper.text()).toContain('No catalogue star stands in the window here.');
  });
  test('a crowded or a shallow field is told beside them', async () => {
    const props = {
      candidates: [],
      view: null,
      windowPaDeg: null,
      depthMag: 11,
      crowded: true,
      several: true,
      panel: 1,
      criteria: { exposureS: 2, snr: 20, fwhmArcsec: 3 },
    };
    const { wrapper } = await mountScreen(GuideStarPanel as never, { props });
    expect(wrapper.text()).toContain('panel 2');
    expect(wrapper.text()).toContain('stars to magnitude 11 are shown');
    expect(wrapper.text()).toContain('there may be a star where none is listed');
  });
  test('the other side of the meridian is said with the time of the flip, and how to turn for a star on both', async () => {
    const flipped = {
      windowPaDeg: 220,
      verdict: makeVerdict(
        'caution',
        phrase('guide.flip-none', { windowDeg: 220, cures: [phrase('guide.flip-turn-camera', { angleDeg: 47 })] }),
      ),
      turnTo: { angleDeg: 47, offDeg: 7 },
    };
    const props = {
      candidates: [],
      known: true,
      view: null,
      windowPaDeg: 40,
      depthMag: 13,
      crowded: false,
      several: false,
      panel: 0,
      criteria: { exposureS: 2, snr: 20, fwhmArcsec: 3 },
      flipped,
      flipAt: '2026-11-19T22:11:00Z',
      mayTurn: true,
    };
    const { wrapper } = await mountScreen(GuideStarPanel as never, { props });
    const said = wrapper.find('[data-test="after-flip"]');
    expect(said.classes()).toContain('level-caution');
    expect(said.text()).toMatch(/opposite, at 220°.*with the camera at 47° .*The flip is due at 23:11\./);
    await press(wrapper, 'Turn to 47°');
    expect(wrapper.emitted('turn')).toEqual([[47]]);
    const off = await mountScreen(GuideStarPanel as never, { props: { ...props, flipAt: null, mayTurn: false } });
    const quiet = off.wrapper.find('[data-test="after-flip"]');
    expect([quiet.classes().includes('muted'), quiet.findAll('button').length]).toEqual([true, 0]);
    expect(quiet.text()).toContain('No flip is to come');
  });
});
