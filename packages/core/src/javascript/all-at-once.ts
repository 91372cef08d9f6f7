import { below, ruleKey0, ruleKey1 } from '../engine/random/stream.ts';
import * as math from '../math.ts';
import type * as P from '../plan/plan.ts';
import { CELL_COLUMN, changeKey, fieldOfColumn, isMachineColumn, settleStream } from '../plan/settling.ts';
import type { CellValues } from '../forms/space.ts';
import type { WantedStates } from '../state/kernel-room.ts';
import type { RunState } from '../state/run-state.ts';
import type { Bound, GivenToChanges } from './generated-state.ts';
import { WriteLog } from './write-log.ts';

/** What the settling of a rule needs of the code that is bound to the run. */
export interface SettlingCode {
  readonly code: Pick<Bound, 'fieldKeeps'>;
  valueOf(body: P.AskedBody): number;
  changeState(kind: number, machine: number, slot: number, state: number, key0: number, key1: number): void;
  /** Brings many into states by a kernel, which is given the keys of luck and its numbers. @returns whether it did */
  changeByKernel(wanted: WantedStates, given: readonly number[]): boolean;
}

/** Where less than one in so many changes, they are gone through by bits, of which words are passed over. */
const FEW = 64;

interface RoomForWanted extends WantedStates {
  slots: Int32Array;
  /** A bit for each slot. */
  readonly marks: Int32Array;
  states: Float64Array;
  only: number | undefined;
}

/** A bit for each slot that changes. */
function marksOf({ marks, slots }: RoomForWanted): Int32Array {
  marks.fill(0);
  for (const slot of slots) marks[slot >>> 5]! |= 1 << (slot & 31);
  return marks;
}

/** Goes through the slots that are marked in any of some rows of bits, in rising order, and for each through the rows that mark it. */
function eachMarked(rows: readonly Int32Array[], each: (slot: number, row: number) => void): void {
  const [first, ...others] = rows as [Int32Array, ...Int32Array[]];
  const words = Math.max(...rows.map((marks) => marks.length));
  for (let word = 0; word < words; word++) {
    // Beyond the end of a row nobody is marked.
    let left = first[word]! | 0;
    for (let i = 0; i < others.length; i++) left |= others[i]![word]!;
    while (left !== 0) {
      const bit = left & -left;
      left ^= bit;
      for (let i = 0; i < rows.length; i++) if (rows[i]![word]! & bit) each(word * 32 + 31 - Math.clz32(bit), i);
    }
  }
}

/** Settles what agents did all at once, when their rule is over (S17). */
export class AllAtOnce {
  readonly log = new WriteLog();
  /** Kept from call to call, by column. */
  private readonly wanted = new Map<number, RoomForWanted>();

  constructor(
    private readonly state: RunState,
    private readonly code: SettlingCode,
  ) {}

  settle(rule: number): void {
    const { log } = this;
    if (log.isEmpty) return;
    const { context } = this.state;
    for (const column of log.columns) {
      if (isMachineColumn(column)) continue;
      const { values, size, keyOf } = this.columnNamed(column);
      log.settleInto(column, values, size, (target) =>
        settleStream(context.seed, context.step, rule, column, keyOf(target)),
      );
    }
    for (const column of log.columns) this.keepWithin(column, fieldOfColumn(column));
    if (!log.columns.some(isMachineColumn)) log.clear();
  }

  /** Brings what was written to a field within its bounds. */
  private keepWithin(column: number, field: number | undefined): void {
    if (field === undefined) return;
    const { values } = this.state.fields[field]!;
    const { bounds } = this.state.plan.fields[field]!;
    const keep = this.code.code.fieldKeeps[field];
    const targets = this.log.targetsOf(column);
    if (keep) for (const cell of targets) values[cell] = keep(values[cell]!, cell);
    if (!bounds) return;
    const [low, high] = [this.code.valueOf(bounds.min), this.code.valueOf(bounds.max)];
    for (const cell of targets) values[cell] = math.clip(values[cell]!, low, high);
  }

