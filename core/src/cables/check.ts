import { phrase, type Phrase } from '../phrases/index.ts';
import { pathOf, type Bus, type CableSheet } from './sheet.ts';
import { cableReach } from './slack.ts';

/** What a bus really carries [MB/s]; common practice, no source. */
const CARRIES: Record<Bus, number> = { usb2: 35, usb3: 350 };
/** Longest cable of a bus [m]: five for the slower by its standard, three for the faster by practice (from memory). */
const LONGEST: Record<Bus, number> = { usb2: 5, usb3: 3 };
/** Hubs one after the other that the standard allows (from memory). */
const DEEPEST = 5;
/** What one port gives at 5 V [A], by the standards (from memory). */
const PORT_A: Record<Bus, number> = { usb2: 0.5, usb3: 0.9 };
/** Copper at 20 °C [Ω mm²/m] and its change with temperature [1/°C]; textbook. */
const COPPER = { ohm: 0.0172, perC: 0.0039 };
/** Share of what a supply, a cable or a battery can give from which little is left over; common practice, no source. */
const NEARLY_FULL_SHARE = 0.8;
export const fullness = (share: number): 'good' | 'caution' | 'bad' =>
  share > 1 ? 'bad' : share > NEARLY_FULL_SHARE ? 'caution' : 'good';
/** Voltage lost on the way that cameras and mounts still bear, as a share; common practice, no source. */
const LOST = 0.05;
/** Current that a square millimetre bears [A]; a rule of thumb, no source: the local code decides. */
const A_PER_MM2 = 10;
/** Share of a battery that is used, and what cold takes of it [per °C below 20 and below 0]; from memory, no source. */
const BATTERY = {
  lead: { used: 0.5, cold: (c: number) => 1 - 0.008 * Math.max(0, 20 - c) },
  lithium: { used: 0.9, cold: (c: number) => 1 - 0.015 * Math.max(0, -c) },
} as const;
/** Spare cable beyond the longest straight way: it hangs in a curve, and a connector is no anchor. */
const SPARE = 1.15;

export interface CableFinding {
  level: 'good' | 'caution' | 'bad';
  phrase: Phrase;
}
export interface BusLoad {
  key: string;
  name: string;
  bus: Bus;
  /** Asked for, and carried [MB/s]. */
  asked: number;
  carries: number;
  ports: number;
  used: number;
  /** Taken from it at 5 V, and given [A]. */
  takenA: number;
  givesA: number;
}
export interface CableOutput {
  findings: CableFinding[];
  buses: BusLoad[];
  peakA: number;
  meanW: number;
  needWh: number;
  /** What the battery gives in this cold; null on the mains. */
  haveWh: number | null;
  lastsH: number | null;
  farthestMm: number;
  wantedMm: number;
  /** What of the bundle the tube carries: half of what hangs free, and what lies along it [kg]. */
  onTubeKg: number;
}

