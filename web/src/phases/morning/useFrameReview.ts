import { ref } from 'vue';
import { useFrameRows } from './useFrameRows.ts';
import { useJudging } from './useJudging.ts';
import { droppedFrames, useMeasuring } from './useMeasuring.ts';
import { useNightFrames } from './useNightFrames.ts';

/** The frames of a night: measured in this browser, held against their fellows, accepted or refused. */
export function useFrameReview({ pictures: withPictures = true } = {}) {
  const trouble = ref('');
  const dropped = droppedFrames();
  const night = useNightFrames({
    withPictures,
    onAnotherRig: () => {
      dropped.loose.value = [];
      dropped.bad.value = [];
    },
    onAnotherNight: () => (dropped.atHand.value = new Map()),
  });
  const { rows, limitsFor, findingsOf, focus } = useFrameRows(night.records, dropped.loose, night.judgements);
  const measuring = useMeasuring(night, dropped, trouble);
  const judging = useJudging({ changeFrames: night.changeFrames, rows, nightId: night.nightId, trouble });
  const { answers, nights, nightId, small } = night;
  return {
    answers: { ...answers, focus },
    nights,
    nightId,
    small,
    rows,
    limitsFor,
    findingsOf,
    atHand: dropped.atHand,
    bad: dropped.bad,
    trouble,
    ...measuring,
    ...judging,
  };
}
