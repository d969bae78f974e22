// npm run docs:rules: writes docs/rules.md, every limit, tolerance and threshold, from the code itself.
import { writeFileSync } from 'node:fs';
import { allRules, rulesPage } from './lib/rules.ts';

writeFileSync('docs/rules.md', rulesPage(allRules('.')));
