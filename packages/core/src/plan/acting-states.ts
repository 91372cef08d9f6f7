import type * as P from './plan.ts';
import { visitStatements } from './visit.ts';

/** Those states of a machine in which an agent does anything at all in its turn. */
export interface ActingStates {
  readonly machine: number;
  readonly states: readonly number[];
}

/**
 * The states in which agents have something to do, where a body asks for the own state first and does nothing in others. Nothing where it may bring others into such
 * a state whose turn is still to come.
 */
export function actingStates({ statements }: P.Body): ActingStates | undefined {
  const [only, more] = statements;
  if (!only || more) return undefined;
  const found = only.op === 'switch' ? ofSwitch(only) : only.op === 'if' ? ofIf(only) : undefined;
  return found && !bringsOthers(statements, found.machine) ? found : undefined;
}

function ofSwitch({ value, cases }: Extract<P.Statement, { op: 'switch' }>): ActingStates | undefined {
  if (value.op !== 'state' || !value.agent.own) return undefined;
  const states = [...cases.keys()].filter((state) => cases[state]!.length > 0);
  return states.length > 0 ? { machine: value.machine, states } : undefined;
}

function ofIf({ condition, else: otherwise }: Extract<P.Statement, { op: 'if' }>): ActingStates | undefined {
  return otherwise.length === 0 ? ofCondition(condition) : undefined;
}

/** What an agent that fits has to be in, one of these states. */
function ofCondition(e: P.Expr): ActingStates | undefined {
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

function bringsOthers(statements: readonly P.Statement[], machine: number): boolean {
  let does = false;
  visitStatements(statements, {
    statement: (s) => {
      if (s.op === 'become' && s.machine === machine && !s.agent.own) does = true;
    },
  });
  return does;
}
