<script setup lang="ts">
import { api, type SiteRecord } from '@keen/contract';
import { Button, Input, Modal, SelectOption, message } from 'ant-design-vue';
import { computed, ref, watch } from 'vue';
import { call } from '../../api/client.ts';
import { problemText } from '../../common/outcome.ts';
import { useDraft } from '../../common/draft.ts';
import { readHorizon } from '@keen/core/exchange';
import { parsePlace } from '@keen/core/quantities';
import EmptyState from '../../common/EmptyState.vue';
import { SUBURB_MAG, skyWords } from '../../common/skies.ts';
import { proposedZone } from '../../common/timeZones.ts';
import QuantityInput from '../../common/QuantityInput.vue';
import PickOne from '../../common/PickOne.vue';
import KeptBar from '../../common/KeptBar.vue';
import { useSaving } from '../../common/savedDraft.ts';
import { useShortcut } from '../../common/shortcuts.ts';
import { useClub } from '../../stores/club.ts';
import { useSession } from '../../stores/session.ts';
import { useUnits } from '../../stores/units.ts';
import { plainCopy } from '../../workers/index.ts';
import HorizonPicture from '../../common/HorizonPicture.vue';

const units = useUnits();
const club = useClub();
const session = useSession();
const chosen = ref(club.site?.id ?? '');
const site = computed(() => club.sites.find((s) => s.id === chosen.value) ?? club.sites[0] ?? null);
type Fields = Omit<SiteRecord, 'id' | 'version' | 'updatedAt' | 'updatedBy'>;
const fieldsOf = ({ id: _i, version: _v, updatedAt: _a, updatedBy: _b, ...f }: SiteRecord): Fields => f;
const kept = useDraft<Fields>(
  () => `site.${site.value?.id ?? ''}`,
  () => (site.value ? { value: fieldsOf(site.value), version: site.value.version } : null),
);
const { draft } = kept;
const saving = useSaving<SiteRecord>(
  kept,
  (version) => {
    sortHorizon();
    return call(api.changeSite, { params: { id: site.value!.id }, body: { ...plainCopy(draft.value!), version } });
  },
  club.putSite,
  () => 'Site saved.',
);
const off = computed(() => !session.isSteward);
const zones = Intl.supportedValuesOf('timeZone').map((z) => ({ value: z, label: z }));

const pasting = ref(false);
const pasted = ref('');
const pasteTrouble = ref('');
function takePasted() {
  const read = readHorizon(pasted.value);
  pasteTrouble.value = read.ok ? '' : units.say(read.trouble);
  if (!read.ok) return;
  draft.value!.horizon = read.rows;
  pasting.value = false;
}
function sortHorizon() {
  draft.value!.horizon?.sort((a, b) => a.azimuthDeg - b.azimuthDeg);
}
/** A site begins like the one looked at; the first one with nothing but a name and this browser's time zone. */
async function addSite() {
  const from = site.value;
  const model: Fields = from
    ? fieldsOf(plainCopy(from))
    : {
        name: '',
        kind:
          session.member?.clubKind === 'club' ? 'club' : session.member?.clubKind === 'remote' ? 'remote' : 'backyard',
        latitudeDeg: 45,
        longitudeDeg: 0,
        elevationM: 0,
        timeZone: Intl.DateTimeFormat().resolvedOptions().timeZone || 'UTC',
        skyMagArcsec2: SUBURB_MAG,
        horizon: [],
        horizonNote: '',
      };
  let name = 'New site';
  for (let n = 2; club.sites.some((s) => s.name === name); n++) name = `New site ${n}`;
  const got = await call(api.addSite, {
    body: { ...model, name, horizon: [{ azimuthDeg: 0, altitudeDeg: 20 }], horizonNote: '' },
  });
  if (!got.ok) {
    void message.error(problemText(got.problem));
    return;
  }
  club.putSite(got.value);
  chosen.value = got.value.id;
}
function readPlace(typed: string) {
  const got = parsePlace(typed);
  placeTrouble.value = got.ok || typed.trim() === '' ? '' : got.message;
  if (!got.ok) return;
  Object.assign(draft.value!, got.place);
  void proposedZone(got.place.latitudeDeg, got.place.longitudeDeg).then((z) => (draft.value!.timeZone = z));
}
const placeTrouble = ref('');
useShortcut('n', () => session.isSteward && void addSite());
watch(
  () => club.site?.id,
  (id) => id && (chosen.value = id),
);
</script>

