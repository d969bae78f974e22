import vue from '@vitejs/plugin-vue';
import { defaultClientConditions, defineConfig } from 'vite';

export default defineConfig({
  plugins: [vue()],
  resolve: { conditions: ['@keen/source', ...defaultClientConditions] },
  worker: { format: 'es' },
  html: { cspNonce: '__NONCE__' },
  build: {
    target: 'es2022',
    chunkSizeWarningLimit: 1100,
    assetsInlineLimit: 0,
    rolldownOptions: { treeshake: { manualPureFunctions: ['z', 'define'] } },
  },
  server: {
    host: '127.0.0.1',
    proxy: { '/api': 'http://127.0.0.1:4310', '/data': 'http://127.0.0.1:4310', '/feeds': 'http://127.0.0.1:4310' },
  },
});
