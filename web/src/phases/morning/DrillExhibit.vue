<script setup lang="ts">
import type { Exhibit } from '@keen/core/drills';
import { diagnose, type FrameFinding } from '@keen/core/frames';
import type { LogOutput } from '@keen/core/guiding';
import { figure } from '@keen/core/quantities';
import { computed, shallowRef, watch } from 'vue';
import { latestOnly } from '../../common/latestOnly.ts';
import { useUnits } from '../../stores/units.ts';
import { calculate } from '../../workers/index.ts';
import { lookAtScene } from '../../workers/looking.ts';
import type { DrawnLook } from '../../workers/look.worker.ts';
import DrillCourse from './DrillCourse.vue';
import FieldMap from './FieldMap.vue';
import MeanStars from './MeanStars.vue';
import GuideTrace from './GuideTrace.vue';
import TonePicture from '../../common/TonePicture.vue';

/** One thing a person would see: a frame, a guide log, a table or a course. What the product reads in it shows once it is judged. */
const props = defineProps<{ exhibit: Exhibit; judged: boolean }>();
const units = useUnits();
const drawn = shallowRef<DrawnLook | null>(null);
const log = shallowRef<LogOutput | null>(null);
const trouble = shallowRef('');
const span = shallowRef<[number, number] | null>(null);
const ask = latestOnly();
watch(
  () => props.exhibit,
  async (e) => {
    const late = ask();
    [drawn.value, log.value, span.value, trouble.value] = [null, null, null, ''];
    try {
      if (e.kind === 'frame') {
        const got = await lookAtScene(e.scene);
        if (!late()) drawn.value = got;
      }
      if (e.kind === 'guide-log') {
        const got = await calculate('guide.log', { samples: e.samples });
        if (!late() && got.ok) log.value = got.value;
      }
    } catch (problem) {
      if (!late()) trouble.value = `It could not be drawn: ${(problem as Error).message}`;
    }
  },
  { immediate: true },
);
/** A scale for findings in arcseconds; the situations are told in pixels. */
const SCALE = 1.5;
const findings = computed<FrameFinding[]>(() => (drawn.value ? diagnose(drawn.value.look, null, SCALE) : []));
</script>

<template>
  <section class="panel stack" data-test="exhibit">
    <h2>{{ exhibit.title }}</h2>
    <p v-if="trouble" class="level-bad" role="alert">{{ trouble }}</p>
    <template v-if="exhibit.kind === 'frame'">
      <div v-if="drawn" class="frame">
        <div class="stack">
          <TonePicture
            :picture="drawn.small"
            :stretch="{ whiteSigma: 24, times: 1, above: 0 }"
            name="The whole frame"
          />
          <FieldMap :look="drawn.look" :stars="drawn.stars" />
        </div>
        <div>
          <div class="pieces">
            <TonePicture
              v-for="(p, i) in drawn.pieces"
              :key="i"
              :picture="p"
              :stretch="{ whiteSigma: 96, times: 1, above: 0 }"
              :name="`Piece ${i + 1} of nine, pixel by pixel`"
            />
          </div>
          <p class="muted small">Corners, edges and middle, pixel by pixel.</p>
        </div>
        <div>
          <MeanStars :stars="drawn.meanStars" />
          <p class="muted small">The mean star of each of nine parts, enlarged.</p>
        </div>
      </div>
      <p v-else-if="!trouble" class="muted" role="status">Being drawn …</p>
      <p v-if="judged && findings.length" class="small">
        <span class="muted">Frames would say:</span> {{ findings.map((f) => units.say(f.phrases[0])).join(' ') }}
      </p>
    </template>
    <template v-else-if="exhibit.kind === 'guide-log'">
      <GuideTrace :samples="exhibit.samples" :span="span" @span="span = $event" />
      <p class="muted small">
        Right ascension solid, declination dashed; drag to look closer<template v-if="log"
          >. Scatter {{ figure(log.rms.ra, 2) }}″ and {{ figure(log.rms.dec, 2) }}″</template
        >.
      </p>
      <p v-if="judged && log" class="small">
        <span class="muted">Guide log would say:</span> {{ log.findings.map((f) => units.say(f.phrases[0])).join(' ') }}
      </p>
    </template>
    <table v-else-if="exhibit.kind === 'table'" class="figures">
      <tbody>
        <tr v-for="[what, cell] in exhibit.rows" :key="what">
          <td>{{ what }}</td>
          <td class="num">
            {{ typeof cell === 'string' ? cell : units.quantity(cell.name, cell.value, cell.decimals) }}
          </td>
        </tr>
      </tbody>
    </table>
    <DrillCourse v-else :exhibit="exhibit" />
  </section>
</template>

<style scoped>
.frame {
  display: grid;
  grid-template-columns: minmax(0, 1.25fr) minmax(0, 1fr) minmax(0, 1fr);
  gap: 12px;
  align-items: start;
}
.pieces {
  display: grid;
  grid-template-columns: repeat(3, minmax(0, 1fr));
  gap: 3px;
}
@media (max-width: 1150px) {
  .frame {
    grid-template-columns: minmax(0, 1fr) minmax(0, 1fr);
  }
}
</style>
