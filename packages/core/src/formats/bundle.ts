import { strFromU8, strToU8, unzipSync, zipSync } from 'fflate';
import * as z from 'zod/mini';
import english from 'zod/v4/locales/en.js';
import { ListedPointsSchema, OutcomeSchema, StoppingRuleSchema } from '../studies/design/design-schema.ts';
import { MAX_FACTOR_VALUES } from '../studies/design/factors.ts';
import { ObservedMappingSchema } from '../studies/match/observed-mapping.ts';

/** One file that another person opens: model, studies with their seeds and results, observed data. A zip of plain text files. */

const BUNDLE_VERSION = 1;

const StudySchema = z
  .object({
    name: z.string(),
    kind: z.enum(['repeat', 'vary', 'match']),
    seeds: z.array(z.int().check(z.nonnegative())).check(z.minLength(1), z.maxLength(100_000)),
    every: z.int().check(z.positive()),
    steps: z.optional(z.int().check(z.positive())),
    /** Text of the model that made the results; that of the bundle if absent. */
    text: z.optional(z.string()),
    parameters: z.record(z.string(), z.number()),
    factors: z
      .array(z.object({ parameter: z.string(), values: z.array(z.number()).check(z.maxLength(MAX_FACTOR_VALUES)) }))
      .check(z.maxLength(40)),
    /** The text of the study, if it was written as one, with what came of it. */
    wording: z.optional(z.string()),
    listed: z.optional(ListedPointsSchema),
    outcomes: z.optional(z.array(OutcomeSchema)),
    until: z.optional(StoppingRuleSchema),
    notes: z.optional(z.string()),
    /** Whether the records of the model were kept; they are made anew, not carried. */
    records: z.optional(z.boolean()),
    /** Of a study that looks for what agrees: its tables by name, and how many runs it has at most. */
    observed: z.optional(z.record(z.string(), z.string())),
    mostRuns: z.optional(z.int().check(z.positive())),
    /** Files beside the model that its text names, as they were when it ran: their marks by name. */
    files: z.optional(z.record(z.string(), z.string())),
    /** Checksum over all results, so that a rerun can be held against them; empty if there is none. */
    digest: z.string(),
    /** Whether it was over: runs that are not there failed, or were not needed. */
    isDone: z.optional(z.boolean()),
    /** Version of the engine that made its runs. */
    engine: z.optional(z.string()),
    /** What the report draws of it, by the names of measures, where that was chosen; and whether it leaves it out. */
    drawn: z.optional(z.array(z.string())),
    isLeftOut: z.optional(z.boolean()),
    /** The file of its runs, if they are in the bundle. */
    runs: z.optional(z.string()),
  })
  .check(
    z.refine(({ factors, listed, kind }) =>
      // What a search looks for is a factor whose values it draws itself.
      kind === 'match'
        ? true
        : listed
          ? listed.points.every((point) => point.length === factors.length) &&
            (listed.rows ?? []).every((row) => row < listed.points.length)
          : factors.every(({ values }) => values.length > 0),
    ),
  );

const ObservedSchema = z.object({
  name: z.string(),
  csv: z.string(),
  /** Of bundles of before matches had a text. */
  mapping: z.optional(ObservedMappingSchema),
});

const ManifestSchema = z.object({
  format: z.literal('vole-parade-bundle'),
  version: z.literal(BUNDLE_VERSION),
  engine: z.string(),
  project: z.object({
    name: z.string(),
    notes: z.string(),
    /** In bundles of before it had a file of its own. */
    match: z.optional(z.string()),
  }),
  /** Files beside the model that its text reads: tables, rasters, maps. */
  files: z.optional(z.array(z.string())),
  studies: z.array(StudySchema),
  observed: z.array(z.extend(z.omit(ObservedSchema, { csv: true }), { file: z.string() })),
});

/** A study in a bundle: what it takes to run it again, a checksum of what came out, and its finished runs as a block, if they fit. */
export type BundleStudy = Omit<z.infer<typeof StudySchema>, 'runs'> & { readonly block?: Uint8Array<ArrayBuffer> };
/** Observed data in a bundle: a table as text. */
export type BundleObserved = z.infer<typeof ObservedSchema>;

/** All of a project that is handed to somebody else. */
export interface Bundle {
  readonly engine: string;
  /** With the text of its match, if it has one. */
  readonly project: { readonly name: string; readonly notes: string; readonly match?: string };
  readonly model: string;
  /** Texts of the files beside the model that its text reads, by name. */
  readonly files: Readonly<Record<string, string>>;
  readonly studies: readonly BundleStudy[];
  readonly observed: readonly BundleObserved[];
  /** Further files, such as results as CSV, by path. */
  readonly tables: Readonly<Record<string, string>>;
}

/** Bytes that are no bundle, or a bundle that cannot be written; the message says why, and that nothing was changed. */
export class BundleError extends Error {}

