import { stringValue } from './lexer.ts';
import * as say from './reading-messages.ts';
import { QueryParser } from './parse-query.ts';
import { NETWORK_WORDS, SEAT_WORDS } from './syntax.ts';
import type { Argument, BinaryOperator, Expr, GatherFunction, Name, Query, WayChoice, ExprOf } from './syntax.ts';
import type { TokenStream } from './token-stream.ts';
import { describe, toName } from './token-stream.ts';
import { isReserved } from './words.ts';

/** Bound on nesting, so that parsing untrusted text cannot exhaust the stack. */
const MAX_DEPTH = 60;
/** Bound on a chain such as a sum, which is a tree as deep as it is long, and on the names of a path. */
const MAX_CHAIN = 250;
const COMPARISONS = new Set(['<', '<=', '>', '>=']);
const GATHERS = new Set(['sum', 'mean', 'min', 'max', 'median', 'sd', 'quantile']);

/** Reads expressions and queries; grammar.md section 3, precedence section 4. */
export class ExpressionParser {
  private depth = 0;

  readonly queries: QueryParser;

  constructor(private readonly s: TokenStream) {
    this.queries = new QueryParser(s, this);
  }

  expression(): Expr {
    return this.deeper(() => (this.s.is('if') ? this.conditional() : this.or()));
  }

  private deeper(read: () => Expr): Expr {
    if (this.depth >= MAX_DEPTH) return this.s.fail(say.tooDeep(this.s.current.span));
    this.depth++;
    try {
      return read();
    } finally {
      this.depth--;
    }
  }

  private conditional(): Expr {
    const start = this.s.take().span.start;
    const condition = this.expression();
    this.s.expect('then', 'an expression with “if” reads: if condition then value else other value');
    const then = this.expression();
    this.s.expect('else', 'an expression with “if” always needs its “else”');
    const otherwise = this.expression();
    return { is: 'if', condition, then, else: otherwise, span: this.s.spanFrom(start) };
  }

  /** How many links of a chain hang below an expression; one that is no chain is not in it. */
  private readonly links = new WeakMap<Expr, number>();

  private binary(op: BinaryOperator, left: Expr, right: Expr): Expr {
    return this.linked(left, right, {
      is: 'binary',
      op,
      left,
      right,
      span: { start: left.span.start, end: right.span.end },
    });
  }

  private linked(left: Expr, right: Expr | undefined, chain: Expr): Expr {
    const links = 1 + Math.max(this.links.get(left) ?? 0, (right && this.links.get(right)) ?? 0);
    if (links > MAX_CHAIN) return this.s.fail(say.chainTooLong(right?.span ?? chain.span, MAX_CHAIN));
    this.links.set(chain, links);
    return chain;
  }

  private or(): Expr {
    let left = this.and();
    while (this.s.takeIf('or')) left = this.binary('or', left, this.and());
    return left;
  }

  private and(): Expr {
    let left = this.not();
    while (this.s.takeIf('and')) left = this.binary('and', left, this.not());
    return left;
  }

  private not(): Expr {
    if (!this.s.is('not')) return this.comparison();
    const start = this.s.take().span.start;
    const value = this.deeper(() => this.not());
    return { is: 'unary', op: 'not', value, span: this.s.spanFrom(start) };
  }

  private comparison(): Expr {
    const left = this.sum();
    const result = this.comparisonAfter(left);
    if (result !== left && (COMPARISONS.has(this.s.current.word) || this.s.is('is'))) {
      this.s.fail(say.chainedComparison(this.s.current.span));
    }
    return result;
  }

