import { useIntervalFn, useLocalStorage } from '@vueuse/core';
import { watch, onScopeDispose, type Ref } from 'vue';
import { personalKey } from '../../common/personal.ts';

const MARK = '⚠';
/** The title without its mark: a browser drops blanks at its ends. */
const unmarked = () => document.title.replace(/^⚠\s*/, '');
const EVERY_MS = 8000;

/** Two short tones; where the browser allows no sound, none. */
function sound(): void {
  try {
    const audio = new AudioContext();
    for (const [at, hz] of [
      [0, 660],
      [0.25, 880],
    ] as const) {
      const [tone, gain] = [audio.createOscillator(), audio.createGain()];
      tone.frequency.value = hz;
      gain.gain.value = 0.2;
      tone.connect(gain).connect(audio.destination);
      tone.start(audio.currentTime + at);
      tone.stop(audio.currentTime + at + 0.2);
    }
    setTimeout(() => void audio.close(), 1000);
  } catch {
    // nothing is heard; the title and the page say it
  }
}

/** Calls somebody, by the title of the tab and, only where that was allowed, by sound; as long as it is needed. */
export function useAlarm(loud: Readonly<Ref<boolean>>) {
  const allowed = useLocalStorage(personalKey('run-sound'), false);
  const mark = () => {
    if (loud.value === document.title.startsWith(MARK)) return;
    document.title = loud.value ? `${MARK} ${document.title}` : unmarked();
  };
  watch(
    loud,
    (now) => {
      mark();
      if (now && allowed.value) sound();
    },
    { immediate: true },
  );
  useIntervalFn(() => {
    mark();
    if (loud.value && allowed.value) sound();
  }, EVERY_MS);
  onScopeDispose(() => {
    document.title = unmarked();
  });
  return {
    allowed,
    toggle: () => {
      allowed.value = !allowed.value;
      // heard at once, so that one knows it can be
      if (allowed.value) sound();
    },
  };
}
