import type { DeriveSymbol, MeasureSymbol, Ref } from './checked.ts';
import type { Environment } from './environment.ts';
import * as say from './meaning-messages.ts';
import type * as Ast from './syntax.ts';

/** Derived attributes and measures that read themselves, directly or by way of others, have no value. */
export function reportCircles(env: Environment): void {
  const derives = [...env.derives.values(), ...[...env.kinds.values()].flatMap((kind) => kind.derives)];
  report(
    env,
    derives,
    ({ line }) => line.value,
    (ref): DeriveSymbol | undefined => (ref.is === 'derive' || ref.is === 'model derive' ? ref.derive : undefined),
  );
  report(
    env,
    [...env.measures.values()],
    ({ part }) => part.value,
    (ref): MeasureSymbol | undefined => (ref.is === 'measure' ? ref.measure : undefined),
  );
}

function report<Named extends DeriveSymbol | MeasureSymbol>(
  env: Environment,
  all: readonly Named[],
  valueOf: (named: Named) => Ast.Expr,
  readBy: (ref: Ref) => Named | undefined,
): void {
  const reads = new Map(
    all.map((named) => {
      const { span } = valueOf(named);
      const used = [...env.refs].flatMap(([expr, ref]) =>
        expr.span.start >= span.start && expr.span.end <= span.end ? (readBy(ref) ?? []) : [],
      );
      return [named, new Set(used)];
    }),
  );
  for (const named of all) if (reaches(named, named, reads, new Set())) env.report(say.circle(named.span, named.name));
}

function reaches<Named>(
  from: Named,
  wanted: Named,
  reads: ReadonlyMap<Named, ReadonlySet<Named>>,
  seen: Set<Named>,
): boolean {
  for (const next of reads.get(from) ?? []) {
    if (next === wanted) return true;
    if (seen.has(next)) continue;
    seen.add(next);
    if (reaches(next, wanted, reads, seen)) return true;
  }
  return false;
}
