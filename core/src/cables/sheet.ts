import { z } from 'zod';

const key = z
  .string()
  .min(1)
  .max(40)
  .regex(/^[a-z0-9-]+$/, 'small letters, digits and hyphens');
const name = z.string().trim().min(1).max(80);
const amount = (max: number) => z.number().min(0).max(max);
export const Bus = z.enum(['usb2', 'usb3']);
export type Bus = z.infer<typeof Bus>;
/** What everything hangs on in the end. */
export const COMPUTER = 'computer';

export const Hub = z.strictObject({
  key,
  name,
  /** The hub above, or the computer. */
  at: key,
  bus: Bus,
  ports: z.int().min(1).max(64),
  /** What it can give all its ports together at 5 V [A]. */
  givesA: amount(40),
  /** Cable towards the computer [m]. */
  lengthM: amount(100),
});
export type Hub = z.infer<typeof Hub>;
export const Device = z.strictObject({
  key,
  name,
  /** The hub or computer it talks through; null: it has no data cable. */
  at: key.nullable(),
  bus: Bus,
  /** Largest data rate it asks for [MB/s]. */
  megabytesPerS: amount(5000),
  lengthM: amount(100),
  /** Where its power comes from: the supply, its data cable, or something of its own. */
  feed: z.enum(['supply', 'usb', 'own']),
  /** Mean over a night, and the most it takes [W]. */
  meanW: amount(2000),
  peakW: amount(2000),
  /** Power cable, one way [m], and the copper of a conductor [mm²]. */
  dcLengthM: amount(100),
  dcMm2: z.number().min(0.05).max(50),
});
export type Device = z.infer<typeof Device>;

export const CableSheet = z
  .strictObject({
    hubs: z.array(Hub).max(20).default([]),
    devices: z.array(Device).max(60).default([]),
    supply: z
      .strictObject({
        volts: z.number().min(3).max(60).default(12),
        amps: amount(200).default(10),
        fuseA: amount(200).default(10),
        /** What it holds [Wh]; null: the mains. */
        batteryWh: z.number().positive().max(1e5).nullable().default(null),
        chemistry: z.enum(['lead', 'lithium']).default('lithium'),
      })
      .prefault({}),
    /** Where all cables leave the tube, from the crossing of the axes, and where they are held below [mm]. */
    bundle: z
      .strictObject({
        xMm: z.number().min(-5000).max(5000).default(150),
        yMm: z.number().min(-5000).max(5000).default(0),
        zMm: z.number().min(-5000).max(5000).default(-300),
        belowMm: amount(5000).default(500),
        /** Length of the cables between the two. */
        freeMm: amount(20_000).default(1200),
        gramsPerM: amount(5000).default(120),
      })
      .prefault({}),
    airC: z.number().min(-50).max(50).default(0),
  })
  .superRefine((s, ctx) => {
    const keys = [COMPUTER, ...s.hubs.map((h) => h.key)];
    const twice = [...keys, ...s.devices.map((d) => d.key)].find((k, i, all) => all.indexOf(k) !== i);
    if (twice)
      ctx.addIssue({
        code: 'custom',
        path: ['devices'],
        message: `“${twice}” is there twice; every hub and device needs its own key`,
      });
    s.hubs.forEach((h, i) => {
      if (!keys.includes(h.at) || h.at === h.key)
        ctx.addIssue({ code: 'custom', path: ['hubs', i, 'at'], message: `hangs on “${h.at}”, which is no other hub` });
      else if (pathOf(s.hubs, h.key) === null)
        ctx.addIssue({
          code: 'custom',
          path: ['hubs', i, 'at'],
          message: 'hubs hang on one another in a circle; one has to reach the computer',
        });
    });
    s.devices.forEach((d, i) => {
      if (d.at !== null && !keys.includes(d.at))
        ctx.addIssue({ code: 'custom', path: ['devices', i, 'at'], message: `hangs on “${d.at}”, which is no hub` });
      if (d.peakW < d.meanW)
        ctx.addIssue({ code: 'custom', path: ['devices', i, 'peakW'], message: 'must not be less than the mean' });
    });
  });
export type CableSheet = z.infer<typeof CableSheet>;

/** The hubs from one up to the computer, itself first; null where they go in a circle. */
export function pathOf(hubs: readonly Hub[], from: string): Hub[] | null {
  const path: Hub[] = [];
  for (let k = from; k !== COMPUTER;) {
    const hub = hubs.find((h) => h.key === k);
    if (!hub || path.includes(hub)) return null;
    path.push(hub);
    k = hub.at;
  }
  return path;
}
