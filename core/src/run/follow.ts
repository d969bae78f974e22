import { isByOtherRules, type Happened, type Said } from './events.ts';
import type { RunState } from './state.ts';
import { step } from './step.ts';

/** What was read at moments [ms since 1970, UTC], for a picture over the night. */
export interface Traces {
  guide: { atMs: number; raArcsec: number; decArcsec: number }[];
  sensor: { atMs: number; sensorC: number; coolerPercent: number }[];
  air: { atMs: number; temperatureC: number; windMS: number; humidity: number; clear: boolean }[];
}

/** A run as somebody watches it: what is made of its events, one after the other. */
export class Followed {
  state: RunState | null = null;
  readonly says: Said[] = [];
  /** Of the second camera. */
  readonly besideSays: Said[] = [];
  readonly traces: Traces = { guide: [], sensor: [], air: [] };
  /** Faults that were put on the stand-ins. */
  readonly thrown: (Happened & { code: 'thrown' })[] = [];

  /** It was begun by another version: nothing is made of what happened. */
  byOthers = false;
  private begun = false;

  add(event: Happened): void {
    if (!this.begun) this.byOthers = isByOtherRules(event);
    this.begun = true;
    if (this.byOthers) return;
    const { state, says, beside } = step(this.state, event);
    this.state = state;
    for (const s of says) this.says.push(s);
    for (const s of beside.says) this.besideSays.push(s);
    if (event.code === 'thrown') this.thrown.push(event);
    const { readings } = event;
    if (!readings || event.beside) return;
    const { guideArcsec, cooler } = readings;
    const atMs = state.nowMs;
    if (guideArcsec) this.traces.guide.push({ atMs, raArcsec: guideArcsec[0], decArcsec: guideArcsec[1] });
    if (cooler) this.traces.sensor.push({ atMs, sensorC: cooler[0], coolerPercent: cooler[1] });
    const air = ['temperatureC', 'windMS', 'humidity', 'clear'] as const;
    if (air.some((k) => k in readings)) {
      const { temperatureC, windMS, humidity, clear } = state.readings;
      this.traces.air.push({ atMs, temperatureC, windMS, humidity, clear });
    }
  }
}
