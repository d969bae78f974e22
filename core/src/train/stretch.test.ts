import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { parseInput } from '../calculation/index.ts';
import { words } from '../phrases/index.ts';
import { assembleRig, MOUNTS, SENSORS, TUBES } from '../rig/kits/index.ts';
import { viewOf, type RigSetup, type TrainPart } from '../rig/index.ts';
import { configurations, ConfigurationsInput } from './configurations.ts';
import { configurationsInputOf, cutForSearch, guidePathInputOf, trainDistance } from './ofRig.ts';
import { placeForPiece, stackMm, stretchOf } from './stretch.ts';

const piece = (name: string, lengthMm: number, more: Partial<TrainPart> = {}): TrainPart => ({
  name,
  lengthMm,
  ...more,
});
const rig = (train: TrainPart[], requiredMm = 55) =>
  ({ train, corrector: { requiredMm, toleranceMm: 0.5, imageCircleMm: 44 } }) as unknown as RigSetup;
const CAMERA = piece('camera', 17.5, { role: 'camera' });
const CORRECTOR = piece('coma corrector', 60, { role: 'corrector', rear: { size: 'M48x0.75', gender: 'male' } });
const names = (list: readonly { name: string }[]) => list.map((p) => p.name);

describe('what counts', () => {
  test('lies between the corrector and the sensor', () => {
    const train = [piece('extension', 30), CORRECTOR, piece('spacer', 37.5), CAMERA, piece('hub', 40)];
    const got = trainDistance(rig(train))!;
    expect(got.result.mechanicalMm).toBe(55);
    expect(names(got.stretch.before)).toEqual(['extension', 'coma corrector']);
    // the focuser carries what stands before the corrector too, up to the sensor
    expect(stackMm(train)).toBe(30 + 60 + 37.5 + 17.5);
    expect(words(got.verdict.phrases)).toContain('Behind the sensor and not counted: hub');
    expect(got.verdict.level).toBe('caution');
  });
  test('a piece that sounds like a corrector in the path is asked about, and keeps the verdict from being good', () => {
    const said = (role?: TrainPart['role']) =>
      trainDistance(rig([piece('coma corrector', 37.5, role ? { role } : {}), CAMERA]))!;
    expect(said().verdict.level).toBe('caution');
    expect(said().stretch.asked).toEqual([{ name: 'coma corrector', as: 'corrector' }]);
    expect(said('piece').verdict.level).toBe('good');
    expect(said('corrector').result.mechanicalMm).toBe(17.5);
  });
  test.each([
    ['corrector, rear face', 0, false],
    ['0.8× reducer', 20, true],
    ['field flattener', 12, true],
    ['flattener adapter', 12, false],
    ['M48 spacer ring', 5, false],
  ])('“%s” of %d mm in front', (name, mm, asked) => {
    expect(stretchOf([piece(name, mm), piece('wheel', 20), CAMERA]).asked.length > 0).toBe(asked);
  });
  test('something behind what sounds like the camera is asked about', () => {
    expect(stretchOf([piece('wheel', 20), piece('camera, face to sensor', 17.5), piece('ring', 2)]).asked).toEqual([
      { name: 'camera, face to sensor', as: 'camera' },
    ]);
    expect(stretchOf([piece('camera rotator', 12), piece('the big one', 17.5)]).asked).toEqual([]);
  });
  test('lengths that are only assumed are named, and a measured one is not', () => {
    const from = { kind: 'assumed' as const, spread: 1 };
    const train = [piece('spacer 37.5 mm', 37.5, { from }), { ...CAMERA, from, measuredMm: 17.5 }];
    const got = trainDistance(rig(train))!;
    expect(got.result.state).toBe('within');
    expect(got.verdict.level).toBe('caution');
    expect(words(got.verdict.phrases)).toContain('Assumed, not measured: spacer 37.5 mm.');
  });
});

describe('a new piece', () => {
  const train = [CORRECTOR, piece('wheel', 20), CAMERA];
  test.each([
    [-1, 2],
    [0, 1],
    [1, 2],
    [2, 2],
  ])('with piece %d chosen lands at %d: never before the corrector nor behind the sensor', (chosen, at) => {
    expect(placeForPiece(train, chosen)).toBe(at);
  });
  test('counts, wherever it was put in', () => {
    fc.assert(
      fc.property(fc.integer({ min: -1, max: 2 }), (chosen) => {
        const added = train.toSpliced(placeForPiece(train, chosen), 0, piece('new', 3));
        expect(names(stretchOf(added).counted)).toContain('new');
      }),
    );
  });
});

