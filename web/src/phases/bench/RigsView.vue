<script setup lang="ts">
import { api, type PartRecord, type RevisionInfo } from '@keen/contract';
import { PartKind } from '@keen/core/rig';
import { figure } from '@keen/core/quantities';
import { Button, Input, Modal, SelectOption, Tabs, TabPane, message } from 'ant-design-vue';
import dayjs from 'dayjs';
import { computed, ref, shallowRef, watch } from 'vue';
import { call, said } from '../../api/client.ts';
import ConflictDialog from '../../common/ConflictDialog.vue';
import FilterTile from '../../common/FilterTile.vue';
import QuantityInput from '../../common/QuantityInput.vue';
import SaveBar from '../../common/SaveBar.vue';
import { useShortcut } from '../../common/shortcuts.ts';
import VerdictLine from '../../common/VerdictLine.vue';
import { useClub } from '../../stores/club.ts';
import { useSession } from '../../stores/session.ts';
import { plainCopy } from '../../workers/index.ts';
import { useRigDraft } from './useRigDraft.ts';
import PickOne from '../../common/PickOne.vue';

const club = useClub();
const session = useSession();
const edit = useRigDraft();
const setup = computed(() => edit.draft.value?.setup ?? null);
const kinds = PartKind.options;
const off = computed(() => !session.mayEdit);

const history = shallowRef<RevisionInfo[]>([]);
const parts = shallowRef<PartRecord[]>([]);
watch(
  () => [club.rig?.id, club.rig?.version],
  async () => {
    if (!club.rig) return;
    const got = await call(api.revisions, { params: { id: club.rig.id } });
    if (got.ok) history.value = got.value;
  },
  { immediate: true },
);
void call(api.parts).then((got) => {
  if (got.ok) parts.value = got.value;
});

const mass = computed(() => setup.value?.placed.reduce((s, p) => s + p.massKg, 0) ?? 0);
const verdict = computed(() => {
  const s = setup.value;
  if (!s) return { level: 'caution' as const, text: 'No rig yet.' };
  const share = mass.value / s.mount.ratedLoadKg;
  const path = s.train.reduce((sum, p) => sum + (p.measuredMm ?? p.lengthMm), 0);
  return {
    level: share > 1 ? ('bad' as const) : share > 0.6 ? ('caution' as const) : ('good' as const),
    text: `${figure(mass.value, 1)} kg on a mount rated for ${s.mount.ratedLoadKg} kg: ${Math.round(share * 100)} %${share > 1 ? ', too much' : share > 0.6 ? ', more than most choose for imaging' : ''}. ${figure(path, 1)} mm behind the corrector.`,
  };
});

function addFromDrawer(id: unknown) {
  const p = parts.value.find((q) => q.id === id);
  if (!p || !setup.value) return;
  let name = p.name;
  for (let n = 2; setup.value.placed.some((q) => q.name === name); n++) name = `${p.name} (${n})`;
  setup.value.placed.push({
    name,
    kind: p.kind,
    partId: p.id,
    massKg: p.massKg,
    xMm: 150,
    yMm: 0,
    zMm: 0,
    lengthMm: p.lengthMm && p.lengthMm > 0 ? p.lengthMm : 60,
    widthMm: p.widthMm ?? 60,
  });
}
const building = ref(false);
const newName = ref('');
const newSite = ref<string>();
useShortcut('n', () => session.isSteward && (building.value = true));
async function build() {
  const model = setup.value ?? club.rigs[0]?.setup;
  if (!model || !newSite.value) return;
  const got = await call(api.addRig, { body: { name: newName.value, siteId: newSite.value, setup: plainCopy(model) } });
  if (!got.ok) {
    void message.error(said(got.problem));
    return;
  }
  building.value = false;
  club.rigs = [...club.rigs, got.value];
  club.rigId = got.value.id;
}
</script>

