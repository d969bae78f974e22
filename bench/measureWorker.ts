import { readFileSync } from 'node:fs';
import { measurePicture } from '@keen/core/frames';

/** Measures one picture again and again: `measureWorker.ts picture.fits times`; says when it is warm, and waits to be told to go. */
const bytes = readFileSync(process.argv[2]!);
measurePicture(bytes);
process.send!('warm');
process.on('message', () => {
  for (let i = 0; i < Number(process.argv[3]); i++) measurePicture(bytes);
  process.send!('done', () => process.exit(0));
});
