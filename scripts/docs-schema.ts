// npm run docs:schema: the published schema of plan files, from the one that reads them.
import { writeFileSync } from 'node:fs';
import { PlanFile } from '@keen/core/sequence';
import { z } from 'zod';

const schema = z.toJSONSchema(PlanFile, { io: 'input' });
writeFileSync(new URL('../docs/schema/night-plan.json', import.meta.url), `${JSON.stringify(schema, null, 2)}\n`);
