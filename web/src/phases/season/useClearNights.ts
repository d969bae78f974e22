import { useLocalStorage } from '@vueuse/core';
import { computed, type Ref } from 'vue';
import { questions } from '../../api/questions.ts';
import { useAnswer } from '../../common/answer.ts';

/** Share of nights that are clear, to begin with; a guess without source. */
const GUESS_PERCENT = 50;

/** How many nights of a place are clear: what its own nights say, or what was set under Coming nights, a guess at first. */
export function useClearNights(siteId: Readonly<Ref<string | null>>) {
  const percent = useLocalStorage('keen.clear-nights', GUESS_PERCENT);
  const spells = useAnswer('The clear nights of this site', () =>
    siteId.value ? questions.clearSpells(siteId.value) : null,
  );
  const learntPercent = computed(() => {
    const s = spells.value.value;
    return s?.nights ? Math.round((100 * s.clearMeanMin) / (s.clearMeanMin + s.cloudMeanMin)) : null;
  });
  return {
    percent,
    learntPercent,
    likelyPercent: computed(() => learntPercent.value ?? percent.value),
    /** Nothing is said of them before they are there. */
    spells,
  };
}
