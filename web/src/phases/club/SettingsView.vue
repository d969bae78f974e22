<script setup lang="ts">
import { api, type ClubSettings } from '@keen/contract';
import { Button, message } from 'ant-design-vue';
import { computed, ref, watch } from 'vue';
import { call } from '../../api/client.ts';
import { problemPlaces } from '../../common/outcome.ts';
import PickOne from '../../common/PickOne.vue';
import QuantityInput from '../../common/QuantityInput.vue';
import WatchesForm from '../../common/WatchesForm.vue';
import { useSession } from '../../stores/session.ts';
import { plainCopy } from '../../workers/index.ts';

/** What everybody here begins with; plans, projects and people may do otherwise. */
const session = useSession();
const draft = ref<ClubSettings>(plainCopy(session.settings));
const same = (a: ClubSettings, b: ClubSettings) => JSON.stringify(a) === JSON.stringify(b);
const dirty = computed(() => !same(draft.value, session.settings));
watch(
  () => session.settings,
  (now, was) => same(draft.value, was) && (draft.value = plainCopy(now)),
);
const UNITS = [
  { value: 'metric', label: 'millimetres, kilograms, °C' },
  { value: 'imperial', label: 'inches, pounds, °F' },
];
const off = computed(() => !session.isSteward);
const trouble = ref('');
const busy = ref(false);
async function save() {
  busy.value = true;
  const got = await call(api.changeClubSettings, { body: plainCopy(draft.value) });
  busy.value = false;
  trouble.value = got.ok ? '' : problemPlaces(got.problem);
  if (!got.ok) return;
  session.holdSettings(got.value);
  draft.value = plainCopy(got.value);
  void message.success('Saved.');
}
</script>

<template>
  <section class="panel stack" data-test="settings">
    <h2>What {{ session.alone ? 'you begin' : 'everybody begins' }} with</h2>
    <p class="muted small">
      New projects, plans and screens begin so. What stands already stays as it is, and each of them may do otherwise.{{
        off ? ' A steward changes it.' : ''
      }}
    </p>
    <div class="grid">
      <PickOne v-model:value="draft.units" label="Units" shown :options="UNITS" :disabled="off" />
      <QuantityInput
        v-model="draft.lowestAltitudeDeg"
        dimension="angle"
        label="Nothing lower than"
        :decimals="0"
        :min="0"
        :max="85"
        :disabled="off"
      />
      <QuantityInput
        v-model="draft.noiseIncreasePercent"
        dimension="number"
        unit="%"
        label="Read noise may add"
        :decimals="1"
        :min="0.5"
        :max="50"
        :disabled="off"
      />
    </div>
    <p class="muted small">
      Units: for whoever has not chosen their own. The lowest altitude is looked for under Tonight and set in new
      projects; lower, air costs sharpness and light. How much read noise may add decides how long frames are advised to
      be: one school takes 5 %, longer frames and fewer files; another 10 %, shorter ones, of which a gust spoils less
      (common practice, no source).
    </p>
    <h3>What is looked at all night</h3>
    <WatchesForm :watches="draft.watches" :off="off" @change="draft.watches = $event" />
    <p v-if="trouble" class="level-bad" role="alert">{{ trouble }}</p>
    <div v-if="!off" class="row">
      <Button type="primary" :disabled="!dirty || busy" @click="save">Save</Button>
      <Button v-if="dirty" @click="draft = plainCopy(session.settings)">As it was</Button>
    </div>
  </section>
</template>

<style scoped>
.grid {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(200px, 280px));
  gap: 10px 14px;
  align-items: end;
}
h3 {
  margin: 8px 0 0;
}
</style>