<template>
  <EmptyState v-if="club.sites.length === 0" title="No site yet" lacks="site">
    The night follows from a place: its twilight, its horizon, its Moon. Nothing can be planned without one.
    <template #actions><Button v-if="session.isSteward" @click="addSite">Add a site here</Button></template>
  </EmptyState>
  <div v-else class="split board">
    <nav class="panel stack" aria-label="Sites">
      <button
        v-for="s in club.sites"
        :key="s.id"
        type="button"
        class="site"
        :class="{ here: s.id === site?.id }"
        @click="chosen = s.id"
      >
        <strong>{{ s.name }}</strong
        ><span class="muted small">{{ s.kind }}, {{ s.skyMagArcsec2.toFixed(1) }} mag/arcsec²</span>
      </button>
      <Button v-if="session.isSteward" size="small" title="n" @click="addSite">Add a site</Button>
    </nav>
    <section v-if="draft && site" class="panel stack">
      <KeptBar
        :kept="kept"
        :saving="saving"
        :fields-of="fieldsOf"
        :record="site"
        :locked="off ? 'Stewards keep the sites.' : undefined"
      />
      <label v-if="!off" class="paste-place"
        >Place, typed or pasted from a map<Input
          placeholder="47.07, 15.44"
          :status="placeTrouble ? 'error' : undefined"
          @change="readPlace(String(($event.target as HTMLInputElement).value))"
      /></label>
      <p v-if="placeTrouble" class="level-bad small" role="alert">{{ placeTrouble }}</p>
      <div class="grid">
        <label class="wide">Name<Input v-model:value="draft.name" :disabled="off" /></label>
        <PickOne v-model:value="draft.kind" label="Kind" shown :disabled="off">
          <SelectOption v-for="k in ['backyard', 'club', 'remote']" :key="k" :value="k">{{ k }}</SelectOption>
        </PickOne>
        <PickOne v-model:value="draft.timeZone" label="Time zone" shown show-search :options="zones" :disabled="off" />
        <QuantityInput
          v-model="draft.latitudeDeg"
          dimension="angle"
          label="Latitude, north positive"
          :min="-90"
          :max="90"
          :decimals="4"
          :step="0.01"
          :disabled="off"
        />
        <QuantityInput
          v-model="draft.longitudeDeg"
          dimension="angle"
          label="Longitude, east positive"
          :min="-180"
          :max="180"
          :decimals="4"
          :step="0.01"
          :disabled="off"
        />
        <QuantityInput
          v-model="draft.elevationM"
          dimension="distance"
          label="Height"
          :decimals="0"
          :step="10"
          :disabled="off"
        />
        <QuantityInput
          v-model="draft.skyMagArcsec2"
          dimension="number"
          unit="mag/arcsec²"
          :label="`Dark sky: ${skyWords(draft.skyMagArcsec2)}`"
          :min="14"
          :max="23"
          :step="0.1"
          :disabled="off"
        />
      </div>
      <h3>Horizon</h3>
      <p v-if="!off" class="muted small">Draw it with the mouse or a finger, or set point by point.</p>
      <HorizonPicture
        :horizon="draft.horizon ?? []"
        :limit-deg="30"
        :editable="!off"
        @update:horizon="draft.horizon = $event"
      />
      <div class="row points">
        <span v-for="(p, i) in draft.horizon ?? []" :key="i" class="point">
          <QuantityInput
            v-model="p.azimuthDeg"
            dimension="angle"
            label="azimuth"
            hide-label
            :min="0"
            :max="360"
            :decimals="0"
            width="76px"
            :disabled="off"
          />
          <QuantityInput
            v-model="p.altitudeDeg"
            dimension="angle"
            label="altitude"
            hide-label
            :min="-10"
            :max="90"
            :decimals="0"
            width="68px"
            :disabled="off"
          />
          <Button
            v-if="!off"
            type="text"
            size="small"
            :aria-label="`Remove point ${i + 1}`"
            @click="draft.horizon!.splice(i, 1)"
            >✕</Button
          >
        </span>
      </div>
      <div v-if="!off" class="row">
        <Button size="small" @click="(draft.horizon ??= []).push({ azimuthDeg: 359, altitudeDeg: 10 })"
          >Add a point</Button
        >
        <Button size="small" @click="sortHorizon">Put in order</Button>
        <Button size="small" @click="((pasting = true), (pasteTrouble = ''))">Paste a list</Button>
      </div>
      <label>What stands there<Input v-model:value="draft.horizonNote" :disabled="off" /></label>
    </section>
  </div>
  <Modal v-model:open="pasting" title="Paste a horizon" ok-text="Take it" @ok="takePasted">
    <p class="muted small">One point a line, azimuth then altitude in degrees; lines beginning with # are left out.</p>
    <textarea
      v-model="pasted"
      rows="8"
      class="paste mono"
      aria-label="Horizon points"
      placeholder="0 18&#10;40 14&#10;95 12"
    />
    <p v-if="pasteTrouble" class="level-bad" role="alert">{{ pasteTrouble }}</p>
  </Modal>
</template>

<style scoped>
.board {
  grid-template-columns: 230px minmax(0, 1fr);
}
.site {
  all: unset;
  cursor: pointer;
  display: grid;
  padding: 7px 10px;
  border-radius: 4px;
  border-left: 3px solid transparent;
}
.site:focus-visible {
  outline: 2px solid var(--accent);
}
.here {
  border-color: var(--accent);
  background: var(--sunk);
}
.grid {
  display: grid;
  grid-template-columns: repeat(4, minmax(0, 1fr));
  gap: 10px 14px;
}
.wide {
  grid-column: span 2;
}
label {
  display: grid;
  gap: 2px;
  font-size: 13px;
  color: var(--ink-2);
}
.point {
  display: inline-flex;
  gap: 4px;
  align-items: start;
}
.paste {
  width: 100%;
  background: var(--surface);
  color: var(--ink);
  border: 1px solid var(--line-strong);
  border-radius: 4px;
  padding: 8px;
}
@media (max-width: 900px) {
  .board,
  .grid {
    grid-template-columns: minmax(0, 1fr);
  }
  .wide {
    grid-column: auto;
  }
}
</style>
