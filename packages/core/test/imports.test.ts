import { readdirSync, readFileSync, statSync } from 'node:fs';
import { dirname, join, relative, resolve } from 'node:path';
import { fileURLToPath } from 'node:url';
import { describe, expect, it } from 'vitest';

const PACKAGES = fileURLToPath(new URL('../../', import.meta.url));

function sources(folder: string): string[] {
  return readdirSync(folder).flatMap((name) => {
    const path = join(folder, name);
    if (name === 'node_modules' || name === 'dist') return [];
    return statSync(path).isDirectory() ? sources(path) : /\.tsx?$/.test(name) ? [path] : [];
  });
}

/** What a file imports: everything, or without the imports of types alone. */
function importsOf(path: string, which: 'all' | 'values' = 'all'): string[] {
  const statements = readFileSync(path, 'utf8').matchAll(
    /^\s*(?:import|export)\b([^'";]*?)from\s+['"]([^'"]+)['"]|^\s*import\s+['"]([^'"]+)['"]/gm,
  );
  return [...statements]
    .filter((match) => which === 'all' || !/^\s*type\b/.test(match[1] ?? ''))
    .map((match) => (match[2] ?? match[3])!);
}

/** Parts of core, and which others each may use. */
const MAY_USE: Record<string, readonly string[]> = {
  diagnostics: [],
  sines: [],
  math: ['sines'],
  calendar: ['calendar'],
  csv: [],
  parquet: ['csv'],
  xml: [],
  graphml: ['xml'],
  'raster-text': [],
  digest: [],
  maps: ['math', 'digest', 'maps'],
  forms: ['math', 'maps', 'forms'],
  engine: ['diagnostics', 'calendar', 'math', 'forms', 'engine'],
  measures: ['diagnostics', 'math', 'engine', 'measures'],
  language: ['diagnostics', 'calendar', 'maps', 'forms', 'language'],
  plan: ['diagnostics', 'math', 'maps', 'forms', 'language', 'engine', 'measures', 'plan'],
  'source-writer': [],
  kernel: ['sines', 'math', 'forms', 'engine', 'plan', 'source-writer', 'kernel'],
  state: ['diagnostics', 'math', 'forms', 'engine', 'plan', 'kernel', 'state'],
  lower: ['diagnostics', 'calendar', 'forms', 'language', 'engine', 'plan', 'lower'],
  interpret: ['diagnostics', 'math', 'forms', 'engine', 'measures', 'plan', 'interpret'],
  javascript: [
    'diagnostics',
    'math',
    'forms',
    'engine',
    'measures',
    'plan',
    'source-writer',
    'kernel',
    'state',
    'javascript',
  ],
  load: ['diagnostics', 'maps', 'language', 'plan', 'lower', 'kernel', 'javascript'],
  runs: [
    'diagnostics',
    'maps',
    'forms',
    'language',
    'engine',
    'measures',
    'plan',
    'state',
    'lower',
    'javascript',
    'load',
    'runs',
  ],
  studies: [
    'digest',
    'diagnostics',
    'calendar',
    'math',
    'maps',
    'csv',
    'parquet',
    'graphml',
    'language',
    'engine',
    'measures',
    'plan',
    'interpret',
    'javascript',
    'load',
    'runs',
    'mean-field',
    'studies',
  ],
  'mean-field': ['diagnostics', 'math', 'language', 'plan', 'mean-field'],
  report: [
    'digest',
    'maps',
    'diagnostics',
    'calendar',
    'csv',
    'xml',
    'engine',
    'language',
    'plan',
    'load',
    'mean-field',
    'studies',
    'report',
  ],
  formats: [
    'digest',
    'diagnostics',
    'calendar',
    'csv',
    'maps',
    'language',
    'engine',
    'measures',
    'plan',
    'load',
    'studies',
    'formats',
  ],
};
const CORE_PACKAGES = [
  'zod/mini',
  'zod/v4/locales/en.js',
  'fflate',
  'papaparse',
  'jstat',
  'ml-matrix',
  'simple-statistics',
  'fft.js',
  '@noble/hashes/sha2.js',
  '@noble/hashes/utils.js',
  'd3-dsv',
  'd3-scale',
  'd3-shape',
  'docx',
  'hyparquet-writer/src/index.js',
  'graphology',
  'graphology-communities-louvain',
  'graphology-components',
  'graphology-layout-forceatlas2',
  'graphology-shortest-path/unweighted.js',
  'saxes',
  'flatqueue',
];

