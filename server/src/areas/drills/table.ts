import { DataTypes } from 'sequelize';

import { text, when, whole } from '../../database/columns.ts';
import type { Define } from '../../database/define.ts';

export interface DrillAnswerRow {
  id: string;
  memberId: string;
  situation: string;
  seed: number;
  cause: string;
  cure: string;
  causeRight: boolean;
  cureRight: boolean;
  at: Date;
}

/** The tables of this area; the schema itself is made by migrations only. */
export const drillsTables = (table: Define) => ({
  drillAnswers: table<DrillAnswerRow>('drill_answers', {
    memberId: text,
    situation: text,
    seed: whole,
    cause: text,
    cure: text,
    causeRight: DataTypes.BOOLEAN,
    cureRight: DataTypes.BOOLEAN,
    at: when,
  }),
});
