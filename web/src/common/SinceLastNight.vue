<script setup lang="ts">
import type { Code } from '@keen/core/phrases';
import { computed } from 'vue';
import { RouterLink } from 'vue-router';
import { questions } from '../api/questions.ts';
import { useClub } from '../stores/club.ts';
import { useSession } from '../stores/session.ts';
import { useUnits } from '../stores/units.ts';
import { useAnswer } from './answer.ts';
import StillComing from './StillComing.vue';
import { dayName, localDay } from './times.ts';

/** What others did to this rig since one’s own last night with it; nothing where nothing was done, or one is alone. */
const club = useClub();
const session = useSession();
const units = useUnits();
const since = useAnswer('What changed since your last night', () =>
  club.rig && !session.alone ? questions.sinceLastNight(club.rig.id) : null,
);
const lines = computed(() => {
  const s = since.value.value;
  if (!s) return [];
  const say = (p: (typeof s.revisions)[number]['changes'][number]) => units.say({ ...p, code: p.code as Code });
  return [
    ...s.log
      .filter((l) => l.stops)
      .map((l) => ({ at: l.at, by: l.by, text: `Out of order: ${l.problem}`, bad: true, to: '/morning/log' })),
    ...s.revisions.map((r) => ({
      at: r.at,
      by: r.by,
      text: r.changes.map(say).join(' ') || 'The rig was changed.',
      bad: false,
      to: '/bench/rigs',
    })),
    ...s.offsets.map((o) => ({
      at: o.at,
      by: o.by,
      text: `Focus offsets adopted: ${o.filters.join(', ')}.`,
      bad: false,
      to: '/morning/focus',
    })),
    ...s.log
      .filter((l) => !l.stops)
      .map((l) => ({
        at: l.at,
        by: l.by,
        text: l.cure.trim() ? `Cured: ${l.problem} – ${l.cure}` : `Seen: ${l.problem}`,
        bad: false,
        to: '/morning/log',
      })),
  ].filter((l) => l.by !== session.member?.name);
});
const zone = computed(() => club.site?.timeZone ?? 'UTC');
const night = computed(() => since.value.value?.night ?? null);
</script>

<template>
  <StillComing
    v-if="since.trouble.value"
    what="What changed since your last night"
    :failed="since.trouble.value"
    @again="since.load()"
  />
  <section v-if="lines.length && night" class="panel stack" data-test="since">
    <h2>Since your night of {{ dayName(night) }} with this rig</h2>
    <ul>
      <li v-for="(l, i) in lines" :key="i" :class="{ 'level-bad': l.bad }">
        {{ l.text }} <span class="muted small">{{ l.by }}, {{ dayName(localDay(l.at, zone)) }}</span>{{ ' ' }}
        <RouterLink :to="l.to" class="small">Look</RouterLink>
      </li>
    </ul>
  </section>
</template>

<style scoped>
ul {
  margin: 0;
  padding-left: 18px;
  display: grid;
  gap: 4px;
}
</style>
