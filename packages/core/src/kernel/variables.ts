import { variableColumnId } from '../plan/settling.ts';
import type * as P from '../plan/plan.ts';
import { visitStatements } from '../plan/visit.ts';
import { applied } from './functions.ts';
import type { F64 } from './kernel.ts';
import { load, store, whole } from './kernel.ts';
import type { TurnReads } from './turn-reads.ts';
import type { TurnValues } from './turn-values.ts';

/** Variables of a model that turns write, in kernel form. */

/** The variables that bodies write. */
export function variablesWritten(bodies: readonly P.Body[]): ReadonlySet<number> {
  const found = new Set<number>();
  for (const { statements } of bodies)
    visitStatements(statements, {
      statement: (s) => {
        if (s.op === 'write variable') found.add(s.index);
      },
    });
  return found;
}

/** A variable that turns before this one may have written. */
export function variableNow(reads: TurnReads, index: number): F64 {
  return load(reads.of({ is: 'variables' }), whole(index));
}

/** @param note keeps a write until the rule is over, where all act at once */
export function writeVariable(
  values: TurnValues,
  s: Extract<P.Statement, { op: 'write variable' }>,
  note: (column: number, value: F64) => void,
): void {
  const { sheet, reads, sight } = values;
  const value = values.checked(values.value(s.value), s.site);
  if (sight.atOnce) return note(variableColumnId(s.index), value);
  const made = values.checked(applied(variableNow(reads, s.index), s.how, value), s.site);
  sheet.add(store(reads.of({ is: 'variables' }), whole(s.index), made));
}
