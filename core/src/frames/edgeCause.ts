import { phrase, words } from '../phrases/index.ts';
import type { FrameFinding } from './measure/diagnose.ts';

/** What a frame was pointed at and how the camera stood to the sky: frames alike in both share their nebulae. */
export interface EdgeSeen {
  /** Object and angle, in any form that tells them apart; null where it is not known. */
  field: string | null;
  findings: readonly FrameFinding[];
}

/** From so many frames of other fields on it can be decided; from this share of them on it is the prism, up to that it is not. */
const DECIDES = { least: 3, prism: 0.5, sky: 0.2 } as const;
const edgeOf = (findings: readonly FrameFinding[]): string | null => {
  const shadow = findings.find((f) => f.code === 'prism-shadow');
  const edge = shadow?.phrases[0].values.edge;
  return typeof edge === 'string' ? edge : null;
};

/** Angles this close show the same edge of the same nebula [°]. */
const SAME_ANGLE = 20;
/** The field a frame shows, as far as its record tells: the object, or else what its header calls it, and the angle. */
export function fieldOf(of: {
  projectId: string | null;
  object?: string | undefined;
  rotationDeg?: number | undefined;
}): string | null {
  const object = of.projectId ?? of.object;
  return object
    ? `${object} ${Math.round((((of.rotationDeg ?? 0) % 360) + 360) / SAME_ANGLE) % (360 / SAME_ANGLE)}`
    : null;
}

/**
 * One frame cannot tell the prism's shadow from a nebula along that edge; frames of another object, or taken at another
 * angle, can: the prism darkens them too. Decided findings say by how many; the sky's own are no fault.
 * @param frames measured frames of one train, each with its findings
 */
export function settleEdges(frames: readonly EdgeSeen[]): FrameFinding[][] {
  const edges = frames.map((f) => edgeOf(f.findings));
  return frames.map((frame, i) => {
    const edge = edges[i];
    if (!edge || frame.field === null) return [...frame.findings];
    const others = frames.flatMap((o, k) => (o.field !== null && o.field !== frame.field ? [edges[k]] : []));
    const of = others.length;
    const dark = others.filter((e) => e === edge).length;
    if (of < DECIDES.least) return [...frame.findings];
    const cause = dark >= DECIDES.prism * of ? 'prism' : dark <= DECIDES.sky * of ? 'sky' : null;
    if (!cause) return [...frame.findings];
    return frame.findings.map((f): FrameFinding => {
      if (f.code !== 'prism-shadow') return f;
      const evidence = phrase(cause === 'prism' ? 'frame.edge-prism' : 'frame.edge-sky', { edge, dark, of });
      const advice = phrase(cause === 'prism' ? 'frame.edge-prism-advice' : 'frame.edge-sky-advice', { edge });
      const severity = cause === 'prism' ? 'bad' : 'good';
      return { ...f, severity, evidence: words(evidence), advice: words(advice), phrases: [evidence, advice] };
    });
  });
}
