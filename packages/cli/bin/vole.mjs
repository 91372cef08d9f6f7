#!/usr/bin/env node
import { fileURLToPath } from 'node:url';

// In the workspace the program is bundled from its sources when they are newer.
const prepare = new URL('../../../scripts/prepare.mjs', import.meta.url);
const { ensureCli, ensureInstalled } = await import(fileURLToPath(prepare));
ensureInstalled();
await ensureCli();
await import('../dist/vole.mjs');
