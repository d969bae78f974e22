<script setup lang="ts">
import { figure } from '@keen/core/quantities';
import { LONG_ASPECT, LONG_FRAME_S, type LongFrame } from '@keen/core/exposure';
import { computed } from 'vue';
import { RouterLink } from 'vue-router';

/** Whether this rig holds a long frame sharp, and whence that is known. */
const props = defineProps<{
  held: LongFrame;
  fwhmArcsec: number;
  /** Guided through a prism: nothing bends between guide camera and main camera. */
  offAxis: boolean;
  /** Night of the log that was read; empty without one. */
  logOf: string;
}>();
const seconds = (s: number) => (s < 90 ? `${figure(s, 0)} s` : `${figure(s / 60, s < 600 ? 1 : 0)} min`);
const rows = computed(() => {
  const { flexureS, creepS, widthArcsec, aspect } = props.held;
  const level = (s: number | null) => (s !== null && s < LONG_FRAME_S ? 'level-bad' : '');
  const bending =
    flexureS !== null ? `a pixel after ${seconds(flexureS)}` : props.offAxis ? 'none: guided off axis' : '';
  const creeping = creepS !== null ? `a pixel after ${seconds(creepS)}` : 'nothing that shows';
  return [
    { what: 'Bending between guide scope and tube', value: bending, level: level(flexureS) },
    { what: 'Creep while guided', value: props.logOf ? creeping : '', level: level(creepS) },
    {
      what: 'Stars with the scatter of guiding',
      value:
        widthArcsec === null
          ? ''
          : `${figure(widthArcsec, 1)}″ instead of ${figure(props.fwhmArcsec, 1)}″${aspect! > LONG_ASPECT.remark ? `, ${figure(aspect!, 2)} times as long as wide` : ''}`,
      level: aspect !== null && aspect > LONG_ASPECT.evident ? 'level-caution' : '',
    },
  ];
});
</script>

<template>
  <section class="panel stack" data-test="long-frame">
    <h2>Does this rig hold ten minutes?</h2>
    <table class="figures">
      <tbody>
        <tr v-for="r in rows" :key="r.what">
          <td>{{ r.what }}</td>
          <td class="num" :class="r.level">{{ r.value || 'not measured' }}</td>
        </tr>
      </tbody>
    </table>
    <p class="muted small">
      <template v-if="logOf"
        >From the guide log of the night of {{ logOf }}. Scatter widens stars the same in a frame of one minute and of
        ten; only what bends or creeps grows with its length.</template
      ><template v-else
        >A kept <RouterLink to="/morning/guiding">guide log</RouterLink> tells how wide guiding makes the stars, and
        what creeps.</template
      >
    </p>
  </section>
</template>
