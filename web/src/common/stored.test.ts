import { describe, expect, test } from '@jest/globals';
import { z } from 'zod';
import type { Bound, MoonRule } from '@keen/core/sequence';
import { builtLike, readStored, Texts } from './stored.ts';

describe('what a browser keeps', () => {
  test('is read through its shape; anything else is as if nothing had been kept', () => {
    expect(readStored('{"a":"b"}', Texts)).toEqual({ a: 'b' });
    for (const raw of ['', '{', 'null', '[]', '7', '"a"', '{"a":1}', '{"a":null}', 'undefined', '[object Object]'])
      expect([raw, readStored(raw, Texts)]).toEqual([raw, null]);
    const Light = z.enum(['day', 'night']);
    expect(readStored('night', Light, true)).toBe('night');
    for (const raw of ['', 'Night', '"night"', 'purple'])
      expect([raw, readStored(raw, Light, true)]).toEqual([raw, null]);
  });
  test('of another kind does not fit what a screen works on; what came or went since does', () => {
    const now = { name: 'x', list: [{ n: 1 }], empty: [] as number[], open: null, part: { on: true } };
    for (const fine of [
      now,
      { name: 'y' },
      { ...now, gone: 1 },
      { ...now, open: { any: 'thing' }, list: [] },
      { ...now, name: null },
      { ...now, empty: [1, 2] },
    ])
      expect([fine, builtLike(fine, now)]).toEqual([fine, true]);
    for (const odd of [
      [],
      'name',
      7,
      { ...now, name: 7 },
      { ...now, list: {} },
      { ...now, list: [1] },
      { ...now, list: [{ n: 'one' }] },
      { ...now, part: [] },
      { ...now, part: { on: 'yes' } },
    ])
      expect([odd, builtLike(odd, now)]).toEqual([odd, false]);
  });
  test('a leg whose bounds or Moon rule were chosen otherwise fits every other: nothing typed is thrown away for it', () => {
    const bounds: Bound[] = [
      { by: 'free', offsetMin: 15 },
      { by: 'clock', at: '2026-11-19T20:00:00.000Z' },
      { by: 'darkness', which: 'astronomical', offsetMin: 0 },
      { by: 'altitude', deg: 40, offsetMin: 5 },
      { by: 'moon', offsetMin: -10 },
    ];
    const moons: MoonRule[] = [{ by: 'any' }, { by: 'down' }, { by: 'apart', deg: 60 }];
    for (const all of [bounds, moons])
      for (const kept of all)
        for (const now of all) expect([kept, now, builtLike([kept], [now])]).toEqual([kept, now, true]);
  });
});
