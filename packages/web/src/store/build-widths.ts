/** The parts of Build whose widths can be changed, in pixels; what is left is the text's. */
export type BuildColumn = 'outline' | 'aside';

export interface ColumnWidth {
  readonly label: string;
  readonly least: number;
  readonly most: number;
  readonly usual: (room: number) => number;
}

export const WIDTHS: Readonly<Record<BuildColumn, ColumnWidth>> = {
  outline: { label: 'Width of the outline', least: 120, most: 420, usual: (room) => (room < 1150 ? 168 : 196) },
  aside: {
    label: 'Width of what stands beside the text',
    least: 300,
    most: 1100,
    usual: (room) => Math.max(340, Math.min(640, 0.37 * room)),
  },
};

/** Room that the text keeps, however the columns are dragged. */
const LEAST_TEXT = 320;

export type BuildWidths = Readonly<Partial<Record<BuildColumn, number>>>;

/** A width that a column can have in a window: within its bounds, with room left for the text. */
export function keptWidth(column: BuildColumn, wanted: number, room: number): number {
  const { least, most } = WIDTHS[column];
  const other = column === 'outline' ? WIDTHS.aside.least : WIDTHS.outline.least;
  return Math.round(Math.max(least, Math.min(wanted, most, room - LEAST_TEXT - other)));
}

/** The widths in a window: those that were chosen, as far as the window has room for them. */
export function widthsIn(room: number, chosen: BuildWidths): Readonly<Record<BuildColumn, number>> {
  const outline = keptWidth('outline', chosen.outline ?? WIDTHS.outline.usual(room), room);
  const aside = Math.max(
    WIDTHS.aside.least,
    Math.min(keptWidth('aside', chosen.aside ?? WIDTHS.aside.usual(room), room), room - LEAST_TEXT - outline),
  );
  return { outline, aside };
}

/** Reads what was stored; what is no width is left out. */
export function readWidths(stored: string | null): BuildWidths {
  try {
    const found = JSON.parse(stored ?? '{}') as Record<string, unknown> | null;
    return Object.fromEntries(
      Object.keys(WIDTHS).flatMap((column) => (Number.isFinite(found?.[column]) ? [[column, found![column]]] : [])),
    );
  } catch {
    return {};
  }
}
