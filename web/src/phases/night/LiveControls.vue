<script setup lang="ts">
import { MOST_WITHIN_MIN, SPEEDS, type LiveRun } from '@keen/contract';
import { faultsOf, type Fault } from '@keen/core/observatory';
import { hasOf, type RunState } from '@keen/core/run';
import { Button, InputNumber, Popconfirm } from 'ant-design-vue';
import { computed, ref } from 'vue';
import PickOne from '../../common/PickOne.vue';
import { useSession } from '../../stores/session.ts';
import { FAULT_WORDS } from '../../common/faultWords.ts';
import type { FollowedRun } from './useLiveRun.ts';

/** Who is at the controls, and what they can ask for; and what somebody at the side can have go wrong. */
const props = defineProps<{ run: LiveRun; state: RunState; followed: FollowedRun }>();
const session = useSession();
const fault = ref<Fault | 'any'>('any');
const withinMin = ref(60);
const thrownNow = ref(false);
const options = computed(() => [
  { value: 'any', label: 'something, drawn' },
  ...faultsOf(hasOf(props.state.plan)).map((f) => ({ value: f, label: FAULT_WORDS[f] })),
]);
async function put(followed: FollowedRun) {
  await followed.throwFault({ fault: fault.value === 'any' ? null : fault.value, withinMin: withinMin.value });
  thrownNow.value = followed.trouble.value === '';
}
</script>

<template>
  <section class="panel stack" data-test="live-controls">
    <div class="row spread">
      <h2>Controls</h2>
      <span class="small" data-test="holder">{{
        followed.mine.value ? 'You are at them' : run.holder ? `${run.holder} is at them` : 'Nobody is at them'
      }}</span>
    </div>
    <p v-if="followed.trouble.value" class="level-bad small" role="alert">{{ followed.trouble.value }}</p>
    <template v-if="session.mayEdit">
      <p v-if="followed.mine.value && run.askedById" class="row asked" role="status">
        <strong>{{ run.askedBy }} asks for the controls.</strong>
        <Button size="small" type="primary" @click="followed.controls('give')">Give them</Button>
      </p>
      <div v-if="followed.mine.value" class="row">
        <Button v-if="state.paused" type="primary" :loading="followed.busy.value" @click="followed.ask('resume')"
          >Go on</Button
        >
        <Button v-else :disabled="state.closed" :loading="followed.busy.value" @click="followed.ask('pause')"
          >Pause after this</Button
        >
        <Button :disabled="state.closed" @click="followed.ask('focus')">Focus next</Button>
        <Button :disabled="state.closed" @click="followed.ask('centre')">Centre next</Button>
        <Button :disabled="state.closed" @click="followed.ask('guide')">Guide anew</Button>
        <Popconfirm
          title="This object gets no more frames tonight. Skip it?"
          ok-text="Skip it"
          cancel-text="Keep it"
          @confirm="followed.ask('skip')"
          ><Button :disabled="state.closed || state.at.legIndex === null">Skip this object</Button></Popconfirm
        >
        <Popconfirm
          title="The frame under way is lost, the mount is parked and the night is closed. Stop?"
          ok-text="Stop and close"
          cancel-text="Go on"
          @confirm="followed.ask('stop')"
          ><Button danger :disabled="state.closed">Stop safely</Button></Popconfirm
        >
      </div>
      <div class="row">
        <PickOne
          v-if="followed.mine.value && !run.bridge"
          :value="run.speed"
          label="Speed"
          shown
          :options="SPEEDS.map((s) => ({ value: s, label: s === 1 ? 'as it is' : `${s} times as fast` }))"
          @update:value="followed.speed(Number($event))"
        />
        <Button v-if="followed.mine.value" size="small" @click="followed.controls('leave')">Let go of them</Button>
        <Button
          v-else-if="run.holderId"
          size="small"
          :disabled="run.askedById === session.member?.id"
          @click="followed.controls('ask')"
          >{{ run.askedById === session.member?.id ? 'Asked for' : 'Ask for them' }}</Button
        >
        <Button
          v-if="!followed.mine.value && (!run.holderId || session.isSteward)"
          size="small"
          @click="followed.controls('take')"
          >Take them</Button
        >
      </div>
      <details v-if="!run.bridge">
        <summary>Practise: have something go wrong</summary>
        <div class="row throw">
          <PickOne v-model:value="fault" label="What" shown show-search option-filter-prop="label" :options="options" />
          <label class="row small"
            >within
            <InputNumber
              v-model:value="withinMin"
              :min="0"
              :max="MOST_WITHIN_MIN"
              :precision="0"
              size="small"
              aria-label="Within, minutes of the night"
            />
            min</label
          >
          <Button @click="put(followed)">Put it in</Button>
        </div>
        <p v-if="thrownNow" class="small" role="status">It will come. When, nobody is told.</p>
      </details>
    </template>
    <p v-else class="muted small">You watch. Whoever may run plans can ask for the controls.</p>
  </section>
</template>

<style scoped>
.asked {
  background: var(--sunk);
  border-left: 3px solid var(--accent);
  padding: 6px 10px;
}
summary {
  cursor: pointer;
  color: var(--accent);
}
.throw {
  margin-top: 8px;
}
</style>
