import { api, type SessionInfo } from '@keen/contract';
import { defineStore } from 'pinia';
import { computed, shallowRef } from 'vue';
import { call, holdToken, said, type Answer } from '../api/client.ts';

export const useSession = defineStore('session', () => {
  const info = shallowRef<SessionInfo | null>(null);
  const trouble = shallowRef('');
  const member = computed(() => info.value?.member ?? null);
  const mayEdit = computed(() => member.value !== null && member.value.role !== 'guest');
  const isSteward = computed(() => member.value?.role === 'steward');

  function take(got: Answer<SessionInfo>): boolean {
    if (got.ok) {
      info.value = got.value;
      holdToken(got.value.csrfToken);
      trouble.value = '';
    } else trouble.value = said(got.problem);
    return got.ok;
  }
  const load = async () => take(await call(api.session));
  const signIn = async (body: { signIn: string; password: string }) => take(await call(api.signIn, { body }));
  const setup = async (body: { club: string; name: string; signIn: string; password: string }) =>
    take(await call(api.setup, { body }));
  async function signOut() {
    await call(api.signOut);
    info.value = null;
    await load();
  }
  return { info, member, mayEdit, isSteward, trouble, load, signIn, setup, signOut };
});
