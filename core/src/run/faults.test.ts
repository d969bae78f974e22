import { expect, test } from '@jest/globals';
import { RIGS } from '@keen/demo';
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { FAULTS } from '../observatory/index.ts';
import { viewOf } from '../rig/index.ts';
import { rounds, THOROUGH } from '../test/rounds.ts';
import { faultsAndPairs, playFaults } from './index.ts';

const setup = viewOf(RIGS[0]!.build);
const PAGE = readFileSync(join(import.meta.dirname, '../../../docs/run.md'), 'utf8');
/** How much of a night a fault that passes may cost: twice the longest it lasts, in frames of three minutes. */
const MOST_COST = 14;
const FOR_GOOD = new Set(['disk-full', 'supply-low']);

test.each(FAULTS)(
  '%s: nothing unsafe is begun, no frame lost, the night comes to its end, and something was done',
  async (fault) => {
    for (let seed = 1; seed <= rounds(1, 5); seed++) {
      const night = await playFaults(setup, [fault], seed);
      expect([night.unsafe, night.lost, night.finished]).toEqual([[], 0, true]);
      if (!FOR_GOOD.has(fault)) expect(night.quiet - night.accepted).toBeLessThan(MOST_COST);
    }
    expect(PAGE).toContain(`| ${fault} `);
  },
  60_000,
);

test('pairs of faults do no more harm than that', async () => {
  const pairs = faultsAndPairs().filter((f) => f.length === 2);
  const tried = THOROUGH ? pairs : pairs.filter((_, i) => i % 17 === 0);
  for (const faults of tried) {
    const night = await playFaults(setup, faults, 2);
    expect([faults, night.unsafe, night.lost, night.finished]).toEqual([faults, [], 0, true]);
  }
}, 300_000);
