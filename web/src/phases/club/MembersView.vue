<script setup lang="ts">
import { questions } from '../../api/questions.ts';
import { api, RoleName, type MemberInfo } from '@keen/contract';
import { Button, Input, InputPassword, Modal, Popconfirm, SelectOption, message } from 'ant-design-vue';
import { reactive, ref, shallowRef } from 'vue';
import { call } from '../../api/client.ts';
import { useAnswer } from '../../common/answer.ts';
import WhenThere from '../../common/WhenThere.vue';
import { problemPlaces, problemText } from '../../common/outcome.ts';
import PickOne from '../../common/PickOne.vue';
import ListTable, { type Column } from '../../common/ListTable.vue';
import InstallationPanel from './InstallationPanel.vue';
import InvitePanel from './InvitePanel.vue';
import { useShortcut } from '../../common/shortcuts.ts';
import { useSession } from '../../stores/session.ts';

const session = useSession();
const members = useAnswer('The members', questions.members);
const load = members.load;
const adding = ref(false);
const blank = { name: '', signIn: '', password: '', role: 'member' as MemberInfo['role'] };
const fresh = reactive({ ...blank });
const trouble = ref('');
useShortcut('n', () => session.isSteward && (adding.value = true));
const columns: Column<MemberInfo>[] = [
  { key: 'name', title: 'Name', value: (m) => m.name },
  { key: 'role', title: 'Role', value: (m) => m.role },
  { key: 'signIn', title: 'Sign-in name', value: (m) => m.signIn },
  { key: 'factor', title: 'Second factor', value: (m) => (m.secondFactor ? 'on' : '') },
];
const ROLES = RoleName.options;
const renewing = shallowRef<MemberInfo | null>(null);
const renewed = ref('');
function stopRenewing() {
  renewing.value = null;
  renewed.value = '';
  trouble.value = '';
}
type Change =
  | { role: MemberInfo['role'] }
  | { password: string }
  | { ended: true; withoutName?: true }
  | { withoutSecondFactor: true };
async function change(m: MemberInfo, body: Change): Promise<boolean> {
  const got = await call(api.changeMember, { params: { id: m.id }, body });
  if (got.ok) {
    void message.success(`${m.name}: done; they sign in again.`);
    await load();
  } else {
    const why = got.problem.issues?.map((i) => i.message).join('; ') || problemText(got.problem);
    if (renewing.value) trouble.value = why;
    else void message.error(why);
  }
  return got.ok;
}
async function renew() {
  if (renewing.value && (await change(renewing.value, { password: renewed.value }))) stopRenewing();
}
async function add() {
  const got = await call(api.addMember, { body: { ...fresh } });
  if (!got.ok) {
    trouble.value = problemPlaces(got.problem);
    return;
  }
  adding.value = false;
  trouble.value = '';
  Object.assign(fresh, blank);
  void message.success(`${got.value.name} can sign in now.`);
  await load();
}
</script>

<template>
  <section class="panel stack narrow">
    <div class="row spread">
      <h2>{{ session.member?.club }}</h2>
      <Button v-if="session.isSteward" title="n" @click="adding = true">{{
        session.alone ? 'Add a person' : 'Add a member'
      }}</Button>
    </div>
    <p v-if="session.alone" class="muted small">
      You keep everything here. Somebody you add can plan and run with you, or only look on.
    </p>
    <p v-else class="muted small">
      Stewards add rigs and sites and take them away; members set the rigs up, keep parts of their own, plan, run and
      adopt; guests look on. Every change is written down with its author.
    </p>
    <WhenThere :of="[members]">
      <ListTable :rows="members.value.value ?? []" :columns="columns" name="members" :row-key="(m) => m.id">
        <template v-if="session.isSteward" #acts="{ row }">
          <span v-if="row.id !== session.member?.id" class="row">
            <PickOne
              :value="row.role"
              :label="`Role of ${row.name}`"
              size="small"
              class="role"
              :options="ROLES.map((r) => ({ value: r, label: r }))"
              @update:value="change(row, { role: String($event) as MemberInfo['role'] })"
            />
            <Button v-if="!row.demo" size="small" @click="renewing = row">New password</Button>
            <Popconfirm
              v-if="row.secondFactor"
              :title="`Has ${row.name} lost the device? They sign in by password alone until they set it up again.`"
              ok-text="Turn it off"
              @confirm="change(row, { withoutSecondFactor: true })"
            >
              <Button size="small">Factor off</Button>
            </Popconfirm>
            <Popconfirm
              :title="`End the membership of ${row.name}? What they did stays in the record.`"
              ok-text="End it"
              @confirm="change(row, { ended: true })"
            >
              <Button size="small" danger>End</Button>
            </Popconfirm>
            <Popconfirm
              :title="`End the membership of ${row.name}, and take the name out of the records? What was done stays, as a former member’s. This cannot be undone.`"
              ok-text="End and forget"
              @confirm="change(row, { ended: true, withoutName: true })"
            >
              <Button size="small" danger>Forget</Button>
            </Popconfirm>
          </span>
        </template>
      </ListTable>
    </WhenThere>
  </section>
  <InvitePanel v-if="session.isSteward && !session.member?.demo" />
  <InstallationPanel />
  <Modal
    :open="renewing !== null"
    :title="`New password for ${renewing?.name ?? ''}`"
    ok-text="Set it"
    @ok="renew"
    @cancel="stopRenewing"
  >
    <div class="stack labels">
      <label>New password<InputPassword v-model:value="renewed" autocomplete="new-password" /></label>
      <p class="muted small">
        Tell it to them; they can change it themselves. Wherever they are signed in, they sign in again.
      </p>
      <p v-if="trouble" class="level-bad" role="alert">{{ trouble }}</p>
    </div>
  </Modal>
  <Modal v-model:open="adding" title="Add a member" ok-text="Add" @ok="add">
    <div class="stack labels">
      <label>Name<Input v-model:value="fresh.name" /></label>
      <label>Sign-in name<Input v-model:value="fresh.signIn" /></label>
      <label>First password<InputPassword v-model:value="fresh.password" autocomplete="new-password" /></label>
      <PickOne v-model:value="fresh.role" label="Role" shown>
        <SelectOption v-for="r in ROLES" :key="r" :value="r">{{ r }}</SelectOption>
      </PickOne>
      <p v-if="trouble" class="level-bad" role="alert">{{ trouble }}</p>
    </div>
  </Modal>
</template>

<style scoped>
.role {
  width: 110px;
  text-align: left;
}
.narrow {
  max-width: 820px;
}
</style>
