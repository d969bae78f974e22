<script setup lang="ts">
import { fullness, type CableOutput, type CableSheet } from '@keen/core/cables';
import { figure } from '@keen/core/quantities';
import { computed } from 'vue';

/** How full each bus and the supply are: bars to the same length of what they carry. */
const props = defineProps<{ found: CableOutput; supply: CableSheet['supply'] }>();
interface Bar {
  name: string;
  what: string;
  share: number;
}
const bars = computed<Bar[]>(() => [
  ...props.found.buses.flatMap((b) => [
    { name: b.name, what: `data ${figure(b.asked, 0)} of ${figure(b.carries, 0)} MB/s`, share: b.asked / b.carries },
    { name: '', what: `ports ${b.used} of ${b.ports}`, share: b.used / b.ports },
    {
      name: '',
      what: `5 V ${figure(b.takenA, 1)} of ${figure(b.givesA, 1)} A`,
      share: b.givesA > 0 ? b.takenA / b.givesA : Number(b.takenA > 0) * 2,
    },
  ]),
  {
    name: 'Supply',
    what: `${figure(props.found.peakA, 1)} of ${figure(props.supply.amps, 1)} A at most`,
    share: props.supply.amps > 0 ? props.found.peakA / props.supply.amps : 2,
  },
  ...(props.found.haveWh === null
    ? []
    : [
        {
          name: 'Battery',
          what: `${figure(props.found.needWh, 0)} of ${figure(props.found.haveWh, 0)} Wh`,
          share: props.found.needWh / props.found.haveWh,
        },
      ]),
]);
</script>

<template>
  <section class="panel stack" data-test="loads">
    <h2>How full</h2>
    <div v-for="(b, i) in bars" :key="i" class="load">
      <strong v-if="b.name">{{ b.name }}</strong>
      <span class="small">{{ b.what }}</span>
      <span class="bar" role="img" :aria-label="`${figure(100 * b.share, 0)} %`"
        ><span :class="fullness(b.share)" :style="{ width: `${Math.min(100, 100 * b.share)}%` }"
      /></span>
    </div>
  </section>
</template>

<style scoped>
.load {
  display: grid;
  gap: 1px;
}
.bar {
  height: 8px;
  background: var(--sunk);
  border: 1px solid var(--line);
}
.bar span {
  display: block;
  height: 100%;
}
.good {
  background: var(--good);
}
.caution {
  background: var(--caution);
}
.bad {
  background: var(--bad);
}
</style>
