<script setup lang="ts">
import { Modal } from 'ant-design-vue';
import { OBJECT_TYPES, type CatalogueEntry } from '@keen/core/sky';
import { computed, nextTick, ref, watch } from 'vue';
import { useRouter } from 'vue-router';
import { phasesFor } from '../phases/phases.ts';
import { useSession } from '../stores/session.ts';
import { useClub } from '../stores/club.ts';
import { core } from '../workers/index.ts';
import { latestOnly } from './latestOnly.ts';

/** One field that finds screens, rigs, projects and objects of the sky. */
const open = defineModel<boolean>('open', { required: true });
const club = useClub();
const session = useSession();
const router = useRouter();
const typed = ref('');
const at = ref(0);
const objects = ref<CatalogueEntry[]>([]);
const field = ref<HTMLInputElement>();
watch(open, async (now) => {
  if (!now) return;
  typed.value = '';
  await nextTick();
  setTimeout(() => field.value?.focus(), 60);
});
const ask = latestOnly();
watch(typed, async (text) => {
  at.value = 0;
  const late = ask();
  // what answered the former text must not be there for Enter
  objects.value = [];
  if (text.trim().length < 2) return;
  const found = await core().find(text, 6);
  if (!late()) objects.value = found;
});

interface Hit {
  kind: string;
  title: string;
  more: string;
  go: () => void;
}
const hits = computed<Hit[]>(() => {
  const q = typed.value.trim().toLowerCase();
  const holds = (...texts: string[]) => texts.some((t) => t.toLowerCase().includes(q));
  const screens = phasesFor(session)
    .flatMap((p) =>
      p.tasks.map((t) => ({
        kind: 'Screen',
        title: t.title === 'Summary' ? `${p.title} summary` : t.title,
        more: p.title,
        go: () => void router.push(t.path),
      })),
    )
    .filter((h) => holds(h.title, h.more));
  const rigs = club.rigs
    .filter((r) => q && holds(r.name, r.words))
    .map((r) => ({
      kind: 'Rig',
      title: r.name,
      more: r.words,
      go: () => void (club.selectRig(r.id), router.push('/bench/rigs')),
    }));
  const projects = club.projects
    .filter((p) => q && holds(p.name, p.object))
    .map((p) => ({
      kind: 'Project',
      title: p.name,
      more: p.owner,
      go: () => void (club.selectRig(p.rigId, p.system), router.push({ path: '/season', query: { project: p.id } })),
    }));
  const sky = objects.value.map((o) => ({
    kind: 'Object',
    title: [o.id, ...o.aliases.slice(0, 2)].join(' = ') + (o.name ? `, ${o.name}` : ''),
    more: `${OBJECT_TYPES[o.type] ?? ''}${o.mag === null ? '' : `, ${o.mag.toFixed(1)} mag`}: start a project`,
    go: () => void router.push({ path: '/season', query: { object: o.id } }),
  }));
  return [...projects, ...rigs, ...sky, ...screens].slice(0, 12);
});
function choose(h: Hit | undefined) {
  if (!h) return;
  open.value = false;
  h.go();
}
</script>

<template>
  <Modal v-model:open="open" :footer="null" :closable="false" width="560px" title="Find">
    <input
      ref="field"
      v-model="typed"
      class="field"
      aria-label="Find a screen, rig, project or object"
      placeholder="Screen, rig, project or object"
      @keydown.down.prevent="at = Math.min(at + 1, hits.length - 1)"
      @keydown.up.prevent="at = Math.max(0, at - 1)"
      @keydown.enter="choose(hits[at])"
    />
    <ul class="hits" role="listbox" aria-label="Found">
      <li
        v-for="(h, i) in hits"
        :key="h.kind + h.title"
        role="option"
        :aria-selected="i === at"
        :class="{ at: i === at }"
        @mouseenter="at = i"
        @click="choose(h)"
      >
        <span class="muted kind">{{ h.kind }}</span> <strong>{{ h.title }}</strong>{{ ' '
        }}<span class="muted">{{ h.more }}</span>
      </li>
      <li v-if="hits.length === 0" class="muted">
        Nothing by that name. Objects are found by designation: NGC 891, M 33, IC 5146.
      </li>
    </ul>
  </Modal>
</template>

<style scoped>
.field {
  width: 100%;
  font: inherit;
  font-size: 17px;
  padding: 8px 10px;
  border: 1px solid var(--line-strong);
  border-radius: 4px;
  background: var(--surface);
  color: var(--ink);
}
.hits {
  list-style: none;
  margin: 10px 0 0;
  padding: 0;
  min-height: 200px;
}
.hits li {
  padding: 7px 8px;
  border-radius: 4px;
  cursor: pointer;
}
.hits .at {
  background: var(--sunk);
}
.kind {
  display: inline-block;
  width: 62px;
  font-size: 13px;
}
</style>
