import type { Plan, Theme } from '@vole/core';
import { looksOf } from '@vole/core';
import type { Frame } from '../simulation/protocol.ts';

/** One entry of the key under a picture: a kind, or a class of it. */
interface KeyEntry {
  readonly colour: string;
  readonly name: string;
  readonly count: number;
  /** How many of its kind there are. */
  readonly ofAll: number;
}

/** Where an entry of the key stands: from the left, and in which row. */
export interface KeyPlace {
  readonly x: number;
  readonly row: number;
}

const BETWEEN = 19;

/** The key of a frame, with how many there are of each. */
export function keyOf(plan: Plan, frame: Frame, theme: Theme): KeyEntry[] {
  return looksOf(plan, theme).flatMap((look, k) => {
    const kind = frame.kinds[k];
    if (!kind || !look.shown) return [];
    const ofAll = kind.count;
    if (!look.classes) return [{ colour: look.colours[0]!, name: plan.kinds[k]!.name, count: ofAll, ofAll }];
    return look.classes.map((name, i) => ({
      colour: look.colours[i]!,
      name,
      count: kind.colours.reduce((sum, c) => sum + (c === i ? 1 : 0), 0),
      ofAll,
    }));
  });
}

/** Places of entries of some widths one after another, in as many rows as they need; one that is wider than a row has one for itself. */
export function keyPlaces(widths: readonly number[], left: number, right: number): KeyPlace[] {
  let [x, row] = [left, 0];
  return widths.map((width) => {
    if (x > left && x + width > right) [x, row] = [left, row + 1];
    const place = { x, row };
    x += width + BETWEEN;
    return place;
  });
}
