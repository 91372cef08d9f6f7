import type { ModelFile } from '../../maps/map-file.ts';
import type { Diagnostic, DiagnosticCode, Fix, Span } from '../../diagnostics.ts';
import type { ParameterSymbol } from '../../language/checked.ts';
import { nearestWord } from '../../language/near-names.ts';
import { readParameter } from '../../language/parameter-input.ts';
import type { LoadedModel } from '../../load.ts';
import type { DesignMethod, StudySetting } from '../design/design.ts';
import { isSampled } from '../design/design.ts';
import type { VariedFactor } from '../design/make-design.ts';
import { makeDesign, MOST_SEEDS } from '../design/make-design.ts';
import { readFactor } from '../design/factors.ts';
import type { Outcome } from '../outcomes.ts';
import { outcomeFindings, timelineFindings } from '../outcomes.ts';
import type { StoppingRule } from '../runner/seeds-until.ts';
import { parameterCondition } from './conditions.ts';
import { isSpread, readSpread, spreadHint } from './read-spread.ts';
import type { Piece } from './pieces.ts';
import { stepsOf } from './steps-of.ts';
import type { StudyLine } from './study-lines.ts';
import { studyLines } from './study-lines.ts';

/** A study as its text says it, ready to be run. */
export interface StudyDefinition {
  readonly name: string;
  readonly note: string;
  readonly setting: StudySetting;
  readonly outcomes: readonly Outcome[];
  readonly until?: StoppingRule;
}

/** What the text of a study gives: findings always, a study only where none of them is an error. */
export interface StudyReading {
  readonly study?: StudyDefinition;
  readonly diagnostics: readonly Diagnostic[];
}

/** The model that a study is of: its text with its files, loaded. */
export interface StudiedModel {
  readonly text: string;
  readonly files?: ReadonlyMap<string, ModelFile>;
  readonly loaded: LoadedModel;
}

/** The file of the model that the text of a study names, if it names one. */
export function modelNamedIn(text: string): string | undefined {
  const line = studyLines(text).lines.find(({ is }) => is === 'model');
  return line?.is === 'model' ? line.rest.text.replace(/^["“]|["”]$/g, '') : undefined;
}

/** Reads the text of a study (docs/studies.md). Never throws on the text. */
export function readStudy(text: string, model: StudiedModel): StudyReading {
  return new StudyReader(text, model).read();
}

const DEFAULT_SEEDS = 20;

type LineOf<K extends StudyLine['is']> = Extract<StudyLine, { is: K }>;

interface Scenario {
  readonly name: string;
  readonly values: Map<string, number>;
  readonly timeline: string[];
}

class StudyReader {
  private readonly diagnostics: Diagnostic[] = [];
  private readonly lines: readonly StudyLine[];

  constructor(
    private readonly text: string,
    private readonly model: StudiedModel,
  ) {
    const { lines, diagnostics } = studyLines(text);
    this.lines = lines;
    this.diagnostics.push(...diagnostics);
  }

  read(): StudyReading {
    const name = this.only('study')?.rest;
    if (!name?.text)
      this.report(
        'study/missing',
        this.firstLine(),
        'The study has no name.',
        'Begin with “study What decides the low?”.',
      );
    const parameters = this.settings();
    const outcomes = this.outcomes();
    const method = this.only('method');
    const seeds = this.only('seeds');
    const until = this.until();
    const every = this.stepsOf('keep every') ?? 1;
    const steps = this.stepsOf('end after');
    const records = this.records();
    const design = this.design(method, seeds, until?.most, parameters);
    const { diagnostics } = this;
    if (!design || !name || diagnostics.some(({ severity }) => severity === 'error')) return { diagnostics };
    return {
      diagnostics,
      study: {
        name: name.text,
        note: this.all('note')
          .map(({ rest }) => rest.text)
          .join(' '),
        setting: { design, parameters, steps, every, ...(records ? { records: true } : {}) },
        outcomes,
        until,
      },
    };
  }

