import { keyOfName } from '../engine/random/stream.ts';
import type { KindSymbol } from '../language/checked.ts';
import type * as Ast from '../language/syntax.ts';
import { rasterOfSpace } from '../plan/plan.ts';
import type { AskedBody, Expr, StartPlan, ValueBody } from '../plan/plan.ts';
import { lowerPlacing, makeAgent } from './creation.ts';
import type { Given } from './creation.ts';
import type { Draft, Point } from './draft.ts';
import { countedPlace } from './lengths.ts';
import type { ModelDraft } from './model-draft.ts';
import { lowerPlace } from './place.ts';
import { lowerValueBody } from './statement.ts';

export function startPlan(whole: ModelDraft, kind: KindSymbol, start: Ast.StartLine, index: number): StartPlan {
  const name = `start of ${kind.name}`;
  const draft = whole.draft(name, { given: 1 });
  const site = draft.site(start.span, `the start of ${kind.name}`);
  const row: Expr = { op: 'local', local: 0 };
  const raster = rasterOfSpace(kind.space?.index ?? 0);
  const given = new Map<object, Given>();
  let count: AskedBody | undefined;
  let place: Point | undefined;
  let facing = start.facing && ((at: Point): Expr => facingValue(whole, draft, kind, start.facing!, at));
  let where: Ast.Expr | undefined;
  let hasCells = false;
  const statements = draft.collect(() => {
    if (start.count.is === 'table') {
      const table = whole.model.tables.get(start)!;
      const index = whole.tables.push([...table.columns.values()]) - 1;
      const keys = [...table.columns.keys()];
      const cell = (key: string): Expr => ({ op: 'table', table: index, column: keys.indexOf(key), row });
      count = whole.askNumber(table.rows);
      if (keys.includes('x') && keys.includes('y')) place = countedPlace(kind.space!, { x: cell('x'), y: cell('y') });
      if (keys.includes('direction')) facing = () => cell('direction');
      for (const attribute of kind.attributes)
        if (keys.includes(attribute.key)) given.set(attribute, { value: cell(attribute.key) });
      for (const machine of kind.machines)
        if (keys.includes(machine.key)) given.set(machine, { state: draft.hold(cell(machine.key)) });
    } else if (start.count.is === 'every cell') {
      hasCells = true;
      where = start.count.where;
      const listed: Expr = { op: 'listed cell', index: row };
      place = { x: { op: 'cell x', raster, cell: listed }, y: { op: 'cell y', raster, cell: listed } };
    } else count = whole.asked(start.count, name);
    if (start.placing?.is === 'cells') {
      hasCells = true;
      where = start.placing.where;
    }
    place ??= start.placing && lowerPlacing(draft, start.placing);
    makeAgent(draft, kind, kind.self, place, facing, given, { op: 'number', value: 0 }, site, () => undefined);
  });
  return {
    count,
    one: { statements, locals: draft.localCount },
    key: keyOfName(`start ${kind.name} ${index}`),
    site,
    cells: hasCells
      ? {
          raster,
          where: where && cellTest(whole, start.placing?.is === 'cells' ? start.placing : start, where, raster, name),
        }
      : undefined,
  };
}

/** Makes the agents that are there already, with the first values of this text. */
export function bornPlan(whole: ModelDraft, kind: KindSymbol): StartPlan {
  const name = `carried ${kind.name}`;
  const { x, y, direction, states } = whole.births.get(kind.name)!;
  const draft = whole.draft(name, { given: 1 });
  const site = draft.site(kind.span, `a ${kind.name} that was there already`);
  const table = whole.tables.push([x, y, direction, ...states.values()]) - 1;
  const cell = (column: number): Expr => ({ op: 'table', table, column, row: { op: 'local', local: 0 } });
  const machines = [...states.keys()];
  const statements = draft.collect(() => {
    const given = new Map<object, Given>();
    for (const machine of kind.machines)
      if (states.has(machine.name)) given.set(machine, { state: draft.hold(cell(3 + machines.indexOf(machine.name))) });
    makeAgent(
      draft,
      kind,
      kind.self,
      kind.space && { x: cell(0), y: cell(1) },
      () => cell(2),
      given,
      { op: 'number', value: 0 },
      site,
      () => undefined,
    );
  });
  return {
    count: whole.askNumber(x.length),
    one: {
      statements: statements.map((s) => (s.op === 'create' ? { ...s, always: true } : s)),
      locals: draft.localCount,
    },
    key: keyOfName(name),
    site,
  };
}

/** A condition on cells of the space, the cell in local 0. */
function cellTest(whole: ModelDraft, owner: object, where: Ast.Expr, raster: number, name: string): ValueBody {
  const cell: Expr = { op: 'local', local: 0 };
  const draft = whole.draft(name, {
    given: 1,
    here: { x: { op: 'cell x', raster, cell }, y: { op: 'cell y', raster, cell } },
  });
  draft.cells.set(whole.model.locals.get(owner)!, { slot: 0, raster });
  return lowerValueBody(draft, where);
}

function facingValue(whole: ModelDraft, draft: Draft, kind: KindSymbol, facing: Ast.Expr, at: Point): Expr {
  if (whole.model.types.get(facing)?.is === 'number') return draft.lower(facing);
  const place = lowerPlace(draft, facing);
  return { op: 'bearing', space: kind.space!.index, ax: at.x, ay: at.y, bx: place.x, by: place.y };
}
