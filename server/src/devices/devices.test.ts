import { afterEach, beforeAll, describe, expect, test } from '@jest/globals';
import { RIGS } from '@keen/demo';
import { writeFits16 } from '@keen/core/exchange';
import { simulatedTruthOf, standIns } from '@keen/core/observatory';
import { viewOf } from '@keen/core/rig';
import { drive, ordinaryNight, replay, type Happened } from '@keen/core/run';
import express, { type RequestHandler } from 'express';
import type { AddressInfo } from 'node:net';
import { setTimeout as pause } from 'node:timers/promises';
import { pacer } from '../areas/live/pacer.ts';
import { connectBridge } from './bridge.ts';
import { conformance } from './conformance.ts';
import { DeviceStation, deviceOpenApi, deviceService } from './service.ts';

const setup = viewOf(RIGS[0]!.build);
/** Equipment that takes its time, but not long. */
const BRISK = {
  ...setup.overheads,
  slewCentreS: 12,
  autofocusS: 45,
  guideStartS: 5,
  flipS: 20,
  ditherS: 4,
  filterChangeS: 3,
};
const START = Date.parse('2026-11-24T18:00:00Z');
const ends: (() => void)[] = [];
afterEach(() => ends.splice(0).forEach((end) => end()));

interface Options {
  brisk?: boolean;
  speed?: number;
  deadManS?: number;
  broken?: (station: DeviceStation) => RequestHandler;
  /** By which rule it is found out. */
  rule?: string;
}
/** Stand-ins behind the protocol, on a port of this machine. */
async function station({ speed = 100, deadManS = 1, brisk = false, broken }: Options = {}, until = ends) {
  const world = {
    ...simulatedTruthOf(setup, 3, START, START + 8 * 3_600_000),
    cloud: [],
    rotator: { reachDeg: 180, northDeg: 20, afterFlip: 'leave' as const },
    tipTilt: { reachArcsec: 15 },
  };
  const { pace, begin } = pacer({ speed: () => speed, everyMs: 20, meanwhile: async () => false });
  begin();
  const o = standIns(world, brisk ? BRISK : setup.overheads, pace);
  const about = { name: 'stand-ins', filters: world.filters, deadManS, simulated: true, speed };
  const its = new DeviceStation(o, about, { fileOf: () => writeFits16(new Uint16Array(16), 4, 4, []) });
  void its.live();
  const app = express();
  const parse = express.json();
  const halfABody = { code: 'invalid', detail: 'The body is no JSON.' };
  if (broken)
    app.use(
      (req, res, next) => parse(req, res, (e?: unknown) => (e ? res.status(400).json(halfABody) : next())),
      broken(its),
    );
  app.use(deviceService(its));
  const server = app.listen(0, '127.0.0.1');
  await new Promise((done) => server.once('listening', done));
  until.push(() => {
    its.close();
    server.close();
    server.closeAllConnections();
  });
  return { url: `http://127.0.0.1:${(server.address() as AddressInfo).port}`, its, o };
}

/** Changes what is answered to some requests. */
const answers =
  (
    which: (method: string, path: string) => boolean,
    change: (body: Record<string, object>) => unknown,
  ): RequestHandler =>
  (req, res, next) => {
    const json = res.json.bind(res);
    if (which(req.method, req.path))
      res.json = ((body: Record<string, object>) => json(change(body))) as typeof res.json;
    next();
  };
const asks =
  (change: (body: Record<string, unknown>) => void): RequestHandler =>
  (req, _res, next) => {
    if (req.method === 'PUT' && req.body) change(req.body as Record<string, unknown>);
    next();
  };
const readings = (change: object) =>
  answers(
    (m, p) => m === 'GET' && p === '/status',
    (b) => ({ ...b, readings: { ...b.readings, ...change } }),
  );