  private design(
    method: LineOf<'method'> | undefined,
    seeds: LineOf<'seeds'> | undefined,
    mostSeeds: number | undefined,
    parameters: Readonly<Record<string, number>>,
  ): StudySetting['design'] | undefined {
    const scenarios = this.scenarios();
    const varied = this.all('vary');
    const wanted = this.methodOf(method, scenarios.length > 0);
    if (scenarios.length > 0 && varied.length > 0) {
      this.report(
        'study/design',
        varied[0]!.span,
        'A study either varies factors or compares scenarios.',
        'Make two studies of it, or write the values of the factors into the scenarios.',
      );
      return undefined;
    }
    const factors = varied.flatMap((line) => this.factor(line, wanted) ?? []);
    const twice = factors.findIndex(({ parameter }, i) => factors.findIndex((f) => f.parameter === parameter) < i);
    if (twice >= 0)
      this.report(
        'study/twice',
        varied[twice]!.span,
        `“${factors[twice]!.parameter}” is varied twice.`,
        'Leave out one of the lines.',
      );
    const count = mostSeeds ?? seeds?.count ?? DEFAULT_SEEDS;
    if (!seeds && mostSeeds === undefined)
      this.report(
        'study/missing',
        this.firstLine(),
        'The study does not say with how many seeds each point is run.',
        `Write “${DEFAULT_SEEDS} seeds each”.`,
        [
          {
            label: `Write “${DEFAULT_SEEDS} seeds each”`,
            edits: [
              {
                span: { start: this.endOfStudy(), end: this.endOfStudy() },
                text: `\n  ${DEFAULT_SEEDS} seeds each`,
              },
            ],
          },
        ],
      );
    if (count < 1 || count > MOST_SEEDS) {
      this.report(
        'study/design',
        (seeds ?? this.lines[0]!).span,
        `A point is run with 1 to ${MOST_SEEDS} seeds, not ${count}.`,
      );
      return undefined;
    }
    if (this.diagnostics.some(({ severity }) => severity === 'error')) return undefined;
    const base = (name: string): number => {
      const parameter = this.model.loaded.plan.parameters.find((each) => each.name === name)!;
      return (Object.hasOwn(parameters, name) ? parameters[name]! : parameter.value) / parameter.unitFactor;
    };
    const made = makeDesign({
      method: wanted,
      count: method?.count ?? 0,
      luck: method?.seed ?? 1,
      factors,
      scenarios,
      base,
      isLeftOut: this.leftOut(factors),
      seeds: count,
      ownSeeds: this.only('own seeds') !== undefined,
    });
    if (!('problem' in made)) return made.design;
    this.report('study/design', (method ?? varied[0] ?? this.lines[0]!).span, made.problem, made.hint);
    return undefined;
  }

  private methodOf(line: LineOf<'method'> | undefined, areScenarios: boolean): DesignMethod {
    if (areScenarios && line)
      this.report(
        'study/design',
        line.span,
        'Scenarios are run as they are; a design is for factors.',
        'Leave this line out.',
      );
    return areScenarios ? 'scenarios' : (line?.method ?? 'every combination');
  }

  private factor({ name, value: values }: LineOf<'vary'>, method: DesignMethod): VariedFactor | undefined {
    const parameter = this.parameter(name);
    if (!parameter) return undefined;
    const { checked } = this.model.loaded;
    if (!isSampled(method) && isSpread(values.text)) {
      const ends = /^(?:from\s+)?(.+?\s+to\s+.+?)(?:,?\s+logarithmic)?$/i.exec(values.text)?.[1];
      this.report(
        'study/values',
        values.span,
        `“${method}” needs the values of “${parameter.name}” one by one.`,
        ends
          ? `Write “5 values from ${ends}”.`
          : 'Write “5 values from 0 to 0.4”, or take a sampled design such as “latin hypercube of 100”.',
        ends
          ? [{ label: `Write “5 values from ${ends}”`, edits: [{ span: values.span, text: `5 values from ${ends}` }] }]
          : undefined,
      );
      return undefined;
    }
    if (isSampled(method)) {
      const reading = readSpread(checked, parameter, values.text);
      if ('spread' in reading) return { parameter: parameter.name, spread: reading.spread };
      this.report('study/values', values.span, reading.problem, spreadHint(parameter));
      return undefined;
    }
    const reading = readFactor(checked, parameter, values.text);
    if ('values' in reading) return { parameter: parameter.name, values: reading.values };
    this.report('study/values', values.span, reading.problem);
    return undefined;
  }

