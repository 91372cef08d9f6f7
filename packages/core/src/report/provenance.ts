import type { Plan } from '../plan/plan.ts';
import { ENGINE_VERSION } from '../engine/version.ts';
import type { FileMarks } from '../maps/file-mark.ts';
import { otherFiles, quotedNames } from '../maps/file-mark.ts';
import type { KeptStudy } from '../studies/design/kept-study.ts';
import { textDigest } from '../digest.ts';
import { withoutStudies } from '../studies/text/in-model.ts';
import { shownNumber } from './numbers.ts';
import { valueWords } from './value-words.ts';

/** A study that is told of: what makes its runs, how it is called, and what it is of. */
export interface ReportedStudy extends KeptStudy {
  readonly id: string;
  readonly name: string;
  readonly kind: 'repeat' | 'vary' | 'match';
  /** Of the model that its runs are of. */
  readonly text: string;
  /** Files beside it that the text names, as they were. */
  readonly files?: FileMarks | undefined;
  readonly notes?: string | undefined;
  /** Version of the engine that made its runs. */
  readonly engine?: string | undefined;
  /** Its own text, if it was written as one. */
  readonly wording?: string | undefined;
}

/** What results are of: text, values, seeds, engine. It stands with every figure and in every file of them. */
export interface Provenance {
  /** In a few words, for under a figure. */
  readonly words: string;
  /** What has moved on since, if anything: the text, the engine. */
  readonly stale: string | undefined;
  /** One line each, for the head of a table. */
  readonly lines: readonly string[];
}

/** Values that a study sets apart from its text and its factors. */
function setValues(study: Pick<KeptStudy, 'parameters' | 'factors'>, plan: Plan): string[] {
  return plan.parameters.flatMap((parameter) => {
    const value = Object.hasOwn(study.parameters, parameter.name) ? study.parameters[parameter.name]! : parameter.value;
    const isVaried = study.factors.some((factor) => factor.parameter === parameter.name);
    return isVaried || value === parameter.value ? [] : [`${parameter.name} ${valueWords(parameter, value)}`];
  });
}

/** A text and the files beside it, each with the beginning of its mark. */
function sourceWords(text: string, files: FileMarks = {}): string {
  const marked = Object.entries(files).map(([name, mark]) => `${name} ${mark.slice(0, 8)}`);
  return [`text ${textDigest(text).slice(0, 8)}`, ...marked].join(', ');
}

/** More parameters than these are counted, not named. */
const MOST_NAMED = 5;

/** Which parameters a study varies or seeks, if any. */
function variedWords({ factors, kind }: ReportedStudy): string[] {
  if (factors.length === 0) return [];
  const names = factors.map(({ parameter }) => parameter);
  const said = names.length > MOST_NAMED ? `${names.length} parameters` : names.join(', ');
  return [`${said} ${kind === 'match' ? 'sought' : 'varied'}`];
}

/** Values set apart and parameters varied, in a few words; where none is set, that the others are those of the text. */
function valuesSaid(set: readonly string[], varied: readonly string[] = []): string {
  if (set.length > 0) return [...set, ...varied].join(', ');
  return [...varied, varied.length > 0 ? 'else values of the text' : 'values of the text'].join(', ');
}

/** How many seeds each point of a study has; those that take as many as they need have up to so many. */
export function seedsEach({ seeds, until }: Pick<KeptStudy, 'seeds' | 'until'>): string {
  return `${until ? 'up to ' : ''}${seeds.length}`;
}

