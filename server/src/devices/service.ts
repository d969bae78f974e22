import {
  AboutSchema,
  ActState,
  AskSchema,
  ControlAnswer,
  ControlBody,
  isMotion,
  PROTOCOL,
  perform,
  read,
  REFUSAL_STATUS,
  RefusalSchema,
  StatusSchema,
  type About,
  type Ask,
  type Readings,
  type RefusalCode,
} from '@keen/core/run';
import { DeviceFault, type FrameMeasure, type Observatory, type RunTime } from '@keen/core/observatory';
import express, { type ErrorRequestHandler, type Express, type Request } from 'express';
import { randomBytes } from 'node:crypto';
import { z } from 'zod';

/** Acts that are told of still. */
const KEPT = 20;
/** How often it is looked whether anybody is there, and at the interlock, in the equipment’s own time [ms]. */
const LOOK_MS = 500;

class Refused extends Error {
  readonly code: RefusalCode;
  constructor(code: RefusalCode, detail: string) {
    super(detail);
    this.code = code;
  }
}
/** An exposure, for whoever draws its file. */
export interface TakenFrame {
  seconds: number;
  startMs: number;
  filter: string;
  /** Where it was pointed last [deg]; null: nowhere yet. */
  place: { raDeg: number; decDeg: number } | null;
  measure: FrameMeasure;
  readings: Readings;
}
interface KeptAct extends ActState {
  taken?: Omit<TakenFrame, 'measure'>;
  asked: string;
  device: Ask['device'];
  moves: boolean;
}

/** Equipment behind the protocol: what is asked of it, by whom, and what it does when nobody is there. */
export class DeviceStation {
  readonly about: About;
  private readonly o: Observatory;
  private readonly acts: KeptAct[] = [];
  private busy: Promise<void> | null = null;
  private control: { run: string; turn: number; key: string; heardMs: number } | null = null;
  private wentSafe = false;
  /** Nothing moves, and nothing was asked for since. */
  private isSafe = true;
  private leftMs = 0;
  /** Who had them last. */
  private last: { run: string; turn: number } | null = null;
  private closed = false;
  private readonly real: () => number;

  private place: TakenFrame['place'] = null;
  private readonly fileOf: ((taken: TakenFrame) => Uint8Array) | null;

