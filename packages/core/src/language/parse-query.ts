import * as say from './reading-messages.ts';
import type { ExpressionParser } from './parse-expression.ts';
import type { Expr, Name, Query, Reach } from './syntax.ts';
import type { TokenStream } from './token-stream.ts';
import { isReserved } from './words.ts';

/** Reads queries: whom or what is asked for, within which reach, on which condition. */
export class QueryParser {
  constructor(
    private readonly s: TokenStream,
    private readonly e: ExpressionParser,
  ) {}

  query(): Query {
    const start = this.s.current.span.start;
    const inner = this.s.is('(') ? this.bracketed() : undefined;
    const head = inner?.head ?? this.head();
    const reaches: Reach[] = [...(inner?.reaches ?? [])];
    let alias: Name | undefined = inner?.alias;
    for (;;) {
      if (this.s.is('as') && this.s.ahead(1).type === 'name') {
        this.s.take();
        alias = this.s.name('the name for the candidate');
        continue;
      }
      const reach = this.reach();
      if (!reach) break;
      reaches.push(reach);
    }
    const own = this.s.takeIf('where') ? this.e.expression() : undefined;
    const where: Expr | undefined =
      own && inner?.where
        ? { is: 'binary', op: 'and', left: inner.where, right: own, span: own.span }
        : (own ?? inner?.where);
    const weight = this.s.takeIf('weighted', 'by') ? this.e.sum() : inner?.weight;
    return { head, reaches, alias, where, weight, span: this.s.spanFrom(start) };
  }

  private bracketed(): Query {
    this.s.take();
    const query = this.query();
    this.s.expect(')', 'the bracket is still open');
    return query;
  }

  private head(): Query['head'] {
    const { span } = this.s.current;
    const empty = this.s.is('empty') && (this.s.ahead(1).word === 'cells' || this.s.ahead(1).word === 'cell');
    if (empty) this.s.take();
    if (this.s.takeIf('cells') || this.s.takeIf('cell'))
      return { is: 'cells', empty, on: this.s.takeIf('on') ? this.s.name('the name of a space') : undefined, span };
    if ((this.s.is('ties') || this.s.is('tie')) && this.s.ahead(1).word === 'by') {
      this.s.take();
      this.s.take();
      return { is: 'ties', network: this.s.name('the name of a network'), span: this.s.spanFrom(span.start) };
    }
    const isOwned = this.s.ahead(1).word === '.';
    const first = isOwned
      ? this.e.pathName()
      : this.s.name('a query begins with a kind of agents, “cells”, “ties by”, a list or a tally', false);
    if (!isOwned) return { is: 'kind', name: first };
    this.s.take();
    return { is: 'kind', owner: first, name: this.s.name('a list') };
  }

  /** One reach of a query, or nothing when the next word opens none. */
  reach(): Reach | undefined {
    const { s, e } = this;
    const start = s.current.span.start;
    if (s.areWords('ahead', 'within')) {
      s.takeIf('ahead', 'within');
      const distance = e.small();
      s.expect('along', '“ahead within 30 m along the lanes”');
      s.takeIf('the', 'lanes');
      return { is: 'within', distance, along: 'ahead', span: s.spanFrom(start) };
    }
    if (s.takeIf('within')) {
      const distance = e.small();
      this.refuseSign();
      const of = s.takeIf('of') ? e.small() : undefined;
      const along = s.takeIf('along', 'the', 'lanes') ? 'either way' : undefined;
      return { is: 'within', distance, of, along, span: s.spanFrom(start) };
    }
    if (s.takeIf('next', 'to')) {
      const of = s.is('here') || !this.startsPlace() ? undefined : e.small();
      if (!of) s.takeIf('here');
      return { is: 'next to', of, span: s.spanFrom(start) };
    }
    for (const is of ['square', 'cross'] as const) {
      if (!s.takeIf('in', 'a', is, 'of')) continue;
      const distance = e.small();
      this.refuseSign();
      return { is, distance, of: s.takeIf('around') ? e.small() : undefined, span: s.spanFrom(start) };
    }
    if (s.takeIf('in', 'zone')) return { is: 'zone', name: s.name('the name of a zone'), span: s.spanFrom(start) };
    if (s.takeIf('tied', 'by')) {
      const name = s.name('the name of a network');
      const of = s.takeIf('to') ? e.small() : undefined;
      return { is: 'tied', name, of, span: s.spanFrom(start) };
    }
    if (s.takeIf('aboard'))
      return { is: 'aboard', of: this.startsPlace() ? e.small() : undefined, span: s.spanFrom(start) };
    if (s.takeIf('carrying')) return { is: 'carrying', of: e.small(), span: s.spanFrom(start) };
    if (s.takeIf('here')) return { is: 'here', span: s.spanFrom(start) };
    return undefined;
  }

  private startsPlace(): boolean {
    const { type, word } = this.s.current;
    if (word === '(') return true;
    return type === 'name' && (!isReserved(word) || word === 'self' || word === 'it');
  }

  private refuseSign(): void {
    if (['+', '-', '*', '/', '^'].includes(this.s.current.word))
      this.s.fail(say.signAfterDistance(this.s.current.span));
  }
}
