import {
  AboutSchema,
  ActState,
  ControlAnswer,
  RefusalSchema,
  StatusSchema,
  type About,
  type Ask,
  type Status,
} from '@keen/core/run';
import { setTimeout as pause } from 'node:timers/promises';
import type { z } from 'zod';

/** What a bridge was tried for, and what came of it. */
export interface Tried {
  rule: string;
  ok: boolean;
  said: string;
}
interface Got {
  status: number;
  body: unknown;
}
class Broken extends Error {}
const demand = (holds: boolean, said: string): void => {
  if (!holds) throw new Broken(said);
};

/**
 * Tries a bridge for all the protocol asks of it. It moves what it drives: to be run where nothing can be hit, with the roof open and
 * nobody in the way. It shares nothing with the service but the shapes of what is sent.
 */
export async function conformance(
  url: string,
  { told = () => undefined, stopAtFirst = false }: { told?: (t: Tried) => void; stopAtFirst?: boolean } = {},
): Promise<Tried[]> {
  const tried: Tried[] = [];
  const run = `conformance ${Math.random().toString(36).slice(2, 10)}`;
  let [turn, nextId, key] = [0, 0, ''];
  async function send(method: string, path: string, body?: unknown, withKey = key): Promise<Got> {
    const res = await fetch(new URL(path, url), {
      method,
      headers: { 'content-type': 'application/json', ...(withKey ? { 'x-control-key': withKey } : {}) },
      ...(body === undefined ? {} : { body: typeof body === 'string' ? body : JSON.stringify(body) }),
      signal: AbortSignal.timeout(10_000),
    });
    return { status: res.status, body: res.status === 204 ? null : await res.json().catch(() => undefined) };
  }
  function shaped<S extends z.ZodType>(schema: S, { body }: Got, what: string): z.output<S> {
    const got = schema.safeParse(body);
    if (!got.success)
      throw new Broken(`${what}: ${got.error.issues[0]!.path.join('.')} ${got.error.issues[0]!.message}`);
    return got.data;
  }
  const refused = (got: Got, code: string, what: string) => {
    demand(got.status >= 400, `${what} was not refused (${got.status})`);
    const body = shaped(RefusalSchema, got, what);
    demand(body.code === code, `${what} was refused as “${body.code}”, not as “${code}”`);
  };
  const status = async (): Promise<Status> => shaped(StatusSchema, await send('GET', '/status'), 'the status');
  const take = async () => {
    const got = await send('POST', '/control', { run, turn: ++turn }, '');
    demand(got.status === 200, `the controls were refused (${got.status})`);
    key = shaped(ControlAnswer, got, 'the answer to asking for the controls').key;
  };
  const ask = async (what: Ask) => {
    const id = ++nextId;
    const got = await send('PUT', `/acts/${id}`, what);
    demand(got.status === 202, `${what.do} was refused (${got.status})`);
    return { id, state: shaped(ActState, got, what.do) };
  };
  /** Until it is over, as long as it is told that somebody is there. */
  async function over(id: number, mostMs = 120_000): Promise<z.output<typeof ActState>> {
    const until = performance.now() + mostMs;
    for (;;) {
      const act = (await status()).acts.find((a) => a.id === id);
      demand(act !== undefined, `act ${id} is not told of while it is one of the last`);
      if (act!.state !== 'at-work') return act!;
      demand(performance.now() < until, `act ${id} has no end`);
      await pause(50);
    }
  }
  async function rule(name: string, work: () => Promise<string | void>): Promise<boolean> {
    if (stopAtFirst && tried.some((t) => !t.ok)) return false;
    let t: Tried;
    try {
      t = { rule: name, ok: true, said: (await work()) ?? '' };
    } catch (e) {
      t = { rule: name, ok: false, said: e instanceof Error ? e.message : String(e) };
    }
    tried.push(t);
    told(t);
    return t.ok;
  }

  let about: About | null = null;
  const there = await rule('says what it is', async () => {
    about = shaped(AboutSchema, await send('GET', '/about'), 'what it is');
    return `${about.name}, ${about.filters.length} filters, left alone for ${about.deadManS} s at most`;
  });
  if (!there || !about) return tried;
  const { filters, deadManS } = about as About;
  await rule('tells how everything stands, to anybody', async () => {
    const first = shaped(StatusSchema, await send('GET', '/status', undefined, ''), 'the status');
    await pause(200);
    const then = shaped(StatusSchema, await send('GET', '/status', undefined, ''), 'the status');
    demand(then.at > first.at, 'its time does not pass');
    demand(first.readings.safe, 'its interlock is open: close it, and try again');
  });
  await rule('is driven only by whoever has the controls', async () => {
    refused(
      await send('PUT', '/acts/1', { device: 'camera', do: 'connect' }, 'no key of anybody'),
      'not-in-control',
      'an act without the controls',
    );
  });
  await rule('gives the controls, and to nobody else while they are held', async () => {
    await take();
    refused(await send('POST', '/control', { run: 'another run', turn: 99 }, ''), 'in-control', 'another run');
    refused(
      await send('POST', '/control', { run, turn: turn - 1 }, ''),
      'in-control',
      'an earlier turn of the same run',
    );
  });
  await rule('gives them to a later turn of the same run, and takes the old key no more', async () => {
    const old = key;
    await take();
    refused(
      await send('PUT', `/acts/${nextId + 1}`, { device: 'camera', do: 'connect' }, old),
      'not-in-control',
      'the key of an earlier turn',
    );
  });
  await rule('connects what it has', async () => {
    for (const device of ['camera', 'wheel', 'focuser', 'mount', 'guider', 'weather'] as const) {
      for (let n = 0; ; n++) {
        const act = await over((await ask({ device, do: 'connect' })).id);
        demand(act.state === 'done' && typeof act.value === 'boolean', `${device}: connect gives true or false`);
        if (act.value) break;
        demand(n < 5, `${device} does not answer`);
      }
    }
  });
  await rule('turns its wheel to where it is asked, and says so', async () => {
    for (const filter of [filters.at(-1)!, filters[0]!]) {
      const act = await over((await ask({ device: 'wheel', do: 'turn', filter })).id);
      demand(act.state === 'done', `turning to ${filter}: ${act.reason ?? act.state}`);
      const { readings } = await status();
      demand(readings.wheel === filter, `turned to ${filter} it says it stands at ${readings.wheel}`);
    }
    const { id } = await ask({ device: 'wheel', do: 'turn', filter: 'no filter of this wheel' });
    demand((await over(id)).state === 'failed', 'a filter it does not have is turned to');
  });
  await rule('moves its focuser to where it is asked, to a step', async () => {
    const { position } = (await status()).readings;
    for (const to of [position + 120, position]) {
      await over((await ask({ device: 'focuser', do: 'move', position: to })).id);
      const now = (await status()).readings.position;
      demand(Math.abs(now - to) <= 1, `moved to ${to} it stands at ${now}`);
    }
  });
  await rule(
    'turns its rotator and says where it stands, and brings its plate to the middle, where it has them',
    async () => {
      const { rotatorDeg, tilt } = (await status()).readings;
      const had: string[] = [];
      if (rotatorDeg !== undefined) {
        for (const paDeg of [40, 130]) {
          const before = (await status()).readings.rotatorDeg;
          const act = await over(
            (await ask({ device: 'rotator', do: 'rotate', paDeg, eitherWay: true, withinDeg: 1 })).id,
          );
          demand(act.state === 'done', `turning to ${paDeg}°: ${act.reason ?? act.state}`);
          demand(typeof act.value === 'number', 'turning gives how far off it ended, in degrees');
          if (paDeg === 130)
            demand(before !== (await status()).readings.rotatorDeg, 'turned by 90° it says it stands as it did');
        }
        had.push('a rotator');
      }
      if (tilt !== undefined) {
        const act = await over((await ask({ device: 'tip-tilt', do: 'centre-plate' })).id);
        demand(act.state === 'done', `bringing the plate to its middle: ${act.reason ?? act.state}`);
        const now = (await status()).readings.tilt;
        demand(now !== undefined && Math.max(...now.map(Math.abs)) < 0.2, 'brought to its middle the plate is tilted');
        had.push('a tip-tilt plate');
      }
      return had.length ? had.join(', ') : 'it has neither';
    },
  );
  await rule('does the same number once, however often it is asked for', async () => {
    const { position } = (await status()).readings;
    const id = ++nextId;
    const away: Ask = { device: 'focuser', do: 'move', position: position + 50 };
    await send('PUT', `/acts/${id}`, away);
    await over(id);
    const back = await ask({ device: 'focuser', do: 'move', position });
    await over(back.id);
    const again = await send('PUT', `/acts/${id}`, away);
    demand(again.status === 202, `the same number again was refused (${again.status})`);
    await pause(200);
    const now = (await status()).readings.position;
    demand(Math.abs(now - position) <= 1, 'the same number again was done again');
    refused(
      await send('PUT', `/acts/${id}`, { device: 'focuser', do: 'move', position: 1 }),
      'other-act',
      'a number that was asked for something else',
    );
  });
  await rule('refuses what is none of what can be asked, in words', async () => {
    const id = nextId + 1;
    refused(await send('PUT', `/acts/${id}`, { device: 'mount', do: 'dance' }), 'invalid', 'something unknown');
    refused(
      await send('PUT', `/acts/${id}`, { device: 'mount', do: 'centre', raDeg: 400, decDeg: 0, withinArcmin: 1 }),
      'invalid',
      'a right ascension of 400°',
    );
    refused(await send('PUT', `/acts/${id}`, '{"device":'), 'invalid', 'half a body');
    refused(await send('DELETE', '/acts/999999'), 'unknown', 'stopping what was never asked for');
  });
  await rule('is at work at one thing, exposes for as long as it is asked, and stops when it is asked', async () => {
    const { readings } = await status();
    const begun = await status();
    const long = await ask({ device: 'camera', do: 'expose', seconds: 600 });
    refused(
      await send('PUT', `/acts/${nextId + 1}`, { device: 'focuser', do: 'move', position: readings.position }),
      'busy',
      'a second thing at a time',
    );
    await send('DELETE', `/acts/${long.id}`);
    const stopped = await over(long.id);
    demand(stopped.state === 'stopped', `an exposure that was stopped is told as ${stopped.state}`);
    demand((await status()).at - begun.at < 500_000, 'it went on to its end');
    const short = await status();
    const act = await over((await ask({ device: 'camera', do: 'expose', seconds: 20 })).id);
    const took = ((await status()).at - short.at) / 1000;
    demand(act.state === 'done', `an exposure: ${act.reason ?? act.state}`);
    demand(took >= 20, `an exposure of 20 s took ${took.toFixed(1)} s`);
    // one that gives the file has it measured by whoever asks
    demand(
      (about as About).frames === true ||
        (typeof act.value === 'object' && act.value !== null && 'eccentricity' in act.value),
      'an exposure gives what is measured on it, or its file',
    );
    await over((await ask({ device: 'camera', do: 'read-out' })).id);
    const file = await fetch(new URL(`/frames/${nextId - 1}`, url), { headers: { 'x-control-key': key } });
    const bytes = Buffer.from(await file.arrayBuffer());
    if ((about as About).frames) {
      demand(file.status === 200, `it gives frames, and refused one (${file.status})`);
      demand(bytes.toString('latin1', 0, 30).startsWith('SIMPLE  ='), 'what it gives as a frame is no FITS file');
      demand(bytes.length % 2880 === 0, 'its FITS file does not end with a whole block of 2880 bytes');
    } else demand(file.status === 404, 'it says that it gives no frames, and gives one');
  });
  await rule('moves its mount, says so on the way, stops on the way, and parks', async () => {
    const slew = await ask({ device: 'mount', do: 'field', altitudeDeg: 70, azimuthDeg: 120 });
    const under = await status();
    const moving = under.readings.tube;
    // one that is there already has nothing to say of its way
    if (under.acts.find((a) => a.id === slew.id)?.state === 'at-work')
      demand(!moving || moving.moves, 'it is on its way and says it stands');
    await send('DELETE', `/acts/${slew.id}`);
    demand((await over(slew.id)).state === 'stopped', 'a motion that was stopped is not told so');
    const tube = (await status()).readings.tube;
    await pause(200);
    const then = (await status()).readings.tube;
    demand(!tube || !then || Math.abs(tube.decDeg - then.decDeg) < 0.5, 'stopped it goes on');
    const parked = await over((await ask({ device: 'mount', do: 'park' })).id);
    demand(parked.state === 'done', `parking: ${parked.reason ?? parked.state}`);
    demand((await status()).readings.tube?.follows !== true, 'parked it follows the sky');
  });
  await rule('left alone it stops what it is at and goes safe by itself', async () => {
    const long = await ask({ device: 'camera', do: 'expose', seconds: 7200 });
    await pause(1000 * deadManS + 1500);
    const alone = shaped(StatusSchema, await send('GET', '/status', undefined, ''), 'the status');
    demand(alone.run === null && alone.wentSafe, 'nobody was heard of, and it does not say that it went safe');
    const act = alone.acts.find((a) => a.id === long.id);
    demand(act?.state === 'stopped', `what it was at is ${act?.state ?? 'not told of'}`);
    refused(
      await send('PUT', `/acts/${nextId + 1}`, { device: 'guider', do: 'stop' }),
      'not-in-control',
      'the key of one who was not heard of',
    );
    refused(
      await send('POST', '/control', { run, turn: turn - 1 }, ''),
      'in-control',
      'an earlier turn, after nobody was heard of',
    );
    await take();
    await send('POST', '/acknowledge');
    demand(!(await status()).wentSafe, 'what is acknowledged is told still');
    await send('DELETE', '/control');
  });
  return tried;
}
