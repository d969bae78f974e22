import { useEventListener } from '@vueuse/core';
import { ref } from 'vue';

/** So far a press is a press [px]. */
const FAR_PX = 6;
interface Drag {
  project: string;
  from: string;
  /** The slot it is held over; empty over none. */
  over: string;
  x: number;
  y: number;
  far: boolean;
}

/** An object that is drawn from its slot onto another one. */
export function useSlotDrag(on: {
  may: () => boolean;
  /** It is held over a slot; an empty slot: over none, or let go. */
  over: (slot: string, project: string) => void;
  drop: (slot: string, project: string) => void;
}) {
  const drag = ref<Drag | null>(null);
  function down(e: PointerEvent, slot: string, project: string | null) {
    if (!on.may() || !project || e.button !== 0) return;
    drag.value = { project, from: slot, over: '', x: e.clientX, y: e.clientY, far: false };
  }
  useEventListener(window, 'pointermove', (e: PointerEvent) => {
    const d = drag.value;
    if (!d) return;
    if (!d.far && Math.hypot(e.clientX - d.x, e.clientY - d.y) < FAR_PX) return;
    const under = document.elementFromPoint(e.clientX, e.clientY)?.closest<SVGElement>('[data-slot]');
    const over = under?.dataset.slot ?? '';
    if (over !== d.over || !d.far) on.over(over === d.from ? '' : over, d.project);
    drag.value = { ...d, over, far: true };
  });
  useEventListener(window, 'pointerup', () => {
    const d = drag.value;
    drag.value = null;
    if (!d?.far) return;
    if (d.over && d.over !== d.from) on.drop(d.over, d.project);
    else on.over('', '');
  });
  useEventListener(window, 'pointercancel', () => {
    if (drag.value?.far) on.over('', '');
    drag.value = null;
  });
  return { drag, down };
}
