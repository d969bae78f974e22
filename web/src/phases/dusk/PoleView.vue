<script setup lang="ts">
import { phrase } from '@keen/core/phrases';
import { pole } from '@keen/core/sky';
import { figure, signed } from '@keen/core/quantities';
import { computed, ref } from 'vue';
import EmptyState from '../../common/EmptyState.vue';
import QuantityInput from '../../common/QuantityInput.vue';
import TimeInput from '../../common/TimeInput.vue';
import VerdictLine from '../../common/VerdictLine.vue';
import WorkingFold from '../../common/WorkingFold.vue';
import { clock } from '../../common/times.ts';
import { useClub } from '../../stores/club.ts';
import { coreSite } from '../../common/records.ts';

/** Where the pole star stands, live or at a chosen time, drawn as the person sees it. */
const club = useClub();
const zone = computed(() => club.site?.timeZone ?? 'UTC');
const chosen = ref('');
const inverted = ref(true);
const time = computed(() => chosen.value || new Date(club.now).toISOString());
const p = computed(() => (club.site ? pole({ site: coreSite(club.site), time: time.value }) : null));
const R = 150;
/** Angle on the picture, clockwise from the top. */
const star = computed(() => {
  if (!p.value) return null;
  const north = (club.site?.latitudeDeg ?? 0) >= 0;
  const turn = (north ? -1 : 1) * p.value.starHourAngleDeg + (inverted.value ? 180 : 0);
  const a = (turn * Math.PI) / 180;
  return { x: R * Math.sin(a), y: -R * Math.cos(a) };
});
const drift = ref<number | null>(null);
</script>

<template>
  <EmptyState v-if="!club.site || !p || !star" title="No site yet" lacks="site"
    >The pole star’s place follows from the site and the time.</EmptyState
  >
  <template v-else>
    <VerdictLine
      :verdict="p.verdict"
      :notes="[phrase(chosen ? 'pole.seen-at' : 'pole.seen-now', { site: club.site.name, at: clock(time, zone) })]"
    />
    <div class="split board">
      <section class="panel stack">
        <div class="row spread">
          <span class="toggle" role="group" aria-label="How it is seen">
            <button type="button" :aria-pressed="inverted" @click="inverted = true">
              through a polar scope that inverts
            </button>
            <button type="button" :aria-pressed="!inverted" @click="inverted = false">by eye</button>
          </span>
          <span class="row">
            <TimeInput
              :model-value="time"
              label="At"
              :time-zone="zone"
              :night="club.night"
              @update:model-value="chosen = $event"
            />
            <button v-if="chosen" type="button" class="link" @click="chosen = ''">now</button>
          </span>
        </div>
        <svg
          viewBox="-210 -210 420 420"
          class="dial"
          role="img"
          :aria-label="`${p.star} at ${inverted ? p.clockInverted : p.clock}`"
        >
          <circle :r="R" fill="var(--sky-night)" stroke="var(--line-strong)" />
          <g v-for="h in 12" :key="h">
            <path :d="`M0 ${-R}v12`" stroke="var(--ink-2)" stroke-width="1.4" :transform="`rotate(${30 * h})`" />
            <text
              :x="(R + 22) * Math.sin((h * Math.PI) / 6)"
              :y="-(R + 22) * Math.cos((h * Math.PI) / 6) + 5"
              text-anchor="middle"
              font-size="16"
              fill="var(--ink-2)"
              class="mono"
            >
              {{ h }}
            </text>
          </g>
          <path
            v-for="k in 72"
            :key="`m${k}`"
            :d="`M0 ${-R}v5`"
            stroke="var(--line-strong)"
            :transform="`rotate(${5 * k})`"
          />
          <path d="M-9 0H9M0 -9V9" stroke="var(--accent)" stroke-width="1.6" />
          <text x="12" y="-10" font-size="14" fill="var(--accent)">pole</text>
          <path :d="`M0 0L${star.x} ${star.y}`" stroke="var(--accent)" stroke-dasharray="4 4" />
          <circle :cx="star.x" :cy="star.y" r="8" fill="var(--ink)" stroke="var(--accent)" stroke-width="2.5" />
          <text
            :x="star.x * 0.72"
            :y="star.y * 0.72 + 5"
            text-anchor="middle"
            font-size="15"
            font-weight="700"
            fill="var(--ink)"
            class="halo"
          >
            {{ p.star }}
          </text>
        </svg>
      </section>
      <section class="panel stack">
        <h2>For the scope</h2>
        <table class="figures">
          <tbody>
            <tr>
              <td>Hour angle</td>
              <td class="num">{{ figure(p.starHourAngleDeg / 15, 2) }} h ({{ figure(p.starHourAngleDeg, 1) }}°)</td>
            </tr>
            <tr>
              <td>On the dial, inverted</td>
              <td class="num">
                <strong>{{ p.clockInverted }}</strong>
              </td>
            </tr>
            <tr>
              <td>By eye</td>
              <td class="num">{{ p.clock }}</td>
            </tr>
            <tr>
              <td>From the pole</td>
              <td class="num">{{ figure(p.starDistanceArcmin, 1) }}′</td>
            </tr>
            <tr>
              <td>Standard time (no summer hour)</td>
              <td class="num">{{ p.standardTime.slice(11, 16) }}</td>
            </tr>
            <tr>
              <td>Zone meridian</td>
              <td class="num">{{ figure(p.zoneMeridianDeg, 0) }}°</td>
            </tr>
            <tr>
              <td>Site from it</td>
              <td class="num">
                {{ signed(p.longitudeOffsetDeg, 1) }}° {{ p.longitudeOffsetDeg >= 0 ? 'east' : 'west' }}
              </td>
            </tr>
          </tbody>
        </table>
        <h3>With a level and a date ring</h3>
        <ol class="steps">
          <li>Level the right-ascension axis and zero its circle.</li>
          <li>Set the site’s offset of {{ signed(p.longitudeOffsetDeg, 0) }}° against the zone meridian.</li>
          <li>
            Turn today’s date against <strong class="mono">{{ p.standardTime.slice(11, 16) }}</strong>: standard time,
            also in summer.
          </li>
          <li>Bring {{ p.star }} to the mark with azimuth and altitude screws only.</li>
        </ol>
        <h3>From declination drift</h3>
        <div class="row">
          <QuantityInput
            v-model="drift"
            dimension="number"
            unit="″/min"
            label="Drift without declination pulses"
            optional
            :decimals="2"
            :step="0.1"
            width="210px"
          />
          <span v-if="drift !== null" class="small"
            >At least <strong class="mono">{{ figure(3.81 * Math.abs(drift), 1) }}′</strong> off: one drift sees only
            the part across its hour circle; take a second six hours away.</span
          >
        </div>
      </section>
    </div>
    <WorkingFold :steps="p.working" />
  </template>
</template>

<style scoped>
.board {
  grid-template-columns: minmax(0, 1.2fr) minmax(300px, 1fr);
}
.dial {
  width: min(100%, 470px);
  justify-self: center;
}
.halo {
  paint-order: stroke;
  stroke: var(--sky-night);
  stroke-width: 4px;
}
.steps {
  margin: 0;
  padding-left: 20px;
}
@media (max-width: 900px) {
  .board {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
