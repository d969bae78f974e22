<script setup lang="ts">
import { Select } from 'ant-design-vue';
import { computed, nextTick, onMounted, ref, useAttrs } from 'vue';

/**
 * The toolkit's drop-down made whole for screen readers: a name on the field itself (an aria-label alone would land on a
 * plain box around it), whether it is open, and no reference to a list that is not there.
 */
defineOptions({ inheritAttrs: false });
defineProps<{ label: string; shown?: boolean }>();
const attrs = useAttrs();
/** Class and style belong to the box, everything else to the field in it. */
const rest = computed(() => Object.fromEntries(Object.entries(attrs).filter(([k]) => k !== 'class' && k !== 'style')));
const id = `p${Math.random().toString(36).slice(2, 9)}`;
/** Esc closes the list, not the dialog it stands in. */
let [isOpen, held] = [false, false];
async function tell(open: boolean) {
  isOpen = open;
  await nextTick();
  const field = document.getElementById(id);
  field?.setAttribute('aria-expanded', String(open));
  if (!open) for (const a of ['aria-owns', 'aria-controls', 'aria-activedescendant']) field?.removeAttribute(a);
}
const box = ref<HTMLElement>();
onMounted(() => {
  void tell(false);
  // listeners of the page itself: one of the framework's would be the first to stamp the event, and under a clock that
  // stands still the field's own would then think it an old one
  box.value?.addEventListener('keydown', (e) => (held = e.key === 'Escape' && isOpen), true);
  box.value?.addEventListener('keydown', (e) => held && e.stopPropagation());
});
</script>

<template>
  <span ref="box" class="pick" :class="[{ shown }, $attrs.class]" :style="$attrs.style as never">
    <label :class="{ 'visually-hidden': !shown }" :for="id">{{ label }}</label>
    <Select :id="id" v-bind="rest" class="field" @dropdown-visible-change="tell">
      <slot />
    </Select>
  </span>
</template>

<style scoped>
.pick {
  display: inline-block;
  position: relative;
  min-width: 0;
}
.field {
  width: 100%;
}
.shown {
  display: grid;
  grid-template-columns: minmax(0, 1fr);
  gap: 2px;
  font-size: 13px;
  color: var(--ink-2);
}
</style>
