<script setup lang="ts">
import { nameOf } from '@keen/core/phrases';
import type { PartRecord } from '@keen/contract';
import { RouterLink } from 'vue-router';
import { PartKind, ridesOf, type Origin, type PlacedPart, type RigSetup } from '@keen/core/rig';
import { Button, Input, SelectOption } from 'ant-design-vue';
import dayjs from 'dayjs';
import { computed, ref } from 'vue';
import OriginMark from '../../common/OriginMark.vue';
import PickOne from '../../common/PickOne.vue';
import QuantityInput from '../../common/QuantityInput.vue';
import { useClub } from '../../stores/club.ts';
import { useSession } from '../../stores/session.ts';
import RulerPlace from './RulerPlace.vue';
import { useUnits } from '../../stores/units.ts';

const units = useUnits();
/** Everything on the tube side with its mass and place, and what the drawer could add. */
const props = defineProps<{ setup: RigSetup; parts: readonly PartRecord[]; off: boolean }>();
const kinds = PartKind.options;
const PLACES = [
  { key: 'xMm', label: 'x', decimals: 1, min: undefined },
  { key: 'yMm', label: 'y', decimals: 1, min: undefined },
  { key: 'zMm', label: 'z', decimals: 1, min: undefined },
  { key: 'lengthMm', label: 'Length', decimals: 0, min: 1 },
  { key: 'widthMm', label: 'Width', decimals: 0, min: 1 },
] as const;
const session = useSession();
const club = useClub();
const ruling = ref<PlacedPart | null>(null);
const measured = () => ({
  kind: 'measured' as const,
  ...(session.member ? { by: session.member.name } : {}),
  at: dayjs(club.now).format('YYYY-MM-DD'),
});
/** Numbers typed just now: where they are from is asked, never taken for granted. */
const doubtful = ref<{ part: PlacedPart; what: 'mass' | 'place' }[]>([]);
function ask(part: PlacedPart, what: 'mass' | 'place') {
  delete part[`${what}From`];
  if (!doubtful.value.some((a) => a.part === part && a.what === what)) doubtful.value.push({ part, what });
}
/** @param spread of an assumed value, to either side [kg or mm] */
function tell(a: { part: PlacedPart; what: 'mass' | 'place' }, kind: Origin['kind']) {
  const spread = a.what === 'mass' ? 0.1 : 20;
  a.part[`${a.what}From`] = kind === 'assumed' ? { kind, spread } : { ...measured(), kind };
}
const open = computed(() =>
  doubtful.value.filter((a) => props.setup.placed.includes(a.part) && a.part[`${a.what}From`] === undefined),
);
function weigh(p: PlacedPart, kg: number | null) {
  if (kg === null || kg === p.massKg) return;
  p.massKg = kg;
  ask(p, 'mass');
}
function place(p: PlacedPart, key: (typeof PLACES)[number]['key'], mm: number | null) {
  if (mm === null || mm === p[key]) return;
  p[key] = mm;
  if (key === 'lengthMm' || key === 'widthMm') return;
  delete p.ruler;
  ask(p, 'place');
}
function addFromDrawer(id: unknown) {
  const p = props.parts.find((q) => q.id === id);
  if (!p) return;
  let name = p.name;
  for (let n = 2; props.setup.placed.some((q) => q.name === name); n++) name = `${p.name} (${n})`;
  props.setup.placed.push({
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
</script>

<template>
  <p class="muted small">
    The letter beside a number says where it is from: m measured, d documented, a assumed, ? not said. Each place is
    that part's own mass centre, from where the axes cross: x along the declination axis away from the weights, y
    sideways, z toward the sky.
  </p>
  <div class="scroll acts">
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
          <th>Place</th>
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
              <SelectOption v-for="k in kinds" :key="k" :value="k">{{ units.say(nameOf(k)) }}</SelectOption>
            </PickOne>
          </td>
          <td>
            <span class="marked">
              <QuantityInput
                :model-value="p.massKg"
                dimension="mass"
                label="Mass"
                hide-label
                :step="0.05"
                :min="0"
                :max="200"
                width="88px"
                :disabled="off"
                @update:model-value="weigh(p, $event)"
              />
              <OriginMark :origin="p.massFrom" what="Mass" dimension="mass" :off="off" @change="p.massFrom = $event" />
            </span>
          </td>
          <td v-for="f in PLACES" :key="f.key" class="place">
            <QuantityInput
              :model-value="p[f.key]"
              dimension="length"
              :label="f.label"
              hide-label
              :decimals="f.decimals"
              :min="f.min"
              width="100%"
              :disabled="off"
              @update:model-value="place(p, f.key, $event)"
            />
          </td>
          <td>
            <span class="marked">
              <OriginMark
                :origin="p.placeFrom"
                what="Place"
                dimension="length"
                :off="off"
                @change="p.placeFrom = $event"
              />
              <button
                type="button"
                class="rides"
                :disabled="off"
                :title="
                  ridesOf(p) === 'tube'
                    ? 'Turns with the tube in its rings; press: stays with the bar'
                    : 'Stays with the bar when the tube turns; press: turns with the tube'
                "
                @click="p.rides = ridesOf(p) === 'tube' ? 'bar' : 'tube'"
              >
                {{ ridesOf(p) === 'tube' ? 'on the tube' : 'on the bar' }}
              </button>
              <Button v-if="!off" size="small" :aria-label="`Place of ${p.name} by ruler`" @click="ruling = p"
                >Ruler</Button
              >
            </span>
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
  <p v-for="a in off ? [] : open" :key="`${a.part.name} ${a.what}`" class="row small" data-test="where-from">
    Where is the {{ a.what }} of {{ a.part.name }} from?
    <Button size="small" @click="tell(a, 'measured')">{{ a.what === 'mass' ? 'Weighed' : 'Measured' }} by me</Button>
    <Button size="small" @click="tell(a, 'documented')">As documented</Button>
    <Button size="small" @click="tell(a, 'assumed')">Assumed</Button>
  </p>
  <p v-if="!off && !parts.length" class="muted small">
    Nothing lies in the drawer: <RouterLink to="/club/equipment">put parts into it</RouterLink>, and they can be added
    here.
  </p>
  <PickOne
    v-else-if="!off"
    :value="undefined"
    class="drawer"
    placeholder="Add a part from the drawer"
    show-search
    option-filter-prop="label"
    label="Add a part from the drawer"
    :options="
      parts.map((p) => ({
        value: p.id,
        label: `${p.name}, ${units.mass(p.massKg)}${p.usedIn.length ? ` (in ${p.usedIn.join(', ')})` : ''}`,
      }))
    "
    @update:value="addFromDrawer"
  />
  <RulerPlace :setup="setup" :part="ruling" @close="ruling = null" />
</template>

<style scoped>
.scroll {
  overflow-x: auto;
}
.marked {
  display: inline-flex;
  gap: 4px;
  align-items: center;
}
/* quiet as the origin letters; a press says otherwise */
.rides {
  all: unset;
  cursor: pointer;
  font-size: 12px;
  color: var(--ink-2);
  border-bottom: 1px dotted var(--line-strong);
  white-space: nowrap;
}
.rides:focus-visible {
  outline: 2px solid var(--accent);
}
.rides:disabled {
  cursor: default;
}
.place {
  min-width: 84px;
}
.part {
  min-width: 144px;
}
.kind {
  width: 120px;
}
.drawer {
  width: 340px;
  margin-top: 8px;
}
</style>
