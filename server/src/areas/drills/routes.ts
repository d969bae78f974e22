import { api, type DrillStanding, type WeakSpot } from '@keen/contract';
import { judgeDrill, SITUATIONS, type DrillAnswer, type SituationKey } from '@keen/core/drills';
import { UniqueConstraintError, type Transaction } from 'sequelize';
import { plain, type DrillAnswerRow } from '../../database/index.ts';
import type { Serve } from '../../http.ts';
import { groupBy, iso, type Actor, type Store } from '../../store.ts';

/** Answers kept of a person: those of years. */
const MOST_ANSWERS = 5000;
/** The latest answers told one by one. */
const LATEST = 5;
/** Situations of an earlier version are no more. */
const known = (key: string): key is SituationKey => Object.hasOwn(SITUATIONS, key);

function standingOf(situation: SituationKey, rows: readonly DrillAnswerRow[]): DrillStanding {
  return {
    situation,
    tries: rows.length,
    causeRight: rows.filter((r) => r.causeRight).length,
    cureRight: rows.filter((r) => r.cureRight).length,
    latest: rows.slice(0, LATEST).map((r) => Boolean(r.causeRight && r.cureRight)),
    at: iso(rows[0]!.at),
  };
}

/** Drills: answers judged here, one’s own record, and what a club misses together. */
export function drillRoutesOf(serve: Serve, store: Store): void {
  const answersOf = async (who: Actor, situation?: string): Promise<DrillAnswerRow[]> =>
    (
      await store.drillAnswers.findAll({
        where: { memberId: who.id, ...(situation ? { situation } : {}) },
        order: [
          ['at', 'DESC'],
          ['id', 'ASC'],
        ],
        limit: MOST_ANSWERS,
      })
    ).map(plain);

  serve(api.drills, async ({ who }) =>
    [...groupBy(await answersOf(who), (r) => r.situation)].flatMap(([key, rows]) =>
      known(key) ? [standingOf(key, rows)] : [],
    ),
  );
  serve(api.answerDrill, async ({ who, body }) => {
    const { causeRight, cureRight } = judgeDrill(body as DrillAnswer);
    const answer = async (t: Transaction) => {
      await store.drillAnswers
        .create(
          { id: store.id(), memberId: who.id, ...body, causeRight, cureRight, at: store.now() },
          { transaction: t },
        )
        .catch((e: unknown) => {
          // the same drill again, sent twice or tried anew: the first answer stands
          if (!(e instanceof UniqueConstraintError)) throw e;
        });
      await store.db.query(
        `DELETE FROM drill_answers WHERE member_id = :who AND at < (SELECT at FROM (SELECT at FROM drill_answers WHERE member_id = :who ORDER BY at DESC LIMIT 1 OFFSET ${MOST_ANSWERS}) x)`,
        { replacements: { who: who.id }, transaction: t },
      );
    };
    await store.change(who, ['member', who.id], answer, { quiet: true });
    return { causeRight, cureRight, standing: standingOf(body.situation, await answersOf(who, body.situation)) };
  });
  serve(api.weakSpots, async ({ who }) => {
    const rows = await store.read<{
      situation: string;
      people: number;
      tries: number;
      causeRight: string;
      cureRight: string;
    }>(
      `SELECT a.situation, COUNT(DISTINCT a.member_id) AS people, COUNT(*) AS tries, SUM(a.cause_right) AS causeRight, SUM(a.cure_right) AS cureRight
       FROM drill_answers a JOIN members m ON m.id = a.member_id WHERE m.club_id = ? AND m.archived_at IS NULL
       GROUP BY a.situation ORDER BY SUM(a.cause_right + a.cure_right) / COUNT(*), a.situation`,
      [who.clubId],
    );
    return rows.flatMap((r): WeakSpot[] =>
      known(r.situation)
        ? [
            {
              situation: r.situation,
              people: Number(r.people),
              tries: Number(r.tries),
              causeRight: Number(r.causeRight),
              cureRight: Number(r.cureRight),
            },
          ]
        : [],
    );
  });
}
