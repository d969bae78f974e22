import { afterEach, beforeEach, describe, expect, jest, test } from '@jest/globals';
import type { ClubEvent } from '@keen/contract';
import { hear, type Hearing } from './stream.ts';

/** A stream whose other end is the test’s. */
class Line {
  readonly listeners = new Map<string, (e: Event) => void>();
  readyState = 1;
  closed = false;
  readonly url: string;
  constructor(url: string) {
    this.url = url;
  }
  addEventListener(name: string, what: unknown) {
    this.listeners.set(name, what as (e: Event) => void);
  }
  close() {
    this.closed = true;
  }
  says(name: string, id: number | string = '', data: unknown = '') {
    this.listeners.get(name)!({ lastEventId: String(id), data: JSON.stringify(data) } as unknown as Event);
  }
  breaks(forGood: boolean) {
    this.readyState = forGood ? 2 : 0;
    this.listeners.get('error')!({} as Event);
  }
}
const event = (seq: number): ClubEvent => ({
  kind: 'changed',
  seq,
  at: '2026-11-20T12:00:00.000Z',
  what: 'plans',
  byId: '00000000-0000-4000-8000-000000000001',
  by: 'Teun',
  rigId: null,
  night: null,
});

let lines: Line[];
let heard: number[];
let how: Hearing[];
let forgotten: number;
let hidden: boolean;
let asked: string[];
let answer: () => { status: number; body: unknown };
let stop: () => void;
let shown: () => void;
beforeEach(() => {
  jest.useFakeTimers();
  [lines, heard, how, forgotten, hidden, asked] = [[], [], [], 0, false, []];
  answer = () => ({ status: 200, body: { events: [], last: 0, forgotten: false } });
  globalThis.fetch = (async (path: string) => {
    asked.push(path);
    const { status, body } = answer();
    return { ok: status < 400, status, json: async () => body };
  }) as unknown as typeof fetch;
  ({ stop, shown } = hear(
    { happened: (e) => heard.push(e.seq), forgotten: () => forgotten++, hearing: (h) => how.push(h) },
    {
      open: (url) => {
        lines.push(new Line(url));
        return lines.at(-1)! as never;
      },
      isHidden: () => hidden,
    },
  ));
});
afterEach(() => {
  stop();
  jest.useRealTimers();
});
const pass = (ms: number) => jest.advanceTimersByTimeAsync(ms);

describe('a page that listens', () => {
  test('hears each event once, also where a line that was cut says it again', () => {
    const [line] = lines as [Line];
    expect(line.url).toBe('/api/events/stream');
    line.says('beat', 7);
    for (const n of [8, 9, 9, 8, 10]) line.says('happened', n, event(n));
    // the browser comes again by itself
    line.breaks(false);
    for (const n of [10, 11]) line.says('happened', n, event(n));
    expect(heard).toEqual([8, 9, 10, 11]);
    expect(how).toEqual(['told', 'deaf']);
    expect(lines).toHaveLength(1);
  });
  test('a line that never says anything is cut by a proxy: it asks instead, and tries a line again later', async () => {
    answer = () => ({ status: 200, body: { events: [event(3)], last: 4, forgotten: false } });
    await pass(8_100);
    expect([lines[0]!.closed, asked]).toEqual([true, ['/api/events']]);
    expect([heard, how.at(-1)]).toEqual([[3], 'asking']);
    answer = () => ({ status: 200, body: { events: [event(4), event(5)], last: 5, forgotten: false } });
    await pass(4_100);
    expect(asked.at(-1)).toBe('/api/events?after=4');
    // 4 was counted in before
    expect(heard).toEqual([3, 5]);
    await pass(130_000);
    expect(lines).toHaveLength(2);
    expect(lines[1]!.url).toBe('/api/events/stream?after=5');
  });
  test('a line that goes silent is cut, and what came meanwhile is asked for', async () => {
    lines[0]!.says('beat', 20);
    await pass(39_000);
    expect(lines[0]!.closed).toBe(false);
    lines[0]!.says('beat', 20);
    answer = () => ({ status: 200, body: { events: [event(21)], last: 21, forgotten: false } });
    await pass(40_100);
    expect([lines[0]!.closed, asked[0], heard]).toEqual([true, '/api/events?after=20', [21]]);
  });
  test('refused, or without a server, it asks on, and says that it hears nothing', async () => {
    answer = () => ({ status: 503, body: { type: 'x', title: 'x', status: 503, code: 'stopping' } });
    lines[0]!.breaks(true);
    await pass(0);
    expect(how.at(-1)).toBe('deaf');
    answer = () => ({ status: 200, body: { events: [], last: 2, forgotten: false } });
    await pass(10_100);
    expect(how.at(-1)).toBe('asking');
  });
  test('what is not kept any more is told once, and it goes on from there', async () => {
    lines[0]!.says('forgotten', 50);
    lines[0]!.says('happened', 51, event(51));
    expect([forgotten, heard]).toEqual([1, [51]]);
    answer = () => ({ status: 200, body: { events: [], last: 90, forgotten: true } });
    lines[0]!.breaks(true);
    await pass(20);
    expect(forgotten).toBe(2);
    await pass(4_100);
    expect(asked.at(-1)).toBe('/api/events?after=90');
  });
  test('a tab nobody looks at gives its line back after a minute, asks seldom, and listens again when it is looked at', async () => {
    lines[0]!.says('beat', 1);
    hidden = true;
    shown();
    await pass(61_000);
    expect(lines[0]!.closed).toBe(true);
    const before = asked.length;
    await pass(60_000);
    expect(asked.length - before).toBeLessThanOrEqual(4);
    hidden = false;
    shown();
    expect(lines).toHaveLength(2);
  });
  test('ended, it asks no more and takes nothing that still comes', async () => {
    lines[0]!.says('beat', 1);
    stop();
    lines[0]!.says('happened', 2, event(2));
    await pass(200_000);
    expect([heard, asked, lines.length, how.at(-1)]).toEqual([[], [], 1, 'deaf']);
  });
});
