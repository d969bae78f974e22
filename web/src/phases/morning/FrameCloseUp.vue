<script setup lang="ts">
import { edgeDips, skyGradient, type FrameFinding, type FrameGuiding, type FrameMeasures } from '@keen/core/frames';
import { phrase } from '@keen/core/phrases';
import { prismInputOf, prismMoveFor } from '@keen/core/train';
import { figure, longOverShort } from '@keen/core/quantities';
import { Button } from 'ant-design-vue';
import { computed } from 'vue';
import { RouterLink } from 'vue-router';
import FilterTile from '../../common/FilterTile.vue';
import { valueOrNull } from '../../common/outcome.ts';
import { useClub } from '../../stores/club.ts';
import { useUnits } from '../../stores/units.ts';
import FieldMap from './FieldMap.vue';
import MeanStars from './MeanStars.vue';
import GuidedDuring from './GuidedDuring.vue';
import TonePicture from '../../common/TonePicture.vue';
import type { JoinedLog } from './useNightGuiding.ts';
import type { AtHand, FrameRow } from './frameRow.ts';

/** One frame to its corners: what is wrong with it and why, the field as a map, corners and edges as they are. */
const props = defineProps<{
  row: FrameRow;
  findings: readonly FrameFinding[];
  atHand: AtHand | null;
  guiding: FrameGuiding | null;
  log: JoinedLog | null;
  whiteSigma: number;
  mayJudge: boolean;
  learnt: boolean;
  night: string;
}>();
const emit = defineEmits<{ judge: [accepted: boolean] }>();
const units = useUnits();
type EdgeDips = FrameMeasures['edgeDips'];
/** Where a finding is mended. */
const BENCH: Partial<Record<FrameFinding['code'], { to: string; label: string }>> = {
  'prism-shadow': { to: '/bench/off-axis', label: 'The prism on the bench' },
  'spacing-radial': { to: '/bench/train', label: 'The train on the bench' },
  'spacing-tangential': { to: '/bench/train', label: 'The train on the bench' },
  coma: { to: '/bench/train', label: 'The train on the bench' },
  trailing: { to: '/morning/guiding', label: 'The guide log' },
  defocus: { to: '/morning/focus', label: 'The focus runs' },
};
/** How far out a prism has to come that darkens an edge so, by the rig’s own cone. */
const club = useClub();
const prismMove = computed(() => {
  const [setup, look] = [club.rig?.setup, props.row.look];
  const input =
    setup && props.findings.some((f) => f.code === 'prism-shadow') ? valueOrNull(() => prismInputOf(setup)) : null;
  if (!input || !look) return null;
  const worst = (of: EdgeDips) => Math.max(of.left, of.right, of.bottom, of.top);
  const outMm = valueOrNull(() =>
    prismMoveFor(input, worst(look.edgeDips), (light, w, h) => worst(edgeDips(light, w, h, 0))),
  );
  return outMm === null ? null : phrase('frame.prism-move', { outMm });
});
const dustSaid = (spots: AtHand['dust']) =>
  phrase('frame.dust', { spots: spots.length, deepestPercent: 100 * spots[0]!.depth, acrossPx: spots[0]!.diameterPx });
const WHERE = ['top left', 'top', 'top right', 'left', 'middle', 'right', 'bottom left', 'bottom', 'bottom right'];
const figures = computed(() => {
  const l = props.row.look;
  if (!l) return [];
  const sky = skyGradient(l);
  const dip = Object.entries(l.edgeDips).reduce((a, b) => (b[1] > a[1] ? b : a));
  return [
    ['Stars', `${l.stars}, ${l.used} measured`],
    ['Half flux diameter', l.hfdPx === null ? '–' : `${figure(l.hfdPx, 2)} px`],
    ['Width, FWHM', l.fwhmPx === null ? '–' : `${figure(l.fwhmPx, 2)} px`],
    ['Long over short', l.eccentricity === null ? '–' : figure(longOverShort(l.eccentricity), 2)],
    ['Sky', `${figure(l.background, 0)}, noise ${figure(l.noise, 1)}`],
    ...(sky.counts > 0.2 * l.noise && sky.even > 0.7
      ? [['Sky grows', `by ${figure(sky.counts, 0)} across, towards ${figure(sky.towardsDeg, 0)}°`]]
      : []),
    ['Full stars', `${figure(100 * l.saturatedFraction, 0)} %`],
    ['Darkest edge', dip[1] > 0.005 ? `${dip[0]}, ${figure(100 * dip[1], 1)} %` : 'none'],
    ...(l.trails ? [['Trails across it', String(l.trails)]] : []),
  ];
});
</script>

