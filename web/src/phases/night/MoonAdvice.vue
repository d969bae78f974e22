<script setup lang="ts">
import { figure } from '@keen/core/quantities';
import { brightMoon, type NightOutput, type TonightCriteria } from '@keen/core/sky';
import { Button } from 'ant-design-vue';
import { computed } from 'vue';
import { RouterLink } from 'vue-router';
import { hours } from '../../common/times.ts';

/** A bright Moon: what the schools would do with this night, and what each costs here. */
const props = defineProps<{
  night: NightOutput;
  /** Zenith of the site without a Moon [mag/arcsec²]. */
  skyMag: number;
  hasLines: boolean;
  hasBroad: boolean;
  chosen: TonightCriteria['light'];
  /** Now, where the night looked at is tonight [ms]. */
  fromMs: number | null;
}>();
const emit = defineEmits<{ light: [light: TonightCriteria['light']] }>();
const moon = computed(() => brightMoon(props.night, props.skyMag, props.fromMs));
const at = (deg: number) => moon.value!.away.find((a) => a.separationDeg === deg)!;
</script>

<template>
  <section v-if="moon" class="panel stack" data-test="moon-advice">
    <h2>
      The Moon is {{ figure(100 * moon.litShare, 0) }} % lit and up for {{ hours(60 * moon.moonlitHours) }} of the dark
      hours{{ moon.begun ? ' still to come' : '' }}
    </h2>
    <div class="ways">
      <div v-if="hasLines">
        <h3>Narrow lines now</h3>
        <p class="small">
          Moonlight is spread over all colours; a line filter lets a sliver of it through and all of the line. What
          stays {{ figure(moon.keepOff.narrowbandDeg, 0) }}° away is taken as on any night.
        </p>
        <Button size="small" :type="chosen === 'line' ? 'primary' : 'default'" @click="emit('light', 'line')"
          >Show what suits lines</Button
        >
      </div>
      <div v-if="hasBroad">
        <h3>Broadband, far from it</h3>
        <p class="small">
          At 60° from it the sky is {{ figure(at(60).brighteningMag, 1) }} mag brighter, at 90°
          {{ figure(at(90).brighteningMag, 1) }}, at 120° {{ figure(at(120).brighteningMag, 1) }}: the same depth takes
          {{ figure(at(90).timesAsLong, 1) }} times as long at 90°. Bright clusters mind least.
        </p>
        <Button size="small" :type="chosen === 'broad' ? 'primary' : 'default'" @click="emit('light', 'broad')"
          >Show what stays far enough</Button
        >
      </div>
      <div>
        <h3>Only while it is down</h3>
        <p class="small">
          {{
            moon.moonlessHours >= 0.5
              ? `${hours(60 * moon.moonlessHours)} of the dark hours${moon.begun ? ' still to come' : ''} are without it. A Moon rule on the filters of a leg keeps the plan to them.`
              : moon.begun
                ? 'It leaves no dark hours of what is still to come tonight.'
                : 'It leaves no dark hours tonight.'
          }}
        </p>
      </div>
      <div>
        <h3>Work for the nights after</h3>
        <p class="small">
          Focus runs through every filter for the <RouterLink to="/morning/focus">offsets</RouterLink>, the
          <RouterLink to="/dusk/pole">polar axis</RouterLink>, the
          <RouterLink to="/dusk/guider">guider’s calibration</RouterLink>, darks, or
          <RouterLink to="/night/moon">the Moon itself</RouterLink>.
        </p>
      </div>
    </div>
    <p class="muted small">
      For an object 30° from the zenith with the Moon 45° from it, after Krisciunas and Schaefer 1991, over this site’s
      own sky. How far to stay away is common practice, without a source.
    </p>
  </section>
</template>

<style scoped>
.ways {
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(220px, 1fr));
  gap: 8px 22px;
}
</style>
