<script setup lang="ts">
import { phrase } from '@keen/core/phrases';
import { filterLight, MoonInput, moonSeries } from '@keen/core/exposure';
import { InvalidInput, parseInput } from '@keen/core/calculation';
import { figure } from '@keen/core/quantities';
import { filtersOf } from '@keen/core/rig';
import { moonDisk, nightFrame } from '@keen/core/sky';
import { useLocalStorage } from '@vueuse/core';
import { computed } from 'vue';
import EmptyState from '../../common/EmptyState.vue';
import PickOne from '../../common/PickOne.vue';
import QuantityInput from '../../common/QuantityInput.vue';
import VerdictLine from '../../common/VerdictLine.vue';
import WorkingFold from '../../common/WorkingFold.vue';
import { coreSite } from '../../common/records.ts';
import { clock, hours } from '../../common/times.ts';
import { useClub } from '../../stores/club.ts';
import MoonPicture from './MoonPicture.vue';
import { useNight } from './useNight.ts';

/** A short series of the Moon while the first target is still low: whether it fits, how long, how fast, how much. */
const club = useClub();
const { night, plans } = useNight();
const zone = computed(() => club.site?.timeZone ?? 'UTC');
const criteria = useLocalStorage(
  'keen.moon',
  { filter: '', cropShare: 100, bytesPerPx: 2 as 1 | 2, linkMBPerS: 200, durationS: 60 },
  { mergeDefaults: true },
);
const filters = computed(() => (club.rig ? filtersOf(club.rig.setup) : []));
const filter = computed(() =>
  filters.value.includes(criteria.value.filter) ? criteria.value.filter : (filters.value[0] ?? ''),
);
const frame = computed(() => (club.site && club.night ? nightFrame(coreSite(club.site), club.night) : null));
/** When the evening’s first target begins; null where nothing is planned. */
const firstMs = computed(() => {
  const starts = plans.value.flatMap((p) => p.legs.flatMap((l) => (l.start ? [Date.parse(l.start)] : [])));
  return starts.length ? Math.min(...starts) : null;
});
/** The Moon above 10° from sunset to sunrise, as far as the first target leaves it [ms]. */
const spell = computed(() => {
  const n = night.value;
  if (!n || !frame.value) return null;
  const from = Math.max(Date.parse(n.sunset ?? n.middle) - 3_600_000, frame.value.from);
  const until = Math.min(Date.parse(n.sunrise ?? n.middle) + 3_600_000, frame.value.to);
  const up: number[] = [];
  for (let ms = from; ms <= until; ms += 5 * 60_000) if (moonDisk(frame.value, ms).altitudeDeg >= 10) up.push(ms);
  if (up.length === 0) return null;
  const all = { from: up[0]!, until: up.at(-1)! };
  const before = firstMs.value !== null && firstMs.value > all.from ? Math.min(all.until, firstMs.value) : null;
  return { ...all, before };
});
/** In the middle of what is left for it. */
const atMs = computed(() => (spell.value ? (spell.value.from + (spell.value.before ?? spell.value.until)) / 2 : null));
const disk = computed(() => (frame.value && atMs.value !== null ? moonDisk(frame.value, atMs.value) : null));
const crop = computed(() => {
  const c = club.rig?.setup.camera;
  const side = (px: number) => Math.max(8, Math.round((px * criteria.value.cropShare) / 100 / 8) * 8);
  return c ? { w: Math.min(c.widthPx, side(c.widthPx)), h: Math.min(c.heightPx, side(c.heightPx)) } : null;
});
const light = computed(() => (club.rig ? filterLight(club.rig.setup, filter.value) : null));
const series = computed(() => {
  const [s, d, l, c] = [club.rig?.setup, disk.value, light.value, crop.value];
  if (!s || !d || !l || !c) return null;
  const { bytesPerPx, linkMBPerS, durationS } = criteria.value;
  try {
    const input = parseInput(MoonInput, {
      ...l.instrument,
      focalRatio: s.focalLengthMm / s.apertureMm,
      pixelUm: s.camera.pixelUm,
      fullWellE: l.fullWellE,
      readNoiseE: l.readNoiseE,
      widthPx: s.camera.widthPx,
      heightPx: s.camera.heightPx,
      cropWidthPx: c.w,
      cropHeightPx: c.h,
      bytesPerPx,
      linkMBPerS,
      durationS,
      moonDiameterArcmin: d.diameterArcmin,
      moonPhaseAngleDeg: Math.min(150, d.phaseAngleDeg),
      moonAltitudeDeg: Math.max(5, d.altitudeDeg),
    });
    return { ok: true as const, value: moonSeries(input) };
  } catch (e) {
    if (e instanceof InvalidInput) return { ok: false as const, message: e.message };
    throw e;
  }
});
const when = computed(() => {
  const s = spell.value;
  if (!s) return [];
  const up = { from: clock(s.from, zone.value), until: clock(s.until, zone.value) };
  if (s.before === null) return [phrase('moon.above', up)];
  const begins = clock(firstMs.value!, zone.value);
  return [phrase('moon.above-before', { ...up, begins, free: hours((s.before - s.from) / 60_000) })];
});
</script>

