<script setup lang="ts">
import { Button, Popconfirm, message } from 'ant-design-vue';
import { computed, ref } from 'vue';
import { useRouter } from 'vue-router';
import { useSession } from '../../stores/session.ts';

/** The demo club on this installation: taken away and brought back, by its steward or the owner. */
const session = useSession();
const router = useRouter();
const busy = ref(false);
const there = computed(() => session.info?.demo !== null);
const mayRemove = computed(
  () => there.value && (session.member?.owner === true || (session.member?.demo === true && session.isSteward)),
);
const mayRestore = computed(() => session.info?.mayRestoreDemo === true);
async function remove() {
  busy.value = true;
  const ok = await session.removeDemo();
  busy.value = false;
  if (!ok) return void message.error(session.trouble);
  void message.success('The demo club is put away. It can be brought back.');
  if (!session.member) await router.replace('/sign-in');
}
async function restore() {
  busy.value = true;
  const ok = await session.restoreDemo();
  busy.value = false;
  void (ok
    ? message.success('The demo club is back; look round from the sign-in page.')
    : message.error(session.trouble));
}
</script>

<template>
  <section v-if="mayRemove || mayRestore" class="panel stack narrow" data-test="installation">
    <h2>Demo club</h2>
    <p class="muted small">
      An invented club with rigs, projects and nights to look round in. Your own records are not touched by either
      button.
    </p>
    <div class="row">
      <Popconfirm
        v-if="mayRemove"
        title="Take the demo club away, with everything done in it? It can be brought back as it was at first."
        ok-text="Take it away"
        @confirm="remove"
      >
        <Button danger :loading="busy">Take the demo away</Button>
      </Popconfirm>
      <Button v-if="mayRestore" :loading="busy" @click="restore">Bring the demo back</Button>
    </div>
  </section>
</template>

<style scoped>
.narrow {
  max-width: 820px;
}
</style>
