<script setup lang="ts">
import { api } from '@keen/contract';
import { Button, Radio, RadioGroup, Textarea } from 'ant-design-vue';
import { computed, ref, watch } from 'vue';
import { call } from '../api/client.ts';
import { questions } from '../api/questions.ts';
import { useClub } from '../stores/club.ts';
import { useSession } from '../stores/session.ts';
import { useAnswer } from './answer.ts';
import { problemText } from './outcome.ts';
import StillComing from './StillComing.vue';
import { clock, dayName, localDay } from './times.ts';

/** Who has the rig that is looked at, and in which state it was found: said by whoever takes it over and hands it back. */
const { quiet = false } = defineProps<{ /** Only where somebody else has it. */ quiet?: boolean }>();
const club = useClub();
const session = useSession();
const hands = useAnswer('Who has this rig', () => (session.alone ? null : questions.handovers()));
const of = computed(() => (hands.value.value ?? []).filter((h) => h.rigId === club.rig?.id));
const now = computed(() => (of.value[0]?.givenAt === null ? of.value[0] : null));
const mine = computed(() => now.value?.memberId === session.member?.id);
const zone = computed(() => club.site?.timeZone ?? 'UTC');
const when = (at: string) => `${dayName(localDay(at, zone.value))}, ${clock(at, zone.value)}`;

/** What is being said: taken over, or handed back. */
const saying = ref<'take' | 'give' | null>(null);
const inOrder = ref(true);
const note = ref('');
const trouble = ref('');
const busy = ref(false);
watch(
  () => club.rig?.id,
  () => (saying.value = null),
);
function begin(what: 'take' | 'give') {
  [saying.value, inOrder.value, note.value, trouble.value] = [what, true, '', ''];
}
async function say() {
  const to = saying.value === 'take' ? api.takeOver : api.handBack;
  busy.value = true;
  const got = await call(to, { params: { id: club.rig!.id }, body: { inOrder: inOrder.value, note: note.value } });
  busy.value = false;
  trouble.value = got.ok ? '' : problemText(got.problem);
  if (!got.ok) return;
  saying.value = null;
  await hands.load();
}
</script>

<template>
  <StillComing v-if="hands.trouble.value" what="Who has this rig" :failed="hands.trouble.value" @again="hands.load()" />
  <section
    v-else-if="club.rig && hands.there.value && !session.alone && (!quiet || (now && !mine))"
    class="panel stack no-print"
    data-test="hands"
  >
    <div class="row spread">
      <p v-if="mine" class="plain"><strong>You have {{ club.rig.name }}</strong> since {{ when(now!.takenAt) }}.</p>
      <p v-else-if="now" class="plain">
        <strong>{{ now.member }} has {{ club.rig.name }}</strong> since {{ when(now.takenAt) }}, found
        {{ now.takenInOrder ? 'in order' : 'not in order'
        }}<template v-if="now.takenNote">: {{ now.takenNote }}</template><template v-else>.</template>
      </p>
      <p v-else-if="of.length" class="plain">
        Nobody has {{ club.rig.name }}. {{ of[0]!.member }}
        {{
          of[0]!.givenInOrder === null
            ? 'had it last and did not hand it back.'
            : `handed it back ${of[0]!.givenInOrder ? 'in order' : 'not in order'}, ${when(of[0]!.givenAt!)}`
        }}<template v-if="of[0]!.givenNote">: {{ of[0]!.givenNote }}</template>
      </p>
      <p v-else class="plain">Nobody has taken {{ club.rig.name }} over yet.</p>
      <span v-if="session.mayEdit && !saying" class="row">
        <Button v-if="mine" size="small" @click="begin('give')">Hand it back</Button>
        <Button v-else size="small" @click="begin('take')">Take it over</Button>
      </span>
    </div>
    <form v-if="saying" class="stack" @submit.prevent="say">
      <RadioGroup v-model:value="inOrder" :aria-label="saying === 'take' ? 'How you find it' : 'How you leave it'">
        <Radio :value="true">{{ saying === 'take' ? 'Found in order' : 'Left in order' }}</Radio>
        <Radio :value="false">Something is wrong</Radio>
      </RadioGroup>
      <label class="small muted"
        >{{ inOrder ? 'Note' : 'What is wrong; it goes into the log' }}
        <Textarea v-model:value="note" :rows="2" :maxlength="1000" />
      </label>
      <p v-if="trouble" class="level-bad" role="alert">{{ trouble }}</p>
      <div class="row">
        <Button type="primary" html-type="submit" :disabled="busy || (!inOrder && !note.trim())">{{
          saying === 'take' ? 'Take it over' : 'Hand it back'
        }}</Button>
        <Button @click="saying = null">Not now</Button>
      </div>
    </form>
  </section>
</template>

<style scoped>
.plain {
  margin: 0;
}
</style>
