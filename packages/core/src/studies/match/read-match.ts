import type { Diagnostic, DiagnosticCode, Fix, Span } from '../../diagnostics.ts';
import { nearestWord } from '../../language/near-names.ts';
import { readParameter } from '../../language/parameter-input.ts';
import { unitScale } from '../../language/scales.ts';
import { sameDimension, TIME } from '../../language/types.ts';
import { MOST_SEEDS } from '../design/make-design.ts';
import type { Spread } from '../design/spread.ts';
import { readSpread, spreadHint } from '../text/read-spread.ts';
import type { StudiedModel } from '../text/read-study.ts';
import { stepsOf } from '../text/steps-of.ts';
import type { Piece } from '../text/pieces.ts';
import { withoutQuotes } from '../text/pieces.ts';
import type { DateOrder } from '../../calendar/dates.ts';
import { DATE_ORDERS } from '../../calendar/dates.ts';
import type { MatchLine, MatchMethod } from './match-lines.ts';
import { matchLines } from './match-lines.ts';
import type { ObservedTable, Observation, TimeColumn } from './observations.ts';
import { readSeries, timeOfDate } from './observations.ts';
import type { ObservingError } from './observing.ts';
import { readPart } from './tie-parts.ts';
import type { TieParts } from './tie-parts.ts';
import type { Reading, TiedExpression } from './ties.ts';
import { tieTo } from './ties.ts';

/** A series of what was observed, tied to an expression of the model. */
export interface TiedSeries {
  readonly name: string;
  /** As it is written. */
  readonly expression: string;
  readonly tied: TiedExpression;
  readonly reading: Reading;
  readonly error: ObservingError;
  /** How much it counts among others. */
  readonly weight: number;
  readonly observations: readonly Observation[];
  readonly gaps: number;
}

/** A parameter that is sought, and what is thought of it before. */
interface Unknown {
  readonly parameter: string;
  readonly prior: Spread;
}

/** How what agrees is found. */
export interface Search {
  readonly method: MatchMethod;
  /** Draws of the posterior. */
  readonly draws: number;
  readonly mostRuns: number;
  readonly luck: number;
}

/** A match as its text says it, with the tables that it names read. */
export interface MatchDefinition {
  readonly name: string;
  readonly note: string;
  readonly series: readonly TiedSeries[];
  /** Observations from this time on are held out, in base units. */
  readonly heldOutFrom?: number;
  readonly unknowns: readonly Unknown[];
  readonly search?: Search;
  /** Seeds of the runs that are scored. */
  readonly seeds: number;
  /** Values by name, in base units. */
  readonly parameters: Readonly<Record<string, number>>;
  readonly steps?: number;
}

/** A match, or what is wrong with its text; with findings beside it where it can be used all the same. */
export interface MatchReading {
  readonly match?: MatchDefinition;
  readonly diagnostics: readonly Diagnostic[];
}

/**
 * Reads the text of a match (docs/match.md). Never throws on the text.
 * @param tables by the name of their file; those that are missing are findings
 */
export function readMatch(text: string, model: StudiedModel, tables: ReadonlyMap<string, ObservedTable>): MatchReading {
  return new MatchReader(text, model, tables).read();
}

const DEFAULT_SEEDS = 40;
const LEAST_DRAWS = 10;
/** Draws and runs of a search at most. */
export const MATCH_LIMITS = { draws: 5000, runs: 1_000_000 };

type LineOf<K extends MatchLine['is']> = Extract<MatchLine, { is: K }>;

class MatchReader {
  private readonly diagnostics: Diagnostic[];
  private readonly lines: readonly MatchLine[];

  constructor(
    text: string,
    private readonly model: StudiedModel,
    private readonly tables: ReadonlyMap<string, ObservedTable>,
  ) {
    const { lines, diagnostics } = matchLines(text);
    this.lines = lines;
    this.diagnostics = [...diagnostics];
  }

