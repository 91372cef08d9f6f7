import { arrayOfCells } from '../forms/space.ts';
import { ALIVE } from '../engine/population.ts';
import type { StateView } from '../engine/executable.ts';
import type { Network } from '../engine/spaces/network.ts';
import type { RunState } from './run-state.ts';

/** A state as bytes, to go back to; taken with all holes closed, so that slots are the same whenever it was taken. */
export function snapshotOf(state: RunState): ArrayBuffer[] {
  state.closeAllHoles();
  return [
    ...state.populations.map((population) => population.snapshot()),
    ...state.fields.map((field) => field.values.slice().buffer),
    ...state.networks.map(networkSnapshot),
    ...state.tallies.map((tally) => tally.values.slice(0, tally.count).buffer),
    state.mail.snapshot(),
  ];
}

function networkSnapshot(network: Network): ArrayBuffer {
  return joined([
    Float64Array.of(network.count, network.nextSerial),
    Float64Array.from(network.a.subarray(0, network.count)),
    Float64Array.from(network.b.subarray(0, network.count)),
    network.serial.subarray(0, network.count),
    ...network.columns.map((column) => column.subarray(0, network.count)),
  ]);
}

/** Takes a state back to a snapshot of it. */
export function restoreInto(state: RunState, parts: readonly ArrayBuffer[]): void {
  let at = 0;
  for (const population of state.populations) population.restore(parts[at++]!);
  state.fields.forEach(({ values }, i) => {
    values.set(new (arrayOfCells(state.plan.fields[i]!.isSingle))(parts[at++]!));
  });
  for (const network of state.networks) restoreNetwork(state, network, new Float64Array(parts[at++]!));
  for (const tally of state.tallies) {
    tally.clear();
    for (const value of new Float64Array(parts[at++]!)) tally.add(value, false);
  }
  state.mail.restore(parts[at]!);
  state.countCells();
}

function restoreNetwork({ populations }: RunState, network: Network, all: Float64Array): void {
  const [count, nextSerial] = all as unknown as [number, number];
  const column = (i: number): Float64Array => all.subarray(2 + i * count, 2 + (i + 1) * count);
  network.clear();
  network.fill(
    Int32Array.from(column(0)),
    Int32Array.from(column(1)),
    Math.max(populations[network.from]!.used, populations[network.to]!.used),
  );
  network.serial.set(column(2));
  network.nextSerial = nextSerial;
  network.columns.forEach((values, i) => values.set(column(3 + i)));
}

/** A state as plain lists, for comparing engines and for tables. */
export function viewOf({ populations, fields, networks, tallies, mail }: RunState): StateView {
  return {
    populations: populations.map((population) => {
      const slots = Array.from({ length: population.used }, (_, slot) => slot).filter(
        (slot) => population.alive[slot] === ALIVE,
      );
      const pick = (column: ArrayLike<number>): number[] => slots.map((slot) => column[slot]!);
      return {
        numbers: pick(population.number),
        x: pick(population.x),
        y: pick(population.y),
        direction: pick(population.direction),
        attributes: population.attributes.map(pick),
        states: population.states.map(pick),
        due: population.due.map(pick),
      };
    }),
    fields: fields.map((field) => [...field.values]),
    networks: networks.map((network) => ({
      a: network.list.map((tie) => populations[network.from]!.number[network.a[tie]!]!),
      b: network.list.map((tie) => populations[network.to]!.number[network.b[tie]!]!),
      values: network.columns.map((column) => network.list.map((tie) => column[tie]!)),
    })),
    tallies: tallies.map((tally) => [...tally.values.subarray(0, tally.count)]),
    mail: mail.view(),
  };
}

function joined(parts: readonly Float64Array[]): ArrayBuffer {
  const out = new Float64Array(parts.reduce((sum, part) => sum + part.length, 0));
  let at = 0;
  for (const part of parts) {
    out.set(part, at);
    at += part.length;
  }
  return out.buffer;
}
