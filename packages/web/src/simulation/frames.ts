import type { GeneratedScript, Plan, Zones } from '@vole/core';
import { robustRange } from './robust-range.ts';
import type { NetworkLayout } from './network-layout.ts';
import type { AgentTable, FieldFrame, KindFrame, OpenedAgent, ZoneFrame } from './protocol.ts';

/** What the page is handed of a run as it stands: columns that can be passed on without being copied. */

interface Layer {
  readonly name: string;
  readonly kind: number;
  readonly machine: number | undefined;
  readonly state: number;
}

/** Layers of the ribbon: the states of the first machine that a show colours by, else the kinds. */
export function layersOf(plan: Plan): Layer[] {
  for (const [kind, { show, machines }] of plan.kinds.entries()) {
    const by = show?.colourBy?.value;
    if (by?.op === 'state' && by.kind === kind) {
      return machines[by.machine]!.states.map((name, state) => ({ name, kind, machine: by.machine, state }));
    }
  }
  return plan.kinds.map((kind, index) => ({ name: kind.name, kind: index, machine: undefined, state: 0 }));
}

export function countLayers(script: GeneratedScript, layers: readonly Layer[]): number[] {
  const counts = new Array<number>(layers.length).fill(0);
  const machineLayers = layers.filter((layer) => layer.machine !== undefined);
  layers.forEach((layer, i) => {
    if (layer.machine === undefined) counts[i] = script.living(layer.kind);
  });
  const first = machineLayers[0];
  if (!first) return counts;
  const { alive, used, states } = script.populations[first.kind]!;
  const column = states[first.machine!]!;
  for (let slot = 0; slot < used; slot++) if (alive[slot]! & 1) counts[column[slot]!]!++;
  return counts;
}

export function kindFrame(script: GeneratedScript, kind: number, layout: NetworkLayout | undefined): KindFrame {
  const { alive, used, living, number, x, y, direction } = script.populations[kind]!;
  const frame = {
    count: living,
    numbers: new Int32Array(living),
    x: new Float32Array(living),
    y: new Float32Array(living),
    direction: new Float32Array(living),
  };
  let n = 0;
  for (let slot = 0; slot < used; slot++) {
    if (!(alive[slot]! & 1)) continue;
    frame.numbers[n] = number[slot]!;
    const laid = layout?.placeOf(kind, number[slot]!);
    frame.x[n] = laid ? laid.x : x[slot]!;
    frame.y[n] = laid ? laid.y : y[slot]!;
    frame.direction[n] = direction[slot]!;
    n++;
  }
  const values = new Float64Array(living);
  const sizes = script.sizesInto(kind, values) ? Float32Array.from(values) : new Float32Array(0);
  const colours = script.coloursInto(kind, values) ? Float32Array.from(values) : new Float32Array(0);
  return { ...frame, sizes, colours };
}

const MOST_LISTED = 50_000;

export function tableFrame(script: GeneratedScript, kind: number): AgentTable | undefined {
  const population = script.populations[kind];
  if (!population) return undefined;
  const slots: number[] = [];
  for (let slot = 0; slot < population.used && slots.length < MOST_LISTED; slot++)
    if (population.alive[slot]! & 1) slots.push(slot);
  const pick = (column: ArrayLike<number>): Float64Array => Float64Array.from(slots, (slot) => column[slot]!);
  const places = script.plan.kinds[kind]!.space >= 0 ? [pick(population.x), pick(population.y)] : [];
  return {
    kind,
    numbers: Int32Array.from(slots, (slot) => population.number[slot]!),
    columns: [...population.attributes.map(pick), ...population.states.map(pick), ...places],
  };
}

/** More ties than this are not told apart in a picture; of so many the first are drawn. */
const MOST_TIES = 20_000;

