import { describe, expect, test } from '@jest/globals';
import { assess, AssessInput, assessInputOf, turnTube } from '@keen/core/balance';
import { parseInput } from '@keen/core';
import { ridesOf, viewOf } from '@keen/core/rig';
import { RIGS } from '@keen/demo';
import { mountScreen } from '../../test/mountScreen.ts';
import ElevationView from './ElevationView.vue';
import TurnHandle from './TurnHandle.vue';

const setup = () => structuredClone(viewOf(RIGS[0]!.build));
async function rear(off = false) {
  const s = setup();
  const assessed = assess(parseInput(AssessInput, assessInputOf(s, 47)));
  const { wrapper } = await mountScreen(ElevationView, {
    props: { setup: s, view: 'rear', assessed, solution: null, width: 400, height: 400, siblingWidth: 600, off },
  });
  return {
    wrapper,
    handle: wrapper.findComponent(TurnHandle),
    emitted: () => wrapper.findComponent(ElevationView).emitted('turn'),
  };
}
const at = (handle: Awaited<ReturnType<typeof rear>>['handle'], deg: number) => {
  const { cx, cy, r } = handle.props();
  const a = (deg * Math.PI) / 180;
  return { clientX: cx + r * Math.sin(a), clientY: cy - r * Math.cos(a), pointerId: 1 };
};

describe('the handle of the turn', () => {
  test('follows the hand round the tube, also across the top, and tells where a turn begins', async () => {
    const { handle, emitted } = await rear();
    await handle.trigger('pointerdown', at(handle, -60));
    for (const deg of [-50, 0, 45]) await handle.trigger('pointermove', at(handle, deg));
    await handle.trigger('pointerup');
    await handle.trigger('pointermove', at(handle, 90));
    expect(emitted()).toEqual([
      [10, true],
      [60, false],
      [105, false],
    ]);
    await handle.trigger('pointerdown', at(handle, 170));
    await handle.trigger('pointermove', at(handle, -170));
    expect(emitted()!.at(-1)).toEqual([20, true]);
  });
  test('answers to arrow keys, and to nobody who may not change the rig', async () => {
    const { handle, emitted } = await rear();
    await handle.trigger('keydown', { key: 'ArrowRight', shiftKey: true });
    await handle.trigger('keydown', { key: 'ArrowLeft' });
    expect(emitted()).toEqual([
      [15, true],
      [-1, true],
    ]);
    const shut = await rear(true);
    await shut.handle.trigger('keydown', { key: 'ArrowRight' });
    await shut.handle.trigger('pointerdown', at(shut.handle, 0));
    await shut.handle.trigger('pointermove', at(shut.handle, 40));
    expect(shut.emitted()).toBeUndefined();
  });
});

test('a turn moves what rides on the tube about its line, and nothing else; a whole one changes nothing', () => {
  const [before, after] = [setup(), setup()];
  turnTube(after, 90);
  const tube = before.placed.find((p) => p.kind === 'tube')!;
  before.placed.forEach((p, i) => {
    const q = after.placed[i]!;
    const from = (o: typeof p) => [o.xMm - tube.xMm, o.yMm - tube.yMm] as const;
    const [u, v] = from(p);
    if (ridesOf(p) !== 'tube') return expect(q).toEqual(p);
    // seen from behind, up goes to the right
    expect(from(q)[0]).toBeCloseTo(-v, 1);
    expect(from(q)[1]).toBeCloseTo(u, 1);
    expect(q.zMm).toBe(p.zMm);
  });
  turnTube(after, -90);
  for (const [i, p] of before.placed.entries()) expect(Math.abs(after.placed[i]!.xMm - p.xMm)).toBeLessThan(0.02);
});