  private comparisonAfter(left: Expr): Expr {
    const word = this.s.current.word;
    if (COMPARISONS.has(word)) {
      this.s.take();
      return this.binary(word as BinaryOperator, left, this.sum());
    }
    if (!this.s.takeIf('is')) {
      if (this.s.is('=')) this.s.fail(say.equalsInExpression(this.s.current.span));
      return left;
    }
    const not = this.s.takeIf('not');
    if (this.s.takeIf('in', 'zone')) {
      const zone = this.s.name('the name of a zone');
      return { is: 'in zone', not, place: left, zone, span: this.s.spanFrom(left.span.start) };
    }
    if (this.s.takeIf('one', 'of')) {
      if (this.opensQuery()) {
        const query = this.queries.query();
        return { is: 'one of', not, left, options: [], query, span: this.s.spanFrom(left.span.start) };
      }
      const options = [this.sum()];
      while (this.s.takeIf(',')) options.push(this.sum());
      return { is: 'one of', not, left, options, span: this.s.spanFrom(left.span.start) };
    }
    return this.binary(not ? 'is not' : 'is', left, this.sum());
  }

  private isCounting = false;

  /** How many to start or create: a sum without a bare query in it, as a place may follow (D16). */
  count(): Expr {
    this.isCounting = true;
    try {
      return this.sum();
    } finally {
      this.isCounting = false;
    }
  }

  sum(): Expr {
    let left = this.product();
    while (this.s.is('+') || this.s.is('-'))
      left = this.binary(this.s.take().word as BinaryOperator, left, this.product());
    return left;
  }

  private product(): Expr {
    let left = this.rate();
    while (this.s.is('*') || this.s.is('/'))
      left = this.binary(this.s.take().word as BinaryOperator, left, this.rate());
    return left;
  }

  private rate(): Expr {
    let value = this.signed();
    while (this.s.takeIf('per')) {
      const count = this.s.isType('number') ? this.s.take().value : 1;
      const unit = this.unit('after “per” stands a unit of time or length');
      value = this.linked(value, undefined, { is: 'per', value, count, unit, span: this.s.spanFrom(value.span.start) });
    }
    return value;
  }

  unit(meaning: string): Name {
    if (!this.s.isUnit(this.s.current.word)) {
      return this.s.fail(say.missingUnit(this.s.placeForMissing(), meaning, describe(this.s.current)));
    }
    return toName(this.s.take());
  }

  private signed(): Expr {
    if (!this.s.is('-')) return this.power();
    const start = this.s.take().span.start;
    const value = this.deeper(() => this.signed());
    return { is: 'unary', op: '-', value, span: this.s.spanFrom(start) };
  }

  private power(): Expr {
    const base = this.primary();
    return this.s.takeIf('^')
      ? this.binary(
          '^',
          base,
          this.deeper(() => this.signed()),
        )
      : base;
  }

  private primary(): Expr {
    const { word, span } = this.s.current;
    const start = span.start;
    if (this.s.current.type === 'name') {
      if (word === 'count' || word === 'any') {
        this.s.take();
        if (word === 'count' && this.s.is('of')) this.s.fail(say.countOf({ start, end: this.s.current.span.end }));
        return { is: 'ask', ask: word, query: this.queries.query(), span: this.s.spanFrom(start) };
      }
      if (this.s.takeIf('share', 'of', 'steps', 'where'))
        return { is: 'share of steps', of: this.expression(), span: this.s.spanFrom(start) };
      if (this.s.takeIf('share')) {
        this.s.expect('of', '“share of” needs its “of”');
        return { is: 'ask', ask: 'share', query: this.queries.query(), span: this.s.spanFrom(start) };
      }
      if (word === 'random' || word === 'nearest' || (word === 'first' && !this.s.areWords('first', 'time'))) {
        this.s.take();
        return { is: 'pick', how: word, query: this.queries.query(), span: this.s.spanFrom(start) };
      }
      const whole = this.ofCourse(start) ?? this.ofNetwork(start) ?? this.ofWay(start) ?? this.ofSeats(start);
      if (whole) return whole;
      if (GATHERS.has(word) && this.s.ahead(1).word !== '(') return this.gather(word as GatherFunction);
      if (this.s.takeIf('geometric', 'mean')) return this.gatherAfter('geometric mean', start);
      const temporal = this.temporal(start);
      if (temporal) return temporal;
      if (this.s.takeIf('day', 'of', 'year')) return { is: 'day of year', span: this.s.spanFrom(start) };
      if (this.opensQuery()) return this.extreme(this.queries.query());
    }
    return this.small();
  }

