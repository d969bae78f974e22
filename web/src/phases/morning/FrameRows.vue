<script setup lang="ts">
import type { FrameGuiding } from '@keen/core/frames';
import { figure, longOverShort } from '@keen/core/quantities';
import { computed } from 'vue';
import FilterTile from '../../common/FilterTile.vue';
import { clock } from '../../common/times.ts';
import { useClub } from '../../stores/club.ts';
import { useUnits } from '../../stores/units.ts';
import type { FrameRow } from './frameRow.ts';

/** A night’s frames as rows, in the order they were taken. */
const props = defineProps<{
  rows: readonly FrameRow[];
  guiding: ReadonlyMap<string, FrameGuiding>;
  chosen: string;
  picked: ReadonlySet<string>;
}>();
const emit = defineEmits<{ choose: [id: string, extend: boolean] }>();
const club = useClub();
const units = useUnits();
const zone = computed(() => club.site?.timeZone ?? 'UTC');
const stateOf = (r: FrameRow) =>
  [
    r.suggestion ? units.say(r.suggestion.reason) : r.record && !r.accepted ? r.record.reason || 'refused' : '',
    ...(props.guiding.get(r.id)?.phrases ?? []).map((p) => units.say(p)),
  ]
    .filter(Boolean)
    .join('; ');
const rms = (r: FrameRow) => props.guiding.get(r.id)?.rmsArcsec ?? null;
</script>

<template>
  <div class="scroll" tabindex="0" role="region" aria-label="The night’s frames">
    <table class="figures">
      <thead>
        <tr>
          <th>Counts</th>
          <th>Begun</th>
          <th>Filter</th>
          <th class="num">s</th>
          <th class="num">Stars</th>
          <th class="num">HFD</th>
          <th class="num">Long</th>
          <th class="num">Sky</th>
          <th v-if="guiding.size" class="num" title="Scatter of the guiding during the frame">Guided</th>
          <th>Why</th>
        </tr>
      </thead>
      <tbody>
        <tr
          v-for="r in rows"
          :key="r.id"
          :data-frame="r.id"
          :class="{ here: r.id === chosen, picked: picked.has(r.id), out: r.record && !r.accepted }"
          :aria-selected="picked.has(r.id)"
          tabindex="-1"
          @click="emit('choose', r.id, $event.shiftKey)"
        >
          <td>
            <span v-if="!r.record" class="muted">on no record</span>
            <span v-else-if="!r.accepted" class="level-bad">✕ no</span>
            <span v-else-if="r.suggestion" class="level-caution">? yes</span>
            <span v-else class="level-good">✓ yes</span>
          </td>
          <td class="mono small">{{ r.startedAt ? clock(r.startedAt, zone) : '–' }}</td>
          <td><FilterTile v-if="r.filter" :name="r.filter" /></td>
          <td class="num">{{ figure(r.exposureS, 0) }}</td>
          <td class="num">{{ r.look?.stars ?? '–' }}</td>
          <td class="num">{{ r.look?.hfdPx == null ? '–' : figure(r.look.hfdPx, 2) }}</td>
          <td class="num">
            {{ r.look?.eccentricity == null ? '–' : figure(longOverShort(r.look.eccentricity), 2) }}
          </td>
          <td class="num">{{ r.look ? figure(r.look.background, 0) : '–' }}</td>
          <td v-if="guiding.size" class="num">{{ rms(r) === null ? '–' : `${figure(rms(r)!, 2)}″` }}</td>
          <td class="small why">{{ stateOf(r) }}</td>
        </tr>
      </tbody>
    </table>
  </div>
</template>

<style scoped>
.scroll {
  max-height: 560px;
  overflow: auto;
}
tbody tr {
  cursor: pointer;
  content-visibility: auto;
  contain-intrinsic-size: auto 34px;
}
.picked {
  background: var(--sunk);
}
.here {
  box-shadow: inset 3px 0 0 var(--accent);
}
.out {
  color: var(--ink-2);
}
.why {
  max-width: 240px;
}
thead th {
  position: sticky;
  top: 0;
  background: var(--surface);
  z-index: 1;
}
</style>
