import { questions } from '../api/questions.ts';
import { type Forecast } from '@keen/contract';
import { computed } from 'vue';
import { useClub } from '../stores/club.ts';
import { useAnswer } from './answer.ts';

/** The weather foretold for the chosen night at the chosen site; null while it is not known. */
export function useForecast() {
  const club = useClub();
  const answer = useAnswer('The forecast', () =>
    club.site && club.night ? questions.forecast(club.site.id, club.night) : null,
  );
  // a server of before knows no forecast and answers something else
  return computed<Forecast | null>(() => (Array.isArray(answer.value.value?.hours) ? answer.value.value : null));
}
/** The hour nearest to a moment [ms]. */
export const hourAt = (f: Forecast, ms: number) =>
  f.hours.reduce((best, h) => (Math.abs(Date.parse(h.at) - ms) < Math.abs(Date.parse(best.at) - ms) ? h : best));
