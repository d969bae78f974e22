import type { NumberedEvent } from '@keen/contract';
import type { Store } from '../../store.ts';
import { eventsOf } from './log.ts';

/** How often it is looked for what another server wrote, while somebody watches [ms]. */
const LOOK_MS = 100;
/** Events told at a time. */
const AT_ONCE = 500;

interface Watcher {
  after: number;
  tell: (events: readonly NumberedEvent[]) => void;
}

/** Tells pages what happens in a run, whichever server drives it: in order, each event once, from wherever a page stands. */
export function runTail(store: Store, report: (error: unknown, where: string) => void) {
  const watched = new Map<
    string,
    { watchers: Set<Watcher>; timer: NodeJS.Timeout; looking: boolean; again: boolean }
  >();

  async function look(runId: string): Promise<void> {
    const of = watched.get(runId);
    if (!of) return;
    if (of.looking) return void (of.again = true);
    of.looking = true;
    try {
      do {
        of.again = false;
        // those who are furthest behind say from where it is read: the same rows serve all
        const from = Math.min(...[...of.watchers].map((w) => w.after));
        const events = Number.isFinite(from) ? await eventsOf(store, runId, from, AT_ONCE) : [];
        for (const w of of.watchers) {
          // who came while it was read, and knows less than what it was read from, is told with the next reading
          if (w.after < from) {
            of.again = true;
            continue;
          }
          const own = events.filter((e) => e.seq > w.after);
          if (own.length === 0) continue;
          w.after = own.at(-1)!.seq;
          w.tell(own);
        }
        of.again ||= events.length === AT_ONCE;
      } while (of.again);
    } catch (e) {
      // it is looked again before long; nobody’s place is lost by that
      report(e, 'events of a run');
    } finally {
      of.looking = false;
    }
  }
  return {
    /** Something was written down here. */
    wake: (runId: string) => void look(runId),
    /** Somebody watches, and is first told what they do not know. @returns ends it */
    watch(runId: string, watcher: Watcher): () => void {
      let of = watched.get(runId);
      if (!of) {
        of = {
          watchers: new Set(),
          timer: setInterval(() => void look(runId), LOOK_MS).unref(),
          looking: false,
          again: false,
        };
        watched.set(runId, of);
      }
      of.watchers.add(watcher);
      void look(runId);
      return () => {
        of.watchers.delete(watcher);
        if (of.watchers.size) return;
        clearInterval(of.timer);
        watched.delete(runId);
      };
    },
  };
}
export type RunTail = ReturnType<typeof runTail>;
