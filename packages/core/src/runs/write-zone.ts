import { FORMS } from '../forms/forms.ts';
import type { Raster, Space } from '../forms/form.ts';
import { measuredPlace } from '../forms/lengths.ts';
import { rectanglesOf } from '../engine/zones.ts';
import { redrawZone } from '../language/edits.ts';
import type { Plan } from '../plan/plan.ts';

/** A place so many cells aside and up from the middle of a cell. */
function measuredCorner(
  column: number,
  row: number,
  room: number,
  space: Pick<Space, 'form' | 'cellLength'>,
): { readonly x: number; readonly y: number } {
  const { x, y } = measuredPlace(column, row, space);
  const further = room * (space.cellLength ?? 1);
  return { x: x + further, y: y + further * FORMS[space.form].rowHeight };
}

/** A zone of a run as it stands: for each cell, from below and from the left, whether it belongs to it. */
export interface PaintedZone extends Raster {
  readonly inside: ArrayLike<number>;
}

/**
 * A model's text with one of its zones or obstacles drawn as it was painted: loaded again, it has the same cells.
 * @param zone index of the zone in the plan of the text
 * @param size of the zone's space, in its own unit
 */
export function writeZone(
  text: string,
  plan: Plan,
  zone: number,
  painted: PaintedZone,
  size: Pick<Space, 'width' | 'height'>,
): string {
  const { name, space } = plan.zones[zone]!;
  const { form, cellLength, unitLabel } = plan.spaces[space]!;
  const words = (value: number): string => `${Number(value.toPrecision(10))}${unitLabel && ` ${unitLabel}`}`;
  // A box holds the cells whose centres lie in it: on a grid these are whole numbers, or lengths that it holds with room to spare; on a plane it reaches to the edges of the cells.
  const { isOfCells, oddShift } = FORMS[form];
  const room = cellLength === undefined ? 0 : oddShift === 0 ? 0.5 : 0.25;
  const corner = (column: number, row: number, side: -1 | 1): string => {
    const at = isOfCells
      ? measuredCorner(column, row, side * room, { form, cellLength })
      : { x: Math.min(size.width, column * painted.cell), y: Math.min(size.height, row * painted.cell) };
    return `(${words(at.x)}, ${words(at.y)})`;
  };
  const further = isOfCells ? 0 : 1;
  const boxes = rectanglesOf(painted.inside, painted.columns, painted.rows).map(
    ([left, bottom, right, top]) => `box ${corner(left, bottom, -1)} to ${corner(right + further, top + further, 1)}`,
  );
  return redrawZone(text, name, boxes);
}
