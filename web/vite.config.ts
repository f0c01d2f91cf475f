import react from '@vitejs/plugin-react';
import { createRequire } from 'node:module';
import { join } from 'node:path';
import { constants } from 'node:zlib';
import { defineConfig } from 'vite';
import { compression, defineAlgorithm } from 'vite-plugin-compression2';

const core = createRequire(new URL('../core/package.json', import.meta.url));

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
  // Its entry wraps one file of everything; of its sources only what is used is bundled.
  resolve: { alias: { 'ml-matrix': join(core.resolve('ml-matrix'), '../src/index.js') } },
  worker: { format: 'es' },
  build: { target: 'es2022', chunkSizeWarningLimit: 1000 },
});
