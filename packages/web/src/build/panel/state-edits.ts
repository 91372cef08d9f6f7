import { applyEdits, Names, removeBlock } from '@vole/core';
import type { StateGraph, StateNode } from './state-graph.ts';
import { filesBeside } from '../../simulation/beside.ts';

/** A name that no state of the machine has yet. */
export function newStateName({ nodes }: StateGraph): string {
  for (let i = 1; ; i++) if (!nodes.some((node) => node.name === `State${i}`)) return `State${i}`;
}

/** The text with another name of a state, wherever it is named; or why that cannot be. */
export function renameState(text: string, node: StateNode, name: string): { text: string } | { problem: string } {
  const { edits, problem } = new Names(text, filesBeside()).rename(node.start, name);
  return problem ? { problem } : { text: applyEdits(text, edits) };
}

/** The text without a state, and without the lines of other states that lead to it. What rules do to it stays, and is told as a mistake. */
export function removeState(text: string, graph: StateGraph, node: StateNode): string {
  const leading = graph.arrows.filter(({ by, from, to }) => by !== 'rule' && to === node.name && from !== node.name);
  // Later lines first, so that the places of the earlier stay.
  const starts = [...new Set([...leading.map(({ start }) => start), node.start])].sort((a, b) => b - a);
  return starts.reduce((changed, start) => removeBlock(changed, start), text);
}
