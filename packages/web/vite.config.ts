import tailwind from '@tailwindcss/vite';
import react from '@vitejs/plugin-react';
import { defineConfig } from 'vite';

const headers = { 'Cross-Origin-Opener-Policy': 'same-origin', 'Cross-Origin-Embedder-Policy': 'require-corp' };

export default defineConfig({
  root: import.meta.dirname,
  plugins: [react(), tailwind()],
  server: { headers },
  build: { outDir: 'dist', emptyOutDir: true, chunkSizeWarningLimit: 2000 },
  worker: { format: 'es', rolldownOptions: { output: { entryFileNames: 'assets/[name]-[hash].js' } } },
});
