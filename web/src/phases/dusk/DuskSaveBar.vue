<script setup lang="ts">
import { computed, onMounted } from 'vue';
import KeptBar from '../../common/KeptBar.vue';
import { useSession } from '../../stores/session.ts';
import { useDuskSettings } from './useDuskSettings.ts';

/** Keeps what was told about a rig's evenings; says who did so last. */
const dusk = useDuskSettings();
const session = useSession();
onMounted(() => void dusk.load());
const locked = computed(() =>
  session.mayEdit ? undefined : 'As a guest you may try figures here; they are not kept for others.',
);
</script>

<template>
  <div v-if="dusk.record" data-test="dusk-save">
    <KeptBar
      :kept="dusk.kept"
      :saving="dusk.saving"
      :fields-of="(r) => r.settings"
      :record="dusk.record.kept ? dusk.record : null"
      :locked="locked"
    />
  </div>
  <p v-else-if="dusk.missing" class="level-bad" role="alert">{{ dusk.missing }} Common values are used meanwhile.</p>
</template>
