<script setup lang="ts">
import type { Origin } from '@keen/core/rig';
import { Dropdown, Menu, MenuItem } from 'ant-design-vue';
import dayjs from 'dayjs';
import { computed } from 'vue';
import { useClub } from '../stores/club.ts';
import { useSession } from '../stores/session.ts';
import { useUnits } from '../stores/units.ts';

/** Where a number comes from, as a quiet letter; pressed, it says more and lets the person say otherwise. */
const props = defineProps<{ origin: Origin | undefined; what: string; dimension: 'mass' | 'length'; off?: boolean }>();
const emit = defineEmits<{ change: [origin: Origin] }>();
const session = useSession();
const club = useClub();
const units = useUnits();
const LETTER = { measured: 'm', documented: 'd', assumed: 'a' };
const words = computed(() => {
  const o = props.origin;
  if (!o) return `${props.what}: nobody said where it is from`;
  if (o.kind === 'assumed') {
    const spread = o.spread && (props.dimension === 'mass' ? units.mass(o.spread) : units.length(o.spread));
    return `${props.what}: assumed${spread ? `, ±${spread}` : ''}`;
  }
  const who = [o.by, o.at && dayjs(o.at).format('D MMM YYYY')].filter(Boolean).join(', ');
  return `${props.what}: ${o.kind}${who ? ` (${who})` : ''}`;
});
const mine = (kind: Origin['kind']): Origin =>
  kind === 'assumed'
    ? { kind, spread: props.origin?.spread ?? (props.dimension === 'mass' ? 0.1 : 20) }
    : {
        kind,
        ...(kind === 'measured' && session.member ? { by: session.member.name } : {}),
        at: dayjs(club.now).format('YYYY-MM-DD'),
      };
</script>

<template>
  <Dropdown :trigger="['click']" :disabled="off ?? false">
    <button type="button" class="origin mono" :class="origin?.kind ?? 'unsaid'" :title="words" :aria-label="words">
      {{ origin ? LETTER[origin.kind] : '?' }}
    </button>
    <template #overlay>
      <Menu>
        <MenuItem disabled>{{ words }}</MenuItem>
        <MenuItem @click="emit('change', mine('measured'))">Measured by me, today</MenuItem>
        <MenuItem @click="emit('change', mine('documented'))">As documented</MenuItem>
        <MenuItem @click="emit('change', mine('assumed'))">Assumed</MenuItem>
      </Menu>
    </template>
  </Dropdown>
</template>

<style scoped>
.origin {
  all: unset;
  cursor: pointer;
  width: 18px;
  height: 18px;
  line-height: 18px;
  text-align: center;
  border-radius: 4px;
  font-size: 12px;
  color: var(--ink-2);
  border: 1px solid var(--line);
}
.origin:focus-visible {
  outline: 2px solid var(--accent);
}
.measured {
  border-color: var(--good);
  color: var(--good);
}
.assumed {
  border-color: var(--caution);
  border-style: dashed;
  color: var(--caution);
}
</style>
