import { api } from '@keen/contract';
import type { Serve } from '../../http.ts';
import type { Store } from '../../store.ts';
import { calibrationNeedsOf } from './calibrationNeeds.ts';
import { nightFiguresOf } from './figures.ts';
import { mastersService } from './masters.ts';
import { calibrationOf } from './calibration.ts';
import { framesService } from './frames.ts';
import { judgementsOf } from './judgements.ts';
import { nightsService } from './nights.ts';

export function nightRoutesOf(serve: Serve, store: Store): void {
  const nights = nightsService(store);
  const frames = framesService(store);
  serve(api.nights, ({ who, params, query }) => nights.list(who, params.id, query));
  serve(api.recordNight, ({ who, params, body }) => nights.record(who, params.id, body));
  serve(api.undoNight, async ({ who, params }) => {
    await nights.undo(who, params.id);
    return { ok: true as const };
  });
  serve(api.nightFrames, ({ who, params, query }) => frames.list(who, params.id, query));
  serve(api.judgeFrames, ({ who, params, body }) => frames.judge(who, params.id, body));
  serve(api.keepLooks, ({ who, params, body }) => frames.keepLooks(who, params.id, body.looks));
  serve(api.framePictures, ({ who, params, query }) => frames.pictures(who, params.id, query));
  serve(api.judgements, ({ who, params, query }) => judgementsOf(store, who, params.id, query.system));
  serve(api.calibrationNeeds, ({ who, params, query }) => calibrationNeedsOf(store, who, params.id, query.system));
  const masters = mastersService(store);
  serve(api.masters, ({ who, params, query }) => masters.list(who, params.id, query.system));
  serve(api.addMaster, ({ who, params, body }) => masters.add(who, params.id, body));
  serve(api.dropMaster, ({ who, params }) => masters.drop(who, params.id));
  serve(api.restoreMaster, ({ who, params }) => masters.restore(who, params.id));
  serve(api.nightFigures, ({ who, params, query }) => nightFiguresOf(store, who, params.id, query.system));
  serve(api.calibration, ({ who, params, query }) => calibrationOf(store, who, params.id, query.system));
}
