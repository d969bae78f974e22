import { api, type ClubEvent } from '@keen/contract';
import { call } from './client.ts';

/** How a page hears of what others do: told at once, asking from time to time, or not at all just now. */
export type Hearing = 'told' | 'asking' | 'deaf';
export interface Ear {
  happened: (event: ClubEvent) => void;
  /** Something was missed that cannot be had any more: everything is read anew. */
  forgotten: () => void;
  hearing: (how: Hearing) => void;
}

/** A line on which nothing came for so long is cut somewhere: at first, and later, the server speaks every 15 s [ms]. */
const SILENT_MS = { first: 8_000, later: 40_000 };
/** How often it is asked where a stream does not come through; in a tab that nobody looks at; after nobody answered [ms]. */
const ASK_MS = { shown: 4_000, hidden: 20_000, failed: 10_000 };
/** A stream is tried again so long after one was cut [ms]. */
const TRY_AGAIN_MS = 120_000;
/** A tab nobody looks at gives its line back: a browser has six to a server, for all its tabs [ms]. */
const LEFT_MS = 60_000;

/** What a browser has, or a test. */
export interface Around {
  open: (url: string) => Pick<EventSource, 'close' | 'addEventListener' | 'readyState'>;
  isHidden: () => boolean;
}
const inBrowser: Around = {
  open: (url) => new EventSource(url),
  isHidden: () => document.visibilityState === 'hidden',
};

/**
 * Hears what happens in the club, one stream for the tab. A line that was cut is taken up again where it broke off; where
 * streams are cut again and again, as some proxies do, it asks from time to time. Nothing is told twice.
 * @returns shown: the tab came to be looked at, or is not any more; stop
 */
export function hear(ear: Ear, around: Around = inBrowser): { shown: () => void; stop: () => void } {
  let last: number | null = null;
  let source: ReturnType<Around['open']> | null = null;
  let timer: ReturnType<typeof setTimeout> | undefined;
  let [stopped, askedUntil, turn] = [false, 0, 0];

  const later = (ms: number, what: () => void) => {
    clearTimeout(timer);
    timer = setTimeout(what, ms);
  };
  function close(): void {
    source?.close();
    source = null;
    clearTimeout(timer);
  }
  function take(events: readonly ClubEvent[]): void {
    for (const e of events) {
      if (last !== null && e.seq <= last) continue;
      last = e.seq;
      ear.happened(e);
    }
  }
  /** No stream came through: asked for a while, then a stream is tried again. */
  function cut(): void {
    close();
    askedUntil = Date.now() + TRY_AGAIN_MS;
    void ask();
  }
  function listen(): void {
    close();
    const mine = around.open(last === null ? api.eventStream.path : `${api.eventStream.path}?after=${last}`);
    source = mine;
    const alive = () =>
      later(around.isHidden() ? LEFT_MS : SILENT_MS.later, around.isHidden() ? () => void ask() : cut);
    later(SILENT_MS.first, cut);
    const on = (name: string, what: (e: MessageEvent<string>) => void) =>
      mine.addEventListener(name, (e: Event) => {
        if (source === mine) what(e as MessageEvent<string>);
      });
    on('beat', (e) => {
      last ??= Number(e.lastEventId);
      ear.hearing('told');
      alive();
    });
    on('forgotten', (e) => {
      last = Number(e.lastEventId);
      ear.hearing('told');
      ear.forgotten();
      alive();
    });
    on('happened', (e) => {
      take([JSON.parse(e.data) as ClubEvent]);
      alive();
    });
    // the browser comes again by itself, unless it was refused
    on('error', () => {
      ear.hearing('deaf');
      if (mine.readyState === 2) cut();
    });
  }
  async function ask(): Promise<void> {
    close();
    const mine = ++turn;
    const got = await call(api.events, { query: last === null ? {} : { after: last } });
    if (stopped || mine !== turn || source) return;
    ear.hearing(got.ok ? 'asking' : 'deaf');
    if (got.ok) {
      take(got.value.events);
      if (got.value.forgotten) ear.forgotten();
      last = got.value.last;
    }
    const again = got.ok ? (around.isHidden() ? ASK_MS.hidden : ASK_MS.shown) : ASK_MS.failed;
    later(again, () => (!around.isHidden() && Date.now() > askedUntil ? listen() : void ask()));
  }
  listen();
  return {
    shown: () => {
      if (stopped) return;
      if (around.isHidden()) {
        if (source) later(LEFT_MS, () => void ask());
      } else if (source) later(SILENT_MS.later, cut);
      else if (Date.now() > askedUntil) listen();
      else void ask();
    },
    stop: () => {
      stopped = true;
      turn++;
      close();
      ear.hearing('deaf');
    },
  };
}
