import { InvalidInput, type WorkingStep } from '../calculation/index.ts';
import type { RigSetup, RulerReading } from '../rig/index.ts';

type Saddle = NonNullable<RigSetup['saddle']>;

export interface RulerPlace {
  xMm: number;
  yMm: number;
  zMm: number;
  working: WorkingStep[];
}

/**
 * A place in the balance frame from what a ruler on the mounted tube reaches: along the bar from a named mark toward the
 * camera end, outward from the saddle's surface, sideways from the tube's middle.
 * @throws InvalidInput when the mark is not on this rig
 */
export function placeFromRuler(r: RulerReading, saddle: Saddle): RulerPlace {
  const mark = saddle.marks.find((m) => m.name === r.mark);
  if (!mark) throw InvalidInput.at('mark', `“${r.mark}” is not one of ${saddle.marks.map((m) => m.name).join(', ')}`);
  const xMm = saddle.xMm + r.aboveSaddleMm;
  const zMm = mark.zMm - r.alongMm;
  return {
    xMm,
    yMm: r.sidewaysMm,
    zMm,
    working: [
      {
        label: 'Out from the axes',
        formula: `saddle ${saddle.xMm} + above it ${r.aboveSaddleMm}`,
        value: xMm,
        unit: 'mm',
      },
      { label: 'Along the tube', formula: `${mark.name} at ${mark.zMm} − ${r.alongMm}`, value: zMm, unit: 'mm' },
      { label: 'Sideways', formula: 'as read', value: r.sidewaysMm, unit: 'mm' },
    ],
  };
}

/** What a ruler would read for a place, from the nearest mark in front of it. */
export function rulerFromPlace(p: { xMm: number; yMm: number; zMm: number }, saddle: Saddle): RulerReading {
  const mark = [...saddle.marks].sort((a, b) => b.zMm - a.zMm)[0]!;
  return {
    mark: mark.name,
    alongMm: mark.zMm - p.zMm,
    aboveSaddleMm: p.xMm - saddle.xMm,
    sidewaysMm: p.yMm,
  };
}
