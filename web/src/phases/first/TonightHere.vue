<script setup lang="ts">
import { makeVerdict, phrase } from '@keen/core/phrases';
import { night as nightOf, comingEvening, darkLeft, hiddenShare } from '@keen/core/sky';
import { computed } from 'vue';
import { clockOr, hours } from '../../common/times.ts';
import VerdictLine from '../../common/VerdictLine.vue';
import { skyWords } from '../../common/skies.ts';
import { useClub } from '../../stores/club.ts';
import { plainCopy } from '../../workers/index.ts';
import type { useFirstEvening } from './useFirstEvening.ts';

/** What the place is worth tonight: its dark hours, the Moon, and how much of the sky its horizon leaves. */
const props = defineProps<{ evening: ReturnType<typeof useFirstEvening> }>();
const club = useClub();
const place = computed(() => props.evening.draft.value.place);
const known = computed(
  () => place.value.latitudeDeg !== null && place.value.longitudeDeg !== null && place.value.timeZone !== '',
);
const night = computed(() => {
  if (!known.value) return null;
  const p = plainCopy(place.value);
  const site = {
    latitudeDeg: p.latitudeDeg!,
    longitudeDeg: p.longitudeDeg!,
    elevationM: p.elevationM,
    timeZone: p.timeZone,
  };
  try {
    return nightOf({ site, date: comingEvening(site, club.now) });
  } catch {
    return null;
  }
});
const hidden = computed(() => hiddenShare(place.value.horizon, 30));
const verdict = computed(() => {
  const n = night.value;
  if (!n) return null;
  if (n.darkHours === 0) return makeVerdict('caution', phrase('tonight.never-dark'));
  const left = darkLeft(n, club.now);
  const values = { left: hours(left.hours * 60), whole: hours(n.darkHours * 60) };
  const [whole, moonlit] = left.begun
    ? (['tonight.left', 'tonight.left-moonlit'] as const)
    : (['tonight.dark', 'tonight.dark-moonlit'] as const);
  return makeVerdict(
    left.hours < 1 ? 'caution' : 'good',
    left.moonlessHours < 1 / 60
      ? phrase(moonlit, values)
      : phrase(whole, { ...values, moonless: hours(left.moonlessHours * 60) }),
  );
});
</script>

<template>
  <section class="panel stack">
    <h2>Tonight at this place</h2>
    <p v-if="!known" class="muted">As soon as the place is known, its night stands here: dusk, dark hours, Moon.</p>
    <template v-else-if="night && verdict">
      <VerdictLine :verdict="verdict" />
      <table class="figures">
        <tbody>
          <tr>
            <td>Place</td>
            <td class="num">
              {{ Math.abs(place.latitudeDeg!).toFixed(3) }}° {{ place.latitudeDeg! < 0 ? 'S' : 'N' }},
              {{ Math.abs(place.longitudeDeg!).toFixed(3) }}° {{ place.longitudeDeg! < 0 ? 'W' : 'E' }}
            </td>
          </tr>
          <tr>
            <td>Sunset</td>
            <td class="num">{{ clockOr(night.sunset, place.timeZone) }}</td>
          </tr>
          <tr>
            <td>Dark from, to</td>
            <td class="num">
              {{ clockOr(night.astronomicalDusk, place.timeZone) }} –
              {{ clockOr(night.astronomicalDawn, place.timeZone) }}
            </td>
          </tr>
          <tr>
            <td>Moon</td>
            <td class="num">{{ Math.round(100 * night.moon.illumination) }} % lit</td>
          </tr>
          <tr>
            <td>Sky</td>
            <td class="num">{{ skyWords(place.skyMagArcsec2) }}, {{ place.skyMagArcsec2.toFixed(1) }} mag/arcsec²</td>
          </tr>
          <tr>
            <td>Hidden of the sky above 30°</td>
            <td class="num">{{ Math.round(100 * hidden) }} %</td>
          </tr>
        </tbody>
      </table>
    </template>
  </section>
</template>
