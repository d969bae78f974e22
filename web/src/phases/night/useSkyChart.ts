import type { Candidate, GuideView, RingStep, TurnMode } from '@keen/core/guiding';
import { RAD } from '@keen/core/quantities';
import {
  angleDeg as separationDeg,
  direction,
  skyPlace,
  turn,
  type CatalogueEntry,
  type Panel,
  type Stars,
  skyEllipse,
} from '@keen/core/sky';
import { geoCircle, geoGnomonic, geoGraticule, geoPath } from 'd3-geo';
import { computed } from 'vue';

/** What the chart is drawn from. */
export interface SkyChartProps {
  centre: { raDeg: number; decDeg: number };
  radiusDeg: number;
  stars: Stars | null;
  panels: Panel[];
  chosenPanel: number;
  sensorMm: { width: number; height: number };
  focalLengthMm: number;
  view: GuideView | null;
  ring: readonly RingStep[];
  mode: TurnMode;
  angleDeg: number;
  guiderDeg: number;
  windowPaDeg: number | null;
  /** Whether the mount flips on it in the night looked at. */
  flips: boolean;
  candidates: readonly Candidate[];
  object: { name: string; raDeg: number; decDeg: number; sizeArcmin: number | null };
  nearby: readonly CatalogueEntry[];
  off: boolean;
}

export const SIZE = 620;
export const MIDDLE = SIZE / 2;
/** Radius of the sky, and of the ring round it [px]. */
export const SKY = 256;
export const RING = 274;
/** Without a ring the picture is cropped to the sky. */
export const BARE = 46;
const MOST_STARS = 1600;