/** Bridges that are wrong in one thing each. */
const BROKEN: Record<string, Options & { rule: string }> = {
  'lets anybody drive': {
    rule: 'driven only by',
    broken: (its) => (req, _res, next) => {
      const control = Reflect.get(its, 'control') as { key: string } | null;
      if (!control && req.method === 'PUT') its.take({ run: 'anybody', turn: 0 });
      const now = Reflect.get(its, 'control') as { key: string } | null;
      if (now && req.method !== 'POST') req.headers['x-control-key'] = now.key;
      next();
    },
  },
  'gives the controls to whoever asks': {
    rule: 'to nobody else',
    broken: (its) => (req, _res, next) => {
      if (req.method === 'POST' && req.path === '/control') its.leave();
      next();
    },
  },
  'does the same number again': {
    rule: 'the same number once',
    broken: () => {
      const seen = new Map<string, number>();
      return (req, _res, next) => {
        const id = /^\/acts\/(\d+)$/.exec(req.path)?.[1];
        if (req.method === 'PUT' && id && (req.body as { do?: string }).do === 'move') {
          const same = `${id} ${JSON.stringify(req.body)}`;
          const times = (seen.get(same) ?? 0) + 1;
          seen.set(same, times);
          if (times > 1) req.url = `/acts/${1000 + seen.size + times}`;
        }
        next();
      };
    },
  },
  'says its wheel stands where it did': { rule: 'turns its wheel', broken: () => readings({ wheel: 'L' }) },
  'moves its focuser beside where it is asked': {
    rule: 'moves its focuser',
    broken: () => asks((b) => b.do === 'move' && Object.assign(b, { position: Number(b.position) + 5 })),
  },
  'exposes for half as long': {
    rule: 'exposes for as long',
    broken: () => asks((b) => b.do === 'expose' && Object.assign(b, { seconds: Number(b.seconds) / 2 })),
  },
  'gives as a frame what is none': {
    rule: 'exposes for as long',
    broken: () => (req, res, next) =>
      req.path.startsWith('/frames/') ? void res.type('application/fits').send(Buffer.alloc(2880)) : next(),
  },
  'turns no rotator': {
    rule: 'turns its rotator',
    broken: () => readings({ rotatorDeg: 12 }),
  },
  'does not stop': {
    rule: 'stops when it is asked',
    broken: () => (req, res, next) => {
      const id = /^\/acts\/(\d+)$/.exec(req.path)?.[1];
      if (req.method === 'DELETE' && id && Number(id) < 1000)
        return void res.json({ id: Number(id), state: 'at-work' });
      next();
    },
  },
  'never goes safe by itself': {
    rule: 'left alone',
    deadManS: 3600,
    broken: () =>
      answers(
        (m, p) => m === 'GET' && p === '/about',
        (b) => ({ ...b, deadManS: 1 }),
      ),
  },
  'tells no interlock': {
    rule: 'how everything stands',
    broken: () =>
      answers(
        (m, p) => m === 'GET' && p === '/status',
        (b) => {
          const { safe: _s, ...rest } = b.readings as Record<string, unknown>;
          return { ...b, readings: rest };
        },
      ),
  },
  'does what nobody knows': {
    rule: 'none of what can be asked',
    broken: () => (req, res, next) => {
      if (req.method === 'PUT' && (req.body as { do?: string }).do === 'dance')
        return void res.status(202).json({ id: 1, state: 'done' });
      next();
    },
  },
  'says it stands while it moves': {
    rule: 'says so on the way',
    broken: () =>
      answers(
        (m, p) => m === 'GET' && p === '/status',
        (b) => {
          const of = b.readings as { tube: object | null };
          return { ...b, readings: { ...of, tube: of.tube && { ...of.tube, moves: false } } };
        },
      ),
  },
  'has a clock that stands': {
    rule: 'how everything stands',
    broken: () =>
      answers(
        (m, p) => m === 'GET' && p === '/status',
        (b) => ({ ...b, at: START }),
      ),
  },
};

