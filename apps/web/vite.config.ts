import tailwindcss from '@tailwindcss/vite';
import react from '@vitejs/plugin-react';
import { defineConfig } from 'vite';
import { mainThread } from './main-thread.ts';

const isolation = {
  'Cross-Origin-Opener-Policy': 'same-origin',
  'Cross-Origin-Embedder-Policy': 'require-corp',
};

export default defineConfig({
  root: import.meta.dirname,
  plugins: [react(), tailwindcss(), mainThread()],
  // the server puts the number of each answer in its place
  html: { cspNonce: 'NONCE-OF-THIS-ANSWER' },
  worker: { format: 'es' },
  build: { target: 'es2022', chunkSizeWarningLimit: 1500, assetsInlineLimit: 0 },
  optimizeDeps: { exclude: ['manifold-3d'] },
  server: { headers: isolation, proxy: { '/api': 'http://127.0.0.1:4330' } },
});
