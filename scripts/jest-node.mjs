// Where tests without a page run: a context whose global object is the engine's own. The usual environment lays a proxy over it,
// through which every mention of `Math` or `Array` is looked up: loops of the craft take up to seven times as long there.
import { createRequire } from 'node:module';
import { constants, createContext } from 'node:vm';

// packages of Jest's own environment, found from where it is
const theirs = createRequire(createRequire(import.meta.url).resolve('jest-environment-node'));
const { ModuleMocker } = theirs('jest-mock');
const { LegacyFakeTimers, ModernFakeTimers } = theirs('@jest/fake-timers');
const { installCommonGlobals } = theirs('jest-util');

/** Of Node and not of each context: with one of their own, what is given to Node would not be what it asks for. */
const SHARED = { Buffer, ArrayBuffer, Uint8Array };
/** Node's timers are objects. */
const TIMERS = {
  idToRef: (id) => {
    const timer = { id, ref: () => timer, unref: () => timer };
    return timer;
  },
  refToId: (timer) => timer?.id,
};
const SELF = new Set(['globalThis', 'global', 'GLOBAL', 'root']);

/** A name of Node's in the context, looked up when it is first asked for. */
function lend(global, name, descriptor) {
  const keep = (value) =>
    Object.defineProperty(global, name, {
      configurable: true,
      enumerable: descriptor.enumerable,
      writable: true,
      value,
    });
  Object.defineProperty(global, name, {
    configurable: true,
    enumerable: descriptor.enumerable,
    get: () => keep(globalThis[name])[name],
    set: keep,
  });
}

export default class PlainContext {
  constructor({ projectConfig: config }) {
    const global = createContext(constants.DONT_CONTEXTIFY);
    for (const [name, descriptor] of Object.entries(Object.getOwnPropertyDescriptors(globalThis)))
      if (!SELF.has(name) && !Object.hasOwn(global, name)) lend(global, name, descriptor);
    Object.assign(global, SHARED, { global });
    installCommonGlobals(global, config.globals, 'off');
    global.Error.stackTraceLimit = 100;
    this.global = global;
    this.conditions = config.testEnvironmentOptions.customExportConditions;
    this.moduleMocker = new ModuleMocker(global);
    this.fakeTimers = new LegacyFakeTimers({ config, global, moduleMocker: this.moduleMocker, timerConfig: TIMERS });
    this.fakeTimersModern = new ModernFakeTimers({ config, global });
  }
  setup() {
    return Promise.resolve();
  }
  teardown() {
    this.fakeTimers.dispose();
    this.fakeTimersModern.dispose();
    this.global = this.fakeTimers = this.fakeTimersModern = this.moduleMocker = null;
    return Promise.resolve();
  }
  exportConditions() {
    return this.conditions;
  }
  getVmContext() {
    return this.global;
  }
}
