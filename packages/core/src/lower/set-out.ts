import type { LineSymbol, LocalSymbol } from '../language/checked.ts';
import type { Expr } from '../plan/plan.ts';
import { binary, END, larger, num } from './code.ts';
import { makeAgent } from './creation.ts';
import type { Draft } from './draft.ts';
import { stopOf } from './journey-aim.ts';
import { writeJourney } from './journey-columns.ts';

/**
 * A new vehicle stands at the first stop of a line.
 * @param number of the line in the plan
 * @param departs when it is to leave; it does not before the end of the step
 */
export function setOut(draft: Draft, { kind, part }: LineSymbol, number: Expr, departs: Expr, site: number): void {
  const newborn: LocalSymbol = { is: 'local', name: kind.name, span: part.span, type: kind.self.type };
  const place = stopOf(kind.space!.index, number, num(0));
  makeAgent(draft, kind, newborn, place, undefined, new Map(), END, site, () => {
    const agent = { local: draft.slotOf(newborn), own: false, fresh: true };
    writeJourney(draft, kind, 'line', agent, binary('+', number, num(1)), site);
    writeJourney(draft, kind, 'stop', agent, num(0), site);
    writeJourney(draft, kind, 'departs', agent, departs, site);
    writeJourney(draft, kind, 'leaves', agent, larger(END, departs), site);
  });
}
