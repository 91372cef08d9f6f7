import { strFromU8, strToU8, unzipSync, zipSync } from 'fflate';
import { z } from 'zod';
import { ListedPointsSchema, OutcomeSchema, StoppingRuleSchema } from '../studies/design/design-schema.ts';
import { MAX_FACTOR_VALUES } from '../studies/design/factors.ts';
import { ObservedMappingSchema } from '../studies/match/observed-mapping.ts';

/** One file that another person opens: model, studies with their seeds and results, observed data. A zip of plain text files. */

const BUNDLE_VERSION = 1;

const StudySchema = z
  .object({
    name: z.string(),
    kind: z.enum(['repeat', 'vary', 'match']),
    seeds: z.array(z.number().int().nonnegative()).min(1).max(100_000),
    every: z.number().int().positive(),
    steps: z.number().int().positive().optional(),
    /** Text of the model that made the results; that of the bundle if absent. */
    text: z.string().optional(),
    parameters: z.record(z.string(), z.number()),
    factors: z.array(z.object({ parameter: z.string(), values: z.array(z.number()).max(MAX_FACTOR_VALUES) })).max(40),
    /** The text of the study, if it was written as one, with what came of it. */
    wording: z.string().optional(),
    listed: ListedPointsSchema.optional(),
    outcomes: z.array(OutcomeSchema).optional(),
    until: StoppingRuleSchema.optional(),
    notes: z.string().optional(),
    /** Whether the records of the model were kept; they are made anew, not carried. */
    records: z.boolean().optional(),
    /** Of a study that looks for what agrees: its tables by name, and how many runs it has at most. */
    observed: z.record(z.string(), z.string()).optional(),
    mostRuns: z.number().int().positive().optional(),
    /** Checksum over all results, so that a rerun can be held against them. */
    digest: z.string(),
  })
  .refine(({ factors, listed }) =>
    listed
      ? listed.points.every((point) => point.length === factors.length) &&
        (listed.rows ?? []).every((row) => row < listed.points.length)
      : factors.every(({ values }) => values.length > 0),
  );

const ObservedSchema = z.object({
  name: z.string(),
  csv: z.string(),
  /** Of bundles of before matches had a text. */
  mapping: ObservedMappingSchema.optional(),
});

const ManifestSchema = z.object({
  format: z.literal('vole-parade-bundle'),
  version: z.literal(BUNDLE_VERSION),
  engine: z.string(),
  project: z.object({ name: z.string(), notes: z.string(), match: z.string().optional() }),
  studies: z.array(StudySchema),
  observed: z.array(ObservedSchema.omit({ csv: true }).extend({ file: z.string() })),
});

/** A study in a bundle: what it takes to run it again, and a checksum of what came out. */
export type BundleStudy = z.infer<typeof StudySchema>;
/** Observed data in a bundle: a table as text. */
export type BundleObserved = z.infer<typeof ObservedSchema>;

/** All of a project that is handed to somebody else. */
export interface Bundle {
  readonly engine: string;
  /** With the text of its match, if it has one. */
  readonly project: { readonly name: string; readonly notes: string; readonly match?: string };
  readonly model: string;
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

/**
 * A bundle as a zip file.
 * @throws BundleError if the bundle would be larger than what is read again
 */
export function writeBundle(bundle: Bundle): Uint8Array {
  const files: Record<string, Uint8Array> = { 'model.vole': strToU8(bundle.model) };
  const observed = bundle.observed.map(({ csv, ...rest }, i) => {
    const file = `observed/${i + 1}.csv`;
    files[file] = strToU8(csv);
    return { ...rest, file };
  });
  const manifest: z.infer<typeof ManifestSchema> = {
    format: 'vole-parade-bundle',
    version: BUNDLE_VERSION,
    engine: bundle.engine,
    project: bundle.project,
    studies: [...bundle.studies],
    observed,
  };
  files['manifest.json'] = strToU8(JSON.stringify(manifest, null, 2));
  for (const [path, text] of Object.entries(bundle.tables)) files[`${RESULTS}${path}`] = strToU8(text);
  const total = Object.values(files).reduce((sum, file) => sum + file.length, 0);
  if (total > MOST_BUNDLE_BYTES)
    throw new BundleError(
      `This bundle would have ${(total / 1e6).toFixed(0)} MB; at most ${MOST_BUNDLE_BYTES / 1e6} MB are read again. Nothing was written.`,
    );
  return zipSync(files);
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
  const files = unzip(bytes);
  const manifestFile = files['manifest.json'];
  const model = files['model.vole'];
  if (!manifestFile || !model)
    throw new BundleError(
      'This is a zip file, but no bundle of Vole Parade: the manifest or the model is missing in it.',
    );
  const manifest = parseManifest(strFromU8(manifestFile));
  const observed = manifest.observed.map(({ file, ...rest }) => {
    const csv = Object.hasOwn(files, file) ? files[file] : undefined;
    if (!csv) throw new BundleError(`The observed data “${rest.name}” is named in the bundle but not in it.`);
    return { ...rest, csv: strFromU8(csv) };
  });
  const tables = Object.fromEntries(
    Object.entries(files)
      .filter(([path]) => path.startsWith(RESULTS))
      .map(([path, data]) => [path.slice(RESULTS.length), strFromU8(data)]),
  );
  return {
    engine: manifest.engine,
    project: manifest.project,
    model: strFromU8(model),
    studies: manifest.studies,
    observed,
    tables,
  };
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
      if (path.startsWith(RESULTS)) return false;
      if (total + size > MOST_BUNDLE_BYTES)
        throw new BundleError(
          `What is packed in this file is too large: at most ${MOST_BUNDLE_BYTES / 1e6} MB are read. Nothing was changed here.`,
        );
      return true;
    });
    return { ...needed, ...unpack((path, size) => path.startsWith(RESULTS) && total + size <= MOST_BUNDLE_BYTES) };
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
  const parsed = ManifestSchema.safeParse(data);
  if (parsed.success) return parsed.data;
  const issue = parsed.error.issues[0]!;
  throw new BundleError(
    `The manifest of this bundle does not fit version ${BUNDLE_VERSION}: ${issue.path.join('.')}: ${issue.message}.`,
  );
}
