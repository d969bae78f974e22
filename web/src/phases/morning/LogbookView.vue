<script setup lang="ts">
import { isNameCode, makeVerdict, nameOf, phrase, words } from '@keen/core/phrases';
import { ASPECTS, type Aspect } from '@keen/core/rig';
import { Button, Checkbox, Input, Switch } from 'ant-design-vue';
import { computed, watch } from 'vue';
import { useRoute, useRouter } from 'vue-router';
import StillComing from '../../common/StillComing.vue';
import EmptyState from '../../common/EmptyState.vue';
import PickOne from '../../common/PickOne.vue';
import VerdictLine from '../../common/VerdictLine.vue';
import { useShortcut } from '../../common/shortcuts.ts';
import { stopWords } from '../../common/stopWords.ts';
import { dayName } from '../../common/times.ts';
import { useClub } from '../../stores/club.ts';
import { useSession } from '../../stores/session.ts';
import { useLogbook } from './useLogbook.ts';

/** What went wrong, what it was, what cured it: written once, found when it happens again. */
const club = useClub();
const session = useSession();
const book = useLogbook();
const { entries, loaded, trouble, find, ofRig, draft, saving, mayKeep, dropped } = book;
const ASPECT_WORDS: Record<Aspect, string> = {
  focus: 'focus',
  flats: 'flats and light path',
  guideFocus: 'guide focus',
  framing: 'framing',
  guiderCalibration: 'guider',
  balance: 'balance',
};
const aspects = [{ value: '', label: 'something else' }, ...ASPECTS.map((a) => ({ value: a, label: ASPECT_WORDS[a] }))];
useShortcut('n', () => session.mayEdit && !draft.value && book.begin());
useShortcut('s', () => void book.keep());

/** A finding that was seen elsewhere begins an entry; one that is being written is not thrown away for it. */
const route = useRoute();
const router = useRouter();
const inAddress = (key: string) => (typeof route.query[key] === 'string' ? route.query[key] : '');
watch(
  [() => route.query.finding, () => club.rig?.id],
  ([finding, rig]) => {
    if (typeof finding !== 'string' || !rig || !session.mayEdit) return;
    if (!draft.value)
      book.begin({
        finding,
        problem: inAddress('problem').slice(0, 2000),
        ...(/^\d{4}-\d\d-\d\d$/.test(inAddress('night')) ? { night: inAddress('night') } : {}),
      });
    void router.replace({ query: {} });
  },
  { immediate: true },
);
/** The whole rig, or one of its imaging systems. */
const systemOptions = computed(() => [
  { value: '', label: 'the whole rig' },
  ...(club.records.find((r) => r.id === draft.value?.rigId)?.systems ?? []).map((s) => ({
    value: s.key,
    label: s.name,
  })),
]);
const rigOptions = computed(() => club.rigs.map((r) => ({ value: r.id, label: r.name })));
const open = computed(() => entries.value.filter((e) => !e.cure).length);
const verdict = computed(() => {
  const all = entries.value.length;
  if (!all) return null;
  const [some, none] = find.value
    ? (['logbook.found-open', 'logbook.found'] as const)
    : (['logbook.open', 'logbook.all'] as const);
  return open.value
    ? makeVerdict('caution', phrase(some, { n: all, open: open.value }))
    : makeVerdict('good', phrase(none, { n: all }));
});
const mayChange = (byId: string) => session.isSteward || byId === session.member?.id;
/** A finding by its name; one of long ago by its code. */
const findingName = (code: string) => (isNameCode(code) ? words(nameOf(code)) : code);
</script>

