/** A frame as far as the hours of a night are concerned. */
export interface SpentFrame {
  startedMs: number;
  exposureS: number;
  accepted: boolean;
  /** Why it does not count; empty where nobody said. */
  because: string;
  /** It was refused for the sky. */
  cloud: boolean;
}
export type HourKind = 'counted' | 'refused' | 'between' | 'focusing' | 'cloud' | 'idle' | 'before' | 'after';
/** A part of the night, from and until [ms]. */
export interface NightPart {
  kind: HourKind;
  fromMs: number;
  toMs: number;
  /** For refused frames, why. */
  because: string;
}
export interface NightHours {
  parts: NightPart[];
  /** Seconds by kind, refused ones by their reason; the largest first. They add up to the dark time. */
  sums: { kind: HourKind; because: string; seconds: number }[];
  darkS: number;
  /** Dark time less what cloud took [s]; it flatters a night that was given up for cloud. */
  clearS: number;
  /** Of the dark time, with an open shutter whose frame counts [s]. */
  countedS: number;
}

/** A pause up to so long is what frames cost: reading out, dithering, centring; common practice, no source. */
const BETWEEN_MS = 4 * 60_000;
/** A pause with focus runs in it, up to so long for each. */
const FOCUS_MS = 8 * 60_000;

/**
 * Where the dark hours of a night went, second by second: frames that count, frames refused and why, pauses between frames,
 * focusing, cloud, nothing at all. A longer pause beside frames lost to the sky is taken for cloud. The parts meet one
 * another without gap or overlap from the beginning to the end of darkness.
 * @param focusMs moments of focus runs, rising [ms]
 * @param cloudMs spells a run itself waited for the sky, rising and apart: no frame tells of them [ms]
 */
export function nightHours(
  dark: { fromMs: number; toMs: number },
  frames: readonly SpentFrame[],
  focusMs: readonly number[] = [],
  cloudMs: readonly (readonly [number, number])[] = [],
): NightHours {
  const parts: NightPart[] = [];
  let at = dark.fromMs;
  const until = (toMs: number, kind: HourKind, because = '') => {
    const to = Math.min(dark.toMs, Math.max(at, toMs));
    if (to > at) parts.push({ kind, fromMs: at, toMs: to, because });
    at = to;
  };
  /** A stretch without a frame: what the run waited for the sky in it is cloud, the rest is of its own kind. */
  const pause = (toMs: number, kind: HourKind) => {
    for (const [from, to] of cloudMs) {
      if (to <= at || from >= toMs) continue;
      until(Math.min(from, toMs), kind);
      until(Math.min(to, toMs), 'cloud');
    }
    until(toMs, kind);
  };
  let before: SpentFrame | null = null;
  for (const f of [...frames].sort((a, b) => a.startedMs - b.startedMs)) {
    // two cameras at once: the shutter is open all the same
    if (f.startedMs >= dark.toMs) break;
    pause(f.startedMs, pauseKind(at, f.startedMs, before, f, focusMs));
    until(f.startedMs + 1000 * f.exposureS, f.accepted ? 'counted' : 'refused', f.accepted ? '' : f.because);
    before = f;
  }
  pause(dark.toMs, before ? 'after' : 'idle');
  const sums = new Map<string, NightHours['sums'][number]>();
  for (const p of parts) {
    const key = `${p.kind} ${p.because}`;
    const there = sums.get(key) ?? { kind: p.kind, because: p.because, seconds: 0 };
    there.seconds += (p.toMs - p.fromMs) / 1000;
    sums.set(key, there);
  }
  const all = [...sums.values()].sort((a, b) => b.seconds - a.seconds);
  const of = (kind: HourKind) => all.filter((s) => s.kind === kind).reduce((t, s) => t + s.seconds, 0);
  const cloudedFrames = frames.filter((f) => !f.accepted && f.cloud);
  const underCloud =
    of('cloud') +
    parts
      .filter(
        (p) =>
          p.kind === 'refused' &&
          cloudedFrames.some((f) => f.startedMs < p.toMs && f.startedMs + 1000 * f.exposureS > p.fromMs),
      )
      .reduce((t, p) => t + (p.toMs - p.fromMs) / 1000, 0);
  const darkS = Math.max(0, (dark.toMs - dark.fromMs) / 1000);
  return { parts, sums: all, darkS, clearS: darkS - underCloud, countedS: of('counted') };
}

function pauseKind(
  fromMs: number,
  toMs: number,
  before: SpentFrame | null,
  after: SpentFrame,
  focusMs: readonly number[],
): HourKind {
  if (!before) return 'before';
  const runs = focusMs.filter((ms) => ms >= fromMs && ms <= toMs).length;
  if (runs > 0 && toMs - fromMs <= runs * FOCUS_MS + BETWEEN_MS) return 'focusing';
  if (toMs - fromMs <= BETWEEN_MS) return 'between';
  const lost = (f: SpentFrame) => !f.accepted && f.cloud;
  return lost(before) || lost(after) ? 'cloud' : 'idle';
}
