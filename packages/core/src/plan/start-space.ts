import { Discs } from '../engine/cells.ts';
import type { Raster, Space } from '../forms/form.ts';
import { formOf } from '../forms/forms.ts';
import { MAX_FIELD_CELLS } from '../forms/grid.ts';
import type { Mask, ZoneShape } from '../engine/zones.ts';
import { maskOf, unionOf, zoneRaster } from '../engine/zones.ts';
import { Journeys } from '../maps/journeys.ts';
import { lanesOf } from '../maps/lanes.ts';
import { failSize } from './failures.ts';
import type { Plan, PointPlan, RasterPlan, SpacePlan, AskedBody } from './plan.ts';

const NOWHERE = { start: 0, end: 0 };

/** Cells that the lines of a zone may go through. */
const MOST_LINE_CELLS = 20_000_000;

/** A space of a run, with the cells it is divided into. */
export interface SpaceOfRun {
  readonly space: Space;
  /** The cells of the space: of a grid its own, of a plane those it was given. */
  readonly raster: Raster;
  readonly discs: Discs;
  /** Of a map on which lines run. */
  readonly journeys?: Journeys;
}

/** The spaces of a run with their sizes for these parameters; refuses sizes that are not above zero or do not fit into memory. */
export function startGrounds(plan: Plan, value: (body: AskedBody) => number): SpaceOfRun[] {
  const grounds = plan.spaces.map((part, s): SpaceOfRun => {
    const space = startSpace(part, value);
    const journeys = startJourneys(plan, s, space, value);
    return { space, raster: spaceRaster(part, space, value), discs: new Discs(space), journeys };
  });
  for (const field of plan.fields) {
    const cell = field.cell ? value(field.cell) : 1;
    const { span } = plan.sites[field.site]!;
    if (!(cell > 0))
      failSize(span, `The cells of “${field.name}” would be ${cell} wide.`, 'Their size must be above zero.');
    const { space } = grounds[field.space]!;
    const { columns, rows } = formOf(space).rasterOf(space, cell);
    if (columns * rows > MAX_FIELD_CELLS) {
      failSize(
        span,
        `The field “${field.name}” would have ${columns} by ${rows} cells; at most ${MAX_FIELD_CELLS.toLocaleString('en-GB')} fit.`,
        'Make the cells larger or the space smaller.',
      );
    }
  }
  return grounds;
}

function startSpace(
  { form, edge, neighbours, oneAgentACell, cellLength, name, lanes, ...size }: SpacePlan,
  value: (body: AskedBody) => number,
): Space {
  const width = value(size.width);
  const height = value(size.height);
  if (!(width > 0) || !(height > 0) || !Number.isFinite(width * height))
    failSize(
      NOWHERE,
      `The space “${name}” would be ${width} by ${height}.`,
      'Both sides must be above zero, and whole on a grid.',
    );
  const space: Space = {
    form,
    edge,
    neighbours,
    oneAgentACell,
    cellLength,
    width,
    height,
    lanes: lanes && lanesOf(lanes),
  };
  const problem = formOf(space).sizeProblem(name, space);
  if (problem) failSize(NOWHERE, problem.message, problem.hint);
  return space;
}

function startJourneys(
  { lines, clock }: Plan,
  s: number,
  { lanes }: Space,
  value: (body: AskedBody) => number,
): Journeys | undefined {
  if (!lanes || !lines.some((line) => line.space === s)) return undefined;
  return new Journeys(
    lanes,
    lines.map(({ space, stops, ways, trip }) => {
      const said = trip ? trip.x.map((x, i) => [x, trip.y[i]!]) : stops.map(([x, y]) => [value(x), value(y)]);
      const places = (space === s ? said : []).map(([x, y]) => {
        const at = lanes.index.snap(x!, y!);
        return { x: at.x, y: at.y };
      });
      return {
        x: Float64Array.from(places, ({ x }) => x),
        y: Float64Array.from(places, ({ y }) => y),
        ways,
        trip: trip && {
          arrives: Float64Array.from(trip.arrives),
          leaves: Float64Array.from(trip.leaves),
          trips: trip.trips,
        },
      };
    }),
    (86_400 / clock.unitSeconds) * (lines.find(({ trip }) => trip)?.trip?.days ?? 1),
    (clock.start?.seconds ?? 0) / clock.unitSeconds,
  );
}

