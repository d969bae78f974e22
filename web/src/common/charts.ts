import { clock, clockMarks } from './times.ts';
import {
  BarController,
  BarElement,
  CategoryScale,
  Chart,
  Decimation,
  Legend,
  LinearScale,
  LineController,
  LineElement,
  LogarithmicScale,
  PointElement,
  ScatterController,
  Tooltip,
  type Scale,
} from 'chart.js';
import { figure } from '@keen/core/quantities';
import annotation from 'chartjs-plugin-annotation';
import zoom from 'chartjs-plugin-zoom';
import { computed } from 'vue';
import { filterLook, HATCH, HATCH_TILE } from './filters.ts';
import { useLight } from '../stores/light.ts';

Chart.register(
  BarController,
  BarElement,
  CategoryScale,
  Decimation,
  Legend,
  LinearScale,
  LineController,
  LineElement,
  LogarithmicScale,
  PointElement,
  ScatterController,
  Tooltip,
  annotation,
  zoom,
);
Chart.defaults.animation = false;
Chart.defaults.plugins.legend.display = false;

/** Colours and type of the page for charts, following its light. */
export function useChartLook() {
  const light = useLight();
  return computed(() => {
    void light.light;
    const style = getComputedStyle(document.documentElement);
    const get = (name: string) => style.getPropertyValue(name).trim();
    const red = light.light === 'dark-adapted';
    return {
      red,
      ink: get('--ink'),
      ink2: get('--ink-2'),
      line: get('--line'),
      accent: get('--accent'),
      bad: get('--bad'),
      good: get('--good'),
      goodWash: get('--good-wash'),
      caution: get('--caution'),
      violet: get('--violet'),
      edge: get('--lane-edge'),
      lane: get('--lane'),
      ghost: get('--ghost'),
      surface: get('--surface'),
      textFont: get('--text-font') || 'sans-serif',
      font: { family: get('--mono-font') || 'monospace', size: 12 },
    };
  });
}
export type ChartLook = ReturnType<typeof useChartLook>['value'];

/** A linear axis in the look of the page. */
export const axisOf = (look: ChartLook, title: string, more: object = {}) => ({
  type: 'linear' as const,
  grid: { color: look.line, lineWidth: 0.7 },
  border: { color: look.line },
  ticks: { color: look.ink2, font: look.font, maxTicksLimit: 8, includeBounds: false },
  title: {
    display: title !== '',
    text: title,
    color: look.ink2,
    font: { ...look.font, family: look.textFont, size: 13 },
  },
  ...more,
});

/** An axis of time, by the clock of a place. */
export const clockAxis = (look: ChartLook, timeZone: string) =>
  axisOf(look, '', {
    afterBuildTicks: (axis: Scale) =>
      (axis.ticks = clockMarks(axis.min, axis.max, timeZone).map((value) => ({ value }))),
    ticks: {
      color: look.ink2,
      font: look.font,
      // a narrow chart shows fewer of them, upright
      maxRotation: 0,
      autoSkipPadding: 10,
      callback: (v: number | string) => clock(Number(v), timeZone),
    },
  });

/** Ticks of an axis with its unit at each figure, where a title would hardly be read; as many decimals as their step needs. */
export const ticksOf = (look: ChartLook, unit: string) => ({
  color: look.ink2,
  font: look.font,
  maxTicksLimit: 8,
  includeBounds: false,
  callback: (v: string | number, _i: number, all: readonly { value: number }[]) => {
    const step = all.length > 1 ? Math.abs(all[1]!.value - all[0]!.value) : 1;
    return `${figure(Number(v), step >= 1 ? 0 : step >= 0.1 ? 1 : 2)}${unit}`;
  },
});

/** The note beside the hand, in the light of the page. */
export const noteLook = (look: ChartLook) => ({
  backgroundColor: look.surface,
  borderColor: look.line,
  borderWidth: 1,
  titleColor: look.ink,
  bodyColor: look.ink,
  footerColor: look.ink2,
  multiKeyBackground: look.surface,
  titleFont: look.font,
  bodyFont: look.font,
  boxWidth: 10,
  boxHeight: 10,
});

/** Fill of a filter in a chart: the colour of its light with its hatch; by red light the hatch alone. */
export function hatched(look: ChartLook, filter: string): string | CanvasPattern {
  const { colour, hatch } = filterLook(filter);
  const ground = look.red ? look.surface : colour;
  const tile = document.createElement('canvas');
  [tile.width, tile.height] = [HATCH_TILE, HATCH_TILE];
  const draw = tile.getContext('2d');
  if (!draw || hatch === 'none') return ground;
  draw.fillStyle = ground;
  draw.fillRect(0, 0, HATCH_TILE, HATCH_TILE);
  draw.strokeStyle = look.red ? look.ink2 : 'rgb(255 255 255 / 0.35)';
  draw.lineWidth = 1.1;
  draw.stroke(new Path2D(HATCH[hatch]));
  return draw.createPattern(tile, 'repeat') ?? ground;
}
