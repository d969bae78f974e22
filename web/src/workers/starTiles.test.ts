import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { beforeEach, describe, expect, jest, test } from '@jest/globals';
import { tilesAround } from '@keen/core/sky';
import { BUDGET_BYTES } from './starTiles.ts';

const DATA = join(import.meta.dirname, '../../../data/stars');
/** The server's static files: byte ranges where it knows them, one failure where a test asks for it. */
function server(options: { ranges?: boolean; fail?: (url: string) => boolean } = {}) {
  const asked: string[] = [];
  const answer = (status: number, bytes: Uint8Array) => ({
    ok: status < 400,
    status,
    json: async () => JSON.parse(new TextDecoder().decode(bytes)) as unknown,
    arrayBuffer: async () => bytes.buffer.slice(bytes.byteOffset, bytes.byteOffset + bytes.byteLength),
  });
  globalThis.fetch = (async (url: string, init?: { headers?: { Range?: string } }) => {
    asked.push(url);
    if (options.fail?.(url)) return answer(503, new Uint8Array());
    const whole = new Uint8Array(readFileSync(join(DATA, url.replace('/data/stars/', '').split('?')[0]!)));
    const range = /bytes=(\d+)-(\d+)/.exec(init?.headers?.Range ?? '');
    if (!range || options.ranges === false) return answer(200, whole);
    return answer(206, whole.subarray(Number(range[1]), Number(range[2]) + 1));
  }) as unknown as typeof fetch;
  return asked;
}
/** A worker just started: nothing held yet. */
async function fresh() {
  jest.resetModules();
  return import('./starTiles.ts');
}
const vega = { raDeg: 279.2347, decDeg: 38.7837, radiusDeg: 0.5, faintestMag: 13.5 };

describe('stars on the line', () => {
  beforeEach(() => {
    jest.resetModules();
  });

  test('a target’s tiles are asked for once, by range, and hold its bright star', async () => {
    const asked = server();
    const { starsAround } = await fresh();
    const got = await starsAround(vega);
    expect(Math.min(...got.stars.mag.subarray(0, got.stars.length))).toBeLessThan(0.2);
    expect(got.bytes).toBeLessThanOrEqual(BUDGET_BYTES);
    expect(got.bytes).toBe(8 * got.stars.length);
    const first = asked.length;
    expect(first).toBe(1 + tilesAround(vega.raDeg, vega.decDeg, vega.radiusDeg).length);
    await starsAround(vega);
    expect(asked).toHaveLength(first);
    expect(asked.every((u) => u.includes('edition='))).toBe(true);
  });
  test('a server that knows no ranges gives the same stars', async () => {
    server();
    const one = await (await fresh()).starsAround(vega);
    server({ ranges: false });
    const other = await (await fresh()).starsAround(vega);
    expect(other.stars).toEqual(one.stars);
  });
  test('a wide field in the Milky Way keeps within the budget and says how deep it goes', async () => {
    server();
    const { starsAround } = await fresh();
    const wide = await starsAround({ raDeg: 281, decDeg: -7, radiusDeg: 16, faintestMag: 13.5 });
    expect(wide.bytes).toBeLessThanOrEqual(BUDGET_BYTES);
    expect(wide.depthMag).toBeLessThan(12.5);
    expect(Math.max(...wide.stars.mag)).toBeLessThanOrEqual(wide.depthMag + 1e-9);
  });
  test('a tile that failed is asked for again, and the failure is said', async () => {
    let down = true;
    server({ fail: (url) => down && url.includes('.bin') });
    const { starsAround } = await fresh();
    await expect(starsAround(vega)).rejects.toThrow(/503/);
    down = false;
    expect((await starsAround(vega)).stars.length).toBeGreaterThan(100);
  });
  test('a missing list of contents is said too, and does not stick', async () => {
    let down = true;
    server({ fail: (url) => down && url.includes('index.json') });
    const { starsAround } = await fresh();
    await expect(starsAround(vega)).rejects.toThrow(/star catalogue could not be read/);
    down = false;
    expect((await starsAround(vega)).depthMag).toBeGreaterThan(12);
  });
});