  /**
   * @param fileOf  gives the file of an exposure; left out: it gives none
   * @param real    the world’s time [ms], by which it is known whether anybody is there
   */
  constructor(
    o: Observatory,
    about: Omit<About, 'protocol' | 'frames'>,
    {
      fileOf = null,
      real = () => performance.now(),
    }: { fileOf?: ((taken: TakenFrame) => Uint8Array) | null; real?: () => number } = {},
  ) {
    this.o = o;
    this.about = { ...about, protocol: PROTOCOL, ...(fileOf ? { frames: true } : {}) };
    [this.fileOf, this.real] = [fileOf, real];
  }
  /** The file of an exposure that was read out. */
  file(id: number): Uint8Array {
    const act = this.acts.find((a) => a.id === id);
    if (!this.fileOf || !act?.taken || act.state !== 'done')
      throw new Refused('unknown', `There is no frame of number ${id}, or not any more.`);
    return this.fileOf({ ...act.taken, measure: act.value as FrameMeasure });
  }
  get clock(): RunTime {
    return this.o.clock;
  }
  /** Lets its time pass, as fast as that passes, until it is closed. */
  async live(): Promise<void> {
    while (!this.closed) {
      await this.o.clock.until(this.o.clock.now() + LOOK_MS, this.busy);
      this.look();
    }
  }
  close(): void {
    this.closed = true;
  }
  /** Nobody is there, or the interlock is open: what moves is stopped. */
  private look(): void {
    const atWork = this.acts.find((a) => a.state === 'at-work');
    if (atWork?.moves && !(this.o.interlock?.isSafe() ?? true)) this.stop(atWork, 'the interlock opened');
    // also one that let the controls go leaves no telescope out
    if (this.isSafe || this.real() - (this.control?.heardMs ?? this.leftMs) < 1000 * this.about.deadManS) return;
    [this.control, this.isSafe, this.wentSafe] = [null, true, true];
    if (atWork) this.stop(atWork, 'nobody was heard of any more');
    this.begin({ id: 0, state: 'at-work', asked: '', device: 'mount', moves: false }, async () => {
      await this.o.guider.stop();
      if (!(this.o.interlock?.isSafe() ?? true)) return;
      await this.o.mount.park();
      await this.o.roof?.close();
    });
  }
  private stop(act: KeptAct, reason: string): void {
    Object.assign(act, { state: 'stopped', reason });
    // a roof ends what it has begun: half open it is no shelter
    if (act.device === 'roof') return;
    const { device } = act;
    void (device === 'camera' || device === 'rotator' ? this.o[device] : this.o.mount)?.abort?.();
  }
  private begin(act: KeptAct, work: () => Promise<unknown>): void {
    if (act.id) this.acts.push(act);
    if (this.acts.length > KEPT) this.acts.shift();
    const before = this.busy ?? Promise.resolve();
    const mine: Promise<void> = before
      .then(work)
      .then(
        (value) => void (act.state === 'at-work' && Object.assign(act, { state: 'done', value: value ?? null })),
        (e: unknown) => {
          if (act.state !== 'at-work') return;
          const final = e instanceof DeviceFault && e.final;
          Object.assign(act, {
            state: 'failed',
            reason: e instanceof Error ? e.message : String(e),
            ...(final ? { final } : {}),
          });
        },
      )
      .finally(() => {
        if (this.busy === mine) this.busy = null;
      });
    this.busy = mine;
  }
  heard(key: string | undefined): void {
    if (!this.control || this.control.key !== key)
      throw new Refused('not-in-control', 'Ask for the controls first; they may have gone to another, or been let go.');
    this.control.heardMs = this.real();
  }
  take({ run, turn }: z.output<typeof ControlBody>): { key: string } {
    const now = this.control;
    if (now && (now.run !== run || now.turn >= turn))
      throw new Refused('in-control', `Turn ${now.turn} of ${now.run} has the controls.`);
    const { last } = this;
    if (last?.run === run && turn < last.turn)
      throw new Refused('in-control', `Turn ${last.turn} had the controls since: an earlier one has them no more.`);
    // another run begins to count anew
    if (last?.run !== run) this.acts.length = 0;
    this.last = { run, turn };
    this.isSafe = false;
    this.control = { run, turn, key: randomBytes(16).toString('hex'), heardMs: this.real() };
    return { key: this.control.key };
  }
  /** Somebody knows that it went safe. */
  acknowledge(): void {
    this.wentSafe = false;
  }
  leave(): void {
    this.control = null;
    this.leftMs = this.real();
  }
  ask(id: number, ask: Ask): ActState {
    const asked = JSON.stringify(ask);
    const known = this.acts.find((a) => a.id === id);
    if (known && known.asked !== asked) throw new Refused('other-act', `Number ${id} was asked for something else.`);
    if (known) return told(known);
    const newest = this.acts.at(-1)?.id ?? 0;
    if (id <= newest)
      throw new Refused('other-act', `Number ${id} is older than ${newest}, which was asked for already.`);
    if (this.acts.some((a) => a.state === 'at-work'))
      throw new Refused('busy', 'Something is at work: one thing at a time.');
    if (isMotion(ask) && !(this.o.interlock?.isSafe() ?? true))
      throw new Refused('interlock', 'The interlock is open: nothing moves, and nothing is exposed.');
    const tube = ask.do === 'close' ? this.o.mount.state?.() : undefined;
    if (tube?.moves || tube?.follows)
      throw new Refused('not-parked', 'The mount is not parked: no roof is closed over it.');
    const act: KeptAct = { id, state: 'at-work', asked, device: ask.device, moves: isMotion(ask) };
    if (ask.do === 'centre' || ask.do === 'flip') this.place = { raDeg: ask.raDeg, decDeg: ask.decDeg };
    if (ask.do === 'expose') {
      const readings = read(this.o, null);
      const startMs = this.o.clock.now();
      act.taken = { seconds: ask.seconds, startMs, filter: readings.wheel, place: this.place, readings };
    }
    this.begin(act, () => perform(this.o, { ...ask, id, deadlineMs: 0 }));
    return told(act);
  }
  stopAct(id: number): ActState {
    const act = this.acts.find((a) => a.id === id);
    if (!act) throw new Refused('unknown', `Nothing was asked for by the number ${id}.`);
    if (act.state === 'at-work') this.stop(act, 'it was stopped');
    return told(act);
  }
  status() {
    return {
      at: this.o.clock.now(),
      readings: read(this.o, null),
      acts: this.acts.map(told),
      wentSafe: this.wentSafe,
      run: this.control?.run ?? null,
    };
  }
}
const told = ({ id, state, value, reason, final }: KeptAct): ActState => ({
  id,
  state,
  ...(value === undefined ? {} : { value }),
  ...(reason === undefined ? {} : { reason }),
  ...(final ? { final } : {}),
});

const keyOf = (req: Request) => req.get('x-control-key');
const idOf = (req: Request): number => {
  const id = Number(req.params.id);
  if (!Number.isSafeInteger(id) || id < 1) throw new Refused('invalid', 'An act has a whole number from 1 on.');
  return id;
};
function parsed<S extends z.ZodType>(schema: S, body: unknown): z.output<S> {
  const read = schema.safeParse(body);
  if (read.success) return read.data;
  const [first] = read.error.issues;
  throw new Refused('invalid', `${first!.path.join('.') || 'the body'}: ${first!.message}`);
}

