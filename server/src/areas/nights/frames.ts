import { changeNight, heldNight } from './heldNight.ts';
import { markFrames } from './frameSums.ts';
import type { Transaction } from 'sequelize';
import type { FrameFields, FrameRecord, Page } from '@keen/contract';
import { type FrameMeasures } from '@keen/core/frames';
import { plain, type FrameRow, type RunRow } from '../../database/index.ts';
import { isoOrNull, pageOf, type Actor, type Store } from '../../store.ts';

const frameRecord = (f: FrameRow): FrameRecord => ({
  id: f.id,
  seq: f.seq,
  kind: f.kind,
  projectId: f.projectId,
  filter: f.filter,
  exposureS: f.exposureS,
  startedAt: isoOrNull(f.startedAt),
  file: f.file,
  hash: f.fileHash,
  header: f.header,
  measures: f.measures,
  look: f.look,
  judged: f.judged === 1,
  accepted: f.accepted === 1,
  reason: f.reason,
  refusal: f.refusal,
});

/** The frames of a night: what they are, whether they count, what was measured in them. */
export function framesService(store: Store) {
  return {
    async list(who: Actor, id: string, page: Page): Promise<FrameRecord[]> {
      await heldNight(store, who, id);
      const rows = await store.frames.findAll({ where: { runId: id }, order: ['seq'], ...pageOf(page) });
      return rows.map((f) => frameRecord(plain(f)));
    },
    async judge(
      who: Actor,
      id: string,
      body: { frames: string[]; accepted: boolean; reason: string; refusal: FrameFields['refusal']; judged: boolean },
    ): Promise<FrameRecord[]> {
      return changeNight(store, who, id, async (run, t) => {
        const [changed] = await store.frames.update(
          {
            accepted: body.accepted ? 1 : 0,
            judged: body.judged ? 1 : 0,
            reason: body.accepted ? '' : body.reason,
            refusal: body.accepted ? null : body.refusal,
          },
          { where: { runId: id, id: body.frames }, transaction: t },
        );
        await markFrames(store, [id], t);
        await store.audit(
          who,
          run.name || `night of ${run.night}`,
          `${changed} frames ${body.accepted ? 'accepted' : 'refused'}${body.reason ? `: ${body.reason}` : ''}`,
          t,
        );
        const where = { runId: id, id: body.frames };
        const rows = await store.frames.findAll({ where, order: ['seq'], transaction: t });
        return rows.map((f) => frameRecord(plain(f)));
      });
    },
    /** Measures and small pictures of frames; what is no frame of the night is left out. */
    async keepLooks(
      who: Actor,
      id: string,
      looks: { id: string; look: FrameMeasures; picture: string | null }[],
    ): Promise<{ kept: number }> {
      const keep = async (_run: RunRow, t: Transaction) => {
        const ids = looks.map((l) => l.id);
        const own = new Set(
          (await store.frames.findAll({ where: { runId: id, id: ids }, attributes: ['id'], transaction: t })).map(
            (f) => plain(f).id,
          ),
        );
        for (const { id: frame, look, picture } of looks) {
          if (!own.has(frame)) continue;
          await store.frames.update({ look }, { where: { id: frame }, transaction: t });
          if (picture) await store.framePictures.upsert({ id: frame, picture }, { transaction: t });
        }
        return { kept: own.size };
      };
      return changeNight(store, who, id, keep, { quiet: true });
    },
    async pictures(who: Actor, id: string, page: Page): Promise<{ id: string; picture: string }[]> {
      await heldNight(store, who, id);
      const rows = await store.read<{ id: string; picture: string }>(
        `SELECT p.id, p.picture FROM frame_pictures p JOIN frames f ON f.id = p.id WHERE f.run_id = ? ORDER BY f.seq LIMIT ? OFFSET ?`,
        [id, pageOf(page).limit, pageOf(page).offset],
      );
      return rows;
    },
  };
}