describe('who may import whom', () => {
  const core = join(PACKAGES, 'core/src');
  const files = sources(core).filter((path) => !path.endsWith('.test.ts') && !path.endsWith('index.ts'));
  const partOf = (path: string): string => relative(core, path).split(/[/.]/)[0]!;

  it('inside core, arrows point one way', () => {
    const forbidden = files.flatMap((path) =>
      importsOf(path)
        .filter((target) => target.startsWith('.'))
        .flatMap((target) => {
          const used = partOf(resolve(dirname(path), target));
          return MAY_USE[partOf(path)]?.includes(used) ? [] : [`${relative(core, path)} uses ${used}`];
        }),
    );
    expect(files.length).toBeGreaterThan(30);
    expect(forbidden).toEqual([]);
  });

  it('core uses no part of Node, no page, and few packages', () => {
    const outside = files.flatMap((path) => importsOf(path).filter((target) => !target.startsWith('.')));
    expect(outside.filter((name) => !CORE_PACKAGES.includes(name))).toEqual([]);
  });

  it('core has no cycle of imports', () => {
    expect(cyclesOf(files, core)).toEqual([]);
  });

  it('page, server and command line use core by its public face, and not one another', () => {
    const faces = Object.keys(
      (JSON.parse(readFileSync(join(PACKAGES, 'core/package.json'), 'utf8')) as { exports: object }).exports,
    ).map((name) => name.replace(/^\./, '@vole/core'));
    for (const name of ['web', 'server', 'cli']) {
      const wrong = sources(join(PACKAGES, name)).flatMap((path) =>
        importsOf(path)
          .filter((target) =>
            /^@vole\//.test(target)
              ? !faces.includes(target)
              : target.includes('/core/src') ||
                (/\.\.\/(web|server|cli)\//.test(target) && !target.includes(`/${name}/`)),
          )
          .map((target) => `${relative(PACKAGES, path)} uses ${target}`),
      );
      expect(wrong).toEqual([]);
    }
  });
});

/** Parts of the page, each of which may use those before it; views use no other view. */
const WEB_LAYERS = [
  'words',
  'tables',
  'storage',
  'store',
  'simulation',
  'observed',
  'studies',
  'session',
  'files',
  'manual',
  'drawing',
  'charts',
  'records',
  'mean-field',
  'checks',
  'live',
  'ribbon',
  'shell',
];
const WEB_VIEWS = ['projects', 'build', 'watch', 'repeat', 'vary', 'match', 'tell'];
/** Workers answer requests that these parts make. */
const WEB_WORKERS = ['simulation', 'observed', 'studies', 'session', 'checks', 'build'];

describe('who may import whom in the page', () => {
  const web = join(PACKAGES, 'web/src');
  const files = sources(web).filter((path) => !path.endsWith('.test.ts'));
  const partOf = (path: string): string => relative(web, path).split('/')[0]!;
  const mayUse = (part: string): readonly string[] => {
    if (part === 'workers') return WEB_WORKERS;
    const layer = WEB_LAYERS.indexOf(part);
    return WEB_VIEWS.includes(part) ? WEB_LAYERS : WEB_LAYERS.slice(0, layer);
  };

  it('arrows between its parts point one way, and no view uses another', () => {
    const inParts = files.filter((path) => relative(web, path).includes('/'));
    const forbidden = inParts.flatMap((path) =>
      importsOf(path)
        .filter((target) => target.startsWith('.'))
        .map((target) => resolve(dirname(path), target))
        .filter(
          (target) =>
            target.startsWith(web) && partOf(target) !== partOf(path) && !mayUse(partOf(path)).includes(partOf(target)),
        )
        .map((target) => `${relative(web, path)} uses ${relative(web, target)}`),
    );
    expect(new Set(inParts.map(partOf))).toEqual(new Set([...WEB_LAYERS, ...WEB_VIEWS, 'workers']));
    expect(forbidden).toEqual([]);
  });

  it('it has no cycle of imports', () => {
    expect(cyclesOf(files, web)).toEqual([]);
  });
});

/** Circles of imports that are left when the program runs: files that only share types may name one another. */
function cyclesOf(files: readonly string[], root: string): string[] {
  const graph = new Map(
    files.map((path) => [
      path,
      importsOf(path, 'values')
        .filter((target) => target.startsWith('.'))
        .map((target) => resolve(dirname(path), target)),
    ]),
  );
  const state = new Map<string, 'open' | 'done'>();
  const cycles: string[] = [];
  const visit = (path: string, trail: string[]): void => {
    if (state.get(path) === 'open') cycles.push([...trail, path].map((each) => relative(root, each)).join(' -> '));
    if (state.has(path)) return;
    state.set(path, 'open');
    for (const next of graph.get(path) ?? []) visit(next, [...trail, path]);
    state.set(path, 'done');
  };
  for (const path of graph.keys()) visit(path, []);
  return cycles;
}
