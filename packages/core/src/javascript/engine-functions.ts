import type { CellValues } from '../forms/space.ts';
import { cellsInto } from '../engine/cells.ts';
import * as math from '../math.ts';
import * as laws from '../engine/random/laws.ts';
import { agentKey0, agentKey1, mix, ruleKey0, ruleKey1 } from '../engine/random/stream.ts';
import { gridCell, reflect, stopAtWall, wayAlong, wrap } from '../forms/edges.ts';
import { hexAlong } from '../forms/hexagons.ts';
import {
  bearingBetween,
  cellAt,
  cellX,
  cellY,
  directionAfter,
  distanceBetween,
  isInReach,
  laneAt,
  onLane,
  squareBetween,
  wayLength,
} from '../forms/space.ts';
import type { Tally } from '../engine/tallies.ts';
import { drawInMask, isInMask, shareBefore } from '../engine/zones.ts';
import type { Gathering } from '../measures/numeric/gather.ts';
import { gather } from '../measures/numeric/gather.ts';
import { dueAfter, recentOf } from '../plan/values.ts';

/** What generated code may call, besides its columns: functions of the engine and a few of its own. */

const least = (a: number, b: number): number => (b < a ? b : a);
const greatest = (a: number, b: number): number => (b > a ? b : a);

function sortSlots(list: Int32Array, n: number): void {
  if (n > 24) {
    list.subarray(0, n).sort();
    return;
  }
  for (let i = 1; i < n; i++) {
    const held = list[i]!;
    let j = i - 1;
    while (j >= 0 && list[j]! > held) {
      list[j + 1] = list[j]!;
      j--;
    }
    list[j + 1] = held;
  }
}

function gatherField(fn: Gathering, values: CellValues, level: number | undefined): number {
  const sorts = fn === 'median' || fn === 'quantile';
  return gather(fn, sorts ? values.slice() : values, values.length, level);
}

export function gatherTally(tally: Tally, fn: Gathering, level: number | undefined): number {
  return gather(fn, tally.values.slice(0, tally.count), tally.count, level);
}

export function keepWithin(values: CellValues, low: number, high: number): void {
  for (let i = 0; i < values.length; i++) values[i] = math.clip(values[i]!, low, high);
}

/** Adds to a list whose length lies in the first column, the oldest item after it; one agent is in it once, at the newest place (S29). */
export function addToList(
  columns: readonly Float64Array[],
  slot: number,
  first: number,
  size: number,
  stride: number,
  ofAgents: boolean,
  a: number,
  b: number,
): void {
  let length = columns[first]![slot]!;
  const close = (from: number): void => {
    for (let i = from; i + 1 < length; i++)
      for (let part = 0; part < stride; part++)
        columns[first + 1 + i * stride + part]![slot] = columns[first + 1 + (i + 1) * stride + part]![slot]!;
    length--;
  };
  if (ofAgents) for (let i = length - 1; i >= 0; i--) if (columns[first + 1 + i]![slot] === a) close(i);
  if (length === size) close(0);
  columns[first + 1 + length * stride]![slot] = a;
  if (stride === 2) columns[first + 2 + length * stride]![slot] = b;
  columns[first]![slot] = length + 1;
}

export const ENGINE = {
  ...math,
  powerOfTwo: math.powerOfTwo,
  highWord: math.highWord,
  ...laws,
  mix,
  ruleKey0,
  ruleKey1,
  agentKey0,
  agentKey1,
  wrap,
  stopAtWall,
  reflect,
  gridCell,
  directionAfter,
  distanceBetween,
  bearingBetween,
  squareBetween,
  wayAlong,
  hexAlong,
  onLane,
  laneAt,
  wayLength,
  isInReach,
  isInMask,
  shareBefore,
  drawInMask,
  cellAt,
  cellX,
  cellY,
  cellsInto,
  gather,
  gatherField,
  gatherTally,
  recentOf,
  dueAfter,
  addToList,
  least,
  greatest,
  sortSlots,
};
