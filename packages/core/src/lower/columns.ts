import type { AttributeSymbol, SpaceSymbol } from '../language/checked.ts';
import type { ColumnPlan } from '../plan/plan.ts';

/** A place as two columns; on a grid that is measured in lengths they hold its column and row, and say so. */
function placeColumns(column: ColumnPlan, space: SpaceSymbol | undefined): ColumnPlan[] {
  const [across, up] = space?.cellLength === undefined ? ['x', 'y'] : ['column', 'row'];
  return [
    { ...column, name: `${column.name}.${across}` },
    { ...column, name: `${column.name}.${up}` },
  ];
}

/** The columns of an attribute; those of places and lists are several. */
export function columnsOf(attribute: AttributeSymbol, spaces: readonly SpaceSymbol[]): ColumnPlan[] {
  const { type, unit, name, line } = attribute;
  const space =
    type.is === 'place' || type.is === 'list'
      ? (spaces.find((other) => other.name === type.space) ?? spaces[0])
      : undefined;
  const column: ColumnPlan = {
    name,
    attribute: name,
    type:
      type.is === 'yesno' ? 'yes or no' : type.is === 'choice' ? 'choice' : type.is === 'agent' ? 'agent' : 'number',
    options: type.is === 'choice' ? type.options : undefined,
    of: type.is === 'agent' || type.is === 'list' ? type.kind : undefined,
    unitLabel: unit.label,
    unitFactor: unit.factor,
  };
  if (type.is === 'place') return placeColumns(column, space);
  if (!line.list) return [column];
  const { of, size } = line.list;
  const items = Array.from({ length: size }, (_, i): ColumnPlan[] => {
    const item = {
      ...column,
      name: `${name} ${i + 1}`,
      type: of === 'agents' ? ('agent' as const) : ('number' as const),
    };
    return of === 'places' ? placeColumns(item, space) : [item];
  });
  return [column, ...items.flat()];
}