  read(): MatchReading {
    const name = this.only('match');
    if (!name?.value.text)
      this.report('study/missing', this.firstSpan(), 'The match has no name.', 'Begin with “match Trap counts”.');
    const series = this.series();
    const unknowns = this.unknowns();
    const search = this.search(unknowns);
    if (search && series.length > 0 && series.every(({ weight }) => weight === 0))
      this.report(
        'study/values',
        this.all('tie')[0]!.span,
        'No series has a weight, so that nothing tells what agrees.',
        'Give one of them a weight above 0, or leave “weight 0” out.',
      );
    const seeds = this.only('seeds');
    if (seeds && !(seeds.count >= 1 && seeds.count <= MOST_SEEDS))
      this.report('study/design', seeds.span, `1 to ${MOST_SEEDS} seeds are run, not ${seeds.count}.`);
    const parameters = this.settings(unknowns);
    const heldOutFrom = this.heldOutFrom(series);
    const steps = this.steps();
    const { diagnostics } = this;
    if (!name || diagnostics.some(({ severity }) => severity === 'error')) return { diagnostics };
    return {
      diagnostics,
      match: {
        name: name.value.text,
        note: this.all('note')
          .map(({ value }) => value.text)
          .join(' '),
        series,
        heldOutFrom,
        unknowns,
        search,
        seeds: seeds?.count ?? DEFAULT_SEEDS,
        parameters,
        steps,
      },
    };
  }

  /** The ties in their order, each read out of the table above it. */
  private series(): TiedSeries[] {
    const series: TiedSeries[] = [];
    let table: ObservedTable | undefined;
    let time: TimeColumn = { is: { date: undefined } };
    let hasTable = false;
    for (const line of this.lines) {
      if (line.is === 'observed') {
        hasTable = true;
        table = this.table(line.value, line.span);
        time = this.model.loaded.plan.clock.start ? { is: { date: undefined } } : { is: { every: 1 } };
      } else if (line.is === 'time') time = this.timeOf(line.value) ?? time;
      else if (line.is === 'tie') {
        if (!hasTable)
          this.report(
            'study/missing',
            line.span,
            'No table is named above this line.',
            'Write “observed "trap-counts.csv"” above it.',
          );
        const found = table && this.seriesOf(line, table, time);
        if (found) series.push(this.named(found, series));
      }
    }
    if (this.all('observed').length === 0)
      this.report(
        'study/missing',
        this.firstSpan(),
        'The match names no table of what was observed.',
        'Write “observed "trap-counts.csv"”.',
      );
    else if (this.all('tie').length === 0)
      this.report(
        'study/missing',
        this.all('observed')[0]!.span,
        'Nothing of the model is tied to a column.',
        'Write “voles from column caught”.',
      );
    return series;
  }

  /** Series of one name are told apart. */
  private named(series: TiedSeries, before: readonly TiedSeries[]): TiedSeries {
    const same = before.filter(({ name }) => name === series.name || name.startsWith(`${series.name} (`)).length;
    return same === 0 ? series : { ...series, name: `${series.name} (${same + 1})` };
  }

  private table(value: Piece, line: Span): ObservedTable | undefined {
    const { text, span } = withoutQuotes(value);
    const table = this.tables.get(text);
    if (table) return table;
    const names = [...this.tables.keys()];
    const near = nearestWord(text, names);
    this.report(
      'study/missing',
      text === '' ? line : span,
      text === '' ? 'The table has no name.' : `There is no table “${text}”.`,
      near
        ? `Is “${near}” meant?`
        : names.length > 0
          ? `There are ${names.join(', ')}.`
          : 'It must lie beside the match.',
      near ? [{ label: `Write “${near}”`, edits: [{ span, text: near }] }] : undefined,
    );
    return undefined;
  }

  /** `date in column day, written day.month.year`, `weeks in column t`, `step` */
  private timeOf({ text, span }: Piece): TimeColumn | undefined {
    const match = /^(.+?)(?:\s+in\s+column\s+(.+?))?(?:,\s*written\s+(.+))?$/i.exec(text);
    const column = match?.[2] === undefined ? undefined : withoutQuotes({ text: match[2], span }).text;
    const what = match?.[1]?.trim().toLowerCase() ?? '';
    if (what === 'date') {
      const order = match?.[3] === undefined ? undefined : dateOrder(match[3]);
      if (order !== null) return { column, is: { date: order } };
      this.report(
        'study/values',
        span,
        `“${match![3]!}” is no way to write a date.`,
        'Write “written day.month.year”, “written month/day/year” or “written year-month-day”.',
      );
      return undefined;
    }
    const every = this.lengthOf(what);
    if (every !== undefined) return { column, is: { every } };
    this.report(
      'study/values',
      span,
      `“${what}” is no way to tell the time.`,
      'Write “time is date”, “time is days”, “time is steps”, and “in column day” where it is not the first.',
    );
    return undefined;
  }