<template>
  <EmptyState v-if="!club.rig || !club.site" title="No rig yet" lacks="rig">
    Whether the Moon fits follows from a camera, its optics and a place.
  </EmptyState>
  <EmptyState v-else-if="night && !spell" title="No Moon tonight">
    It never stands 10° above the horizon between sunset and sunrise of this night. Try another with <kbd>[</kbd> and
    <kbd>]</kbd>.
  </EmptyState>
  <template v-else-if="series && disk && crop && night">
    <VerdictLine v-if="series.ok" :verdict="series.value.verdict" :notes="when" />
    <p v-else class="level-bad" role="alert">{{ series.message }}</p>
    <div class="split board">
      <section class="panel stack">
        <h2>The Moon against the field, at {{ clock(atMs!, zone) }}</h2>
        <MoonPicture
          v-if="series.ok"
          :disk="disk"
          :moon-px="series.value.moonPx"
          :sensor="{ w: club.rig.setup.camera.widthPx, h: club.rig.setup.camera.heightPx }"
          :crop="crop"
        />
        <p class="muted small">
          {{ figure(disk.diameterArcmin, 1) }}′ across, {{ figure(disk.altitudeDeg, 0) }}° high. The way its lit side
          leans in the camera is not worked out here.
        </p>
      </section>
      <section class="panel stack">
        <h2>The series</h2>
        <div class="two">
          <PickOne
            :value="filter"
            label="Through"
            shown
            :options="filters.map((f) => ({ value: f, label: f }))"
            @update:value="criteria.filter = String($event)"
          />
          <PickOne
            v-model:value="criteria.bytesPerPx"
            label="Depth"
            shown
            :options="[
              { value: 2, label: '16 bit' },
              { value: 1, label: '8 bit' },
            ]"
          />
          <QuantityInput
            v-model="criteria.cropShare"
            dimension="number"
            unit="%"
            label="Read out, of each side"
            :decimals="0"
            :min="2"
            :max="100"
            :step="5"
          />
          <QuantityInput
            v-model="criteria.linkMBPerS"
            dimension="number"
            unit="MB/s"
            label="Cable and disk keep up with"
            :decimals="0"
            :min="1"
            :max="20000"
            :step="10"
          />
          <QuantityInput
            v-model="criteria.durationS"
            dimension="duration"
            label="Length"
            :decimals="0"
            :min="1"
            :max="3600"
            :step="10"
          />
        </div>
        <table v-if="series.ok" class="figures" data-test="series">
          <tbody>
            <tr>
              <td>Exposure</td>
              <td class="num">{{ figure(1000 * series.value.exposureS, 1) }} ms</td>
              <td class="muted small">
                the brightest ground fills its pixels after {{ figure(1250 * series.value.longestS, 1) }} ms; the air
                holds still for about 15
              </td>
            </tr>
            <tr>
              <td>At the terminator</td>
              <td class="num">{{ figure(series.value.terminatorE, 0) }} e⁻</td>
              <td class="muted small">signal to noise {{ figure(series.value.terminatorSnr, 0) }} in one frame</td>
            </tr>
            <tr>
              <td>Frames a second</td>
              <td class="num">{{ figure(series.value.framesPerS, 1) }}</td>
              <td class="muted small">
                {{
                  series.value.limitedBy === 'link'
                    ? 'cable and disk hold it back: read less of the sensor'
                    : 'the exposure itself sets it'
                }}
              </td>
            </tr>
            <tr>
              <td>Frames, and file</td>
              <td class="num">{{ series.value.frames }}</td>
              <td class="muted small">
                {{ figure(series.value.fileMB / 1000, 1) }} GB; the sharpest {{ series.value.kept }} are a tenth
              </td>
            </tr>
            <tr>
              <td>It moves on by</td>
              <td class="num">{{ figure(series.value.driftPx, 0) }} px</td>
              <td class="muted small">
                at star speed; set the mount to lunar speed, and back to the stars before the first target
              </td>
            </tr>
            <tr>
              <td>Sampling</td>
              <td class="num">f/{{ figure(club.rig.setup.focalLengthMm / club.rig.setup.apertureMm, 1) }}</td>
              <td class="muted small">
                two pixels take in the finest detail from f/{{ figure(series.value.criticalRatio, 0) }} on
              </td>
            </tr>
          </tbody>
        </table>
        <p class="muted small">
          How much brighter than the rest the brightest ground is, and how faint the terminator, is rough: look at the
          first frame’s histogram.
        </p>
        <WorkingFold v-if="series.ok" :steps="series.value.working" />
      </section>
    </div>
  </template>
</template>

<style scoped>
.board {
  grid-template-columns: minmax(0, 1fr) minmax(420px, 1.1fr);
}
.two {
  display: grid;
  grid-template-columns: repeat(3, minmax(0, 1fr));
  gap: 8px 12px;
  align-items: end;
}
@media (max-width: 1000px) {
  .board,
  .two {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