export function tiesFrame(script: GeneratedScript, n: number, layout: NetworkLayout | undefined): Float32Array {
  const network = script.networks[n]!;
  const [from, to] = [script.populations[network.from]!, script.populations[network.to]!];
  const ends = new Float32Array(4 * Math.min(network.living, MOST_TIES));
  let at = 0;
  for (let tie = 0; tie < network.count && at < ends.length; tie++) {
    if (!network.there[tie]) continue;
    const [a, b] = [network.a[tie]!, network.b[tie]!];
    const [pa, pb] = [layout?.placeOf(network.from, from.number[a]!), layout?.placeOf(network.to, to.number[b]!)];
    ends[at++] = pa ? pa.x : from.x[a]!;
    ends[at++] = pa ? pa.y : from.y[a]!;
    ends[at++] = pb ? pb.x : to.x[b]!;
    ends[at++] = pb ? pb.y : to.y[b]!;
  }
  return ends;
}

export function zoneFrame({ raster, inside }: Zones['masks'][number]): ZoneFrame {
  return { columns: raster.columns, rows: raster.rows, cell: raster.cell, inside };
}

export function fieldFrame(
  field: GeneratedScript['fields'][number],
  keep: { low: number; high: number } | undefined,
): FieldFrame {
  const { values, columns, rows } = field;
  let sum = 0;
  for (const value of values) sum += value;
  const { low, high, isCut } = keep ? { ...keep, isCut: false } : robustRange(values);
  const scale = high > low ? 255 / (high - low) : 0;
  const levels = new Uint8Array(values.length);
  for (let i = 0; i < values.length; i++)
    levels[i] = Math.max(0, Math.min(255, Math.round((values[i]! - low) * scale)));
  return { columns, rows, levels, low, high, isCut, mean: sum / values.length };
}

/** Where an agent stands, or is drawn; nothing if it is not there. */
export function placeOf(
  script: GeneratedScript,
  kind: number,
  number: number,
  layout: NetworkLayout | undefined,
): { kind: number; number: number; x: number; y: number }[] {
  const population = script.populations[kind];
  const slot = population?.slotOf(number) ?? -1;
  if (!population || slot < 0) return [];
  const laid = layout?.placeOf(kind, number);
  return [{ kind, number, x: laid ? laid.x : population.x[slot]!, y: laid ? laid.y : population.y[slot]! }];
}

export function openedAgent(
  script: GeneratedScript,
  plan: Plan,
  wanted: { kind: number; number: number },
  layout: NetworkLayout | undefined,
): OpenedAgent {
  const population = script.populations[wanted.kind]!;
  const slot = population.slotOf(wanted.number);
  if (slot < 0) return { ...wanted, gone: true, x: 0, y: 0, direction: 0, attributes: [], states: [], ties: [] };
  const laid = layout?.placeOf(wanted.kind, wanted.number);
  return {
    ...wanted,
    gone: false,
    x: laid ? laid.x : population.x[slot]!,
    y: laid ? laid.y : population.y[slot]!,
    direction: population.direction[slot]!,
    attributes: population.attributes.map((column) => column[slot]!),
    states: plan.kinds[wanted.kind]!.machines.map((machine, m) => {
      const state = population.states[m]![slot]!;
      const left = machine.dues[state]!.map((column) => population.due[column]![slot]! - script.world.end).filter(
        (time) => time > 0,
      );
      return { state, due: left.length > 0 ? Math.min(...left) : undefined };
    }),
    ties: tiesOf(script, wanted.kind, slot),
  };
}

/** Others that are named of an agent's ties, in each network. */
const MOST_NAMED = 30;

function tiesOf(script: GeneratedScript, kind: number, slot: number): OpenedAgent['ties'] {
  return script.networks.flatMap(({ from, to, rows }, network) => {
    if (kind !== from && kind !== to) return [];
    // A network of one kind without a direction keeps all in one side; else who ties has the first, who is tied the second.
    const sides = rows
      .map((row, side) => ({ row, other: side === 0 ? to : from }))
      .filter((_, side) => rows.length === 1 || (side === 0 ? kind === from : kind === to));
    const others = sides.flatMap(({ row, other }) =>
      Array.from({ length: row.length[slot] ?? 0 }, (_, i) => ({
        kind: other,
        number: script.populations[other]!.number[row.other[row.start[slot]! + i]!]!,
      })),
    );
    return [{ network, count: others.length, others: others.slice(0, MOST_NAMED) }];
  });
}
