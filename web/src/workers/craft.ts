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
import { configurations, ConfigurationsInput } from '@keen/core/train';
import { spectrumOf } from '@keen/core/guiding';
import { playNightRisk, type NightRiskInput, type RiskOutput } from '@keen/core/sequence';
import { outcomeOf, type Outcome } from '../common/outcome.ts';
import { readFrameFiles } from './frameFiles.ts';

/** The part of the worker that is large and that no first screen needs: it is read when something of it is asked for. */
const STOPPED = { type: 'about:blank', title: 'Stopped before it was done.', status: 0, code: 'stopped' };

export const craft = {
  /** Any calculation of the registry by its name. */
  calculate: (name: CalculationName, input: unknown) => outcomeOf(() => calculations.get(name)!.run(input)),
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
