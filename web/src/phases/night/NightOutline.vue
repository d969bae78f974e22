<script setup lang="ts">
import type { ProjectRecord } from '@keen/contract';
import type { NightSchedule, Leg, Piece, Watches } from '@keen/core/sequence';
import { Button } from 'ant-design-vue';
import { computed, nextTick, ref } from 'vue';
import FilterTile from '../../common/FilterTile.vue';
import PickOne from '../../common/PickOne.vue';
import { clock } from '../../common/times.ts';
import { useUnits } from '../../stores/units.ts';
import { legName } from '@keen/core/sequence';
import { ROLE_WORDS, STEP_WORDS, watchWords } from './nightWords.ts';
import { framesOf } from './usePlanWords.ts';

/** The night as a list, opening to closing: chosen, moved and removed by the keyboard alone. */
const props = defineProps<{
  legs: Leg[];
  opening: { step: string }[];
  closing: { step: string }[];
  watches: Watches;
  schedule: NightSchedule | null;
  projects: ProjectRecord[];
  chosen: string;
  timeZone: string;
  off: boolean;
  /** Targets are closed to this person: no leg is added, moved or taken out. */
  fixed: boolean;
}>();
const emit = defineEmits<{
  choose: [id: string];
  move: [id: string, by: -1 | 1];
  remove: [id: string];
  add: [projectId: string, panel: number | null | 'all'];
}>();
const units = useUnits();
/** What a leg may be added for: an object, or of a mosaic all its panels or one. */
const choices = computed(() =>
  props.projects.flatMap((p) => {
    const title = `${p.object}: ${p.name}`;
    if (p.panels === 1) return [{ value: `${p.id}#`, label: title }];
    const panels = p.byPanel.map((_, k) => ({ value: `${p.id}#${k}`, label: `${title}, panel ${k + 1}` }));
    return [{ value: `${p.id}#all`, label: `${title}, all ${p.panels} panels in turns` }, ...panels];
  }),
);
function add(choice: string) {
  const [id, panel] = choice.split('#') as [string, string];
  emit('add', id, panel === 'all' ? 'all' : panel === '' ? null : Number(panel));
}
const span = (pieces: Piece[]) =>
  pieces.length ? `${clock(pieces[0]!.startMs, props.timeZone)}–${clock(pieces.at(-1)!.endMs, props.timeZone)}` : '';
const piecesOf = (test: (p: Piece) => boolean) => (props.schedule?.pieces ?? []).filter(test);
const rows = computed(() => [
  {
    id: 'opening',
    title: 'Opening',
    at: span(piecesOf((p) => p.part === 'opening')),
    text: props.opening.map((s) => STEP_WORDS[s.step]).join(', ') || 'nothing before the first leg',
    leg: null,
    trouble: '',
  },
  ...props.legs.map((leg, i) => {
    const l = props.schedule?.legs[i];
    const worked = piecesOf((p) => p.part === 'leg' && p.legIndex === i);
    return {
      id: leg.id,
      title: legName(leg, props.projects),
      at: worked.length ? worked.map((p) => span([p])).join(', ') : 'no hours',
      text: `${l?.schedule ? `${framesOf(l.schedule)} frames` : 'no frames'}${leg.role === 'main' ? '' : `, ${ROLE_WORDS[leg.role].short}`}${leg.turnMin === null ? '' : `, in turns of ${leg.turnMin} min`}`,
      leg,
      trouble: l?.trouble ? units.say([l.trouble]) : '',
    };
  }),
  {
    id: 'closing',
    title: 'Closing',
    at: span(piecesOf((p) => p.part === 'closing')),
    text: props.closing.map((s) => STEP_WORDS[s.step]).join(', ') || 'nothing after the last leg',
    leg: null,
    trouble: '',
  },
  { id: 'watches', title: 'Watches', at: 'all night', text: watchWords(props.watches, units), leg: null, trouble: '' },
]);
const keeps = computed(() => props.off || props.fixed);
const list = ref<HTMLElement>();
async function step(by: number) {
  const at = rows.value.findIndex((r) => r.id === props.chosen);
  const next = rows.value[Math.min(rows.value.length - 1, Math.max(0, at + by))]!;
  emit('choose', next.id);
  await nextTick();
  list.value?.querySelector<HTMLElement>('[aria-current="true"]')?.focus();
}
function key(e: KeyboardEvent, leg: Leg | null) {
  const by = e.key === 'ArrowUp' ? -1 : e.key === 'ArrowDown' ? 1 : 0;
  if (by) {
    e.preventDefault();
    if (!e.altKey) void step(by);
    else if (leg && !keeps.value) emit('move', leg.id, by);
  } else if (e.key === 'Delete' && leg && !keeps.value && props.legs.length > 1) emit('remove', leg.id);
}
</script>

<template>
  <div class="outline" data-test="outline">
    <ol ref="list" aria-label="The night, step by step">
      <li v-for="r in rows" :key="r.id" :class="{ here: r.id === chosen, leg: r.leg }">
        <button
          type="button"
          class="pick"
          :aria-current="r.id === chosen"
          :title="r.leg ? 'Arrow keys choose, with Alt they move the leg, Delete removes it' : 'Arrow keys choose'"
          @click="emit('choose', r.id)"
          @keydown="key($event, r.leg)"
        >
          <span class="mono at">{{ r.at }}</span>
          <strong>{{ r.title }}</strong>
          <span v-if="r.leg" class="tiles"
            ><FilterTile v-for="f in r.leg.settings.filters" :key="f.name" :name="f.name"
          /></span>
          <span class="muted small">{{ r.text }}</span>
          <span v-if="r.trouble" class="level-caution small">{{ r.trouble }}</span>
        </button>
        <span v-if="r.leg && !keeps && legs.length > 1" class="row acts">
          <Button size="small" :aria-label="`Move ${r.title} earlier`" @click="emit('move', r.id, -1)">↑</Button>
          <Button size="small" :aria-label="`Move ${r.title} later`" @click="emit('move', r.id, 1)">↓</Button>
          <Button size="small" :aria-label="`Take ${r.title} out`" @click="emit('remove', r.id)">Take out</Button>
        </span>
      </li>
    </ol>
    <PickOne
      v-if="!keeps"
      :key="legs.length"
      :value="undefined"
      class="add"
      label="Add a leg"
      placeholder="Add a leg for…"
      :options="choices"
      :dropdown-match-select-width="false"
      @update:value="add(String($event))"
    />
  </div>
</template>

<style scoped>
ol {
  list-style: none;
  margin: 0;
  padding: 0;
  display: grid;
  gap: 2px;
}
li {
  display: flex;
  align-items: center;
  gap: 8px;
  border-left: 3px solid transparent;
}
li.here {
  background: var(--sunk);
  border-color: var(--accent);
}
.pick {
  all: unset;
  cursor: pointer;
  flex: 1;
  display: flex;
  flex-wrap: wrap;
  gap: 4px 10px;
  align-items: center;
  padding: 5px 8px;
  min-height: 28px;
}
.pick:focus-visible {
  outline: 2px solid var(--accent);
}
.at {
  min-width: 96px;
  font-size: 13px;
}
.tiles {
  display: inline-flex;
  gap: 3px;
}
.acts {
  padding-right: 6px;
}
.add {
  width: 240px;
  margin-top: 8px;
}
</style>
