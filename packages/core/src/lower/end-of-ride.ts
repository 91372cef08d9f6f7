import type { Expr } from '../plan/plan.ts';
import { tellArrival } from './arrivals.ts';
import { binary, END, larger, num } from './code.ts';
import type { Draft } from './draft.ts';
import type { Travelled } from './emit-travel.ts';
import { writeJourney } from './journey-columns.ts';
import { selfOf } from './machine.ts';
import { setAllDown } from './riding.ts';

/** A vehicle at a stop: when it came, when it is to leave, and whether that is the last one. */
export interface AtStop {
  readonly then: Expr;
  readonly departs: Expr;
  readonly isLast: Expr;
}

/** What becomes of the acting vehicle after a step's way: it is at the next stop of its line, to the end of the step at least, or still on its way there. */
export function endRide(draft: Draft, next: Expr, { used, left }: Travelled, atStop: () => AtStop, site: number): void {
  const { kind, agent } = selfOf(draft);
  const arrives = draft.collect(() => {
    const { then, departs, isLast } = atStop();
    writeJourney(draft, kind, 'travelled', agent, then, site);
    writeJourney(draft, kind, 'stop', agent, next, site);
    writeJourney(draft, kind, 'departs', agent, departs, site);
    writeJourney(draft, kind, 'leaves', agent, larger(END, departs), site);
    const setsDown = draft.collect(() => setAllDown(draft, kind, agent, site));
    draft.emit({ op: 'if', condition: isLast, then: setsDown, else: [] });
    tellArrival(draft, kind, agent, used);
  });
  const onTheWay = draft.collect(() => {
    writeJourney(draft, kind, 'travelled', agent, END, site);
    tellArrival(draft, kind, agent, undefined);
  });
  draft.emit({ op: 'if', condition: binary('is', left, num(0)), then: arrives, else: onTheWay });
}
