import { dirname } from 'node:path';
import { fileURLToPath } from 'node:url';
import tailwind from '@tailwindcss/vite';
import react from '@vitejs/plugin-react';
import { defineConfig } from 'vite';

const root = dirname(fileURLToPath(import.meta.url));

export default defineConfig({
  root,
  plugins: [react(), tailwind()],
  build: { outDir: 'dist', emptyOutDir: true, chunkSizeWarningLimit: 1500, reportCompressedSize: false },
  // A worker is split like the pages: what it does not run, it does not load.
  worker: { format: 'es' },
  server: { host: '127.0.0.1', proxy: { '/api': process.env.BEVRIN_API ?? 'http://127.0.0.1:4181' } },
});
