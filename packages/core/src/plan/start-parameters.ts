import type { Plan } from './plan.ts';

/** Collects the indices of the parameters that any expression inside a part of a plan reads. */
function readIn(part: unknown, found: Set<number>): Set<number> {
  if (typeof part !== 'object' || part === null) return found;
  if (Array.isArray(part)) {
    // Rasters and tables: nothing but numbers.
    if (typeof part[0] !== 'number') for (const piece of part) readIn(piece, found);
    return found;
  }
  const { op, index } = part as { op?: unknown; index?: unknown };
  if (op === 'parameter' && typeof index === 'number') found.add(index);
  for (const piece of Object.values(part)) readIn(piece, found);
  return found;
}

/** The parameters that are read while a run is set up and never later: changing one in a run changes nothing until it begins again. */
export function startOnlyParameters(plan: Plan): ReadonlySet<number> {
  const {
    spaces,
    variables,
    zones,
    fields,
    kinds,
    networks,
    clock,
    measures,
    reactions,
    records,
    charts,
    rules,
    timeline,
    finals,
  } = plan;
  const start = readIn(
    [
      clock.endAfter,
      spaces,
      variables,
      zones,
      fields.map((field) => [field.cell, field.start]),
      kinds.map((kind) => kind.starts),
      networks.map((network) => network.maker),
    ],
    new Set(),
  );
  const later = readIn(
    [
      clock.endWhen,
      fields.map(({ becomes, grow, spread, fade, bounds, kept }) => [becomes, grow, spread, fade, bounds, kept]),
      kinds.map(({ columns, machines, show }) => [columns, machines, show]),
      networks.map((network) => network.firsts),
      measures,
      reactions,
      records,
      charts.map(({ distribution }) => distribution?.value),
      rules,
      timeline,
      finals,
    ],
    new Set(),
  );
  return new Set([...start].filter((parameter) => !later.has(parameter)));
}
