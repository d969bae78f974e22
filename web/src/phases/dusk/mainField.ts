import type { RigSetup } from '@keen/core/rig';
import { field, FieldInput } from '@keen/core/train';
import { parseInput } from '@keen/core/calculation';

/** Short side of the main camera's field [′]. */
export function opticsFieldOf(setup: RigSetup): number {
  const f = field(
    parseInput(FieldInput, {
      focalLengthMm: setup.focalLengthMm,
      pixelUm: setup.camera.pixelUm,
      widthPx: setup.camera.widthPx,
      heightPx: setup.camera.heightPx,
    }),
  );
  return 60 * Math.min(f.fieldDeg.width, f.fieldDeg.height);
}
