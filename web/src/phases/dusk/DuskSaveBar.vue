<script setup lang="ts">
import { computed, onMounted } from 'vue';
import ConflictDialog from '../../common/ConflictDialog.vue';
import SaveBar from '../../common/SaveBar.vue';
import { useSession } from '../../stores/session.ts';
import { useDuskSettings } from './useDuskSettings.ts';

/** Keeps what was told about a rig's evenings; says who did so last. */
const dusk = useDuskSettings();
const session = useSession();
const { kept, saving } = dusk;
onMounted(() => void dusk.load());
const locked = computed(() =>
  session.mayEdit ? undefined : 'As a guest you may try figures here; they are not kept for others.',
);
</script>

<template>
  <div v-if="dusk.record" data-test="dusk-save">
    <SaveBar
      :dirty="kept.dirty.value"
      :busy="saving.busy.value"
      :undoable="kept.undoable.value"
      :restored-at="kept.restoredAt.value"
      :saved-at="dusk.record.kept ? dusk.record.updatedAt : undefined"
      :saved-by="dusk.record.updatedBy"
      :trouble="saving.trouble.value"
      :locked="locked"
      @save="saving.save"
      @discard="kept.discard"
      @undo="kept.undo"
    />
    <ConflictDialog
      :saving="saving"
      :mine="kept.draft.value"
      :theirs="saving.conflict.value?.theirs.settings ?? null"
    />
  </div>
  <p v-else-if="dusk.missing" class="level-bad" role="alert">{{ dusk.missing }} Common values are used meanwhile.</p>
</template>
