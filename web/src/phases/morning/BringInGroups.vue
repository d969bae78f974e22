<script setup lang="ts">
import { goalFor } from '@keen/core/record';
import { Button, Checkbox } from 'ant-design-vue';
import { computed, ref } from 'vue';
import FilterTile from '../../common/FilterTile.vue';
import MakeGoal from '../../common/MakeGoal.vue';
import { KIND_WORDS } from '../../common/frameKinds.ts';
import PickOne from '../../common/PickOne.vue';
import { clock } from '../../common/times.ts';
import { useClub } from '../../stores/club.ts';
import { useUnits } from '../../stores/units.ts';
import { OPEN_WORDS } from './bringIn.ts';
import type { FrameGroup } from '@keen/core/frames';
import type { useBringIn } from './useBringIn.ts';

/** What was found, alike frames together: project and filter as matched or set by hand, each frame to accept or refuse. */
const props = defineProps<{ night: ReturnType<typeof useBringIn> }>();
const club = useClub();
const units = useUnits();
const zone = computed(() => club.site?.timeZone ?? 'UTC');
const open = ref('');
const KINDS = Object.entries(KIND_WORDS).map(([value, label]) => ({ value, label }));
const projects = computed(() => [
  ...club.rigProjects.map((p) => ({ value: p.id, label: `${p.object}: ${p.name}` })),
  { value: '', label: 'no project' },
]);
const good = (g: FrameGroup) => g.frames.filter((f) => f.accepted).length;
/** The project of light frames whose filter and length none of its goals asks for. */
const unasked = (g: FrameGroup) =>
  g.kind === 'light' && g.filter && g.exposureS !== null && good(g) > 0
    ? club.rigProjects.find(
        (p) => p.id === g.projectId && !goalFor(p.goals, { filter: g.filter!, exposureS: g.exposureS! }),
      )
    : undefined;
const at = (g: FrameGroup, i: number) => props.night.matched.value.indexOf(g.frames[i]!);
const undated = computed(() => props.night.matched.value.some((f) => f.read.startedAt === null));
</script>

<template>
  <section class="panel stack" data-test="groups">
    <div class="row spread">
      <h2>What was found</h2>
      <span class="row">
        <Button size="small" @click="night.clear">Put aside</Button>
        <Button
          type="primary"
          :loading="night.busy.value"
          :disabled="night.ready.value.length === 0"
          @click="night.store"
          >Bring in {{ night.ready.value.length }} frames</Button
        >
      </span>
    </div>
    <p v-if="undated" class="small muted">Frames without a time go with the evening chosen above.</p>
    <p v-if="night.drift.value" class="small" data-test="drift">
      The focuser was moved
      {{
        units.say({
          code: 'night.drift',
          values: {
            driftStepsPerC: night.drift.value.stepsPerC,
            errorStepsPerC: night.drift.value.error,
            settings: night.drift.value.settings,
          },
        })
      }}<template v-if="night.drift.value.adopted !== null"
        >{{ ' '
        }}{{
          units.say({
            code:
              Math.abs(night.drift.value.stepsPerC - night.drift.value.adopted) > 3 * night.drift.value.error
                ? 'night.drift-disagrees'
                : 'night.drift-agrees',
            values: { adoptedStepsPerC: night.drift.value.adopted },
          })
        }}</template
      >
    </p>
    <div class="scroll acts">
      <table class="figures">
        <thead>
          <tr>
            <th>Kind</th>
            <th>Project</th>
            <th>Filter</th>
            <th class="num">Exposure</th>
            <th class="num">Frames</th>
            <th>What waits</th>
            <th />
          </tr>
        </thead>
        <tbody v-for="g in night.groups.value" :key="g.key">
          <tr :data-open="g.open.length > 0">
            <td>
              <PickOne
                :value="g.kind"
                label="Kind"
                size="small"
                class="kind"
                :options="KINDS"
                @update:value="night.setKind(g, $event as FrameGroup['kind'])"
              />
            </td>
            <td>
              <PickOne
                v-if="g.kind === 'light'"
                :value="g.projectId ?? ''"
                label="Project"
                size="small"
                class="project"
                :options="projects"
                :dropdown-match-select-width="false"
                @update:value="night.setProject(g, $event ? String($event) : null)"
              />
              <span v-if="g.kind === 'light' && g.object && !g.projectId" class="small muted written"
                >“{{ g.object }}”</span
              >
            </td>
            <td>
              <span v-if="g.kind === 'light' || g.kind === 'flat'" class="row tight">
                <FilterTile v-if="g.filter" :name="g.filter" />
                <PickOne
                  v-if="!g.filter || g.spelled !== g.filter"
                  :value="g.filter ?? ''"
                  label="Filter"
                  size="small"
                  class="filter"
                  :options="[
                    ...(g.filter ? [] : [{ value: '', label: g.spelled || 'not named' }]),
                    ...night.filters.value.map((f) => ({ value: f, label: f })),
                  ]"
                  @update:value="$event && night.setFilter(g, String($event))"
                />
                <span v-if="g.filter && g.spelled && g.spelled !== g.filter" class="small muted"
                  >“{{ g.spelled }}”</span
                >
              </span>
            </td>
            <td class="num">{{ g.exposureS === null ? '–' : `${g.exposureS} s` }}</td>
            <td class="num">
              {{ good(g) === g.frames.length ? g.frames.length : `${good(g)} of ${g.frames.length}` }}
            </td>
            <td class="small level-caution">
              {{ g.open.map((o) => OPEN_WORDS[o]).join('; ') }}
              <MakeGoal
                v-if="unasked(g)"
                :project="unasked(g)!"
                :filter="g.filter!"
                :exposure-s="g.exposureS!"
                :frames="good(g)"
              />
            </td>
            <td class="num">
              <Button
                size="small"
                type="text"
                :aria-expanded="open === g.key"
                @click="open = open === g.key ? '' : g.key"
                >{{ open === g.key ? 'Close' : 'Frames' }}</Button
              >
            </td>
          </tr>
          <tr v-if="open === g.key">
            <td colspan="7">
              <p class="row small">
                <Button size="small" @click="night.accept(g, true)">Accept all</Button>
                <Button size="small" @click="night.accept(g, false)">Refuse all</Button>
              </p>
              <ul class="frames">
                <li v-for="(f, i) in g.frames.slice(0, 400)" :key="i">
                  <Checkbox :checked="f.accepted" @update:checked="night.acceptOne(at(g, i), $event)">
                    <span class="mono small"
                      >{{ f.read.startedAt ? clock(f.read.startedAt, zone) : '–' }} {{ f.file || 'typed' }}</span
                    >
                  </Checkbox>
                </li>
              </ul>
            </td>
          </tr>
        </tbody>
      </table>
    </div>
  </section>
</template>

<style scoped>
.scroll {
  overflow-x: auto;
}
.kind {
  width: 100px;
}
.project {
  min-width: 190px;
}
.written {
  margin-left: 6px;
}
.filter {
  width: 100px;
}
.tight {
  gap: 6px;
  flex-wrap: nowrap;
}
.frames {
  list-style: none;
  margin: 6px 0;
  padding: 0;
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(250px, 1fr));
  gap: 2px 12px;
  max-height: 320px;
  overflow: auto;
}
</style>
