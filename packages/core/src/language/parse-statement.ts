import type { Span } from '../diagnostics.ts';
import * as say from './reading-messages.ts';
import { nearestWord } from './near-names.ts';
import type { ExpressionParser } from './parse-expression.ts';
import type { Block, Expr, Name, Placing, Statement } from './syntax.ts';
import type { TokenStream } from './token-stream.ts';
import { describe } from './token-stream.ts';

/** Bounds on blocks within blocks, and on a row of `else if`, of which each stands within the one before. */
const MAX_DEPTH = 40;
const MAX_BRANCHES = 250;
const ASSIGNMENTS = new Set(['=', '+=', '-=', '*=', '/=']);
const STATEMENT_WORDS = [
  'let',
  'if',
  'with',
  'for',
  'repeat',
  'until',
  'turn',
  'move',
  'travel',
  'create',
  'remove',
  'add',
  'send',
  'tie',
  'untie',
  'join',
  'do',
  'log',
  'board',
  'alight',
  'end',
];

/** Reads statements and blocks; grammar.md section 3, decisions D1, D14 to D16, D19. */
export class StatementParser {
  private depth = 0;
  private branches = 0;

  constructor(
    private readonly s: TokenStream,
    private readonly e: ExpressionParser,
  ) {}

  /** The indented statements under a header that needs them. */
  requiredBlock(header: Span, what: string): Block {
    const block: Statement[] = [];
    if (this.s.isType('indent') && this.depth >= MAX_DEPTH) this.s.fail(say.tooDeep(this.s.current.span));
    const before = this.s.diagnostics.length;
    this.depth++;
    let found = false;
    try {
      found = this.s.block(() => block.push(this.statement()));
    } finally {
      this.depth--;
    }
    if (!found && this.s.diagnostics.length === before) this.s.report(say.missingBlock(header, what));
    return block;
  }

  statement(): Statement {
    const s = this.s;
    const token = s.current;
    const start = token.span.start;
    if (token.type !== 'name') return s.fail(say.unknownStatement(token.span, describe(token), undefined));
    if (this.isAssignment()) return this.assignment();
    switch (token.word) {
      case 'let': {
        s.take();
        const name = s.name('the name of the value');
        s.expect('=', 'a value gets its name with “let name = value”');
        const value = this.e.expression();
        s.endOfLine();
        return { is: 'let', name, value, span: { start, end: value.span.end } };
      }
      case 'if':
      case 'with':
        return this.conditional();
      case 'for':
        return this.forEach();
      case 'turn': {
        s.take();
        const who = this.somebodyElse('by', 'to');
        const how = s.takeIf('to') ? 'to' : 'by';
        if (how === 'by') s.expect('by', '“turn by” an angle, or “turn to” a place or direction');
        return this.simple(start, this.e.expression(), (value, span) => ({ is: 'turn', who, how, value, span }));
      }
      case 'move':
        return this.move();
      case 'travel':
        return this.travel();
      case 'create':
        return this.create();
      case 'remove':
        s.take();
        return this.simple(start, this.e.expression(), (target, span) => ({ is: 'remove', target, span }));
      case 'repeat':
        return this.repeat();
      case 'until':
        s.take();
        return this.simple(start, this.e.expression(), (condition, span) => ({ is: 'until', condition, span }));
      case 'add': {
        s.take();
        const value = this.e.expression();
        s.expect('to', '“add value to tally”, or to a list');
        return this.simple(start, this.e.path(), (target, span) => ({ is: 'add', value, target, span }));
      }
      case 'send':
        return this.send();
      case 'tie':
        return this.tie();
      case 'untie':
        return this.untie();
      case 'join': {
        s.take();
        const other = this.end();
        return this.byNetwork(start, (network, span) => ({ is: 'join', other, network, span }));
      }
      case 'do': {
        s.take();
        const name = s.name('the name of a routine');
        const args = s.is('(') ? this.e.arguments() : [];
        s.endOfLine();
        return { is: 'do', name, args, span: s.spanFrom(start) };
      }
      case 'log': {
        s.take();
        const values = [this.e.expression()];
        while (s.takeIf(',')) values.push(this.e.expression());
        const span = s.spanFrom(start);
        s.endOfLine();
        return { is: 'log', values, span };
      }
      case 'board': {
        s.take();
        const vehicle = this.e.expression();
        return this.boarding(start, { vehicle });
      }
      case 'take': {
        s.take();
        s.expect('on', '“take on w” lets w board');
        const rider = this.e.expression();
        return this.boarding(start, { rider });
      }
      case 'alight':
        s.take();
        s.endOfLine();
        return { is: 'alight', span: token.span };
      case 'set':
        s.take();
        s.expect('down', '“set down w” lets w alight; an attribute is set without a word before it: “energy = 3”');
        return this.simple(start, this.e.expression(), (rider, span) => ({ is: 'alight', rider, span }));
      case 'end':
        if (!s.takeIf('end', 'run'))
          return s.fail(say.missingWord(s.ahead(1).span, 'run', '“end run” ends the run', describe(s.ahead(1))));
        s.endOfLine();
        return { is: 'end run', span: { start, end: start + 7 } };
      default:
        return s.fail(say.unknownStatement(token.span, describe(token), nearestWord(token.word, STATEMENT_WORDS)));
    }
  }

