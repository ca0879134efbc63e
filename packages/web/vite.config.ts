import vue from '@vitejs/plugin-vue';
import { defineConfig } from 'vite';

export default defineConfig({
  plugins: [vue()],
  // workers start workers of their own
  worker: { format: 'es' },
  build: { target: 'es2022', chunkSizeWarningLimit: 1500 },
  server: { proxy: { '/api': `http://127.0.0.1:${process.env.DUSTING_PORT ?? 4180}` } },
});
