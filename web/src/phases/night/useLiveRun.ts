import { api, type LiveRun, type NumberedEvent } from '@keen/contract';
import { Followed, outlook, standing, underWay, type Coming, type CommandCode, type Happened } from '@keen/core/run';
import type { Fault } from '@keen/core/observatory';
import { computed, onScopeDispose, ref, shallowRef, watch, type Ref } from 'vue';
import { useIntervalFn } from '@vueuse/core';
import { call } from '../../api/client.ts';
import { questions } from '../../api/questions.ts';
import { hearRun } from '../../api/runStream.ts';
import type { Hearing } from '../../api/stream.ts';
import { useAnswer } from '../../common/answer.ts';
import { problemText, type Outcome } from '../../common/outcome.ts';
import { useClub } from '../../stores/club.ts';
import { useSession } from '../../stores/session.ts';

/** What happened is shown so often at most; what comes next, which is played ahead, less often [ms]. */
const SHOW_MS = 100;
const AHEAD_MS = 500;
/** Played ahead so far: the next three things, with what comes between them. */
const AHEAD = 14;
/** The rest of the night is played ahead for the strip every so often, and so far [ms]. */
const NIGHT_MS = 10_000;
const NIGHT = 1500;
/** How often it is asked for what came of a run that is over, until it is there [ms]. */
const OVER_MS = 1000;

/** A run as it goes on: what is made of its events, who has the controls, and what can be asked for. */
export function useLiveRun(id: Readonly<Ref<string>>) {
  const session = useSession();
  const head = useAnswer('run', () => questions.liveRun(id.value));
  const hearing = ref<Hearing>('deaf');
  const there = ref(false);
  const trouble = ref('');
  let followed = new Followed();
  /** Counted up when what is shown is another. */
  const shown = ref(0);
  const ahead = ref(0);
  let shownAt = -Infinity;
  let drawing: ReturnType<typeof setTimeout> | undefined;
  let looking: ReturnType<typeof setTimeout> | undefined;
  const aheadNight = shallowRef<Coming[]>([]);
  const lookFar = () => (aheadNight.value = followed.state ? outlook(followed.state, NIGHT) : []);
  useIntervalFn(lookFar, NIGHT_MS);
  let stop: () => void = () => undefined;

  function take(events: readonly NumberedEvent[]): void {
    for (const { event } of events) followed.add(event as Happened);
    // at once, where nothing was shown just now
    drawing ??= setTimeout(
      () => {
        drawing = undefined;
        shownAt = performance.now();
        shown.value++;
      },
      Math.max(0, shownAt + SHOW_MS - performance.now()),
    );
    looking ??= setTimeout(() => {
      looking = undefined;
      ahead.value++;
      // the night to come is drawn as soon as something is known of it
      if (aheadNight.value.length === 0) lookFar();
    }, AHEAD_MS);
  }
  watch(
    id,
    (now) => {
      stop();
      followed = new Followed();
      there.value = false;
      shown.value++;
      stop = hearRun(now, {
        happened: take,
        hearing: (how) => (hearing.value = how),
        caughtUp: () => {
          if (there.value) return;
          there.value = true;
          shown.value++;
          ahead.value++;
          lookFar();
        },
      });
    },
    { immediate: true },
  );
  onScopeDispose(() => {
    stop();
    clearTimeout(drawing);
    clearTimeout(looking);
  });
  const of = <T>(what: (f: Followed) => T) => computed(() => (shown.value >= 0 ? what(followed) : null!));

  const state = of((f) => f.state);
  // what a run is said to have come to is read anew when it is over
  const again = useIntervalFn(() => void head.load(), OVER_MS, { immediate: false });
  watch(
    () => state.value?.finished === true && head.value.value?.state === 'running',
    (soon) => (soon ? again.resume() : again.pause()),
  );
  const run = computed(() => head.value.value);
  const club = useClub();
  // its plan says now that it was run
  watch(
    () => run.value?.state,
    (now, was) => was === 'running' && now === 'ended' && void club.loadPlans(),
  );
  const mine = computed(() => run.value?.holderId === session.member?.id);
  const busy = ref(false);
  async function send(what: () => Promise<Outcome<LiveRun>>): Promise<void> {
    busy.value = true;
    trouble.value = '';
    const got = await what();
    busy.value = false;
    if (got.ok) head.put(got.value);
    else trouble.value = problemText(got.problem);
  }
  const params = () => ({ id: id.value });
  return {
    head,
    run,
    state,
    hearing,
    there,
    trouble,
    busy,
    mine,
    byOthers: of((f) => f.byOthers),
    says: of((f) => [...f.says]),
    traces: of((f) => f.traces),
    thrown: of((f) => [...f.thrown]),
    verdict: of((f) => (f.state ? standing(f.state, f.says) : null)),
    /** Of the second camera: what was said of it, and what it is at; undefined: there is none. */
    besideSays: of((f) => [...f.besideSays]),
    besideNow: of((f) => (f.state?.beside ? underWay(f.state.beside) : undefined)),
    /** What is under way and the next three things. */
    coming: computed(() => (ahead.value >= 0 && followed.state ? outlook(followed.state, AHEAD) : [])),
    /** The rest of the night, as it would be if nothing went wrong from when it was looked last. */
    aheadNight,
    ask: (code: CommandCode) => send(() => call(api.commandRun, { params: params(), body: { code } })),
    speed: (speed: number) => send(() => call(api.setRunSpeed, { params: params(), body: { speed } })),
    controls: (what: 'ask' | 'give' | 'leave' | 'take') =>
      send(() => call(api.runControls, { params: params(), body: { do: what } })),
    throwFault: (body: { fault: Fault | null; withinMin: number }) =>
      send(() => call(api.throwFault, { params: params(), body })),
  };
}
export type FollowedRun = ReturnType<typeof useLiveRun>;
