<script setup lang="ts">
import { api } from '@keen/contract';
import { freeKey, RigBuild } from '@keen/core/rig';
import { figure } from '@keen/core/quantities';
import { Button, Input, Popconfirm, Switch, message } from 'ant-design-vue';
import { ref } from 'vue';
import { call } from '../../api/client.ts';
import { problemText } from '../../common/outcome.ts';
import { useClub } from '../../stores/club.ts';
import { plainCopy } from '../../workers/index.ts';
import type { useRigDraft } from '../../common/useRigDraft.ts';
import { useUnits } from '../../stores/units.ts';

const units = useUnits();

/** The imaging systems on one mount: one leads, the others follow it; each keeps its own train, focus and filters. */
const props = defineProps<{ edit: ReturnType<typeof useRigDraft>; off: boolean }>();
const club = useClub();
const busy = ref(false);
const trouble = ref('');

/** Systems change at once, not with the draft: the draft is what one system sees. */
async function change(work: (b: RigBuild) => void, look?: string) {
  const record = props.edit.record();
  if (!record) return;
  if (props.edit.dirty.value) {
    trouble.value = 'Save or discard what is changed first; systems are changed at once.';
    return;
  }
  const setup = plainCopy(record.setup);
  work(setup);
  const checked = RigBuild.safeParse(setup);
  if (!checked.success) {
    trouble.value = checked.error.issues.map((i) => i.message).join('; ');
    return;
  }
  busy.value = true;
  trouble.value = '';
  const body = { name: record.name, siteId: record.siteId, setup: checked.data, version: record.version };
  const got = await call(api.reviseRig, { params: { id: record.id }, body });
  busy.value = false;
  if (!got.ok) {
    trouble.value = problemText(got.problem);
    return;
  }
  club.putRig(got.value);
  if (look) club.selectRig(record.id, look);
  void message.success(`Saved as revision ${got.value.revision}.`);
}
const add = () => {
  const b = club.rig!.build;
  let name = 'second camera';
  for (let n = 2; b.systems.some((s) => s.name === name); n++) name = `second camera ${n}`;
  const key = freeKey(b, name);
  // it begins like the one looked at, without its guider: one guider guides both
  void change((next) => {
    const { offAxis: _o, guideScope: _g, ...model } = next.systems.find((s) => s.key === club.rig!.system.key)!;
    next.systems.push({ ...model, key, name, variants: [] });
  }, key);
  fresh.value = name;
};
/** The system added last: it begins as a copy, and says what of it is not its own yet. */
const fresh = ref('');
const rename = (key: string, name: string) =>
  name.trim() && void change((b) => (b.systems.find((s) => s.key === key)!.name = name.trim()));
const remove = (key: string) =>
  void change(
    (b) => (b.systems = b.systems.filter((s) => s.key !== key)),
    club.rig!.systems.find((s) => s.key !== key)?.key,
  );
const lead = (key: string) =>
  void change((b) => b.systems.sort((x, y) => Number(y.key === key) - Number(x.key === key)));
</script>

<template>
  <div v-if="club.rig" class="stack" data-test="systems">
    <p class="muted small">
      Everything that takes pictures on this mount. Balance, bookings and the plan are of the whole rig; train, focus,
      offsets, framing and guide star belong to each system.
    </p>
    <p
      v-if="fresh && !trouble && club.rig.build.systems.some((s) => s.name === fresh)"
      class="level-caution small"
      data-test="fresh"
    >
      “{{ fresh }}” begins as a copy: put in its own optics, camera and filters under Optics, and hang its tube and
      camera on the rig under Parts, for the balance knows nothing of their mass yet. Nothing was measured with it.
    </p>
    <table class="figures">
      <thead>
        <tr>
          <th>System</th>
          <th>Optics</th>
          <th>Train state</th>
          <th />
        </tr>
      </thead>
      <tbody>
        <tr v-for="(s, i) in club.rig.build.systems" :key="s.key">
          <td>
            <Input
              :default-value="s.name"
              :aria-label="`Name of system ${i + 1}`"
              :disabled="off || busy"
              @change="rename(s.key, String(($event.target as HTMLInputElement).value))"
            />
          </td>
          <td class="mono small">
            {{ units.length(s.focalLengthMm, 0) }} f/{{ figure(s.focalLengthMm / s.apertureMm, 1) }}
          </td>
          <td>{{ club.rig.systems[i]?.words }}</td>
          <td>
            <span class="row">
              <span v-if="i === 0" class="small muted">leads</span>
              <Button v-else-if="!off" size="small" :loading="busy" @click="lead(s.key)">Let it lead</Button>
              <Button v-if="s.key !== club.rig.system.key" size="small" @click="club.selectRig(club.rig!.id, s.key)"
                >Look at it</Button
              >
              <span v-else class="small">looked at</span>
              <Popconfirm
                v-if="!off && club.rig.build.systems.length > 1"
                title="Take this system away? Its history stays."
                ok-text="Take it away"
                @confirm="remove(s.key)"
              >
                <Button size="small" danger>Take away</Button>
              </Popconfirm>
            </span>
          </td>
        </tr>
      </tbody>
    </table>
    <div class="row">
      <Button v-if="!off && club.rig.build.systems.length < 4" :loading="busy" @click="add">Add a system</Button>
      <label v-if="edit.draft.value" class="row small">
        <Switch v-model:checked="edit.draft.value.setup.practice" size="small" :disabled="off" />
        practice rig: its rehearsals on stand-ins count as its nights
      </label>
    </div>
    <p v-if="trouble" class="level-bad" role="alert">{{ trouble }}</p>
  </div>
</template>
