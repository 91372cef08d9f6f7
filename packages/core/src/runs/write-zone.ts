import { FORMS } from '../forms/forms.ts';
import type { Raster, Space } from '../forms/form.ts';
import { rectanglesOf } from '../engine/zones.ts';
import { redrawZone } from '../language/edits.ts';
import type { Plan } from '../plan/plan.ts';

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
  const { form, unitLabel } = plan.spaces[space]!;
  const words = (value: number): string => `${Number(value.toPrecision(10))}${unitLabel && ` ${unitLabel}`}`;
  // A box holds the cells whose centres lie in it: on a grid these are whole numbers, on a plane it reaches to the edges of the cells.
  const { isOfCells } = FORMS[form];
  const further = isOfCells ? 0 : 1;
  const corner = (column: number, row: number): string =>
    `(${words(isOfCells ? column : Math.min(size.width, column * painted.cell))}, ${words(isOfCells ? row : Math.min(size.height, row * painted.cell))})`;
  const boxes = rectanglesOf(painted.inside, painted.columns, painted.rows).map(
    ([left, bottom, right, top]) => `box ${corner(left, bottom)} to ${corner(right + further, top + further)}`,
  );
  return redrawZone(text, name, boxes);
}
