import type { ColumnPlan, GeneratedRun } from '@vole/core';
import { graphmlOf, heading, rasterText } from '@vole/core';
import type { TakeWish } from './protocol.ts';

/** A field as a text raster, or a network as GraphML, as it stands in a run; nothing if the model has no such. */
export function takenText(executable: GeneratedRun, { what, index, about }: TakeWish): string | undefined {
  const { plan, state } = executable;
  if (what === 'field') {
    const field = state.fields[index];
    return field && rasterText({ ...field, options: plan.fields[index]!.options });
  }
  return plan.networks[index] && networkText(executable, index, about);
}

/** Agents with their states, ties with their attributes. */
function networkText({ plan, state }: GeneratedRun, index: number, about: readonly string[]): string {
  const { directed, columns } = plan.networks[index]!;
  const ties = state.ties(index);
  const kinds = [...new Set([ties.from, ties.to])];
  const machines = kinds.flatMap((kind) =>
    plan.kinds[kind]!.machines.map(({ name, states }, m) => ({ kind, name, states, of: state.agents(kind).states(m) })),
  );
  const agents = kinds.flatMap((kind) =>
    Array.from(state.agents(kind).numbers(), (number, i) => ({
      kind,
      number,
      name: `${plan.kinds[kind]!.name} ${number}`,
      values: machines.map((machine) => (machine.kind === kind ? machine.states[machine.of[i]!]! : '')),
    })),
  );
  const placeOf = new Map(agents.map(({ kind, number }, place) => [`${kind} ${number}`, place]));
  const ends = ties.ends();
  const values = columns.map((_, c) => ties.column(c));
  return graphmlOf(
    {
      directed,
      nodeColumns: machines.map(({ name }) => name),
      tieColumns: columns.map(({ name, unitLabel }) => heading(name, unitLabel)),
      nodes: agents,
      ties: Array.from({ length: ties.count }, (_, t) => ({
        from: placeOf.get(`${ties.from} ${ends[2 * t]!}`)!,
        to: placeOf.get(`${ties.to} ${ends[2 * t + 1]!}`)!,
        values: columns.map((column, c) => shown(column, values[c]![t]!)),
      })),
    },
    about,
  );
}

/** A value in the unit of its column, or the word of a choice. */
function shown({ options, type, unitFactor }: ColumnPlan, value: number): string | number {
  const words = options ?? (type === 'yes or no' ? ['no', 'yes'] : undefined);
  return words ? words[value]! : value / unitFactor;
}
