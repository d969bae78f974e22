import { calculations, parseInput, type CalculationName } from '@keen/core';
import { curve } from '@keen/core/focus';
import {
  readFocusCsv,
  readFramesCsv,
  readGuideCsv,
  readPartsCsv,
  type TableAnswers,
  type FrameColumns,
  type KeywordMapping,
  type FocusMapping,
  type GuideMapping,
  type GuideSample,
} from '@keen/core/exchange';
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
import { configurations, ConfigurationsInput } from '@keen/core/train';
import { hasGuideStar, reachMm, spectrumOf, type GuideView, type GuideCriteria } from '@keen/core/guiding';
import { playNightRisk, type NightRiskInput, type RiskOutput } from '@keen/core/sequence';
import { expose } from 'comlink';
import { outcomeOf, type Outcome } from '../common/outcome.ts';
import { readFrameFiles } from './frameFiles.ts';
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
const STOPPED = { type: 'about:blank', title: 'Stopped before it was done.', status: 0, code: 'stopped' };

const inWorker = {
  /** Any calculation of the registry by its name. */
  calculate: (name: CalculationName, input: unknown) => outcomeOf(() => calculations.get(name)!.run(input)),
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
    const radiusDeg = (Math.atan(reachMm(window) / window.focalLengthMm) * 180) / Math.PI;
    const has: boolean[] = [];
    for (const place of places) {
      const { stars } = await starsAround({ ...place, radiusDeg: radiusDeg * 1.02, faintestMag: FAINTEST_GUIDE });
      has.push(hasGuideStar(view, criteria, stars, place));
      if (has.length % 5 === 0 && !(await progress(has.length))) break;
    }
    return has;
  },
  configurations: (input: unknown, progress: (share: number) => void) =>
    outcomeOf(() => configurations(parseInput(ConfigurationsInput, input), progress)),
  /** Many drawn nights; stops between two of them where the asker no longer wants the answer. */
  risk: async (
    input: NightRiskInput,
    progress: (share: number) => boolean | Promise<boolean>,
  ): Promise<Outcome<RiskOutput>> => {
    const nights = playNightRisk(input);
    for (;;) {
      const step = outcomeOf(() => nights.next());
      if (!step.ok) return step;
      if (step.value.done) return { ok: true, value: step.value.value };
      if (!(await progress(step.value.value))) return { ok: false, problem: STOPPED };
    }
  },
  readGuideCsv: (text: string, mapping: GuideMapping | undefined, scale: number) => readGuideCsv(text, mapping, scale),
  guideSpectrum: (samples: GuideSample[]) => spectrumOf(samples),
  curves: (runs: { position: number; hfd: number }[][]) => runs.map((points) => outcomeOf(() => curve({ points }))),
  /** Headers of a folder's FITS files; nothing of the pixels leaves this browser. */
  frameFiles: (files: File[], mapping: KeywordMapping, progress: (done: number) => boolean | Promise<boolean>) =>
    readFrameFiles(files, mapping, progress),
  readFramesCsv: (text: string, columns: FrameColumns | undefined, answers?: TableAnswers) =>
    readFramesCsv(text, columns, answers),
  readPartsCsv: (text: string) => readPartsCsv(text),
  readFocusCsv: (text: string, mapping: FocusMapping | undefined, fahrenheit: boolean, answers?: TableAnswers) =>
    readFocusCsv(text, mapping, fahrenheit, answers),
};
export type InWorker = typeof inWorker;
expose(inWorker);
