import { defineComponent, h } from 'vue';

/** A canvas cannot be looked at in a test; what a chart is given can. In the order of drawing. */
export const given: object[] = [];
const chart = (name: string) =>
  defineComponent({
    name,
    props: {
      data: { type: Object, required: true },
      options: { type: Object, required: true },
      plugins: { type: Array, default: () => [] },
    },
    setup: (props) => () => {
      given.push(props);
      return h('div');
    },
  });
export const [Line, Bar, Scatter, Chart] = ['Line', 'Bar', 'Scatter', 'Chart'].map(chart);
