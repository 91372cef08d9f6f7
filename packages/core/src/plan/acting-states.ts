import type * as P from './plan.ts';
import { visitStatements } from './visit.ts';

interface States {
  readonly machine: number;
  readonly states: readonly number[];
}

/** Those states of a machine in which an agent does anything at all in its turn. */
export interface ActingStates extends States {
  /** Whether it may bring others into other states of it, whose turns are still to come. */
  readonly bringsOthers: boolean;
}

/** A state of a machine. */
export interface OneState {
  readonly machine: number;
  readonly state: number;
}

/** The states in which agents have something to do, where a body asks for the own state first and does nothing in others. */
export function actingStates({ statements }: P.Body): ActingStates | undefined {
  const [only, more] = statements;
  if (!only || more) return undefined;
  const found = only.op === 'switch' ? ofSwitch(only) : only.op === 'if' ? ofIf(only) : undefined;
  return found && { ...found, bringsOthers: brings(statements, found.machine, ({ own }) => !own) };
}

/** The state in which everybody is who does anything, from the beginning of the turn to its end. */
export function onlyActingState(body: P.Body): OneState | undefined {
  const acting = actingStates(body);
  const [state, more] = acting?.states ?? [];
  if (!acting || state === undefined || more !== undefined) return undefined;
  return brings(body.statements, acting.machine, () => true) ? undefined : { machine: acting.machine, state };
}

function ofSwitch({ value, cases }: Extract<P.Statement, { op: 'switch' }>): States | undefined {
  if (value.op !== 'state' || !value.agent.own) return undefined;
  const states = [...cases.keys()].filter((state) => cases[state]!.length > 0);
  return states.length > 0 ? { machine: value.machine, states } : undefined;
}

function ofIf({ condition, else: otherwise }: Extract<P.Statement, { op: 'if' }>): States | undefined {
  return otherwise.length === 0 ? ofCondition(condition) : undefined;
}

/** What an agent that fits has to be in, one of these states. */
function ofCondition(e: P.Expr): States | undefined {
  if (e.op !== 'binary') return undefined;
  const { fn, left, right } = e;
  // What stands first is asked first: what follows may fail.
  if (fn === 'and') return ofCondition(left);
  if (fn === 'or') {
    const [first, second] = [ofCondition(left), ofCondition(right)];
    if (!first || !second || first.machine !== second.machine) return undefined;
    return { machine: first.machine, states: [...new Set([...first.states, ...second.states])].sort((a, b) => a - b) };
  }
  if (fn !== 'is' || left.op !== 'state' || !left.agent.own || right.op !== 'number') return undefined;
  if (!(right.value >= 0 && right.value <= 255)) return undefined;
  return { machine: left.machine, states: [right.value] };
}

/** Whether it brings agents of some sort into other states of a machine. */
function brings(statements: readonly P.Statement[], machine: number, isMeant: (agent: P.AgentRef) => boolean): boolean {
  let does = false;
  visitStatements(statements, {
    statement: (s) => {
      if (s.op === 'become' && s.machine === machine && isMeant(s.agent)) does = true;
    },
  });
  return does;
}
