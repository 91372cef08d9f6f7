import type { Diagnostic, Span } from '../diagnostics.ts';
import type { LexResult, Token } from './lexer.ts';
import { lex, stringValue } from './lexer.ts';
import { PART_WORDS, WEEKDAYS } from './words.ts';
import * as say from './reading-messages.ts';
import { nearestWord } from './near-names.ts';
import { AgentParser } from './parse-agent.ts';
import { ExpressionParser } from './parse-expression.ts';
import { StatementParser } from './parse-statement.ts';
import { SurroundingsParser } from './parse-surroundings.ts';
import { PartParser } from './part-parser.ts';
import type * as Ast from './syntax.ts';
import { describe, TokenStream } from './token-stream.ts';

export interface ParseResult {
  readonly tree: Ast.SyntaxTree;
  readonly diagnostics: readonly Diagnostic[];
  readonly lexed: LexResult;
}

/** Words that go on with an expression after a name, so that the name before them stands for itself. */
const GOES_ON = new Set(['and', 'or', 'is', 'per', 'of', 'over', 'where', 'with', 'within', 'in', 'then', 'else']);

/** The tree of a text, also of one that is half typed; nothing is checked. */
export function treeOf(text: string): Ast.SyntaxTree {
  return parse(text).tree;
}

/** Reads a model text. Never throws on the text: what cannot be read is reported and passed over, the rest is kept. */
export function parse(text: string): ParseResult {
  const lexed = lex(text);
  const parser = new Parser(new TokenStream(lexed.tokens, text));
  const tree = parser.model();
  const diagnostics = [...lexed.diagnostics, ...parser.diagnostics].sort((a, b) => a.span.start - b.span.start);
  return { tree, diagnostics, lexed };
}

type PartReader = (start: number) => Ast.AnyPart;

class Parser extends PartParser {
  private readonly agents: AgentParser;
  private readonly surroundings: SurroundingsParser;

  private readonly readers: Record<string, PartReader> = {
    model: (start) => this.modelPart(start),
    clock: (start) => this.clock(start),
    unit: (start) => this.unit(start),
    data: (start) => this.data(start),
    parameter: (start) => this.parameter(start),
    variable: (start) => this.variable(start),
    tally: (start) => this.tally(start),
    define: (start) => this.define(start),
    derive: (start) => ({ is: 'derive', ...this.deriveLine(start) }),
    routine: (start) => this.routine(start),
    behaviour: (start) => this.behaviour(start),
    space: (start) => this.surroundings.space(start),
    zone: (start) => this.surroundings.zone(start, 'zone'),
    obstacle: (start) => this.surroundings.zone(start, 'obstacle'),
    network: (start) => this.surroundings.network(start),
    line: (start) => this.surroundings.lineOfVehicles(start),
    field: (start) => this.surroundings.field(start),
    message: (start) => this.agents.message(start),
    agent: (start) => this.agents.agent(start),
    interaction: (start) => this.agents.interaction(start),
    order: (start) => this.order(start),
    timeline: (start) => this.timeline(start),
    measure: (start) => this.measure(start, 'measure'),
    summary: (start) => this.measure(start, 'summary'),
    chart: (start) => this.chart(start),
    show: (start) => this.show(start),
    record: (start) => this.record(start),
    check: (start) => this.check(start),
    scenario: (start) => this.ofStudy(start, 'scenario'),
    study: (start) => this.ofStudy(start, 'study'),
  };

  constructor(s: TokenStream) {
    const e = new ExpressionParser(s);
    const st = new StatementParser(s, e);
    super(s, e, st);
    this.agents = new AgentParser(s, e, st);
    this.surroundings = new SurroundingsParser(s, e, st);
  }

  get diagnostics(): readonly Diagnostic[] {
    return this.s.diagnostics;
  }

