<script setup lang="ts">
import { figure } from '@keen/core/quantities';
import WhenThere from '../../common/WhenThere.vue';
import { Button, Checkbox, Slider } from 'ant-design-vue';
import { useLocalStorage } from '@vueuse/core';
import { computed, nextTick, ref, watch } from 'vue';
import { RouterLink } from 'vue-router';
import EmptyState from '../../common/EmptyState.vue';
import PickOne from '../../common/PickOne.vue';
import ProgressBar from '../../common/ProgressBar.vue';
import { useShortcut } from '../../common/shortcuts.ts';
import { dayName } from '../../common/times.ts';
import UndoButtons from '../../common/UndoButtons.vue';
import VerdictLine from '../../common/VerdictLine.vue';
import { useClub } from '../../stores/club.ts';
import { useHandOver } from '../../stores/handOver.ts';
import { useUnits } from '../../stores/units.ts';
import { useSession } from '../../stores/session.ts';
import ContactSheet from './ContactSheet.vue';
import DropFolder from './DropFolder.vue';
import FrameCloseUp from './FrameCloseUp.vue';
import { kindsIn } from '../../common/frameKinds.ts';
import FrameRows from './FrameRows.vue';
import { useWander } from './useWander.ts';
import { framesVerdict } from './framesVerdict.ts';
import FrameTrend from './FrameTrend.vue';
import GuidedNight from './GuidedNight.vue';
import { useNightGuiding } from './useNightGuiding.ts';
import { useFrameReview } from './useFrameReview.ts';

/** A night’s frames looked through: measured, judged with reasons, accepted or refused by keyboard. */
const club = useClub();
const session = useSession();
const units = useUnits();
const used = useFrameReview();
const { nights, nightId, rows, atHand, small, bad, leftOut, measuring, tookMs, trouble } = used;
const night = computed(() => nights.value.find((n) => n.id === nightId.value) ?? null);
const guided = useNightGuiding(night, rows, () => measuring.value.of > 0);
const { guiding } = guided;
const wander = useWander(rows, nightId, measuring);
/** The server lets the owner of a night and stewards say what counts. */
const mayJudge = computed(() => session.mayEdit && night.value !== null);
watch(mayJudge, (may) => (used.mayJudge.value = may), { immediate: true });

const given = useHandOver().takePictures();
if (given) void used.takeBroughtIn(given);

const mode = useLocalStorage<'rows' | 'sheet'>('keen.frames.mode', 'rows');
const onlySuggested = ref(false);
/** White lies so many times the noise above the sky, by powers of two. */
const stretch = useLocalStorage('keen.frames.stretch', 5);
const alike = useLocalStorage('keen.frames.alike', false);
const whiteSigma = computed(() => 2 ** stretch.value);
const shown = computed(() => (onlySuggested.value ? rows.value.filter((r) => r.suggestion) : rows.value));

const chosen = ref('');
/** Where a range was begun; the chosen frame is its other end. */
const from = ref('');
watch(
  shown,
  (all) => {
    if (!all.some((r) => r.id === chosen.value)) chosen.value = from.value = all[0]?.id ?? '';
  },
  { immediate: true },
);
const place = (id: string) => shown.value.findIndex((r) => r.id === id);
const row = computed(() => rows.value.find((r) => r.id === chosen.value) ?? null);
const picked = computed(() => {
  const [a, b] = [place(from.value), place(chosen.value)];
  return new Set(shown.value.slice(Math.max(0, Math.min(a, b)), Math.max(a, b) + 1).map((r) => r.id));
});
function choose(id: string, extend = false) {
  chosen.value = id;
  if (!extend) from.value = id;
}
function step(by: number, extend: boolean) {
  const i = Math.min(shown.value.length - 1, Math.max(0, place(chosen.value) + by));
  const next = shown.value[i];
  if (!next) return;
  choose(next.id, extend);
  void nextTick(() => document.querySelector(`[data-frame="${next.id}"]`)?.scrollIntoView({ block: 'nearest' }));
}
for (const [key, by] of [
  ['j', 1],
  ['k', -1],
  ['ArrowDown', 1],
  ['ArrowUp', -1],
] as const)
  useShortcut(key, (e) => step(by, e.shiftKey));
for (const [key, by] of [
  ['J', 1],
  ['K', -1],
] as const)
  useShortcut(key, () => step(by, true));
