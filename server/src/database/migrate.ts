import { DataTypes, type Sequelize } from 'sequelize';
import { Umzug, type UmzugStorage } from 'umzug';
import { connect } from './connection.ts';
import { underLease } from './lease.ts';
import * as foundation from './migrations/001-foundation.ts';
import * as dusk from './migrations/002-dusk.ts';
import * as duskSettings from './migrations/003-dusk-settings.ts';
import * as doors from './migrations/005-doors.ts';
import * as systems from './migrations/004-systems.ts';
import * as answered from './migrations/007-answered.ts';
import * as tries from './migrations/008-sign-in-tries.ts';
import * as people from './migrations/009-people.ts';
import * as lists from './migrations/010-lists.ts';
import * as phrases from './migrations/011-phrases.ts';
import * as legs from './migrations/012-legs.ts';
import * as panels from './migrations/013-panels.ts';
import * as looks from './migrations/014-looks.ts';
import * as began from './migrations/015-began.ts';
import * as learning from './migrations/016-learning.ts';
import * as masters from './migrations/017-masters.ts';
import * as cables from './migrations/018-cables.ts';
import * as doorsKept from './migrations/019-doors-kept.ts';
import * as keysWithWork from './migrations/020-keys-with-work.ts';
import * as countedByOwner from './migrations/021-counted-by-owner.ts';
import * as goalsByLength from './migrations/022-goals-by-length.ts';
import * as oneDefinition from './migrations/023-one-definition.ts';
import * as wind from './migrations/024-wind-in-units.ts';
import * as turns from './migrations/025-turns.ts';
import * as manyHands from './migrations/026-many-hands.ts';
import * as hours from './migrations/027-hours.ts';
import * as upkeep from './migrations/028-upkeep.ts';
import * as liveRuns from './migrations/029-live-runs.ts';
import * as runFrames from './migrations/030-run-frames.ts';
import * as secondFrames from './migrations/031-second-camera-frames.ts';
import * as refusals from './migrations/006-refusals.ts';

/** Every change of the schema, in order. A landed migration is never edited. */
const MIGRATIONS = [
  { name: '001-foundation', up: foundation.up },
  { name: '002-dusk', up: dusk.up },
  { name: '003-dusk-settings', up: duskSettings.up },
  { name: '004-systems', up: systems.up },
  { name: '005-doors', up: doors.up },
  { name: '006-refusals', up: refusals.up },
  { name: '007-answered', up: answered.up },
  { name: '008-sign-in-tries', up: tries.up },
  { name: '009-people', up: people.up },
  { name: '010-lists', up: lists.up },
  { name: '011-phrases', up: phrases.up },
  { name: '012-legs', up: legs.up },
  { name: '013-panels', up: panels.up },
  { name: '014-looks', up: looks.up },
  { name: '015-began', up: began.up },
  { name: '016-learning', up: learning.up },
  { name: '017-masters', up: masters.up },
  { name: '018-cables', up: cables.up },
  { name: '019-doors-kept', up: doorsKept.up },
  { name: '020-keys-with-work', up: keysWithWork.up },
  { name: '021-counted-by-owner', up: countedByOwner.up },
  { name: '022-goals-by-length', up: goalsByLength.up },
  { name: '023-one-definition', up: oneDefinition.up },
  { name: '024-wind-in-units', up: wind.up },
  { name: '025-turns', up: turns.up },
  { name: '026-many-hands', up: manyHands.up },
  { name: '027-hours', up: hours.up },
  { name: '028-upkeep', up: upkeep.up },
  { name: '029-live-runs', up: liveRuns.up },
  { name: '030-run-frames', up: runFrames.up },
  { name: '031-second-camera-frames', up: secondFrames.up },
];

/** Keeps the names of what was done in a table of its own. */
/** Every version there has been, in order. */
export const MIGRATION_NAMES: readonly string[] = MIGRATIONS.map((m) => m.name);

function storage(db: Sequelize): UmzugStorage {
  const done = db.define('schema_migrations', { name: { type: DataTypes.STRING(120), primaryKey: true } });
  return {
    logMigration: async ({ name }) => {
      await done.create({ name });
    },
    unlogMigration: async ({ name }) => {
      await done.destroy({ where: { name } });
    },
    executed: async () => {
      await db.query('CREATE TABLE IF NOT EXISTS schema_migrations (name VARCHAR(120) PRIMARY KEY)');
      return (await done.findAll({ order: ['name'] })).map((r) => r.get('name') as string);
    },
  };
}

/**
 * Brings the schema up to date, one process of the installation at a time.
 * @param last  stop after this one; tests make an older database so
 */
export async function migrate(url: string, last?: string): Promise<string[]> {
  // one for the changes, one to go on holding the lease while a long one is made
  const db = connect(url, 2);
  try {
    return await underLease(db, 'migrations', async (held) => {
      const one = (m: (typeof MIGRATIONS)[number]) => async () => {
        await held.demand();
        await m.up(db);
      };
      const umzug = new Umzug({
        migrations: MIGRATIONS.map((m) => ({ name: m.name, up: one(m) })),
        storage: storage(db),
        logger: undefined,
      });
      return (await umzug.up(last ? { to: last } : {})).map((m) => m.name);
    });
  } finally {
    await db.close();
  }
}
