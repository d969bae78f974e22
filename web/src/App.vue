<script setup lang="ts">
import { useTitle } from '@vueuse/core';
import { ConfigProvider, Modal, Spin } from 'ant-design-vue';
import { computed, onMounted, ref, useTemplateRef, watch } from 'vue';
import { RouterLink, RouterView, useRoute, useRouter } from 'vue-router';
import AppHeader from './common/AppHeader.vue';
import DayArc from './common/DayArc.vue';
import HatchDefs from './common/HatchDefs.vue';
import LiveNotices from './common/LiveNotices.vue';
import RigStopped from './common/RigStopped.vue';
import ProofDialog from './common/ProofDialog.vue';
import StillComing from './common/StillComing.vue';
import UnreadDrafts from './common/UnreadDrafts.vue';
import QuickFind from './common/QuickFind.vue';
import { SHORTCUTS, useShortcut } from './common/shortcuts.ts';
import { isWatched, PHASES, phasesFor, WATCHED_PATHS } from './phases/phases.ts';
import { useClub } from './stores/club.ts';
import { useLight } from './stores/light.ts';
import { useLive } from './stores/live.ts';
import { useSession } from './stores/session.ts';
import { core as startWorker } from './workers/index.ts';

const session = useSession();
const club = useClub();
useLive().begin();
// from the first moment on the page is in its light
useLight();
const route = useRoute();
const router = useRouter();
const finding = ref(false);
const helping = ref(false);
const ready = ref(false);
const phase = computed(() => phasesFor(session).find((p) => p.key === route.path.split('/')[1]));
const open = computed(() => route.meta.open === true);
/** The task whose screen this is. */
const here = computed(() => (route.meta.task as string | undefined) ?? route.path);
/** What a tab, a history or a screen reader calls this page. */
useTitle(() => {
  const task = phase.value?.tasks.find((t) => t.path === route.path)?.title ?? route.meta.title;
  const inPhase = task === 'Summary' ? `${phase.value!.title}, summary` : task;
  return inPhase ? `${inPhase} · Keen Meridian` : 'Keen Meridian';
});

onMounted(async () => {
  await session.load();
  // a first screen that could not be had is the router's to tell; the page around it stands
  await router.isReady().catch(() => undefined);
  ready.value = true;
});
watch(
  () => session.member?.id,
  async (id) => {
    club.forget();
    if (!id) return;
    // both take a while to come: neither waits for the screen that will ask for them
    startWorker();
    await club.load();
  },
);
watch([() => session.member?.id, ready], async ([id]) => {
  if (!id && ready.value && !open.value) await router.replace({ path: '/sign-in', query: { to: route.fullPath } });
});
PHASES.forEach((_p, i) =>
  useShortcut(String(i + 1), () => {
    const phase = phasesFor(session)[i];
    if (phase) void router.push(phase.path);
  }),
);
// who only watches is led to what there is to watch
watch([() => session.watchesOnly, () => route.path], ([only, path]) => {
  if (only && !isWatched(path) && route.meta.open !== true) void router.replace(WATCHED_PATHS[0]!);
});
useShortcut('/', () => (finding.value = session.member !== null));
useShortcut('?', () => (helping.value = true));
useShortcut('[', () => club.stepNight(-1));
useShortcut(']', () => club.stepNight(1));
const screen = useTemplateRef<HTMLElement>('screen');
/** Past the header and the phases, for whoever goes by keyboard. */
const toScreen = () => screen.value?.focus();
const online = ref(navigator.onLine);
window.addEventListener('online', () => (online.value = true));
window.addEventListener('offline', () => (online.value = false));
</script>

<template>
  <!-- the toolkit’s picture of an empty list has colours of its own, which are of no light -->
  <ConfigProvider :wave="{ disabled: true }" :render-empty="() => 'Nothing of that name'">
    <HatchDefs />
    <RouterView v-if="(open || (route.meta.alone && session.member && club.loaded)) && ready" />
    <template v-else-if="ready && session.member">
      <a class="skip" href="#screen" @click.prevent="toScreen">Skip to the screen</a>
      <AppHeader @find="finding = true" @help="helping = true" />
      <div class="frame">
        <DayArc />
        <main id="screen" ref="screen" tabindex="-1">
          <div v-if="!online || club.trouble" class="strip" role="alert">
            {{
              online ? club.trouble : 'No connection. You can go on; drafts are kept here and saved when it is back.'
            }}
            <button v-if="club.trouble && !club.missing.length" type="button" @click="club.load()">Try again</button>
          </div>
          <UnreadDrafts />
          <LiveNotices />
          <RigStopped v-if="club.loaded" />
          <nav v-if="phase && phase.tasks.length > 1" class="tabs no-print" :aria-label="`${phase.title} tasks`">
            <RouterLink
              v-for="t in phase.tasks"
              :key="t.path"
              :to="t.path"
              :class="{ here: here === t.path }"
              :aria-current="here === t.path ? 'page' : undefined"
            >
              {{ t.title }}
            </RouterLink>
          </nav>
          <StillComing
            v-if="club.loaded && club.missing.length"
            :what="`The ${club.missing.join(', ')}`"
            :failed="club.trouble"
            @again="club.load()"
          />
          <RouterView v-else-if="club.loaded" />
          <Spin v-else class="wait" tip="Reading the records" />
        </main>
      </div>
      <QuickFind v-model:open="finding" />
      <ProofDialog />
      <Modal v-model:open="helping" title="Shortcuts" :footer="null">
        <table class="figures">
          <tbody>
            <tr v-for="[keys, what] in SHORTCUTS" :key="keys">
              <td class="mono">{{ keys }}</td>
              <td>{{ what }}</td>
            </tr>
          </tbody>
        </table>
      </Modal>
    </template>
    <Spin v-else class="wait" />
  </ConfigProvider>
</template>

<style scoped>
.skip {
  position: absolute;
  left: -999px;
  z-index: 20;
  padding: 8px 12px;
  background: var(--surface);
  border: 1px solid var(--accent);
}
.skip:focus {
  left: 8px;
  top: 8px;
}
main:focus {
  outline: none;
}
.frame {
  display: grid;
  grid-template-columns: 104px minmax(0, 1fr);
}
main {
  padding: 12px 22px 40px;
  max-width: 1560px;
  display: grid;
  grid-template-columns: minmax(0, 1fr);
  gap: 14px;
  align-content: start;
}
.tabs {
  display: flex;
  gap: 26px;
  box-shadow: inset 0 -1px var(--line);
  overflow: auto hidden;
}
.tabs a {
  padding: 8px 0 9px;
  color: var(--ink-2);
  text-decoration: none;
  border-bottom: 2px solid transparent;
  white-space: nowrap;
}
.tabs .here {
  color: var(--ink);
  font-weight: 700;
  border-color: var(--accent);
}
.wait {
  display: block;
  margin: 20vh auto;
}
@media print {
  .frame {
    display: block;
  }
  main {
    padding: 0;
  }
}
@media (max-width: 760px) {
  .frame {
    grid-template-columns: minmax(0, 1fr);
  }
  main {
    padding: 8px 10px 80px;
  }
}
</style>
