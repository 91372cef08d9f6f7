import type { CheckedModel, KindSymbol, MachineSymbol, StateGroup } from '../language/checked.ts';
import type * as Ast from '../language/syntax.ts';

/** Agents of a kind that are in the same states of all its machines: in the well-mixed limit nothing else tells them apart. */
export interface AgentClass {
  readonly index: number;
  readonly kind: KindSymbol;
  /** Of each machine of the kind the state. */
  readonly states: readonly number[];
  /** What an equation calls how many there are. */
  readonly name: string;
}

/** All classes of a model, in the order of the text. */
export class AgentClasses {
  readonly all: readonly AgentClass[];
  private readonly byKey = new Map<string, AgentClass>();

  constructor(model: CheckedModel) {
    const all: AgentClass[] = [];
    const words = model.kinds.flatMap((kind) => kind.machines.flatMap(({ states }) => states.map(({ key }) => key)));
    const isTwice = words.length !== new Set(words).size;
    for (const kind of model.kinds)
      for (const states of combinations(kind.machines.map((machine) => machine.states.length))) {
        const own = states.map((state, machine) => kind.machines[machine]!.states[state]!.name).join(', ');
        const name = own === '' ? kind.name : isTwice ? `${kind.name} ${own}` : own;
        const made = { index: all.length, kind, states, name };
        all.push(made);
        this.byKey.set(keyOf(kind, states), made);
      }
    this.all = all;
  }

  of(kind: KindSymbol): AgentClass[] {
    return this.all.filter((each) => each.kind === kind);
  }

  /** The class whose machine is in another state. */
  moved({ kind, states }: AgentClass, machine: MachineSymbol, state: number): AgentClass {
    return this.at(
      kind,
      states.map((own, i) => (i === machine.index ? state : own)),
    );
  }

  at(kind: KindSymbol, states: readonly number[]): AgentClass {
    return this.byKey.get(keyOf(kind, states))!;
  }
}

function keyOf(kind: KindSymbol, states: readonly number[]): string {
  return `${kind.index}:${states.join(',')}`;
}

function combinations(sizes: readonly number[]): number[][] {
  return sizes.reduce<number[][]>(
    (found, size) => found.flatMap((states) => Array.from({ length: size }, (_, i) => [...states, i])),
    [[]],
  );
}

/** The transitions of a state: its own, then those of the groups it lies in, the inner ones first; and of which group each is. */
export function transitionsOf(
  machine: MachineSymbol,
  state: number,
): { readonly transition: Ast.Transition; readonly group?: StateGroup }[] {
  const { part, groups } = machine.states[state]!;
  return [
    ...part.transitions.map((transition) => ({ transition })),
    ...[...groups].reverse().flatMap((group) => group.part.transitions.map((transition) => ({ transition, group }))),
  ];
}

/** A state or a group of a machine by its name. */
export function stateNamed(machine: MachineSymbol, key: string): number | StateGroup {
  const state = machine.states.findIndex((each) => each.key === key);
  return state >= 0 ? state : machine.groups.find((group) => group.key === key)!;
}
