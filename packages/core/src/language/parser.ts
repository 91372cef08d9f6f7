import type { Diagnostic, Span } from '../diagnostics.ts';
import type { LexResult } from './lexer.ts';
import { lex, PART_WORDS, stringValue } from './lexer.ts';
import * as say from './messages.ts';
import { nearestWord } from './near-names.ts';
import { ExpressionParser } from './parse-expression.ts';
import { StatementParser } from './parse-statement.ts';
import type * as Ast from './syntax.ts';
import { describe, LineUnreadable, TokenStream } from './token-stream.ts';

export interface ParseResult {
  readonly tree: Ast.SyntaxTree;
  readonly diagnostics: readonly Diagnostic[];
  readonly lexed: LexResult;
}

/** Reads a model text. Never throws on the text: what cannot be read is reported and passed over, the rest is kept. */
export function parse(text: string): ParseResult {
  const lexed = lex(text);
  const parser = new Parser(new TokenStream(lexed.tokens));
  const tree = parser.model();
  const diagnostics = [...lexed.diagnostics, ...parser.diagnostics].sort((a, b) => a.span.start - b.span.start);
  return { tree, diagnostics, lexed };
}

type PartReader = (start: number) => Ast.AnyPart;

const LATER_PARTS = ['unit', 'tally', 'define', 'routine', 'zone', 'obstacle', 'network', 'message', 'record'];
const TRIGGERS = ['after', 'rate', 'chance', 'when'] as const;

class Parser {
  private readonly e: ExpressionParser;
  private readonly st: StatementParser;

  private readonly readers: Record<string, PartReader> = {
    model: (start) => this.modelPart(start),
    clock: (start) => this.clock(start),
    parameter: (start) => this.parameter(start),
    variable: (start) => this.variable(start),
    space: (start) => this.space(start),
    field: (start) => this.field(start),
    agent: (start) => this.agent(start),
    interaction: (start) => this.interaction(start),
    order: (start) => this.order(start),
    timeline: (start) => this.timeline(start),
    measure: (start) => this.measure(start, 'measure'),
    summary: (start) => this.measure(start, 'summary'),
    chart: (start) => this.chart(start),
    show: (start) => this.show(start),
    check: (start) => this.check(start),
  };

