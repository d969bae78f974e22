import { hashQuickly } from '../access/index.ts';
import { connect, migrate } from '../database/index.ts';
import { seedDemo } from '../seed.ts';
import { makeStore } from '../store.ts';
import { DEMO_MADE } from '../../../scripts/lib/demoInstant.mjs';

/** Fills the empty database of KEEN_DATABASE_URL with the demo, for every test server to copy: once a run, outside of Jest. */
hashQuickly();
const url = process.env.KEEN_DATABASE_URL!;
await migrate(url);
const db = connect(url);
await seedDemo(makeStore(db, () => new Date(DEMO_MADE)));
await db.close();
