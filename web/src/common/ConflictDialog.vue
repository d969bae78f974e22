<script setup lang="ts">
import { Button, Modal } from 'ant-design-vue';
import { computed, type ShallowRef } from 'vue';
import { useUnits } from '../stores/units.ts';
import { differences } from './fieldWords.ts';

/** What a saving tells this dialog, and what it does with the choice. */
export interface Conflicted {
  conflict: ShallowRef<{ detail: string } | null>;
  keepMine: () => unknown;
  takeTheirs: () => void;
}
/** Two people saved the same record: both sides, field by field, and a choice. */
const props = defineProps<{ saving: Conflicted; mine: unknown; theirs: unknown }>();
const conflict = computed(() => props.saving.conflict.value);

const goOn = () => {
  // the draft stays as it is; the next save asks again
  const { saving } = props;
  saving.conflict.value = null;
};

const units = useUnits();
const shown = (key: string, v: unknown) =>
  v === undefined || v === null
    ? 'not there'
    : v === ''
      ? 'empty'
      : typeof v === 'number'
        ? units
            .quantity(key, v, 3)
            .replace(/(\.\d*?)0+(?=\D|$)/, '$1')
            .replace(/\.(?=\D|$)/, '')
        : typeof v === 'boolean'
          ? v
            ? 'yes'
            : 'no'
          : String(v);
const rows = computed(() =>
  differences(props.mine, props.theirs)
    .slice(0, 60)
    .map((d) => ({ field: d.field, mine: shown(d.key, d.mine), theirs: shown(d.key, d.theirs) })),
);
</script>

<template>
  <Modal :open="conflict !== null" title="Somebody saved a newer version" width="720px" :footer="null" @cancel="goOn">
    <p>{{ conflict?.detail }} Nothing of yours is lost. These fields differ:</p>
    <div class="scroll">
      <table class="figures" data-test="conflict">
        <thead>
          <tr>
            <th>Field</th>
            <th>Yours</th>
            <th>Theirs, saved</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="r in rows" :key="r.field">
            <td class="muted">{{ r.field }}</td>
            <td class="mono">{{ r.mine }}</td>
            <td class="mono">{{ r.theirs }}</td>
          </tr>
          <tr v-if="rows.length === 0">
            <td colspan="3">Both hold the same; taking theirs changes nothing.</td>
          </tr>
        </tbody>
      </table>
    </div>
    <div class="row actions">
      <Button type="primary" @click="saving.keepMine">Keep mine and save over it</Button>
      <Button @click="saving.takeTheirs">Take theirs</Button>
      <Button type="text" @click="goOn">Go on editing</Button>
    </div>
  </Modal>
</template>

<style scoped>
.scroll {
  max-height: 46vh;
  overflow: auto;
  margin: 10px 0;
}
</style>
