import { scaleArcsecPerPx } from '../quantities/index.ts';
import { zone } from '../focus/index.ts';
import { filtersOf, trainFingerprint, type RigSetup } from '../rig/index.ts';
import { hash32, seeded } from '../statistics/index.ts';
import type { SimulatedTruth } from './standIns.ts';

/** Critical focus zone of a rig in focuser steps, as the seeing allows it. */
export function zoneStepsOf(setup: RigSetup, seeingArcsec = 2.2): number {
  const z = zone({
    focalRatio: setup.focalLengthMm / setup.apertureMm,
    apertureMm: setup.apertureMm,
    stepUm: setup.focuserStepUm,
    seeingArcsec,
    wavelengthNm: 550,
    tolerancePercent: 10,
  });
  return z.seeingSteps ?? z.classicSteps!;
}

/**
 * The stand-ins' truth for a rig: every train state has its own hidden offsets, slope and focus, the same each night,
 * while weather and noise follow the seed.
 */
export function simulatedTruthOf(
  setup: RigSetup,
  seed: number,
  startMs: number,
  endMs: number,
  mildC = 9,
): SimulatedTruth {
  const state = seeded(hash32(trainFingerprint(setup)));
  const weather = seeded(seed).fork('weather');
  const zoneSteps = zoneStepsOf(setup);
  const filters = filtersOf(setup);
  const offsetSteps: Record<string, number> = {};
  filters.forEach((f, i) => {
    // parfocal within a third of a zone, or a few zones off, as real filter sets are
    const size =
      state.next() < 0.3 ? 0.12 * state.normal() : (state.next() < 0.5 ? -1 : 1) * (0.7 + 2.3 * state.next());
    offsetSteps[f] = i === 0 ? 0 : Math.round(size * zoneSteps * 10) / 10;
  });
  const scale = scaleArcsecPerPx(setup.camera.pixelUm, setup.focalLengthMm);
  const focalRatio = setup.focalLengthMm / setup.apertureMm;
  return {
    seed,
    startMs,
    endMs,
    filters: filters.length ? filters : ['none'],
    offsetSteps,
    focusAt: Math.round(6000 + 9000 * state.next()),
    referenceC: 10,
    stepsPerC: (state.next() < 0.5 ? -1 : 1) * zoneSteps * (0.35 + 0.4 * state.next()),
    startC: mildC + 4 * weather.normal(),
    fallC: 4 + 4 * weather.next(),
    // blur circle = defocus/N; half the light lies within about 0.7 of its diameter
    slopePxPerStep: (0.7 * setup.focuserStepUm) / focalRatio / setup.camera.pixelUm,
    bestHfdPx: Math.max(1.5, 2.4 / scale),
    scaleArcsecPerPx: scale,
  };
}
