// npm run docs:schema: the published schemas of plan files and reports, from those that read and write them.
import { writeFileSync } from 'node:fs';
import { NightReport } from '@keen/core/frames';
import { PlanFile } from '@keen/core/sequence';
import { z } from 'zod';

const publish = (name: string, schema: object) => {
  writeFileSync(new URL(`../docs/schema/${name}.json`, import.meta.url), `${JSON.stringify(schema, null, 2)}\n`);
};
publish('night-plan', z.toJSONSchema(PlanFile, { io: 'input' }));
publish('night-report', z.toJSONSchema(NightReport, { io: 'input' }));
