import type { AttributeSymbol } from '../language/checked.ts';
import type { ColumnPlan } from '../plan/plan.ts';

export function columnsOf(attribute: AttributeSymbol): ColumnPlan[] {
  const { type, unit, name, line } = attribute;
  const column: ColumnPlan = {
    name,
    type:
      type.is === 'yesno' ? 'yes or no' : type.is === 'choice' ? 'choice' : type.is === 'agent' ? 'agent' : 'number',
    options: type.is === 'choice' ? type.options : undefined,
    of: type.is === 'agent' || type.is === 'list' ? type.kind : undefined,
    unitLabel: unit.label,
    unitFactor: unit.factor,
  };
  if (type.is === 'place')
    return [
      { ...column, name: `${name}.x` },
      { ...column, name: `${name}.y` },
    ];
  if (!line.list) return [column];
  const { of, size } = line.list;
  const items = Array.from({ length: size }, (_, i): ColumnPlan[] => {
    const item = {
      ...column,
      name: `${name} ${i + 1}`,
      type: of === 'agents' ? ('agent' as const) : ('number' as const),
    };
    return of === 'places'
      ? [
          { ...item, name: `${item.name}.x` },
          { ...item, name: `${item.name}.y` },
        ]
      : [item];
  });
  return [column, ...items.flat()];
}