  private simple(start: number, value: Expr, make: (value: Expr, span: Span) => Statement): Statement {
    this.s.endOfLine();
    return make(value, { start, end: value.span.end });
  }

  private repeat(): Statement {
    const s = this.s;
    const start = s.take().span.start;
    s.expect('at', '“repeat at most 10 times”: every loop has a limit');
    s.expect('most', '“repeat at most 10 times”');
    const most = this.e.sum();
    s.expect('times', '“repeat at most 10 times”');
    const span = s.spanFrom(start);
    s.endOfLine();
    return { is: 'repeat', most, body: this.requiredBlock(span, '“repeat”'), span };
  }

  private send(): Statement {
    const s = this.s;
    const start = s.take().span.start;
    const message = s.name('the name of a message');
    const args = s.is('(') ? this.e.arguments() : [];
    s.expect('to', 'a message goes “to” somebody: “send Alarm to nearest Vole”, “send Alarm to all Vole within 20 m”');
    const all = s.takeIf('all') ? this.e.queries.query() : undefined;
    const to = all ? undefined : this.e.expression();
    const after = s.takeIf('after') ? this.e.sum() : undefined;
    const span = s.spanFrom(start);
    s.endOfLine();
    return { is: 'send', message, args, to, all, after, span };
  }

  private byNetwork(start: number, make: (network: Name, span: Span) => Statement): Statement {
    this.s.expect('by', 'the network stands after “by”: “tie to v by Tunnels”');
    const network = this.s.name('the name of a network');
    const span = this.s.spanFrom(start);
    this.s.endOfLine();
    return make(network, span);
  }

  /** Somebody at the end of a tie: a small value, or one that is picked. */
  private end(): Expr {
    return ['random', 'nearest', 'first'].includes(this.s.current.word) ? this.e.expression() : this.e.small();
  }

  private tie(): Statement {
    const s = this.s;
    const start = s.take().span.start;
    const from = s.is('to') ? undefined : this.end();
    s.expect('to', '“tie to v by Tunnels”, or “tie a to b by Tunnels”');
    const to = this.end();
    const block: Statement[] = [];
    const made = this.byNetwork(start, (network, span) => ({ is: 'tie', from, to, network, block, span }));
    s.block(() => block.push(this.statement()));
    return made;
  }

  private untie(): Statement {
    const s = this.s;
    const start = s.take().span.start;
    if (s.is('by')) return this.byNetwork(start, (network, span) => ({ is: 'untie', network, span }));
    const from = s.is('from') ? undefined : this.end();
    s.expect('from', '“untie from v by Tunnels”, or “untie by Tunnels” from all');
    const to = this.end();
    return this.byNetwork(start, (network, span) => ({ is: 'untie', from, to, network, span }));
  }

  private isAssignment(): boolean {
    if (this.s.areWords('repeat', 'at', 'most')) return false;
    const second = this.s.ahead(1);
    if (second.type === 'op') return ASSIGNMENTS.has(second.word) || second.word === '.';
    if (second.word !== 'at') return false;
    for (let i = 2, depth = 0; ; i++) {
      const token = this.s.ahead(i);
      if (token.type === 'newline' || token.type === 'end') return false;
      if (token.word === '(') depth++;
      if (token.word === ')') depth--;
      if (depth === 0 && ASSIGNMENTS.has(token.word)) return true;
    }
  }

  private assignment(): Statement {
    const s = this.s;
    const start = s.current.span.start;
    const target = this.target();
    if (!ASSIGNMENTS.has(s.current.word)) {
      return s.fail(
        say.missingWord(
          s.placeForMissing(),
          '=',
          'an attribute is set with “=”, “+=”, “-=”, “*=” or “/=”',
          describe(s.current),
        ),
      );
    }
    const op = s.take().word as '=' | '+=' | '-=' | '*=' | '/=';
    const value = this.e.expression();
    s.endOfLine();
    return { is: 'assign', target, op, value, span: { start, end: value.span.end } };
  }

  private target(): Expr {
    const s = this.s;
    const path = this.e.path();
    if (path.is !== 'path' || path.names.length !== 1 || !s.is('at')) return path;
    s.take();
    const place = this.e.small();
    return { is: 'at', field: path.names[0]!, place, span: s.spanFrom(path.span.start) };
  }

  private conditional(): Statement {
    const s = this.s;
    const start = s.current.span.start;
    const isWith = s.take().word === 'with';
    let name: Name | undefined;
    if (isWith) {
      name = s.name('“with” gives a name to the one that is picked');
      s.expect('=', '“with name = nearest Kind within distance” opens a block in which the name is sure to exist');
    }
    const value = this.e.expression();
    s.endOfLine();
    const span = { start, end: value.span.end };
    const then = this.requiredBlock(span, isWith ? '“with”' : '“if”');
    const otherwise = this.otherwise();
    return name
      ? { is: 'with', name, value, then, else: otherwise, span }
      : { is: 'if', condition: value, then, else: otherwise, span };
  }