  model(): Ast.SyntaxTree {
    const parts: Ast.AnyPart[] = [];
    while (!this.s.isType('end')) {
      if (this.s.isType('dedent')) {
        this.s.take();
        continue;
      }
      this.s.line(() => {
        const part = this.part();
        if (part) parts.push(part);
      });
    }
    return { parts };
  }

  private part(): Ast.AnyPart | undefined {
    const token = this.s.current;
    const reader =
      token.type === 'name' && Object.hasOwn(this.readers, token.word) ? this.readers[token.word] : undefined;
    if (reader) {
      this.s.take();
      return reader(token.span.start);
    }
    if (token.word === 'has' || token.word === 'states' || token.word === 'start') {
      return this.s.fail(say.belongsUnderAgent(token.span, token.text));
    }
    return this.s.fail(say.unknownPart(token.span, describe(token), nearestWord(token.word, PART_WORDS)));
  }

  /** The text up to the end of the line, as one token. */
  private freeText(meaning: string): string {
    if (this.s.isType('text')) return this.s.take().text;
    if (this.s.isType('string')) return stringValue(this.s.take());
    return this.s.fail(say.missingName(this.s.placeForMissing(), meaning, describe(this.s.current)));
  }

  private modelPart(start: number): Ast.ModelPart {
    const title = this.freeText('the title of the model');
    this.s.endOfLine();
    const span = this.s.spanFrom(start);
    const prose = this.prose().map(({ text }) => text);
    return { is: 'model', title, prose, span };
  }

  private clock(start: number): Ast.ClockPart {
    const about = this.s.endOfLine();
    const span = this.s.spanFrom(start);
    let step: Ast.Expr | undefined;
    let from: Ast.ClockPart['from'];
    let endAfter: Ast.Expr | undefined;
    const endWhen: Ast.Expr[] = [];
    const found = this.s.block(() => {
      if (this.s.takeIf('step')) {
        step = this.e.sum();
        if (this.s.takeIf('from')) {
          if (!this.s.isType('date')) this.s.fail(say.missingDate(this.s.placeForMissing(), describe(this.s.current)));
          const token = this.s.take();
          const hours = this.s.isType('time') ? this.s.take().value : undefined;
          from = { text: token.text, span: token.span, ...(hours === undefined ? {} : { hours }) };
        }
      } else if (this.s.takeIf('end', 'after')) endAfter = this.e.sum();
      else if (this.s.takeIf('end', 'when')) endWhen.push(this.e.expression());
      else this.unknownLine(['step', 'end after', 'end when'], 'clock');
      this.s.endOfLine();
    });
    if (!found) this.s.report(say.missingBlock(span, '“clock”'));
    return { is: 'clock', step, from, endAfter, endWhen, about, span };
  }

  private parameter(start: number): Ast.ParameterPart {
    const name = this.s.name('the name of the parameter');
    this.s.expect('=', 'a parameter needs its usual value: “parameter name = value”');
    const value = this.e.expression();
    const choices = this.choicesAfter(value);
    let whole = false;
    let bound: Ast.Bound | undefined;
    while (this.s.takeIf(',')) {
      if (this.s.takeIf('whole')) whole = true;
      if (!whole || this.s.is('from')) bound = this.bound();
    }
    const about = this.s.endOfLine();
    return { is: 'parameter', name, value, choices, whole, bound, about, span: this.s.spanFrom(start) };
  }

  /** `unit sack = 40 kg` */
  private unit(start: number): Ast.UnitPart {
    const s = this.s;
    const name = s.name('the name of the unit');
    let of: Ast.UnitPart['of'];
    if (s.takeIf('=')) {
      if (!s.isType('number')) s.fail(say.missingNumber(s.placeForMissing(), describe(s.current)));
      const count = s.take().value;
      of = { count, unit: s.name('a unit that is declared above') };
    }
    const about = s.endOfLine();
    return { is: 'unit', name, of, about, span: s.spanFrom(start) };
  }

