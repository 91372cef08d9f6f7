import { strFromU8, strToU8, unzipSync, zipSync } from 'fflate';
import { applyEdits } from '../src/diagnostics.ts';
import type { Bundle } from '../src/index.ts';
import { BundleError, formatModel, loadModel, lookAtTable, readBundle, sheetRows, writeBundle } from '../src/index.ts';
import type { SheetRow } from '../src/language/sheet.ts';
import { SheetProblem } from '../src/language/sheet.ts';
import { readSeries } from '../src/studies/match/observations.ts';
import { planOf } from './models.ts';
import { EXAMPLE_MAPS } from './example-maps.ts';
import { TEXTS, Typist } from './typist.ts';

/**
 * Inputs by the thousand, each from its seed: texts with slips of the hand, tables of anything, damaged bundles. Each is tried and gives
 * what is wrong with how it was met, if anything is. Seeds that once found something are kept in fixtures/fuzz-seeds.json.
 */

export type FuzzKind = 'text' | 'table' | 'bundle';

export const FUZZERS: Readonly<Record<FuzzKind, (seed: number) => string | undefined>> = {
  text: fuzzText,
  table: fuzzTable,
  bundle: fuzzBundle,
};

/** What is wrong, where an input is met with something that is thrown. */
export function tried(kind: FuzzKind, seed: number): string | undefined {
  try {
    return FUZZERS[kind](seed);
  } catch (error) {
    return `threw ${String(error)}`;
  }
}

function fuzzText(seed: number): string | undefined {
  const typist = new Typist(seed);
  const text = typist.slip(TEXTS[typist.below(TEXTS.length)]!, 1 + typist.below(8));
  const { loaded, diagnostics } = loadModel(text, EXAMPLE_MAPS);
  for (const { code, span, message, fixes } of diagnostics) {
    if (code === 'internal/unforeseen') return `was not foreseen: ${message}`;
    if (!(span.start >= 0 && span.start <= span.end && span.end <= text.length)) return `${code} lies outside the text`;
    if (/undefined|NaN|\[object/.test(message)) return `${code} says “${message}”`;
    for (const { edits } of fixes ?? []) applyEdits(text, edits);
  }
  if ((loaded === undefined) !== diagnostics.some((d) => d.severity === 'error')) return 'is right and wrong at once';
  const formatted = formatModel(text);
  if (loaded && !loadModel(formatted, EXAMPLE_MAPS).loaded) return 'is wrong once it is in the usual layout';
  if (loaded && formatModel(formatted) !== formatted) return 'has no usual layout that stays';
  return undefined;
}

const CELLS = [
  '',
  ' ',
  '3',
  '-1.5',
  '1e400',
  '1e-400',
  '0x12',
  'NA',
  'NaN',
  '“x”',
  '"',
  '""',
  "'",
  '#',
  '2031-03-05',
  '2031-13-40',
  '31.12.2031',
  'constructor',
  '__proto__',
  'voles',
  '1,5',
  '1;5',
  '\u00fc',
  '\u0000',
  '9'.repeat(400),
];
const BREAKS = ['\n', '\n', '\n', '\r\n', '\n\n', '\n# remark\n', ''];
const PLAN = planOf(
  'model T\nclock\n  step 1 day from 2031-03-01\n  end after 9 days\nagent A\n  start 2\nmeasure voles = count A\nmeasure constructor = count A\n',
);

function fuzzTable(seed: number): string | undefined {
  const typist = new Typist(seed);
  const from = <T>(list: readonly T[]): T => list[typist.below(list.length)]!;
  const mark = from([',', ';', '\t']);
  const columns = 1 + typist.below(5);
  const row = (): string =>
    Array.from({ length: Math.max(0, columns + typist.below(3) - 1) }, () =>
      typist.below(3) > 0 ? String(typist.below(100)) : from(CELLS),
    ).join(mark);
  const text = Array.from({ length: typist.below(12) }, () => row() + from(BREAKS)).join('');
  const lines = text.split(/\r\n|\r|\n/).length;
  let sheet: readonly SheetRow[];
  try {
    sheet = sheetRows(text);
  } catch (error) {
    if (!(error instanceof SheetProblem)) throw error;
    return error.line < 1 || error.line > lines ? `says line ${error.line} of ${lines} lines` : undefined;
  }
  const [header, ...rows] = sheet;
  const names = header?.cells ?? [];
  try {
    lookAtTable(text);
  } catch (error) {
    if (!(error instanceof Error) || error.name !== 'Error') throw error;
  }
  const time = { column: from([...names, 'date']), is: from([{ date: undefined }, { every: 7 }]) };
  const { observations, problems } = readSeries(
    { header: names, rows },
    time,
    { columns: [from([...names, 'voles', 'constructor'])] },
    PLAN,
  );
  for (const problem of problems) {
    const line = Number(/^Line (\d+)/.exec(problem)?.[1] ?? 1);
    if (line < 1 || line > lines) return `says “${problem}” of ${lines} lines`;
  }
  for (const { time, value, since } of observations)
    if (![time, value, since].every(Number.isFinite)) return `has ${value} from ${since} to ${time}`;
  return undefined;
}

const BUNDLE: Bundle = {
  engine: '3',
  project: { name: 'Made up', notes: '' },
  model: 'model M\n',
  files: { 'lanes.geojson': '{}' },
  studies: [],
  observed: [
    {
      name: 'counts',
      csv: 'day,voles\n1,2\n',
      mapping: { timeColumn: 'day', timeIs: 'time', columns: [{ column: 'voles', measure: 'voles' }] },
    },
  ],
  tables: { 'one.csv': 'run,seed\n1,1\n' },
};

const ODD = ['null', '-1', '1e999', '[]', '{}', '"constructor"', '"__proto__"', '""', 'true', '1.5', '"../x"'];

function fuzzBundle(seed: number): string | undefined {
  const typist = new Typist(seed);
  let bytes = writeBundle(BUNDLE);
  if (seed % 2 === 0) {
    // Another value somewhere in the manifest.
    const files = unzipSync(bytes);
    const manifest = strFromU8(files['manifest.json']!);
    const values = [...manifest.matchAll(/"[^"]*"|\d+/g)];
    const value = values[typist.below(values.length)]!;
    const odd = ODD[typist.below(ODD.length)]!;
    const changed = manifest.slice(0, value.index) + odd + manifest.slice(value.index + value[0].length);
    bytes = zipSync({ ...files, 'manifest.json': strToU8(changed) });
  }
  for (let i = seed % 2 === 0 ? 0 : 1 + typist.below(6); i > 0; i--) {
    const at = typist.below(Math.max(1, bytes.length));
    const byte = typist.below(256);
    switch (typist.below(4)) {
      case 0:
        bytes = bytes.slice(0, at);
        break;
      case 1:
        bytes = Uint8Array.from([...bytes.subarray(0, at), byte, ...bytes.subarray(at)]);
        break;
      default:
        bytes = Uint8Array.from(bytes, (old, k) => (k === at ? byte : old));
    }
  }
  try {
    readBundle(bytes);
    return undefined;
  } catch (error) {
    return error instanceof BundleError ? undefined : `threw ${String(error)}`;
  }
}
