import react from '@vitejs/plugin-react';
import { defineConfig } from 'vite';

export default defineConfig({
  root: 'web',
  plugins: [react()],
  worker: { format: 'es' },
  optimizeDeps: { exclude: ['replicad-opencascadejs'] },
  build: { outDir: '../dist/web', emptyOutDir: true, chunkSizeWarningLimit: 1200, target: 'es2022' },
  server: { proxy: { '/demo': 'http://localhost:4180' } },
});
