import type { Raster, Space } from '../engine/space.ts';
import { fieldShape, MAX_FIELD_CELLS } from '../engine/space.ts';
import type { Mask, ZoneShape } from '../engine/zones.ts';
import { maskOf, unionOf, zoneRaster } from '../engine/zones.ts';
import { failSize } from './failures.ts';
import type { Plan, PointPlan, RasterPlan, ValueBody } from './plan.ts';

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
  if (space.neighbours === 6 && edge === 'wrapping' && height % 2 !== 0) {
    failSize(NOWHERE, `The grid “${name}” has ${height} rows.`, 'A wrapping grid of 6 neighbours needs an even number of rows, as every other one is shifted by half a cell.');
  }
  return space;
}

/** The cells of a space: of a grid its own, of a plane those it was given. */
export function spaceRaster(plan: Plan, space: Space, value: (body: ValueBody) => number): Raster {
  if (space.form === 'grid') return { columns: space.width, rows: space.height, cell: 1 };
  const cell = plan.space!.cell ? value(plan.space!.cell) : Math.max(space.width, space.height);
  if (!(cell > 0)) failSize(NOWHERE, `The cells of “${plan.space!.name}” would be ${cell} wide.`, 'Their size must be above zero.');
  const { columns, rows } = fieldShape(space, cell);
  if (columns * rows > MAX_FIELD_CELLS) failSize(NOWHERE, `The space “${plan.space!.name}” would have ${columns} by ${rows} cells.`, 'Make them larger.');
  return { columns, rows, cell };
}

export interface Zones {
  readonly masks: readonly Mask[];
  /** Cells on which nobody may go, and the others; absent without obstacles. */
  readonly blocked?: Mask;
  readonly free?: Mask;
}

export function startZones(plan: Plan, space: Space | undefined, value: (body: ValueBody) => number): Zones {
  if (!space || plan.zones.length === 0) return { masks: [] };
  const raster = zoneRaster(space, plan.space!.cell && value(plan.space!.cell));
  const point = ([x, y]: PointPlan): readonly [number, number] => [value(x), value(y)];
  const masks = plan.zones.map((zone) => {
    const shapes = zone.shapes.map((shape): ZoneShape => {
      switch (shape.is) {
        case 'box':
          return { is: 'box', from: point(shape.from), to: point(shape.to) };
        case 'circle':
          return { is: 'circle', radius: value(shape.radius), around: point(shape.around) };
        case 'raster':
          return shape;
        default:
          return { is: shape.is, places: shape.places.map(point) };
      }
    });
    return maskOf(shapes, raster, space);
  });
  return zonesOf(plan, masks, raster);
}

/** Zones of given masks, with what their obstacles leave free. */
export function zonesOf(plan: Plan, masks: readonly Mask[], raster: Raster): Zones {
  const obstacles = masks.filter((_, i) => plan.zones[i]!.obstacle);
  if (obstacles.length === 0) return { masks };
  return { masks, blocked: unionOf(obstacles, raster, false), free: unionOf(obstacles, raster, true) };
}

/** The value that a raster from a file gives a cell of a field, whose cells may be of another size. */
export function rasterValue(given: RasterPlan, grid: Raster, cell: number): number {
  const column = Math.min(given.columns - 1, Math.floor(((cell % grid.columns) + 0.5) * (given.columns / grid.columns)));
  const row = Math.min(given.rows - 1, Math.floor((Math.floor(cell / grid.columns) + 0.5) * (given.rows / grid.rows)));
  return given.values[row * given.columns + column]!;
}