<template>
  <EmptyState v-if="!club.rig" title="No rig yet" lacks="rig">The logbook is about rigs and their nights.</EmptyState>
  <template v-else>
    <VerdictLine v-if="verdict" :verdict="verdict" />
    <p v-if="trouble" class="level-bad" role="alert">{{ trouble }}</p>
    <section class="panel row">
      <Input
        v-model:value="find"
        allow-clear
        class="find"
        :maxlength="200"
        placeholder="prism, dew, a filter, a cure …"
        aria-label="Find in the logbook"
      />
      <Checkbox v-model:checked="ofRig">only {{ club.rig.name }}</Checkbox>
      <Button v-if="session.mayEdit && !draft" type="primary" title="n" @click="book.begin()">Write an entry</Button>
    </section>
    <form v-if="draft" class="panel stack" data-test="log-form" @submit.prevent="book.keep">
      <h2>{{ draft.id ? 'Change the entry' : 'What happened' }}</h2>
      <div class="row">
        <PickOne v-model:value="draft.rigId" label="Rig" shown :options="rigOptions" />
        <PickOne
          :value="draft.aspect ?? ''"
          label="Touches"
          shown
          :options="aspects"
          @update:value="draft.aspect = ($event || null) as Aspect | null"
        />
        <label class="small muted night"
          >Night of<input
            type="date"
            :value="draft.night ?? ''"
            @change="draft.night = ($event.target as HTMLInputElement).value || null"
        /></label>
        <span v-if="draft.finding" class="muted small">shown by: {{ findingName(draft.finding) }}</span>
      </div>
      <label
        >What was seen<Input.TextArea
          v-model:value="draft.problem"
          :auto-size="{ minRows: 2, maxRows: 8 }"
          :maxlength="2000"
      /></label>
      <div class="split two">
        <label
          >What it was<Input.TextArea
            v-model:value="draft.cause"
            :auto-size="{ minRows: 2, maxRows: 8 }"
            :maxlength="2000"
            placeholder="can stay open until it is known"
        /></label>
        <label
          >What cured it<Input.TextArea
            v-model:value="draft.cure"
            :auto-size="{ minRows: 2, maxRows: 8 }"
            :maxlength="2000"
        /></label>
      </div>
      <div class="row" data-test="stops">
        <label class="row small"
          ><Switch
            size="small"
            :checked="draft.stops !== null"
            @update:checked="draft.stops = $event ? { system: null, until: null } : null"
          />
          out of order until it is cured</label
        >
        <template v-if="draft.stops">
          <PickOne
            :value="draft.stops.system ?? ''"
            label="What of it"
            shown
            :options="systemOptions"
            @update:value="draft.stops!.system = String($event) || null"
          />
          <label class="small muted night"
            >As far as is known up to the night of<input
              type="date"
              :value="draft.stops.until ?? ''"
              @change="draft.stops!.until = ($event.target as HTMLInputElement).value || null"
          /></label>
        </template>
      </div>
      <p v-if="draft.stops && draft.cure.trim()" class="small muted">What is cured is in order again.</p>
      <div class="row">
        <Button type="primary" html-type="submit" :loading="saving" :disabled="!mayKeep" title="s">Keep</Button>
        <Button @click="draft = null">Throw away</Button>
        <span v-if="!mayKeep" class="muted small">Say at least what was seen.</span>
      </div>
    </form>
    <p v-if="dropped" class="row small" role="status">
      “{{ dropped.problem.slice(0, 60) }}” is put away.
      <Button size="small" @click="book.bringBack">Bring it back</Button>
    </p>
    <StillComing v-if="!loaded && !trouble" what="The log" />
    <EmptyState v-else-if="loaded && !entries.length && !find" title="Nothing is written down yet">
      A fault that was cured comes back in a year, on another night, to somebody else. Three lines now save that night.
    </EmptyState>
    <p v-else-if="loaded && !entries.length" class="muted" role="status">No entry holds all of “{{ find }}”.</p>
    <ol v-else class="entries" data-test="log">
      <li v-for="e in entries" :key="e.id" class="panel entry" :class="{ open: !e.cure }">
        <p class="muted small head">
          <span
            >{{ e.night ? dayName(e.night) : 'any night' }} · {{ e.rig
            }}<template v-if="e.aspect"> · {{ ASPECT_WORDS[e.aspect] }}</template
            ><template v-if="e.finding"> · shown by {{ findingName(e.finding) }}</template
            ><strong v-if="e.stops && !e.cure.trim()" class="level-bad"> · {{ stopWords(e) }}</strong></span
          >
          <span
            >{{ e.by
            }}<template v-if="mayChange(e.byId)">
              <Button size="small" type="text" @click="book.edit(e)">Change</Button>
              <Button size="small" type="text" @click="book.drop(e)">Put away</Button></template
            ></span
          >
        </p>
        <div class="chain">
          <p><strong>Seen</strong>{{ e.problem }}</p>
          <p><strong>It was</strong>{{ e.cause || 'not known yet' }}</p>
          <p :class="{ 'level-caution': !e.cure }"><strong>Cured by</strong>{{ e.cure || 'still open' }}</p>
        </div>
      </li>
    </ol>
  </template>
</template>

<style scoped>
.find {
  max-width: 380px;
}
.two {
  grid-template-columns: minmax(0, 1fr) minmax(0, 1fr);
}
.night {
  display: grid;
  gap: 2px;
}
.entries {
  list-style: none;
  margin: 0;
  padding: 0;
  display: grid;
  gap: 10px;
}
.entry.open {
  border-left: 3px solid var(--caution);
}
.head {
  display: flex;
  justify-content: space-between;
  gap: 12px;
  margin: 0 0 6px;
}
.chain {
  display: grid;
  grid-template-columns: 1.2fr 1fr 1fr;
  gap: 18px;
}
.chain p {
  margin: 0;
  white-space: pre-wrap;
  overflow-wrap: anywhere;
}
.chain strong {
  display: block;
  font-size: 12px;
  color: var(--ink-2);
}
@media (max-width: 800px) {
  .chain,
  .two {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