/** Everything of the chart that is reckoned: places in the picture's own units. */
export function useSkyChart(props: Readonly<SkyChartProps>) {
  const scale = computed(() => SKY / Math.tan(Math.min(60, props.radiusDeg * 1.06) * RAD));
  const projection = computed(() =>
    geoGnomonic()
      .rotate([-props.centre.raDeg, -props.centre.decDeg])
      .reflectX(true)
      .scale(scale.value)
      .translate([MIDDLE, MIDDLE])
      .clipAngle(Math.min(75, props.radiusDeg * 1.5)),
  );
  const path = computed(() => geoPath(projection.value));
  const at = (p: { raDeg: number; decDeg: number }): [number, number] =>
    projection.value([p.raDeg, p.decDeg]) ?? [Number.NaN, Number.NaN];
  const polygon = (points: [number, number][]) =>
    `M${points.map((p) => p.map((v) => v.toFixed(1)).join(',')).join('L')}Z`;

  /** Lines of right ascension and declination about every quarter of the field. */
  const grid = computed(() => {
    const steps = [0.1, 0.2, 0.5, 1, 2, 5, 10, 20];
    const dec = steps.find((s) => s >= props.radiusDeg / 2.5) ?? 20;
    const ra = [...steps, 30, 45].find((s) => s >= dec / Math.max(0.05, Math.cos(props.centre.decDeg * RAD))) ?? 90;
    const reach = props.radiusDeg * 2;
    const [w, e] = [props.centre.raDeg - (reach / dec) * ra, props.centre.raDeg + (reach / dec) * ra];
    const down = (v: number, s: number) => Math.floor(v / s) * s;
    return path.value(
      geoGraticule()
        .extent([
          [down(w, ra), Math.max(-90, down(props.centre.decDeg - reach, dec))],
          [down(e, ra) + ra, Math.min(90, down(props.centre.decDeg + reach, dec) + dec)],
        ])
        .step([ra, dec])
        .precision(0.5)(),
    );
  });

  /** Stars in a few sizes, one path each: a thousand elements would make turning slow. */
  const dots = computed(() => {
    const s = props.stars;
    if (!s) return [];
    const seen: { x: number; y: number; mag: number }[] = [];
    const cos = Math.cos(props.radiusDeg * 1.1 * RAD);
    const [s0, c0] = [Math.sin(props.centre.decDeg * RAD), Math.cos(props.centre.decDeg * RAD)];
    for (let i = 0; i < s.length; i++) {
      const d = s.decDeg[i]! * RAD;
      if (s0 * Math.sin(d) + c0 * Math.cos(d) * Math.cos((s.raDeg[i]! - props.centre.raDeg) * RAD) < cos) continue;
      const [x, y] = projection.value([s.raDeg[i]!, s.decDeg[i]!]) ?? [Number.NaN, 0];
      if (Math.hypot(x - MIDDLE, y - MIDDLE) <= SKY) seen.push({ x, y, mag: s.mag[i]! });
    }
    seen.sort((a, b) => a.mag - b.mag);
    const shown = seen.slice(0, MOST_STARS);
    const faintest = shown.at(-1)?.mag ?? 12;
    const groups = new Map<number, string>();
    for (const p of shown) {
      const r = Math.min(7, Math.max(0.7, 0.75 + 0.62 * (faintest - p.mag)));
      const size = Math.round(r * 2.5) / 2.5;
      groups.set(
        size,
        `${groups.get(size) ?? ''}M${(p.x - size).toFixed(1)},${p.y.toFixed(1)}a${size},${size} 0 1 0 ${2 * size},0a${size},${size} 0 1 0 ${-2 * size},0`,
      );
    }
    return [...groups.values()];
  });

  const corners = (
    c: { raDeg: number; decDeg: number },
    f: number,
    pa: number,
    box: [number, number, number, number],
  ) => {
    const [s, k] = [Math.sin(pa * RAD), Math.cos(pa * RAD)];
    const [left, right, low, high] = box;
    return [
      [left, high],
      [right, high],
      [right, low],
      [left, low],
    ].map(([l, u]) => at(skyPlace(c, l! * k + u! * s, u! * k - l! * s, f)));
  };
  const fields = computed(() =>
    props.panels.map((p) => {
      const [w, h] = [props.sensorMm.width / 2, props.sensorMm.height / 2];
      const points = corners(p, props.focalLengthMm, p.angleDeg, [w, -w, -h, h]);
      return {
        d: polygon(points),
        // middle of the upper edge, as the picture is seen
        top: [(points[0]![0] + points[1]![0]) / 2, (points[0]![1] + points[1]![1]) / 2] as [number, number],
        middle: at(p),
      };
    }),
  );
  /** Each panel’s window, turned by so much from where it stands. */
  const windowsAt = (byDeg: number) => {
    const v = props.view;
    if (!v) return [];
    const half = { t: v.window.fieldMm.tangential / 2, r: v.window.fieldMm.radial / 2 };
    return props.panels.map((p) => {
      const pa =
        props.windowPaDeg === null ? p.angleDeg : turn(p.angleDeg + props.windowPaDeg - props.angleDeg + byDeg);
      const R = v.window.centreRadiusMm;
      return polygon(corners(p, v.window.focalLengthMm, pa, [half.t, -half.t, R - half.r, R + half.r]));
    });
  };
  const windows = computed(() => windowsAt(0));
  /** Where an off-axis window stands after the flip. */
  const opposite = computed(() => (props.flips && props.windowPaDeg !== null ? windowsAt(180) : []));
  const MOST_MARKS = 30;
  const MOST_LABELS = 4;
  /** Labels that would touch one already set are left out, those of the best stars last. */
  const marks = computed(() => {
    const taken: [number, number][] = outlines.value.map((o) => [o.xy[0], o.xy[1] + o.r + 13]);
    let labels = 0;
    return props.candidates.slice(0, MOST_MARKS).map((c, i) => {
      const xy = at(c);
      const spot: [number, number] = [xy[0] + 24, xy[1]];
      const free = taken.every(([x, y]) => Math.abs(x - spot[0]) > 46 || Math.abs(y - spot[1]) > 15);
      const labelled = free && labels < MOST_LABELS;
      if (labelled) {
        taken.push(spot);
        labels++;
      }
      return { ...c, i, xy, labelled };
    });
  });

  const outlines = computed(() => {
    const main = props.object;
    const own = props.nearby.find((o) => o.id === main.name);
    const shape = (o: CatalogueEntry | undefined, size: number) => {
      const major = o?.majorArcmin ?? size;
      return { size: major, minor: o?.minorArcmin ?? major, paDeg: o?.paDeg ?? 0, round: (o?.paDeg ?? null) === null };
    };
    const list = [
      ...(main.sizeArcmin
        ? [{ name: main.name, raDeg: main.raDeg, decDeg: main.decDeg, main: true, ...shape(own, main.sizeArcmin) }]
        : []),
      ...props.nearby
        .filter((o) => {
          const size = (o.majorArcmin ?? 0) / 60;
          const apart = separationDeg(direction(o.raDeg, o.decDeg), direction(main.raDeg, main.decDeg));
          // too small to see here, too large for an outline, or a part of the object itself
          return size > props.radiusDeg / 40 && size < props.radiusDeg && apart > (main.sizeArcmin ?? 0) / 120;
        })
        .slice(0, 7)
        .map((o) => ({ name: o.id, raDeg: o.raDeg, decDeg: o.decDeg, main: false, ...shape(o, 1) })),
    ];
    return list.flatMap((o) => {
      const xy = at(o);
      if (!(Math.hypot(xy[0] - MIDDLE, xy[1] - MIDDLE) < SKY - 6)) return [];
      const radius = Math.max(o.size / 120, props.radiusDeg / 80);
      const r = scale.value * Math.tan(radius * RAD);
      // without an angle nobody knows how it lies: a circle; with one the ellipse at its angle
      if (o.round)
        return [{ ...o, xy, r, d: path.value(geoCircle().center([o.raDeg, o.decDeg]).radius(radius).precision(4)()) }];
      const grown = (2 * radius) / (o.size / 60);
      const line = skyEllipse(o, 2 * radius, grown * (o.minor / 60), o.paDeg);
      return [
        { ...o, xy, r, d: path.value({ type: 'LineString', coordinates: line.map((p) => [p.raDeg, p.decDeg]) }) },
      ];
    });
  });

  /** Ring: direction on the sky of a step, and back. */
  const lead = computed(() =>
    props.mode === 'camera' ? (props.windowPaDeg ?? 0) - props.angleDeg : (props.windowPaDeg ?? 0) - props.guiderDeg,
  );
  const spot = (pa: number, r: number): [number, number] => [
    MIDDLE - r * Math.sin(pa * RAD),
    MIDDLE - r * Math.cos(pa * RAD),
  ];
  function arc(from: number, to: number, r: number): string {
    const [a, b] = [spot(from, r), spot(to, r)];
    return `M${a[0].toFixed(1)},${a[1].toFixed(1)}A${r},${r} 0 ${to - from > 180 ? 1 : 0} 0 ${b[0].toFixed(1)},${b[1].toFixed(1)}`;
  }
  function runs(of: (s: RingStep) => boolean): { from: number; to: number }[] {
    const list: { from: number; to: number }[] = [];
    props.ring.forEach((s, d) => {
      if (!of(s)) return;
      const last = list.at(-1);
      if (last && last.to === d) last.to = d + 1;
      else list.push({ from: d, to: d + 1 });
    });
    return list;
  }
  const arcs = computed(() => {
    const draw = (of: (s: RingStep) => boolean) =>
      runs(of)
        .map(({ from, to }) => {
          const [a, b] = [from - 0.5 + lead.value, to - 0.5 + lead.value];
          return b - a >= 359.9 ? arc(a, a + 180, RING) + arc(a + 180, a + 360, RING) : arc(a, b, RING);
        })
        .join('');
    return { lit: draw((s) => s.lit), barred: draw((s) => s.barred) };
  });
  const value = computed(() => (props.mode === 'camera' ? props.angleDeg : turn(props.guiderDeg)));
  const ticks = computed(() =>
    Array.from({ length: 12 }, (_, i) => ({ deg: 30 * i, xy: spot(30 * i + lead.value, RING + 21) })),
  );
  const handle = computed(() => spot(value.value + lead.value, RING));
  return { scale, grid, dots, fields, windows, opposite, marks, outlines, lead, arcs, value, ticks, handle };
}
