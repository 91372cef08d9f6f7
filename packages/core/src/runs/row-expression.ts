import type * as Ast from '../language/syntax.ts';
import type { LoadedModel } from '../load.ts';
import { lowerSummary } from '../lower/summary.ts';
import type { RowExpr } from '../plan/plan.ts';

/**
 * An expression of measures and parameters, to be read in the rows of finished runs. Its finals are the parameters, in their order and in base units;
 * a measure alone is read as it is shown, in its own unit.
 * @returns nothing where it asks the population itself, which is gone by then
 */
export function rowExpression({ checked, plan }: LoadedModel, expr: Ast.Expr): RowExpr | undefined {
  let inner = expr;
  while (inner.is === 'brackets') inner = inner.value;
  const ref = checked.refs.get(inner);
  if (ref?.is === 'measure') return { op: 'measure', index: ref.measure.index };
  let asksPopulation = false;
  const value = lowerSummary(checked, expr, (asked) => {
    const of = checked.refs.get(asked);
    const place = of?.is === 'parameter' ? plan.parameters.findIndex(({ name }) => name === of.parameter.name) : -1;
    if (place < 0) asksPopulation = true;
    return place;
  });
  return asksPopulation ? undefined : value;
}
