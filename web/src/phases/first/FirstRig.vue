<script setup lang="ts">
import { assess, AssessInput, assessInputOf, assumptionPhrase, loadLevel, USUAL_LOAD_SHARE } from '@keen/core/balance';
import { parseInput } from '@keen/core/calculation';
import { words } from '@keen/core/phrases';
import { figure, scaleArcsecPerPx } from '@keen/core/quantities';
import { trainDistance } from '@keen/core/train';
import { viewOf } from '@keen/core/rig';
import { computed } from 'vue';
import VerdictText from '../../common/VerdictText.vue';
import { useUnits } from '../../stores/units.ts';
import { plainCopy } from '../../workers/index.ts';
import FieldPicture from './FieldPicture.vue';
import type { useFirstEvening } from './useFirstEvening.ts';

/** What the rig chosen so far is good for: load, field on the sky, balance, distance to the sensor. */
const props = defineProps<{ evening: ReturnType<typeof useFirstEvening> }>();
const units = useUnits();
const draft = computed(() => props.evening.draft.value);
const view = computed(() => {
  const record = props.evening.rig.value;
  if (props.evening.view.value) return props.evening.view.value;
  return record ? viewOf(record.setup) : null;
});
/** Mount and tube alone, before a camera is chosen. */
const early = computed(() => {
  const { mount, tube } = draft.value;
  if (!mount || view.value) return null;
  const load = tube ? tube.massKg + tube.ringsKg + tube.focuserKg : 0;
  return { rated: mount.ratedLoadKg, load, tube };
});
const balance = computed(() => {
  if (!view.value) return null;
  const setup = plainCopy(view.value);
  return assess(parseInput(AssessInput, assessInputOf(setup, draft.value.place.latitudeDeg ?? 45)));
});
const assumption = computed(() => (view.value ? assumptionPhrase(plainCopy(view.value)) : null));
const distance = computed(() => (view.value ? trainDistance(plainCopy(view.value)) : null));
const load = computed(() => {
  const b = balance.value;
  if (b && view.value) return { kg: b.tubeMassKg, rated: view.value.mount.ratedLoadKg };
  return early.value ? { kg: early.value.load, rated: early.value.rated } : null;
});
const share = computed(() => (load.value ? load.value.kg / load.value.rated : 0));
</script>

<template>
  <section class="panel stack" data-test="first-rig">
    <h2>What it is good for</h2>
    <p v-if="!load" class="muted">
      Load, field, balance and the distance to the sensor stand here as soon as their parts are chosen.
    </p>
    <template v-else>
      <div>
        <div class="row spread small">
          <span>Load on the mount</span
          ><span class="mono"
            >{{ units.mass(load.kg) }} of {{ units.mass(load.rated) }}, {{ Math.round(100 * share) }} %</span
          >
        </div>
        <div class="bar" :class="loadLevel(share)">
          <span :style="{ width: `${Math.min(100, 100 * share)}%` }" /><i
            :style="{ left: `${100 * USUAL_LOAD_SHARE}%` }"
            :title="`${100 * USUAL_LOAD_SHARE} %, where many stop for imaging: common practice, no source`"
          />
        </div>
        <p v-if="loadLevel(share) === 'bad'" class="level-bad small">More than the mount is rated for.</p>
        <p v-else-if="loadLevel(share) === 'caution'" class="level-caution small">
          More than most put on for imaging; it works better the less wind there is.
        </p>
      </div>
      <template v-if="view">
        <FieldPicture :setup="view" />
        <p class="small mono">
          f/{{ figure(view.focalLengthMm / view.apertureMm, 1) }},
          {{ figure(scaleArcsecPerPx(view.camera.pixelUm, view.focalLengthMm), 2) }}″ per pixel
        </p>
        <VerdictText v-if="balance" :verdict="balance.verdict" />
        <p v-if="assumption" class="small muted" data-test="assumed">{{ words(assumption, units.system) }}</p>
        <VerdictText v-if="distance" :verdict="distance.verdict" />
      </template>
      <p v-else-if="early?.tube" class="small mono">
        f/{{ figure(early.tube.focalLengthMm / early.tube.apertureMm, 1) }}, stars resolved to about
        {{ figure(116 / early.tube.apertureMm, 1) }}″
      </p>
    </template>
  </section>
</template>

<style scoped>
.bar {
  position: relative;
  height: 10px;
  background: var(--sunk);
  border-radius: 4px;
  overflow: hidden;
}
.bar span {
  display: block;
  height: 100%;
}
.good span {
  background: var(--good);
}
.caution span {
  background: var(--caution);
}
.bad span {
  background: var(--bad);
}
.bar i {
  position: absolute;
  top: 0;
  bottom: 0;
  width: 2px;
  background: var(--ink);
}
</style>
