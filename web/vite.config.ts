import vue from '@vitejs/plugin-vue';
import { defineConfig } from 'vite';
import { guide } from './guide.ts';
import { samples } from './samples.ts';

// The same isolation in development as the server gives: shared memory lets a running cut be cancelled.
const headers = { 'Cross-Origin-Opener-Policy': 'same-origin', 'Cross-Origin-Embedder-Policy': 'require-corp' };

export default defineConfig({
  root: import.meta.dirname,
  plugins: [vue(), samples(), guide()],
  worker: { format: 'es' },
  build: { target: 'es2022', chunkSizeWarningLimit: 1200 },
  server: { headers },
});
