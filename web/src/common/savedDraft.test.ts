import { beforeEach, describe, expect, jest, test } from '@jest/globals';
import type { Outcome } from './outcome.ts';

const told: string[] = [];
jest.unstable_mockModule('ant-design-vue', () => ({ message: { success: (t: string) => told.push(t) } }));
const { useSaving } = await import('./savedDraft.ts');

interface Row {
  version: number;
  text: string;
}
const problem = (code: string, status: number, more: object = {}): Outcome<Row> => ({
  ok: false,
  problem: { type: 'x', title: `problem ${code}`, status, code, ...more },
});
/** A draft that only remembers what happened to it. */
function setUp(...answers: Outcome<Row>[]) {
  const events: string[] = [];
  const version = { value: 3 };
  const kept = {
    version,
    saved: () => void events.push('saved'),
    discard: () => void events.push('discard'),
    rebase: (v: number) => {
      version.value = v;
      events.push(`rebase ${v}`);
    },
  };
  const sent: number[] = [];
  const saving = useSaving<Row>(
    kept,
    async (v) => {
      sent.push(v);
      return answers[Math.min(sent.length, answers.length) - 1]!;
    },
    (r) => void events.push(`take ${r.text}`),
    (r) => `Saved ${r.text}.`,
  );
  return { saving, events, sent };
}
beforeEach(() => void told.splice(0));

describe('saving a draft', () => {
  test('a save that went through clears what was kept, hands the record on and says so', async () => {
    const { saving, events, sent } = setUp({ ok: true, value: { version: 4, text: 'mine' } });
    expect((await saving.save())!.version).toBe(4);
    expect([events, sent, told]).toEqual([['saved', 'take mine'], [3], ['Saved mine.']]);
    expect([saving.busy.value, saving.trouble.value]).toEqual([false, '']);
  });
  test('somebody saved first: both sides stand until one is chosen; keeping mine goes over theirs', async () => {
    const theirs = { version: 7, text: 'theirs' };
    const { saving, events, sent } = setUp(
      problem('stale', 409, { current: theirs, detail: 'Teun saved version 7.' }),
      {
        ok: true,
        value: { version: 8, text: 'mine' },
      },
    );
    expect(await saving.save()).toBeNull();
    expect(saving.conflict.value).toEqual({ detail: 'Teun saved version 7.', theirs });
    expect(events).toEqual([]);
    await saving.keepMine();
    expect([events, sent]).toEqual([
      ['rebase 7', 'saved', 'take mine'],
      [3, 7],
    ]);
    expect(saving.conflict.value).toBeNull();
  });
  test('taking theirs drops the draft and sends nothing', async () => {
    const { saving, events, sent } = setUp(problem('stale', 409, { current: { version: 7, text: 'theirs' } }));
    await saving.save();
    saving.takeTheirs();
    expect([events, sent]).toEqual([['saved', 'take theirs', 'discard'], [3]]);
  });
  test('refused or unreachable: the draft stays, the reason and its fields are said', async () => {
    const { saving, events } = setUp(
      problem('invalid_input', 400, { issues: [{ path: 'goals.0.quota', message: 'must be at least 1' }] }),
    );
    await saving.save();
    expect(saving.trouble.value).toBe('problem invalid_input (goals.0.quota)');
    expect(events).toEqual([]);
    const lost = setUp(problem('offline', 0));
    await lost.saving.save();
    expect([lost.saving.trouble.value, lost.events, lost.saving.busy.value]).toEqual(['problem offline', [], false]);
  });
});
