import { api } from '@keen/contract';
import type { Serve } from '../../http.ts';
import type { Store } from '../../store.ts';
import type { Config } from '../../config.ts';
import { absencesService } from './absences.ts';
import { ledgerSince } from './ledger.ts';
import { dropOwnFeed, ownFeedPath } from './ownFeed.ts';
import { bookingsService } from './service.ts';
import { sharingService } from './sharing.ts';

export function bookingRoutesOf(serve: Serve, store: Store, config: Config): void {
  const bookings = bookingsService(store);
  const sharing = sharingService(store);
  serve(api.bookings, ({ who, query }) => bookings.list(who, query));
  serve(api.addBooking, ({ who, body }) => bookings.add(who, body));
  serve(api.decideBooking, ({ who, params, body }) => bookings.decide(who, params.id, body));
  serve(api.cancelBooking, ({ who, params }) => bookings.cancel(who, params.id).then(() => ({ ok: true as const })));
  serve(api.sayOutcome, ({ who, params, body }) => bookings.outcome(who, params.id, body.outcome));
  serve(api.sharing, ({ who }) => sharing.list(who));
  serve(api.changeSharing, ({ who, params, body }) => sharing.change(who, params.id, body));
  serve(api.seasonRules, ({ who }) => sharing.rules(who));
  serve(api.changeSeasonRules, ({ who, body }) => sharing.changeRules(who, body));
  const absences = absencesService(store);
  serve(api.absences, ({ who }) => absences.own(who));
  serve(api.keepAbsences, ({ who, body }) => absences.keep(who, body.absences));
  serve(api.ownFeed, async ({ who }) => ({ path: await ownFeedPath(store, config.secret, who) }));
  serve(api.dropOwnFeed, ({ who }) => dropOwnFeed(store, who).then(() => ({ ok: true as const })));
  serve(api.ledger, ({ who, query }) => ledgerSince(store, who, query.since));
}
