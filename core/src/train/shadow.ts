/** Areas and distances of the prism's rectangle and the light's disk, in the plane of the prism. */

export interface Point {
  x: number;
  y: number;
}
/** The prism as a rectangle: inner edge at `innerEdge` from the axis along `angle` (radians), `depth` outward. */
export interface PrismPlace {
  angle: number;
  innerEdge: number;
  depth: number;
  width: number;
}

/** ∫√(r² − x²) dx */
const cap = (x: number, r: number): number => {
  const u = Math.min(1, Math.max(-1, x / r));
  return 0.5 * r * r * (u * Math.sqrt(1 - u * u) + Math.asin(u));
};

/**
 * Area common to a disk of radius r about the origin and the rectangle x0…x1 × y0…y1, exact: the span is cut where the
 * circle crosses the rectangle's horizontal edges, and each piece is integrated in closed form.
 */
export function diskRectangleArea(r: number, x0: number, x1: number, y0: number, y1: number): number {
  const from = Math.max(x0, -r);
  const to = Math.min(x1, r);
  if (to <= from || y1 <= -r || y0 >= r || y1 <= y0) return 0;
  const cuts = [from, to];
  for (const y of [y0, y1])
    if (Math.abs(y) < r) {
      const x = Math.sqrt(r * r - y * y);
      if (x > from && x < to) cuts.push(x);
      if (-x > from && -x < to) cuts.push(-x);
    }
  if (cuts.length > 2) cuts.sort((a, b) => a - b);
  let area = 0;
  for (let i = 1; i < cuts.length; i++) {
    const [a, b] = [cuts[i - 1]!, cuts[i]!];
    const m = (a + b) / 2;
    const h = Math.sqrt(Math.max(0, r * r - m * m));
    const top = h < y1 ? 'circle' : 'edge';
    const bottom = -h > y0 ? 'circle' : 'edge';
    if ((top === 'circle' ? h : y1) <= (bottom === 'circle' ? -h : y0)) continue;
    const arc = top === 'circle' || bottom === 'circle' ? cap(b, r) - cap(a, r) : 0;
    area += (top === 'circle' ? arc : y1 * (b - a)) + (bottom === 'circle' ? arc : -y0 * (b - a));
  }
  return area;
}

/** Share of the light's disk about a point of the prism's plane that the prism takes, 0…1. */
export function blockedFraction(at: Point, r: number, p: PrismPlace): number {
  const [c, s] = [Math.cos(p.angle), Math.sin(p.angle)];
  const along = at.x * c + at.y * s;
  const across = at.y * c - at.x * s;
  return (
    diskRectangleArea(
      r,
      p.innerEdge - along,
      p.innerEdge + p.depth - along,
      -p.width / 2 - across,
      p.width / 2 - across,
    ) /
    (Math.PI * r * r)
  );
}

const corners = (p: PrismPlace): Point[] => {
  const [c, s] = [Math.cos(p.angle), Math.sin(p.angle)];
  const place = (along: number, across: number) => ({ x: along * c - across * s, y: along * s + across * c });
  const [a, b, h] = [p.innerEdge, p.innerEdge + p.depth, p.width / 2];
  return [place(a, -h), place(b, -h), place(b, h), place(a, h)];
};

const segmentDistance = (q: Point, a: Point, b: Point): number => {
  const [dx, dy] = [b.x - a.x, b.y - a.y];
  const t = Math.min(1, Math.max(0, ((q.x - a.x) * dx + (q.y - a.y) * dy) / (dx * dx + dy * dy)));
  return Math.hypot(q.x - a.x - t * dx, q.y - a.y - t * dy);
};

/** Least distance between the prism and the rectangle |x| ≤ halfWidth, |y| ≤ halfHeight; 0 where they overlap. */
export function prismDistance(p: PrismPlace, halfWidth: number, halfHeight: number): number {
  const prism = corners(p);
  const sensor: Point[] = [
    { x: -halfWidth, y: -halfHeight },
    { x: halfWidth, y: -halfHeight },
    { x: halfWidth, y: halfHeight },
    { x: -halfWidth, y: halfHeight },
  ];
  if (overlap(prism, sensor)) return 0;
  let least = Infinity;
  for (const [one, other] of [
    [prism, sensor],
    [sensor, prism],
  ] as const)
    for (const q of one)
      for (let i = 0; i < 4; i++) least = Math.min(least, segmentDistance(q, other[i]!, other[(i + 1) % 4]!));
  return least;
}

/** Two rectangles overlap unless one of their edge directions separates them. */
function overlap(a: Point[], b: Point[]): boolean {
  for (const shape of [a, b])
    for (let i = 0; i < 2; i++) {
      const [p, q] = [shape[i]!, shape[i + 1]!];
      const [nx, ny] = [q.y - p.y, p.x - q.x];
      const span = (s: Point[]) => s.map((v) => v.x * nx + v.y * ny);
      const [sa, sb] = [span(a), span(b)];
      if (Math.max(...sa) < Math.min(...sb) || Math.max(...sb) < Math.min(...sa)) return false;
    }
  return true;
}

/**
 * Greatest share of the light's disk the prism takes for any centre in |x| ≤ halfWidth, |y| ≤ halfHeight. The share is
 * log-concave in the centre (an indicator convolved with another), so that a refined grid cannot miss the peak.
 */
export function worstShading(p: PrismPlace, r: number, halfWidth: number, halfHeight: number): number {
  const clampX = (x: number) => Math.min(halfWidth, Math.max(-halfWidth, x));
  const clampY = (y: number) => Math.min(halfHeight, Math.max(-halfHeight, y));
  const middle = p.innerEdge + p.depth / 2;
  // the corners of the prism pulled into the sensor are the likeliest starts; the grid catches the rest
  const starts = [...corners(p), { x: middle * Math.cos(p.angle), y: middle * Math.sin(p.angle) }].map((q) => ({
    x: clampX(q.x),
    y: clampY(q.y),
  }));
  const N = 24;
  for (let i = 0; i <= N; i++)
    for (let j = 0; j <= N; j++) starts.push({ x: halfWidth * ((2 * i) / N - 1), y: halfHeight * ((2 * j) / N - 1) });
  let best = starts[0]!;
  let most = -1;
  for (const q of starts) {
    const f = blockedFraction(q, r, p);
    if (f > most) [best, most] = [q, f];
  }
  let step = Math.max(halfWidth, halfHeight) / N;
  while (step > 1e-5 && most < 1 - 1e-12) {
    let moved = false;
    for (const [dx, dy] of [
      [step, 0],
      [-step, 0],
      [0, step],
      [0, -step],
    ] as const) {
      const q = { x: clampX(best.x + dx), y: clampY(best.y + dy) };
      const f = blockedFraction(q, r, p);
      if (f > most + 1e-15) {
        [best, most] = [q, f];
        moved = true;
      }
    }
    if (!moved) step /= 2;
  }
  return Math.max(0, most);
}
