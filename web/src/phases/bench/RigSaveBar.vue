<script setup lang="ts">
import ConflictDialog from '../../common/ConflictDialog.vue';
import SaveBar from '../../common/SaveBar.vue';
import { INVALID, invalidatedBy } from '@keen/core/rig';
import { computed } from 'vue';
import { useClub } from '../../stores/club.ts';
import { useSession } from '../../stores/session.ts';
import type { useRigDraft } from './useRigDraft.ts';

/** Save and conflict of the shared rig draft, with what the change would make worthless said before it is saved. */
const props = defineProps<{ edit: ReturnType<typeof useRigDraft> }>();
const club = useClub();
const session = useSession();
const lost = computed(() => {
  const [before, after] = [club.rig?.setup, props.edit.draft.value?.setup];
  return before && after && props.edit.dirty.value ? invalidatedBy(before, after) : [];
});
</script>

<template>
  <div v-if="club.rig">
    <SaveBar
      :dirty="edit.dirty.value"
      :busy="edit.busy.value"
      :undoable="edit.undoable.value"
      :restored-at="edit.restoredAt.value"
      :saved-at="club.rig.updatedAt"
      :saved-by="club.rig.updatedBy"
      :trouble="edit.trouble.value"
      :locked="session.mayEdit ? undefined : 'Guests may look, not change.'"
      @save="edit.save"
      @discard="edit.discard"
      @undo="edit.undo"
    />
    <p v-if="lost.length" class="level-caution small" data-test="invalidated">
      Saving this calls for: {{ lost.map((k) => INVALID[k]).join('; ') }}.
    </p>
    <ConflictDialog :saving="edit" :mine="edit.draft.value" :theirs="edit.theirs.value" />
  </div>
</template>