describe('the protocol', () => {
  test('the stand-ins keep all of it', async () => {
    const { url } = await station();
    const tried = await conformance(url);
    expect(tried.filter((t) => !t.ok)).toEqual([]);
    expect(tried.length).toBeGreaterThan(11);
  }, 60_000);
  test.each(Object.keys(BROKEN))(
    'one that %s is found out',
    async (name) => {
      const { url } = await station(BROKEN[name]);
      const tried = await conformance(url, { stopAtFirst: true });
      expect(tried.find((t) => !t.ok)?.rule).toContain(BROKEN[name]!.rule);
    },
    60_000,
  );
  test('it is described, every path with what it takes and answers', () => {
    const { paths } = deviceOpenApi() as { paths: Record<string, object> };
    expect(Object.keys(paths).sort()).toEqual([
      '/about',
      '/acknowledge',
      '/acts/{id}',
      '/control',
      '/frames/{id}',
      '/status',
    ]);
    expect(JSON.stringify(paths)).toContain('"centre"');
  });
  test('while the interlock is open nothing moves, whoever asks; what moves is stopped', async () => {
    const { url, o, its } = await station({ deadManS: 30 });
    let safe = true;
    o.interlock = { isSafe: () => safe };
    const { key } = its.take({ run: 'x', turn: 1 });
    const put = (id: number, body: object) =>
      fetch(`${url}/acts/${id}`, {
        method: 'PUT',
        headers: { 'x-control-key': key, 'content-type': 'application/json' },
        body: JSON.stringify(body),
      });
    expect((await put(1, { device: 'camera', do: 'expose', seconds: 600 })).status).toBe(202);
    safe = false;
    await pause(100);
    expect(its.status().acts[0]).toMatchObject({ state: 'stopped', reason: 'the interlock opened' });
    expect((await put(2, { device: 'mount', do: 'park' })).status).toBe(423);
    expect((await put(3, { device: 'guider', do: 'stop' })).status).toBe(202);
  });
  test('no roof is closed over a mount that is out, whoever asks', async () => {
    const { url, o, its } = await station({ deadManS: 30 });
    let closed = 0;
    o.roof = { state: () => 'open', open: async () => undefined, close: async () => void closed++ };
    let follows = true;
    o.mount.state = () => ({ haDeg: 0, decDeg: 90, side: 'west', moves: false, follows });
    const { key } = its.take({ run: 'x', turn: 1 });
    const put = (id: number) =>
      fetch(`${url}/acts/${id}`, {
        method: 'PUT',
        headers: { 'x-control-key': key, 'content-type': 'application/json' },
        body: JSON.stringify({ device: 'roof', do: 'close' }),
      });
    const refused = await put(1);
    expect([refused.status, (await refused.json()) as object]).toMatchObject([423, { code: 'not-parked' }]);
    follows = false;
    expect((await put(2)).status).toBe(202);
    await pause(50);
    expect(closed).toBe(1);
  });
});

