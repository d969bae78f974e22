import { FWHM_PER_SIGMA } from '../quantities/index.ts';

/** What holds a frame of this rig sharp: measured, as far as it was. */
export interface FrameHold {
  scaleArcsecPerPx: number;
  /** Width of a star without guiding errors, full at half maximum. */
  fwhmArcsec: number;
  /** Bending between guide scope and tube; null off axis, where nothing bends between them, or where none was measured. */
  flexureArcsecPerMin: number | null;
  /** A guided log: its scatter, and how far the star crept from its place all the same; null without one. */
  guided: { raArcsec: number; decArcsec: number; creepArcsecPerMin: number; spanS: number } | null;
}
export interface LongFrame {
  /** Seconds until stars trail by a pixel; null where nothing says so. */
  flexureS: number | null;
  creepS: number | null;
  /** The shortest of them. */
  limitS: number | null;
  /** Width of a star with the scatter of guiding [″]; null without a log. It is the same for any frame of minutes. */
  widthArcsec: number | null;
  /** Longer over shorter width; null without a log. */
  aspect: number | null;
}

/** Length a rig is asked to hold: ten minutes [s]. */
export const LONG_FRAME_S = 600;
/** Longer over shorter width from which it is remarked on, and from which it is evident at a glance; common practice, no source. */
export const LONG_ASPECT = { remark: 1.1, evident: 1.25 } as const;
/** A log shorter than this says nothing of creep [s]; common practice, no source. */
const CREEP_SPAN_S = 900;
/** Creep below this is noise of the log, not motion [″/min]: half a second of arc in a quarter of an hour. */
const CREEP_SEEN = 0.5 / 15;

/**
 * How long a frame may be before what guiding leaves trails its stars, and how wide guiding makes them.
 * Widths add in squares, each axis by itself (Gaussian images).
 */
export function longFrame(h: FrameHold): LongFrame {
  const untilPixel = (rate: number | null | undefined) => (rate ? (60 * h.scaleArcsecPerPx) / rate : null);
  const g = h.guided;
  const flexureS = untilPixel(h.flexureArcsecPerMin);
  const creepS = untilPixel(
    g && g.spanS >= CREEP_SPAN_S && g.creepArcsecPerMin > CREEP_SEEN ? g.creepArcsecPerMin : null,
  );
  const axes = g && [g.raArcsec, g.decArcsec].map((rms) => Math.hypot(h.fwhmArcsec, FWHM_PER_SIGMA * rms));
  const limits = [flexureS, creepS].filter((s) => s !== null);
  return {
    flexureS,
    creepS,
    limitS: limits.length ? Math.min(...limits) : null,
    widthArcsec: axes ? Math.sqrt(axes[0]! * axes[1]!) : null,
    aspect: axes ? Math.max(...axes) / Math.min(...axes) : null,
  };
}
