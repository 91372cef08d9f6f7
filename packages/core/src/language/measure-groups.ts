import type { AttributeSymbol, DeriveSymbol, KindSymbol, MachineSymbol } from './checked.ts';
import { copyOf } from './copy.ts';
import type * as Ast from './syntax.ts';
import { wordsOf } from './types.ts';

/** By what agents are told apart: a state machine, or an attribute that is a choice or yes or no. */
export type Grouping = MachineSymbol | AttributeSymbol | DeriveSymbol;

/** What stands for nothing in the text. */
const NOWHERE = { start: -1, end: -1 };

/** What a measure is grouped by: the member of this name of the first kind that its value asks for which has one. */
export function groupingOf(value: Ast.Expr, by: string, kinds: ReadonlyMap<string, KindSymbol>): Grouping | undefined {
  let found: Grouping | undefined;
  asked(value, (query) => {
    const kind = kindOf(query, kinds);
    found ??= kind && memberOf(kind, by);
  });
  return found;
}

/** Whether all agents that an expression asks for are of kinds that there are. */
export function asksForKinds(value: Ast.Expr, kinds: ReadonlyMap<string, KindSymbol>): boolean {
  let does = true;
  asked(value, ({ head }) => {
    if (head.is === 'kind' && !head.owner && !kinds.has(head.name.key)) does = false;
  });
  return does;
}

function kindOf({ head }: Ast.Query, kinds: ReadonlyMap<string, KindSymbol>): KindSymbol | undefined {
  return head.is === 'kind' ? kinds.get(head.name.key) : undefined;
}

function memberOf({ machines, attributes, derives }: KindSymbol, name: string): Grouping | undefined {
  const member = [...machines, ...attributes, ...derives].find((other) => other.key === name.toLowerCase());
  return member && wordsOf(member.type) ? member : undefined;
}

/** The queries of agents in an expression that lie in no other. */
function asked(node: unknown, found: (query: Ast.Query, owner: Ast.Expr) => void): void {
  if (node === null || typeof node !== 'object') return;
  const expr = node as Partial<Ast.Expr>;
  if (expr.is === 'ask' && expr.query) found(expr.query, node as Ast.Expr);
  else if (expr.is === 'gather' && expr.over) found(expr.over, node as Ast.Expr);
  else for (const inner of Object.values(node)) asked(inner, found);
}

/** The value of a measure for those of one group: each query in it asks for them alone. */
export function valueForGroup(
  value: Ast.Expr,
  by: string,
  word: string,
  kinds: ReadonlyMap<string, KindSymbol>,
): Ast.Expr {
  const isOf = (query: Ast.Query): boolean => {
    const kind = kindOf(query, kinds);
    return kind !== undefined && memberOf(kind, by) !== undefined;
  };
  const narrowed = (query: Ast.Query, own: Ast.Expr | undefined): Ast.Query => {
    const group = isGroup(by, word);
    const where: Ast.Expr = own ? { is: 'binary', op: 'and', left: group, right: own, span: own.span } : group;
    return { ...query, where };
  };
  const narrow = (node: unknown): unknown => {
    if (Array.isArray(node)) return node.map(narrow);
    if (node === null || typeof node !== 'object') return node;
    const expr = node as Ast.Expr;
    if (expr.is === 'ask' && isOf(expr.query)) {
      const inGroup: Ast.Expr = { ...expr, query: narrowed(expr.query, expr.query.where) };
      // A share is one of those of the group.
      return expr.ask === 'share' ? shareOf(inGroup, narrowed(expr.query, undefined)) : inGroup;
    }
    if (expr.is === 'gather' && expr.over && isOf(expr.over))
      return { ...expr, over: narrowed(expr.over, expr.over.where) };
    if (expr.is === 'ask' || expr.is === 'gather') return expr;
    return Object.fromEntries(Object.entries(node).map(([key, inner]) => [key, narrow(inner)]));
  };
  return copyOf(narrow(value) as Ast.Expr);
}

function shareOf(fitting: Ast.ExprOf<'ask'>, all: Ast.Query): Ast.Expr {
  const { span } = fitting;
  return {
    is: 'binary',
    op: '/',
    left: { ...fitting, ask: 'count' },
    right: { ...fitting, ask: 'count', query: all },
    span,
  };
}

/** `it.life is Young` */
function isGroup(by: string, word: string): Ast.Expr {
  const name = (text: string): Ast.Name => ({ text, key: text.toLowerCase(), span: NOWHERE });
  const right: Ast.Expr =
    word === 'yes' || word === 'no'
      ? { is: 'yesno', value: word === 'yes', span: NOWHERE }
      : { is: 'path', names: [name(word)], span: NOWHERE };
  const left: Ast.Expr = { is: 'path', names: [name('it'), name(by)], span: NOWHERE };
  return { is: 'binary', op: 'is', left, right, span: NOWHERE };
}
