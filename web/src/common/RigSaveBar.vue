<script setup lang="ts">
import KeptBar from './KeptBar.vue';
import { phrase, words } from '@keen/core/phrases';
import { angleUnsure, aspectsOf, spoiledBy, windowMoved } from '@keen/core/rig';
import { computed } from 'vue';
import { useClub } from '../stores/club.ts';
import { useSession } from '../stores/session.ts';
import { useUnits } from '../stores/units.ts';
import type { useRigDraft } from './useRigDraft.ts';

/** Save and conflict of the shared rig draft, with what the change would make worthless said before it is saved. */
const props = defineProps<{ edit: ReturnType<typeof useRigDraft> }>();
const club = useClub();
const session = useSession();
const units = useUnits();
const lost = computed(() => {
  const [before, after] = [club.rig?.setup, props.edit.draft.value?.setup];
  if (!before || !after || !props.edit.dirty.value) return [];
  const angle = angleUnsure(before, after) ? [phrase('redo.angle', { angleDeg: after.camera.angleDeg })] : [];
  const star = windowMoved(before, after) ? [phrase('redo.guideStar')] : [];
  return [...spoiledBy(aspectsOf(before), aspectsOf(after)).map((a) => phrase(`redo.${a}`)), ...star, ...angle];
});
</script>

<template>
  <div v-if="club.rig">
    <KeptBar
      :kept="edit"
      :saving="edit"
      :fields-of="edit.fieldsOf"
      :record="club.rig"
      :locked="session.mayEdit ? undefined : 'Guests may look, not change.'"
    />
    <p v-if="lost.length" class="level-caution small" data-test="invalidated">
      Saving this means:
      {{ words(lost, units.system, '; ') }}.
    </p>
  </div>
</template>
