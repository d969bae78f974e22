import { text, when } from '../../database/columns.ts';
import type { Define } from '../../database/define.ts';

export interface ChangeRow {
  id: string;
  at: Date;
  memberId: string;
  subject: string;
  text: string;
}

/** The tables of this area; the schema itself is made by migrations only. */
export const changesTables = (table: Define) => ({
  changes: table<ChangeRow>('changes', { at: when, memberId: text, subject: text, text }),
});
