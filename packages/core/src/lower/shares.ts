import type * as Ast from '../language/syntax.ts';
import type { Expr } from '../plan/plan.ts';
import { binary } from './code.ts';
import type { Draft } from './draft.ts';

/** Chooses one of several by shares: cumulative ones as expressions, own ones as syntax; the `rest` is last. */
export function emitShares(
  draft: Draft,
  luck: Expr,
  shares: readonly (Ast.Expr | Expr | 'rest')[],
  choose: (index: number) => void,
): void {
  const order = [...shares.keys()]
    .filter((i) => shares[i] !== 'rest')
    .concat([...shares.keys()].filter((i) => shares[i] === 'rest'));
  let reached: Expr | undefined;
  const thresholds = order.map((i) => {
    const share = shares[i]!;
    if (share === 'rest') return undefined;
    if (!('is' in share)) return share;
    const own = draft.lower(share);
    reached = reached === undefined ? draft.hold(own) : draft.hold(binary('+', reached, own));
    return reached;
  });
  const build = (position: number): void => {
    const threshold = thresholds[position];
    const isLast = position === order.length - 1;
    if (isLast || threshold === undefined) {
      choose(order[position]!);
      return;
    }
    const then = draft.collect(() => choose(order[position]!));
    const otherwise = draft.collect(() => build(position + 1));
    draft.emit({ op: 'if', condition: binary('<', luck, threshold), then, else: otherwise });
  };
  build(0);
}
