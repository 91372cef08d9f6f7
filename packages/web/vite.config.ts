import tailwind from '@tailwindcss/vite';
import react from '@vitejs/plugin-react';
import type { RolldownOptions } from 'rolldown';
import { defineConfig } from 'vite';

const headers = { 'Cross-Origin-Opener-Policy': 'same-origin', 'Cross-Origin-Embedder-Policy': 'require-corp' };

/** The writer of DOCX brings a buffer of its own along; that the one of Node is left out need not be said. */
const onLog: NonNullable<RolldownOptions['onLog']> = (level, log, handler) => {
  if (!log.message?.includes('"buffer" has been externalized')) handler(level, log);
};

export default defineConfig({
  root: import.meta.dirname,
  plugins: [react(), tailwind()],
  server: { headers },
  build: { outDir: 'dist', emptyOutDir: true, chunkSizeWarningLimit: 2000, rolldownOptions: { onLog } },
  worker: { format: 'es', rolldownOptions: { onLog, output: { entryFileNames: 'assets/[name]-[hash].js' } } },
});
