import { standardsOf, straysOf, type Judgement } from '@keen/core/frames';
import { Op, type WhereOptions } from 'sequelize';
import { NIGHT_ON_RECORD, plain, type FrameRow, type RunRow } from '../../database/index.ts';
import { groupBy, type Actor, type Store } from '../../store.ts';
import { currentSystem } from '../rigs/current.ts';

/** Nights and frames from which limits are learnt. */
const LEARNT_NIGHTS = 20;
const LEARNT_FRAMES = 5000;

/** Words of people over measured frames of the last nights, each held against the frames of its own night. */
export async function judgementsOf(store: Store, who: Actor, rigId: string, asked?: string): Promise<Judgement[]> {
  const system = (await currentSystem(store, who.clubId, rigId, asked)).system.key;
  const where = { rigId, system, ...NIGHT_ON_RECORD } as WhereOptions<RunRow>;
  const nights = await store.runs.findAll({
    where,
    attributes: ['id'],
    order: [
      ['night', 'DESC'],
      ['id', 'ASC'],
    ],
    limit: LEARNT_NIGHTS,
  });
  const runs = nights.map((n) => plain(n).id);
  if (runs.length === 0) return [];
  const rows = await store.frames.findAll({
    where: { runId: runs, kind: 'light', look: { [Op.ne]: null } } as WhereOptions<FrameRow>,
    order: ['runId', 'seq'],
    limit: LEARNT_FRAMES,
  });
  const byRun = groupBy(rows.map(plain), (f) => f.runId);
  return [...byRun.values()].flatMap((frames) => {
    const usual = standardsOf(frames);
    return frames.flatMap((f): Judgement[] => {
      const standard = f.judged === 1 && f.look ? usual(f) : null;
      if (!standard) return [];
      const { wide, few, eccentricity } = straysOf(f.look!, standard);
      return [{ filter: f.filter, accepted: f.accepted === 1, wide, few, eccentricity }];
    });
  });
}
