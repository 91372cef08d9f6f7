import { below, ruleKey0, ruleKey1 } from '../engine/random/stream.ts';
import * as math from '../math.ts';
import type * as P from '../plan/plan.ts';
import { CELL_COLUMN, changeKey, fieldOfColumn, isMachineColumn, settleStream } from '../plan/settling.ts';
import type { RunState } from '../state/run-state.ts';
import type { Bound } from './generated-state.ts';
import { WriteLog } from './write-log.ts';

/** What the settling of a rule needs of the code that is bound to the run. */
export interface SettlingCode {
  readonly code: Pick<Bound, 'fieldKeeps'>;
  valueOf(body: P.AskedBody): number;
  changeState(kind: number, machine: number, slot: number, state: number, key0: number, key1: number): void;
}

/** Settles what agents did all at once, when their rule is over (S17). */
export class AllAtOnce {
  readonly log = new WriteLog();

  constructor(
    private readonly state: RunState,
    private readonly code: SettlingCode,
  ) {}

  settle(rule: number): void {
    const { log } = this;
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
    values: Float64Array;
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
  settleChanges(rule: number): void {
    const { log } = this;
    const { context } = this.state;
    const changes = log.columns.filter(isMachineColumn).flatMap((column) => {
      const kind = Math.floor((column - 0x3000000) / 256);
      const machine = column % 256;
      const population = this.state.populations[kind]!;
      const states = new Float64Array(population.used);
      log.settleInto(column, states, population.used, (slot) =>
        settleStream(context.seed, context.step, rule, column, population.number[slot]!),
      );
      return [...new Set(log.targetsOf(column))].map((slot) => ({ kind, machine, slot, state: states[slot]! }));
    });
    log.clear();
    changes.sort((a, b) => a.kind - b.kind || a.slot - b.slot || a.machine - b.machine);
    for (const { kind, machine, slot, state } of changes) {
      if (!(this.state.populations[kind]!.alive[slot]! & 1)) continue;
      const key = changeKey(rule) + machine;
      this.code.changeState(
        kind,
        machine,
        slot,
        state,
        ruleKey0(context.seed, context.step, key),
        ruleKey1(context.seed, context.step, key),
      );
    }
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