  /** `data "voles.csv"` and the lines of the file under it. */
  private data(start: number): Ast.DataPart {
    const file = this.file();
    this.s.endOfLine();
    const span = this.s.spanFrom(start);
    const lines = this.prose();
    return {
      is: 'data',
      file,
      lines: lines.map(({ text }) => text),
      starts: lines.map(({ span }) => span.start),
      span,
    };
  }

  /** A scenario or a study with its lines. */
  private ofStudy<K extends 'scenario' | 'study'>(start: number, is: K): Omit<Ast.StudyPart, 'is'> & { is: K } {
    const title = this.s.isType('text') ? this.s.take().text.replace(/\s*#.*$/, '') : '';
    this.s.endOfLine();
    const span = this.s.spanFrom(start);
    return { is, title, lines: this.prose().map((token) => ({ text: token.text, span: token.span })), span };
  }

  /** Lines under a header that are taken as they stand. */
  private prose(): Token[] {
    const lines: Token[] = [];
    if (!this.s.isType('indent')) return lines;
    while (!this.s.isType('dedent') && !this.s.isType('end')) {
      const token = this.s.take();
      if (token.type === 'text') lines.push(token);
    }
    if (this.s.isType('dedent')) this.s.take();
    return lines;
  }

  private tally(start: number): Ast.TallyPart {
    const name = this.s.name('the name of the tally');
    const kept = this.s.takeIf(',', 'kept');
    const about = this.s.endOfLine();
    return { is: 'tally', name, kept, about, span: this.s.spanFrom(start) };
  }

  private record(start: number): Ast.RecordPart {
    const s = this.s;
    const name = s.name('a kind, an interaction or a field');
    const values: Ast.Expr[] = [];
    if (s.takeIf(':')) {
      do values.push(this.e.expression());
      while (s.takeIf(','));
    }
    const every = s.takeIf('every') ? this.e.sum() : undefined;
    const when = s.takeIf('when') ? this.e.expression() : undefined;
    const about = s.endOfLine();
    return { is: 'record', name, values, every, when, about, span: s.spanFrom(start) };
  }

  private variable(start: number): Ast.VariablePart {
    const name = this.s.name('the name of the variable');
    if (this.s.is('from')) {
      const table = this.seriesTable();
      const choices = this.s.is('of') ? this.choices() : undefined;
      const about = this.s.endOfLine();
      return { is: 'variable', name, table, choices, about, span: this.s.spanFrom(start) };
    }
    this.s.expect('=', 'a variable needs its first value: “variable rain = 2”');
    const value = this.e.expression();
    const choices = this.choicesAfter(value);
    const about = this.s.endOfLine();
    return { is: 'variable', name, value, choices, about, span: this.s.spanFrom(start) };
  }

  /** `from "weather.csv", column "wet days" in mm` */
  private seriesTable(): Ast.SeriesTable {
    const { s } = this;
    const start = s.take().span.start;
    const file = this.file();
    let column: Ast.FileName | undefined;
    if (s.takeIf(',')) {
      s.expect('column', 'the column of the values is named so: “from "weather.csv", column rain”');
      if (s.isType('string')) column = this.file();
      else {
        const { text, span } = s.name('the name of a column');
        column = { name: text, span };
      }
    }
    const unit = s.takeIf('in') ? this.e.unit('the unit of the values: “from "rain.csv" in mm”') : undefined;
    return { file, column, unit, span: s.spanFrom(start) };
  }

  private order(start: number): Ast.OrderPart {
    const s = this.s;
    const about = s.endOfLine();
    const span = s.spanFrom(start);
    const lines: Ast.OrderLine[] = [];
    s.block(() => {
      const lineStart = s.current.span.start;
      const rules = [this.ruleName()];
      while (s.takeIf(',')) rules.push(this.ruleName());
      let mode: Ast.Mode | undefined;
      if (s.takeIf('in', 'turn')) mode = 'in turn';
      else if (s.takeIf('in', 'fixed', 'order')) mode = 'in fixed order';
      else if (s.takeIf('all', 'at', 'once')) mode = 'all at once';
      const lineSpan = s.spanFrom(lineStart);
      s.endOfLine();
      lines.push({ rules, mode, span: lineSpan });
    });
    return { is: 'order', lines, about, span };
  }

  private ruleName(): Ast.Name[] {
    const names = [this.s.name('the name of a rule')];
    while (this.s.takeIf('.')) names.push(this.s.name('the name of a rule'));
    return names;
  }

  private timeline(start: number): Ast.TimelinePart {
    const s = this.s;
    const about = s.endOfLine();
    const span = s.spanFrom(start);
    const lines: Ast.TimelineLine[] = [];
    s.block(() => {
      const lineStart = s.current.span.start;
      const when = this.timelineWhen();
      let body: Ast.Block;
      const header = s.spanFrom(lineStart);
      if (s.takeIf(':')) {
        if (s.isType('newline')) {
          s.endOfLine();
          body = this.st.requiredBlock(header, 'a line of the timeline');
        } else body = [this.st.statement()];
      } else {
        s.endOfLine();
        body = this.st.requiredBlock(header, 'a line of the timeline');
      }
      lines.push({ when, body, span: header });
    });
    return { is: 'timeline', lines, about, span };
  }

  private timelineWhen(): Ast.TimelineWhen {
    const s = this.s;
    const word = s.current.word;
    if (s.takeIf('at', 'start')) return { is: 'at start' };
    if (s.takeIf('at')) return { is: 'at', time: this.e.sum() };
    if (s.takeIf('from')) {
      const from = this.e.sum();
      s.expect('to', 'a period reads “from 40 days to 60 days”');
      return { is: 'from', from, to: this.e.sum() };
    }
    if (s.takeIf('every', 'year', 'on')) {
      if (!s.isType('monthday')) s.fail(say.missingMonthDay(s.placeForMissing(), describe(s.current)));
      const token = s.take();
      const [month, day] = token.text.split('-').map(Number) as [number, number];
      if (month < 1 || month > 12 || day < 1 || day > 31) s.report(say.noSuchDay(token.span, token.text));
      return { is: 'every year on', month, day };
    }
    if (s.is('every') && (WEEKDAYS.includes(s.ahead(1).word) || s.ahead(1).word === 'day')) {
      s.take();
      const weekday = WEEKDAYS.indexOf(s.take().word) + 1;
      let hours = 0;
      if (s.takeIf('at')) {
        if (!s.isType('time')) s.fail(say.missingTime(s.placeForMissing(), describe(s.current)));
        hours = s.take().value;
      }
      return { is: 'every day', weekday, hours };
    }
    if (s.takeIf('every')) return { is: 'every', period: this.e.sum() };
    if (word === 'when' || word === 'whenever' || word === 'while') {
      s.take();
      return { is: word, condition: this.e.expression() };
    }
    return this.unknownLine(['at', 'from', 'every', 'every year on', 'when', 'whenever', 'while'], 'timeline');
  }

  private measure(start: number, is: 'measure' | 'summary'): Ast.MeasurePart {
    const name = this.s.name(`the name of the ${is}`);
    const shown = (): Ast.Name | undefined =>
      this.s.takeIf('in')
        ? this.e.unit('the unit in which it is shown, as in “measure wait in hours = ...”')
        : undefined;
    const before = shown();
    const by =
      is === 'measure' && this.s.takeIf('by') ? this.s.name('a state machine or a choice of agents') : undefined;
    this.s.expect('=', `a ${is} reads “${is} name = expression”`);
    const value = this.e.expression();
    const unit = before ?? shown();
    const about = this.s.endOfLine();
    return { is, name, unit, by, value, about, span: this.s.spanFrom(start) };
  }

  private chart(start: number): Ast.ChartPart {
    const title = this.freeText('the title of the chart');
    this.s.expect(':', 'a chart reads “chart Title: measure, measure”');
    if (this.s.areWords('distribution', 'of')) {
      const distribution = this.e.distribution();
      const about = this.s.endOfLine();
      return { is: 'chart', title, values: [], levels: [], distribution, about, span: this.s.spanFrom(start) };
    }
    const values = [this.e.expression()];
    const levels: Ast.Expr[] = [];
    while (this.s.takeIf(',')) (this.takesLevel() ? levels : values).push(this.e.expression());
    const against = this.s.takeIf('against') ? this.e.expression() : undefined;
    const about = this.s.endOfLine();
    return { is: 'chart', title, values, levels, against, about, span: this.s.spanFrom(start) };
  }

  /** Takes the word “level” where an expression follows, rather than a measure of that name. */
  private takesLevel(): boolean {
    const next = this.s.ahead(1);
    const begins = next.type === 'number' || next.word === '(' || (next.type === 'name' && !GOES_ON.has(next.word));
    return begins && this.s.takeIf('level');
  }

  private show(start: number): Ast.ShowPart {
    const s = this.s;
    const name = s.name('what to show');
    s.expect(':', 'a show reads “show Vole: leaf, size 1, colour by life”');
    const out: {
      shape?: Ast.Name;
      size?: Ast.Expr;
      colourBy?: Ast.Expr;
      colour?: Ast.Name;
      scale?: [Ast.Name, Ast.Name];
      asCells?: boolean;
    } = {};
    const words: { word: Ast.Name; colour: Ast.Name }[] = [];
    do {
      if (s.takeIf('as', 'cells')) out.asCells = true;
      else if (s.takeIf('size')) out.size = this.e.sum();
      else if (s.takeIf('colour', 'by')) out.colourBy = this.e.sum();
      else if (s.takeIf('colour')) out.colour = s.name('a colour');
      else if (s.ahead(1).word === 'to') {
        const low = s.name('a colour');
        s.take();
        out.scale = [low, s.name('a colour')];
      } else if (s.ahead(1).type === 'name') words.push({ word: this.e.pathName(), colour: s.name('its colour') });
      else out.shape = s.name('a shape or colour');
    } while (s.takeIf(','));
    const about = s.endOfLine();
    return { is: 'show', name, ...out, words, about, span: s.spanFrom(start) };
  }

  private check(start: number): Ast.CheckPart {
    const s = this.s;
    const title = this.freeText('the title of the check');
    s.endOfLine();
    const span: Span = s.spanFrom(start);
    const settings: { name: Ast.Name; value: Ast.Expr }[] = [];
    const expectations: Ast.CheckPart['expectations'][number][] = [];
    let seeds = 0;
    let duration: Ast.Expr | undefined;
    const found = s.block(() => {
      if (s.takeIf('expect')) {
        const value = this.e.expression();
        const bound = s.is('from') ? this.bound() : undefined;
        let runs: 'every' | Ast.Expr | undefined;
        if (s.takeIf('in', 'every', 'run')) runs = 'every';
        else if (s.takeIf('in', 'at', 'least')) {
          runs = this.e.small();
          s.expect('of', '“in at least 95 % of runs”');
          s.expect('runs', '“in at least 95 % of runs”');
        }
        expectations.push({ value, bound, runs });
        s.endOfLine();
        return;
      }
      if (s.takeIf('with')) {
        do {
          const name = s.name('the name of a parameter');
          s.expect('=', 'a setting reads “name = value”');
          settings.push({ name, value: this.e.expression() });
        } while (s.takeIf(',') && !s.is('over'));
      }
      s.expect('over', 'a check says over how many seeds: “over 20 seeds for 200 days”');
      if (!s.isType('number')) s.fail(say.missingNumber(s.placeForMissing(), describe(s.current)));
      seeds = s.take().value;
      s.expect('seeds', '“over 20 seeds”');
      if (s.takeIf('for')) duration = this.e.sum();
      s.endOfLine();
    });
    if (!found) s.report(say.missingBlock(span, 'a check'));
    return { is: 'check', title, settings, seeds, duration, expectations, span };
  }
}
