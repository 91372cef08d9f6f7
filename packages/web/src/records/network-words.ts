import type { NetworkFigures } from '@vole/core';
import { shownNumber } from '../words/numbers.ts';

/** Figures of a network in the order in which they are told, each with what it is. */
export const FIGURES: readonly {
  readonly key: keyof NetworkFigures;
  readonly name: string;
  readonly about: string;
}[] = [
  { key: 'nodes', name: 'agents', about: 'agents that met anybody' },
  { key: 'ties', name: 'ties', about: 'pairs that met; in a directed network each way counts' },
  { key: 'meetings', name: 'meetings', about: 'meetings that were recorded' },
  { key: 'density', name: 'density', about: 'share of all pairs that met' },
  { key: 'meanDegree', name: 'mean degree', about: 'mean number of others that an agent met' },
  { key: 'reciprocity', name: 'reciprocity', about: 'share of ties that go both ways' },
  { key: 'components', name: 'components', about: 'parts between which nobody met' },
  { key: 'largest', name: 'largest component', about: 'share of the agents that it has' },
  { key: 'clustering', name: 'clustering', about: 'mean share of an agent’s others that met one another' },
  { key: 'pathLength', name: 'path length', about: 'mean number of ties between two that can reach one another' },
  { key: 'diameter', name: 'diameter', about: 'the most ties between two that can reach one another' },
  { key: 'efficiency', name: 'efficiency', about: 'mean over pairs of 1 / ties between them, 0 where there is no way' },
  { key: 'communities', name: 'communities', about: 'groups with many ties inside and few between them' },
  { key: 'modularity', name: 'modularity', about: 'how much more ties lie inside communities than by chance' },
];

/** A figure in words; what a network has none of is said so. */
export function figureWords(value: number): string {
  return Number.isNaN(value) ? 'none' : shownNumber(value);
}

/** Median and the range that holds nine runs in ten; runs without the figure are left out and counted. */
export function spreadWords(values: readonly number[]): string {
  const sorted = values.filter((value) => !Number.isNaN(value)).sort((a, b) => a - b);
  if (sorted.length === 0) return 'none';
  const at = (level: number): number => {
    const place = level * (sorted.length - 1);
    const low = Math.floor(place);
    return sorted[low]! + (place - low) * ((sorted[low + 1] ?? sorted[low]!) - sorted[low]!);
  };
  const missing = values.length - sorted.length;
  return `${shownNumber(at(0.5))}, ${shownNumber(at(0.05))} to ${shownNumber(at(0.95))}${missing > 0 ? `; none in ${missing}` : ''}`;
}
