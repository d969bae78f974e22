import { phrase } from '../phrases/index.ts';
import { DEVICES } from './devices.ts';
import { focus } from './focusRoutine.ts';
import type { RunPlan } from './run.ts';
import type { RunContext } from './runContext.ts';

/** How often a device is asked, and how long between [ms]; common practice, no source. */
const CONNECT_ATTEMPTS = 4;
const CONNECT_AGAIN_MS = 15_000;
const MIN_MS = 60_000;

/** The ordered steps around the legs, each not before its moment. */
export async function doSteps(
  c: RunContext,
  kind: 'opening' | 'closing',
  steps: RunPlan['opening'] | RunPlan['closing'],
): Promise<void> {
  const { clock } = c.o;
  for (const s of steps) {
    const early = (s.notBeforeMs ?? 0) - clock.now();
    const light = phrase(kind === 'opening' ? 'run.wait-dusk' : 'run.wait-dawn');
    if (early > 0) await c.timed('wait', light, () => clock.sleep(early));
    const until = clock.now() + s.minutes * MIN_MS;
    if (s.step === 'connect') await connect(c);
    if (c.closed && kind === 'opening') return;
    if (s.step === 'focus') await firstFocus(c, 'field' in s ? s.field : null);
    const rest = until - clock.now();
    if (rest > 0) await c.timed(kind, phrase(`run.step-${s.step}`), () => clock.sleep(rest));
  }
}

/** Connects in order; a device that does not answer is asked again, and without it the night does not begin. */
async function connect(c: RunContext): Promise<void> {
  const { clock } = c.o;
  for (const device of DEVICES) {
    for (let attempts = 1; c.o.connect && !(await c.o.connect(device)); attempts++) {
      if (attempts === CONNECT_ATTEMPTS) {
        c.note('run.device-absent', { device, attempts });
        c.closed = true;
        return;
      }
      await c.timed('wait', phrase('run.device-silent', { device }), () => clock.sleep(CONNECT_AGAIN_MS));
    }
  }
}

/** Through the first filter of the first leg, in the focus field where there is one. */
async function firstFocus(c: RunContext, field: RunPlan['opening'][number]['field']): Promise<void> {
  const filter = c.leg.timeline.filters[0]!.name;
  if (field) await c.timed('slew', phrase('run.focus-field', { ...field }), () => c.o.mount.slewToField(field));
  await c.turnWheel(filter);
  await focus(c, filter);
}
