import type * as P from './plan.ts';

/** Whether a value depends on numbers of the text and parameters alone. */
export function isFixed(e: P.Expr): boolean {
  if (e.op === 'number' || e.op === 'parameter') return true;
  return e.op === 'binary' && e.fn in COMBINED && isFixed(e.left) && isFixed(e.right);
}

const COMBINED: Readonly<Partial<Record<P.BinaryFunction, (left: number, right: number) => number>>> = {
  '+': (left, right) => left + right,
  '-': (left, right) => left - right,
  '*': (left, right) => left * right,
  '/': (left, right) => left / right,
};

/** Such a value; not a number where it depends on more. */
export function fixedValue(e: P.Expr, parameters: ArrayLike<number>): number {
  if (e.op === 'number') return e.value;
  if (e.op === 'parameter') return parameters[e.index]!;
  const combine = e.op === 'binary' ? COMBINED[e.fn] : undefined;
  if (e.op !== 'binary' || !combine) return NaN;
  return combine(fixedValue(e.left, parameters), fixedValue(e.right, parameters));
}

/** Whether an expression compares what needs no looking up. */
export function isAtHand(e: P.Expr): boolean {
  if (e.op === 'number' || e.op === 'local' || e.op === 'parameter') return true;
  return e.op === 'binary' && isAtHand(e.left) && isAtHand(e.right);
}
