import { ensureCli, ensureInstalled, ensurePage, ensureServer } from './prepare.mjs';

ensureInstalled();
await Promise.all([ensureCli(), ensureServer(), ensurePage()]);
