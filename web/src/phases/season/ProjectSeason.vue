<script setup lang="ts">
import type { ProjectSeason, SiteRecord } from '@keen/contract';
import { nightOf } from '@keen/core/record';
import { instantOfLocal } from '@keen/core/sky';
import { Button, Checkbox } from 'ant-design-vue';
import { computed } from 'vue';
import PickOne from '../../common/PickOne.vue';
import QuantityInput from '../../common/QuantityInput.vue';
import TimeInput from '../../common/TimeInput.vue';
import { useSession } from '../../stores/session.ts';

/** When a project may have hours of the coming nights, and how it is weighed among its owner’s own. */
const props = defineProps<{
  season: ProjectSeason;
  site: SiteRecord | null;
  tonight: string;
  /** Its framing is pinned. */
  pinned: boolean;
  off: boolean;
}>();
const session = useSession();
const zone = computed(() => props.site?.timeZone ?? 'UTC');
const at = (night: string, hour: number) =>
  new Date(instantOfLocal(zone.value, Date.parse(`${night}T00:00:00Z`) + hour * 3_600_000)).toISOString();
const night = (start: string) => nightOf(start, zone.value);
const MOON = [
  { value: 'each', label: 'each filter minds it' },
  { value: 'down', label: 'only while it is down' },
  { value: 'apart', label: 'down, or far away' },
];
const moonBy = computed({
  get: () => (props.season.moon && props.season.moon.by !== 'any' ? props.season.moon.by : 'each'),
  set: (by: string) =>
    (props.season.moon =
      by === 'down'
        ? { by }
        : by === 'apart'
          ? { by, deg: props.season.moon?.by === 'apart' ? props.season.moon.deg : 90 }
          : null),
});
const DAY = /^\d{4}-\d\d-\d\d$/;
const deadline = computed({
  get: () => props.season.deadline ?? '',
  set: (day: string) => (props.season.deadline = DAY.test(day) ? day : null),
});
/** The same hours of another night. */
function move(i: number, to: string) {
  const s = props.season.spells[i]!;
  if (!DAY.test(to)) return;
  const by = Date.parse(to) - Date.parse(night(s.start));
  props.season.spells[i] = {
    start: new Date(Date.parse(s.start) + by).toISOString(),
    end: new Date(Date.parse(s.end) + by).toISOString(),
  };
}
const backwards = computed(() => props.season.spells.some((s) => Date.parse(s.end) <= Date.parse(s.start)));
</script>

<template>
  <div class="stack" data-test="season">
    <h3>In the coming nights</h3>
    <div class="grid">
      <QuantityInput
        v-model="season.priority"
        dimension="number"
        label="Priority"
        :decimals="1"
        :min="0.1"
        :max="10"
        :disabled="off"
      />
      <label class="small muted"
        >Of use until<input v-model="deadline" type="date" class="plain" :min="tonight" :disabled="off"
      /></label>
      <PickOne v-model:value="moonBy" label="Moon" shown :options="MOON" :disabled="off" class="moon" />
      <QuantityInput
        v-if="season.moon?.by === 'apart'"
        v-model="season.moon.deg"
        dimension="angle"
        label="At least away"
        :decimals="0"
        :min="1"
        :max="180"
        :disabled="off"
      />
      <Button
        size="small"
        :disabled="off || season.spells.length >= 50"
        @click="season.spells.push({ start: at(tonight, 22), end: at(tonight, 24) })"
        >Only at certain hours</Button
      >
    </div>
    <p class="small muted">
      {{
        session.alone
          ? 'What one project weighs more, the others weigh less.'
          : 'What one of your projects weighs more, your others weigh less; it takes nothing from anybody else.'
      }}
    </p>
    <Checkbox v-model:checked="season.sameTrain" :disabled="off || (!pinned && !season.sameTrain)">
      Only with the train its framing was pinned for<span v-if="!pinned" class="muted small"> (none is pinned)</span>
    </Checkbox>
    <div v-for="(s, i) in season.spells" :key="i" class="row spell">
      <label class="small muted"
        >Night<input
          :value="night(s.start)"
          type="date"
          class="plain"
          :disabled="off"
          @change="move(i, ($event.target as HTMLInputElement).value)"
      /></label>
      <TimeInput v-model="s.start" label="From" :time-zone="zone" :night="night(s.start)" :disabled="off" />
      <TimeInput v-model="s.end" label="Until" :time-zone="zone" :night="night(s.start)" :disabled="off" />
      <Button
        type="text"
        size="small"
        :disabled="off"
        :aria-label="`Remove these hours, ${night(s.start)}`"
        @click="season.spells.splice(i, 1)"
        >✕</Button
      >
    </div>
    <p v-if="backwards" class="level-bad small" role="alert">These hours end before they begin.</p>
  </div>
</template>

<style scoped>
.grid {
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(130px, 1fr));
  gap: 12px;
  align-items: end;
}
input[type='date'] {
  max-width: 150px;
}
.spell {
  align-items: end;
}
h3 {
  margin: 0;
}
.moon {
  min-width: 0;
}
</style>
