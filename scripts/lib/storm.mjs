// Many people at once against a server or a balancer: mixed reads and writes, each write sent again with its key until it is
// acknowledged, and all of them looked for afterwards.
import { randomUUID } from 'node:crypto';
import { Agent, request } from 'node:http';

const wait = (ms) => new Promise((done) => setTimeout(done, ms));
export const PASSWORD = 'larkmoor-nights';
/** A write that is not acknowledged after so long is given up [ms]. */
const GIVE_UP_MS = 60_000;
const ANSWER_MS = 15_000;

/** One request, read to its end. @returns status 0 where no answer came */
export function ask(base, method, path, { cookie = '', token = '', key, body, agent } = {}) {
  const begun = performance.now();
  const sent = body === undefined ? null : JSON.stringify(body);
  return new Promise((done) => {
    const end = (status, text = '', headers = {}) =>
      done({ status, text, headers, took: performance.now() - begun, json: () => JSON.parse(text) });
    const r = request(
      new URL(path, base),
      {
        method,
        agent,
        timeout: ANSWER_MS,
        headers: {
          ...(cookie ? { cookie, 'x-keen-token': token } : {}),
          ...(key ? { 'idempotency-key': key } : {}),
          ...(sent ? { 'content-type': 'application/json', 'content-length': Buffer.byteLength(sent) } : {}),
        },
      },
      (res) => {
        let text = '';
        res.setEncoding('utf8');
        res.on('data', (d) => (text += d));
        res.on('end', () => end(res.statusCode, text, res.headers));
        res.on('error', () => end(0));
        res.on('aborted', () => end(0));
      },
    );
    r.on('timeout', () => r.destroy());
    r.on('error', () => end(0));
    r.end(sent ?? undefined);
  });
}

const cookiesOf = (got) => (got.headers['set-cookie'] ?? []).map((c) => c.split(';')[0]).join('; ');
/** Somebody signed in. @throws what the server said */
export async function signIn(base, name, agent) {
  const before = await ask(base, 'GET', '/api/session', { agent });
  const { csrfToken } = before.json();
  const got = await ask(base, 'POST', '/api/session', {
    agent,
    cookie: cookiesOf(before),
    token: csrfToken,
    body: { signIn: name, password: PASSWORD },
  });
  if (got.status !== 200) throw new Error(`${name} could not sign in: ${got.status} ${got.text.slice(0, 200)}`);
  return { cookie: cookiesOf(got), token: got.json().csrfToken, agent, name };
}

export const quantile = (list, share) => {
  const sorted = [...list].sort((a, b) => a - b);
  return sorted.length ? sorted[Math.min(sorted.length - 1, Math.floor(share * sorted.length))] : 0;
};

const READS = ['/api/plans', '/api/projects', '/api/rigs', '/api/session', '/api/log', '/api/runs', '/api/members'];

/**
 * A page that listens through whatever fails, and comes again where it was cut.
 * @returns the numbers it heard, in their order, and ends it
 */
export function listener(base, who, after) {
  const heard = [];
  const forgotten = [];
  let [last, going, open, cuts] = [after, true, null, 0];
  const listen = () => {
    if (!going) return;
    let ended = false;
    const again = () => {
      if (ended) return;
      ended = true;
      cuts++;
      setTimeout(listen, 300);
    };
    open = request(
      new URL('/api/events/stream', base),
      { headers: { cookie: who.cookie, 'last-event-id': String(last) } },
      (res) => {
        let text = '';
        res.setEncoding('utf8');
        res.on('data', (piece) => {
          text += piece;
          for (let end = text.indexOf('\n\n'); end >= 0; end = text.indexOf('\n\n')) {
            const said = Object.fromEntries(
              text
                .slice(0, end)
                .split('\n')
                .map((l) => [l.slice(0, l.indexOf(':')), l.slice(l.indexOf(':') + 1).trim()]),
            );
            text = text.slice(end + 2);
            if (said.event === 'happened') heard.push(Number(said.id));
            if (said.event === 'forgotten') forgotten.push(last);
            if (said.id) last = Number(said.id);
          }
        });
        res.on('close', again);
        res.on('error', again);
      },
    );
    open.on('error', again);
    open.end();
  };
  listen();
  return {
    heard,
    forgotten,
    cuts: () => cuts,
    end: () => {
      going = false;
      open?.destroy();
    },
  };
}

/**
 * A bounded storm. It runs until it is told to end, and no longer than `mostS`.
 * @param base  where the requests go
 * @param writes  share of them that write
 */
