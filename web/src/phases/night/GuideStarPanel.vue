<script setup lang="ts">
import type { AfterFlip, Candidate, GuideView } from '@keen/core/guiding';
import { figure } from '@keen/core/quantities';
import { Button } from 'ant-design-vue';
import { computed } from 'vue';
import { RouterLink } from 'vue-router';
import FieldGrid from '../../common/FieldGrid.vue';
import GuideStarTable from './GuideStarTable.vue';
import { clock } from '../../common/times.ts';
import { useClub } from '../../stores/club.ts';
import { useUnits } from '../../stores/units.ts';

const units = useUnits();
/** The window's stars, how the guider is used on them, and what is only assumed about it. */
const props = defineProps<{
  candidates: readonly Candidate[];
  /** Whether the star catalogue is there. */
  known: boolean;
  view: GuideView | null;
  windowPaDeg: number | null;
  depthMag: number;
  crowded: boolean;
  several: boolean;
  panel: number;
  /** The other side of the meridian, and when the night looked at comes there. */
  flipped: AfterFlip | null;
  flipAt: string | null;
  mayTurn: boolean;
}>();
const emit = defineEmits<{ turn: [deg: number] }>();
const club = useClub();
const criteria = defineModel<{ exposureS: number; snr: number; fwhmArcsec: number }>('criteria', { required: true });
const offAxis = computed(() => (props.view?.kind === 'off-axis' ? props.view : null));

const USE = [
  { key: 'exposureS', label: 'Guide exposure', dimension: 'duration', decimals: 1, min: 0.1, max: 30, step: 0.5 },
  { key: 'snr', label: 'Signal to noise wanted', dimension: 'number', decimals: 0, min: 3, max: 200 },
  {
    key: 'fwhmArcsec',
    label: 'Star’s width',
    dimension: 'number',
    unit: '″',
    decimals: 1,
    min: 0.5,
    max: 20,
    step: 0.5,
  },
] as const;
</script>

<template>
  <section class="panel stack">
    <h2>
      Guide stars{{ several ? `, panel ${panel + 1}` : '' }}
      <span v-if="windowPaDeg !== null" class="muted small">window at {{ figure(windowPaDeg, 0) }}° on the sky</span>
    </h2>
    <GuideStarTable :candidates="candidates" :known="known" :snr="criteria.snr" />
    <p v-if="flipped" class="small" :class="flipAt ? `level-${flipped.verdict.level}` : 'muted'" data-test="after-flip">
      {{ units.verdict(flipped.verdict) }}
      {{
        flipAt
          ? `The flip is due at ${clock(flipAt, club.site?.timeZone ?? 'UTC')}.`
          : 'No flip is to come in the hours of this night it can be worked in.'
      }}
      <Button v-if="flipped.turnTo && mayTurn" size="small" @click="emit('turn', flipped.turnTo.angleDeg)"
        >Turn to {{ figure(flipped.turnTo.angleDeg, 0) }}°</Button
      >
    </p>
    <FieldGrid :record="criteria" :fields="USE" width="130px" />
    <p v-if="view?.assumed.length" class="muted small">
      Not on the rig’s record, so taken as {{ units.say(view.assumed, ', ') }}.
    </p>
    <p v-if="offAxis?.shadesNow" class="level-caution small">
      The prism shades the main sensor as it is bolted: see <RouterLink to="/bench/off-axis">Off-axis</RouterLink>
      before the night.
    </p>
    <p v-if="offAxis && !offAxis.checked" class="muted small">
      The window’s side is read off the bench drawing; a camera may read out upside down. Settle it once: let a bright
      star leave the picture toward the window, and enter where it went under
      <RouterLink to="/bench/off-axis">Off-axis</RouterLink>.
    </p>
    <p v-if="depthMag < 12.5" class="level-caution small">
      So wide and crowded a field: stars to magnitude {{ depthMag }} are shown.
    </p>
    <p v-if="crowded" class="level-caution small">
      A crowded field: the catalogue keeps the ten brightest stars of each 0.14 square degrees. Fainter ones are missing
      from it, so there may be a star where none is listed, and a neighbour beside one listed as alone.
    </p>
  </section>
</template>