  /** A kind followed by a reach can only be a query that ends in `with most` or `with least`. */
  private opensQuery(): boolean {
    if (this.isCounting) return false;
    if (isReserved(this.s.current.word) && !['cell', 'cells'].includes(this.s.current.word)) return false;
    const next = this.s.ahead(1).word;
    const isReach =
      ['within', 'where', 'next', 'tied', 'aboard', 'carrying'].includes(next) ||
      (next === 'ahead' && this.s.ahead(2).word === 'within') ||
      (next === 'with' && this.s.isQueryHead(this.s.current.word)) ||
      (next === 'in' && ['a', 'zone'].includes(this.s.ahead(2).word));
    return (
      isReach ||
      this.s.is('cells') ||
      this.s.is('cell') ||
      this.s.areWords('empty', 'cells') ||
      this.s.areWords('empty', 'cell') ||
      this.s.areWords('ties', 'by')
    );
  }

  private extreme(query: Query): Expr {
    this.s.expect(
      'with',
      'to pick one of several: “with most …” or “with least …”, or “count”, “any”, “nearest”, “random” before the query',
    );
    const how = this.s.is('least') ? 'least' : 'most';
    if (!this.s.takeIf('most') && !this.s.takeIf('least'))
      this.s.fail(
        say.missingWord(this.s.placeForMissing(), 'most', '“with most …” or “with least …”', describe(this.s.current)),
      );
    const by = this.sum();
    return { is: 'pick', how, query, by, span: this.s.spanFrom(query.span.start) };
  }

  /** `distribution of it.weight over Vole`, with what is gathered as for a mean. */
  distribution(): ExprOf<'gather'> {
    return this.gatherAfter('mean', this.s.take().span.start, 'distribution');
  }

  private gather(word: GatherFunction): Expr {
    const start = this.s.take().span.start;
    return this.gatherAfter(word, start);
  }

  private gatherAfter(fn: GatherFunction, start: number, word: string = fn): ExprOf<'gather'> {
    const level = fn === 'quantile' ? this.small() : undefined;
    this.s.expect('of', `“${word} of” needs its “of”`);
    const of = this.small();
    this.refuseOpenGather(word, of);
    let over: Query | undefined;
    let last: Expr | undefined;
    if (this.s.takeIf('over', 'last')) last = this.small();
    else if (this.s.takeIf('over')) over = this.queries.query();
    return { is: 'gather', fn, level, of, over, last, span: this.s.spanFrom(start) };
  }

  /** `sum of a * b over Q`: what is gathered goes on behind a sign, up to an `over` that no other gathering on the line has. */
  private refuseOpenGather(fn: string, of: Expr): void {
    const { s } = this;
    if (!['+', '-', '*', '/', '^'].includes(s.current.word)) return;
    let depth = 0;
    let gathers = 0;
    for (let i = 1; ; i++) {
      const { word, type } = s.ahead(i);
      if (type === 'newline' || type === 'end' || depth < 0) return;
      if (word === '(') depth++;
      else if (word === ')') depth--;
      else if (depth === 0 && (word === ',' || word === 'where')) return;
      else if (depth === 0 && GATHERS.has(word) && s.ahead(i + 1).word === 'of') gathers++;
      else if (depth === 0 && word === 'over') {
        const span = { start: of.span.start, end: s.ahead(i - 1).span.end };
        if (gathers-- === 0) s.fail(say.gatherNeedsBrackets(span, fn, s.textOf(span)));
      }
    }
  }

