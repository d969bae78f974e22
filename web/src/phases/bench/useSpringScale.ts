import { InvalidInput, parseInput } from '@keen/core/calculation';
import { infer, InferInput, probableSlip, type Reading } from '@keen/core/balance';
import { useLocalStorage } from '@vueuse/core';
import { computed, type Ref } from 'vue';
import { personalKey } from '../../common/personal.ts';

export interface ScaleRow {
  axis: 'dec' | 'ra';
  attitudeDeg: number;
  tubeSide: 'left' | 'right';
  forceTowardN: number | null;
  forceBackN: number | null;
  leverMm: number;
}
type Complete = ScaleRow & Reading;

/** Spring-scale readings of one rig, kept in this browser, and what they come to. */
export function useSpringScale(rigId: Readonly<Ref<string>>, latitudeDeg: Readonly<Ref<number>>) {
  const rows = useLocalStorage<ScaleRow[]>(
    computed(() => personalKey(`readings.${rigId.value}`)),
    [],
  );
  const complete = computed(() =>
    rows.value.filter((r): r is Complete => r.forceTowardN !== null && r.forceBackN !== null),
  );
  const result = computed(() => {
    if (complete.value.length === 0) return null;
    try {
      const input = parseInput(InferInput, { readings: complete.value, latitudeDeg: latitudeDeg.value });
      return { ok: true as const, value: infer(input), slip: probableSlip(input.readings) };
    } catch (e) {
      return { ok: false as const, message: e instanceof InvalidInput ? e.message : String(e) };
    }
  });
  /** A pull that is probably ten times too great or too small: asked before anything is concluded. */
  const slip = computed(() => (result.value?.ok ? result.value.slip : null));
  const found = computed(() => (result.value?.ok && !slip.value ? result.value.value : null));
  function mend(): void {
    const s = slip.value;
    if (s) complete.value[s.reading]![s.pull] = s.likelyN;
  }
  return { rows, result, slip, found, mend };
}
