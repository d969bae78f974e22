<script setup lang="ts">
import { Dropdown, Menu, MenuItem, Modal, SelectOptGroup, SelectOption } from 'ant-design-vue';
import { computed } from 'vue';
import { useRouter } from 'vue-router';
import { useClub } from '../stores/club.ts';
import { useLight, type LightChoice } from '../stores/light.ts';
import { useSession } from '../stores/session.ts';
import { useUnits } from '../stores/units.ts';
import { unsavedDrafts } from './personal.ts';
import { dayName } from './times.ts';
import PickOne from './PickOne.vue';

const club = useClub();
const session = useSession();
const light = useLight();
const units = useUnits();
const router = useRouter();
const emit = defineEmits<{ find: []; help: [] }>();

const bySite = computed(() =>
  club.sites
    .map((s) => ({ site: s, rigs: club.rigs.filter((r) => r.siteId === s.id) }))
    .filter((g) => g.rigs.length > 0),
);
const initials = computed(() =>
  (session.member?.name ?? '')
    .split(' ')
    .map((w) => w[0])
    .join(''),
);
const LIGHTS: [LightChoice, string][] = [
  ['automatic', 'Light: by the Sun'],
  ['day', 'Light: day'],
  ['night', 'Light: night'],
  ['dark-adapted', 'Light: dark-adapted'],
];
async function signOut() {
  await session.signOut();
  await router.push('/sign-in');
}
function leave() {
  const drafts = unsavedDrafts();
  if (drafts === 0) return void signOut();
  Modal.confirm({
    title: drafts === 1 ? 'Something typed is not saved' : `${drafts} things typed are not saved`,
    content: 'Signing out throws it away: the next person at this browser must not find it.',
    okText: 'Sign out',
    cancelText: 'Stay',
    onOk: signOut,
  });
}
</script>

<template>
  <header class="top no-print">
    <RouterLink to="/night" class="name">Keen Meridian</RouterLink>
    <span v-if="club.site" class="place">
      <strong>{{ club.site.name }}</strong>
      <span class="muted mono small"
        >{{ Math.abs(club.site.latitudeDeg).toFixed(1) }}° {{ club.site.latitudeDeg < 0 ? 'S' : 'N' }}</span
      >
    </span>
    <PickOne
      v-if="club.rig"
      :value="club.rig.id"
      class="rig"
      label="Rig"
      :dropdown-match-select-width="false"
      @update:value="club.selectRig(String($event))"
    >
      <SelectOptGroup v-for="g in bySite" :key="g.site.id" :label="g.site.name">
        <SelectOption v-for="r in g.rigs" :key="r.id" :value="r.id">
          <strong>{{ r.name }}</strong> <span class="muted">· {{ r.words }}</span>
        </SelectOption>
      </SelectOptGroup>
    </PickOne>
    <PickOne
      v-if="club.rig && club.rig.systems.length > 1"
      :value="club.rig.system.key"
      class="system"
      label="Imaging system"
      :dropdown-match-select-width="false"
      :options="club.rig.systems.map((s) => ({ value: s.key, label: s.name }))"
      @update:value="club.selectRig(club.rig!.id, String($event))"
    />
    <span v-if="club.night" class="night" role="group" aria-label="Night">
      <button type="button" title="Night before ([)" aria-label="Night before" @click="club.stepNight(-1)">‹</button>
      <span>
        {{ club.night === club.tonight ? 'Tonight' : 'Night of' }} <strong>{{ dayName(club.night) }}</strong>
      </span>
      <button type="button" title="Night after (])" aria-label="Night after" @click="club.stepNight(1)">›</button>
    </span>
    <span class="grow" />
    <button type="button" class="chip" title="Find (/)" @click="emit('find')">Find <kbd>/</kbd></button>
    <button type="button" class="chip wide" title="Change units" @click="units.change()">
      {{ units.system === 'metric' ? 'mm · kg · °C' : 'in · lb · °F' }}
    </button>
    <PickOne
      :value="light.choice"
      class="light"
      label="Light"
      :dropdown-match-select-width="false"
      @update:value="light.choose($event as LightChoice)"
    >
      <SelectOption v-for="[key, label] in LIGHTS" :key="key" :value="key">{{ label }}</SelectOption>
    </PickOne>
    <Dropdown v-if="session.member" trigger="click">
      <button type="button" class="chip who" :title="session.member.name">
        <strong>{{ initials }}</strong> <span v-if="!session.alone" class="muted role">{{ session.member.role }}</span>
      </button>
      <template #overlay>
        <Menu>
          <MenuItem disabled>{{ session.member.name }}, {{ session.member.club }}</MenuItem>
          <MenuItem class="narrow-only" @click="emit('find')">Find</MenuItem>
          <MenuItem v-for="[key, label] in LIGHTS" :key="key" class="narrow-only" @click="light.choose(key)">
            {{ label }}{{ light.choice === key ? ' ✓' : '' }}
          </MenuItem>
          <MenuItem @click="emit('help')">Shortcuts (?)</MenuItem>
          <MenuItem @click="router.push('/club/account')">Your account</MenuItem>
          <MenuItem @click="leave">Sign out</MenuItem>
        </Menu>
      </template>
    </Dropdown>
  </header>
</template>

<style scoped>
.top {
  position: sticky;
  top: 0;
  z-index: 30;
  height: 52px;
  display: flex;
  align-items: center;
  gap: 12px;
  padding: 0 18px 0 20px;
  background: var(--surface);
  border-bottom: 1px solid var(--line);
}
.name {
  font-weight: 750;
  color: var(--ink);
  text-decoration: none;
  white-space: nowrap;
}
.place {
  display: inline-flex;
  gap: 7px;
  align-items: baseline;
  white-space: nowrap;
  margin-left: 6px;
}
.rig {
  min-width: 210px;
}
.system {
  min-width: 130px;
}
.night {
  display: inline-flex;
  align-items: center;
  white-space: nowrap;
  border: 1px solid var(--line);
  border-radius: 4px;
  height: 32px;
}
.night button {
  all: unset;
  cursor: pointer;
  padding: 0 10px;
  font-size: 18px;
  line-height: 28px;
  color: var(--accent);
}
.night button:focus-visible {
  outline: 2px solid var(--accent);
}
.grow {
  flex: 1;
}
.chip {
  background: transparent;
  border: 1px solid var(--line);
  color: var(--ink);
  border-radius: 4px;
  height: 32px;
  padding: 0 10px;
  font: inherit;
  font-size: 14px;
  cursor: pointer;
  white-space: nowrap;
}
.light {
  width: 152px;
}
kbd {
  font: inherit;
  color: var(--ink-2);
}
@media (max-width: 1180px) {
  .wide,
  .place .small {
    display: none;
  }
}
@media (max-width: 1000px) {
  .place,
  .name {
    display: none;
  }
  .light {
    width: 110px;
  }
}
@media (max-width: 760px) {
  .top {
    gap: 6px;
    padding: 0 8px;
  }
  .chip:not(.who),
  .light,
  .grow,
  .role {
    display: none;
  }
  .rig {
    min-width: 120px;
    flex: 1;
  }
}
</style>

<style>
@media (min-width: 761px) {
  .narrow-only {
    display: none !important;
  }
}
</style>
