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

function importsOf(path: string): string[] {
  return [
    ...readFileSync(path, 'utf8').matchAll(
      /^\s*(?:import|export)\b[^'";]*?from\s+['"]([^'"]+)['"]|^\s*import\s+['"]([^'"]+)['"]/gm,
    ),
  ].map((match) => (match[1] ?? match[2])!);
}

/** Parts of core, and which others each may use. */
const MAY_USE: Record<string, readonly string[]> = {
  diagnostics: [],
  engine: ['diagnostics', 'engine'],
  measures: ['diagnostics', 'engine', 'measures'],
  language: ['diagnostics', 'language'],
  compile: ['diagnostics', 'language', 'engine', 'measures', 'compile'],
  studies: ['diagnostics', 'language', 'engine', 'measures', 'compile', 'studies'],
  formats: ['diagnostics', 'language', 'engine', 'measures', 'compile', 'studies', 'formats'],
};
const CORE_PACKAGES = ['zod', 'fflate', 'papaparse'];

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
    const graph = new Map(
      files.map((path) => [
        path,
        importsOf(path)
          .filter((t) => t.startsWith('.'))
          .map((t) => resolve(dirname(path), t)),
      ]),
    );
    const state = new Map<string, 'open' | 'done'>();
    const cycles: string[] = [];
    const visit = (path: string, trail: string[]): void => {
      if (state.get(path) === 'open') cycles.push([...trail, path].map((p) => relative(core, p)).join(' -> '));
      if (state.has(path)) return;
      state.set(path, 'open');
      for (const next of graph.get(path) ?? []) visit(next, [...trail, path]);
      state.set(path, 'done');
    };
    for (const path of graph.keys()) visit(path, []);
    expect(cycles.filter((cycle) => !isTypeOnly(cycle, core))).toEqual([]);
  });

  it('page, server and command line use core by its public face, and not one another', () => {
    for (const name of ['web', 'server', 'cli']) {
      const wrong = sources(join(PACKAGES, name)).flatMap((path) =>
        importsOf(path)
          .filter((target) =>
            /^@vole\//.test(target)
              ? target !== '@vole/core'
              : target.includes('/core/src') ||
                (/\.\.\/(web|server|cli)\//.test(target) && !target.includes(`/${name}/`)),
          )
          .map((target) => `${relative(PACKAGES, path)} uses ${target}`),
      );
      expect(wrong).toEqual([]);
    }
  });
});

/** Files that only share types may name one another: nothing of that is left when they run. */
function isTypeOnly(cycle: string, core: string): boolean {
  const steps = cycle.split(' -> ');
  return steps.slice(0, -1).some((from, i) => {
    const to = steps[i + 1]!.split('/').pop()!;
    const lines = readFileSync(join(core, from), 'utf8')
      .split('\n')
      .filter((line) => line.includes(`/${to}'`));
    return lines.length > 0 && lines.every((line) => /^\s*import type|^\s*export type/.test(line));
  });
}
