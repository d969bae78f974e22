/** What the screens are made with, by its name in the bundle of their tests; the one list for who bundles and who resolves. */
export const TOOLKIT = {
  vue: 'vue',
  router: 'vue-router',
  pinia: 'pinia',
  'test-utils': '@vue/test-utils',
  toolkit: 'ant-design-vue',
  vueuse: '@vueuse/core',
  query: '@tanstack/vue-query',
  draggable: 'vue-draggable-plus',
  icons: '@ant-design/icons-vue',
};