  /** Base units of time in one of a unit of time, or in a step. */
  private lengthOf(unit: string): number | undefined {
    const { scales, clock } = this.model.loaded.checked;
    if (/^steps?$/.test(unit)) return clock.stepLength;
    if (unit === 'time') return 1;
    const scale = unitScale(unit, scales) ?? unitScale(unit.replace(/s$/, ''), scales);
    return scale && sameDimension(scale.dim, TIME) ? scale.factor : undefined;
  }

  private seriesOf(line: LineOf<'tie'>, table: ObservedTable, time: TimeColumn): TiedSeries | undefined {
    const parts = this.parts(line);
    const tied = tieTo(this.model.text, this.model.files, line.expression);
    if ('diagnostics' in tied) this.diagnostics.push(...tied.diagnostics);
    const columns = line.columns.map(({ text }) => text);
    const { observations, gaps, problems } = readSeries(
      table,
      time,
      { columns, errorColumn: parts.errorColumn, where: parts.where },
      this.model.loaded.plan,
    );
    for (const problem of problems) this.report('study/values', line.span, problem);
    if (problems.length === 0 && observations.length === 0)
      this.report('study/values', line.span, `Nothing stands in column “${columns.join('” and “')}”.`);
    if ('diagnostics' in tied) return undefined;
    return {
      name: parts.name ?? line.expression.text,
      expression: line.expression.text,
      tied,
      reading: parts.reading,
      error: parts.error,
      weight: parts.weight,
      observations,
      gaps,
    };
  }

  private parts(line: LineOf<'tie'>): TieParts {
    let parts: TieParts = { reading: 'at', error: { is: 'none' }, weight: 1 };
    for (const part of line.parts) {
      const read = readPart(part.text);
      if (read) parts = { ...parts, ...read };
      else
        this.report(
          'study/line',
          part.span,
          `“${part.text}” says nothing about how it was observed.`,
          'Write “mean over the interval”, “total over the interval”, “at the time”, “error 12 %”, “error 3”, “error poisson”, “error negative binomial of 5”, “error from column sd”, “where species is vole”, “weight 2” or “called traps”.',
        );
    }
    return parts;
  }

  private unknowns(): Unknown[] {
    const unknowns: Unknown[] = [];
    for (const { name, value, span } of this.all('find')) {
      const parameter = this.parameter(name);
      if (!parameter) continue;
      if (unknowns.some((each) => each.parameter === parameter.name))
        this.report('study/twice', span, `“${parameter.name}” is sought twice.`, 'Leave out one of the lines.');
      const reading = readSpread(this.model.loaded.checked, parameter, value.text);
      if ('problem' in reading)
        this.report('study/values', value.text === '' ? span : value.span, reading.problem, spreadHint(parameter));
      else unknowns.push({ parameter: parameter.name, prior: reading.spread });
    }
    return unknowns;
  }

  private search(unknowns: readonly Unknown[]): Search | undefined {
    const line = this.only('by');
    const [find] = this.all('find');
    if (find && !line)
      this.report(
        'study/missing',
        find.span,
        'The match does not say how what agrees is found.',
        'Write “by sequential monte carlo, 400 draws, at most 3000 runs”.',
      );
    if (!line) return undefined;
    if (unknowns.length === 0 && !find)
      this.report('study/missing', line.span, 'Nothing is sought.', 'Write “find strike 0 to 0.4”.');
    if (!(line.draws >= LEAST_DRAWS && line.draws <= MATCH_LIMITS.draws))
      this.report(
        'study/design',
        line.span,
        `A posterior has ${LEAST_DRAWS} to ${MATCH_LIMITS.draws.toLocaleString('en-GB')} draws, not ${line.draws}.`,
      );
    if (line.most < 2 * line.draws || line.most > MATCH_LIMITS.runs)
      this.report(
        'study/design',
        line.span,
        `${line.draws} draws take at least ${2 * line.draws} and at most ${MATCH_LIMITS.runs.toLocaleString('en-GB')} runs, not ${line.most}.`,
      );
    return { method: line.method, draws: line.draws, mostRuns: line.most, luck: line.luck };
  }

