// npm run faults: plays every fault with five seeds, alone and in pairs, and prints what was done about it and what it cost.
import { playFaults, faultsAndPairs, type FaultNight } from '@keen/core/run';
import { viewOf } from '@keen/core/rig';
import { RIGS } from '@keen/demo';

const SEEDS = [1, 2, 3, 4, 5];
const setup = viewOf(RIGS[0]!.build);
const nights: FaultNight[] = [];
for (const faults of faultsAndPairs()) for (const seed of SEEDS) nights.push(await playFaults(setup, faults, seed));

const mean = (of: readonly number[]) => of.reduce((s, x) => s + x, 0) / of.length;
const rows = faultsAndPairs()
  .filter((f) => f.length === 1)
  .map(([fault]) => {
    const own = nights.filter((n) => n.faults.length === 1 && n.faults[0] === fault);
    const cost = mean(own.map((n) => n.quiet - n.accepted));
    const done = [...new Set(own.flatMap((n) => n.done))].map((c) => c.replace('run.', '')).join(', ');
    return [fault!, done || 'nothing had to be', cost.toFixed(1), `of ${mean(own.map((n) => n.quiet)).toFixed(0)}`];
  });
const all = [['Fault', 'What was done', 'Frames it cost', ''], ...rows];
const widths = all[0]!.map((_, i) => Math.max(...all.map((r) => r[i]!.length)));
for (const [i, r] of all.entries()) {
  console.log(`| ${r.map((c, k) => c.padEnd(widths[k]!)).join(' | ')} |`);
  if (i === 0) console.log(`|${widths.map((w) => '-'.repeat(w + 2)).join('|')}|`);
}
const pairs = nights.filter((n) => n.faults.length === 2);
console.log(
  `\n${pairs.length} nights with two faults cost ${mean(pairs.map((n) => n.quiet - n.accepted)).toFixed(1)} frames of ${mean(pairs.map((n) => n.quiet)).toFixed(0)} on average`,
);
const unsafe = nights.flatMap((n) => n.unsafe.map((u) => `${n.faults.join(' and ')}, seed ${n.seed}: ${u}`));
const lost = nights.filter((n) => n.lost > 0);
const unended = nights.filter((n) => !n.finished);
for (const u of unsafe.slice(0, 10)) console.log(u);
for (const n of [...lost, ...unended].slice(0, 10))
  console.log(`${n.faults.join(' and ')}, seed ${n.seed}: ${n.lost} frames lost${n.finished ? '' : ', never ended'}`);
console.log(`faults ${nights.length}, unsafe ${unsafe.length}, lost ${lost.reduce((s, n) => s + n.lost, 0)}`);
process.exit(unsafe.length || lost.length || unended.length ? 1 : 0);
