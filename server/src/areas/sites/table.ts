import type { HorizonPoint } from '@keen/core/sky';

import { json, real, stamps, text, type Stamps } from '../../database/columns.ts';
import type { Define } from '../../database/define.ts';

export interface SiteRow extends Stamps {
  id: string;
  clubId: string;
  name: string;
  kind: 'backyard' | 'club' | 'remote';
  latitudeDeg: number;
  longitudeDeg: number;
  elevationM: number;
  timeZone: string;
  skyMag: number;
  horizon: HorizonPoint[];
  horizonNote: string;
}

/** The tables of this area; the schema itself is made by migrations only. */
export const sitesTables = (table: Define) => ({
  sites: table<SiteRow>('sites', {
    clubId: text,
    name: text,
    kind: text,
    latitudeDeg: real,
    longitudeDeg: real,
    elevationM: real,
    timeZone: text,
    skyMag: real,
    horizon: json,
    horizonNote: text,
    ...stamps,
  }),
});
