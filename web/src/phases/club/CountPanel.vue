<script setup lang="ts">
import { api, type CountRecord, type PartRecord } from '@keen/contract';
import { Button, Input, InputNumber } from 'ant-design-vue';
import { computed, reactive, ref } from 'vue';
import { call } from '../../api/client.ts';
import { questions } from '../../api/questions.ts';
import { useAnswer } from '../../common/answer.ts';
import { problemText } from '../../common/outcome.ts';
import { dayName, localDay } from '../../common/times.ts';
import WhenThere from '../../common/WhenThere.vue';
import { useClub } from '../../stores/club.ts';
import { useSession } from '../../stores/session.ts';

/** The drawer counted: what was found against what it says. */
const props = defineProps<{ parts: readonly PartRecord[] }>();
const emit = defineEmits<{ changed: [] }>();
const session = useSession();
const club = useClub();
const counts = useAnswer('Counts', questions.counts);
const last = computed<CountRecord | null>(() => counts.value.value?.[0] ?? null);
const missed = computed(() => (last.value?.rows ?? []).filter((r) => r.found !== r.expected));
const day = (at: string) => dayName(localDay(at, club.site?.timeZone ?? 'UTC'));

const counting = ref(false);
/** What was found, by part; one that is not there was not counted yet. */
const found = reactive(new Map<string, number | null>());
const note = ref('');
const trouble = ref('');
const busy = ref(false);
const counted = computed(() =>
  props.parts.flatMap((p) => {
    const n = found.get(p.id);
    return n === undefined || n === null ? [] : [{ partId: p.id, count: n }];
  }),
);
const differs = (p: PartRecord) => {
  const n = found.get(p.id);
  return n !== undefined && n !== null && n !== p.count;
};
function begin() {
  found.clear();
  [counting.value, note.value, trouble.value] = [true, '', ''];
}
/** All that are left are there as the drawer says. */
function restIsThere() {
  for (const p of props.parts) if ((found.get(p.id) ?? null) === null) found.set(p.id, p.count);
}
async function keep() {
  busy.value = true;
  const got = await call(api.keepCount, { body: { found: counted.value, note: note.value } });
  busy.value = false;
  trouble.value = got.ok ? '' : problemText(got.problem);
  if (!got.ok) return;
  counting.value = false;
  await counts.load();
}
async function adopt() {
  const got = await call(api.adoptCount, { params: { id: last.value!.id } });
  trouble.value = got.ok ? '' : problemText(got.problem);
  if (!got.ok) return;
  await counts.load();
  emit('changed');
}
</script>

<template>
  <section v-if="parts.length || last" class="panel stack no-print" data-test="count">
    <div class="row spread">
      <h2>Count</h2>
      <Button v-if="session.mayEdit && !counting" :disabled="!parts.length" @click="begin">Count the drawer</Button>
    </div>
    <form v-if="counting" class="stack" @submit.prevent="keep">
      <p class="muted small">What is left empty was not counted. {{ counted.length }} of {{ parts.length }} so far.</p>
      <div class="rows">
        <label v-for="p in parts" :key="p.id" class="row one">
          <span class="grow"
            >{{ p.name }}
            <span class="muted small"
              >the drawer says {{ p.count }}{{ p.lentTo ? `, lent to ${p.lentTo}` : '' }}</span
            ></span
          >
          <span v-if="differs(p)" class="level-caution small">{{
            found.get(p.id)! < p.count ? `${p.count - found.get(p.id)!} missing` : `${found.get(p.id)! - p.count} more`
          }}</span>
          <InputNumber
            :value="found.get(p.id) ?? undefined"
            :aria-label="`${p.name}: found`"
            :min="0"
            :max="999"
            :precision="0"
            size="small"
            @update:value="(v: unknown) => found.set(p.id, typeof v === 'number' ? v : null)"
          />
        </label>
      </div>
      <label class="small muted">Note<Input v-model:value="note" :maxlength="1000" /></label>
      <p v-if="trouble" class="level-bad" role="alert">{{ trouble }}</p>
      <div class="row">
        <Button type="primary" html-type="submit" :disabled="busy || counted.length === 0">Keep the count</Button>
        <Button @click="restIsThere">All others are there</Button>
        <Button @click="counting = false">Leave it</Button>
      </div>
    </form>
    <WhenThere v-else :of="[counts]">
      <template v-if="last">
        <p :class="missed.length ? 'level-caution' : 'level-good'" role="status">
          Counted on {{ day(last.at) }} by {{ last.by }}: {{ last.rows.length }} parts,
          {{ missed.length ? `${missed.length} not as the drawer says` : 'all as the drawer says' }}.{{
            last.note ? ` ${last.note}` : ''
          }}
        </p>
        <ul v-if="missed.length" class="small">
          <li v-for="r in missed" :key="r.partId">{{ r.name }}: {{ r.found }} found, {{ r.expected }} expected</li>
        </ul>
        <p v-if="trouble" class="level-bad" role="alert">{{ trouble }}</p>
        <Button v-if="missed.length && !last.adopted && session.isSteward" size="small" class="adopt" @click="adopt"
          >Let the drawer say what was found</Button
        >
        <p v-else-if="missed.length && last.adopted" class="small muted">The drawer says so now.</p>
      </template>
      <p v-else class="muted">Nobody has counted it yet.</p>
    </WhenThere>
  </section>
</template>

<style scoped>
.rows {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(min(100%, 360px), 1fr));
  gap: 4px 24px;
}
.one {
  align-items: center;
  border-top: 1px solid var(--line);
  padding: 4px 0;
}
.grow {
  flex: 1 1 auto;
}
.adopt {
  justify-self: start;
}
ul {
  margin: 0;
  padding-left: 18px;
}
</style>
