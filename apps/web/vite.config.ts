import tailwindcss from '@tailwindcss/vite';
import react from '@vitejs/plugin-react';
import { fileURLToPath } from 'node:url';
import { defineConfig } from 'vite';

export default defineConfig({
  root: fileURLToPath(new URL('.', import.meta.url)),
  plugins: [react(), tailwindcss()],
  resolve: { alias: { '@jarro/core': fileURLToPath(new URL('../../packages/core/src/index.ts', import.meta.url)) } },
  worker: { format: 'es' },
  server: { proxy: { '/api': 'http://127.0.0.1:8420' } },
});
