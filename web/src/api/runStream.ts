import { api, type NumberedEvent } from '@keen/contract';
import { call } from './client.ts';
import type { Around, Hearing } from './stream.ts';

export interface RunEar {
  /** In order, each once. */
  happened: (events: readonly NumberedEvent[]) => void;
  hearing: (how: Hearing) => void;
  /** What there was so far has been read. */
  caughtUp: () => void;
}

/** A line on which nothing came for so long is cut somewhere: the server speaks every 15 s [ms]. */
const SILENT_MS = 40_000;
/** How soon it is tried again [ms]. */
const AGAIN_MS = 1500;
/** A stream that was cut so often in a row does not come through here: it is asked from time to time instead. */
const CUTS = 3;
const ASK_MS = 1000;
const ASKS = 120;

/** Hears what happens in a run: what there is first, then what comes, from where it broke off. @returns stops it */
export function hearRun(id: string, ear: RunEar, open: Around['open'] = (url) => new EventSource(url)): () => void {
  let last = 0;
  let [stopped, cuts, asked, turn] = [false, 0, 0, 0];
  let source: ReturnType<Around['open']> | null = null;
  let timer: ReturnType<typeof setTimeout> | undefined;
  const later = (ms: number, what: () => void) => {
    clearTimeout(timer);
    timer = setTimeout(what, ms);
  };
  const close = () => {
    source?.close();
    source = null;
    clearTimeout(timer);
  };
  function take(events: readonly NumberedEvent[]): void {
    const fresh = events.filter((e) => e.seq > last);
    if (fresh.length === 0) return;
    // one that is missing is read, not gone without
    if (fresh[0]!.seq !== last + 1) return void read();
    last = fresh.at(-1)!.seq;
    ear.happened(fresh);
  }
  async function read(): Promise<void> {
    close();
    const mine = ++turn;
    for (;;) {
      const got = await call(api.liveRunEvents, { params: { id }, query: { after: last } });
      if (stopped || mine !== turn) return;
      if (!got.ok) {
        ear.hearing('deaf');
        // it is not there, or not for us: that is said elsewhere, and does not pass
        if (got.problem.status === 404 || got.problem.status === 403) return;
        return later(AGAIN_MS, () => void read());
      }
      take(got.value.events as readonly NumberedEvent[]);
      if (!got.value.more) break;
    }
    ear.caughtUp();
    // now and then a stream is tried again
    if (cuts < CUTS || ++asked % ASKS === 0) return listen();
    ear.hearing('asking');
    later(ASK_MS, () => void read());
  }
  function cut(): void {
    cuts++;
    close();
    ear.hearing('deaf');
    later(AGAIN_MS, () => void read());
  }
  function listen(): void {
    const mine = open(`${api.liveRunStream.path.replace(':id', id)}?after=${last}`);
    source = mine;
    const alive = () => later(SILENT_MS, cut);
    alive();
    const on = (name: string, what: (e: MessageEvent<string>) => void) =>
      mine.addEventListener(name, (e: Event) => {
        if (source === mine) what(e as MessageEvent<string>);
      });
    on('beat', () => {
      ear.hearing('told');
      alive();
    });
    on('happened', (e) => {
      cuts = 0;
      take([JSON.parse(e.data) as NumberedEvent]);
      if (source === mine) alive();
    });
    // the browser comes again by itself, unless it was refused
    on('error', () => {
      ear.hearing('deaf');
      if (mine.readyState === 2) cut();
    });
  }
  void read();
  return () => {
    stopped = true;
    turn++;
    close();
  };
}