describe('a run over the protocol', () => {
  /** Some minutes of short frames are enough; its time passes so fast that a slow machine is not taken for a silent one. */
  const plan = () => {
    const night = ordinaryNight(setup, 3);
    const end = new Date(START + 7 * 60_000).toISOString();
    const { timeline } = night.legs[0]!;
    const filters = timeline.filters.map((f) => ({ ...f, exposureS: 20 }));
    const leg = { ...night.legs[0]!, timeline: { ...timeline, filters, end, overheads: BRISK } };
    return { ...night, legs: [leg], endMs: Date.parse(end) };
  };
  const driven = async (o: Parameters<typeof drive>[0]['o'], so: Happened[] = [], left = () => false) => {
    const events = [...so];
    const state = await drive({ o, plan: plan(), told: (e) => void events.push(e), left }, so);
    return { events, state };
  };
  /** With equipment of its own, beside the others: all of them wait more than they work. */
  function atOnce(work: (own: (options: Options) => ReturnType<typeof station>) => Promise<void>): () => Promise<void> {
    let came: Promise<{ error: unknown } | null>;
    beforeAll(() => {
      const own: typeof ends = [];
      const going = work((options) => station(options, own)).finally(() => own.forEach((end) => end()));
      came = going.then(
        () => null,
        (error: unknown) => ({ error }),
      );
    });
    return async () => {
      const failed = await came;
      if (failed) throw failed.error;
    };
  }
  test(
    'takes its frames, guides and parks; who comes after has no key, and the run is over',
    atOnce(async (station) => {
      const { url, its } = await station({ brisk: true, speed: 30, deadManS: 10 });
      const bridge = await connectBridge(url, { run: 'a', turn: 1, pollMs: 20 });
      const { state, events } = await driven(bridge);
      await bridge.close();
      expect([state.finished, state.frames > 1]).toEqual([true, true]);
      expect(its.status().readings.tube).toMatchObject({ follows: false });
      expect(events.every((e, i) => i === 0 || e.at >= events[i - 1]!.at)).toBe(true);
      expect(its.status().run).toBeNull();
    }),
    60_000,
  );
  test(
    'a second conductor has them from the first, which drives nothing any more; nothing is done twice',
    atOnce(async (station) => {
      const { url, o } = await station({ brisk: true, speed: 30, deadManS: 20 });
      let exposed = 0;
      const { expose } = o.camera;
      o.camera.expose = (s) => (exposed++, expose(s));
      const first = await connectBridge(url, { run: 'a', turn: 1, pollMs: 20 });
      const before = await driven(first, [], () => exposed >= 2);
      const second = await connectBridge(url, { run: 'a', turn: 2, pollMs: 20 });
      await expect(first.perform({ device: 'mount', do: 'park', id: 900, deadlineMs: 0 })).rejects.toThrow('controls');
      const after = await driven(second, before.events);
      await Promise.all([first.close(), second.close()]);
      expect(after.state.finished).toBe(true);
      const frames = replay(after.events).says.filter((s) => s.said === 'frame').length;
      expect(exposed).toBe(frames);
    }),
    60_000,
  );
  test(
    'left alone the equipment goes safe; the next one points and guides anew, and goes on',
    atOnce(async (station) => {
      const { url } = await station({ brisk: true, speed: 30, deadManS: 1 });
      const first = await connectBridge(url, { run: 'a', turn: 1, pollMs: 20 });
      let n = 0;
      const before = await driven(first, [], () => ++n > 60);
      await first.close('gone');
      await pause(2200);
      const second = await connectBridge(url, { run: 'a', turn: 2, pollMs: 20 });
      const after = await driven(second, before.events);
      await second.close();
      expect(after.state.finished).toBe(true);
      expect(after.events.map((e) => e.code)).toContain('went-safe');
    }),
    60_000,
  );
  test(
    'one that was not heard of for a while finds the equipment safe, has the controls again, and goes on',
    atOnce(async (station) => {
      const { url, its } = await station({ brisk: true, speed: 30, deadManS: 20 });
      const bridge = await connectBridge(url, { run: 'a', turn: 1, pollMs: 20 });
      let n = 0;
      const { state, events } = await driven(bridge, [], () => {
        // as if its line had been down for longer than it may
        if (++n === 50) {
          Object.assign(Reflect.get(its, 'control') as object, { heardMs: -1e9 });
          // before it is heard of again
          (Reflect.get(its, 'look') as () => void).call(its);
        }
        return false;
      });
      await bridge.close();
      expect([state.finished, state.frames > 0]).toEqual([true, true]);
      expect(events.map((e) => e.code)).toContain('went-safe');
    }),
    60_000,
  );
  test('nobody there is said, with where it was looked for', async () => {
    await expect(connectBridge('http://127.0.0.1:9', { run: 'a', turn: 1, pollMs: 20 })).rejects.toThrow();
  });
});