  /** The parameter of a name; one that is not there is a finding. */
  private parameter({ text, span }: Piece): ParameterSymbol | undefined {
    const { parameters } = this.model.loaded.checked;
    const found = parameters.find(({ key }) => key === text.toLowerCase());
    if (found) return found;
    const near = nearestWord(
      text,
      parameters.map(({ name }) => name),
    );
    this.report(
      'study/parameter',
      span,
      `The model has no parameter “${text}”.`,
      near
        ? `Is “${near}” meant?`
        : parameters.length > 0
          ? `Its parameters are ${parameters.map(({ name }) => name).join(', ')}.`
          : 'It has none at all: write “parameter bite = 0.2, from 0 to 1” into the model.',
      near ? [{ label: `Write “${near}”`, edits: [{ span, text: near }] }] : undefined,
    );
    return undefined;
  }

  /** A value of a parameter in base units. */
  private value(parameter: ParameterSymbol, { text, span }: Piece): number | undefined {
    const reading = readParameter(this.model.loaded.checked, parameter, text);
    if ('value' in reading) return reading.value;
    this.report('study/values', span, reading.problem);
    return undefined;
  }

  /** What is set for all runs of the study: `set` lines above the scenarios. */
  private settings(): Record<string, number> {
    const values: Record<string, number> = {};
    for (const line of this.lines) {
      if (line.is === 'scenario') break;
      if (line.is !== 'set') continue;
      const parameter = this.parameter(line.name);
      const value = parameter && this.value(parameter, line.value);
      if (value !== undefined) values[parameter!.name] = value;
    }
    return values;
  }

  private scenarios(): Scenario[] {
    const scenarios: Scenario[] = [];
    const areRight = this.areTimelinesRight();
    for (const line of this.lines) {
      const last = scenarios.at(-1);
      if (line.is === 'scenario') {
        if (!line.rest.text)
          this.report('study/scenario', line.span, 'The scenario has no name.', 'Write “scenario Dry summer”.');
        if (scenarios.some(({ name }) => name.toLowerCase() === line.rest.text.toLowerCase()))
          this.report(
            'study/scenario',
            line.span,
            `There are two scenarios “${line.rest.text}”.`,
            'Give one of them another name.',
          );
        scenarios.push({ name: line.rest.text, values: new Map(), timeline: [] });
      } else if (line.is === 'timeline' && last) {
        const [wrong] = areRight ? [] : timelineFindings(this.model.text, this.model.files, line.rest);
        if (wrong) this.diagnostics.push(wrong);
        last.timeline.push(line.rest.text);
      } else if (line.is === 'set' && last) {
        const parameter = this.parameter(line.name);
        const value = parameter && this.value(parameter, line.value);
        if (value === undefined) continue;
        if (last.values.has(parameter!.name))
          this.report(
            'study/twice',
            line.span,
            `“${parameter!.name}” is set twice in this scenario.`,
            'Leave out one of the lines.',
          );
        last.values.set(parameter!.name, Number((value / parameter!.unit.factor).toPrecision(12)));
      }
    }
    if (scenarios.length === 1)
      this.report(
        'study/scenario',
        this.lines.find(({ is }) => is === 'scenario')!.span,
        'One scenario alone is compared with nothing.',
        'Write a second one; “scenario As it is” without values is the model as it stands.',
      );
    return scenarios;
  }

  /** Whether all timeline lines of scenarios together are right, so that none has to be looked at by itself. */
  private areTimelinesRight(): boolean {
    const lines = this.all('timeline');
    if (lines.length < 2) return false;
    const text = lines.map(({ rest }) => rest.text).join('\n');
    return timelineFindings(this.model.text, this.model.files, { text, span: lines[0]!.rest.span }).length === 0;
  }

  private outcomes(): Outcome[] {
    const { text, files, loaded } = this.model;
    const names = new Set(loaded.plan.summaries.map(({ name }) => name.toLowerCase()));
    return this.all('outcome').flatMap(({ name, value, span }) => {
      if (names.has(name.text.toLowerCase()))
        this.report(
          'study/twice',
          name.span,
          `There is a summary or outcome “${name.text}” already.`,
          'Give this one another name.',
        );
      names.add(name.text.toLowerCase());
      if (!value.text)
        this.report(
          'study/condition',
          span,
          `The outcome “${name.text}” has no condition.`,
          'Write “outcome crash: min of voles < 20”.',
        );
      const findings = value.text ? outcomeFindings(text, files, value) : [];
      this.diagnostics.push(...findings);
      return value.text && findings.length === 0 ? [{ name: name.text, condition: value.text }] : [];
    });
  }