function spaceRaster(part: SpacePlan, space: Space, value: (body: AskedBody) => number): Raster {
  const cell = part.cell ? value(part.cell) : Math.max(space.width, space.height);
  if (!(cell > 0))
    failSize(NOWHERE, `The cells of “${part.name}” would be ${cell} wide.`, 'Their size must be above zero.');
  const raster = formOf(space).rasterOf(space, cell);
  const { columns, rows } = raster;
  if (columns * rows > MAX_FIELD_CELLS)
    failSize(NOWHERE, `The space “${part.name}” would have ${columns} by ${rows} cells.`, 'Make them larger.');
  return raster;
}

/** The zones of a run as masks of cells, and what they come to for each space. */
export interface Zones {
  readonly masks: readonly Mask[];
  /** Of each space the cells on which nobody may go, and the others; absent where it has no obstacles. */
  readonly blocked: readonly (Mask | undefined)[];
  readonly free: readonly (Mask | undefined)[];
}

export const NO_ZONES: Zones = { masks: [], blocked: [], free: [] };

export function startZones(plan: Plan, grounds: readonly SpaceOfRun[], value: (body: AskedBody) => number): Zones {
  const point = ([x, y]: PointPlan): readonly [number, number] => [value(x), value(y)];
  const rasters = plan.spaces.map(({ cell }, s) => zoneRaster(grounds[s]!.space, cell && value(cell)));
  const masks = plan.zones.map((zone) => {
    const shapes = zone.shapes.map((shape): ZoneShape => {
      switch (shape.is) {
        case 'box':
          return { is: 'box', from: point(shape.from), to: point(shape.to) };
        case 'circle':
          return { is: 'circle', radius: value(shape.radius), around: point(shape.around) };
        case 'raster':
        case 'area':
          return shape;
        default: {
          const places = shape.places.map(point);
          const cells = places
            .slice(1)
            .reduce(
              (sum, [x, y], i) =>
                sum + (Math.abs(x - places[i]![0]) + Math.abs(y - places[i]![1])) / rasters[zone.space]!.cell,
              0,
            );
          if (shape.is === 'line' && !(cells <= MOST_LINE_CELLS))
            failSize(
              plan.sites[zone.site]!.span,
              `A line of “${zone.name}” would go through ${cells.toPrecision(3)} cells.`,
              'Its places lie far outside the space; write them in the unit of the space.',
            );
          return { is: shape.is, places };
        }
      }
    });
    return maskOf(shapes, rasters[zone.space]!, grounds[zone.space]!.space);
  });
  return zonesOf(plan, masks);
}

/** Zones of given masks, with what their obstacles leave free. */
export function zonesOf(plan: Plan, masks: readonly Mask[]): Zones {
  const union = (inverted: boolean): (Mask | undefined)[] =>
    plan.spaces.map((_, s) => {
      const obstacles = masks.filter((_mask, i) => plan.zones[i]!.obstacle && plan.zones[i]!.space === s);
      return obstacles[0] && unionOf(obstacles, obstacles[0].raster, inverted);
    });
  return { masks, blocked: union(false), free: union(true) };
}

/** The value that a raster from a file gives a cell of a field, whose cells may be of another size. */
export function rasterValue(given: RasterPlan, grid: Raster, cell: number): number {
  const column = Math.min(
    given.columns - 1,
    Math.floor(((cell % grid.columns) + 0.5) * (given.columns / grid.columns)),
  );
  const row = Math.min(given.rows - 1, Math.floor((Math.floor(cell / grid.columns) + 0.5) * (given.rows / grid.rows)));
  return given.values[row * given.columns + column]!;
}
