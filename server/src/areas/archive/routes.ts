import type { Request, Response, Router } from 'express';
import { currentMember, demandRole } from '../../access/index.ts';
import type { Store } from '../../store.ts';
import { writeArchive } from './write.ts';

/** Until the reader has taken what was sent, or went away. */
const drained = (res: Response) =>
  new Promise<void>((go) => {
    const done = () => {
      res.off('drain', done).off('close', done);
      go();
    };
    res.on('drain', done).on('close', done);
  });

/** A club’s records for its stewards, and everybody’s own, as a file. */
export function archiveRoutes(router: Router, store: Store): void {
  const give = async (req: Request, res: Response, own: boolean) => {
    const who = await currentMember(store, req);
    demandRole(who, own ? 'watcher' : 'steward');
    const day = store.now().toISOString().slice(0, 10);
    res
      .set('Cache-Control', 'no-store')
      .attachment(`keen-${own ? 'own' : 'club'}-${day}.zip`)
      .type('application/zip');
    let gone = false;
    res.on('close', () => (gone = true));
    await writeArchive(store, who, own, async (bytes) => {
      if (gone) throw new Error('the reader of an archive went away');
      if (!res.write(bytes)) await drained(res);
    }).catch((e: unknown) => {
      // half a file is none: the line is cut, so that nobody takes it for a whole one
      if (!gone && res.headersSent) res.destroy(e as Error);
      else if (!gone) throw e;
    });
    if (!gone) res.end();
  };
  router.get('/api/club/archive', (req, res) => give(req, res, false));
  router.get('/api/session/archive', (req, res) => give(req, res, true));
}
