<script setup lang="ts">
import type { SmallPicture } from '@keen/core/frames';
import { figure } from '@keen/core/quantities';
import { computed } from 'vue';
import FilterTile from '../../common/FilterTile.vue';
import { clock } from '../../common/times.ts';
import { useClub } from '../../stores/club.ts';
import TonePicture from '../../common/TonePicture.vue';
import type { FrameRow } from './frameRow.ts';

/** A night’s frames as small pictures, each by its own sky, or all by the sky of the one looked at. */
const props = defineProps<{
  rows: readonly FrameRow[];
  small: ReadonlyMap<string, SmallPicture>;
  chosen: string;
  picked: ReadonlySet<string>;
  whiteSigma: number;
  alike: boolean;
}>();
const emit = defineEmits<{ choose: [id: string, extend: boolean] }>();
const club = useClub();
const zone = computed(() => club.site?.timeZone ?? 'UTC');
const reference = computed(() => props.rows.find((r) => r.id === props.chosen)?.look ?? null);
function stretchOf(r: FrameRow) {
  const own = { whiteSigma: props.whiteSigma, times: 1, above: 0 };
  const ref = reference.value;
  if (!props.alike || !ref || !r.look || !(ref.noise > 0)) return own;
  return { ...own, times: r.look.noise / ref.noise, above: (r.look.background - ref.background) / ref.noise };
}
</script>

<template>
  <div class="sheet">
    <button
      v-for="r in rows"
      :key="r.id"
      type="button"
      class="frame"
      :data-frame="r.id"
      :class="{ here: r.id === chosen, picked: picked.has(r.id), out: r.record && !r.accepted }"
      :aria-pressed="picked.has(r.id)"
      @click="emit('choose', r.id, $event.shiftKey)"
    >
      <TonePicture v-if="small.get(r.id)" :picture="small.get(r.id)!" :stretch="stretchOf(r)" :name="r.file" />
      <span v-else class="none muted small">{{ r.look ? 'no picture kept' : 'not measured' }}</span>
      <span class="line small">
        <span class="mono">{{ r.startedAt ? clock(r.startedAt, zone) : '–' }}</span>
        <FilterTile v-if="r.filter" :name="r.filter" />
        <span class="mono">{{ r.look?.hfdPx == null ? '' : figure(r.look.hfdPx, 1) }}</span>
        <span v-if="r.record && !r.accepted" class="level-bad">✕</span>
        <span v-else-if="r.suggestion" class="level-caution">?</span>
      </span>
    </button>
  </div>
</template>

<style scoped>
.sheet {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(138px, 1fr));
  gap: 8px;
  max-height: 620px;
  overflow: auto;
  padding: 3px;
}
.frame {
  border: 1px solid var(--line);
  border-radius: 3px;
  background: var(--surface);
  color: var(--ink);
  padding: 3px;
  cursor: pointer;
  display: grid;
  gap: 3px;
  align-content: start;
  content-visibility: auto;
  contain-intrinsic-size: auto 128px;
}
.picked {
  border-color: var(--line-strong);
  background: var(--sunk);
}
.here {
  outline: 2px solid var(--accent);
}
.out canvas {
  opacity: 0.45;
}
.none {
  aspect-ratio: 3 / 2;
  display: grid;
  place-content: center;
  border: 1px dashed var(--line);
}
.line {
  display: flex;
  gap: 6px;
  align-items: center;
  justify-content: space-between;
}
</style>