  /** What is asked of one course of a run: its period, how fast it grows, the stretches in which something holds. */
  private ofCourse(start: number): Expr | undefined {
    const s = this.s;
    if (s.takeIf('period', 'of')) return { is: 'period', of: this.small(), span: s.spanFrom(start) };
    if (s.takeIf('growth', 'rate', 'of')) {
      const of = this.small();
      const first = s.takeIf('over', 'first') ? this.small() : undefined;
      const last = !first && s.takeIf('over', 'last') ? this.small() : undefined;
      return { is: 'growth rate', of, first, last, span: s.spanFrom(start) };
    }
    if (s.takeIf('mean', 'peak', 'of')) {
      const of = this.small();
      s.expect('while', `“mean peak of m while C” needs its “while”`);
      return { is: 'mean peak', of, during: this.expression(), span: s.spanFrom(start) };
    }
    if (s.takeIf('spells', 'of')) return { is: 'spells', of: this.expression(), span: s.spanFrom(start) };
    for (const is of ['mean spell', 'longest spell'] as const)
      if (s.takeIf(...is.split(' '), 'of')) return { is, of: this.expression(), span: s.spanFrom(start) };
    return undefined;
  }

  private ofNetwork(start: number): Expr | undefined {
    const { s } = this;
    for (const which of NETWORK_WORDS) {
      if (s.takeIf(...which.split(' '), 'of'))
        return { is: 'network', which, network: s.name('the name of a network'), span: s.spanFrom(start) };
    }
    return undefined;
  }

  /** `way to P`, `time to P at V`: along the lanes of a map. */
  private ofWay(start: number): Expr | undefined {
    const s = this.s;
    if (s.takeIf('way', 'to'))
      return { is: 'way to', to: this.beforeAt(), way: this.wayChoice(false), span: s.spanFrom(start) };
    if (!s.areWords('time', 'to')) return undefined;
    s.takeIf('time', 'to');
    const to = this.beforeAt();
    s.expect('at', 'the speed stands after “at”: “time to home at 3 km per hour”');
    const at = this.rate();
    const way = this.wayChoice(true);
    return { is: 'way to', to, at, way, lines: this.linesTaken(), span: s.spanFrom(start) };
  }

  /** `seats left of v`: asked of a vehicle. */
  private ofSeats(start: number): Expr | undefined {
    const { s } = this;
    for (const which of SEAT_WORDS)
      if (s.takeIf(...which.split(' '), 'of')) return { is: 'seats', which, of: this.small(), span: s.spanFrom(start) };
    return undefined;
  }

  /** `by the quickest way` where there is a speed, and `on ways lane path`. */
  wayChoice(hasSpeed: boolean): WayChoice {
    const s = this.s;
    const quickest = hasSpeed && s.takeIf('by', 'the', 'quickest', 'way');
    if (!s.takeIf('on', 'ways')) return { quickest };
    const ways = [];
    do ways.push(s.name('a kind of ways: “on ways footway path”', false));
    while (s.isType('name') && !isReserved(s.current.word));
    return { quickest, ways };
  }

  /** `or by Ferries, Trams` after a way on foot. */
  linesTaken(): Name[] | undefined {
    const s = this.s;
    if (!s.takeIf('or', 'by')) return undefined;
    const lines = [];
    do lines.push(s.name('the name of a line: “or by Ferries”'));
    while (s.is(',') && s.ahead(1).type === 'name' && s.takeIf(','));
    return lines;
  }

  /** Whether words follow one another somewhere on the rest of the line. */
  private isOnLine(first: string, second: string): boolean {
    const { s } = this;
    for (let i = 1; s.ahead(i).type !== 'newline' && s.ahead(i).type !== 'end'; i++)
      if (s.ahead(i).word === first && s.ahead(i + 1).word === second) return true;
    return false;
  }

