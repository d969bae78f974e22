import { questions } from '../../api/questions.ts';
import { api, type DrillStanding, type WeakSpot } from '@keen/contract';
import { useAnswer } from '../../common/answer.ts';
import {
  DrillAnswer,
  drillOf,
  isKnown,
  judgeDrill,
  Level,
  nextSituation,
  SITUATION_KEYS,
  SITUATIONS,
  type Cause,
  type Cure,
  type DrillJudgement,
  type SituationKey,
  type Standing,
} from '@keen/core/drills';
import { seeded } from '@keen/core/statistics';
import { computed, ref, shallowRef } from 'vue';
import { z } from 'zod';
import { call } from '../../api/client.ts';
import { problemText } from '../../common/outcome.ts';
import { personalKey } from '../../common/personal.ts';
import { useStored } from '../../common/stored.ts';
import { useSession } from '../../stores/session.ts';

/** Seeds go to this [exclusive]. */
const SEEDS = 2 ** 31 - 1;
/** Newest answers of a situation that are looked at. */
const LATEST = 5;
/** Answers that wait for the server at most. */
const MOST_UNKEPT = 200;

/** What was begun, and what was said to it. */
const Begun = z.object({ key: z.string(), seed: z.number(), answer: DrillAnswer.optional().catch(undefined) });

/** Drills one after another: what is shown, what was answered, and how one stands. */
export function useDrills() {
  const session = useSession();
  const answers = useAnswer('What you know', questions.drills);
  const standings = computed<DrillStanding[]>({ get: () => answers.value.value ?? [], set: answers.put });
  const spots = shallowRef<WeakSpot[]>([]);
  const trouble = ref('');
  const level = useStored<Level | 0>('keen.drills.level', z.union([z.literal(0), Level]), 0);
  /** The drill begun last is there again after a reload, with its answer once that is given. */
  const begun = useStored<z.infer<typeof Begun> | null>(personalKey('drill'), Begun.nullable(), null);
  /** Answers that are not on record yet, whatever was begun since. */
  const unkept = useStored<unknown[]>(personalKey('drill.unkept'), z.array(z.unknown()), []);
  const before = begun.value?.answer;
  const cause = ref<Cause | ''>(before?.cause ?? '');
  const cure = ref<Cure | ''>(before?.cure ?? '');
  const judged = shallowRef<DrillJudgement | null>(before ? judgeDrill(before) : null);

  const byKey = computed(
    () =>
      Object.fromEntries(standings.value.map((s) => [s.situation, s])) as Partial<Record<SituationKey, DrillStanding>>,
  );
  const isOne = (key: string): key is SituationKey => Object.hasOwn(SITUATIONS, key);
  // by key and seed alone: what is shown is not drawn anew because it was answered
  const which = computed(() => (begun.value && isOne(begun.value.key) ? `${begun.value.key} ${begun.value.seed}` : ''));
  const drill = computed(() => {
    const [key, seed] = which.value.split(' ');
    return key ? drillOf(key as SituationKey, Number(seed)) : null;
  });

  function next(): void {
    const seed = Math.floor(SEEDS * Math.random());
    const last = begun.value && isOne(begun.value.key) ? begun.value.key : null;
    const known: Partial<Record<SituationKey, Standing>> = byKey.value;
    begun.value = { key: nextSituation(known, level.value || null, last, seeded(seed)), seed };
    [cause.value, cure.value, judged.value] = ['', '', null];
  }
  /** One that was chosen by hand, with other figures. */
  function take(key: SituationKey): void {
    begun.value = { key, seed: Math.floor(SEEDS * Math.random()) };
    [cause.value, cure.value, judged.value] = ['', '', null];
  }
  async function answer(): Promise<void> {
    const d = drill.value;
    if (!d || !cause.value || !cure.value || judged.value) return;
    const given = { situation: d.key, seed: d.seed, cause: cause.value, cure: cure.value };
    judged.value = judgeDrill(given);
    begun.value = { key: d.key, seed: d.seed, answer: given };
    await keep(given);
    if (trouble.value || !session.mayEdit) putIn(withAnswer(byKey.value[d.key], judged.value, d.key));
    if (session.isSteward) await loadSpots();
  }
  const putIn = (now: DrillStanding) =>
    (standings.value = [...standings.value.filter((s) => s.situation !== now.situation), now]);
  /** Puts an answer on record; the server keeps the first to a drill. A guest learns without a record. */
  async function keep(given: DrillAnswer): Promise<void> {
    if (!session.mayEdit) return;
    const others = () => unkept.value.filter((u) => JSON.stringify(u) !== JSON.stringify(given));
    unkept.value = [...others(), given].slice(-MOST_UNKEPT);
    const got = await call(api.answerDrill, { body: given });
    trouble.value = got.ok
      ? ''
      : `Judged, but not kept: ${problemText(got.problem)} It is sent again when this screen is opened.`;
    if (!got.ok) return;
    putIn(got.value.standing);
    unkept.value = others();
  }
  function withAnswer(before: DrillStanding | undefined, j: DrillJudgement, situation: SituationKey): DrillStanding {
    return {
      situation,
      tries: (before?.tries ?? 0) + 1,
      causeRight: (before?.causeRight ?? 0) + Number(j.causeRight),
      cureRight: (before?.cureRight ?? 0) + Number(j.cureRight),
      latest: [j.causeRight && j.cureRight, ...(before?.latest ?? [])].slice(0, LATEST),
      at: new Date().toISOString(),
    };
  }
  async function loadSpots(): Promise<void> {
    const got = await call(api.weakSpots);
    if (got.ok) spots.value = got.value;
  }
  async function load(): Promise<void> {
    if (!answers.there.value) await answers.load();
    for (const waiting of unkept.value) {
      const given = DrillAnswer.safeParse(waiting);
      // of a situation that is no more
      if (!given.success) unkept.value = unkept.value.filter((u) => u !== waiting);
      else await keep(given.data);
    }
    if (session.isSteward) await loadSpots();
    if (!drill.value) next();
  }
  const knownCount = computed(() => SITUATION_KEYS.filter((k) => isKnown(byKey.value[k])).length);
  const missed = computed(() => standings.value.filter((s) => s.latest[0] === false).map((s) => s.situation));
  return {
    answers,
    standings,
    byKey,
    spots,
    trouble,
    level,
    drill,
    cause,
    cure,
    judged,
    next,
    take,
    answer,
    load,
    knownCount,
    missed,
  };
}
