// What every command needs before it starts: packages installed, node programs bundled. Run only when something is newer.
import { spawnSync } from 'node:child_process';
import { existsSync, mkdirSync, readdirSync, readFileSync, statSync, writeFileSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';

export const root = dirname(dirname(fileURLToPath(import.meta.url)));
const stamp = join(root, 'node_modules', '.vole-installed');

/** Runs a command; what it prints goes to standard error on wish, so that standard output stays the program's own. */
export function run(command, args, options = {}) {
  const stdio = options.quiet
    ? ['ignore', 'ignore', 'inherit']
    : options.aside
      ? ['ignore', process.stderr, 'inherit']
      : 'inherit';
  const result = spawnSync(command, args, { cwd: root, stdio, env: { ...process.env, ...options.env } });
  if (result.error) throw result.error;
  return result.status ?? 1;
}

function changed(path) {
  return existsSync(path) ? statSync(path).mtimeMs : 0;
}

function manifests() {
  const packages = readdirSync(join(root, 'packages')).map((name) => join(root, 'packages', name, 'package.json'));
  return [join(root, 'package.json'), join(root, 'package-lock.json'), ...packages.filter(existsSync)];
}

/** What is asked for, as text: the stamp keeps it, so that a fresh checkout of the same files installs nothing anew. */
function wanted() {
  return manifests()
    .map((path) => (existsSync(path) ? readFileSync(path, 'utf8') : ''))
    .join('\n');
}

export function ensureInstalled() {
  if (existsSync(stamp) && readFileSync(stamp, 'utf8') === wanted()) return;
  console.error('Installing packages (once; this takes a minute) ...');
  // `npm ci` fails on optional parts of other platforms that the lock does not list.
  if (run('npm', ['install', '--no-save', '--no-audit', '--no-fund', '--loglevel=error'], { aside: true }) !== 0) {
    throw new Error('Installing packages failed; see the lines above. Nothing else was changed.');
  }
  mkdirSync(dirname(stamp), { recursive: true });
  writeFileSync(stamp, wanted());
}

const BROWSERS = ['/usr/bin/chromium', '/usr/bin/chromium-browser', '/usr/bin/google-chrome'];

export function findBrowser() {
  return process.env.CHROMIUM_PATH ?? BROWSERS.find(existsSync);
}

/** How the browser is started by tests and by scripts: without a sandbox, which root has none of, drawing in software, silent. */
export const BROWSER_FLAGS = [
  '--no-sandbox',
  '--use-gl=angle',
  '--use-angle=swiftshader',
  '--enable-unsafe-swiftshader',
  '--disable-background-networking',
  '--disable-component-update',
  '--disable-sync',
  '--no-first-run',
  '--disable-quic',
];

export function ensureBrowser() {
  if (findBrowser()) return;
  console.error("Installing Debian's chromium for the browser tests (once) ...");
  run('apt-get', ['update', '-qq'], { quiet: true });
  run('apt-get', ['install', '-y', '--no-install-recommends', 'chromium'], {
    quiet: true,
    env: { DEBIAN_FRONTEND: 'noninteractive' },
  });
  if (!findBrowser())
    throw new Error('Chromium could not be installed. Install it (apt-get install chromium) or set CHROMIUM_PATH.');
}

/** The word processor that reads reports back in the browser tests. */
const OFFICE = '/usr/bin/soffice';

export function ensureOffice() {
  if (existsSync(OFFICE)) return;
  console.error("Installing Debian's libreoffice-writer-nogui, which reads reports back in the tests (once) ...");
  run('apt-get', ['update', '-qq'], { quiet: true });
  run('apt-get', ['install', '-y', '--no-install-recommends', 'libreoffice-writer-nogui'], {
    quiet: true,
    env: { DEBIAN_FRONTEND: 'noninteractive' },
  });
  if (!existsSync(OFFICE))
    throw new Error('LibreOffice could not be installed. Install it (apt-get install libreoffice-writer-nogui).');
}

function newestIn(folder) {
  let newest = 0;
  for (const entry of readdirSync(folder, { withFileTypes: true })) {
    if (entry.name === 'node_modules' || entry.name === 'dist') continue;
    const path = join(folder, entry.name);
    newest = Math.max(newest, entry.isDirectory() ? newestIn(path) : changed(path));
  }
  return newest;
}

/** Bundles a node program of the workspace into its dist folder if its sources are newer. */
export async function ensureNodeProgram(name, entries) {
  const folder = join(root, 'packages', name);
  const newest = Math.max(newestIn(join(folder, 'src')), newestIn(join(root, 'packages', 'core', 'src')));
  const outputs = Object.keys(entries).map((entry) => join(folder, 'dist', `${entry}.mjs`));
  if (outputs.every((output) => changed(output) > newest)) return;
  const { build } = await import('rolldown');
  await build({
    input: Object.fromEntries(Object.entries(entries).map(([entry, path]) => [entry, join(folder, path)])),
    platform: 'node',
    external: (id) => !id.startsWith('.') && !id.startsWith('/') && !id.startsWith('@vole/'),
    output: {
      dir: join(folder, 'dist'),
      format: 'esm',
      entryFileNames: '[name].mjs',
      chunkFileNames: '[name].mjs',
      sourcemap: true,
    },
    logLevel: 'warn',
  });
}

export const ensureCli = () =>
  ensureNodeProgram('cli', { vole: 'src/main.ts', worker: 'src/worker.ts', helper: 'src/helper.ts' });
export const ensureServer = () => ensureNodeProgram('server', { server: 'src/main.ts' });

/** Bundles core for the tests of what is built on it, each of which would load its hundreds of files one by one. @returns where each of its names is found */
export async function ensureCore() {
  const folder = join(root, 'packages', 'core');
  const names = Object.entries(JSON.parse(readFileSync(join(folder, 'package.json'), 'utf8')).exports);
  const entries = names.map(([name, path]) => [name === '.' ? 'index' : name.slice(2), path]);
  await ensureNodeProgram('core', Object.fromEntries(entries));
  return Object.fromEntries(
    names.map(([name], i) => [`@vole/core${name.slice(1)}`, join(folder, 'dist', `${entries[i][0]}.mjs`)]),
  );
}

/** Builds the page if its sources are newer. */
export async function ensurePage() {
  const folder = join(root, 'packages', 'web');
  const newest = Math.max(
    newestIn(folder),
    newestIn(join(root, 'packages', 'core', 'src')),
    changed(join(root, 'packages', 'core', 'package.json')),
    newestIn(join(root, 'examples')),
    newestIn(join(root, 'docs')),
  );
  if (changed(join(folder, 'dist', 'index.html')) > newest) return;
  console.error('Building the page ...');
  if (run('npx', ['vite', 'build', 'packages/web', '--logLevel', 'warn'], { aside: true }) !== 0)
    throw new Error('Building the page failed; see the lines above.');
}
