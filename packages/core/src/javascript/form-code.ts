import type { Edge, FormName } from '../forms/form.ts';

/** How the places of a form are written as code. `SP` and `RS` with the number of a space are its description and raster. */
export interface FormCode {
  /** Code that brings a coordinate in, as `bringIn` of the form does, with the edge known. */
  bringIn(v: string, size: string, edge: Edge): string;
  /** The coordinate of the place that lies a distance away in a direction. */
  along(axis: 'x' | 'y', x: string, y: string, distance: string, angle: string): string;
  /** Where an agent comes to that goes straight on. @param agent index of its columns, whose names begin with `columns` */
  ahead(axis: 'x' | 'y', x: string, y: string, distance: string, columns: string, agent: string): string;
  /** Middle of a cell. @param raster name of the raster it is a cell of @param width code for how wide the space is */
  centre(axis: 'x' | 'y', cell: string, raster: string, space: number, width: string): string;
  /** The cell, as it is counted who stands where, of a place inside the space. */
  cellOfPlace(x: string, y: string, space: number, width: string): string;
}

const ALONG: Pick<FormCode, 'along' | 'ahead'> = {
  along: (axis, x, y, distance, angle) =>
    axis === 'x' ? `(${x} + ${distance} * sinDegrees(${angle}))` : `(${y} + ${distance} * cosDegrees(${angle}))`,
  ahead: (axis, x, y, distance, columns, agent) =>
    axis === 'x' ? `${x} + ${distance} * ${columns}_sin[${agent}]` : `${y} + ${distance} * ${columns}_cos[${agent}]`,
};

const OF_CELLS: Pick<FormCode, 'bringIn' | 'centre' | 'cellOfPlace'> = {
  bringIn: (v, size, edge) => `gridCell(${v}, ${size}, "${edge}")`,
  centre: (axis, cell, _raster, _space, width) =>
    axis === 'x' ? `(${cell} % ${width})` : `Math.floor(${cell} / ${width})`,
  cellOfPlace: (x, y, _space, width) => `${y} * ${width} + ${x}`,
};

const BRING_IN: Readonly<Record<Edge, string>> = { wrapping: 'wrap', walled: 'stopAtWall', reflecting: 'reflect' };

const OF_A_PLANE: Pick<FormCode, 'bringIn' | 'centre' | 'cellOfPlace'> = {
  bringIn: (v, size, edge) => `${BRING_IN[edge]}(${v}, ${size})`,
  centre: (axis, cell, raster, space) => `${axis === 'x' ? 'cellX' : 'cellY'}(${cell}, ${raster}, SP${space})`,
  cellOfPlace: (x, y, space) => `cellAt(${x}, ${y}, RS${space}, SP${space})`,
};

export const FORM_CODE: Readonly<Record<FormName, FormCode>> = {
  plane: { ...ALONG, ...OF_A_PLANE },
  grid: { ...ALONG, ...OF_CELLS },
  map: { ...ALONG, ...OF_A_PLANE },
  hexagons: {
    ...OF_CELLS,
    along: (axis, x, y, distance, angle) => `hexAlong("${axis}", ${x}, ${y}, ${distance}, ${angle})`,
    ahead: (axis, x, y, distance, columns, agent) =>
      `hexAlong("${axis}", ${x}, ${y}, ${distance}, ${columns}_dir[${agent}])`,
  },
};