<template>
  <section class="panel stack" data-test="close-up">
    <div class="row spread">
      <h2 class="name">{{ row.file || 'Frame without a file' }}</h2>
      <span class="row"><FilterTile v-if="row.filter" :name="row.filter" /> {{ figure(row.exposureS, 0) }} s</span>
    </div>
    <p v-if="!row.record" class="muted small">
      On no record: looked at only. <RouterLink to="/morning/night">Bring the night in</RouterLink> to count it.
    </p>
    <p v-if="row.suggestion" class="level-caution" data-test="suggestion">
      Better refused: {{ units.say(row.suggestion.reason) }}. It would cost
      {{ figure(row.suggestion.costsS / 60, 0) }} min of open shutter.
      <span v-if="learnt" class="muted small">By limits learnt from what was decided here before.</span>
    </p>
    <p v-else-if="row.record && !row.accepted" class="level-bad">
      Does not count: {{ row.record.reason || 'refused' }}.
    </p>
    <div v-if="row.record" class="row">
      <Button
        :disabled="!mayJudge"
        :type="row.suggestion ? 'default' : 'primary'"
        title="a"
        @click="emit('judge', true)"
        >Counts</Button
      >
      <Button :disabled="!mayJudge" danger title="x" @click="emit('judge', false)">Does not count</Button>
    </div>
    <GuidedDuring
      v-if="guiding && row.startedAt"
      :guiding="guiding"
      :log="log"
      :started-at="row.startedAt"
      :exposure-s="row.exposureS"
    />
    <template v-if="row.look">
      <p v-if="atHand?.dust.length" class="small" data-test="dust">{{ units.say(dustSaid(atHand.dust)) }}</p>
      <ul class="findings">
        <li v-for="f in findings" :key="f.code" :class="`level-${f.severity}`" data-test="finding">
          <strong>{{ units.say(f.phrases[0]) }}</strong>
          <span v-if="f.severity !== 'good'" class="advice">{{ units.say(f.phrases[1]) }}</span>
          <span v-if="f.code === 'prism-shadow' && prismMove" class="advice" data-test="prism-move">{{
            units.say(prismMove)
          }}</span>
          <span v-if="f.severity !== 'good'" class="row small">
            <RouterLink v-if="BENCH[f.code]" :to="BENCH[f.code]!.to">{{ BENCH[f.code]!.label }}</RouterLink>
            <RouterLink
              :to="{ path: '/morning/log', query: { finding: f.code, night, problem: units.say(f.phrases[0]) } }"
              >Write it down</RouterLink
            >
          </span>
        </li>
      </ul>
      <FieldMap :look="row.look" :stars="atHand?.stars ?? []" />
      <p class="muted small">
        Numbers are half flux diameters in pixels; red grows with the width, whiskers point the way stars are drawn out.
      </p>
      <div v-if="atHand?.pieces.length" class="pieces" data-test="pieces">
        <TonePicture
          v-for="(p, i) in atHand.pieces"
          :key="i"
          :picture="p"
          :stretch="{ whiteSigma: 4 * whiteSigma, times: 1, above: 0 }"
          :name="`The ${WHERE[i]} of the picture, pixel by pixel`"
        />
      </div>
      <p v-else class="muted small">Corners and edges as they are: drop the file again.</p>
      <template v-if="atHand?.meanStars.length">
        <MeanStars :stars="atHand.meanStars" />
        <p class="muted small">The mean star of each part, enlarged: what single stars have in common.</p>
      </template>
      <table class="figures">
        <tbody>
          <tr v-for="[what, value] in figures" :key="what">
            <td>{{ what }}</td>
            <td class="num">{{ value }}</td>
          </tr>
        </tbody>
      </table>
    </template>
    <p v-else class="muted">Not measured yet: drop its file, or the night’s folder.</p>
  </section>
</template>

<style scoped>
.name {
  overflow-wrap: anywhere;
  font-size: 15px;
}
.findings {
  list-style: none;
  margin: 0;
  padding: 0;
  display: grid;
  gap: 8px;
}
.findings li {
  display: grid;
  gap: 2px;
}
.advice {
  color: var(--ink);
}
.pieces {
  display: grid;
  grid-template-columns: repeat(3, 1fr);
  gap: 3px;
}
</style>