function seedWords({ seeds, listed, until, kind }: ReportedStudy, plan: Plan): string {
  if (kind === 'match') return `runs drawn by seed ${seeds[0]!}`;
  if (until) {
    const { summary, share, most } = until;
    const whose = listed?.ownSeeds ? 'of its own at each point' : 'from 1 on';
    return `seeds ${whose}, until the mean of ${plan.summaries[summary]?.name ?? 'a summary'} is known within ${shownNumber(100 * share)} %, at most ${most}`;
  }
  if (listed?.ownSeeds) return `${seeds.length} seeds of its own at each point`;
  const first = seeds[0]!;
  const last = seeds[seeds.length - 1]!;
  if (seeds.length === 1) return `seed ${first}`;
  return seeds.every((seed, i) => seed === first + i)
    ? `seeds ${first} to ${last}`
    : `${seeds.length} seeds from ${Math.min(...seeds)} to ${Math.max(...seeds)}`;
}

/** What a run on show is of. */
export interface RunOnShow {
  readonly plan: Plan;
  readonly text: string;
  /** Files beside it that the text names. */
  readonly files?: FileMarks | undefined;
  /** Values by name that were set apart from the text, as they are now. */
  readonly values: Readonly<Record<string, number>>;
  readonly seed: number;
  /** Acts by hand so far, changes of values among them. */
  readonly acts: number;
  /** The step at which it went on with this text, if it began with another one. */
  readonly wentOnAt: number | undefined;
}

/** What the numbers of a run on show are of. */
export function provenanceOfRun({ plan, text, files, values, seed, acts, wentOnAt }: RunOnShow): Provenance {
  const source = sourceWords(text, files);
  const set = setValues({ parameters: values, factors: [] }, plan);
  const own = [
    ...(acts > 0 ? [`${acts} ${acts === 1 ? 'change' : 'changes'} by hand`] : []),
    ...(wentOnAt === undefined ? [] : [`begun with another text, until step ${wentOnAt}`]),
  ];
  const how = [`seed ${seed}`, 'one run', ...own].join(', ');
  const engine = `engine version ${ENGINE_VERSION} of Vole Parade`;
  return {
    words: `${source}, ${valuesSaid(set)}, ${how}, ${engine}`,
    stale: undefined,
    lines: [
      `model: ${plan.title}, ${source}`,
      `values: ${set.length > 0 ? `those of the text, but ${set.join(', ')}` : 'those of the text'}`,
      `${how}, ${engine}`,
    ],
  };
}

/** A model as it stands, which may have moved on since something ran. */
export interface ModelOfNow {
  readonly text: string;
  /** All files beside it. */
  readonly files: FileMarks;
}

/** What the results of a study are of. */
export function provenanceOf(study: ReportedStudy, plan: Plan, now: ModelOfNow): Provenance {
  const set = setValues(study, plan);
  const varied = variedWords(study);
  const values = [...set, ...varied];
  const engine = study.engine ?? ENGINE_VERSION;
  const source = sourceWords(study.text, study.files);
  const until = study.steps === undefined ? [] : [`to step ${study.steps} at most`];
  const how = [seedWords(study, plan), ...until].join(', ');
  const isOther = withoutStudies(study.text) !== withoutStudies(now.text);
  const others = otherFiles(study, now.files);
  const filesMoved =
    others.length > 0 && `${quotedNames(others)} ${others.length === 1 ? 'has' : 'have'} changed since`;
  const moved = [
    isOther && 'the text has changed since',
    filesMoved,
    engine !== ENGINE_VERSION && `the engine is now ${ENGINE_VERSION}`,
  ].filter((word) => word !== false);
  return {
    words: `${source}, ${valuesSaid(set, varied)}, ${how}, engine version ${engine} of Vole Parade`,
    stale: moved.length > 0 ? moved.join('; ') : undefined,
    lines: [
      `model: ${plan.title}, ${source}${isOther ? '; the text has changed since' : ''}${filesMoved ? `; ${filesMoved}` : ''}`,
      `values: ${values.length > 0 ? `those of the text, but ${values.join(', ')}` : 'those of the text'}`,
      `${how}, engine version ${engine} of Vole Parade`,
      ...(study.wording?.trim().split('\n') ?? []).map((line) => `| ${line}`),
    ],
  };
}
