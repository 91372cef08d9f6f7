import type { Space } from '../engine/space.ts';
import { fieldShape, MAX_FIELD_CELLS } from '../engine/space.ts';
import { failSize } from './failures.ts';
import type { Plan, ValueBody } from './plan.ts';

const NOWHERE = { start: 0, end: 0 };

/** The space of a run with its size for these parameters; refuses sizes that are not above zero or do not fit into memory. */
export function startSpace(plan: Plan, value: (body: ValueBody) => number): Space | undefined {
  if (!plan.space) return undefined;
  const { form, edge, neighbours, oneAgentACell, name } = plan.space;
  const width = value(plan.space.width);
  const height = value(plan.space.height);
  const isWhole = form === 'plane' || (Number.isInteger(width) && Number.isInteger(height));
  if (!(width > 0) || !(height > 0) || !Number.isFinite(width * height) || !isWhole) {
    failSize(NOWHERE, `The space “${name}” would be ${width} by ${height}.`, 'Both sides must be above zero, and whole on a grid.');
  }
  const space: Space = { form, edge, neighbours, oneAgentACell, width, height };
  for (const field of plan.fields) {
    const cell = field.cell ? value(field.cell) : 1;
    const span = plan.sites[field.site]!.span;
    if (!(cell > 0)) failSize(span, `The cells of “${field.name}” would be ${cell} wide.`, 'Their size must be above zero.');
    const { columns, rows } = fieldShape(space, cell);
    if (columns * rows > MAX_FIELD_CELLS) {
      failSize(span, `The field “${field.name}” would have ${columns} by ${rows} cells; at most ${MAX_FIELD_CELLS.toLocaleString('en-GB')} fit.`, 'Make the cells larger or the space smaller.');
    }
  }
  if (form === 'grid' && width * height > MAX_FIELD_CELLS) failSize(NOWHERE, `The grid “${name}” would have ${width} by ${height} cells.`, 'Make it smaller.');
  return space;
}