  private otherwise(): Block | undefined {
    const s = this.s;
    if (!s.is('else')) return undefined;
    const span = s.take().span;
    if (s.is('if') || s.is('with')) {
      if (this.branches >= MAX_BRANCHES) s.fail(say.tooManyBranches(s.current.span, MAX_BRANCHES));
      this.branches++;
      try {
        return [this.conditional()];
      } finally {
        this.branches--;
      }
    }
    s.endOfLine();
    return this.requiredBlock(span, '“else”');
  }

  private forEach(): Statement {
    const s = this.s;
    const start = s.take().span.start;
    s.expect('each', '“for each name in query”');
    const name = s.name('the name for each one');
    s.expect('in', '“for each name in query”');
    const query = this.e.queries.query();
    s.endOfLine();
    const span = { start, end: query.span.end };
    return { is: 'for each', name, query, body: this.requiredBlock(span, '“for each”'), span };
  }

  private move(): Statement {
    const s = this.s;
    const start = s.take().span.start;
    const who = this.somebodyElse('by', 'to', 'toward');
    if (s.takeIf('by'))
      return this.simple(start, this.e.expression(), (value, span) => ({ is: 'move', who, how: 'by', value, span }));
    if (s.takeIf('to'))
      return this.simple(start, this.e.expression(), (value, span) => ({ is: 'move', who, how: 'to', value, span }));
    s.expect('toward', '“move by” a distance, “move to” a place, or “move toward” someone “by” a distance');
    const target = this.e.expression();
    s.expect('by', '“move toward” someone “by” a distance');
    return this.simple(start, this.e.expression(), (by, span) => ({ is: 'move toward', who, target, by, span }));
  }

  /** `move v to P`: who is moved or turned, where that is not the asker. */
  private somebodyElse(...after: readonly string[]): Expr | undefined {
    const { s } = this;
    return after.some((word) => s.is(word)) || !s.isType('name') ? undefined : this.e.path();
  }

  private travel(): Statement {
    const s = this.s;
    const start = s.take().span.start;
    s.expect('to', '“travel to” a place “at” a speed: “travel to home at 3 km per hour”');
    const target = this.e.beforeAt();
    s.expect('at', 'the speed stands after “at”: “travel to home at 3 km per hour”');
    const at = this.e.sum();
    const way = this.e.wayChoice(true);
    const lines = this.e.linesTaken();
    const span = s.spanFrom(start);
    s.endOfLine();
    return { is: 'travel', target, at, way, lines, else: this.otherwise(), span };
  }

  private boarding(start: number, who: { readonly vehicle: Expr } | { readonly rider: Expr }): Statement {
    const span = this.s.spanFrom(start);
    this.s.endOfLine();
    return { is: 'board', ...who, else: this.otherwise(), span };
  }

  private create(): Statement {
    const s = this.s;
    const start = s.take().span.start;
    const count = this.e.count();
    const kind = s.name('which kind to create');
    const placing = this.placing();
    const alias = s.takeIf('as') ? s.name('the name for the new one') : undefined;
    s.endOfLine();
    const span = { start, end: s.previousEnd };
    const block: Statement[] = [];
    s.block(() => block.push(this.statement()));
    return { is: 'create', count, kind, placing, alias, block, span };
  }

  placing(): Placing | undefined {
    const s = this.s;
    const start = s.current.span.start;
    if (s.takeIf('anywhere')) return { is: 'anywhere', span: s.spanFrom(start) };
    if (s.takeIf('one', 'to', 'a', 'cell')) return { is: 'one to a cell', span: s.spanFrom(start) };
    if (s.takeIf('here')) return { is: 'here', span: s.spanFrom(start) };
    if (s.takeIf('at')) return { is: 'at', of: this.e.small(), span: s.spanFrom(start) };
    if (s.takeIf('within')) {
      const distance = this.e.small();
      s.expect('of', '“within 5 m of” a place');
      return { is: 'within', distance, of: this.e.small(), span: s.spanFrom(start) };
    }
    if (s.takeIf('on', 'a', 'circle', 'of')) {
      const distance = this.e.small();
      s.expect('around', '“on a circle of 5 m around” a place');
      return { is: 'circle', distance, of: this.e.small(), span: s.spanFrom(start) };
    }
    if (s.takeIf('nowhere')) return { is: 'nowhere', span: s.spanFrom(start) };
    if (s.takeIf('in', 'zone')) return { is: 'zone', zone: s.name('the name of a zone'), span: s.spanFrom(start) };
    if (s.takeIf('next', 'to')) return { is: 'next to', of: this.e.small(), span: s.spanFrom(start) };
    if (s.takeIf('on', 'cells', 'where')) return { is: 'cells', where: this.e.expression(), span: s.spanFrom(start) };
    return undefined;
  }
}
