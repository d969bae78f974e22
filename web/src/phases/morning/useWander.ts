import { wanderOf, type StarredFrame, type Wander } from '@keen/core/frames';
import { scaleArcsecPerPx } from '@keen/core/quantities';
import { computed, shallowRef, watch, type ComputedRef, type Ref } from 'vue';
import { useClub } from '../../stores/club.ts';
import type { FrameRow } from './frameRow.ts';

/** Frames looked at: those of one exposure follow one another within a night. */
const MOST = 120;

/** How stars wander over a night’s measured frames. */
export function useWander(rows: ComputedRef<FrameRow[]>, nightId: Ref<string>, measuring: Ref<{ of: number }>) {
  const club = useClub();
  const found = shallowRef<Wander | null>(null);
  // frames are judged one by one and measured one by one: looked at once when all of a batch are there
  const measured = computed(() =>
    measuring.value.of
      ? null
      : `${nightId.value} ${club.rig?.id ?? ''} ${rows.value.filter((r) => r.look?.places).length}`,
  );
  watch(measured, (now) => {
    if (now === null) return;
    const setup = club.rig?.setup;
    const frames = rows.value.flatMap((r): StarredFrame[] =>
      r.startedAt && r.look?.places?.length
        ? [
            {
              startedMs: Date.parse(r.startedAt),
              exposureS: r.exposureS,
              stars: r.look.places.map(([x, y]) => ({ x, y })),
            },
          ]
        : [],
    );
    found.value =
      setup && frames.length > 4
        ? wanderOf(frames.slice(0, MOST), scaleArcsecPerPx(setup.camera.pixelUm, setup.focalLengthMm))
        : null;
  });
  return found;
}
