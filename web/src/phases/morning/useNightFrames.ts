import { api, type FrameRecord, type NightRecord } from '@keen/contract';
import type { Judgement, SmallPicture } from '@keen/core/frames';
import { nextTick, ref, shallowRef, watch, type Ref } from 'vue';
import { callAll } from '../../api/client.ts';
import { questions } from '../../api/questions.ts';
import { answerTo } from '../../api/serverState.ts';
import { latestOnly } from '../../common/latestOnly.ts';
import { problemText } from '../../common/outcome.ts';
import { smallPictureOf } from '../../common/tones.ts';
import { useClub } from '../../stores/club.ts';

/** Kept pictures read back between two drawings of the screen. */
const AT_ONCE = 50;

/** Nights of the rig in use, and the frames of one of them with their small pictures. */
export function useNightFrames(
  trouble: Ref<string>,
  options: { withPictures: boolean; onAnotherRig: () => void; onAnotherNight: () => void },
) {
  const club = useClub();
  const nights = shallowRef<NightRecord[]>([]);
  const nightId = ref('');
  const records = shallowRef<FrameRecord[]>([]);
  const judgements = shallowRef<Judgement[]>([]);
  /** Held anew whenever more are there: whoever shows them sees another map. */
  const small = shallowRef(new Map<string, SmallPicture>());
  /** Whether the nights, and the frames of the chosen one, have come. */
  const nightsState = ref<'coming' | 'failed' | 'there'>('coming');
  const framesState = ref<'coming' | 'failed' | 'there'>('coming');

  /** The newest reading of what is on record, to be waited for by what depends on it. */
  let reading: Promise<void> = Promise.resolve();
  async function allRead(): Promise<void> {
    for (let seen = null; seen !== reading;) {
      seen = reading;
      await reading;
      // a night just chosen begins to read its frames
      await nextTick();
    }
  }
  const askNights = latestOnly();
  async function readNights(rig: string | undefined, system: string | undefined): Promise<void> {
    const late = askNights();
    nights.value = [];
    nightsState.value = 'coming';
    nightId.value = '';
    options.onAnotherRig();
    if (!rig || !system) return;
    const [got, judged] = await Promise.all([
      answerTo(questions.nights(rig)),
      answerTo(questions.judgements(rig, system)),
    ]);
    if (late()) return;
    // limits rest on earlier judgements: without them a frame would be called by the usual ones
    const failed = [got, judged].find((g) => !g.ok);
    nightsState.value = failed ? 'failed' : 'there';
    if (!got.ok || !judged.ok) {
      if (failed && !failed.ok) trouble.value = problemText(failed.problem);
      return;
    }
    judgements.value = judged.value;
    nights.value = got.value.filter((n) => n.system === system && !n.undone && n.taken.length > 0);
    nightId.value = nights.value[0]?.id ?? '';
  }
  watch(
    () => [club.rig?.id, club.rig?.system.key] as const,
    ([rig, system]) => void (reading = readNights(rig, system)),
    { immediate: true },
  );
  const askFrames = latestOnly();
  async function readFrames(id: string): Promise<void> {
    const late = askFrames();
    records.value = [];
    framesState.value = 'coming';
    small.value = new Map();
    options.onAnotherNight();
    if (!id) return;
    const [got, kept] = await Promise.all([
      answerTo(questions.nightFrames(id)),
      options.withPictures ? callAll(api.framePictures, { params: { id } }) : { ok: true as const, value: [] },
    ]);
    if (late()) return;
    trouble.value = got.ok ? '' : problemText(got.problem);
    framesState.value = got.ok ? 'there' : 'failed';
    records.value = got.ok ? got.value.filter((f) => f.kind === 'light') : [];
    const pictures = kept.ok ? kept.value : [];
    for (let i = 0; i < pictures.length; i += AT_ONCE) {
      const some = pictures.slice(i, i + AT_ONCE);
      const read = await Promise.all(some.map((p) => smallPictureOf(p.picture)));
      if (late()) return;
      some.forEach((p, k) => read[k] && small.value.set(p.id, read[k]));
      small.value = new Map(small.value);
    }
  }
  watch(nightId, (id) => void (reading = readFrames(id)));

  /** Both asked again after a failure. */
  const again = () =>
    void (reading =
      nightsState.value === 'failed' ? readNights(club.rig?.id, club.rig?.system.key) : readFrames(nightId.value));
  return { nights, nightId, records, judgements, small, nightsState, framesState, allRead, again };
}
