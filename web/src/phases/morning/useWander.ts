import { wanderOf, type StarredFrame, type Wander } from '@keen/core/frames';
import { scaleArcsecPerPx } from '@keen/core/quantities';
import { shallowRef, watch, type ComputedRef, type ShallowRef } from 'vue';
import { useClub } from '../../stores/club.ts';
import type { AtHand, FrameRow } from './useLookThrough.ts';

/** Frames looked at: those of one exposure follow one another within a night. */
const MOST = 120;

/** How stars wander over the frames whose stars are at hand: those measured since the screen was opened. */
export function useWander(rows: ComputedRef<FrameRow[]>, atHand: ShallowRef<Map<string, AtHand>>) {
  const club = useClub();
  const found = shallowRef<Wander | null>(null);
  // the map is held anew once a batch is measured, and only then
  watch(atHand, (held) => {
    const setup = club.rig?.setup;
    const frames = rows.value.flatMap((r): StarredFrame[] => {
      const stars = held.get(r.id)?.stars;
      return r.startedAt && stars?.length
        ? [{ startedMs: Date.parse(r.startedAt), exposureS: r.exposureS, stars }]
        : [];
    });
    found.value = setup && frames.length > 4 ? wanderOf(frames.slice(0, MOST), scaleArcsecPerPx(setup.camera.pixelUm, setup.focalLengthMm)) : null; // prettier-ignore
  });
  return found;
}
