import type { KindSymbol, MachineSymbol } from '../language/checked.ts';
import type { AgentRef, Expr } from '../plan/plan.ts';
import { binary, num } from './code.ts';
import type { Draft } from './draft.ts';

/**
 * What a machine with transitions `on arrival` knows of its agent's arrivals, in a column: that it waits for the next, that there was one it has not heard of, or that it has
 * heard of it. A state that is entered waits, and so does whoever is under way; so one hears of each arrival once, also where there was no way to go.
 */
const HEARD = 0;
const ARRIVED = 1;
const WAITS = 2;

export function hearsArrivals(machine: MachineSymbol): boolean {
  return [...machine.states, ...machine.groups].some(({ part }) =>
    part.transitions.some(({ trigger }) => trigger === 'on arrival'),
  );
}

function column(draft: Draft, machine: MachineSymbol): number | undefined {
  return draft.shared.dueColumns.get(machine.part);
}

function write(draft: Draft, kind: KindSymbol, machine: MachineSymbol, agent: AgentRef, value: Expr): void {
  draft.emit({
    op: 'write due',
    kind: kind.index,
    column: column(draft, machine)!,
    agent,
    value,
    site: draft.site(machine.span, 'an arrival'),
  });
}

function knows(draft: Draft, kind: KindSymbol, machine: MachineSymbol, agent: AgentRef): Expr {
  return { op: 'due', kind: kind.index, column: column(draft, machine)!, agent };
}

/** A state is entered. */
export function awaitArrival(draft: Draft, kind: KindSymbol, machine: MachineSymbol, agent: AgentRef): void {
  if (column(draft, machine) !== undefined) write(draft, kind, machine, agent, num(WAITS));
}

/** Whether there is an arrival to hear of, which is heard of by this. */
export function hearArrival(draft: Draft, kind: KindSymbol, machine: MachineSymbol, agent: AgentRef): Expr {
  const arrived = draft.hold(binary('is', knows(draft, kind, machine, agent), num(ARRIVED)));
  draft.emit({
    op: 'if',
    condition: arrived,
    then: draft.collect(() => write(draft, kind, machine, agent, num(HEARD))),
    else: [],
  });
  return arrived;
}

/** An agent has travelled. @param used above 0 if it has moved; undefined if it is still under way */
export function tellArrival(draft: Draft, kind: KindSymbol, agent: AgentRef, used: Expr | undefined): void {
  for (const machine of kind.machines) {
    if (column(draft, machine) === undefined) continue;
    if (!used) {
      write(draft, kind, machine, agent, num(WAITS));
      continue;
    }
    const isNews = binary(
      'or',
      binary('>', used, num(0)),
      binary('is', knows(draft, kind, machine, agent), num(WAITS)),
    );
    draft.emit({
      op: 'if',
      condition: isNews,
      then: draft.collect(() => write(draft, kind, machine, agent, num(ARRIVED))),
      else: [],
    });
  }
}
