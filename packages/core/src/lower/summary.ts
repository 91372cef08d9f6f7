import { daysFromCivil } from '../calendar/civil.ts';
import type { CheckedModel, MeasureSymbol } from '../language/checked.ts';
import { FUNCTIONS } from '../language/functions.ts';
import { constantOf } from '../language/scales.ts';
import type * as Ast from '../language/syntax.ts';
import { shownFactor } from './shown-factor.ts';
import type { PureFunction } from '../plan/functions.ts';
import type { RowExpr, RowsFunction } from '../plan/plan.ts';

/**
 * Lowers a summary to an expression over the rows of a run. Whatever asks the population itself (`count Vole`) is
 * taken at the end of the run: `addFinal` keeps its code and gives its index.
 */
export function lowerSummary(model: CheckedModel, expr: Ast.Expr, addFinal: (expr: Ast.Expr) => number): RowExpr {
  const lower = (inner: Ast.Expr): RowExpr => lowerSummary(model, inner, addFinal);
  const rows = (fn: RowsFunction, of: Ast.Expr): RowExpr => ({
    op: 'rows',
    fn,
    of: lower(of),
  });
  const constant = constantOf(expr, model.scales);
  if (constant) return { op: 'number', value: constant.value };
  switch (expr.is) {
    case 'brackets':
      return lower(expr.value);
    case 'yesno':
      return { op: 'number', value: expr.value ? 1 : 0 };
    case 'date': {
      const [year, month, day] = expr.text.split('-').map(Number) as [number, number, number];
      return { op: 'number', value: daysFromCivil(year, month, day) };
    }
    case 'unary':
      return { op: expr.op === '-' ? 'minus' : 'not', value: lower(expr.value) };
    case 'binary': {
      if (expr.op === '^') return { op: 'call', fn: 'power', args: [lower(expr.left), lower(expr.right)] };
      return { op: 'binary', fn: expr.op, left: lower(expr.left), right: lower(expr.right) };
    }
    case 'if':
      return { op: 'choose', condition: lower(expr.condition), then: lower(expr.then), else: lower(expr.else) };
    case 'call':
      if (FUNCTIONS.has(expr.name.key))
        return { op: 'call', fn: expr.name.key as PureFunction, args: expr.args.map((arg) => lower(arg.value)) };
      break;
    case 'path': {
      const ref = model.refs.get(expr);
      if (ref?.is === 'measure') return rowOf(model, ref.measure);
      if (ref?.is === 'summary') return lower(ref.summary.part.value);
      break;
    }
    case 'at': {
      const ref = model.refs.get(expr);
      if (ref?.is === 'measure') return { op: 'row at', of: rowOf(model, ref.measure), time: lower(expr.place) };
      break;
    }
    case 'gather': {
      const ofField = model.refs.get(expr.of)?.is === 'field';
      if (expr.over || ofField || expr.fn === 'geometric mean') break;
      return {
        op: 'rows',
        fn: expr.fn,
        of: lower(expr.of),
        level: expr.level && lower(expr.level),
        last: expr.last && lower(expr.last),
      };
    }
    case 'time of':
      return rows(`time of ${expr.which}`, expr.of);
    case 'share of steps':
      return rows('mean', expr.of);
    case 'first time':
    case 'ever':
    case 'always':
    case 'period':
    case 'spells':
    case 'mean spell':
    case 'longest spell':
      return rows(expr.is, expr.of);
    case 'growth rate': {
      const { first, last } = expr;
      return {
        op: 'rows',
        fn: 'growth rate',
        of: lower(expr.of),
        first: first && lower(first),
        last: last && lower(last),
      };
    }
    case 'mean peak':
      return { op: 'mean peak', of: lower(expr.of), during: lower(expr.during) };
    case 'last of':
      return rows('last', expr.of);
    default:
  }
  return { op: 'final', code: addFinal(expr) };
}

/** A measure in a row, in base units. */
function rowOf(model: CheckedModel, measure: MeasureSymbol): RowExpr {
  const factor = shownFactor(model, measure);
  const row: RowExpr = { op: 'measure', index: measure.index };
  return factor === 1 ? row : { op: 'binary', fn: '*', left: row, right: { op: 'number', value: factor } };
}