async function judge(accepted: boolean) {
  if (!mayJudge.value) return;
  const ids = [...picked.value];
  // to the next frame that still waits for a word
  const last = Math.max(...ids.map(place));
  const next = shown.value[last + 1]?.id;
  await used.judge(ids, accepted);
  if (next && rows.value.some((r) => r.id === next)) choose(next);
}
useShortcut('a', () => void judge(true));
useShortcut('x', () => void judge(false));
useShortcut('v', () => (mode.value = mode.value === 'rows' ? 'sheet' : 'rows'));
const suggestedIds = computed(() => rows.value.filter((r) => r.suggestion && r.accepted).map((r) => r.id));

const verdict = computed(() => framesVerdict(rows.value, used.findingsOf));
/** The first frame of a train that was changed since the night before: looked at before the rest of a night is trusted to it. */
const firstOfTrain = computed(() => {
  const at = nights.value.findIndex((n) => n.id === nightId.value);
  const [now, before] = [nights.value[at], nights.value[at + 1]];
  const first = rows.value.find((r) => r.record && r.look);
  if (!now || !first || before?.trainStateId === now.trainStateId) return null;
  const wrong = used.findingsOf(first).filter((f) => f.severity !== 'good');
  return {
    id: first.id,
    words: now.words,
    changed: before !== undefined,
    level: wrong.length ? 'bad' : 'good',
    remarks: used
      .findingsOf(first)
      .map((f) => units.say(f.phrases[0]))
      .join(' '),
  };
});
const dayOf = computed(() => night.value?.night ?? club.night);
const nightName = (id: string) => {
  const n = nights.value.find((one) => one.id === id)!;
  const lights = n.taken.reduce((s, t) => s + t.accepted + t.rejected, 0);
  return `${dayName(n.night)}: ${[...new Set(n.taken.map((t) => t.object || 'no project'))].join(', ')}, ${lights} frames`;
};
</script>

