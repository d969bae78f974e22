<script setup lang="ts">
import type { AssessOutput, SolveOutput } from '@keen/core/balance';
import type { RigSetup } from '@keen/core/rig';
import QuantityInput from '../../common/QuantityInput.vue';
import { useUnits } from '../../stores/units.ts';

const units = useUnits();

/** How exact a balance should be: the main schools, and what each would do on this mount. */
defineProps<{ setup: RigSetup; assessed: AssessOutput; solution: SolveOutput | null; off: boolean }>();
</script>

<template>
  <div class="stack">
    <ul class="schools">
      <li>
        <strong>Exact.</strong> Aim for zero. Here:
        {{
          solution?.feasible
            ? `${units.torque((solution?.residual.decTorqueNm ?? 0) + (solution?.residual.raTorqueNm ?? 0), 2)} left`
            : 'not reachable with what is at hand'
        }}. The rule for direct drives{{ setup.mount.drive === 'direct' ? ', which this mount has' : '' }}.
      </li>
      <li>
        <strong>A little east-heavy.</strong> Keeps worm gears meshed on one flank; must be turned round after the
        meridian flip.{{
          setup.mount.drive === 'worm'
            ? ' This mount has a worm: worth a try when guiding wanders in right ascension.'
            : ' Nothing to gain on this drive.'
        }}
      </li>
      <li>
        <strong>Good enough.</strong> Strain-wave drives carry imbalance up to their rated torque{{
          setup.mount.drive === 'strain-wave'
            ? ': true of this mount, so only safety matters'
            : '; this mount is not one of them'
        }}.
      </li>
    </ul>
    <div class="row">
      <QuantityInput
        v-model="setup.biasNm"
        dimension="number"
        unit="N·m"
        label="Wanted imbalance, tube heavy positive"
        :decimals="2"
        :min="-5"
        :max="5"
        :step="0.05"
        width="230px"
        :disabled="off"
      />
      <span v-if="setup.biasNm" class="level-caution small"
        >Set for one side of the pier: after the meridian flip it must be turned round.</span
      >
    </div>
    <p class="small muted">
      Inertia: {{ units.inertia(assessed.inertiaKgM2.ra) }} about right ascension,
      {{ units.inertia(assessed.inertiaKgM2.dec) }} about declination; what drives must start and stop.
    </p>
    <p class="small muted">
      Common practice, no source. Loads: many stay below 60 % of the rating for imaging; others go up to it.
    </p>
  </div>
</template>

<style scoped>
.schools {
  margin: 0;
  padding-left: 18px;
  display: grid;
  gap: 8px;
}
</style>
