<script setup lang="ts">
import { figure } from '@keen/core/quantities';
import { computed } from 'vue';
import { RouterLink, useRoute } from 'vue-router';
import { PHASES, phasesFor } from '../phases/phases.ts';
import { useSession } from '../stores/session.ts';
import { useLight } from '../stores/light.ts';
import { STOPS, sunPlace } from './sunPlace.ts';

/** The day as a curve from bench to season, with the Sun where it stands now at the site. */
const light = useLight();
const route = useRoute();
const TOP = 48;
const HEIGHT = 500;
const curve = (t: number) => ({ x: 34 - 19 * Math.sin(Math.PI * t), y: TOP + HEIGHT * t });
const stops = PHASES.filter((p) => p.key !== 'club').map((phase, i) => ({
  phase,
  ...curve(i / (STOPS - 1)),
  key: i + 1,
}));
const session = useSession();
const shown = computed(() => phasesFor(session));
const club = computed(() => shown.value.find((p) => p.key === 'club')!);
/** Where it leads for whoever sits here; of what is not theirs nothing. */
const there = computed(() =>
  stops.flatMap((s) => {
    const phase = shown.value.find((p) => p.key === s.phase.key);
    return phase ? [{ ...s, phase }] : [];
  }),
);
const current = computed(() => route.path.split('/')[1]);
const path = Array.from({ length: 41 }, (_, i) => curve(i / 40))
  .map((p, i) => `${i ? 'L' : 'M'}${p.x.toFixed(1)} ${p.y.toFixed(1)}`)
  .join('');

const sun = computed(() =>
  light.sunAltitudeDeg === null ? null : curve(sunPlace(light.sunAltitudeDeg, light.afternoon)),
);
</script>

<template>
  <nav class="arc no-print" aria-label="Phases of the day">
    <svg width="104" :height="TOP + HEIGHT + 40" aria-hidden="true">
      <path :d="path" fill="none" stroke="var(--line)" stroke-width="2" />
      <g v-if="sun" :transform="`translate(${sun.x} ${sun.y})`">
        <circle r="8.5" fill="var(--surface)" />
        <circle r="4.2" fill="none" stroke="var(--accent)" stroke-width="1.8" />
        <path
          d="M0-7v-2.5M0 7v2.5M-7 0h-2.5M7 0h2.5M-5-5l-1.7-1.7M5 5l1.7 1.7M-5 5l-1.7 1.7M5-5l1.7-1.7"
          stroke="var(--accent)"
          stroke-width="1.6"
        />
      </g>
    </svg>
    <span
      v-if="sun && light.sunAltitudeDeg !== null"
      class="sun mono"
      :style="{ top: `${sun.y - 9}px`, left: `${sun.x + 14}px` }"
      :title="`The Sun stands at ${figure(light.sunAltitudeDeg, 0)}° at the site now`"
    >
      {{ figure(light.sunAltitudeDeg, 0) }}°
    </span>
    <RouterLink
      v-for="s in there"
      :key="s.phase.key"
      :to="s.phase.path"
      class="stop"
      :class="{ here: current === s.phase.key }"
      :style="{ top: `${s.y - 20}px` }"
      :title="`${s.phase.title} (${s.key})`"
      :aria-current="current === s.phase.key ? 'page' : undefined"
    >
      <span class="dot" :style="{ marginLeft: `${s.x - 7}px` }" /><span>{{ s.phase.title }}</span>
    </RouterLink>
    <RouterLink
      :to="club.path"
      class="stop club"
      :class="{ here: current === 'club' }"
      :title="`${club.title} (6)`"
      :aria-current="current === 'club' ? 'page' : undefined"
    >
      <span class="dot" style="margin-left: 4px" /><span>{{ club.title }}</span>
    </RouterLink>
  </nav>
</template>

<style scoped>
.arc {
  position: sticky;
  top: 52px;
  height: calc(100vh - 52px);
  min-height: 660px;
  background: var(--surface);
  border-right: 1px solid var(--line);
}
.stop {
  position: absolute;
  left: 0;
  right: 0;
  height: 40px;
  display: flex;
  align-items: center;
  gap: 8px;
  color: var(--ink-2);
  text-decoration: none;
  font-size: 14px;
}
.stop:hover {
  color: var(--ink);
}
.dot {
  width: 12px;
  height: 12px;
  border-radius: 50%;
  border: 2px solid currentcolor;
  background: var(--surface);
  flex: none;
}
.here {
  color: var(--ink);
  font-weight: 700;
}
.here .dot {
  background: var(--accent);
  border-color: var(--accent);
  transform: scale(1.25);
}
.sun {
  position: absolute;
  font-size: 12px;
  color: var(--ink-2);
  line-height: 18px;
}
.club {
  font-size: 14px;
  top: 600px;
}
.club::before {
  content: '';
  position: absolute;
  left: 8px;
  right: 28px;
  top: -8px;
  border-top: 1px solid var(--line);
}
@media (max-width: 760px) {
  .arc {
    position: fixed;
    inset: auto 0 0 0;
    top: auto;
    height: 52px;
    min-height: 0;
    display: flex;
    z-index: 20;
    border-right: 0;
    border-top: 1px solid var(--line);
  }
  .arc svg,
  .sun {
    display: none;
  }
  .stop {
    position: static;
    flex: 1;
    height: 52px;
    flex-direction: column;
    justify-content: center;
    gap: 2px;
    font-size: 12px;
  }
  .dot {
    margin: 0 !important;
    width: 9px;
    height: 9px;
  }
  .club::before {
    display: none;
  }
}
</style>
