<script setup lang="ts">
import { questions } from '../../api/questions.ts';
import { api, RoleName, type MemberInfo } from '@keen/contract';
import { Button, Input, SelectOption, message } from 'ant-design-vue';
import dayjs from 'dayjs';
import { reactive, ref } from 'vue';
import { call } from '../../api/client.ts';
import { useAnswer } from '../../common/answer.ts';
import WhenThere from '../../common/WhenThere.vue';
import { problemText } from '../../common/outcome.ts';
import PickOne from '../../common/PickOne.vue';
import { useSession } from '../../stores/session.ts';

/** One-time links: made, told once, and those that still wait. */
const session = useSession();
const waiting = useAnswer('The invitations that wait', questions.invitations);
const load = waiting.load;
const fresh = reactive({ name: '', role: 'member' as MemberInfo['role'] });
const link = ref('');
const trouble = ref('');
const busy = ref(false);
async function invite() {
  busy.value = true;
  const got = await call(api.invite, { body: { ...fresh } });
  busy.value = false;
  trouble.value = got.ok ? '' : problemText(got.problem);
  if (!got.ok) return;
  link.value = `${location.origin}/join#${got.value.token}`;
  Object.assign(fresh, { name: '', role: 'member' });
  await load();
}
async function copy() {
  // a page without HTTPS beyond this machine may not write there: the link stands selected in its field
  const done = await navigator.clipboard?.writeText(link.value).then(
    () => true,
    () => false,
  );
  void (done ? message.success('Copied.') : message.info('Mark the link and copy it by hand.'));
}
async function withdraw(id: string) {
  const got = await call(api.withdrawInvitation, { params: { id } });
  if (!got.ok) void message.error(problemText(got.problem));
  await load();
}
const ROLES = RoleName.options;
</script>

<template>
  <section class="panel stack narrow">
    <h2>Invite somebody</h2>
    <p class="muted small">
      They choose their own sign-in name and password. A guest looks at everything and changes nothing; a watcher sees
      runs and nothing else.
      <template v-if="session.info?.local">
        This server answers on this machine only, so the link opens here and nowhere else until it listens beyond it
        (the README says how).
      </template>
    </p>
    <form class="ask labels" @submit.prevent="invite">
      <label>Name, if you like<Input v-model:value="fresh.name" :maxlength="120" /></label>
      <PickOne v-model:value="fresh.role" label="They come as" shown>
        <SelectOption v-for="r in ROLES" :key="r" :value="r">{{ r }}</SelectOption>
      </PickOne>
      <Button html-type="submit" :loading="busy">Make a link</Button>
    </form>
    <p v-if="trouble" class="level-bad" role="alert">{{ trouble }}</p>
    <div v-if="link" class="link labels" data-test="link">
      <label
        >Send this to them; it works once, for a week, and is shown now only<Input
          :value="link"
          readonly
          class="mono"
          @focus="($event.target as HTMLInputElement).select()"
      /></label>
      <Button @click="copy">Copy</Button>
    </div>
    <WhenThere :of="[waiting]" />
    <ul v-if="waiting.value.value?.length" class="waiting">
      <li v-for="i in waiting.value.value" :key="i.id" class="row spread">
        <span class="small"
          >{{ i.name || 'Somebody' }} as {{ i.role }}, invited by {{ i.by }}, until
          {{ dayjs(i.expiresAt).format('D MMM, HH:mm') }}</span
        >
        <Button size="small" @click="withdraw(i.id)">Withdraw</Button>
      </li>
    </ul>
  </section>
</template>

<style scoped>
.narrow {
  max-width: 820px;
}
.ask,
.link {
  display: grid;
  grid-template-columns: minmax(0, 1fr) 150px auto;
  gap: 10px;
  align-items: end;
}
.link {
  grid-template-columns: minmax(0, 1fr) auto;
  border-left: 4px solid var(--accent);
  padding-left: 12px;
}
.waiting {
  list-style: none;
  margin: 0;
  padding: 0;
  display: grid;
  gap: 6px;
}
</style>