  private temporal(start: number): Expr | undefined {
    const s = this.s;
    if (s.areWords('time', 'of', 'max') || s.areWords('time', 'of', 'min')) {
      const which = s.ahead(2).word as 'max' | 'min';
      s.takeIf('time', 'of', which);
      s.expect('of', `“time of ${which} of” needs its “of”`);
      return { is: 'time of', which, of: this.small(), span: s.spanFrom(start) };
    }
    if (s.is('times') && this.isOnLine('becomes', 'true')) {
      s.take();
      const of = this.expression();
      s.expect('becomes', '“times C becomes true” counts how often a condition begins to hold');
      s.expect('true', '“times C becomes true” counts how often a condition begins to hold');
      return { is: 'spells', of, span: s.spanFrom(start) };
    }
    if (s.takeIf('first', 'time')) return { is: 'first time', of: this.expression(), span: s.spanFrom(start) };
    if ((s.is('ever') || s.is('always')) && s.ahead(1).type !== 'op' && s.ahead(1).type !== 'newline') {
      const word = s.take().word as 'ever' | 'always';
      return { is: word, of: this.expression(), span: s.spanFrom(start) };
    }
    if (s.areWords('time', 'in') && s.ahead(2).type === 'name') {
      s.takeIf('time', 'in');
      return { is: 'time in', path: this.path(), span: s.spanFrom(start) };
    }
    if (s.areWords('tie', 'to')) {
      s.takeIf('tie', 'to');
      const other = this.small();
      s.expect('by', '“tie to v by Network”');
      return { is: 'tie to', other, network: s.name('the name of a network'), span: s.spanFrom(start) };
    }
    if (s.is('last') && s.ahead(1).type === 'name' && !isReserved(s.ahead(1).word)) {
      s.take();
      s.expect('of', '“last of” needs its “of”');
    }
    if (s.takeIf('last', 'of')) return { is: 'last of', of: this.small(), span: s.spanFrom(start) };
    if ((s.is('entered') || s.is('left')) && s.ahead(1).type === 'name' && !isReserved(s.ahead(1).word)) {
      const which = s.take().word as 'entered' | 'left';
      return { is: 'flow', which, path: this.path(), span: s.spanFrom(start) };
    }
    return undefined;
  }

  small(): Expr {
    const token = this.s.current;
    const start = token.span.start;
    switch (token.type) {
      case 'number': {
        this.s.take();
        const unit = this.s.isUnit(this.s.current.word) ? toName(this.s.take()) : undefined;
        return { is: 'number', value: token.value, unit, span: this.s.spanFrom(start) };
      }
      case 'percent':
        this.s.take();
        return { is: 'percent', value: token.value, span: token.span };
      case 'date':
        this.s.take();
        return { is: 'date', text: token.text, span: token.span };
      case 'time':
        this.s.take();
        return { is: 'time', hours: token.value, span: token.span };
      case 'string':
        this.s.take();
        return { is: 'string', text: stringValue(token), span: token.span };
      case 'name':
        return this.smallName();
      default:
        if (token.word === '(') return this.brackets();
        return this.s.fail(say.missingValue(this.s.placeForMissing(), describe(token)));
    }
  }

  private smallName(): Expr {
    const token = this.s.current;
    const span = token.span;
    switch (token.word) {
      case 'yes':
      case 'no':
        this.s.take();
        return { is: 'yesno', value: token.word === 'yes', span };
      case 'nobody':
      case 'nowhere':
      case 'here':
        this.s.take();
        return { is: token.word, span };
      case 'somewhere': {
        this.s.take();
        const zone = this.s.takeIf('in', 'zone') ? this.s.name('the name of a zone') : undefined;
        const space = !zone && this.s.takeIf('on') ? this.s.name('the name of a space') : undefined;
        return { is: 'somewhere', zone, space, span: this.s.spanFrom(span.start) };
      }
      default:
    }
    const callable = this.s.ahead(1).word === '(' && this.s.ahead(1).span.start === span.end;
    if (
      isReserved(token.word) &&
      token.word !== 'self' &&
      token.word !== 'it' &&
      !(callable && (token.word === 'min' || token.word === 'max'))
    ) {
      return this.s.fail(say.missingValue(span, describe(token)));
    }
    if (callable) return this.call();
    if (this.s.is('place') && this.s.ahead(1).word === 'named' && this.s.ahead(2).type === 'string') {
      this.s.takeIf('place', 'named');
      const token = this.s.take();
      return {
        is: 'named place',
        name: { name: stringValue(token), span: token.span },
        span: this.s.spanFrom(span.start),
      };
    }
    const path = this.path();
    if (this.s.is('(') && path.is === 'path' && path.names.length > 1) return this.callOf(path);
    if (this.s.is('at') && this.fieldReader) {
      this.s.take();
      const field = toName(token);
      return { is: 'at', field, place: this.small(), span: this.s.spanFrom(span.start) };
    }
    return path;
  }

