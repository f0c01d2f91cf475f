import react from '@vitejs/plugin-react';
import { fileURLToPath } from 'node:url';
import { constants } from 'node:zlib';
import { defineConfig } from 'vite';
import { compression, defineAlgorithm } from 'vite-plugin-compression2';

export default defineConfig({
  root: import.meta.dirname,
  plugins: [
    react(),
    // As small as it gets, once: the server hands these out as they are.
    compression({
      include: /\.(js|css|svg)$/,
      threshold: 1000,
      algorithms: [defineAlgorithm('brotliCompress', { params: { [constants.BROTLI_PARAM_QUALITY]: 11 } })],
    }),
  ],
  // Its entry wraps one file of everything; of its sources only what is used is bundled, in each worker.
  resolve: { alias: { 'ml-matrix': fileURLToPath(new URL('src/index.js', import.meta.resolve('ml-matrix'))) } },
  worker: { format: 'es' },
  build: { target: 'es2022', chunkSizeWarningLimit: 1000 },
});
