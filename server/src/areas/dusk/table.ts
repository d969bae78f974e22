import { DataTypes } from 'sequelize';
import type { DuskSettings } from '@keen/contract';
import type { SetupItem } from '@keen/core/setup';

import { json, stamps, text, when, type Stamps } from '../../database/columns.ts';
import type { Define } from '../../database/define.ts';

export interface SetupListRow extends Stamps {
  id: string;
  rigId: string;
  items: SetupItem[];
}

export interface SetupTickRow {
  id: string;
  rigId: string;
  night: string;
  item: string;
  byId: string;
  at: Date;
}

export interface DuskSettingsRow extends Stamps {
  id: string;
  rigId: string;
  settings: DuskSettings;
}

/** The tables of this area; the schema itself is made by migrations only. */
export const duskTables = (table: Define) => ({
  setupLists: table<SetupListRow>('setup_lists', { rigId: text, items: json, ...stamps }),
  setupTicks: table<SetupTickRow>('setup_ticks', {
    rigId: text,
    night: DataTypes.DATEONLY,
    item: text,
    byId: text,
    at: when,
  }),
  duskSettings: table<DuskSettingsRow>('dusk_settings', { rigId: text, settings: json, ...stamps }),
});
