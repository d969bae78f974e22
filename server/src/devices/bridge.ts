import { DeviceFault, type Device, type FrameMeasure, type RunTime } from '@keen/core/observatory';
import {
  AboutSchema,
  ActState,
  ControlAnswer,
  StatusSchema,
  tubeRead,
  type Act,
  type Answer,
  type Equipment,
  type Readings,
  type Status,
} from '@keen/core/run';
import { setTimeout as pause } from 'node:timers/promises';
import type { z } from 'zod';

/** How often it is asked how everything stands; every time says that somebody is there [ms]. */
const POLL_MS = 500;
/** Longest a request may take [ms]. */
const ANSWER_MS = 4000;
/** Longest a frame may take [ms], and the largest there may be. */
const FRAME_MS = 60_000;
const MOST_BYTES = 300e6;
/** So many questions in a row that were not answered are told as a fault of what was asked for. */
const SILENT = 10;

/** It answered, and refused. */
class Refused extends Error {
  readonly code: string;
  constructor(code: string, detail: string) {
    super(detail);
    this.code = code;
  }
}
export interface Bridge extends Equipment {
  /** Somebody asked for something: whoever waits looks. */
  wake: () => void;
  /** The file of an exposure, by its number; left out: it gives none. @throws Error where it does not come */
  frame?: (id: number) => Promise<Uint8Array>;
  /** @param how  gone: without a word, as one that ended is */
  close: (how?: 'let-go' | 'gone') => Promise<void>;
}

/**
 * Equipment elsewhere, driven over the protocol.
 * @param of  the run, and which turn of it: a later turn has the controls from an earlier one
 * @throws Error where nothing answers there, or another has the controls
 */
export async function connectBridge(
  url: string,
  {
    pollMs = POLL_MS,
    measure,
    ...of
  }: {
    run: string;
    turn: number;
    pollMs?: number;
    /** Measures a file of equipment that tells nothing of its frames itself. */
    measure?: (file: Uint8Array, filter: string) => Promise<FrameMeasure>;
  },
): Promise<Bridge> {
  let key = '';
  async function send<S extends z.ZodType>(
    method: string,
    path: string,
    answer: S | null,
    body?: object,
  ): Promise<z.output<S>> {
    const res = await fetch(new URL(path, url), {
      method,
      headers: { 'content-type': 'application/json', ...(key ? { 'x-control-key': key } : {}) },
      ...(body ? { body: JSON.stringify(body) } : {}),
      signal: AbortSignal.timeout(ANSWER_MS),
    });
    const got: unknown = res.status === 204 ? null : await res.json();
    if (!res.ok) {
      const { code = 'unknown', detail = '' } = got as { code?: string; detail?: string };
      throw new Refused(code, detail || `it answered ${res.status}`);
    }
    return (answer ? answer.parse(got) : null) as z.output<S>;
  }
  const about = await send('GET', '/about', AboutSchema);
  const take = async (): Promise<void> => {
    key = '';
    key = (await send('POST', '/control', ControlAnswer, of)).key;
  };
  await take();
  let status: Status = await send('GET', '/status', StatusSchema);
  const offset = status.at - performance.now() * about.speed;
  let [silent, closed, safe, stop] = [0, false, false, null as (() => void) | null];
  const now = () => performance.now() * about.speed + offset;

  async function look(): Promise<void> {
    status = await send('GET', '/status', StatusSchema);
    if (!status.wentSafe) return;
    safe = true;
    await send('POST', '/acknowledge', null);
  }
  await look();
  async function poll(): Promise<void> {
    try {
      await look();
      silent = 0;
    } catch (e) {
      silent++;
      // not heard of for too long, it went safe: the controls are asked for again, unless a later turn has them
      if (e instanceof Refused && e.code === 'not-in-control') await take().catch(() => undefined);
    }
  }
  const polling = (async () => {
    while (!closed) {
      await poll();
      await pause(pollMs);
    }
  })();

  const clock: RunTime = {
    now,
    sleep: (ms) => pause(Math.max(0, ms) / about.speed),
    until: async (ms, busy) => {
      const rest = Math.max(0, (ms - now()) / about.speed);
      const called = new Promise<void>((done) => (stop = done));
      const end = new AbortController();
      await Promise.race([
        pause(rest, undefined, { signal: end.signal }).catch(() => undefined),
        called,
        ...(busy
          ? [
              busy.then(
                () => undefined,
                () => undefined,
              ),
            ]
          : []),
      ]);
      end.abort();
    },
  };
  /** What it was asked for last and is not told to be over. */
  let atWork: number | null = null;
  /** Of the last exposure it told itself what it saw. */
  let isTold = false;
  /** The same number asked for again does nothing twice: where the line was down it is sent once more. */
  async function persist<T>(ask: () => Promise<T>): Promise<T> {
    for (;;) {
      try {
        return await ask();
      } catch (e) {
        if (e instanceof Refused || silent >= SILENT || closed) throw e;
        await pause(pollMs);
      }
    }
  }
  async function frame(id: number): Promise<Uint8Array> {
    const res = await fetch(new URL(`/frames/${id}`, url), {
      headers: { 'x-control-key': key },
      signal: AbortSignal.timeout(FRAME_MS),
    });
    if (!res.ok) throw new Error(`it answered ${res.status}`);
    const parts: Uint8Array[] = [];
    let bytes = 0;
    for await (const part of res.body ?? []) {
      bytes += part.length;
      if (bytes > MOST_BYTES) throw new Error(`it is larger than ${MOST_BYTES / 1e6} MB`);
      parts.push(part);
    }
    return Buffer.concat(parts);
  }
  async function perform(act: Act): Promise<Answer> {
    if (act.do === 'abort') {
      if (atWork !== null) await send('DELETE', `/acts/${atWork}`, ActState);
      return null;
    }
    const { id, deadlineMs: _d, ...ask } = act;
    const device = act.device as Device;
    atWork = id;
    try {
      let at = await persist(() => send('PUT', `/acts/${id}`, ActState, ask));
      while (at.state === 'at-work' && !closed) {
        await pause(pollMs / 2);
        if (silent >= SILENT) throw new DeviceFault(device, 'no answer');
        at = status.acts.find((a) => a.id === id) ?? at;
      }
      if (at.state === 'done') {
        if (act.do === 'expose') isTold = (at.value ?? null) !== null;
        if (act.do === 'read-out' && !isTold && about.frames && measure)
          return await measure(await frame(id - 1), status.readings.wheel);
        return at.value ?? null;
      }
      throw new DeviceFault(device, at.reason ?? 'it was stopped', at.final ?? false);
    } catch (e) {
      if (e instanceof DeviceFault) throw e;
      throw new DeviceFault(device, e instanceof Error ? e.message : String(e));
    } finally {
      if (atWork === id) atWork = null;
    }
  }
  return {
    clock,
    elsewhere: true,
    read: (before: Readings | null) => {
      const { tube } = status.readings;
      return { ...status.readings, tube: tubeRead(tube, before?.tube ?? null, tube?.atMs ?? now()) };
    },
    perform,
    ...(about.frames ? { frame } : {}),
    wake: () => (stop as (() => void) | null)?.(),
    wentSafe: () => {
      const was = safe;
      safe = false;
      return was;
    },
    close: async (how = 'let-go') => {
      closed = true;
      (stop as (() => void) | null)?.();
      await polling;
      if (how === 'let-go') await send('DELETE', '/control', null).catch(() => undefined);
    },
  };
}
