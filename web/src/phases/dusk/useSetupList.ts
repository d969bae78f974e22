import { api } from '@keen/contract';
import { useIntervalFn, useOnline } from '@vueuse/core';
import { computed, ref, watch } from 'vue';
import { call } from '../../api/client.ts';
import { questions } from '../../api/questions.ts';
import { useAnswer } from '../../common/answer.ts';
import { problemText } from '../../common/outcome.ts';
import { personalKey } from '../../common/personal.ts';
import { Ticks, useStored } from '../../common/stored.ts';
import { useClub } from '../../stores/club.ts';
import { useSession } from '../../stores/session.ts';

/** How often other people's ticks are fetched [ms]. */
const FETCH_MS = 20_000;

/**
 * The set-up list of the chosen rig and night. A tick made without a connection is kept in this browser and sent when the
 * server answers again: nobody in a dark field should have to remember what was done.
 */
export function useSetupList() {
  const club = useClub();
  const session = useSession();
  const online = useOnline();
  const answer = useAnswer('The set-up list', () =>
    club.rig && club.night ? questions.setupList(club.rig.id, club.night) : null,
  );
  const list = computed(() => answer.value.value);
  /** What became of a tick. */
  const trouble = ref('');
  const slot = computed(() => personalKey(`ticks.${club.rig?.id ?? ''}.${club.night}`));
  /** Ticks not yet taken by the server: key → done. */
  const waiting = useStored(slot, Ticks, {}, { flush: 'sync' });
  let sending = false;
  async function send(): Promise<void> {
    if (sending || !club.rig) return;
    sending = true;
    const [rigId, night] = [club.rig.id, club.night];
    for (const [key, done] of Object.entries(waiting.value)) {
      const got = await call(api.tickSetup, { params: { id: rigId }, body: { night, key, done } });
      if (rigId !== club.rig?.id || night !== club.night) break;
      if (got.ok) answer.put(got.value);
      // no answer: keep it for later; a refusal is said and not tried again
      if (!got.ok && got.problem.status === 0) {
        trouble.value = problemText(got.problem);
        break;
      }
      trouble.value = got.ok ? '' : problemText(got.problem);
      if (waiting.value[key] === done) {
        const { [key]: _sent, ...rest } = waiting.value;
        waiting.value = rest;
      }
    }
    sending = false;
    if (Object.keys(waiting.value).length && !trouble.value) void send();
  }
  function tick(key: string, done: boolean): void {
    waiting.value = { ...waiting.value, [key]: done };
    void send();
  }
  watch(
    () => [club.rig?.id, club.night],
    () => {
      trouble.value = '';
      void send();
    },
    { immediate: true },
  );
  watch(online, (on) => on && void send());
  useIntervalFn(() => void (Object.keys(waiting.value).length ? send() : answer.load()), FETCH_MS);

  const steps = computed(() =>
    (list.value?.items ?? []).map((item) => {
      const tick = list.value!.ticks.find((t) => t.key === item.key);
      const pending = waiting.value[item.key];
      return {
        ...item,
        done: pending ?? tick !== undefined,
        pending: pending !== undefined,
        by: pending === true ? (session.member?.name ?? '') : (tick?.by ?? ''),
        at: tick?.at ?? null,
      };
    }),
  );
  return { answer, list, steps, trouble, tick };
}
export type SetupStep = ReturnType<typeof useSetupList>['steps']['value'][number];
