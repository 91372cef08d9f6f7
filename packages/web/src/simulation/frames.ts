import { expectedJourney, hasHeading } from '@vole/core';
import type { AgentColumn, AgentKey, FieldGrid, GeneratedRun, Zones } from '@vole/core';
import type { Layer } from './layers.ts';
import { rangeOf, robustRange } from './robust-range.ts';
import type { NetworkLayout } from './network-layout.ts';
import type { AgentTable, FieldFrame, KindFrame, OpenedAgent, ZoneFrame } from './protocol.ts';

/** What the page is handed of a run as it stands: columns that can be passed on without being copied. */

export function countLayers(executable: GeneratedRun, layers: readonly Layer[]): number[] {
  const counts = new Array<number>(layers.length).fill(0);
  const machineLayers = layers.filter((layer) => layer.machine !== undefined);
  layers.forEach((layer, i) => {
    if (layer.machine === undefined) counts[i] = executable.living(layer.kind);
  });
  const first = machineLayers[0];
  if (!first) return counts;
  for (const state of executable.state.agents(first.kind).states(first.machine!)) counts[state]!++;
  return counts;
}

export function kindFrame(executable: GeneratedRun, kind: number, layout: NetworkLayout | undefined): KindFrame {
  const agents = executable.state.agents(kind);
  const { count } = agents;
  const column = (is: 'x' | 'y' | 'direction'): Float32Array => agents.into({ is }, new Float32Array(count));
  const numbers = agents.numbers();
  const [x, y] = [column('x'), column('y')];
  if (layout)
    numbers.forEach((number, i) => {
      const laid = layout.placeOf(kind, number);
      if (laid) [x[i], y[i]] = [laid.x, laid.y];
    });
  const values = new Float64Array(count);
  const sizes = executable.sizesInto(kind, values) ? Float32Array.from(values) : new Float32Array(0);
  const colours = executable.coloursInto(kind, values) ? Float32Array.from(values) : new Float32Array(0);
  const { show } = executable.plan.kinds[kind]!;
  return {
    count,
    numbers,
    x,
    y,
    direction: show && hasHeading(show.shape) ? column('direction') : new Float32Array(0),
    sizes,
    colours,
    riders: ridersOf(executable, kind, numbers),
  };
}

function ridersOf({ plan, state }: GeneratedRun, kind: number, numbers: Int32Array): Int32Array {
  const ridings = plan.networks.flatMap(({ riding, to }, n) => (riding && to === kind ? [state.ties(n)] : []));
  if (ridings.length === 0) return new Int32Array(0);
  return numbers.map((number) =>
    ridings.reduce((sum, riding) => sum + (riding.partnersOf({ kind, number })?.length ?? 0), 0),
  );
}

const MOST_LISTED = 50_000;

export function tableFrame(executable: GeneratedRun, kind: number): AgentTable | undefined {
  const plan = executable.plan.kinds[kind];
  if (!plan) return undefined;
  const agents = executable.state.agents(kind);
  const listed = Math.min(agents.count, MOST_LISTED);
  const read = (of: AgentColumn): Float64Array => agents.into(of, new Float64Array(listed));
  const places = plan.space >= 0 ? [read({ is: 'x' }), read({ is: 'y' })] : [];
  const numbers = agents.into({ is: 'number' }, new Int32Array(listed));
  return {
    kind,
    numbers,
    riding: ridingColumns(executable, kind, numbers),
    columns: [
      ...plan.columns.map((_, column) => read({ is: 'attribute', column })),
      ...plan.machines.map((_, machine) => read({ is: 'state', machine })),
      ...places,
    ],
  };
}

function ridingColumns(executable: GeneratedRun, kind: number, numbers: Int32Array): AgentTable['riding'] {
  const { plan, state } = executable;
  const riders = ridersOf(executable, kind, numbers);
  const vehicles = plan.networks.flatMap(({ riding, from, to }, n) => (riding && from === kind ? [{ n, to }] : []));
  return [
    ...(riders.length > 0 ? [{ name: 'riders', values: Float64Array.from(riders) }] : []),
    ...vehicles.map(({ n, to }) => ({
      name: vehicles.length === 1 ? 'vehicle' : `vehicle_${plan.kinds[to]!.name}`,
      values: Float64Array.from(numbers, (number) => state.ties(n).partnersOf({ kind, number })?.[0]?.number ?? 0),
    })),
  ];
}

