<script setup lang="ts">
import { Button } from 'ant-design-vue';
import { computed } from 'vue';
import { useClub } from '../stores/club.ts';
import { useSession } from '../stores/session.ts';
import StillComing from './StillComing.vue';
import { clock } from './times.ts';
import { useHours } from './useHours.ts';

/** Whose tonight’s hours are on this rig, and the plan of them at one press. */
const club = useClub();
const session = useSession();
const h = useHours();
const here = computed(() => h.tonight.value.filter((b) => b.rigId === club.rig?.id));
const open = computed(() => here.value.filter((b) => b.planId === null && b.projectId !== null));
const may = computed(() => session.isSteward || open.value.some(h.mine));
const zone = computed(() => club.site?.timeZone ?? 'UTC');
</script>

<template>
  <template v-if="club.night === club.tonight">
    <StillComing
      v-if="h.answer.trouble.value"
      what="Whose tonight’s hours are"
      :failed="h.answer.trouble.value"
      @again="h.answer.load()"
    />
    <section v-if="here.length" class="panel stack" data-test="hours-tonight">
      <div class="row">
        <h2>Tonight’s hours</h2>
        <ul class="plain">
          <li v-for="b in here" :key="b.id">
            <span class="mono">{{ clock(b.start, zone) }}–{{ clock(b.end, zone) }}</span>
            <strong>{{ b.object || 'not said for what' }}</strong>
            <template v-if="!session.alone">{{ h.mine(b) ? 'yours' : b.member }}</template>
            <span class="muted">{{ b.planId ? 'planned' : 'no plan yet' }}</span>
          </li>
        </ul>
        <Button
          v-if="open.length && may"
          type="primary"
          :disabled="h.busy.value"
          @click="h.plan(club.rig!.id, club.tonight)"
          >Make tonight’s plan</Button
        >
      </div>
      <p v-if="h.refused.value" class="level-bad" role="alert">{{ h.refused.value.text }}</p>
      <p v-if="open.length && !may" class="small muted">Whose hours they are, or a steward, makes the plan.</p>
    </section>
  </template>
</template>

<style scoped>
h2 {
  margin: 0;
}
.plain {
  flex: 1 1 320px;
  list-style: none;
  margin: 0;
  padding: 0;
  display: grid;
  gap: 4px;
}
li {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 12px;
  align-items: baseline;
}
</style>
