import { api, type BookingRecord } from '@keen/contract';
import { addDays } from '@keen/core/sky';
import { message } from 'ant-design-vue';
import { computed, ref } from 'vue';
import { useRouter } from 'vue-router';
import type { z } from 'zod';
import { call } from '../api/client.ts';
import { questions } from '../api/questions.ts';
import { useClub } from '../stores/club.ts';
import { useSession } from '../stores/session.ts';
import { useAnswer } from './answer.ts';
import { problemText, type Outcome } from './outcome.ts';

/** Nights that are looked back on for what came of them. */
const BACK = 14;
/** Nights ahead that one’s own hours are looked for in. */
const AHEAD = 60;

/** Whose which hours are, from a while ago to a while ahead, and what a person may do with them. */
export function useHours() {
  const club = useClub();
  const session = useSession();
  const router = useRouter();
  const answer = useAnswer('The booked hours', () =>
    club.tonight ? questions.bookings(addDays(club.tonight, -BACK), addDays(club.tonight, AHEAD)) : null,
  );
  const all = computed(() => answer.value.value ?? []);
  const busy = ref(false);
  /** What was refused last, and its code: hours that somebody has can be waited for. */
  const refused = ref<{ code: string; text: string } | null>(null);
  async function act<T>(send: () => Promise<Outcome<T>>, said = ''): Promise<T | null> {
    busy.value = true;
    const got = await send();
    busy.value = false;
    refused.value = got.ok ? null : { code: got.problem.code, text: problemText(got.problem) };
    if (!got.ok) return null;
    if (said) void message.success(said);
    await answer.load();
    return got.value;
  }
  const mine = (b: BookingRecord) => b.memberId === session.member?.id;
  const held = (b: BookingRecord) => b.state === 'held';
  return {
    answer,
    all,
    busy,
    refused,
    mine,
    /** May this person give them back, or say what came of them? */
    mayAct: (b: BookingRecord) => session.mayEdit && (mine(b) || session.isSteward),
    tonight: computed(() =>
      all.value.filter((b) => b.night === club.tonight && held(b) && Date.parse(b.end) > club.now),
    ),
    /** Hours that are over, of which nobody said what came. */
    over: computed(() =>
      all.value.filter(
        (b) => held(b) && b.outcome === null && Date.parse(b.end) < club.now && (mine(b) || session.isSteward),
      ),
    ),
    /** What was refused was about other hours than those that are looked at now. */
    forget: () => (refused.value = null),
    book: (body: z.input<typeof api.addBooking.body>) => act(() => call(api.addBooking, { body })),
    cancel: (b: BookingRecord) => act(() => call(api.cancelBooking, { params: { id: b.id } }), 'Given back.'),
    decide: (b: BookingRecord, approved: boolean, answer: string) =>
      act(() => call(api.decideBooking, { params: { id: b.id }, body: { approved, answer } })),
    say: (b: BookingRecord, outcome: BookingRecord['outcome']) =>
      act(() => call(api.sayOutcome, { params: { id: b.id }, body: { outcome } })),
    /** Makes the plan of a night whose hours are spoken for, and opens it. */
    async plan(rigId: string, night: string): Promise<void> {
      const made = await act(() => call(api.planHours, { body: { rigId, night } }));
      if (!made) return;
      await club.loadPlans();
      const planned = club.plans.find((p) => p.id === made.planId);
      club.selectRig(rigId, planned?.system);
      club.goToNight(night);
      if (made.left.length)
        void message.info(
          `Not in this plan: ${made.left.join(', ')} (another imaging system, or others’ hours between).`,
        );
      await router.push({ path: '/night/plan', query: { project: planned?.legs[0]?.projectId ?? '' } });
    },
  };
}
export type Hours = ReturnType<typeof useHours>;
