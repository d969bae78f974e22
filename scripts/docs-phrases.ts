// npm run docs:phrases: writes docs/phrases.md, the book of sentences by code, from the book itself.
import { writeFileSync } from 'node:fs';
import { BOOK } from '@keen/core/phrases';

const rows = Object.entries(BOOK)
  .sort(([a], [b]) => a.localeCompare(b))
  .map(([code, template]) => `| \`${code}\` | ${template.replaceAll('|', '\\|')} |`);
writeFileSync(
  'docs/phrases.md',
  `# The phrase book

Results are codes with values; the sentence is made last, in the reader's units, from this book (\`core/src/phrases/book\`).
The unit of a value is the suffix of its name: \`massKg\`, \`slideMm\`, \`airC\`, \`decNm\`, \`momentKgCm\`. \`{slideMm:1}\` asks for one
decimal, \`+\` for a sign, \`{n|frame|frames}\` for one word or the other. The shell and HTTP give the metric text and, as \`phrases\`,
the codes and values.

| Code | Words |
| --- | --- |
${rows.join('\n')}
`,
);