  /** The values behind a column of the log, and what keys the luck of its targets. */
  private columnNamed(column: number): {
    values: CellValues;
    size: number;
    keyOf: (target: number) => number;
  } {
    if (column >= 0x4000000) {
      const network = this.state.networks[Math.floor((column - 0x4000000) / 256)]!;
      return { values: network.columns[column % 256]!, size: network.count, keyOf: (tie) => network.serial[tie]! };
    }
    if (column >= 0x2000000)
      return { values: this.state.context.variables.subarray(column - 0x2000000), size: 1, keyOf: () => 0 };
    const field = fieldOfColumn(column);
    if (field !== undefined) {
      return {
        values: this.state.fields[field]!.values,
        size: this.state.fields[field]!.values.length,
        keyOf: (cell) => cell,
      };
    }
    const population = this.state.populations[Math.floor(column / 4096)]!;
    return {
      values: population.attributes[column % 4096]!,
      size: population.used,
      keyOf: (slot) => population.number[slot]!,
    };
  }

  /** Changes of machines that were set by others, agent by agent in order of number. */
  settleChanges(rule: number, byKernel: GivenToChanges): void {
    const { log } = this;
    const { seed, step } = this.state.context;
    if (log.isEmpty) return;
    const wanted = log.columns.filter(isMachineColumn).map((column) => this.wantedOf(column, rule));
    log.clear();
    this.state.populations.forEach((population, kind) => {
      const ofKind = wanted.filter((changes) => changes.kind === kind);
      if (ofKind.length === 0) return;
      const keys = ofKind.map(({ machine }) => {
        const key = changeKey(rule) + machine;
        return [ruleKey0(seed, step, key), ruleKey1(seed, step, key)] as const;
      });
      const [first] = ofKind as [RoomForWanted, ...RoomForWanted[]];
      const numbers = ofKind.length === 1 ? byKernel[`${kind}:${first.machine}`] : undefined;
      const areMany = first.slots.length * FEW > population.used;
      if (numbers && areMany && this.code.changeByKernel(first, [...keys[0]!, ...numbers()])) return;
      eachMarked(ofKind.map(marksOf), (slot, i) => {
        const { machine, states, only } = ofKind[i]!;
        if (population.alive[slot]! & 1) this.code.changeState(kind, machine, slot, only ?? states[slot]!, ...keys[i]!);
      });
    });
  }

  /** What others want the states of a machine to be. */
  private wantedOf(column: number, rule: number): RoomForWanted {
    const { log } = this;
    const { context, populations } = this.state;
    const kind = Math.floor((column - 0x3000000) / 256);
    const { used, number } = populations[kind]!;
    let wanted = this.wanted.get(column);
    if (!wanted || wanted.marks.length * 32 < used) {
      const room = Math.ceil(used / 32) + 32;
      wanted = {
        kind,
        machine: column % 256,
        slots: new Int32Array(0),
        marks: new Int32Array(room),
        states: new Float64Array(0),
        only: undefined,
      };
      this.wanted.set(column, wanted);
    }
    wanted.slots = log.targetsOf(column);
    wanted.only = log.onlySetting(column);
    if (wanted.only === undefined) {
      if (wanted.states.length < used) wanted.states = new Float64Array(wanted.marks.length * 32);
      log.settleInto(column, wanted.states, used, (slot) =>
        settleStream(context.seed, context.step, rule, column, number[slot]!),
      );
    }
    return wanted;
  }

  /** Several that want one empty cell: a keyed draw picks one, the others stay (S18). */
  settleMoves(kind: number, rule: number): void {
    const { context } = this.state;
    const s = this.state.plan.kinds[kind]!.space;
    const occupied = this.state.occupied[s]!;
    const { x, y, alive, used, before } = this.state.populations[kind]!;
    const wants = new Map<number, number[]>();
    for (let slot = 0; slot < used; slot++) {
      if (!(alive[slot]! & 1) || x[slot] !== x[slot] || (x[slot] === before.x[slot] && y[slot] === before.y[slot]))
        continue;
      const cell = this.state.cellOf(s, x[slot]!, y[slot]!);
      const others = wants.get(cell);
      if (others) others.push(slot);
      else wants.set(cell, [slot]);
    }
    for (const [cell, slots] of wants) {
      const chosen =
        occupied[cell]! > 0
          ? -1
          : slots.length === 1
            ? 0
            : below(settleStream(context.seed, context.step, rule, CELL_COLUMN, cell).word(), slots.length);
      slots.forEach((slot, i) => {
        if (i === chosen) return;
        x[slot] = before.x[slot]!;
        y[slot] = before.y[slot]!;
        context.refused++;
      });
    }
  }
}