<template>
  <VerdictLine v-if="club.rig" :verdict="verdict">
    Train state <strong>{{ club.rig.words }}</strong>, revision {{ club.rig.revision }}. Offsets and flats belong to
    this state; changing optics, train, camera angle or filters makes a new one.
  </VerdictLine>
  <div v-if="setup && club.rig">
    <section class="panel stack">
      <div class="row spread">
        <div class="row">
          <Input
            v-model:value="edit.draft.value!.name"
            class="name"
            aria-label="Name of the rig"
            :disabled="!session.isSteward"
          />
          <PickOne v-model:value="edit.draft.value!.siteId" class="site" label="Site" :disabled="!session.isSteward">
            <SelectOption v-for="s in club.sites" :key="s.id" :value="s.id">{{ s.name }}</SelectOption>
          </PickOne>
        </div>
        <Button v-if="session.isSteward" title="n" @click="building = true">New rig</Button>
      </div>
      <SaveBar
        :dirty="edit.dirty.value"
        :busy="edit.busy.value"
        :undoable="edit.undoable.value"
        :restored-at="edit.restoredAt.value"
        :saved-at="club.rig.updatedAt"
        :saved-by="club.rig.updatedBy"
        :trouble="edit.trouble.value"
        :locked="off ? 'Guests may look, not change.' : undefined"
        @save="edit.save"
        @discard="edit.discard"
        @undo="edit.undo"
      />
      <Tabs>
        <TabPane key="parts" tab="Parts on the tube side">
          <p class="muted small">
            Each place is that part's own mass centre, from where the axes cross: x along the declination axis away from
            the weights, y sideways, z toward the sky.
          </p>
          <div class="scroll">
            <table class="figures" data-test="parts">
              <thead>
                <tr>
                  <th>Part</th>
                  <th>Kind</th>
                  <th class="num">Mass</th>
                  <th class="num">x</th>
                  <th class="num">y</th>
                  <th class="num">z</th>
                  <th class="num">Length</th>
                  <th class="num">Width</th>
                  <th />
                </tr>
              </thead>
              <tbody>
                <tr v-for="(p, i) in setup.placed" :key="i">
                  <td>
                    <Input v-model:value="p.name" :aria-label="`Name of part ${i + 1}`" class="part" :disabled="off" />
                  </td>
                  <td>
                    <PickOne
                      v-model:value="p.kind"
                      label="Kind"
                      class="kind"
                      :disabled="off"
                      :dropdown-match-select-width="false"
                    >
                      <SelectOption v-for="k in kinds" :key="k" :value="k">{{ k.replace('-', ' ') }}</SelectOption>
                    </PickOne>
                  </td>
                  <td>
                    <QuantityInput
                      v-model="p.massKg"
                      dimension="mass"
                      label="Mass"
                      hide-label
                      :step="0.05"
                      :min="0"
                      :max="200"
                      width="104px"
                      :disabled="off"
                    />
                  </td>
                  <td>
                    <QuantityInput
                      v-model="p.xMm"
                      dimension="length"
                      label="x"
                      hide-label
                      :decimals="1"
                      width="92px"
                      :disabled="off"
                    />
                  </td>
                  <td>
                    <QuantityInput
                      v-model="p.yMm"
                      dimension="length"
                      label="y"
                      hide-label
                      :decimals="1"
                      width="92px"
                      :disabled="off"
                    />
                  </td>
                  <td>
                    <QuantityInput
                      v-model="p.zMm"
                      dimension="length"
                      label="z"
                      hide-label
                      :decimals="1"
                      width="92px"
                      :disabled="off"
                    />
                  </td>
                  <td>
                    <QuantityInput
                      v-model="p.lengthMm"
                      dimension="length"
                      label="Length"
                      hide-label
                      :decimals="0"
                      :min="1"
                      width="92px"
                      :disabled="off"
                    />
                  </td>
                  <td>
                    <QuantityInput
                      v-model="p.widthMm"
                      dimension="length"
                      label="Width"
                      hide-label
                      :decimals="0"
                      :min="1"
                      width="92px"
                      :disabled="off"
                    />
                  </td>
                  <td>
                    <Button
                      type="text"
                      size="small"
                      :aria-label="`Take off ${p.name}`"
                      :disabled="off"
                      @click="setup.placed.splice(i, 1)"
                      >✕</Button
                    >
                  </td>
                </tr>
              </tbody>
            </table>
          </div>
          <PickOne
            v-if="!off"
            :value="undefined"
            class="drawer"
            placeholder="Add a part from the drawer"
            show-search
            option-filter-prop="label"
            label="Add a part from the drawer"
            :options="
              parts.map((p) => ({
                value: p.id,
                label: `${p.name}, ${p.massKg} kg${p.usedIn.length ? ` (in ${p.usedIn.join(', ')})` : ''}`,
              }))
            "
            @update:value="addFromDrawer"
          />
        </TabPane>
        <TabPane key="optics" tab="Optics, camera, filters">
          <div class="grid">
            <QuantityInput
              v-model="setup.focalLengthMm"
              dimension="length"
              label="Focal length"
              :decimals="0"
              :min="10"
              :max="20000"
              :disabled="off"
            />
            <QuantityInput
              v-model="setup.apertureMm"
              dimension="length"
              label="Aperture"
              :decimals="0"
              :min="5"
              :max="2000"
              :disabled="off"
            />
            <QuantityInput
              v-model="setup.camera.pixelUm"
              dimension="number"
              unit="µm"
              label="Pixel"
              :min="0.5"
              :max="50"
              :step="0.01"
              :disabled="off"
            />
            <QuantityInput
              v-model="setup.camera.widthPx"
              dimension="number"
              unit="px"
              label="Width"
              :decimals="0"
              :min="1"
              :disabled="off"
            />
            <QuantityInput
              v-model="setup.camera.heightPx"
              dimension="number"
              unit="px"
              label="Height"
              :decimals="0"
              :min="1"
              :disabled="off"
            />
            <QuantityInput
              v-model="setup.camera.angleDeg"
              dimension="angle"
              label="Camera turned"
              :decimals="0"
              :disabled="off"
            />
            <QuantityInput
              v-model="setup.focuserStepUm"
              dimension="number"
              unit="µm"
              label="Focuser step"
              :min="0.01"
              :step="0.1"
              :disabled="off"
            />
          </div>
          <p class="muted small">
            f/{{ figure(setup.focalLengthMm / setup.apertureMm, 1) }},
            {{ figure((206.264806 * setup.camera.pixelUm) / setup.focalLengthMm, 2) }}″ per pixel.
          </p>
          <h3>Wheel</h3>
          <p class="muted small">Write the order down before the wheel is closed; name the blank slot “blank”.</p>
          <div class="row">
            <span v-for="(s, i) in setup.wheel" :key="i" class="slot">
              <span class="muted mono">{{ s.slot }}</span>
              <Input v-model:value="s.filter" :aria-label="`Slot ${s.slot}`" class="filter" :disabled="off" />
              <FilterTile v-if="s.filter" :name="s.filter" />
            </span>
            <Button v-if="!off" size="small" @click="setup.wheel.push({ slot: setup.wheel.length + 1, filter: '' })"
              >Add slot</Button
            >
          </div>
          <h3>From the corrector to the sensor</h3>
          <table class="figures">
            <thead>
              <tr>
                <th>Piece</th>
                <th class="num">documented</th>
                <th class="num">measured</th>
                <th />
              </tr>
            </thead>
            <tbody>
              <tr v-for="(t, i) in setup.train" :key="i">
                <td><Input v-model:value="t.name" :aria-label="`Piece ${i + 1}`" :disabled="off" /></td>
                <td class="num">
                  <QuantityInput
                    v-model="t.lengthMm"
                    dimension="length"
                    label="documented"
                    hide-label
                    :min="0"
                    width="110px"
                    :step="0.1"
                    :disabled="off"
                  />
                </td>
                <td class="num">
                  <QuantityInput
                    :model-value="t.measuredMm ?? null"
                    dimension="length"
                    label="measured"
                    hide-label
                    optional
                    :min="0"
                    width="110px"
                    :step="0.1"
                    :disabled="off"
                    @update:model-value="t.measuredMm = $event ?? undefined"
                  />
                </td>
                <td>
                  <Button type="text" size="small" aria-label="Remove" :disabled="off" @click="setup.train.splice(i, 1)"
                    >✕</Button
                  >
                </td>
              </tr>
            </tbody>
          </table>
          <Button v-if="!off" size="small" @click="setup.train.push({ name: 'new piece', lengthMm: 0 })"
            >Add piece</Button
          >
        </TabPane>
        <TabPane key="mount" tab="Mount and times">
          <div class="grid">
            <label>Mount<Input v-model:value="setup.mount.name" :disabled="off" /></label>
            <PickOne v-model:value="setup.mount.drive" label="Drive" shown :disabled="off">
              <SelectOption value="worm">worm</SelectOption>
              <SelectOption value="strain-wave">strain-wave</SelectOption>
              <SelectOption value="direct">direct</SelectOption>
            </PickOne>
            <QuantityInput
              v-model="setup.mount.ratedLoadKg"
              dimension="mass"
              label="Rated load"
              :min="0.1"
              :disabled="off"
            />
            <QuantityInput v-model="setup.shaft.massKg" dimension="mass" label="Bare shaft" :min="0" :disabled="off" />
            <QuantityInput
              v-model="setup.shaft.centreMm"
              dimension="length"
              label="its mass centre"
              :decimals="0"
              :min="0"
              :disabled="off"
            />
            <QuantityInput
              v-model="setup.shaft.minMm"
              dimension="length"
              label="Weights from"
              :decimals="0"
              :min="0"
              :disabled="off"
            />
            <QuantityInput
              v-model="setup.shaft.maxMm"
              dimension="length"
              label="to"
              :decimals="0"
              :min="0"
              :disabled="off"
            />
            <QuantityInput
              v-model="setup.slide.minMm"
              dimension="length"
              label="Slide back to"
              :decimals="0"
              :disabled="off"
            />
            <QuantityInput
              v-model="setup.slide.maxMm"
              dimension="length"
              label="forward to"
              :decimals="0"
              :disabled="off"
            />
          </div>
          <h3>What each act takes at night</h3>
          <div class="grid">
            <QuantityInput
              v-model="setup.overheads.downloadS"
              dimension="duration"
              label="Read-out"
              :min="0"
              :decimals="0"
              :disabled="off"
            />
            <QuantityInput
              v-model="setup.overheads.filterChangeS"
              dimension="duration"
              label="Filter change"
              :min="0"
              :decimals="0"
              :disabled="off"
            />
            <QuantityInput
              v-model="setup.overheads.autofocusS"
              dimension="duration"
              label="Focus run"
              :min="0"
              :decimals="0"
              :disabled="off"
            />
            <QuantityInput
              v-model="setup.overheads.ditherS"
              dimension="duration"
              label="Dither, settle"
              :min="0"
              :decimals="0"
              :disabled="off"
            />
            <QuantityInput
              v-model="setup.overheads.slewCentreS"
              dimension="duration"
              label="Slew, centre"
              :min="0"
              :decimals="0"
              :disabled="off"
            />
            <QuantityInput
              v-model="setup.overheads.flipS"
              dimension="duration"
              label="Meridian flip"
              :min="0"
              :decimals="0"
              :disabled="off"
            />
            <QuantityInput
              v-model="setup.overheads.guideStartS"
              dimension="duration"
              label="Guider start"
              :min="0"
              :decimals="0"
              :disabled="off"
            />
          </div>
        </TabPane>
        <TabPane key="history" :tab="`History (${history.length})`">
          <ol class="history" data-test="history">
            <li v-for="r in history" :key="r.id">
              <div class="row spread">
                <strong>Revision {{ r.number }}</strong>
                <span class="muted small">{{ dayjs(r.at).format('D MMM HH:mm') }}, {{ r.by }}</span>
              </div>
              <div class="small">{{ r.changes.join('; ') }}</div>
              <div class="small muted">train state {{ r.words }}</div>
            </li>
          </ol>
        </TabPane>
      </Tabs>
    </section>
  </div>
  <Modal
    v-model:open="building"
    title="New rig"
    ok-text="Build"
    :ok-button-props="{ disabled: !newName.trim() || !newSite }"
    @ok="build"
  >
    <div class="stack">
      <p class="muted">
        It begins as a copy of {{ club.rig?.name ?? 'the first rig' }}; change parts and places afterwards.
      </p>
      <label>Name<Input v-model:value="newName" /></label>
      <PickOne v-model:value="newSite" label="Site" shown class="full">
        <SelectOption v-for="s in club.sites" :key="s.id" :value="s.id">{{ s.name }}</SelectOption>
      </PickOne>
    </div>
  </Modal>
  <ConflictDialog
    :open="edit.conflict.value !== null"
    :detail="edit.conflict.value?.detail ?? ''"
    :mine="edit.draft.value"
    :theirs="edit.theirs.value"
    @mine="edit.keepMine"
    @theirs="edit.takeTheirs"
    @close="edit.conflict.value = null"
  />
</template>

<style scoped>
.name {
  width: 230px;
  font-weight: 650;
}
.site {
  width: 170px;
}
.scroll {
  overflow-x: auto;
}
.part {
  min-width: 150px;
}
.kind {
  width: 120px;
}
.drawer {
  width: 340px;
  margin-top: 8px;
}
.grid {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(140px, 1fr));
  gap: 10px 14px;
  margin-bottom: 10px;
}
label {
  display: grid;
  gap: 2px;
  font-size: 13px;
  color: var(--ink-2);
}
.slot {
  display: inline-flex;
  align-items: center;
  gap: 6px;
}
.filter {
  width: 74px;
}
.full {
  width: 100%;
}
.history {
  list-style: none;
  margin: 0;
  padding: 0;
  display: grid;
  gap: 10px;
  max-height: 560px;
  overflow: auto;
}
.history li {
  border-left: 3px solid var(--line);
  padding-left: 10px;
}
h3 {
  margin: 10px 0 6px;
}
</style>