describe('the search for spacers', () => {
  const male = { size: 'M48x0.75', gender: 'male' as const };
  const female = { size: 'M48x0.75', gender: 'female' as const };
  const drawer = [
    { name: 'ring 17.5', kind: 'adapter' as const, lengthMm: 17.5, count: 1, front: female, rear: male },
    { name: 'ring 37.5', kind: 'adapter' as const, lengthMm: 37.5, count: 1, front: female, rear: male },
    {
      name: 'ring 20, other thread',
      kind: 'adapter' as const,
      lengthMm: 20,
      count: 1,
      front: { ...female, size: 'M54x0.75' },
      rear: male,
    },
  ];
  const search = (train: TrainPart[]) =>
    configurations(parseInput(ConfigurationsInput, configurationsInputOf(rig(train), drawer, new Set())!));
  /** Puts a way in as the page does and measures it from the corrector's rear face to the sensor with a ruler. */
  const measure = (train: TrainPart[], own: string[], shared: string[]) => {
    const { front, common, after } = cutForSearch(train, () => false);
    const made = (ids: string[]) => ids.map((n) => piece(n, drawer.find((d) => d.name === n)!.lengthMm));
    const all = [CORRECTOR, ...front, ...made(own), ...common.slice(0, after), ...made(shared), ...common.slice(after)];
    expect(all.at(-1)).toBe(CAMERA);
    return all.slice(1).reduce((s, p) => s + p.lengthMm, 0);
  };
  test('without a guider puts every piece between corrector and sensor, and speaks of no guider', () => {
    for (const train of [
      [CORRECTOR, piece('wheel', 20), CAMERA],
      [CORRECTOR, CAMERA],
    ]) {
      const got = search(train);
      expect(got.solutions.length).toBeGreaterThan(0);
      for (const s of got.solutions)
        expect(Math.abs(measure(train, s.perConfiguration[0]!.pieces, s.common) - 55)).toBeLessThanOrEqual(0.5);
      expect(words(got.verdict.phrases)).not.toContain('guider');
    }
  });
  test('wants threads that meet the corrector’s', () => {
    const wheel = piece('wheel', 17.5, { front: female, rear: male });
    const camera = { ...CAMERA, front: female };
    expect(search([CORRECTOR, wheel, camera]).solutions).toEqual([]);
    const wide = { size: 'M54x0.75', gender: 'male' as const };
    const got = search([
      { ...CORRECTOR, rear: wide },
      { ...wheel, front: { ...wide, gender: 'male' as const } },
      camera,
    ]);
    expect(got.solutions).toEqual([]);
    // the ring has a wide face in front and a narrow one behind: it belongs where both meet
    const mends = search([{ ...CORRECTOR, rear: wide }, wheel, camera]);
    expect(mends.solutions.map((s) => s.perConfiguration[0]!.pieces)).toEqual([['ring 20, other thread']]);
  });
});

describe('a rig from kinds of things', () => {
  const choices = {
    mount: MOUNTS[2]!,
    sensor: SENSORS[2]!,
    bayer: null,
    guider: 'off-axis' as const,
    holder: 'wheel' as const,
    filters: ['L'],
    dewHeater: false,
    cablesKg: 0,
  };
  test('a Newtonian’s corrector is there with its mass, and what is assumed is named in the verdict', () => {
    const setup = viewOf(assembleRig({ ...choices, tube: TUBES.find((t) => t.kind === 'newtonian')! }));
    expect(setup.placed.find((p) => p.name === 'coma corrector')!.massKg).toBeGreaterThan(0);
    const got = trainDistance(setup)!;
    expect(got.verdict.level).not.toBe('good');
    expect(words(got.verdict.phrases)).toMatch(/asked for are assumed too.*Assumed, not measured/s);
    // nothing is asked: the kit says what is what
    expect(got.stretch.asked).toEqual([]);
    expect(guidePathInputOf(setup)!.afterPrism.at(-1)!.name).toContain('camera');
  });
});
