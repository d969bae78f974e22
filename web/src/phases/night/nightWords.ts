import type { LegRole, Template, Watches } from '@keen/core/sequence';
import type { Kind } from '@keen/core/sky';
import type { useUnits } from '../../stores/units.ts';

/** Kinds of objects as people ask for them. */
export const KIND_LABELS: Record<Kind, string> = {
  galaxies: 'galaxies',
  nebulae: 'emission nebulae',
  reflection: 'reflection nebulae',
  planetary: 'planetary nebulae',
  dark: 'dark nebulae',
  globular: 'globular clusters',
  open: 'open clusters',
};

/** What the steps around the legs are called. */
export const STEP_WORDS: Record<string, string> = {
  connect: 'connect',
  cool: 'cool',
  roof: 'roof',
  home: 'find home',
  focus: 'first focus',
  solve: 'solve and synchronise',
  flats: 'flats',
  park: 'park',
  warm: 'warm',
  disconnect: 'disconnect',
};
export const STEP_HELP: Record<string, string> = {
  connect: 'Camera, wheel, focuser, mount, guider, weather, in this order.',
  cool: 'To the set point, slowly. It can go on while the sky is still bright.',
  roof: 'Nobody under it and nothing in its way: its own stops and switches always win. Opened before anything moves, closed over a parked mount alone.',
  home: 'Hands and cables clear: from here on the mount may move by itself.',
  focus: 'In a field without bright nebulae, high up; stars show from nautical dusk on.',
  solve: 'Where the mount really points, so that the first slew arrives.',
  flats: 'Through the filters used, before anything is turned or taken off.',
  park: 'Guider off, mount to its resting place.',
  warm: 'Slowly, so that the window does not fog.',
  disconnect: 'Devices let go in the reverse order.',
};
export const ROLE_WORDS: Record<LegRole, { short: string; label: string; help: string }> = {
  main: { short: 'main', label: 'In its turn', help: 'Legs follow each other as listed, each within its own hours.' },
  fixed: {
    short: 'fixed hours',
    label: 'Fixed hours',
    help: 'For a transit or an occultation: it begins and ends on time, whoever is at work gives way and goes on afterwards.',
  },
  backup: {
    short: 'fills gaps',
    label: 'Fills gaps',
    help: 'Works only where the others leave a quarter of an hour or more.',
  },
};

export const TEMPLATE_WORDS: Record<Template['key'], string> = {
  'whole-night': 'The whole night, shared out',
  'lines-by-moonlight': 'Two in narrow lines, the Moon up',
  'until-it-sets': 'One until it sets, then another',
};

/** The watches of a night in a line, in the reader’s units. */
export function watchWords(
  { cloudClosesAfterMin: cloud, sunStops: sun, wind, damp }: Watches,
  units: Pick<ReturnType<typeof useUnits>, 'quantity'>,
): string {
  const limits = [
    wind ? `wind over ${units.quantity('aboveMS', wind.aboveMS)}` : '',
    damp ? `damp over ${damp.abovePercent} %` : '',
  ];
  const air = limits.filter(Boolean).join(' or ');
  return [
    cloud === null ? 'cloud is waited out' : `closed after ${cloud} min of cloud`,
    ...(air ? [`${air} closes`] : []),
    ...(sun ? [`legs end at ${sun === 'sunset' ? 'sunrise' : `${sun} dawn`}`] : []),
  ].join(', ');
}
