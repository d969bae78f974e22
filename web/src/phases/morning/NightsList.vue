<script setup lang="ts">
import { byHand } from '@keen/core/record';
import { questions } from '../../api/questions.ts';
import { api, type FrameRecord, type NightRecord } from '@keen/contract';
import { Button, Checkbox, Popconfirm, message } from 'ant-design-vue';
import { computed, ref } from 'vue';
import { call } from '../../api/client.ts';
import { useAnswer } from '../../common/answer.ts';
import WhenThere from '../../common/WhenThere.vue';
import { problemText } from '../../common/outcome.ts';
import FilterTile from '../../common/FilterTile.vue';
import { clock, dayName } from '../../common/times.ts';
import { useClub } from '../../stores/club.ts';
import { useSession } from '../../stores/session.ts';

/** The nights that count, with their frames to accept or refuse, and what was brought in to undo. */
const props = defineProps<{ nights: readonly NightRecord[] }>();
const emit = defineEmits<{ undo: [id: string]; judged: [] }>();
const club = useClub();
const session = useSession();
const zone = computed(() => club.site?.timeZone ?? 'UTC');
const open = ref('');
const frames = useAnswer('The frames of this night', () => (open.value ? questions.nightFrames(open.value) : null));
const shown = computed(() => props.nights.slice(0, 30));
const look = (n: NightRecord) => (open.value = open.value === n.id ? '' : n.id);
async function judge(n: NightRecord, f: FrameRecord, accepted: boolean) {
  const got = await call(api.judgeFrames, {
    params: { id: n.id },
    body: { frames: [f.id], ...byHand(accepted) },
  });
  if (!got.ok) return void message.error(problemText(got.problem));
  const changed = new Map(got.value.map((g) => [g.id, g]));
  frames.change((all) => all.map((one) => changed.get(one.id) ?? one));
  emit('judged');
}
const frameLine = (f: FrameRecord) =>
  [f.startedAt ? clock(f.startedAt, zone.value) : '–', f.filter || f.kind, `${f.exposureS} s`, f.file]
    .filter(Boolean)
    .join(' ') + (f.reason ? `: ${f.reason}` : '');
const KIND = { live: 'on stand-ins', recorded: 'brought in', rehearsed: 'rehearsed' };
</script>

<template>
  <section class="panel stack" data-test="nights">
    <h2>Nights on record</h2>
    <p v-if="nights.length === 0" class="muted">
      None yet. What is brought in stands here, night by night, and can be undone as a whole.
    </p>
    <table v-else class="figures">
      <thead>
        <tr>
          <th>Night</th>
          <th>Taken</th>
          <th>By</th>
          <th />
        </tr>
      </thead>
      <tbody v-for="n in shown" :key="n.id" :class="{ undone: n.undone }">
        <tr>
          <td>
            {{ dayName(n.night) }}<br /><span class="small muted"
              >{{ n.undone ? 'undone' : KIND[n.kind]
              }}{{ n.kind === 'live' && n.name ? `, ${n.beside ? 'beside ' : ''}${n.name}` : '' }}</span
            >
          </td>
          <td>
            <span v-for="(t, i) in n.taken" :key="i" class="taken small">
              <strong v-if="i === 0 || n.taken[i - 1]!.object !== t.object">{{ t.object || 'no project' }}</strong>
              <FilterTile v-if="t.filter" :name="t.filter" /> {{ t.accepted }} × {{ t.exposureS }} s<template
                v-if="t.rejected"
                >, {{ t.rejected }} refused</template
              >
            </span>
            <span v-if="n.calibration" class="small muted">{{ n.calibration }} for calibration</span>
          </td>
          <td class="small">{{ n.by }}</td>
          <td class="num">
            <Button size="small" type="text" :aria-expanded="open === n.id" @click="look(n)">{{
              open === n.id ? 'Close' : 'Frames'
            }}</Button>
            <Popconfirm
              v-if="n.kind === 'recorded' && !n.undone && session.mayEdit"
              title="Undo this night? None of its frames counts any more."
              ok-text="Undo it"
              @confirm="emit('undo', n.id)"
            >
              <Button size="small" danger>Undo</Button>
            </Popconfirm>
          </td>
        </tr>
        <tr v-if="open === n.id">
          <td colspan="4">
            <WhenThere :of="[frames]">
              <ul class="frames">
                <li v-for="f in (frames.value.value ?? []).slice(0, 500)" :key="f.id">
                  <Checkbox
                    :checked="f.accepted"
                    :disabled="!session.mayEdit || n.undone"
                    @update:checked="judge(n, f, $event)"
                  >
                    <span class="mono small">{{ frameLine(f) }}</span>
                  </Checkbox>
                </li>
              </ul>
            </WhenThere>
          </td>
        </tr>
      </tbody>
    </table>
  </section>
</template>

<style scoped>
.undone {
  opacity: 0.6;
}
.taken {
  display: inline-flex;
  gap: 5px;
  align-items: center;
  margin-right: 12px;
  vertical-align: middle;
}
.frames {
  list-style: none;
  margin: 6px 0;
  padding: 0;
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(260px, 1fr));
  gap: 2px 12px;
  max-height: 340px;
  overflow: auto;
}
</style>
