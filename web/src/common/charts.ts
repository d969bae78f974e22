import {
  Chart,
  Legend,
  LinearScale,
  LineController,
  LineElement,
  PointElement,
  ScatterController,
  Tooltip,
} from 'chart.js';
import annotation from 'chartjs-plugin-annotation';
import { computed } from 'vue';
import { useLight } from '../stores/light.ts';

Chart.register(Legend, LinearScale, LineController, LineElement, PointElement, ScatterController, Tooltip, annotation);
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
      ghost: get('--ghost'),
      surface: get('--surface'),
      font: { family: "'Atkinson Hyperlegible Mono', monospace", size: 12 },
    };
  });
}
export type ChartLook = ReturnType<typeof useChartLook>['value'];

/** A linear axis in the look of the page. */
export const axisOf = (look: ChartLook, title: string, more: object = {}) => ({
  type: 'linear' as const,
  grid: { color: look.line, lineWidth: 0.7 },
  border: { color: look.line },
  ticks: { color: look.ink2, font: look.font, maxTicksLimit: 8 },
  title: {
    display: title !== '',
    text: title,
    color: look.ink2,
    font: { ...look.font, family: "'Atkinson Hyperlegible Next Variable', sans-serif", size: 13 },
  },
  ...more,
});
