<script setup lang="ts">
import type { TrainPart } from '@keen/core/rig';
import { Checkbox, Input } from 'ant-design-vue';
import PickOne from '../../common/PickOne.vue';
import QuantityInput from '../../common/QuantityInput.vue';
import { useUnits } from '../../stores/units.ts';

const units = useUnits();

/** What is known of one piece beyond its lengths: which one counts, who measured it, glass, screws. */
defineProps<{ piece: TrainPart; off: boolean }>();
const emit = defineEmits<{ guider: [on: boolean]; role: [role: NonNullable<TrainPart['role']>] }>();
</script>

<template>
  <section class="panel stack" data-test="piece">
    <h2>{{ piece.name }}</h2>
    <div class="row ends">
      <PickOne
        label="Length that counts"
        shown
        style="width: 210px"
        :value="piece.use ?? ''"
        :options="[
          { value: '', label: piece.measuredMm === undefined ? 'documented, none measured' : 'measured' },
          { value: 'documented', label: 'documented' },
        ]"
        :disabled="off"
        @update:value="piece.use = $event ? ($event as TrainPart['use']) : undefined"
      />
      <label class="small muted"
        >Measured by<Input v-model:value="piece.measuredBy" style="width: 130px" :disabled="off"
      /></label>
      <label class="small muted">on<input v-model="piece.measuredAt" type="date" class="date" :disabled="off" /></label>
      <QuantityInput
        :model-value="piece.glassIndex ?? null"
        dimension="number"
        label="Index of its glass"
        optional
        :decimals="3"
        :min="1"
        :max="3"
        :step="0.01"
        width="130px"
        :disabled="off"
        @update:model-value="piece.glassIndex = $event ?? undefined"
      />
      <QuantityInput
        :model-value="piece.screwsMm ?? null"
        dimension="length"
        label="Screws, if bolted"
        optional
        :decimals="0"
        :min="0"
        :max="60"
        width="130px"
        :disabled="off"
        @update:model-value="piece.screwsMm = $event ?? undefined"
      />
      <PickOne
        label="What it is"
        shown
        style="width: 190px"
        :value="piece.role ?? 'piece'"
        :options="[
          { value: 'piece', label: 'a piece that counts' },
          { value: 'corrector', label: 'the corrector: counts begin behind it' },
          { value: 'camera', label: 'the camera: the sensor ends it' },
        ]"
        :disabled="off"
        @update:value="emit('role', $event as NonNullable<TrainPart['role']>)"
      />
      <Checkbox :checked="piece.guider === true" :disabled="off" @update:checked="emit('guider', Boolean($event))"
        >This is the guider’s body</Checkbox
      >
      <Checkbox
        :checked="piece.tilts === true"
        :disabled="off"
        @update:checked="piece.tilts = $event ? true : undefined"
        >A tip-tilt plate</Checkbox
      >
    </div>
    <p v-if="piece.measuredMm !== undefined" class="small muted">
      Documented {{ units.length(piece.lengthMm, 2) }}, measured {{ units.length(piece.measuredMm, 2) }}: choosing the
      other would move the sensor by
      {{
        units.signedLength(
          piece.use === 'documented' ? piece.measuredMm - piece.lengthMm : piece.lengthMm - piece.measuredMm,
          2,
        )
      }}.
    </p>
    <p v-if="piece.tilts" class="small muted">
      It holds the guide star by tilting, and hands over to the mount what is too much for it. Mark how it is turned
      before it is taken off.
    </p>
    <p v-if="piece.screwsMm" class="small muted">
      Screws of {{ units.length(piece.screwsMm, 0) }}: try them without the part first; where they would bottom out,
      take the next shorter ones.
    </p>
  </section>
</template>

<style scoped>
.ends {
  align-items: end;
}
.ends label {
  display: grid;
  gap: 2px;
}
.date {
  height: 32px;
  background: var(--surface);
  color: var(--ink);
  border: 1px solid var(--line-strong);
  border-radius: 4px;
  padding: 0 8px;
  color-scheme: light dark;
}
</style>