/** The protocol over HTTP. */
export function deviceService(station: DeviceStation): Express {
  const app = express();
  app.disable('x-powered-by');
  app.use(express.json({ limit: '20kb' }));
  app.get('/about', (_req, res) => void res.json(station.about));
  app.get('/openapi.json', (_req, res) => void res.json(deviceOpenApi()));
  app.get('/status', (req, res) => {
    if (keyOf(req)) station.heard(keyOf(req));
    res.json(station.status());
  });
  app.post('/control', (req, res) => void res.json(station.take(parsed(ControlBody, req.body))));
  app.delete('/control', (req, res) => {
    station.heard(keyOf(req));
    station.leave();
    res.status(204).end();
  });
  app.post('/acknowledge', (req, res) => {
    station.heard(keyOf(req));
    station.acknowledge();
    res.status(204).end();
  });
  app.put('/acts/:id', (req, res) => {
    station.heard(keyOf(req));
    res.status(202).json(station.ask(idOf(req), parsed(AskSchema, req.body)));
  });
  app.delete('/acts/:id', (req, res) => {
    station.heard(keyOf(req));
    res.json(station.stopAct(idOf(req)));
  });
  app.get('/frames/:id', (req, res) => {
    station.heard(keyOf(req));
    res.type('application/fits').send(Buffer.from(station.file(idOf(req))));
  });
  app.use(() => {
    throw new Refused('unknown', 'There is no such path; see /openapi.json.');
  });
  const refuse: ErrorRequestHandler = (e: unknown, _req, res, _next) => {
    const refused = e instanceof Refused ? e : new Refused('invalid', 'The body is no JSON.');
    res.status(REFUSAL_STATUS[refused.code]).json({ code: refused.code, detail: refused.message });
  };
  app.use(refuse);
  return app;
}

/** What it is asked and answers, for whoever writes a bridge. */
export function deviceOpenApi(): object {
  const schema = (s: z.ZodType, io: 'input' | 'output' = 'output') => z.toJSONSchema(s, { io });
  const json = (s: z.ZodType, io?: 'input' | 'output') => ({
    content: { 'application/json': { schema: schema(s, io) } },
  });
  const refused = { description: 'Refused, and why', ...json(RefusalSchema) };
  const key = { name: 'x-control-key', in: 'header', required: true, schema: { type: 'string' } };
  const id = { name: 'id', in: 'path', required: true, schema: { type: 'integer', minimum: 1 } };
  const answers = (description: string, s?: z.ZodType, status = '200') => ({
    responses: { [status]: { description, ...(s ? json(s) : {}) }, default: refused },
  });
  return {
    openapi: '3.1.0',
    info: {
      title: 'Equipment of an observatory',
      version: String(PROTOCOL),
      description:
        'One thing is asked for at a time, by a number that rises; the same number again does nothing twice. Every request with the key says that somebody is there. Left alone for longer than deadManS, or let go of, the equipment stops what it is at, lets the guide star go and parks by itself. While the interlock is open nothing moves and nothing is exposed, whoever asks; no roof is closed over a mount that is not parked.',
    },
    paths: {
      '/about': { get: { summary: 'What it is', ...answers('What it is', AboutSchema) } },
      '/status': {
        get: {
          summary: 'How everything stands',
          parameters: [{ ...key, required: false }],
          ...answers('How it stands', StatusSchema),
        },
      },
      '/control': {
        post: {
          summary: 'Ask for the controls: a later turn of the same run has them from an earlier one',
          requestBody: json(ControlBody, 'input'),
          ...answers('The key to send with everything else', ControlAnswer),
        },
        delete: { summary: 'Let them go', parameters: [key], ...answers('Let go', undefined, '204') },
      },
      '/acknowledge': {
        post: { summary: 'It is known that it went safe', parameters: [key], ...answers('Known', undefined, '204') },
      },
      '/acts/{id}': {
        put: {
          summary: 'Ask for something',
          parameters: [id, key],
          requestBody: json(AskSchema, 'input'),
          ...answers('It is at work, or was done before', ActState, '202'),
        },
        delete: { summary: 'Stop it', parameters: [id, key], ...answers('How it stands', ActState) },
      },
      '/frames/{id}': {
        get: {
          summary: 'An exposure that was read out, where the equipment gives files',
          parameters: [id, key],
          responses: {
            200: {
              description: 'The frame as FITS, with DATE-OBS, EXPTIME and FILTER in its header',
              content: { 'application/fits': { schema: { type: 'string', format: 'binary' } } },
            },
            default: refused,
          },
        },
      },
    },
  };
}
