import { api, type FrameRecord, type NightRecord } from '@keen/contract';
import type { Judgement, SmallPicture } from '@keen/core/frames';
import { until } from '@vueuse/core';
import { computed, nextTick, ref, shallowRef, watch } from 'vue';
import { callAll } from '../../api/client.ts';
import { questions } from '../../api/questions.ts';
import { useAnswer } from '../../common/answer.ts';
import { latestOnly } from '../../common/latestOnly.ts';
import { smallPictureOf } from '../../common/tones.ts';
import { useClub } from '../../stores/club.ts';

/** Kept pictures read back between two drawings of the screen. */
const AT_ONCE = 50;

/** Nights of the rig in use, and the frames of one of them with their small pictures. */
export function useNightFrames(options: {
  withPictures: boolean;
  onAnotherRig: () => void;
  onAnotherNight: () => void;
}) {
  const club = useClub();
  const rig = computed(() => club.rig?.id);
  const system = computed(() => club.rig?.system.key);
  const ofRig = useAnswer('The nights of this rig', () => (rig.value ? questions.nights(rig.value) : null));
  // limits rest on earlier judgements: without them a frame would be called by the usual ones
  const judged = useAnswer('Earlier judgements of frames', () =>
    rig.value && system.value ? questions.judgements(rig.value, system.value) : null,
  );
  const judgements = computed<Judgement[]>(() => judged.value.value ?? []);
  const nights = computed<NightRecord[]>(() =>
    judged.there.value
      ? (ofRig.value.value ?? []).filter((n) => n.system === system.value && !n.undone && n.taken.length > 0)
      : [],
  );
  const picked = ref('');
  const nightId = computed({
    get: () => (nights.value.some((n) => n.id === picked.value) ? picked.value : (nights.value[0]?.id ?? '')),
    set: (id: string) => (picked.value = id),
  });
  const frames = useAnswer('The frames of this night', () =>
    nightId.value ? questions.nightFrames(nightId.value) : null,
  );
  const records = computed<FrameRecord[]>(() => (frames.value.value ?? []).filter((f) => f.kind === 'light'));
  /** Puts frames that were measured or judged here in the place of those that were read. */
  const changeFrames = (changed: (f: FrameRecord) => FrameRecord) => frames.change((all) => all.map(changed));
  watch([rig, system], () => {
    picked.value = '';
    options.onAnotherRig();
  });

  const reading = computed(() => [ofRig, judged, frames].some((a) => a.asking.value));
  /** Waited for by what depends on the record. */
  async function allRead(): Promise<void> {
    do {
      await until(reading).toBe(false);
      // a night just chosen begins to read its frames
      await nextTick();
    } while (reading.value);
  }

  /** Held anew whenever more are there: whoever shows them sees another map. */
  const small = shallowRef(new Map<string, SmallPicture>());
  const askPictures = latestOnly();
  async function readPictures(id: string): Promise<void> {
    const late = askPictures();
    small.value = new Map();
    if (!id || !options.withPictures) return;
    const kept = await callAll(api.framePictures, { params: { id } });
    const pictures = kept.ok ? kept.value : [];
    for (let i = 0; i < pictures.length && !late(); i += AT_ONCE) {
      const some = pictures.slice(i, i + AT_ONCE);
      const read = await Promise.all(some.map((p) => smallPictureOf(p.picture)));
      if (late()) return;
      some.forEach((p, k) => read[k] && small.value.set(p.id, read[k]));
      small.value = new Map(small.value);
    }
  }
  watch(
    nightId,
    (id) => {
      options.onAnotherNight();
      void readPictures(id);
    },
    { immediate: true },
  );
  return { nights, nightId, records, changeFrames, judgements, small, allRead, answers: { ofRig, judged, frames } };
}
