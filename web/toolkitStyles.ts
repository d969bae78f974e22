import { createRequire } from 'node:module';
import postcss, { type ChildNode, type Container, type Declaration } from 'postcss';
import type { Plugin } from 'vite';
import type { Component, ComputedRef } from 'vue';
import { antTheme } from './src/theme/antd.ts';
import { LIGHTS, type Light } from './src/theme/lights.ts';

/** The toolkit's parts that a screen shows, or that stand in one of those, and how their classes begin. */
const PARTS = {
  button: 'ant-btn',
  checkbox: 'ant-checkbox',
  dropdown: 'ant-dropdown',
  empty: 'ant-empty',
  input: 'ant-input',
  'input-number': 'ant-input-number',
  menu: 'ant-menu',
  message: 'ant-message',
  modal: 'ant-modal',
  pagination: 'ant-pagination',
  popconfirm: 'ant-popconfirm',
  popover: 'ant-popover',
  progress: 'ant-progress',
  radio: 'ant-radio',
  select: 'ant-select',
  slider: 'ant-slider',
  space: 'ant-space',
  spin: 'ant-spin',
  switch: 'ant-switch',
  table: 'ant-table',
  tabs: 'ant-tabs',
  tooltip: 'ant-tooltip',
  wave: 'ant-wave',
} as const;

/** The class of everything that is the toolkit's. */
const OWN = 'of-toolkit';

const require = createRequire(import.meta.url);
type StyleHook = (prefix: ComputedRef<string>) => unknown;
const hookIn = (path: string): StyleHook => (require(`ant-design-vue/lib/${path}`) as { default: StyleHook }).default;

/** The toolkit's own sheet for one light. */
async function sheetIn(light: Light): Promise<string> {
  const { computed, createSSRApp, h } = require('vue') as typeof import('vue');
  const { renderToString } = require('vue/server-renderer') as typeof import('vue/server-renderer');
  const { ConfigProvider } = require('ant-design-vue') as { ConfigProvider: Component };
  const { createCache, extractStyle, StyleProvider } = require('ant-design-vue/lib/_util/cssinjs') as {
    createCache: () => object;
    extractStyle: (cache: object, plain: boolean) => string;
    StyleProvider: Component;
  };
  const Parts: Component = {
    setup() {
      hookIn('config-provider/style')(computed(() => 'anticon'));
      for (const [part, prefix] of Object.entries(PARTS))
        hookIn(part === 'wave' ? '_util/wave/style' : `${part}/style`)(computed(() => prefix));
      return () => null;
    },
  };
  const cache = createCache();
  const theme = antTheme(light);
  await renderToString(
    createSSRApp({ render: () => h(StyleProvider, { cache }, () => h(ConfigProvider, { theme }, () => h(Parts))) }),
  );
  // its rules hold for what is of the toolkit alone; the class that says so has a name of each light there, and one name here
  return extractStyle(cache, true).replace(/\bcss-[\w-]+/g, OWN);
}
/** One sheet for all lights: a value that is not the same in each is a custom property, set under the light the page is in. */
function together(sheets: string[]): string {
  const roots = sheets.map((sheet) => postcss.parse(sheet));
  const values = new Map<string, string[]>();
  const merge = (twins: ChildNode[]): void => {
    const [first] = twins;
    const head = (n: ChildNode) =>
      n.type === 'decl' ? n.prop : n.type === 'rule' ? n.selector : n.type === 'atrule' ? `@${n.name} ${n.params}` : '';
    if (new Set(twins.map(head)).size !== 1)
      throw new Error(`The lights’ sheets part at ${twins.map(head).join(' · ')}`);
    if (first!.type === 'decl') {
      const each = (twins as Declaration[]).map((d) => d.value);
      if (new Set(each).size === 1) return;
      const key = each.join('|');
      if (!values.has(key)) values.set(key, each);
      first!.value = `var(--toolkit-${[...values.keys()].indexOf(key)})`;
    } else if ('nodes' in first!) mergeAll(twins as Container[]);
  };
  const mergeAll = (parents: Container[]): void => {
    if (new Set(parents.map((p) => p.nodes?.length)).size !== 1)
      throw new Error('The lights’ sheets differ in length.');
    parents[0]!.nodes?.forEach((_, i) => merge(parents.map((p) => p.nodes![i]!)));
  };
  // the application reads from left to right
  for (const root of roots)
    root.walkRules((rule) => {
      rule.selectors = rule.selectors.filter((s) => !/-rtl\b/.test(s));
      if (!rule.selector) rule.remove();
    });
  mergeAll(roots);
  const tables = LIGHTS.map((light, l) => {
    const own = [...values.values()].map((each, i) => `--toolkit-${i}:${each[l]!}`);
    return `:root[data-light='${light}']{${own.join(';')}}`;
  });
  return [...tables, roots[0]!.toString()].join('\n');
}

/** What takes the place of the toolkit's working out: no rule. A part whose rules are not in the sheet is found at once. */
const noRules = (part: string): string => {
  const hook = part in PARTS ? '[(node) => node, own]' : `(() => { throw new Error('${part}: not in the sheet'); })()`;
  return `import { computed } from 'vue';
const own = computed(() => '${OWN}');
const hook = () => ${hook};
export { hook as default, hook as useRowStyle, hook as useColStyle };`;
};
const STYLE_OF = /ant-design-vue\/es\/(?:_util\/(?=wave)|(?!config-provider))([\w-]+)\/style(?:\/index)?\.js/;

const sheet = async () => together(await Promise.all(LIGHTS.map(sheetIn)));
const SHEET = 'toolkit.css';
/** Where the page takes it in. */
const PLACE = '<!-- the toolkit’s sheet -->';

/**
 * The toolkit works out its rules of style in the browser, again for every component that is made: a fifth of a screen's
 * time. Here they are worked out once, at the build, for every light. Their sheet stands before every other: a rule of the
 * application's own has the last word.
 */
export function toolkitStyles(): Plugin {
  return {
    name: 'toolkit-styles',
    enforce: 'pre',
    load(id) {
      const part = STYLE_OF.exec(id)?.[1];
      if (part) return noRules(part);
      if (/ant-design-vue\/es\/config-provider\/style\/index\.js/.test(id))
        return 'export default () => (node) => node;';
      return null;
    },
    async buildStart() {
      if (this.environment?.mode === 'build') {
        this.emitFile({ type: 'asset', name: SHEET, source: await sheet() });
      }
    },
    async transformIndexHtml(html, { bundle }) {
      const file = Object.values(bundle ?? {}).find((f) => f.type === 'asset' && f.names.includes(SHEET))?.fileName;
      if (bundle && !file) throw new Error('The toolkit’s sheet is not in the build.');
      const tag = file ? `<link rel="stylesheet" href="/${file}">` : `<style>${await sheet()}</style>`;
      return html.replace(PLACE, () => tag);
    },
  };
}
