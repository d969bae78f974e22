<script setup lang="ts">
import { makeVerdict, phrase } from '@keen/core/phrases';
import { questions } from '../../api/questions.ts';
import { figure } from '@keen/core/quantities';
import { computed, watch } from 'vue';
import FilterTile from '../../common/FilterTile.vue';
import { KIND_WORDS } from '../../common/frameKinds.ts';
import { useAnswer } from '../../common/answer.ts';
import WhenThere from '../../common/WhenThere.vue';
import { useClub } from '../../stores/club.ts';
import VerdictLine from '../../common/VerdictLine.vue';
import { useUnits } from '../../stores/units.ts';

/** What light frames on record still lack before they can be calibrated; first what is lost when the train is touched. */
const props = defineProps<{
  /** Changes when nights do. */ nights: number;
  /** The screen leads with it. */ lead?: boolean;
}>();
const club = useClub();
const units = useUnits();
const answer = useAnswer('What frames still lack', () =>
  club.rig ? questions.calibrationNeeds(club.rig.id, club.rig.system.key) : null,
);
watch(() => props.nights, answer.load);
const got = answer.value;
const settings = (m: { gain: number; offset: number | null; binning: number }) =>
  [`gain ${m.gain}`, m.offset === null ? '' : `offset ${m.offset}`, m.binning > 1 ? `binned ${m.binning}×` : '']
    .filter(Boolean)
    .join(', ');
/** Flats of the train that stands now first: those are lost once it is touched. */
const rows = computed(() =>
  (got.value?.missing ?? [])
    .map((m) => {
      const urgent =
        m.kind === 'flat' &&
        got.value!.urgent.some(
          (u) =>
            u.filter === m.filter &&
            u.angleDeg === m.angleDeg &&
            u.gain === m.gain &&
            u.trainRevision === m.trainRevision,
        );
      const lost = m.kind === 'flat' && !urgent;
      return {
        urgent,
        what: KIND_WORDS[m.kind],
        filter: m.kind === 'flat' ? m.filter : '',
        of:
          m.kind === 'flat'
            ? `camera at ${figure(m.angleDeg, 0)}°`
            : `${figure(m.exposureS, m.exposureS < 10 ? 1 : 0)} s${m.temperatureC === null ? '' : `, ${units.temperature(m.temperatureC, 0)}`}`,
        settings: settings(m),
        frames: m.frames,
        when: urgent ? 'before anything is turned' : lost ? 'too late: the train stands no more' : 'any day',
      };
    })
    .sort((a, b) => Number(b.urgent) - Number(a.urgent)),
);
/** The one sentence a screen leads with. */
const verdict = computed(() => {
  const g = got.value;
  if (!g) return null;
  if (!(g.frames > 0)) return makeVerdict('good', phrase('needs.no-lights'));
  if (g.urgent.length) return makeVerdict('bad', phrase('needs.urgent', { n: g.urgent.length }));
  if (g.missing.length) return makeVerdict('caution', phrase('needs.missing', { n: g.missing.length }));
  if (g.leftOut === g.frames) return makeVerdict('caution', phrase('needs.untold'));
  return makeVerdict('good', phrase('needs.all-there'));
});
</script>

<template>
  <VerdictLine v-if="lead && verdict" :verdict="verdict" />
  <WhenThere :of="[answer]" />
  <section v-if="got && got.frames > 0" class="panel stack" data-test="needs">
    <h2>Still to be taken for calibration</h2>
    <p v-if="rows.length === 0 && got.leftOut < got.frames" class="level-good">
      Every frame on record has its flat, its dark and its dark flat.
    </p>
    <p v-if="got.urgent.length" class="level-bad" data-test="urgent">
      {{ got.urgent.length }} {{ got.urgent.length === 1 ? 'flat is' : 'flats are' }} lost once camera, filters or
      spacing are touched: take {{ got.urgent.length === 1 ? 'it' : 'them' }} first.
    </p>
    <table v-if="rows.length" class="figures">
      <thead>
        <tr>
          <th>Kind</th>
          <th>Filter</th>
          <th>Of</th>
          <th>Camera</th>
          <th class="num">Frames wait</th>
          <th>When</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="(r, i) in rows" :key="i">
          <td>{{ r.what }}</td>
          <td><FilterTile v-if="r.filter" :name="r.filter" /></td>
          <td>{{ r.of }}</td>
          <td class="small">{{ r.settings }}</td>
          <td class="num">{{ r.frames }}</td>
          <td :class="{ 'level-bad': r.urgent, muted: !r.urgent }">{{ r.when }}</td>
        </tr>
      </tbody>
    </table>
    <p class="muted small">
      A flat holds for its filter, the train as it stood, the camera’s angle within 2° and the same settings; turned by
      half a circle it does not. A dark holds for its length, its settings and 1 °C. Where a header tells no angle, 0°
      is taken.
      <template v-if="got.leftOut"
        >{{ got.leftOut }} of {{ got.frames }} frames are left out: their headers tell no gain or no
        temperature.</template
      >
    </p>
  </section>
</template>
