import { readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import type { FuzzKind } from './fuzz.ts';
import { tried } from './fuzz.ts';

/** Two thousand inputs a test run; `npm run fuzz` goes on beyond them. */
const COUNTS: Readonly<Record<FuzzKind, number>> = { text: 600, table: 900, bundle: 500 };
const KEPT = JSON.parse(readFileSync(new URL('fixtures/fuzz-seeds.json', import.meta.url), 'utf8')) as Record<
  FuzzKind,
  number[]
>;

describe('whatever comes in', () => {
  it.each(Object.entries(COUNTS) as [FuzzKind, number][])(
    'as a %s, %i times and from the seeds that once found something, is met as it should be',
    (kind, count) => {
      const seeds = [...KEPT[kind], ...Array.from({ length: count }, (_, i) => i + 1)];
      expect(seeds.flatMap((seed) => tried(kind, seed)?.replace(/^/, `${kind} ${seed} `) ?? [])).toEqual([]);
    },
    120_000,
  );
});
