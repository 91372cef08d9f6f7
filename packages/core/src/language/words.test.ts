import { readdirSync, readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { FUNCTIONS } from './functions.ts';
import { isPureFunction, LAWS } from '../plan/functions.ts';
import { PART_WORDS, WORDS } from './words.ts';

const ALL = new Set(Object.values(WORDS).flat());
/** Types of tokens, which the parser asks for by `type`. */
const TOKEN_TYPES = ['date', 'name', 'percent', 'string'];

/** The words that the parser looks for, read off its own text. */
function wordsOfParser(): string[] {
  const folder = new URL('.', import.meta.url);
  const text = readdirSync(folder)
    .filter((name) => /^(?:parse|part-parser|token-stream)/.test(name) && !name.endsWith('.test.ts'))
    .map((name) => readFileSync(new URL(name, folder), 'utf8'))
    .join('\n');
  const asked = [...text.matchAll(/\b(?:is|takeIf|expect|after)\(((?:'[a-z]+'(?:,\s*)?)+)/g)].flatMap(([, words]) =>
    [...words!.matchAll(/'([a-z]+)'/g)].map(([, word]) => word!),
  );
  const compared = [...text.matchAll(/\.word === '([a-z]+)'|case '([a-z]+)':/g)].map(([, a, b]) => (a ?? b)!);
  return [...new Set([...asked, ...compared])].filter((word) => !TOKEN_TYPES.includes(word));
}

describe('the words of the language', () => {
  it('stand in one table, all that the parser looks for', () => {
    const read = wordsOfParser();
    expect(read.length).toBeGreaterThan(80);
    expect(read.filter((word) => !ALL.has(word))).toEqual([]);
  });
  it('stand in each list of it once', () => {
    for (const list of Object.values(WORDS)) expect([...new Set(list)]).toEqual(list);
    expect(PART_WORDS.size).toBe(WORDS.parts.length);
  });
});

describe('the functions of the language', () => {
  it('each have a meaning when a model runs', () => {
    const without = [...FUNCTIONS]
      .filter(([name, { draws }]) => (draws ? !(name in LAWS) && name !== 'chance' : !isPureFunction(name)))
      .map(([name]) => name);
    expect(without).toEqual([]);
    expect(FUNCTIONS.size).toBeGreaterThan(20);
  });
});
