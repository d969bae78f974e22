import type { RigSetup } from './schemas.ts';

/** What light passes through where there is no wheel and no drawer: the cells of a colour sensor, or nothing. */
export const NO_FILTER = { colour: 'colour', mono: 'clear' } as const;

/**
 * Filters by slot that hold one (a blank slot has no name). A camera without any still has one to plan with: its own
 * colour cells, or the clear sensor.
 */
export function filtersOf(setup: Pick<RigSetup, 'wheel' | 'camera'>): string[] {
  const held = [...setup.wheel]
    .sort((a, b) => a.slot - b.slot)
    .map((s) => s.filter)
    .filter((f) => f !== '' && f.toLowerCase() !== 'blank');
  return held.length ? held : [setup.camera.bayer ? NO_FILTER.colour : NO_FILTER.mono];
}

/** Nothing is turned between exposures: no offsets are needed. */
export const isFixedFilter = (setup: Pick<RigSetup, 'wheel' | 'camera'>): boolean => filtersOf(setup).length === 1;