  constructor(private readonly s: TokenStream) {
    this.e = new ExpressionParser(s);
    this.st = new StatementParser(s, this.e);
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
    const reader = token.type === 'name' && Object.hasOwn(this.readers, token.word) ? this.readers[token.word] : undefined;
    if (reader) {
      this.s.take();
      return reader(token.span.start);
    }
    if (LATER_PARTS.includes(token.word)) return this.s.fail(say.notYet(token.span, `“${token.word}”`));
    if (token.word === 'behaviour' || token.word === 'has' || token.word === 'derive' || token.word === 'states' || token.word === 'start') {
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
    const prose: string[] = [];
    if (this.s.isType('indent')) {
      while (!this.s.isType('dedent') && !this.s.isType('end')) {
        const token = this.s.take();
        if (token.type === 'text') prose.push(token.text);
      }
      if (this.s.isType('dedent')) this.s.take();
    }
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
          from = { text: token.text, span: token.span };
        }
      } else if (this.s.takeIf('end', 'after')) endAfter = this.e.sum();
      else if (this.s.takeIf('end', 'when')) endWhen.push(this.e.expression());
      else this.unknownLine(['step', 'end after', 'end when'], 'clock');
      this.s.endOfLine();
    });
    if (!found) this.s.report(say.missingBlock(span, '“clock”'));
    return { is: 'clock', step, from, endAfter, endWhen, about, span };
  }

  private unknownLine(known: readonly string[], under: string): never {
    return this.s.fail(say.unknownLine(this.s.placeForMissing(), describe(this.s.current), under, known));
  }

  private bound(): Ast.Bound {
    const start = this.s.current.span.start;
    this.s.expect('from', 'bounds read “from 0 to 1”');
    const from = this.e.sum();
    this.s.expect('to', 'bounds read “from 0 to 1”');
    return { from, to: this.e.sum(), span: this.s.spanFrom(start) };
  }

  private choicesAfter(value: Ast.Expr): Ast.Name[] | undefined {
    if (value.is !== 'path' || value.names.length !== 1 || !this.s.takeIf('of')) return undefined;
    const choices = [this.s.name('a choice')];
    while (this.s.is(',') && this.s.ahead(1).word !== 'whole' && this.s.ahead(1).word !== 'from') {
      this.s.take();
      choices.push(this.s.name('a choice'));
    }
    return choices;
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

  private variable(start: number): Ast.VariablePart {
    const name = this.s.name('the name of the variable');
    this.s.expect('=', 'a variable needs its first value: “variable rain = 2”');
    const value = this.e.expression();
    const choices = this.choicesAfter(value);
    const about = this.s.endOfLine();
    return { is: 'variable', name, value, choices, about, span: this.s.spanFrom(start) };
  }

  private space(start: number): Ast.SpacePart {
    const name = this.s.name('the name of the space');
    this.s.expect(':', 'a space reads “space Meadow: plane 120 m by 120 m, wrapping”');
    if (this.s.is('map')) this.s.fail(say.notYet(this.s.current.span, 'a space from a map'));
    const form = this.s.takeIf('grid') ? 'grid' : 'plane';
    if (form === 'plane') this.s.expect('plane', 'a space is a “plane” or a “grid”');
    const width = this.e.sum();
    this.s.expect('by', 'the size of a space reads “width by height”');
    const height = this.e.sum();
    let neighbours: 4 | 6 | 8 | undefined;
    let oneAgentACell = false;
    let edge: Ast.SpacePart['edge'];
    while (this.s.takeIf(',')) {
      const token = this.s.current;
      if (this.s.takeIf('one', 'agent', 'a', 'cell')) oneAgentACell = true;
      else if (this.s.takeIf('wrapping') || this.s.takeIf('walled') || this.s.takeIf('reflecting')) edge = token.word as Ast.SpacePart['edge'];
      else if (token.type === 'number' && this.s.ahead(1).word === 'neighbours') {
        if (token.value === 6) this.s.fail(say.notYet(token.span, 'a grid of six neighbours'));
        if (token.value !== 4 && token.value !== 8) this.s.fail(say.wrongNeighbours(token.span));
        this.s.take();
        this.s.take();
        neighbours = token.value as 4 | 8;
      } else this.unknownLine(['wrapping', 'walled', 'reflecting', '4 neighbours', '8 neighbours', 'one agent a cell'], 'space');
    }
    const about = this.s.endOfLine();
    return { is: 'space', name, form, width, height, neighbours, oneAgentACell, edge, about, span: this.s.spanFrom(start) };
  }

  private field(start: number): Ast.FieldPart {
    const s = this.s;
    const name = s.name('the name of the field');
    s.expect('on', 'a field lies on a space: “field grass on Meadow”');
    const space = s.name('the space of the field');
    let cell: Ast.Expr | undefined;
    if (s.takeIf(',')) {
      s.expect('cells', 'the size of the cells reads “cells of 2 m”');
      s.expect('of', 'the size of the cells reads “cells of 2 m”');
      cell = this.e.sum();
    }
    const about = s.endOfLine();
    const span = s.spanFrom(start);
    const lines: { start?: Ast.Expr; grow?: Ast.Expr; spread?: Ast.Expr; fade?: Ast.Expr; keep?: Ast.Bound } = {};
    s.block(() => {
      if (s.is('becomes')) s.fail(say.notYet(s.current.span, '“becomes” of a field'));
      if (s.takeIf('start')) lines.start = this.e.expression();
      else if (s.takeIf('grow')) lines.grow = this.e.expression();
      else if (s.takeIf('spread')) lines.spread = this.e.expression();
      else if (s.takeIf('fade')) lines.fade = this.e.expression();
      else if (s.is('keep')) {
        const keepStart = s.take().span.start;
        const from = this.e.sum();
        s.expect('to', 'bounds of a field read “keep 0 to 1”');
        lines.keep = { from, to: this.e.sum(), span: s.spanFrom(keepStart) };
      } else this.unknownLine(['start', 'grow', 'spread', 'fade', 'keep'], 'field');
      s.endOfLine();
    });
    return { is: 'field', name, space, cell, ...lines, about, span };
  }

  private agent(start: number): Ast.AgentPart {
    const s = this.s;
    const name = s.name('the name of the kind');
    const space = s.takeIf('on') ? s.name('the space of the kind') : undefined;
    const about = s.endOfLine();
    const span = s.spanFrom(start);
    const part = {
      starts: [] as Ast.StartLine[],
      has: [] as Ast.HasLine[],
      derives: [] as Ast.DeriveLine[],
      states: [] as Ast.StatesPart[],
      behaviours: [] as Ast.BehaviourPart[],
    };
    s.block(() => {
      const token = s.current;
      if (s.takeIf('start')) part.starts.push(this.startLine(token.span.start));
      else if (s.takeIf('has')) part.has.push(this.hasLine(token.span.start));
      else if (s.takeIf('derive')) part.derives.push(this.deriveLine(token.span.start));
      else if (s.takeIf('states')) part.states.push(this.states(token.span.start));
      else if (s.takeIf('behaviour')) part.behaviours.push(this.behaviour(token.span.start));
      else if (['define', 'routine', 'on'].includes(token.word)) s.fail(say.notYet(token.span, `“${token.text}” of a kind`));
      else this.unknownLine(['start', 'has', 'derive', 'states', 'behaviour'], 'agent');
    });
    return { is: 'agent', name, space, ...part, about, span };
  }

  private startLine(start: number): Ast.StartLine {
    const s = this.s;
    if (s.is('from') || s.areWords('on', 'every', 'cell')) s.fail(say.notYet(s.current.span, `“start ${s.current.text}”`));
    const count = this.e.sum();
    const placing = this.st.placing();
    const facing = s.takeIf(',', 'facing') ? this.e.expression() : undefined;
    s.endOfLine();
    return { count, placing, facing, span: s.spanFrom(start) };
  }

  private hasLine(start: number): Ast.HasLine {
    const s = this.s;
    const name = s.name('the name of the attribute');
    if (s.is(':')) s.fail(say.notYet(s.current.span, 'an attribute that points at agents or keeps a list'));
    s.expect('=', 'an attribute needs its first value: “has energy = 1”');
    const value = this.e.expression();
    const choices = this.choicesAfter(value);
    const whole = s.takeIf(',', 'whole');
    const about = s.endOfLine();
    return { name, value, choices, whole, about, span: s.spanFrom(start) };
  }

  private deriveLine(start: number): Ast.DeriveLine {
    const name = this.s.name('the name of the derived attribute');
    this.s.expect('=', 'a derived attribute reads “derive name = expression”');
    const value = this.e.expression();
    const about = this.s.endOfLine();
    return { name, value, about, span: this.s.spanFrom(start) };
  }

  private behaviour(start: number): Ast.BehaviourPart {
    const s = this.s;
    const name = s.name('the name of the behaviour');
    const every = s.takeIf('every') ? this.e.sum() : undefined;
    const when = s.takeIf('when') ? this.e.expression() : undefined;
    const about = s.endOfLine();
    const span = s.spanFrom(start);
    return { is: 'behaviour', name, every, when, body: this.st.requiredBlock(span, 'a behaviour'), about, span };
  }

  private states(start: number): Ast.StatesPart {
    const s = this.s;
    const name = s.name('the name of the state machine');
    const about = s.endOfLine();
    const span = s.spanFrom(start);
    const shares: Ast.StartShare[] = [];
    const states: Ast.StatePart[] = [];
    const found = s.block(() => {
      if (s.is('start') && s.ahead(1).type !== 'newline') {
        s.take();
        do shares.push(this.startShare());
        while (s.takeIf(','));
        s.endOfLine();
      } else states.push(this.state());
    });
    if (!found) s.report(say.missingBlock(span, '“states”'));
    return { is: 'states', name, start: shares, states, about, span };
  }

  private startShare(): Ast.StartShare {
    const s = this.s;
    const start = s.current.span.start;
    if (s.takeIf('rest')) return { share: 'rest', exact: false, state: s.name('a state'), span: s.spanFrom(start) };
    const soleName = s.isType('name') && [',', ''].includes(s.ahead(1).word) && s.ahead(1).type !== 'number';
    if (soleName) return { share: 'all', exact: false, state: s.name('a state'), span: s.spanFrom(start) };
    const share = this.e.small();
    const exact = s.takeIf('of');
    return { share, exact, state: s.name('a state'), span: s.spanFrom(start) };
  }

  private state(): Ast.StatePart {
    const s = this.s;
    const name = s.name('the name of a state');
    const about = s.endOfLine();
    const enter: Ast.Block[] = [];
    const leave: Ast.Block[] = [];
    const transitions: Ast.Transition[] = [];
    s.block(() => {
      const token = s.current;
      if (token.word === 'enter' || token.word === 'leave') {
        s.take();
        s.endOfLine();
        (token.word === 'enter' ? enter : leave).push(this.st.requiredBlock(token.span, `“${token.word}”`));
        return;
      }
      if (token.word === 'on') s.fail(say.notYet(token.span, 'a transition “on” a message or arrival'));
      transitions.push(this.transition(token.span.start));
    });
    return { name, enter, leave, transitions, about, span: name.span };
  }

  private transition(start: number): Ast.Transition {
    const s = this.s;
    const trigger = TRIGGERS.find((word) => s.is(word));
    if (!trigger) {
      if (s.ahead(1).type === 'newline') s.fail(say.nestedState(s.current.span, describe(s.current)));
      return this.unknownLine(['after', 'rate', 'chance', 'when', 'enter', 'leave'], 'state');
    }
    s.take();
    const value = this.e.expression();
    const when = trigger !== 'when' && s.takeIf('when') ? this.e.expression() : undefined;
    s.expect(':', 'the target of a transition stands after a colon: “after 21 days: Adult”');
    const targets: Ast.Share[] = [];
    do targets.push(this.share());
    while (s.takeIf(','));
    s.endOfLine();
    const span = s.spanFrom(start);
    const block: Ast.Statement[] = [];
    s.block(() => block.push(this.st.statement()));
    return { trigger, value, when, targets, block, span };
  }

  private share(): Ast.Share {
    const s = this.s;
    const start = s.current.span.start;
    if (s.takeIf('rest')) return { share: 'rest', state: s.name('a state'), span: s.spanFrom(start) };
    const alone = s.isType('name') && s.ahead(1).type !== 'name';
    if (alone) return { share: 'rest', state: s.name('a state'), span: s.spanFrom(start) };
    const share = this.e.small();
    return { share, state: s.name('a state'), span: s.spanFrom(start) };
  }

  private role(): Ast.Role {
    const start = this.s.current.span.start;
    const name = this.s.name('the name of a role');
    return { name, kind: this.s.name('the kind of a role: “hunter Kestrel”'), span: this.s.spanFrom(start) };
  }

  private interaction(start: number): Ast.InteractionPart {
    const s = this.s;
    const name = s.name('the name of the interaction');
    s.expect(':', 'an interaction names its two roles: “interaction hunt: hunter Kestrel, prey Vole”');
    const first = this.role();
    s.expect(',', 'an interaction has two roles, with a comma between them');
    const roles = [first, this.role()] as const;
    const about = s.endOfLine();
    const span = s.spanFrom(start);
    let reach: Ast.Reach | undefined;
    let pick: Ast.InteractionPart['pick'];
    let oncePerPair = false;
    let where: Ast.Expr | undefined;
    let luck: Ast.InteractionPart['luck'];
    const body: Ast.Statement[] = [];
    const found = s.block(() => {
      if (!reach && body.length === 0) {
        if (s.is('mixing') || s.is('tied') || s.is('anyone')) s.fail(say.notYet(s.current.span, `partners by “${s.current.text}”`));
        const word = s.current.word;
        if (s.takeIf('nearest') || s.takeIf('random') || s.takeIf('first')) pick = word as Ast.InteractionPart['pick'];
        reach = this.e.reach();
        if (!reach) s.fail(say.missingPartner(s.placeForMissing()));
        oncePerPair = s.takeIf(',', 'each', 'pair', 'once');
        s.endOfLine();
      } else if (!where && !luck && body.length === 0 && s.takeIf('where')) {
        where = this.e.expression();
        s.endOfLine();
      } else if (!luck && body.length === 0 && (s.is('chance') || s.is('rate')) && s.ahead(1).word !== '=') {
        const is = s.take().word as 'chance' | 'rate';
        luck = { is, value: this.e.expression() };
        s.endOfLine();
      } else body.push(this.st.statement());
    });
    if (!found) s.report(say.missingBlock(span, 'an interaction'));
    if (!reach) {
      if (found && s.diagnostics.length === 0) s.report(say.missingPartner(span));
      throw new LineUnreadable();
    }
    return { is: 'interaction', name, roles, reach, pick, oncePerPair, where, luck, body, about, span };
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
    if (s.takeIf('every')) return { is: 'every', period: this.e.sum() };
    if (word === 'when' || word === 'whenever' || word === 'while') {
      s.take();
      return { is: word, condition: this.e.expression() };
    }
    return this.unknownLine(['at', 'from', 'every', 'every year on', 'when', 'whenever', 'while'], 'timeline');
  }

  private measure(start: number, is: 'measure' | 'summary'): Ast.MeasurePart {
    const name = this.s.name(`the name of the ${is}`);
    this.s.expect('=', `a ${is} reads “${is} name = expression”`);
    const value = this.e.expression();
    const about = this.s.endOfLine();
    return { is, name, value, about, span: this.s.spanFrom(start) };
  }

  private chart(start: number): Ast.ChartPart {
    const title = this.freeText('the title of the chart');
    this.s.expect(':', 'a chart reads “chart Title: measure, measure”');
    const values = [this.e.expression()];
    while (this.s.takeIf(',')) values.push(this.e.expression());
    const about = this.s.endOfLine();
    return { is: 'chart', title, values, about, span: this.s.spanFrom(start) };
  }

  private show(start: number): Ast.ShowPart {
    const s = this.s;
    const name = s.name('what to show');
    s.expect(':', 'a show reads “show Vole: leaf, size 1, colour by life”');
    const out: { shape?: Ast.Name; size?: Ast.Expr; colourBy?: Ast.Expr; colour?: Ast.Name; scale?: [Ast.Name, Ast.Name] } = {};
    do {
      if (s.takeIf('size')) out.size = this.e.sum();
      else if (s.takeIf('colour', 'by')) out.colourBy = this.e.sum();
      else if (s.takeIf('colour')) out.colour = s.name('a colour');
      else if (s.ahead(1).word === 'to') {
        const low = s.name('a colour');
        s.take();
        out.scale = [low, s.name('a colour')];
      } else out.shape = s.name('a shape or colour');
    } while (s.takeIf(','));
    const about = s.endOfLine();
    return { is: 'show', name, ...out, about, span: s.spanFrom(start) };
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

