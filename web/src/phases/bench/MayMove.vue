<script setup lang="ts">
import type { RigSetup } from '@keen/core/rig';
import { Button } from 'ant-design-vue';
import { computed } from 'vue';
import PickOne from '../../common/PickOne.vue';
import QuantityInput from '../../common/QuantityInput.vue';
import PlaceRow from './PlaceRow.vue';

/** What the search for balance may use: places for trim weights, loose pieces, weights owned, parts that could sit elsewhere. */
const props = defineProps<{ setup: RigSetup; off: boolean }>();
const free = computed(() =>
  props.setup.placed.filter((p) => !(props.setup.relocations ?? []).some((r) => r.mass === p.name)),
);
function allow(name: unknown) {
  const p = props.setup.placed.find((q) => q.name === name);
  const s = props.setup;
  if (p)
    s.relocations = [
      ...(s.relocations ?? []),
      { mass: p.name, to: [{ name: 'elsewhere', xMm: p.xMm, yMm: -p.yMm, zMm: -p.zMm }] },
    ];
}
</script>

<template>
  <div class="two">
    <div class="stack">
      <h3>Parts that could sit elsewhere</h3>
      <div v-for="(r, i) in setup.relocations ?? []" :key="r.mass" class="stack place">
        <div class="row spread">
          <strong>{{ r.mass }}</strong>
          <Button
            v-if="!off"
            type="text"
            size="small"
            :aria-label="`Keep ${r.mass} where it is`"
            @click="setup.relocations.splice(i, 1)"
            >✕</Button
          >
        </div>
        <PlaceRow
          v-for="(t, k) in r.to"
          :key="k"
          :place="t"
          :label="`Place ${k + 1} of ${r.mass}`"
          :off="off"
          :removable="r.to.length > 1"
          @remove="r.to.splice(k, 1)"
        />
        <Button
          v-if="!off && r.to.length < 6"
          size="small"
          class="start"
          @click="r.to.push({ ...r.to[0]!, name: `place ${r.to.length + 1}` })"
          >Another place</Button
        >
      </div>
      <PickOne
        v-if="!off"
        :value="undefined"
        label="Let a part move"
        placeholder="Let a part move"
        size="small"
        style="width: 220px"
        :options="free.map((p) => ({ value: p.name, label: p.name }))"
        @update:value="allow"
      />
    </div>
    <div class="stack">
      <h3>Places for trim weights</h3>
      <PlaceRow
        v-for="(t, i) in setup.trimPoints"
        :key="i"
        :place="t"
        :label="`Trim point ${i + 1}`"
        :off="off"
        removable
        @remove="setup.trimPoints.splice(i, 1)"
      >
        <QuantityInput
          v-model="t.maxMassKg"
          dimension="mass"
          :label="`Most at ${t.name}`"
          hide-label
          :min="0"
          width="80px"
          :disabled="off"
        />
      </PlaceRow>
      <Button
        v-if="!off"
        size="small"
        class="start"
        @click="
          setup.trimPoints.push({
            name: `point ${setup.trimPoints.length + 1}`,
            xMm: 120,
            yMm: 60,
            zMm: 0,
            maxMassKg: 1,
          })
        "
        >Add a place</Button
      >
      <h3>Trim pieces at hand <span class="muted small">none: any mass</span></h3>
      <div class="row">
        <span v-for="(m, i) in setup.trimStockKg" :key="i" class="row piece">
          <QuantityInput
            :model-value="m"
            dimension="mass"
            :label="`Trim piece ${i + 1}`"
            hide-label
            :min="0.01"
            width="88px"
            :disabled="off"
            @update:model-value="setup.trimStockKg[i] = $event ?? m"
          />
          <Button
            v-if="!off"
            type="text"
            size="small"
            :aria-label="`Remove trim piece ${i + 1}`"
            @click="setup.trimStockKg.splice(i, 1)"
            >✕</Button
          >
        </span>
        <Button v-if="!off" size="small" @click="setup.trimStockKg.push(0.25)">Add</Button>
      </div>
      <h3>Weights owned</h3>
      <div class="row">
        <span v-for="(w, i) in setup.counterweightStock" :key="i" class="row piece">
          <QuantityInput
            v-model="w.count"
            dimension="number"
            :label="`How many of weight ${i + 1}`"
            hide-label
            :decimals="0"
            :min="0"
            :max="20"
            width="56px"
            :disabled="off"
          />
          ×
          <QuantityInput
            v-model="w.massKg"
            dimension="mass"
            :label="`Mass of weight ${i + 1}`"
            hide-label
            :min="0.01"
            width="88px"
            :disabled="off"
          />
        </span>
        <Button v-if="!off" size="small" @click="setup.counterweightStock.push({ massKg: 1, count: 1 })">Add</Button>
      </div>
    </div>
  </div>
</template>

<style scoped>
.two {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 26px;
}
.place {
  border-left: 3px solid var(--line);
  padding-left: 10px;
  gap: 6px;
}
.piece {
  gap: 3px;
}
.start {
  justify-self: start;
}
@media (max-width: 1100px) {
  .two {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
