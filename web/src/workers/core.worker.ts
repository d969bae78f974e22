import { offAxisDeg } from '@keen/core/quantities';
import { parseInput } from '@keen/core/calculation';
import {
  angleDeg,
  direction,
  entryAt,
  findObjects,
  nightFrame,
  scanNight,
  pickTonight,
  target,
  TargetInput,
  type Catalogue,
  type ScanRequest,
  type StarCap,
  type TonightCriteria,
} from '@keen/core/sky';
import { hasGuideStar, reachMm, type GuideView, type GuideCriteria } from '@keen/core/guiding';
import { expose } from 'comlink';
import { outcomeOf } from '../common/outcome.ts';
import type { craft } from './craft.ts';
import { starsAround } from './starTiles.ts';

/** The craft behind comlink: what takes more than a blink runs here. */
let catalogue: Promise<Catalogue> | null = null;
const sky = () =>
  (catalogue ??= fetch('/data/deep-sky.json').then((r) => {
    if (!r.ok) throw new Error('the catalogue could not be read');
    return r.json() as Promise<Catalogue>;
  }));

/** The star tiles go a little deeper; no guider needs more. */
const FAINTEST_GUIDE = 13.5;

/** The other part of the worker, read when something of it is first asked for: no first screen waits for it. */
type Craft = typeof craft;
const rest = (): Promise<Craft> =>
  import('./craft.ts').then(
    (m) => m.craft,
    () => {
      throw new Error('a part of the application could not be loaded; try again when the server answers');
    },
  );
const later =
  <K extends keyof Craft>(name: K) =>
  async (...given: Parameters<Craft[K]>): Promise<Awaited<ReturnType<Craft[K]>>> => {
    const work: (...all: Parameters<Craft[K]>) => ReturnType<Craft[K]> = (await rest())[name] as never;
    return await work(...given);
  };

const inWorker = {
  /** Reads the rest, so that it is there without a line too. */
  readAhead: async () => void (await rest()),
  stars: (cap: StarCap) => starsAround(cap),
  /** Catalogue entries with a size, inside a cap; the largest first. */
  async objectsNear(raDeg: number, decDeg: number, radiusDeg: number) {
    const c = await sky();
    const here = direction(raDeg, decDeg);
    const found = [];
    for (let i = 0; i < c.id.length; i++)
      if (
        Math.abs(c.decDeg[i]! - decDeg) <= radiusDeg &&
        angleDeg(direction(c.raDeg[i]!, c.decDeg[i]!), here) <= radiusDeg
      )
        found.push(entryAt(c, i));
    return found.sort((a, b) => (b.majorArcmin ?? 0) - (a.majorArcmin ?? 0)).slice(0, 40);
  },
  find: async (typed: string, limit: number) => findObjects(await sky(), typed, limit),
  targets: (inputs: unknown[]) =>
    outcomeOf(() => {
      const parsed = inputs.map((i) => parseInput(TargetInput, i));
      const first = parsed[0];
      const frame = first ? nightFrame(first.site, first.date) : undefined;
      return parsed.map((i) => target(i, frame));
    }),
  /** What the whole catalogue offers a field in one night, of what is asked for. */
  async tonight(
    request: ScanRequest,
    of: { shortSideArcmin: number; moonlit: number; skyMag: number; criteria: TonightCriteria },
  ) {
    const c = await sky();
    const begun = performance.now();
    const scan = scanNight(c, { ...request, moonlit: of.moonlit });
    return { ...pickTonight(c, scan, of, 60), scanned: c.id.length, tookMs: performance.now() - begun };
  },
  /** Which of these places have a star to guide on, in their order; stops where the asker no longer wants the answer. */
  async guidable(
    places: { raDeg: number; decDeg: number }[],
    view: GuideView,
    criteria: GuideCriteria,
    progress: (done: number) => boolean | Promise<boolean>,
  ): Promise<boolean[]> {
    const { window } = view;
    const radiusDeg = offAxisDeg(reachMm(window), window.focalLengthMm);
    const has: boolean[] = [];
    for (const place of places) {
      const { stars } = await starsAround({ ...place, radiusDeg: radiusDeg * 1.02, faintestMag: FAINTEST_GUIDE });
      has.push(hasGuideStar(view, criteria, stars, place));
      if (has.length % 5 === 0 && !(await progress(has.length))) break;
    }
    return has;
  },
  calculate: later('calculate'),
  configurations: later('configurations'),
  risk: later('risk'),
  readGuideCsv: later('readGuideCsv'),
  guideSpectrum: later('guideSpectrum'),
  curves: later('curves'),
  frameFiles: later('frameFiles'),
  readFramesCsv: later('readFramesCsv'),
  readPartsCsv: later('readPartsCsv'),
  readFocusCsv: later('readFocusCsv'),
};
export type InWorker = typeof inWorker;
expose(inWorker);
