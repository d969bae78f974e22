import { skyPlace, turn } from '@keen/core/sky';
import type { Ref } from 'vue';

interface Hooks {
  svg: Ref<SVGSVGElement | undefined>;
  /** Side of what is seen, in the picture's own units. */
  size: () => number;
  off: () => boolean;
  /** The angle being turned, and by how much its direction on the sky leads it [deg]. */
  value: () => number;
  lead: () => number;
  centre: () => { raDeg: number; decDeg: number };
  pxPerRadian: () => number;
  turned: (deg: number) => void;
  moved: (raDeg: number, decDeg: number) => void;
}

/** Turning by the ring or the window, moving by the field, and the same by keys. */
export function useSkyDrag(h: Hooks) {
  type Held =
    | { kind: 'turn'; by: number }
    | { kind: 'move'; x: number; y: number; from: { raDeg: number; decDeg: number }; scale: number };
  let held: Held | null = null;

  function point(e: PointerEvent): { x: number; y: number } {
    const box = h.svg.value!.getBoundingClientRect();
    // the picture is square inside whatever box it got
    const side = Math.min(box.width, box.height);
    return {
      x: ((e.clientX - box.left - (box.width - side) / 2) / side) * h.size() - h.size() / 2,
      y: ((e.clientY - box.top - (box.height - side) / 2) / side) * h.size() - h.size() / 2,
    };
  }
  const direction = (p: { x: number; y: number }) => (Math.atan2(-p.x, -p.y) * 180) / Math.PI;
  const rounded = (deg: number) => turn(Math.round(deg * 2) / 2);

  function grabRing(e: PointerEvent): void {
    if (h.off()) return;
    const pa = direction(point(e));
    const onTrack = (e.target as Element).classList.contains('track');
    held = { kind: 'turn', by: onTrack ? 0 : h.value() + h.lead() - pa };
    h.svg.value!.setPointerCapture(e.pointerId);
    if (onTrack) h.turned(rounded(pa - h.lead()));
  }
  function grabField(e: PointerEvent): void {
    if (h.off()) return;
    held = { kind: 'move', ...point(e), from: { ...h.centre() }, scale: h.pxPerRadian() };
    h.svg.value!.setPointerCapture(e.pointerId);
  }
  function drag(e: PointerEvent): void {
    if (!held) return;
    const p = point(e);
    if (held.kind === 'turn') {
      h.turned(rounded(direction(p) + held.by - h.lead()));
      return;
    }
    // the sky is carried along with the hand's opposite: the field stays in the middle of the chart
    const to = skyPlace(held.from, -(p.x - held.x), -(p.y - held.y), held.scale);
    h.moved(Math.round(to.raDeg * 1e4) / 1e4, Math.round(to.decDeg * 1e4) / 1e4);
  }
  const drop = (): void => {
    held = null;
  };
  function nudge(e: KeyboardEvent): void {
    const way = { ArrowLeft: 1, ArrowUp: 1, ArrowRight: -1, ArrowDown: -1 }[e.key];
    if (!way || h.off()) return;
    e.preventDefault();
    h.turned(turn(Math.round((h.value() + way * (e.shiftKey ? 10 : e.altKey ? 0.1 : 1)) * 10) / 10));
  }
  return { grabRing, grabField, drag, drop, nudge };
}