/** Most bytes that a bundle has unpacked: what is written is read again everywhere. */
export const MOST_BUNDLE_BYTES = 200_000_000;
/** Where the results are, which a bundle can be without: they can be made again from the seeds. */
const RESULTS = 'results/';
const RUNS = 'runs/';
const isNeeded = (path: string): boolean => !path.startsWith(RESULTS) && !path.startsWith(RUNS);
const MODEL = 'model.vole';
const MATCH = 'model.match';
const MANIFEST = 'manifest.json';

/** The name of a table of results in a bundle. @param number of the study among those of its kind, from 1 on */
export function resultName(kind: BundleStudy['kind'], number: number, what: string): string {
  return `${kind}${number > 1 ? `-${number}` : ''}-${what}.csv`;
}

/** The files of a bundle by their paths: those of the zip file, or of a folder that is kept in its stead. */
export type BundleFiles = Readonly<Record<string, Uint8Array>>;

/**
 * A bundle as files. The model, its match and its tables lie beside one another, as the command line takes them.
 * @throws BundleError if they would be larger than what is read again
 */
export function bundleFiles({ engine, project, model, files: beside, studies, observed, tables }: Bundle): BundleFiles {
  const files: Record<string, Uint8Array> = { [MODEL]: strToU8(model) };
  const { match, ...named } = project;
  if (match) files[MATCH] = strToU8(match);
  const manifest: z.infer<typeof ManifestSchema> = {
    format: 'vole-parade-bundle',
    version: BUNDLE_VERSION,
    engine,
    project: named,
    ...(Object.keys(beside).length > 0 ? { files: Object.keys(beside) } : {}),
    studies: studies.map(({ block, ...study }, i) => {
      if (!block) return study;
      const runs = `${RUNS}${i + 1}.block`;
      files[runs] = block;
      return { ...study, runs };
    }),
    observed: observed.map(({ csv, ...rest }, i) => {
      const isFree = !Object.keys(files).some((path) => path.toLowerCase() === rest.name.toLowerCase());
      const file = isPlainName(rest.name) && isFree ? rest.name : `observed/${i + 1}.csv`;
      files[file] = strToU8(csv);
      return { ...rest, file };
    }),
  };
  for (const [name, text] of Object.entries(beside)) {
    if (!isNameBeside(name) || Object.hasOwn(files, name))
      throw new BundleError(
        `The file “${name}” cannot lie in a bundle under this name; give it another one. Nothing was written.`,
      );
    files[name] = strToU8(text);
  }
  files[MANIFEST] = strToU8(`${tidyJson(manifest)}\n`);
  for (const [path, text] of Object.entries(tables)) files[`${RESULTS}${path}`] = strToU8(text);
  const total = Object.values(files).reduce((sum, file) => sum + file.length, 0);
  if (total > MOST_BUNDLE_BYTES)
    throw new BundleError(
      `This bundle would have ${(total / 1e6).toFixed(0)} MB; at most ${MOST_BUNDLE_BYTES / 1e6} MB are read again. Nothing was written.`,
    );
  return files;
}

/** Whether a result lies where results lie: one that would lead out of that folder is none. */
function isResultName(name: string): boolean {
  return /^[\p{L}\p{N}_][\p{L}\p{N} _.-]*$/u.test(name);
}

/** Whether a table can have its own name as a file on every machine, and is taken for nothing else in a bundle. */
function isPlainName(name: string): boolean {
  return /^[\p{L}\p{N}_][\p{L}\p{N} _.-]{0,99}\.(?:csv|tsv|txt)$/iu.test(name);
}

/** Whether a file beside the model can lie in a bundle under the name by which the text knows it: in its folder, on every machine. */
function isNameBeside(name: string): boolean {
  return /^[^\\/:*?"<>|\p{Cc}.][^\\/:*?"<>|\p{Cc}]{0,120}$/u.test(name) && !name.endsWith('.');
}

/** JSON that can be compared line by line: lists of numbers stand in one line. */
function tidyJson(value: unknown, indent = ''): string {
  if (typeof value !== 'object' || value === null) return JSON.stringify(value);
  const isList = Array.isArray(value);
  if (isList && value.every((item) => typeof item === 'number'))
    return `[${value.map((n) => JSON.stringify(n)).join(', ')}]`;
  const inner = `${indent}  `;
  const items = isList
    ? value.map((item) => `${inner}${tidyJson(item, inner)}`)
    : Object.entries(value).flatMap(([key, item]) =>
        item === undefined ? [] : [`${inner}${JSON.stringify(key)}: ${tidyJson(item, inner)}`],
      );
  const [open, close] = isList ? '[]' : '{}';
  return items.length === 0 ? `${open}${close}` : `${open}\n${items.join(',\n')}\n${indent}${close}`;
}

/**
 * A bundle as a zip file.
 * @throws BundleError if the bundle would be larger than what is read again
 */
