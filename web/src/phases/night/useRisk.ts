import { api, type PlanSent } from '@keen/contract';
import { call } from '../../api/client.ts';
import { questions } from '../../api/questions.ts';
import type { NightRiskInput, RiskOutput } from '@keen/core/sequence';
import { useLocalStorage } from '@vueuse/core';
import { proxy } from 'comlink';
import { computed, ref, shallowRef, watch, type Ref } from 'vue';
import { useAnswer } from '../../common/answer.ts';
import { latestOnly } from '../../common/latestOnly.ts';
import { problemText } from '../../common/outcome.ts';
import { useJob } from '../../common/useJob.ts';
import { useClub } from '../../stores/club.ts';
import { core, plainCopy } from '../../workers/index.ts';

/** A laid-out night and the leg that is asked about, without its cloud: what the drawn nights are played through. */
export type RiskPlan = Pick<NightRiskInput, 'prepared' | 'legIndex' | 'openedMs' | 'focused' | 'wheel'>;
/** Every order is tried. */
const ORDERS = ['rolling', 'block', 'lagging'] as const;
const SEED = 1;
/** Nights drawn: enough that a balanced share is known within a per cent. */
const NIGHTS = 2000;
/** And on the server. */
const MORE_NIGHTS = 20_000;
/** Spells to begin with [min]; a guess without source, to be replaced by what the site is known to give. */
const FIRST_GUESS = { clearMeanMin: 90, cloudMeanMin: 45 };

/** Every order of the leg was played: which of them it has now changes nothing of the answer. */
const withoutOrder = ({ prepared, legIndex, ...night }: RiskPlan) => ({
  ...night,
  legIndex,
  prepared: prepared.map((p, i) => (i === legIndex && p.input ? { ...p, input: { ...p.input, order: null } } : p)),
});

/** What a cloudy night would leave of a plan in each order, under the site's own clear spells. */
export function useRisk(
  plan: Readonly<Ref<RiskPlan | null>>,
  saved: { id: () => string | null; sent: () => PlanSent },
) {
  const club = useClub();
  const bySite = useLocalStorage<Record<string, typeof FIRST_GUESS>>('keen.clear-spells', {});
  const siteId = computed(() => club.site?.id ?? '');
  const weather = computed(() => bySite.value[siteId.value] ?? FIRST_GUESS);
  const guessed = computed(() => !(siteId.value in bySite.value));
  function setWeather(part: Partial<typeof FIRST_GUESS>): void {
    bySite.value = { ...bySite.value, [siteId.value]: { ...weather.value, ...part } };
  }
  /** What the site’s own nights say; null where there are too few. */
  const spells = useAnswer('The clear spells of this site', () =>
    siteId.value ? questions.clearSpells(siteId.value) : null,
  );
  const learnt = computed(() => (spells.value.value?.nights ? spells.value.value : null));
  /** The forecast’s cloud as spells: as long together as now, clear and cloud shared out as it says. */
  function fromForecast(cloudShare: number): void {
    const round = weather.value.clearMeanMin + weather.value.cloudMeanMin;
    const share = Math.min(0.97, Math.max(0.03, cloudShare));
    setWeather({ clearMeanMin: Math.round(round * (1 - share)), cloudMeanMin: Math.round(round * share) });
  }
  const found = shallowRef<RiskOutput | null>(null);
  /** Share of the nights played; negative when nothing is being played. */
  const progress = ref(-1);
  const ownTrouble = ref('');
  const ask = latestOnly();
  // what was found belongs to another plan or another sky now
  watch([() => JSON.stringify(plan.value && withoutOrder(plan.value)), weather], () => cancel(true));
  function cancel(forget = false): void {
    ask();
    progress.value = -1;
    if (forget) {
      found.value = null;
      job.leave();
    }
  }
  async function play(): Promise<void> {
    if (!plan.value) return;
    const late = ask();
    ownTrouble.value = '';
    found.value = null;
    progress.value = 0;
    const input = plainCopy({ ...plan.value, weather: weather.value, nights: NIGHTS, seed: SEED, orders: [...ORDERS] });
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
    else ownTrouble.value = problemText(got.problem);
  }
  const job = useJob((result) => {
    if (result.kind === 'risk') found.value = result.risk;
  });
  /** Many more nights, on the server: it goes on when this screen is left, and the shares are known three times as well. */
  async function playMore(): Promise<void> {
    if (!plan.value) return;
    cancel();
    ownTrouble.value = '';
    const question = {
      plan: saved.sent(),
      planId: saved.id(),
      legIndex: plan.value.legIndex,
      weather: weather.value,
      nights: MORE_NIGHTS,
      seed: SEED,
      orders: [...ORDERS],
    };
    await job.ask(() => call(api.playRisk, { body: plainCopy(question) }));
  }
  const trouble = computed(() => ownTrouble.value || job.trouble.value);
  return {
    weather,
    guessed,
    setWeather,
    learnt,
    fromForecast,
    found,
    progress,
    trouble,
    play,
    cancel,
    nights: NIGHTS,
    job: job.job,
    asking: job.busy,
    playMore,
    cancelJob: job.cancel,
    moreNights: MORE_NIGHTS,
  };
}