  /** Which combinations are left out, over the values of the factors in the unit in which they are shown. */
  private leftOut(factors: readonly VariedFactor[]): ((values: readonly number[]) => boolean) | undefined {
    const { loaded, text } = this.model;
    const conditions = this.all('leave out').flatMap(({ rest }) => {
      const condition = parameterCondition(loaded.checked, text, rest);
      if ('holds' in condition) return [condition.holds];
      const [found] = condition.diagnostics;
      this.report(
        'study/condition',
        found?.span ?? rest.span,
        found?.message ?? 'This is no condition on parameters.',
        found?.hint,
      );
      return [];
    });
    if (conditions.length === 0) return undefined;
    const scale = factors.map(
      ({ parameter }) => loaded.plan.parameters.find(({ name }) => name === parameter)!.unitFactor,
    );
    return (values) => {
      const named = Object.fromEntries(factors.map(({ parameter }, f) => [parameter, values[f]! * scale[f]!]));
      return conditions.some((holds) => holds(named));
    };
  }

  private until(): StoppingRule | undefined {
    const line = this.only('until');
    if (!line) return undefined;
    const { summaries } = this.model.loaded.plan;
    const index = summaries.findIndex(({ name }) => name.toLowerCase() === line.summary.text.toLowerCase());
    if (index < 0) {
      const near = nearestWord(
        line.summary.text,
        summaries.map(({ name }) => name),
      );
      this.report(
        'study/parameter',
        line.summary.span,
        `The model has no summary “${line.summary.text}”.`,
        near ? `Is “${near}” meant?` : 'Summaries stand in the model: “summary peak = max of voles”.',
        near ? [{ label: `Write “${near}”`, edits: [{ span: line.summary.span, text: near }] }] : undefined,
      );
      return undefined;
    }
    if (!(line.percent > 0)) {
      this.report('study/values', line.span, 'A mean is never known within 0 %.', 'Write “within 2 %”.');
      return undefined;
    }
    return { summary: index, share: line.percent / 100, most: line.most };
  }

  /** Whether records are kept, which a model may not have. */
  private records(): boolean {
    const line = this.only('keep records');
    if (line && this.model.loaded.plan.records.length === 0)
      this.report(
        'study/values',
        line.span,
        'The model records nothing.',
        'Leave the line out, or write a “record” into the model.',
      );
    return line !== undefined;
  }

  private stepsOf(is: 'keep every' | 'end after'): number | undefined {
    const line = this.only(is);
    if (!line) return undefined;
    const { text, span } = line.rest;
    const read = stepsOf(text, this.model.loaded.checked);
    if ('steps' in read) return read.steps;
    this.report('study/values', span.end > span.start ? span : line.span, read.problem, read.hint);
    return undefined;
  }

  private all<K extends StudyLine['is']>(is: K): LineOf<K>[] {
    return this.lines.filter((line): line is LineOf<K> => line.is === is);
  }

  /** The line of a kind of which there is one at most. */
  private only<K extends StudyLine['is']>(is: K): LineOf<K> | undefined {
    const [first, second] = this.all(is);
    if (second)
      this.report(
        'study/twice',
        second.span,
        `There are two lines that say “${this.text.slice(second.span.start, second.span.end)}” or the like.`,
        'One is enough.',
      );
    return first;
  }

  /** Where a further line of the study goes: before its scenarios. */
  private endOfStudy(): number {
    const scenario = this.lines.find(({ is }) => is === 'scenario');
    return this.text.slice(0, scenario?.span.start).trimEnd().length;
  }

  private firstLine(): Span {
    return this.lines[0]?.span ?? { start: 0, end: Math.min(1, this.text.length) };
  }

  private report(code: DiagnosticCode, span: Span, message: string, hint?: string, fixes?: readonly Fix[]): void {
    this.diagnostics.push({ severity: 'error', code, span, message, hint, fixes });
  }
}
