import vue from '@vitejs/plugin-vue';
import { toolkitStyles } from './toolkitStyles.ts';
import { defaultClientConditions, defineConfig } from 'vite';

export default defineConfig({
  plugins: [vue(), toolkitStyles()],
  // while one works on it, the toolkit is made ready by itself
  optimizeDeps: { rolldownOptions: { plugins: [toolkitStyles()] } },
  resolve: { conditions: ['@keen/source', ...defaultClientConditions] },
  worker: { format: 'es' },
  html: { cspNonce: '__NONCE__' },
  build: {
    target: 'es2022',
    // what is shared is in one file
    chunkSizeWarningLimit: 1500,
    assetsInlineLimit: 0,
    // a screen's rules of style are small: one sheet instead of one more request for each of its parts
    cssCodeSplit: false,
    rolldownOptions: {
      treeshake: { manualPureFunctions: ['z', 'define'] },
      // what many screens are made of comes in one file; each file more is one more request before the first screen
      output: {
        codeSplitting: {
          groups: [
            { name: 'theme', test: /theme.*\.css/, priority: 1 },
            // what others make changes seldom: it stays in the browser when a new edition of the rest comes
            {
              name: 'toolkit',
              test: /node_modules\/(@?ant-design|dom-|scroll-into|resize-observer|async-validator)/,
              minShareCount: 6,
              priority: 2,
            },
            { name: 'libraries', test: /node_modules/, minShareCount: 6, priority: 1 },
            { name: 'shared', minShareCount: 6 },
          ],
        },
      },
    },
  },
  server: {
    host: '127.0.0.1',
    proxy: { '/api': 'http://127.0.0.1:4310', '/data': 'http://127.0.0.1:4310', '/feeds': 'http://127.0.0.1:4310' },
  },
});
