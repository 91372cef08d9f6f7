import type { Ref } from './checked.ts';
import type { Environment } from './environment.ts';
import * as say from './messages.ts';

type Derive = Extract<Ref, { is: 'derive' }>['derive'];

/** Derived attributes and measures that read themselves, directly or by way of others, have no value. */
export function reportCircles(env: Environment): void {
  const reads = new Map<Derive, Set<Derive>>();
  const derives = [...env.kinds.values()].flatMap((kind) => kind.derives);
  for (const derive of derives) {
    const { span } = derive.line.value;
    const used = new Set<Derive>();
    for (const [expr, ref] of env.refs) {
      if (ref.is === 'derive' && expr.span.start >= span.start && expr.span.end <= span.end) used.add(ref.derive);
    }
    reads.set(derive, used);
  }
  for (const derive of derives) {
    if (reaches(derive, derive, reads, new Set())) env.report(say.circle(derive.span, derive.name));
  }
}

function reaches(from: Derive, wanted: Derive, reads: ReadonlyMap<Derive, ReadonlySet<Derive>>, seen: Set<Derive>): boolean {
  for (const next of reads.get(from) ?? []) {
    if (next === wanted) return true;
    if (seen.has(next)) continue;
    seen.add(next);
    if (reaches(next, wanted, reads, seen)) return true;
  }
  return false;
}
