import { fieldOfView } from '../quantities/index.ts';
import type { RigSetup } from './schemas.ts';

/** Short side of the main camera's field [′]. */
export function shortSideArcmin(setup: Pick<RigSetup, 'camera' | 'focalLengthMm'>): number {
  const { widthDeg, heightDeg } = fieldOfView(setup.camera, setup.focalLengthMm);
  return 60 * Math.min(widthDeg, heightDeg);
}
