import type { Part } from '@keen/core/rig';

import { json, stamps, text, type Stamps } from '../../database/columns.ts';
import type { Define } from '../../database/define.ts';

export interface PartRow extends Stamps {
  id: string;
  clubId: string;
  ownerId: string | null;
  name: string;
  kind: string;
  data: Part;
}

/** The tables of this area; the schema itself is made by migrations only. */
export const partsTables = (table: Define) => ({
  parts: table<PartRow>('parts', { clubId: text, ownerId: text, name: text, kind: text, data: json, ...stamps }),
});