  private settings(unknowns: readonly Unknown[]): Record<string, number> {
    const values: Record<string, number> = {};
    for (const { name, value, span } of this.all('set')) {
      const parameter = this.parameter(name);
      if (!parameter) continue;
      if (unknowns.some((each) => each.parameter === parameter.name))
        this.report('study/twice', span, `“${parameter.name}” is sought and set.`, 'Leave out one of the lines.');
      const reading = readParameter(this.model.loaded.checked, parameter, value.text);
      if ('value' in reading) values[parameter.name] = reading.value;
      else this.report('study/values', value.text === '' ? span : value.span, reading.problem);
    }
    return values;
  }

  private parameter({ text, span }: Piece) {
    const { parameters } = this.model.loaded.checked;
    const found = parameters.find(({ key }) => key === text.toLowerCase());
    if (found) return found;
    const names = parameters.map(({ name }) => name);
    const near = nearestWord(text, names);
    this.report(
      'study/parameter',
      span,
      `The model has no parameter “${text}”.`,
      near ? `Is “${near}” meant?` : `Its parameters are ${names.join(', ') || 'none'}.`,
      near ? [{ label: `Write “${near}”`, edits: [{ span, text: near }] }] : undefined,
    );
    return undefined;
  }

  /** `from 2032-06-01`, `from 90 days` */
  private heldOutFrom(series: readonly TiedSeries[]): number | undefined {
    const line = this.only('hold out');
    if (!line) return undefined;
    const text = line.value.text.replace(/^from\s+/i, '');
    const { plan } = this.model.loaded;
    const number = /^(\d+(?:\.\d+)?)\s*(\S+)$/.exec(text);
    const every = number && this.lengthOf(number[2]!.toLowerCase());
    const from = timeOfDate(text, plan) ?? (every ? Number(number[1]) * every : undefined);
    if (from === undefined) {
      this.report(
        'study/values',
        line.span,
        `“${text}” is no time of the model.`,
        'Write “hold out from 2032-06-01” or “hold out from 90 days”.',
      );
      return undefined;
    }
    const isOut = series.flatMap(({ observations }) => observations.map(({ time }) => time >= from));
    if (isOut.length > 0 && isOut.every((out) => out))
      this.report('study/values', line.span, 'All observations are held out, so that none is left to be used.');
    return from;
  }

  private steps(): number | undefined {
    const line = this.only('end after');
    if (!line) return undefined;
    const read = stepsOf(line.value.text, this.model.loaded.checked);
    if ('steps' in read) return read.steps;
    this.report('study/values', line.span, read.problem, read.hint);
    return undefined;
  }

  private all<K extends MatchLine['is']>(is: K): LineOf<K>[] {
    return this.lines.filter((line): line is LineOf<K> => line.is === is);
  }

  private only<K extends MatchLine['is']>(is: K): LineOf<K> | undefined {
    const [first, second] = this.all(is);
    if (second) this.report('study/twice', second.span, `There are two lines like “${first!.text}”.`, 'One is enough.');
    return first;
  }

  private firstSpan(): Span {
    return this.lines[0]?.span ?? { start: 0, end: 1 };
  }

  private report(code: DiagnosticCode, span: Span, message: string, hint?: string, fixes?: readonly Fix[]): void {
    this.diagnostics.push({ severity: 'error', code, span, message, hint, fixes });
  }
}

/** The order of a date as it is written with any signs between; null where it is none. */
function dateOrder(text: string): DateOrder | null {
  const words =
    text
      .toLowerCase()
      .match(/[a-z]+/g)
      ?.join(' ') ?? '';
  return DATE_ORDERS.find((order) => order === words) ?? null;
}
