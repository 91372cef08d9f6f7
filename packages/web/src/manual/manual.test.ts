import { readdirSync, readFileSync, statSync } from 'node:fs';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import type { MarkedToken } from 'marked';
import { loadModel, readCsv, readMatch, readStudy } from '@vole/core';
import { walkTokens } from 'marked';
import { describe, expect, it } from 'vitest';
import { referenceEntry } from '../build/reference.ts';
import { PAGES, runnableAt, SECTIONS, targetOf } from './pages.ts';
import { searchManual } from './search.ts';
import { slugOf } from './slug.ts';

const SOURCES = fileURLToPath(new URL('..', import.meta.url));

function sources(folder: string): string[] {
  return readdirSync(folder).flatMap((name) => {
    const path = join(folder, name);
    return statSync(path).isDirectory() ? sources(path) : /(?<!\.test)\.tsx?$/.test(name) ? [path] : [];
  });
}

describe('the pages of the manual', () => {
  it('have a section each to which links lead, under names of their own', () => {
    const all = PAGES.flatMap(({ sections }) => sections.map(({ id }) => id));
    expect(new Set(all).size).toBe(all.length);
    expect(PAGES.map(({ id }) => id)).toEqual([
      'tour',
      'recipes',
      'statistics',
      'language',
      'studies',
      'match',
      'report',
      'files',
      'command-line',
    ]);
    expect(SECTIONS.get('language#order-and-timeline')?.title).toBe('Order and timeline');
  });

  it('lead with their links to sections that are there', () => {
    const broken: string[] = [];
    let links = 0;
    for (const { id, sections } of PAGES)
      for (const { tokens } of sections)
        void walkTokens([...tokens], (token) => {
          const link = token as MarkedToken;
          if (link.type !== 'link' || /^https?:/.test(link.href)) return;
          links++;
          const target = targetOf(link.href, id);
          const anchor = link.href.split('#')[1];
          // A page that is not in the manual leads nowhere, and is told by its name.
          if (anchor && target !== undefined && !target.endsWith(`#${anchor}`)) broken.push(`${id}: ${link.href}`);
          if (link.href.startsWith('#') && target === undefined) broken.push(`${id}: ${link.href}`);
        });
    expect(links).toBeGreaterThan(20);
    expect(broken).toEqual([]);
  });

  it('explain every heading of a result that leads to them', () => {
    const asked = sources(SOURCES).flatMap((path) =>
      readFileSync(path, 'utf8')
        .split('\n')
        .filter((line) => /<Meaning of=|\bmeans=|^ +means: '/.test(line))
        .flatMap((line) => [...line.matchAll(/["']([a-z]+(?:-[a-z]+)*)["']/g)].map(([, heading]) => heading!)),
    );
    expect(asked.length).toBeGreaterThan(15);
    expect(asked.filter((heading) => !SECTIONS.has(`statistics#${heading}`))).toEqual([]);
  });

  it('explain every word of the language that the editor knows an entry of', () => {
    for (const word of ['within', 'mixing', 'gamma', 'wrapping', 'summary', 'timeline', 'enter']) {
      const entry = referenceEntry(word);
      expect(entry, word).toBeDefined();
      expect(SECTIONS.has(`language#${slugOf(entry!.section)}`), entry!.section).toBe(true);
    }
  });

  it('open a model as a project, and a study with the model that stands before it', () => {
    const section = SECTIONS.get('recipes#where-is-the-threshold')!;
    const found = section.tokens.flatMap((_, i) => runnableAt(section, i) ?? []);
    expect(found).toHaveLength(2);
    expect(found[0]!.study).toBeUndefined();
    expect(found[1]).toMatchObject({
      model: found[0]!.model,
      study: expect.stringContaining('study Where it begins') as string,
    });
    const words = SECTIONS.get('studies#lines')!;
    expect(words.tokens.flatMap((_, i) => runnableAt(words, i) ?? [])).toEqual([]);
  });

  it('open a study of a tour with the model as it stands by then', () => {
    const tour = SECTIONS.get('tour#what-makes-the-difference')!;
    const [study] = tour.tokens.flatMap((_, i) => runnableAt(tour, i) ?? []);
    expect(study).toMatchObject({
      model: expect.stringContaining('parameter telling') as string,
      study: expect.stringContaining('vary telling') as string,
    });
  });

  it('open studies and matches without a model of their own with the demo, of which they are right', () => {
    const found = [...SECTIONS.values()].flatMap((section) =>
      section.tokens.flatMap((_, i) => runnableAt(section, i) ?? []),
    );
    const text = found.find(({ match }) => match)!.model;
    expect(text).toMatch(/^model Meadow year/);
    const model = { text, loaded: loadModel(text).loaded! };
    const studies = found.filter(({ model: of, study }) => of === text && study !== undefined);
    const matches = found.flatMap(({ match }) => match ?? []);
    expect([studies.length, matches.length]).toEqual([1, 1]);
    for (const { study } of studies) expect(readStudy(study!, model).diagnostics).toEqual([]);
    for (const { text: match, table, csv } of matches)
      expect(readMatch(match, model, new Map([[table, readCsv(csv)]])).diagnostics).toEqual([]);
  });
});

describe('the search of the manual', () => {
  const found = (question: string): string[] => searchManual(question).map(({ section }) => section.id);

  it('finds what a heading says first, and words within', () => {
    expect(found('bands over runs')[0]).toBe('statistics#bands-over-runs');
    expect(found('threshold')[0]).toBe('recipes#where-is-the-threshold');
    expect(found('latin hypercube')).toContain('studies#designs');
    expect(found('wrapping')).toContain('language#space-fields-zones');
  });

  it('forgives a wrong letter and an unfinished word, and shows the place', () => {
    expect(found('postirior')).toContain('statistics#posteriors');
    expect(found('extinc wilson')).toContain('statistics#shares-of-runs');
    const [first] = searchManual('wilson');
    expect(first!.piece.toLowerCase()).toContain('wilson');
    expect(first!.piece.length).toBeLessThan(260);
  });

  it('says nothing where nothing is, whatever is asked', () => {
    for (const question of ['', '   ', 'qqqxxyz', '((((', '*', 'constructor', '__proto__'])
      expect(() => searchManual(question)).not.toThrow();
    expect(found('qqqxxyzzz')).toEqual([]);
  });
});
