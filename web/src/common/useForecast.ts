import { answerTo } from '../api/serverState.ts';
import { questions } from '../api/questions.ts';
import { type Forecast } from '@keen/contract';
import { shallowRef, watch } from 'vue';
import { useClub } from '../stores/club.ts';
import { latestOnly } from './latestOnly.ts';

/** The weather foretold for the chosen night at the chosen site; null while it is not known. */
export function useForecast() {
  const club = useClub();
  const forecast = shallowRef<Forecast | null>(null);
  const ask = latestOnly();
  watch(
    () => [club.site?.id, club.night] as const,
    async ([id, night]) => {
      const late = ask();
      forecast.value = null;
      if (!id || !night) return;
      const got = await answerTo(questions.forecast(id, night));
      // a server of before knows no forecast and answers something else
      if (!late() && got.ok && Array.isArray(got.value.hours)) forecast.value = got.value;
    },
    { immediate: true },
  );
  return forecast;
}
/** The hour nearest to a moment [ms]. */
export const hourAt = (f: Forecast, ms: number) =>
  f.hours.reduce((best, h) => (Math.abs(Date.parse(h.at) - ms) < Math.abs(Date.parse(best.at) - ms) ? h : best));
