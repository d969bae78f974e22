import { writeFits16 } from '@keen/core/exchange';
import {
  diagnose,
  JudgedPicture,
  measurePicture,
  renderCounts,
  type FrameFindingCode,
  type Scene,
} from '@keen/core/frames';
import { DRAWN_FAULTS, healthyScene, PAIRS, withFaults, type DrawnFault } from '../core/src/test/faultyFrames.ts';

/**
 * What the findings say of pictures whose faults are known: 500 drawn with one or two faults, 200 without. Printed as a
 * table: row by row what was drawn, column by column what was found.
 *   node --import tsx --conditions=@keen/source bench/frameFindings.ts [faulty] [healthy]
 */
const [faulty = 500, healthy = 200] = process.argv.slice(2).map(Number);
const look = (scene: Scene) =>
  JudgedPicture.parse(measurePicture(writeFits16(renderCounts(scene), scene.widthPx, scene.heightPx, [])));
const kinds: readonly (readonly DrawnFault[])[] = [...DRAWN_FAULTS.map((f) => [f]), ...PAIRS];
const found = new Map<string, Map<FrameFindingCode, number>>();
const drawn = new Map<string, number>();
let [missed, all] = [0, 0];
let falseAlarms = 0;
for (let i = 0; i < faulty + healthy; i++) {
  const faults = i < faulty ? kinds[i % kinds.length]! : [];
  const scene = healthyScene(1000 + i);
  // the picture before it, of the same field: what cloud is held against
  const usual = look({ ...scene, seed: scene.seed + 500_000 });
  const codes = diagnose(look(withFaults(scene, faults)), usual).map((f) => f.code);
  const row = faults.join(' + ') || 'healthy';
  drawn.set(row, (drawn.get(row) ?? 0) + 1);
  const counts = found.get(row) ?? new Map<FrameFindingCode, number>();
  for (const c of codes) counts.set(c, (counts.get(c) ?? 0) + 1);
  found.set(row, counts);
  all += faults.length;
  missed += faults.filter((f) => !codes.includes(f)).length;
  if (faults.length === 0 && codes.some((c) => c !== 'round')) falseAlarms++;
}
const columns = [...new Set([...found.values()].flatMap((m) => [...m.keys()]))].sort();
console.log(['drawn', 'pictures', ...columns].join(' | '));
for (const [row, counts] of found)
  console.log([row, drawn.get(row), ...columns.map((c) => counts.get(c) ?? '·')].join(' | '));
console.log(`${missed} of ${all} faults not found; ${falseAlarms} of ${healthy} healthy pictures with a false alarm`);
