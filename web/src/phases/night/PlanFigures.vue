<script setup lang="ts">
import { framesThere, type Gathered } from '@keen/core/record';
import { figure, signed } from '@keen/core/quantities';
import { type PlanSettings, type TimelineOutput } from '@keen/core/sequence';
import { computed } from 'vue';
import FilterTile from '../../common/FilterTile.vue';
import ProgressBar from '../../common/ProgressBar.vue';
import { framesOf, KIND_WORDS } from './usePlanWords.ts';

/** Frames by filter and where the minutes go, of one laid-out plan or of two side by side. */
const props = defineProps<{
  filters: PlanSettings['filters'];
  /** Accepted frames of the project. */
  done: readonly Gathered[];
  a: TimelineOutput;
  b: TimelineOutput | null;
}>();
const kinds = computed(() => {
  const keys = Object.keys(props.a.overheadS) as (keyof TimelineOutput['overheadS'])[];
  return keys.filter((k) => (props.a.overheadS[k] ?? 0) > 0 || (props.b?.overheadS[k] ?? 0) > 0);
});
const most = computed(() =>
  Math.max(1, ...kinds.value.map((k) => Math.max(props.a.overheadS[k] ?? 0, props.b?.overheadS[k] ?? 0))),
);
</script>

<template>
  <div class="results">
    <section class="panel">
      <h2>Frames</h2>
      <table class="figures" data-test="frames">
        <thead>
          <tr>
            <th>Filter</th>
            <th class="num">{{ b ? 'A' : 'planned' }}</th>
            <th v-if="b" class="num">B</th>
            <th>towards the goal</th>
            <th class="num">left after</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="f in filters" :key="f.name">
            <td><FilterTile :name="f.name" /></td>
            <td class="num">{{ a.frames[f.name] ?? 0 }}</td>
            <td v-if="b" class="num">{{ b.frames[f.name] ?? 0 }}</td>
            <td>
              <ProgressBar :done="framesThere(done, f)" :goal="f.quota" :adding="a.frames[f.name] ?? 0" />
            </td>
            <td class="num">
              {{ Math.max(0, f.quota - framesThere(done, f) - (a.frames[f.name] ?? 0)) }}
            </td>
          </tr>
          <tr>
            <td>together</td>
            <td class="num">{{ framesOf(a) }}</td>
            <td v-if="b" class="num">{{ framesOf(b) }}</td>
            <td colspan="2" class="muted small">
              <template v-if="filters.length > 1"
                >{{ a.completeRounds }} complete rounds{{ b ? ` (A), ${b.completeRounds} (B)` : '' }}</template
              >
            </td>
          </tr>
        </tbody>
      </table>
    </section>
    <section class="panel">
      <h2>Where the minutes go</h2>
      <table class="figures" data-test="minutes">
        <thead v-if="b">
          <tr>
            <th />
            <th class="num">A</th>
            <th class="num">B</th>
            <th class="num">B − A</th>
          </tr>
        </thead>
        <tbody>
          <tr>
            <td><strong>open shutter</strong></td>
            <td class="num">{{ figure(a.openShutterS / 60, 0) }} min</td>
            <td v-if="!b" class="num">{{ figure(100 * a.efficiency, 0) }} %</td>
            <template v-else>
              <td class="num">{{ figure(b.openShutterS / 60, 0) }} min</td>
              <td class="num">{{ signed((b.openShutterS - a.openShutterS) / 60, 0) }}</td>
            </template>
          </tr>
          <tr v-for="k in kinds" :key="k">
            <td>{{ KIND_WORDS[k] ?? k }}</td>
            <td class="num">{{ figure((a.overheadS[k] ?? 0) / 60, 0) }}</td>
            <td v-if="!b" class="cause">
              <span :style="{ width: `${(100 * (a.overheadS[k] ?? 0)) / most}%` }" />
            </td>
            <template v-else>
              <td class="num">{{ figure((b.overheadS[k] ?? 0) / 60, 0) }}</td>
              <td class="num">{{ signed(((b.overheadS[k] ?? 0) - (a.overheadS[k] ?? 0)) / 60, 0) }}</td>
            </template>
          </tr>
        </tbody>
      </table>
    </section>
  </div>
</template>

<style scoped>
.results {
  display: grid;
  grid-template-columns: 1.25fr 1fr;
  gap: 14px;
}
.cause {
  width: 34%;
}
td:first-child {
  white-space: nowrap;
}
.cause span {
  display: block;
  height: 8px;
  background: var(--line-strong);
}
@media (max-width: 1100px) {
  .results {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
