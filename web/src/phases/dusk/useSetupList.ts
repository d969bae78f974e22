import { api, type SetupListRecord } from '@keen/contract';
import { useIntervalFn, useOnline } from '@vueuse/core';
import { computed, markRaw, ref, shallowRef, watch } from 'vue';
import { call } from '../../api/client.ts';
import { problemText } from '../../common/outcome.ts';
import { personalKey } from '../../common/personal.ts';
import { Ticks, useStored } from '../../common/stored.ts';
import { useClub } from '../../stores/club.ts';
import { useSession } from '../../stores/session.ts';
import { latestOnly } from '../../common/latestOnly.ts';

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
  const list = shallowRef<SetupListRecord | null>(null);
  const trouble = ref('');
  const slot = computed(() => personalKey(`ticks.${club.rig?.id ?? ''}.${club.night}`));
  /** Ticks not yet taken by the server: key → done. */
  const waiting = useStored(slot, Ticks, {}, { flush: 'sync' });
  const ask = latestOnly();

  async function load(): Promise<void> {
    const [rig, night] = [club.rig, club.night];
    if (!rig || !night) return;
    const late = ask();
    const got = await call(api.setupList, { params: { id: rig.id }, query: { night } });
    if (late()) return;
    if (got.ok) list.value = got.value;
    trouble.value = got.ok ? '' : problemText(got.problem);
  }
  let sending = false;
  async function send(): Promise<void> {
    if (sending || !club.rig) return;
    sending = true;
    const [rigId, night] = [club.rig.id, club.night];
    for (const [key, done] of Object.entries(waiting.value)) {
      const got = await call(api.tickSetup, { params: { id: rigId }, body: { night, key, done } });
      if (rigId !== club.rig?.id || night !== club.night) break;
      if (got.ok) {
        ask(); // what is still being read was read before this tick
        list.value = got.value;
      }
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
      list.value = null;
      void load().then(send);
    },
    { immediate: true },
  );
  watch(online, (on) => on && void send());
  useIntervalFn(() => void (Object.keys(waiting.value).length ? send() : load()), FETCH_MS);

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
  const there = computed(() => list.value !== null);
  const answer = markRaw({
    what: 'The set-up list',
    trouble: computed(() => (there.value ? '' : trouble.value)),
    there,
    load,
  });
  return { answer, list, steps, trouble, tick, load };
}
export type SetupStep = ReturnType<typeof useSetupList>['steps']['value'][number];