  /** Off while reading the target of a statement in which `at` means something else. */
  fieldReader = true;

  /** A place or somebody before an `at` that does not read a field. */
  beforeAt(): Expr {
    const before = this.fieldReader;
    this.fieldReader = false;
    try {
      return this.primary();
    } finally {
      this.fieldReader = before;
    }
  }

  /** The first name of a path, which may be `self` or `it`. */
  pathName(): Name {
    return toName(this.s.take());
  }

  path(): Expr {
    const start = this.s.current.span.start;
    const names = [this.pathName()];
    while (this.s.is('.') && this.s.ahead(1).type === 'name') {
      this.s.take();
      names.push(toName(this.s.take()));
    }
    if (names.length > MAX_CHAIN) this.s.fail(say.chainTooLong(names[MAX_CHAIN]!.span, MAX_CHAIN));
    return { is: 'path', names, span: this.s.spanFrom(start) };
  }

  /** `a.welfare(2)`, `a.friend.welfare(2)` */
  private callOf({ names, span }: ExprOf<'path'>): Expr {
    const before = names.slice(0, -1);
    const end = before[before.length - 1]!.span.end;
    const of: Expr = { is: 'path', names: before, span: { start: span.start, end } };
    const args = this.arguments();
    return this.withUnit({ is: 'call', of, name: names[names.length - 1]!, args, span: this.s.spanFrom(span.start) });
  }

  private call(): Expr {
    const name = toName(this.s.take());
    const args = this.arguments();
    const call: Expr = { is: 'call', name, args, span: this.s.spanFrom(name.span.start) };
    return this.withUnit(call);
  }

  private withUnit(value: Expr): Expr {
    if (!this.s.isUnit(this.s.current.word)) return value;
    return { is: 'with unit', value, unit: toName(this.s.take()), span: this.s.spanFrom(value.span.start) };
  }

  arguments(): Argument[] {
    this.s.expect('(', 'arguments stand in brackets');
    const args: Argument[] = [];
    while (!this.s.is(')')) {
      if (args.length > 0) this.s.expect(',', 'arguments are separated by commas');
      args.push(this.argument());
    }
    this.s.take();
    return args;
  }

  private argument(): Argument {
    const start = this.s.current.span.start;
    if (this.s.isType('name') && this.s.ahead(1).word === '=') {
      const name = toName(this.s.take());
      this.s.take();
      return { name, value: this.expression(), span: this.s.spanFrom(start) };
    }
    if (this.s.takeIf('rest')) return { share: 'rest', value: this.sum(), span: this.s.spanFrom(start) };
    const value = this.expression();
    if (this.s.is(',') || this.s.is(')')) return { value, span: this.s.spanFrom(start) };
    return { share: value, value: this.sum(), span: this.s.spanFrom(start) };
  }

  private brackets(): Expr {
    const start = this.s.take().span.start;
    const first = this.expression();
    if (this.s.takeIf(',')) {
      const y = this.expression();
      this.s.expect(')', 'a place reads (x, y)');
      return { is: 'point', x: first, y, span: this.s.spanFrom(start) };
    }
    this.s.expect(')', 'the bracket is still open');
    return this.withUnit({ is: 'brackets', value: first, span: this.s.spanFrom(start) });
  }
}
