import { expect, test } from '@jest/globals';
import { FairQueue } from './fairQueue.ts';

/** Jobs that end when told. */
function jobs(queue: FairQueue) {
  const order: string[] = [];
  const ends = new Map<string, () => void>();
  const ask = (person: string, name: string) =>
    queue.run(
      person,
      () =>
        new Promise<string>((done) => {
          order.push(name);
          ends.set(name, () => done(name));
        }),
    );
  const end = async (name: string) => {
    ends.get(name)!();
    await new Promise((r) => setImmediate(r));
  };
  return { order, ask, end };
}
const LIMITS = { atOnce: 1, perPerson: 3, inAll: 5 };

test('people take turns, whoever asked for more', async () => {
  const { order, ask, end } = jobs(new FairQueue(LIMITS));
  const all = [ask('a', 'a1'), ask('a', 'a2'), ask('a', 'a3'), ask('b', 'b1'), ask('c', 'c1')];
  for (let n = 0; n < all.length; n++) await end(order[n]!);
  expect(order).toEqual(['a1', 'a2', 'b1', 'c1', 'a3']);
  expect(await Promise.all(all)).toEqual(['a1', 'a2', 'a3', 'b1', 'c1']);
});

test('one person’s line is bounded, and so is the whole', async () => {
  const { order, ask, end } = jobs(new FairQueue(LIMITS));
  const running = ask('a', 'a0');
  const kept = [ask('a', 'a1'), ask('a', 'a2'), ask('a', 'a3')];
  expect(() => ask('a', 'a4')).toThrow(expect.objectContaining({ code: 'too_many' }));
  kept.push(ask('b', 'b1'), ask('c', 'c1'));
  expect(() => ask('d', 'd1')).toThrow(expect.objectContaining({ code: 'busy' }));
  for (let n = 0; n < 6; n++) await end(order[n]!);
  await Promise.all([running, ...kept]);
  const later = ask('a', 'a5');
  await end('a5');
  expect(await later).toBe('a5');
});

test('a job that fails makes room for the next', async () => {
  const queue = new FairQueue(LIMITS);
  await expect(queue.run('a', () => Promise.reject(new Error('broken')))).rejects.toThrow('broken');
  expect(await queue.run('a', () => Promise.resolve(7))).toBe(7);
});