export function writeBundle(bundle: Bundle): Uint8Array {
  return zipSync(bundleFiles(bundle));
}

/**
 * Reads a bundle, or refuses it as a whole.
 * @throws BundleError that says what is wrong with the file
 */
export function readBundle(bytes: Uint8Array): Bundle {
  if (bytes.length > MOST_BUNDLE_BYTES)
    throw new BundleError(
      `This file has ${(bytes.length / 1e6).toFixed(0)} MB; a bundle has at most ${MOST_BUNDLE_BYTES / 1e6} MB. Nothing was changed here.`,
    );
  return bundleOfFiles(unzip(bytes));
}

/**
 * Reads a bundle from its files.
 * @throws BundleError that says what is missing or wrong
 */
export function bundleOfFiles(files: BundleFiles): Bundle {
  const fileAt = (path: string): Uint8Array | undefined => (Object.hasOwn(files, path) ? files[path] : undefined);
  const manifestFile = fileAt(MANIFEST);
  const model = fileAt(MODEL);
  if (!manifestFile || !model)
    throw new BundleError('This is no bundle of Vole Parade: the manifest or the model is missing in it.');
  const { engine, project, ...manifest } = parseManifest(textOf(MANIFEST, manifestFile));
  const beside = (manifest.files ?? []).map((name): readonly [string, string] => {
    const file = isNameBeside(name) ? fileAt(name) : undefined;
    if (!file) throw new BundleError(`The file “${name}” is named in the bundle but not in it.`);
    return [name, textOf(name, file)];
  });
  const observed = manifest.observed.map(({ file, ...rest }) => {
    const csv = fileAt(file);
    if (!csv) throw new BundleError(`The observed data “${rest.name}” is named in the bundle but not in it.`);
    return { ...rest, csv: textOf(file, csv) };
  });
  const studies = manifest.studies.map(({ runs, ...study }): BundleStudy => {
    const block = runs === undefined ? undefined : fileAt(runs);
    return block ? { ...study, block: new Uint8Array(block) } : study;
  });
  const tables = Object.fromEntries(
    Object.entries(files)
      .filter(([path]) => path.startsWith(RESULTS) && isResultName(path.slice(RESULTS.length)))
      .map(([path, data]) => [path.slice(RESULTS.length), textOf(path, data)]),
  );
  const matchFile = fileAt(MATCH);
  const match = matchFile ? textOf(MATCH, matchFile) : project.match;
  return {
    engine,
    project: { name: project.name, notes: project.notes, ...(match === undefined ? {} : { match }) },
    model: textOf(MODEL, model),
    files: Object.fromEntries(beside),
    studies,
    observed,
    tables,
  };
}

/** What is put in place of bytes that are no text in UTF-8. */
const UNREADABLE = '\uFFFD';

/** @throws BundleError if it is no text */
function textOf(path: string, bytes: Uint8Array): string {
  const text = strFromU8(bytes);
  if (!text.includes(UNREADABLE)) return text;
  const back = strToU8(text);
  if (back.length === bytes.length && back.every((byte, i) => byte === bytes[i])) return text;
  throw new BundleError(`“${path}” in this bundle is no text in UTF-8. Save it in UTF-8; nothing was changed here.`);
}

/** Unpacks what a bundle needs, then its results as far as they fit. */
function unzip(bytes: Uint8Array): Record<string, Uint8Array> {
  let total = 0;
  const unpack = (takes: (path: string, size: number) => boolean): Record<string, Uint8Array> =>
    unzipSync(bytes, {
      filter: ({ name, originalSize }) => {
        if (!takes(name, originalSize)) return false;
        total += originalSize;
        return true;
      },
    });
  try {
    const needed = unpack((path, size) => {
      if (!isNeeded(path)) return false;
      if (total + size > MOST_BUNDLE_BYTES)
        throw new BundleError(
          `What is packed in this file is too large: at most ${MOST_BUNDLE_BYTES / 1e6} MB are read. Nothing was changed here.`,
        );
      return true;
    });
    return { ...needed, ...unpack((path, size) => !isNeeded(path) && total + size <= MOST_BUNDLE_BYTES) };
  } catch (error) {
    if (error instanceof BundleError) throw error;
    throw new BundleError(
      'This file cannot be read as a bundle: it is cut off, damaged, or of another kind. Ask for it again; nothing was changed here.',
    );
  }
}

function parseManifest(text: string): z.infer<typeof ManifestSchema> {
  let data: unknown;
  try {
    data = JSON.parse(text);
  } catch {
    throw new BundleError('The manifest of this bundle cannot be read; the file is damaged.');
  }
  const parsed = ManifestSchema.safeParse(data, { error: english().localeError });
  if (parsed.success) return parsed.data;
  const issue = parsed.error.issues[0]!;
  throw new BundleError(
    `The manifest of this bundle does not fit version ${BUNDLE_VERSION}: ${issue.path.join('.')}: ${issue.message}.`,
  );
}
