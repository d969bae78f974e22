<script setup lang="ts">
import { CheckCircleFilled, ExclamationCircleFilled, WarningFilled } from '@ant-design/icons-vue';
import type { Verdict } from '@keen/core/calculation';
import type { Phrase } from '@keen/core/phrases';
import { computed } from 'vue';
import { useUnits } from '../stores/units.ts';

/** The one sentence a screen leads with: level by icon, word and colour; what stands beside it below. */
const props = defineProps<{ verdict: Verdict; notes?: readonly Phrase[] }>();
const look = computed(
  () =>
    ({
      good: { icon: CheckCircleFilled, word: 'Good' },
      caution: { icon: ExclamationCircleFilled, word: 'Caution' },
      bad: { icon: WarningFilled, word: 'Act' },
    })[props.verdict.level],
);
const units = useUnits();
const text = computed(() => units.verdict(props.verdict));
const detail = computed(() => units.sentences(props.notes ?? []));
</script>

<template>
  <section class="verdict" :class="`is-${verdict.level}`" role="status" data-test="verdict">
    <span class="mark" :class="`level-${verdict.level}`">
      <component :is="look.icon" aria-hidden="true" />
      <span class="word">{{ look.word }}</span>
    </span>
    <div>
      <p class="text">{{ text }}</p>
      <p v-if="detail || $slots.default" class="detail">
        <slot>{{ detail }}</slot>
      </p>
    </div>
  </section>
</template>

<style scoped>
.verdict {
  display: flex;
  gap: 14px;
  align-items: flex-start;
  border-left: 4px solid var(--accent);
  padding: 4px 0 4px 14px;
}
.is-good {
  border-color: var(--good);
}
.is-caution {
  border-color: var(--caution);
}
.is-bad {
  border-color: var(--bad);
}
.mark {
  display: inline-flex;
  gap: 6px;
  align-items: center;
  font-size: 13px;
  font-weight: 650;
  padding-top: 5px;
  min-width: 74px;
}
.text {
  font-size: 19px;
  font-weight: 650;
  line-height: 1.35;
  text-wrap: pretty;
}
.detail {
  color: var(--ink-2);
  margin-top: 2px;
}
@media (max-width: 700px) {
  .verdict {
    flex-direction: column;
    gap: 2px;
  }
  .text {
    font-size: 17px;
  }
}
</style>
