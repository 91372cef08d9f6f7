import { readdirSync } from 'node:fs';
import { readFile, writeFile } from 'node:fs/promises';
import { createRequire } from 'node:module';
import { dirname, join } from 'node:path';
import { promisify } from 'node:util';
import { brotliCompress } from 'node:zlib';
import tailwind from '@tailwindcss/vite';
import react from '@vitejs/plugin-react';
import type { RolldownOptions } from 'rolldown';
import type { Plugin } from 'vite';
import { defineConfig } from 'vite';

const routerPackage = createRequire(import.meta.url).resolve('react-router/package.json');

const headers = { 'Cross-Origin-Opener-Policy': 'same-origin', 'Cross-Origin-Embedder-Policy': 'require-corp' };

/** The writer of DOCX brings a buffer of its own along; that the one of Node is left out need not be said. */
const onLog: NonNullable<RolldownOptions['onLog']> = (level, log, handler) => {
  if (!log.message?.includes('"buffer" has been externalized')) handler(level, log);
};

/** Puts a packed copy beside each script and style, so that the server need not pack them when they are asked for. */
const packed: Plugin = {
  name: 'packed',
  apply: 'build',
  async writeBundle({ dir }) {
    const assets = join(dir!, 'assets');
    const pack = async (name: string): Promise<void> =>
      writeFile(join(assets, `${name}.br`), await promisify(brotliCompress)(await readFile(join(assets, name))));
    await Promise.all(
      readdirSync(assets)
        .filter((name) => /\.(?:js|css)$/.test(name))
        .map(pack),
    );
  },
};

export default defineConfig({
  root: import.meta.dirname,
  plugins: [react(), tailwind(), packed],
  // Builds that are smaller: for browsers of today, and without what warns developers.
  resolve: {
    alias: [
      { find: /^dexie$/, replacement: 'dexie/dist/modern/dexie.mjs' },
      { find: /^react-router$/, replacement: join(dirname(routerPackage), 'dist/production/index.mjs') },
    ],
  },
  server: { headers },
  build: {
    outDir: 'dist',
    emptyOutDir: true,

    chunkSizeWarningLimit: 2000,
    rolldownOptions: { onLog },
  },
  worker: { format: 'es', rolldownOptions: { onLog, output: { entryFileNames: 'assets/[name]-[hash].js' } } },
});