<template>
  <EmptyState v-if="!club.rig" title="No rig yet" lacks="rig">
    Frames are held against their fellows of the same rig: same camera, same optics, same filter.
  </EmptyState>
  <template v-else>
    <VerdictLine v-if="rows.length" :verdict="verdict" />
    <p v-if="firstOfTrain" class="row" :class="`level-${firstOfTrain.level}`" data-test="first-of-train">
      <span
        >{{ firstOfTrain.changed ? 'The train was changed before this night' : 'The first night of this train' }} ({{
          firstOfTrain.words
        }}). Its first frame: {{ firstOfTrain.remarks }}</span
      >
      <Button size="small" @click="choose(firstOfTrain.id)">Look at its corners</Button>
    </p>
    <p v-if="trouble" class="level-bad" role="alert">{{ trouble }}</p>
    <div class="split board">
      <div class="stack">
        <section class="panel stack">
          <div class="row">
            <PickOne
              v-if="nights.length"
              :value="nightId"
              label="Night"
              shown
              :options="nights.slice(0, 60).map((n) => ({ value: n.id, label: nightName(n.id) }))"
              :dropdown-match-select-width="false"
              @update:value="nightId = String($event)"
            />
            <WhenThere :of="[used.answers.ofRig, used.answers.judged]">
              <span v-if="!nights.length" class="muted"
                >No night on record for this rig: <RouterLink to="/morning/night">bring one in</RouterLink>, or drop a
                frame to look at its corners.</span
              >
            </WhenThere>
            <WhenThere :of="[used.answers.frames, used.answers.focus]" />
          </div>
          <DropFolder :slim="rows.some((r) => r.look)" @take="used.take"
            >Each picture is measured to its corners in this browser. Kept are the figures and a small picture; the
            files stay where they are.</DropFolder
          >
          <p v-if="used.practice.value.length && mayJudge && !measuring.of" class="row small">
            <Button size="small" @click="used.drawPractice">Draw what the stand-in camera saw</Button>
            <span class="muted"
              >{{ used.practice.value.length }} frames of this night were taken on stand-ins: the middle of each is
              drawn from the star catalogue, with the width and the cloud it told of, and measured.</span
            >
          </p>
          <div v-if="measuring.of" class="row" data-test="measuring">
            <ProgressBar class="bar" :done="measuring.done" :goal="measuring.of" />
            <span class="small">{{ measuring.done }} of {{ measuring.of }} pictures measured</span>
            <Button size="small" @click="used.stop">Stop</Button>
          </div>
          <p v-else-if="tookMs" class="muted small" data-test="took">Measured in {{ figure(tookMs / 1000, 1) }} s.</p>
          <p v-if="leftOut.length" class="muted small" data-test="left-out">
            Left out, as their headers say: {{ kindsIn(leftOut) }}.
          </p>
          <ul v-if="bad.length" class="bad small" data-test="unread">
            <li v-for="b in bad.slice(0, 20)" :key="b.file" class="level-bad">{{ b.file }} {{ b.reason }}</li>
            <li v-if="bad.length > 20" class="level-bad">and {{ bad.length - 20 }} more</li>
          </ul>
        </section>
        <section v-if="rows.length" class="panel stack">
          <FrameTrend :rows="rows" :guiding="guiding" :chosen="chosen" :night="dayOf" @choose="choose($event)" />
          <GuidedNight
            v-if="night"
            :guided="guided"
            :night="night.night"
            :zone="club.site?.timeZone ?? 'UTC'"
            :may-tell="session.mayEdit"
          />
        </section>
        <p
          v-if="wander && night?.kind !== 'live'"
          class="small"
          :class="wander.clear ? 'level-caution' : 'muted'"
          data-test="wander"
        >
          {{ units.say(wander.phrase) }}
          <span class="muted">{{ wander.compared }} pairs were compared.</span>
        </p>
        <section v-if="rows.length" class="panel stack" data-test="frames">
          <div class="row">
            <span class="toggle" role="group" aria-label="Shown as" title="v">
              <button type="button" :aria-pressed="mode === 'rows'" @click="mode = 'rows'">Rows</button>
              <button type="button" :aria-pressed="mode === 'sheet'" @click="mode = 'sheet'">Pictures</button>
            </span>
            <Checkbox v-model:checked="onlySuggested" :disabled="!suggestedIds.length && !onlySuggested"
              >only those better refused</Checkbox
            >
            <Button v-if="suggestedIds.length && mayJudge" size="small" @click="used.judge(suggestedIds, false)"
              >Refuse all {{ suggestedIds.length }}</Button
            >
            <UndoButtons
              :undoable="used.undoable.value"
              :redoable="used.redoable.value"
              @undo="used.undo"
              @redo="used.redo"
            />
            <span class="row small stretch">
              <span aria-hidden="true">Stretch</span>
              <Slider
                v-model:value="stretch"
                :min="2"
                :max="12"
                :step="0.5"
                reverse
                :tooltip-open="false"
                aria-label-for-handle="Stretch"
                class="slider"
              />
              <Checkbox v-model:checked="alike">all alike</Checkbox>
            </span>
          </div>
          <FrameRows
            v-if="mode === 'rows'"
            :rows="shown"
            :guiding="guiding"
            :chosen="chosen"
            :picked="picked"
            @choose="choose"
          />
          <ContactSheet
            v-else
            :rows="shown"
            :small="small"
            :chosen="chosen"
            :picked="picked"
            :white-sigma="whiteSigma"
            :alike="alike"
            @choose="choose"
          />
          <p class="muted small">
            <kbd>j</kbd> <kbd>k</kbd> next and previous, with Shift a range · <kbd>a</kbd> counts, <kbd>x</kbd> does not
            · <kbd>v</kbd> rows or pictures
          </p>
        </section>
      </div>
      <div class="stack side">
        <FrameCloseUp
          v-if="row"
          :row="row"
          :findings="used.findingsOf(row)"
          :at-hand="atHand.get(row.id) ?? null"
          :guiding="guiding.get(row.id) ?? null"
          :log="guided.logs.value[guiding.get(row.id)?.logAt ?? -1] ?? null"
          :white-sigma="whiteSigma"
          :may-judge="mayJudge"
          :night="dayOf"
          :learnt="used.limitsFor.value(row.filter).learnt"
          @judge="judge"
        />
      </div>
    </div>
  </template>
</template>

<style scoped>
.board {
  grid-template-columns: minmax(0, 1fr) 360px;
}
.side {
  position: sticky;
  top: 66px;
  max-height: calc(100vh - 80px);
  overflow: auto;
}
.bar {
  width: 160px;
}
.stretch {
  min-width: 230px;
}
.slider {
  width: 90px;
}
.bad {
  margin: 0;
  padding-left: 18px;
}
@media (max-width: 1000px) {
  .board {
    grid-template-columns: minmax(0, 1fr);
  }
  .side {
    position: static;
    max-height: none;
  }
}
</style>
