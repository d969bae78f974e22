import { type RiskOutput } from '@keen/core/sequence';
import { useLocalStorage } from '@vueuse/core';
import { proxy } from 'comlink';
import { computed, ref, shallowRef, watch, type Ref } from 'vue';
import { lateness } from '../../common/late.ts';
import { problemText } from '../../common/outcome.ts';
import { useClub } from '../../stores/club.ts';
import { core, plainCopy } from '../../workers/index.ts';

/** A plan without its order and its cloud: what the drawn nights are played through. */
export type RiskPlan = Record<string, unknown>;
/** Nights drawn: enough that a balanced share is known within a per cent. */
const NIGHTS = 2000;
/** Spells to begin with [min]; a guess without source, to be replaced by what the site is known to give. */
const FIRST_GUESS = { clearMeanMin: 90, cloudMeanMin: 45 };

/** What a cloudy night would leave of a plan in each order, under the site's own clear spells. */
export function useRisk(plan: Readonly<Ref<RiskPlan | null>>) {
  const club = useClub();
  const bySite = useLocalStorage<Record<string, typeof FIRST_GUESS>>('keen.clear-spells', {});
  const siteId = computed(() => club.site?.id ?? '');
  const weather = computed(() => bySite.value[siteId.value] ?? FIRST_GUESS);
  const guessed = computed(() => !(siteId.value in bySite.value));
  function setWeather(part: Partial<typeof FIRST_GUESS>): void {
    bySite.value = { ...bySite.value, [siteId.value]: { ...weather.value, ...part } };
  }
  const found = shallowRef<RiskOutput | null>(null);
  /** Share of the nights played; negative when nothing is being played. */
  const progress = ref(-1);
  const trouble = ref('');
  const ask = lateness();
  // what was found belongs to another plan or another sky now
  watch([() => JSON.stringify(plan.value), weather], () => cancel(true));
  function cancel(forget = false): void {
    ask();
    progress.value = -1;
    if (forget) found.value = null;
  }
  async function play(): Promise<void> {
    if (!plan.value) return;
    const late = ask();
    trouble.value = '';
    found.value = null;
    progress.value = 0;
    const input = plainCopy({ ...plan.value, weather: weather.value, nights: NIGHTS });
    const got = await core().risk(
      input,
      proxy((share: number) => {
        if (!late()) progress.value = share;
        return !late();
      }),
    );
    if (late()) return;
    progress.value = -1;
    if (got.ok) found.value = got.value;
    else trouble.value = problemText(got.problem);
  }
  return { weather, guessed, setWeather, found, progress, trouble, play, cancel, nights: NIGHTS };
}