export async function storm(base, { people, writes = 0.25, pauseMs = 15, mostS = 240 }) {
  const agent = new Agent({ keepAlive: true, maxSockets: 200 });
  const members = [];
  for (const name of people) members.push(await signIn(base, name, agent));
  const rigs = (await ask(base, 'GET', '/api/rigs', members[0])).json();
  const [until, began] = [Date.now() + mostS * 1000, performance.now()];
  /** What was sent, by its text: whether it was acknowledged, and when. */
  const sent = new Map();
  const reads = [];
  /** Answers that did not come, by what came instead. */
  const failed = new Map();
  const missed = (got) => {
    const what =
      got.status === 0 ? 'no answer' : `${got.status} ${(/"code":"(\w+)"/.exec(got.text) ?? [])[1] ?? ''}`.trim();
    failed.set(what, (failed.get(what) ?? 0) + 1);
  };
  let going = true;
  const now = () => performance.now() - began;
  const on = () => going && Date.now() < until;

  async function write(who, n) {
    const text = `storm ${randomUUID()}`;
    const one = { at: null, took: null };
    sent.set(text, one);
    const body = { rigId: rigs[n % rigs.length].id, problem: text };
    const key = randomUUID();
    const giveUp = Date.now() + GIVE_UP_MS;
    const first = performance.now();
    for (let pause = 100; Date.now() < giveUp; pause = Math.min(2 * pause, 1000)) {
      const got = await ask(base, 'POST', '/api/log', { ...who, key, body });
      if (got.status === 200) {
        one.at = performance.now() - began;
        one.took = performance.now() - first;
        return;
      }
      missed(got);
      if (got.status >= 400 && got.status < 500 && got.status !== 429)
        throw new Error(`a write was refused: ${got.status} ${got.text.slice(0, 300)}`);
      await wait(pause);
    }
  }
  async function read(who, n) {
    const got = await ask(base, 'GET', READS[n % READS.length], who);
    if (got.status === 200) reads.push({ at: performance.now() - began, took: got.took });
    else {
      missed(got);
      await wait(100);
    }
  }
  const person = async (who, i) => {
    for (let n = i; on(); n++) {
      // steady shares, and not chance: every run asks for the same
      if (Math.floor(n * writes) !== Math.floor((n + 1) * writes)) await write(who, n);
      else await read(who, n);
      await wait(pauseMs);
    }
  };
  const all = Promise.all(members.map(person));
  /** What came of it between two moments. */
  const between = (from, to) => {
    const done = [...sent.values()].filter((w) => w.at !== null && w.at >= from && w.at < to);
    // a silence that reaches into another stage counts whole, where its middle lies
    const all = [0, ...[...sent.values()].flatMap((w) => w.at ?? []).sort((a, b) => a - b), now()];
    const within = (t) => t >= from && t < to;
    const silences = all.slice(1).flatMap((t, i) => (within((t + all[i]) / 2) ? [t - all[i]] : []));
    return {
      writes: done.length,
      reads: reads.filter((r) => r.at >= from && r.at < to).length,
      silentS: Math.max(0, ...silences) / 1000,
      writeP95: quantile(
        done.map((w) => w.took),
        0.95,
      ),
      readP95: quantile(
        reads.filter((r) => r.at >= from && r.at < to).map((r) => r.took),
        0.95,
      ),
    };
  };
  return {
    now,
    between,
    failed: () => [...failed.values()].reduce((a, b) => a + b, 0),
    missed: () => [...failed].map(([what, n]) => `${n} × ${what}`).join(', '),
    /** @throws where a write was refused that should not have been */
    end: async () => {
      going = false;
      await all;
      agent.destroy();
      return sent;
    },
  };
}

/**
 * Everybody wants the same night of the same rig in the same moment.
 * @param bases  the servers that are asked, in turn
 * @returns how often it was had, refused as taken, and anything else that came
 */
export async function race(bases, { people, path = '/api/plans', body, attempts = 200 }) {
  const agent = new Agent({ keepAlive: true, maxSockets: 300 });
  const members = [];
  for (const [i, name] of people.entries()) members.push(await signIn(bases[i % bases.length], name, agent));
  const one = async (_, i) => {
    const who = members[i % members.length];
    const base = bases[Math.floor(i / members.length) % bases.length];
    for (;;) {
      const got = await ask(base, 'POST', path, { ...who, key: randomUUID(), body });
      // undone again and again by others: whoever asked asks again
      if (got.status !== 503) return got;
      await wait(50 + 100 * Math.random());
    }
  };
  const got = await Promise.all(Array.from({ length: attempts }, one));
  agent.destroy();
  const count = (status) => got.filter((g) => g.status === status).length;
  const other = got.filter((g) => g.status !== 200 && g.status !== 409);
  return { won: count(200), taken: count(409), other: other.map((g) => `${g.status} ${g.text.slice(0, 200)}`) };
}

/** A plan of which the demo’s first member could lay one on any night from `night` on. */
export async function planFor(base, night) {
  const agent = new Agent({ keepAlive: true });
  const who = await signIn(base, 'teun', agent);
  const projects = (await ask(base, 'GET', '/api/projects', who)).json();
  const day = (n) => new Date(Date.parse(`${night}T00:00:00Z`) + n * 86_400_000).toISOString().slice(0, 10);
  for (const p of projects)
    for (const hour of [18, 20, 22, 24, 26, 28]) {
      const of = (date) => {
        const at = (h) => new Date(Date.parse(`${date}T00:00:00Z`) + h * 3_600_000).toISOString();
        return {
          rigId: p.rigId,
          night: date,
          opening: [],
          legs: [
            {
              id: 'one',
              projectId: p.id,
              panel: null,
              role: 'main',
              turnMin: null,
              from: { by: 'clock', at: at(hour) },
              until: { by: 'clock', at: at(hour + 2) },
              settings: {
                filters: p.goals.map((g) => ({ name: g.filter, exposureS: g.exposureS, quota: g.quota })),
                order: 'lagging',
                dither: { everyFrames: 2, perRound: false },
                focus: { policy: 'every-change' },
                coolingCPerHour: 1,
              },
              guiding: true,
              meridian: 'flip',
              centreWithinArcmin: 0.5,
              follower: null,
            },
          ],
          closing: [],
          watches: { recentreAboveArcmin: 1, wind: null, damp: null, cloudClosesAfterMin: null, sunStops: null },
          locked: false,
          locks: [],
        };
      };
      const got = await ask(base, 'POST', '/api/plans', { ...who, body: of(day(0)) });
      if (got.status === 200) {
        agent.destroy();
        return { nightIn: (n) => of(day(n)), first: got.json() };
      }
    }
  throw new Error('no project of the demo could be planned');
}
