import type { CheckOutcome, Report } from '@vole/core';
import { COURSE_FORMS, ListedPointsSchema, OutcomeSchema, StoppingRuleSchema } from '@vole/core';
import * as z from 'zod/mini';

/** The shape of what is stored; every row passes its schema once when it is read. */

/** How one chart is read: its measures by name, as the text may order them anew. */
const ReadingSchema = z.object({
  title: z.string(),
  form: z.enum(COURSE_FORMS),
  isLog: z.boolean(),
  guide: z.string(),
  asTable: z.boolean(),
  grouped: z.array(z.string()),
});
export type ReadingRow = z.infer<typeof ReadingSchema>;

/** What a report tells of, where that differs from all there is. */
const ReportChoiceSchema = z.object({
  /** Studies that are left out, by their ids. */
  leftOut: z.array(z.string()),
  /** Measures that are drawn of a study, by their names. */
  drawn: z.record(z.string(), z.array(z.string())),
  /** The report as it was when it was frozen; absent while it follows the project. */
  frozen: z.optional(
    z.object({ at: z.number(), report: z.custom<Report>((value) => typeof value === 'object' && value !== null) }),
  ),
});
export type ReportChoiceRow = z.infer<typeof ReportChoiceSchema>;

/** What came of the checks of a text, the last time that all were run. */
const ChecksSchema = z.object({
  /** The text whose checks they are, and the marks of the files that it names. */
  text: z.string(),
  files: z.optional(z.record(z.string(), z.string())),
  /** Version of the engine that ran them. */
  engine: z.string(),
  outcomes: z.custom<readonly CheckOutcome[]>((value) => Array.isArray(value)),
});
export type ChecksRow = z.infer<typeof ChecksSchema>;

export const ProjectSchema = z.object({
  id: z.string(),
  name: z.string(),
  text: z.string(),
  notes: z.string(),
  /** Goes up with every save, so that two tabs notice one another. */
  revision: z.number(),
  createdAt: z.number(),
  changedAt: z.number(),
  /** When it was put away; 0 while it is in use. */
  deletedAt: z.number(),
  /** Views in which something was done, for the path of footsteps. */
  visited: z.array(z.string()),
  /** How the charts of Watch are read, where that differs from how they are drawn at first. */
  readings: z.optional(z.array(ReadingSchema)),
  /** The text of a study that is being written, or was last; empty where studies are put together as sentences. */
  studyDraft: z.optional(z.string()),
  /** The text of the match: what the model is held against, and how. */
  matchDraft: z.optional(z.string()),
  report: z.optional(ReportChoiceSchema),
  /** Can be made again: what cannot be read is as if it were not there. */
  checks: z.catch(z.optional(ChecksSchema), undefined),
});

/** A text as it was at some time; with a name if the modeler gave it one. */
export const VersionSchema = z.object({
  id: z.string(),
  projectId: z.string(),
  at: z.number(),
  name: z.string(),
  text: z.string(),
});

export const StudySchema = z.object({
  id: z.string(),
  projectId: z.string(),
  kind: z.enum(['repeat', 'vary', 'match']),
  name: z.string(),
  /** Model text that the runs were made with. */
  text: z.string(),
  /** Of its runs; of a study that looks for what agrees the one by which its runs are drawn. */
  seeds: z.array(z.number()),
  every: z.number(),
  steps: z.optional(z.number()),
  /** Base values of all parameters by name, in base units. */
  parameters: z.record(z.string(), z.number()),
  /** Varied parameters, values in the shown unit. */
  factors: z.array(z.object({ parameter: z.string(), values: z.array(z.number()) })),
  /** The text of the study, if it was written as one. */
  wording: z.optional(z.string()),
  /** Points get seeds until the mean of a summary is known well enough; the seeds are the most that a point gets. */
  until: z.optional(StoppingRuleSchema),
  /** What the modeler notes about it. */
  notes: z.optional(z.string()),
  /** Whether the records of the model are kept. */
  records: z.optional(z.boolean()),
  /** Of a study that looks for what agrees: its tables by name, as CSV; its text is the wording. */
  observed: z.optional(z.record(z.string(), z.string())),
  /** Runs of such a study at most. */
  mostRuns: z.optional(z.number()),
  /** Its points, where they are not every combination of the factors. */
  listed: z.optional(ListedPointsSchema),
  /** Conditions over its runs beside the summaries of the model. */
  outcomes: z.optional(z.array(OutcomeSchema)),
  createdAt: z.number(),
  /** When it was put away; absent or 0 while it is in use. */
  deletedAt: z.optional(z.number()),
  status: z.enum(['running', 'stopped', 'done']),
  /** Files beside the model that the text names, as they were: their marks by name. Absent in studies of before they were kept. */
  files: z.optional(z.record(z.string(), z.string())),
  /** Version of the engine that made the results; absent in studies of before it was kept. */
  engine: z.optional(z.string()),
  /** Checksum over the results of the bundle the study came from, if it came from one. */
  expectedDigest: z.optional(z.string()),
  /** Its runs came with that bundle, and were not made here. */
  isReceived: z.optional(z.boolean()),
});

/** Finished runs of a study. */
export const BlockSchema = z.object({
  id: z.string(),
  studyId: z.string(),
  /** As `encodeBlock` of core writes them. */
  bytes: z.instanceof(ArrayBuffer),
});

/** What one record of a model holds of one run of a study. */
export const RecordSchema = z.object({
  /** As `recordId` makes it. */
  id: z.string(),
  studyId: z.string(),
  /** Numbers a row, the step first. */
  width: z.number(),
  /** Rows one after another, as 64-bit numbers. */
  bytes: z.instanceof(ArrayBuffer),
});

/** Found by study, place of the record in the model, point and seed. */
export function recordId(studyId: string, record: number, point: string, seed: number): string {
  return JSON.stringify([studyId, record, seed, point]);
}

/** A table of what was observed. */
export const ObservedSchema = z.object({
  id: z.string(),
  projectId: z.string(),
  /** That of its file, by which the text of the match knows it. */
  name: z.string(),
  csv: z.string(),
});

/** A file beside the model of a project: a map or a table, as bytes that `fileFromBytes` reads. */
export const FileSchema = z.object({
  /** Of its project and name, so that another file of the name takes its place. */
  id: z.string(),
  projectId: z.string(),
  name: z.string(),
  bytes: z.instanceof(Uint8Array),
  /** What `fileMark` gives of it; absent in files of before it was kept. */
  mark: z.optional(z.string()),
});

export type ProjectRow = z.infer<typeof ProjectSchema>;
export type VersionRow = z.infer<typeof VersionSchema>;
export type StudyRow = z.infer<typeof StudySchema>;
export type BlockRow = z.infer<typeof BlockSchema>;
export type RecordRow = z.infer<typeof RecordSchema>;
export type ObservedRow = z.infer<typeof ObservedSchema>;
export type FileRow = z.infer<typeof FileSchema>;
