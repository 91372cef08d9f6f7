import { positionsIn } from '../plan/positions.ts';
import type * as P from '../plan/plan.ts';
import { visitCode, visitExpr } from '../plan/visit.ts';

/** How far fields look around their cells, where that goes by parameters: kernels are made for values of these. */

/** What distances go by. */
export interface DistanceSight {
  /** Values of all parameters, if these are given. */
  readonly parameters: ArrayLike<number> | undefined;
  /** What locals of the body always are. */
  readonly setOnce: ReadonlyMap<number, P.Expr>;
}

/** The parameters by which reaches of what fields grow by and become go. */
export function reachParameters({ fields }: P.Plan): readonly number[] {
  const found = new Set<number>();
  for (const body of fields.flatMap(({ grow, becomes }) => [grow, becomes])) {
    if (!body) continue;
    const { setOnce } = positionsIn(body);
    const visit = (e: P.Expr): void =>
      visitExpr(e, {
        expr: (part) => {
          const set = part.op === 'local' ? setOnce.get(part.local) : undefined;
          if (set) visit(set);
          if (part.op === 'parameter') found.add(part.index);
        },
      });
    visitCode(body, {
      query: ({ over, reach }) => {
        if (over.is === 'cells' && reach.is !== 'all' && reach.is !== 'tied') visit(reach.distance);
      },
    });
  }
  return [...found].sort((a, b) => a - b);
}

/** What a distance comes to that goes by nothing but numbers of the text and parameters that are given; else nothing. */
export function knownDistance(e: P.Expr, sight: DistanceSight): number | undefined {
  switch (e.op) {
    case 'number':
      return e.value;
    case 'parameter':
      return sight.parameters?.[e.index];
    case 'local': {
      const set = sight.setOnce.get(e.local);
      return set && knownDistance(set, sight);
    }
    case 'binary': {
      const [left, right] = [knownDistance(e.left, sight), knownDistance(e.right, sight)];
      if (left === undefined || right === undefined) return undefined;
      return BY_SIGN[e.fn]?.(left, right);
    }
    default:
      return undefined;
  }
}

const BY_SIGN: Readonly<Record<string, ((left: number, right: number) => number) | undefined>> = {
  '+': (left, right) => left + right,
  '-': (left, right) => left - right,
  '*': (left, right) => left * right,
  '/': (left, right) => left / right,
};