/** Whether a rig’s cables carry what is asked of them: data, ports, currents, voltage, energy and slack through the flip. */
export function checkCables(s: CableSheet, latitudeDeg: number, nightHours: number): CableOutput {
  const findings: CableFinding[] = [];
  const say = (level: CableFinding['level'], phrase: Phrase) => findings.push({ level, phrase });
  const buses = busLoads(s);
  for (const b of buses) {
    if (b.asked > b.carries) say('bad', phrase('cable.data', { name: b.name, asked: b.asked, carries: b.carries }));
    if (b.used > b.ports) say('bad', phrase('cable.ports', { name: b.name, used: b.used, ports: b.ports }));
    if (b.takenA > b.givesA)
      say('bad', phrase('cable.hub-current', { name: b.name, takenA: b.takenA, givesA: b.givesA }));
  }
  for (const h of s.hubs) {
    const depth = pathOf(s.hubs, h.key)?.length ?? 0;
    if (depth > DEEPEST) say('bad', phrase('cable.deep', { name: h.name, depth, deepest: DEEPEST }));
  }
  for (const of of [...s.hubs, ...s.devices.filter((d) => d.at !== null)])
    if (of.lengthM > LONGEST[of.bus])
      say('caution', phrase('cable.long', { name: of.name, lengthM: of.lengthM, longestM: LONGEST[of.bus] }));
  for (const d of s.devices)
    if (d.feed === 'usb' && d.at !== null && d.peakW / 5 > PORT_A[d.bus])
      say('caution', phrase('cable.port-current', { name: d.name, takenA: d.peakW / 5, givesA: PORT_A[d.bus] }));

  const { volts, amps, fuseA, batteryWh, chemistry } = s.supply;
  // what hubs give on comes out of the supply too
  const fed = s.devices.filter((d) => d.feed !== 'own');
  const peakA = fed.reduce((sum, d) => sum + d.peakW, 0) / volts;
  const meanW = fed.reduce((sum, d) => sum + d.meanW, 0);
  if (peakA > amps) say('bad', phrase('cable.supply', { peakA, amps }));
  if (peakA > fuseA) say('bad', phrase('cable.fuse', { peakA, fuseA }));
  const cabled = s.devices.filter((d) => d.feed === 'supply');
  const thin = cabled.filter((d) => fuseA > A_PER_MM2 * d.dcMm2);
  if (thin.length)
    say('bad', phrase('cable.thin', { names: thin.map((d) => d.name), fuseA, copper: fuseA / A_PER_MM2 }));
  for (const d of cabled) {
    const ohm = (2 * d.dcLengthM * COPPER.ohm * (1 + COPPER.perC * (s.airC - 20))) / d.dcMm2;
    const lostV = (ohm * d.peakW) / volts;
    if (lostV > LOST * volts) say('caution', phrase('cable.drop', { name: d.name, lostV, arrivesV: volts - lostV }));
  }

  const needWh = meanW * nightHours;
  const of = BATTERY[chemistry];
  const haveWh = batteryWh === null ? null : batteryWh * of.used * Math.max(0.1, of.cold(s.airC));
  const lastsH = haveWh === null || meanW <= 0 ? null : haveWh / meanW;
  if (haveWh !== null && needWh > haveWh)
    say('bad', phrase('cable.battery', { needWh, haveWh, lastsHours: lastsH ?? 0, airC: s.airC }));

  const { farthestMm, hourAngleDeg, decDeg } = cableReach(latitudeDeg, s.bundle, s.bundle.belowMm);
  const wantedMm = SPARE * farthestMm;
  if (s.bundle.freeMm < farthestMm)
    say('bad', phrase('cable.short', { freeMm: s.bundle.freeMm, farthestMm, hourAngleDeg, decDeg }));
  else if (s.bundle.freeMm < wantedMm) say('caution', phrase('cable.tight', { freeMm: s.bundle.freeMm, wantedMm }));
  if (findings.length === 0) say('good', phrase('cable.fine', { peakA, amps, needWh }));
  const onTubeKg = (s.bundle.gramsPerM * s.bundle.freeMm) / 2 / 1e6;
  return { findings: sorted(findings), buses, peakA, meanW, needWh, haveWh, lastsH, farthestMm, wantedMm, onTubeKg };
}
const ORDER = { bad: 0, caution: 1, good: 2 };
const sorted = (all: CableFinding[]) => [...all].sort((a, b) => ORDER[a.level] - ORDER[b.level]);

/** What each hub, and the computer, has to carry: all that hangs below it. */
function busLoads(s: CableSheet): BusLoad[] {
  const below = (hub: string) =>
    s.devices.filter((d) => d.at !== null && (d.at === hub || (pathOf(s.hubs, d.at) ?? []).some((h) => h.key === hub)));
  const fiveVolts = (hub: string) =>
    s.devices.filter((d) => d.at === hub && d.feed === 'usb').reduce((sum, d) => sum + d.peakW / 5, 0);
  return s.hubs.map((h) => ({
    key: h.key,
    name: h.name,
    bus: h.bus,
    asked: below(h.key).reduce((sum, d) => sum + d.megabytesPerS, 0),
    // no faster than the slowest cable on the way
    carries: Math.min(...(pathOf(s.hubs, h.key) ?? [h]).map((p) => CARRIES[p.bus])),
    ports: h.ports,
    used: s.devices.filter((d) => d.at === h.key).length + s.hubs.filter((o) => o.at === h.key).length,
    takenA: fiveVolts(h.key),
    givesA: h.givesA,
  }));
}
