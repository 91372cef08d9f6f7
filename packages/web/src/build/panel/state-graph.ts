import type { AnyPart } from '@vole/core';
import { treeOf } from '@vole/core';

type AgentPart = Extract<AnyPart, { is: 'agent' }>;
type StatePart = AgentPart['states'][number]['states'][number];

export interface StateNode {
  readonly name: string;
  /** The state it lies in, if any. */
  readonly group: string | undefined;
  readonly start: number;
  /** In columns of the picture from the left and rows from the top; filled in by the layout. */
  readonly column: number;
  readonly row: number;
}

export interface StateArrow {
  readonly from: string;
  readonly to: string;
  /** The trigger as it is written: `after 21 days`. */
  readonly trigger: string;
  /** The whole line. */
  readonly line: string;
  readonly start: number;
}

export interface StateGraph {
  readonly kind: string;
  readonly machine: string;
  readonly start: number;
  readonly end: number;
  readonly nodes: readonly StateNode[];
  readonly arrows: readonly StateArrow[];
}

/** The state machines of a text as pictures to be drawn, also while it is half typed. */
export function stateGraphs(text: string): StateGraph[] {
  const { parts } = treeOf(text);
  return parts.filter((part): part is AgentPart => part.is === 'agent').flatMap((agent) =>
    agent.states.map((machine) => {
      const flat: { state: StatePart; group: string | undefined }[] = [];
      const visit = (state: StatePart, group: string | undefined): void => {
        if (state.states.length === 0) flat.push({ state, group });
        for (const inner of state.states) visit(inner, state.name.text);
      };
      for (const state of machine.states) visit(state, undefined);
      const groups = new Map<string, string[]>();
      for (const { state, group } of flat) if (group) groups.set(group.toLowerCase(), [...(groups.get(group.toLowerCase()) ?? []), state.name.text]);
      const arrows = [...arrowsOf(machine.states, groups, text)];
      const nodes = laidOut(flat.map(({ state, group }) => ({ name: state.name.text, group, start: state.span.start })), arrows);
      return { kind: agent.name.text, machine: machine.name.text, start: machine.span.start, end: machine.span.end, nodes, arrows };
    }),
  );
}

function* arrowsOf(states: readonly StatePart[], groups: ReadonlyMap<string, readonly string[]>, text: string): Generator<StateArrow> {
  for (const state of states) {
    const froms = groups.get(state.name.key) ?? [state.name.text];
    for (const transition of state.transitions) {
      const line = text.slice(transition.span.start).split('\n')[0]!.trim();
      const colon = line.lastIndexOf(':');
      const trigger = colon < 0 ? line : line.slice(0, colon).trim();
      for (const target of transition.targets) {
        const to = groups.get(target.state.key)?.[0] ?? target.state.text;
        for (const from of froms) yield { from, to, trigger, line, start: transition.span.start };
      }
    }
    yield* arrowsOf(state.states, groups, text);
  }
}

/** Columns by how many changes a state is away from the first; states that nothing leads to stand at the end. */
function laidOut(nodes: readonly Omit<StateNode, 'column' | 'row'>[], arrows: readonly StateArrow[]): StateNode[] {
  const away = new Map<string, number>();
  const key = (name: string): string => name.toLowerCase();
  const queue = nodes.slice(0, 1).map((node) => key(node.name));
  for (const first of queue) away.set(first, 0);
  while (queue.length > 0) {
    const at = queue.shift()!;
    for (const arrow of arrows) {
      if (key(arrow.from) !== at || away.has(key(arrow.to))) continue;
      away.set(key(arrow.to), away.get(at)! + 1);
      queue.push(key(arrow.to));
    }
  }
  const last = Math.max(0, ...away.values());
  const rows = new Map<number, number>();
  return nodes.map((node, i) => {
    const column = away.get(key(node.name)) ?? (i === 0 ? 0 : last + 1);
    const row = rows.get(column) ?? 0;
    rows.set(column, row + 1);
    return { ...node, column, row };
  });
}