/** More ties than this are not told apart in a picture; of so many the first are drawn. */
const MOST_TIES = 20_000;

export function tiesFrame(executable: GeneratedRun, n: number, layout: NetworkLayout | undefined): Float32Array {
  // Who rides stands where its vehicle stands, so that nothing is seen of the tie.
  if (executable.plan.networks[n]!.riding && !layout) return new Float32Array(0);
  const ties = executable.state.ties(n);
  const places = ties.places(MOST_TIES);
  if (layout)
    ties.ends(MOST_TIES).forEach((number, end) => {
      const laid = layout.placeOf(end % 2 === 0 ? ties.from : ties.to, number);
      if (laid) [places[2 * end], places[2 * end + 1]] = [laid.x, laid.y];
    });
  return places;
}

export function zoneFrame({ raster, inside }: Zones['masks'][number]): ZoneFrame {
  return { columns: raster.columns, rows: raster.rows, cell: raster.cell, inside };
}

export function fieldFrame(field: FieldGrid, bounds: { low: number; high: number } | undefined): FieldFrame {
  const { values, columns, rows } = field;
  const range = bounds ? undefined : rangeOf(values);
  const { low, high, isCut } = bounds ? { ...bounds, isCut: false } : robustRange(values, range);
  const scale = high > low ? 255 / (high - low) : 0;
  const levels = new Uint8Array(values.length);
  for (let i = 0; i < values.length; i++) {
    // Rounded; a million cells take a fifth of the time that they take by functions of Math.
    const level = (values[i]! - low) * scale + 0.5;
    levels[i] = level >= 255 ? 255 : level > 0 ? level | 0 : 0;
  }
  return { columns, rows, levels, low, high, isCut, mean: (range?.sum ?? sumOf(values)) / values.length };
}

function sumOf(values: ArrayLike<number>): number {
  let sum = 0;
  for (let i = 0; i < values.length; i++) sum += values[i]!;
  return sum;
}

/** Where an agent stands, or is drawn; nothing if it is not there. */
export function placeOf(
  executable: GeneratedRun,
  { kind, number }: AgentKey,
  layout: NetworkLayout | undefined,
): { kind: number; number: number; x: number; y: number }[] {
  const agent = executable.plan.kinds[kind] && executable.state.agents(kind).one(number);
  if (!agent) return [];
  const { x, y } = layout?.placeOf(kind, number) ?? agent;
  return [{ kind, number, x, y }];
}

export function openedAgent(
  executable: GeneratedRun,
  wanted: AgentKey,
  layout: NetworkLayout | undefined,
): OpenedAgent {
  const { kind, number } = wanted;
  const agent = executable.state.agents(kind).one(number);
  if (!agent) return { kind, number, gone: true, x: 0, y: 0, direction: 0, attributes: [], states: [], ties: [] };
  const { columns, machines } = executable.plan.kinds[kind]!;
  const { x, y } = layout?.placeOf(kind, number) ?? agent;
  return {
    kind,
    number,
    gone: false,
    x,
    y,
    direction: agent.direction,
    attributes: columns.map((_, column) => agent.attribute(column)),
    states: machines.map((machine, m) => {
      const state = agent.state(m);
      const left = machine.dues[state]!.map((column) => agent.due(column) - executable.context.end).filter(
        (time) => time > 0,
      );
      return { state, due: left.length > 0 ? Math.min(...left) : undefined };
    }),
    ties: tiesOf(executable, wanted),
    journey: expectedJourney(executable, wanted),
  };
}

/** Others that are named of an agent's ties, in each network. */
const MOST_NAMED = 30;

function tiesOf(executable: GeneratedRun, agent: AgentKey): OpenedAgent['ties'] {
  return executable.plan.networks.flatMap((_, network) => {
    const others = executable.state.ties(network).partnersOf(agent);
    return others ? [{ network, count: others.length, others: others.slice(0, MOST_NAMED) }] : [];
  });
}
