import { api, USUAL_SETTINGS, type ClubSettings, type SessionInfo } from '@keen/contract';
import { defineStore } from 'pinia';
import type { z } from 'zod';
import { computed, shallowRef } from 'vue';
import { call, holdToken } from '../api/client.ts';
import { serverState } from '../api/serverState.ts';
import { problemText, type Outcome } from '../common/outcome.ts';
import { forgetPerson, holdPerson } from '../common/personal.ts';

type BeginBody = z.input<typeof api.begin.body>;

export const useSession = defineStore('session', () => {
  const info = shallowRef<SessionInfo | null>(null);
  const trouble = shallowRef('');
  /** What the last refusal was about, for the screen to act on. */
  const refusal = shallowRef('');
  const member = computed(() => info.value?.member ?? null);
  const mayEdit = computed(() => ['member', 'steward'].includes(member.value?.role ?? ''));
  /** Sees runs, and nothing else of the club. */
  const watchesOnly = computed(() => member.value?.role === 'watcher');
  /** One person with their own equipment: nobody to share, lock or ask. */
  const alone = computed(() => member.value?.clubKind === 'alone');
  /** What everybody here begins with. */
  const settings = computed<ClubSettings>(() => info.value?.settings ?? USUAL_SETTINGS);
  const holdSettings = (now: ClubSettings) => void (info.value = info.value && { ...info.value, settings: now });
  const isSteward = computed(() => member.value?.role === 'steward');

  function take(got: Outcome<SessionInfo>): boolean {
    if (got.ok) {
      // what was held for somebody else is not shown to whoever comes next
      if (got.value.member?.id !== info.value?.member?.id) serverState.clear();
      info.value = got.value;
      holdToken(got.value.csrfToken);
      holdPerson(got.value.member?.id ?? '');
      [trouble.value, refusal.value] = ['', ''];
    } else {
      refusal.value = got.problem.code;
      // the code asked for after the password is the next step, no fault
      trouble.value = refusal.value === 'code_needed' ? '' : problemText(got.problem);
    }
    return got.ok;
  }
  const load = async () => take(await call(api.session));
  const signIn = async (body: z.input<typeof api.signIn.body>) => take(await call(api.signIn, { body }));
  const enterDemo = async (name: string) => take(await call(api.enterDemo, { body: { signIn: name } }));
  const join = async (body: z.input<typeof api.join.body>) => take(await call(api.join, { body }));
  const begin = async (body: BeginBody) => take(await call(api.begin, { body }));
  const removeDemo = async () => take(await call(api.removeDemo));
  const restoreDemo = async () => take(await call(api.restoreDemo));
  /** What was typed and not saved goes too: the next person at this browser is somebody else. */
  async function signOut() {
    const id = member.value?.id;
    await call(api.signOut);
    if (id) forgetPerson(id);
    info.value = null;
    serverState.clear();
    await load();
  }
  return {
    info,
    member,
    mayEdit,
    watchesOnly,
    isSteward,
    alone,
    settings,
    holdSettings,
    trouble,
    refusal,
    load,
    signIn,
    enterDemo,
    begin,
    join,
    removeDemo,
    restoreDemo,
    signOut,
  };
});
