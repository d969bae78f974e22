<script setup lang="ts">
import type { ProjectRecord } from '@keen/contract';
import { holds } from '@keen/core/rig';
import { figure, formatDec, formatRa } from '@keen/core/quantities';
import { computed } from 'vue';
import { RouterLink } from 'vue-router';
import { useClub } from '../../stores/club.ts';

/** The pinned framing in a line, wherever a night is prepared; says so when the train has changed since. */
const props = defineProps<{ project: ProjectRecord }>();
const club = useClub();
const f = computed(() => props.project.framing);
const stale = computed(
  () =>
    f.value &&
    club.rig?.id === props.project.rigId &&
    !holds({ framing: f.value.aspect }, club.rig.system.aspects, 'framing'),
);
const to = computed(() => ({ path: '/night/target', query: { project: props.project.id } }));
</script>

<template>
  <p class="small" :class="stale ? 'level-caution' : 'muted'" data-test="framing">
    <template v-if="f">
      <RouterLink :to="to">Framing</RouterLink>{{ ' ' }}
      <span class="mono">{{ formatRa(f.raDeg) }} {{ formatDec(f.decDeg) }}</span>, camera at
      {{ figure(f.angleDeg, 1) }}°{{ f.columns * f.rows > 1 ? `, ${f.columns} × ${f.rows} panels` : ''
      }}{{ f.star ? `, guide star of magnitude ${figure(f.star.mag, 1)}` : ', no guide star chosen' }}.
      <template v-if="stale">Pinned on {{ f.words }}, another train: look at the window again.</template>
    </template>
    <template v-else>
      No framing pinned: the camera at {{ figure(project.angleDeg, 0) }}° on {{ project.object }}.
      <RouterLink :to="to">Find its guide star</RouterLink>
    </template>
  </p>
</template>
