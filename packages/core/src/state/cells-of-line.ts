import type { Block, RunMemory } from '../engine/memory/run-memory.ts';
import type { CellsAsked } from '../kernel/cells-asked.ts';
import { SHAPE, SHAPE_OF_TABLE } from '../kernel/cells-asked.ts';
import { WIDE } from '../kernel/kernel.ts';
import type { TurnColumn } from '../kernel/turn-reads.ts';
import { fixedValue } from '../plan/fixed-values.ts';
import type { SpaceOfRun } from '../plan/start-space.ts';
import { KernelColumns } from './kernel-columns.ts';
import type { ReachTable } from './reach-tables.ts';
import { reachTable } from './reach-tables.ts';

/** Who stands where on a grid of one agent a cell, for a kernel that asks for it (`kernel/grid-cells.ts`), and the reaches in which it asks. */
export class CellsOfLine extends KernelColumns {
  private shape = new Int32Array(0);
  private standing = new Int32Array(0);
  private steps = new Int32Array(0);
  private lists: readonly Int32Array[] = [];
  private masks = new Uint8Array(0);
  private classes: readonly Uint8Array[] = [];

  private tables: readonly ReachTable[] = [];
  private columns = 0;
  private rows = 0;
  private margin = 0;
  /** The sizes and distances that all this was made for. */
  private madeFor = '';
  private isPossible = false;

  constructor(
    memory: RunMemory,
    private readonly asked: CellsAsked,
  ) {
    super(memory);
  }

  /** Makes room, and what stays the same while sizes and distances do. @returns whether that can be: reaches are not too wide, and do not meet themselves round the edge */
  reserve(ground: SpaceOfRun, parameters: ArrayLike<number>): boolean {
    const { columns, rows } = ground.raster;
    const distances = this.asked.tables.map(({ distance }) => fixedValue(distance, parameters));
    const madeFor = [columns, rows, ...distances].join();
    if (madeFor === this.madeFor) return this.isPossible;
    this.madeFor = madeFor;
    const tables = this.asked.tables.map((table, i) => reachTable(table, distances[i]!, ground));
    this.isPossible = !tables.includes(undefined);
    if (!this.isPossible) return false;
    this.tables = tables as readonly ReachTable[];
    this.columns = columns;
    this.rows = rows;
    this.margin = this.tables.reduce((most, { margin }) => Math.max(most, margin), 0);
    const counts = this.counts();
    this.take(counts.wholes * 4 + counts.bytes);
    this.writeTables();
    return true;
  }

  private get stride(): number {
    return this.columns + 2 * this.margin;
  }

  /** How many numbers each part has; the last of a row may be looked at with 15 more. */
  private counts() {
    const { tables, stride, rows, margin } = this;
    const sum = (of: (table: ReachTable) => number): number => tables.reduce((all, table) => all + of(table), 0);
    const cells = stride * (rows + 2 * margin) + WIDE;
    const shape = SHAPE.tables + SHAPE_OF_TABLE * tables.length;
    const [steps, masks] = [sum((table) => table.steps.length), sum((table) => table.masks.length)];
    const found = tables.reduce((most, table) => Math.max(most, table.steps.length), 0) / 2;
    return {
      cells,
      shape,
      steps,
      masks,
      found,
      wholes: cells + shape + steps + found * this.asked.lists,
      bytes: masks + cells * this.asked.classes.length,
    };
  }

  protected view({ buffer, at }: Block): void {
    const { cells, shape, steps, masks, found } = this.counts();
    let next = at;
    const wholes = (count: number): Int32Array<ArrayBuffer> =>
      new Int32Array(buffer, (next += count * 4) - count * 4, count);
    const bytes = (count: number): Uint8Array<ArrayBuffer> => new Uint8Array(buffer, (next += count) - count, count);
    this.shape = wholes(shape);
    this.standing = wholes(cells);
    this.steps = wholes(steps);
    this.lists = Array.from({ length: this.asked.lists }, () => wholes(found));
    this.masks = bytes(masks);
    this.classes = this.asked.classes.map(() => bytes(cells));
  }

  private writeTables(): void {
    this.shape[SHAPE.columns] = this.columns;
    this.shape[SHAPE.rows] = this.rows;
    this.shape[SHAPE.stride] = this.stride;
    this.shape[SHAPE.margin] = this.margin;
    let [masksAt, stepsAt] = [0, 0];
    this.tables.forEach(({ numbers, masks, steps }, i) => {
      const begins = masks.length > 0 ? masksAt : stepsAt;
      this.shape.set([...numbers, begins], SHAPE.tables + SHAPE_OF_TABLE * i);
      this.masks.set(masks, masksAt);
      this.steps.set(steps, stepsAt);
      masksAt += masks.length;
      stepsAt += steps.length;
    });
  }

  part(part: Extract<TurnColumn, { is: 'cells' }>['part']): Int32Array | Uint8Array {
    if (typeof part === 'number') return this.classes[part]!;
    return part === 'shape' || part === 'standing' || part === 'masks' || part === 'steps'
      ? this[part]
      : this.lists[Number(part.slice('list '.length))]!;
  }

  /** Nobody stands anywhere. */
  clear(): void {
    for (const column of this.classes) column.fill(0);
  }
}
