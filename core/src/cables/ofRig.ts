import type { RigSetup } from '../rig/index.ts';
import { CableSheet, COMPUTER, type Device } from './sheet.ts';

const HUB = 'hub';
/** A device with what such things usually ask for; typical of present ones, from memory, no source. */
const typical = (key: string, name: string, more: Partial<Device>): Device => ({
  key,
  name,
  at: HUB,
  bus: 'usb2',
  megabytesPerS: 0.1,
  lengthM: 0.5,
  feed: 'usb',
  meanW: 1,
  peakW: 2,
  dcLengthM: 1,
  dcMm2: 1,
  ...more,
});

/** What a rig’s cables usually are, to be put right: one hub on the tube, everything on it, the mount beside. */
export function typicalCables(setup: Pick<RigSetup, 'wheel' | 'offAxis' | 'guideScope' | 'focuserStepUm'>): CableSheet {
  const guides = setup.offAxis !== undefined || setup.guideScope !== undefined;
  return CableSheet.parse({
    hubs: [{ key: HUB, name: 'Hub on the tube', at: COMPUTER, bus: 'usb3', ports: 7, givesA: 4, lengthM: 3 }],
    devices: [
      typical('camera', 'Main camera', {
        bus: 'usb3',
        megabytesPerS: 80,
        feed: 'supply',
        meanW: 14,
        peakW: 30,
        dcMm2: 1,
      }),
      ...(guides ? [typical('guide-camera', 'Guide camera', { megabytesPerS: 12, meanW: 1.5, peakW: 2 })] : []),
      ...(setup.wheel.length > 1 ? [typical('wheel', 'Filter wheel', { meanW: 0.5, peakW: 2 })] : []),
      ...(setup.focuserStepUm ? [typical('focuser', 'Focuser', { feed: 'supply', meanW: 0.5, peakW: 6 })] : []),
      typical('mount', 'Mount', {
        at: COMPUTER,
        lengthM: 2,
        feed: 'supply',
        meanW: 12,
        peakW: 36,
        dcMm2: 1.5,
        dcLengthM: 2,
      }),
      typical('heater', 'Dew heater', { at: null, feed: 'supply', meanW: 6, peakW: 12 }),
    ],
  });
}
