import type { AttributeSymbol, FieldSymbol } from '../language/checked.ts';
import type * as Ast from '../language/syntax.ts';
import type { Expr, Query, WriteHow } from '../plan/plan.ts';
import { binary, local, num } from './code.ts';
import type { Draft, Point } from './draft.ts';
import { setMachine } from './machine.ts';
import { writePlace } from './movement.ts';
import { cellPlace, heldPlace, hop, lowerAgent, lowerPlace, placeHere, rasterOf } from './place.ts';

// Lists, tallies, messages, ties

export function lowerAdd(draft: Draft, statement: Ast.StatementOf<'add'>): void {
  const site = draft.site(statement.span, 'a value');
  hop(draft, statement.target);
  const ref = draft.shared.model.refs.get(statement.target);
  if (ref?.is === 'tally') {
    draft.emit({ op: 'add to tally', tally: ref.tally.index, value: draft.lower(statement.value), site });
    return;
  }
  if (ref?.is !== 'attribute' || ref.attribute.type.is !== 'list')
    throw new RangeError('Only lists and tallies are added to');
  const { of } = ref.attribute.type;
  const agent = draft.agent(ref.agent);
  const target = {
    op: 'add to list' as const,
    kind: ref.kind.index,
    column: draft.columnOf(ref.attribute),
    size: ref.attribute.line.list!.size,
    agent,
    ofAgents: of === 'agents',
    site,
  };
  if (of === 'agents') {
    const slot = lowerAgent(draft, statement.value);
    const number: Expr = { op: 'number or 0', kind: kindIndex(draft, ref.attribute), local: slot };
    draft.emit({
      op: 'if',
      condition: { op: 'somebody', local: slot },
      then: [{ ...target, values: [number] }],
      else: [],
    });
  } else if (of === 'places') {
    const { x, y } = heldPlace(draft, lowerPlace(draft, statement.value));
    draft.emit({ ...target, values: [x, y] });
  } else draft.emit({ ...target, values: [draft.hold(draft.lower(statement.value))] });
}

function kindIndex(draft: Draft, attribute: AttributeSymbol): number {
  const { type } = attribute;
  const name = type.is === 'agent' || type.is === 'list' ? type.kind : '';
  return draft.shared.model.kinds.findIndex((kind) => kind.name === name);
}

/** The value that a column of a type holds: for agents their number. */
export function columnValue(draft: Draft, attribute: AttributeSymbol, value: Ast.Expr): Expr {
  return attribute.type.is === 'agent'
    ? { op: 'number or 0', kind: kindIndex(draft, attribute), local: lowerAgent(draft, value) }
    : draft.lower(value);
}

export function lowerAssign(draft: Draft, { target, op, value, span }: Ast.StatementOf<'assign'>): void {
  hop(draft, target);
  const ref = draft.shared.model.refs.get(target);
  const site = draft.site(span, 'a value');
  if (ref?.is === 'machine') {
    setMachine(draft, ref.kind, ref.machine, ref.agent, value);
    return;
  }
  if (ref?.is === 'attribute' && ref.attribute.type.is === 'place') {
    writePlace(
      draft,
      ref.kind,
      ref.attribute,
      draft.agent(ref.agent),
      heldPlace(draft, lowerPlace(draft, value)),
      site,
    );
    return;
  }
  if (ref?.is === 'attribute' && ref.attribute.type.is === 'agent') {
    draft.emit({
      op: 'write',
      kind: ref.kind.index,
      column: draft.columnOf(ref.attribute),
      agent: draft.agent(ref.agent),
      how: '=',
      value: columnValue(draft, ref.attribute, value),
      site,
    });
    return;
  }
  const lowered = draft.lower(value);
  const how: WriteHow = op === '=' ? '=' : op === '+=' || op === '-=' ? '+=' : '*=';
  const amount: Expr =
    op === '-='
      ? lowered.op === 'number'
        ? num(-lowered.value)
        : { op: 'minus', value: lowered }
      : op === '/='
        ? { op: 'finite', value: binary('/', num(1), lowered), site }
        : lowered;
  if (ref?.is === 'attribute') {
    draft.emit({
      op: 'write',
      kind: ref.kind.index,
      column: draft.columnOf(ref.attribute),
      agent: draft.agent(ref.agent),
      how,
      value: amount,
      site,
    });
  } else if (ref?.is === 'tie attribute') {
    draft.emit({
      op: 'write tie',
      network: ref.network.index,
      column: ref.attribute.index,
      tie: draft.slotOf(ref.tie),
      how,
      value: amount,
      site,
    });
  } else if (ref?.is === 'local') {
    const slot = draft.slotOf(ref.local);
    draft.emit({
      op: 'set',
      local: slot,
      value: how === '=' ? amount : binary(how === '+=' ? '+' : '*', local(slot), amount),
    });
  } else if (ref?.is === 'field') {
    const { field } = ref;
    const write = (place: Point, value: Expr): void => {
      const written = { value, how, site };
      draft.emit({
        op: 'write field',
        field: field.index,
        ...place,
        ...(draft.shared.keptByCell.has(field) && !draft.standing.atOnce
          ? { ...written, how: '=', value: keptThere(draft, field, place, written) }
          : written),
      });
    };
    if (target.is === 'at') write(lowerPlace(draft, target.place), amount);
    else if (draft.asker) write(placeHere(draft), amount);
    else {
      const held = draft.hold(amount);
      inAllCells(draft, field, (place) => write(place, held));
    }
  } else if (ref?.is === 'variable') {
    draft.emit({ op: 'write variable', index: ref.variable.index, how, value: amount, site });
  } else if (ref?.is === 'parameter') {
    draft.emit({ op: 'write parameter', index: ref.parameter.index, value: amount, site });
  }
}

/** What the cell at a place keeps of what is written there, by bounds that look at that cell. All at once they wait for the end of the rule. */
function keptThere(
  draft: Draft,
  field: FieldSymbol,
  { x, y }: Point,
  { value, how, site }: { readonly value: Expr; readonly how: WriteHow; readonly site: number },
): Expr {
  const raster = rasterOf({ space: field.space!, field });
  const cell = draft.hold({ op: 'cell at', raster, x, y });
  const held: Expr = { op: 'field', field: field.index, x, y };
  const next = how === '=' ? value : binary(how === '+=' ? '+' : '*', held, value);
  const { from, to } = field.part.keep!;
  let bounds: Expr[] = [];
  draft.asNobody(() => (bounds = [from, to].map((bound) => draft.lower(bound))), {
    x: { op: 'cell x', raster, cell },
    y: { op: 'cell y', raster, cell },
  });
  return { op: 'call', fn: 'clip', args: [{ op: 'finite', value: next, site }, ...bounds] };
}

/** Runs `write` for each cell of a field. */
function inAllCells(draft: Draft, field: FieldSymbol, write: (place: Point) => void): void {
  const candidate = draft.newLocal();
  const space = field.space!;
  const raster = rasterOf({ space, field });
  const query: Query = {
    over: { is: 'cells', raster, empty: false },
    kind: -1,
    reach: { is: 'all' },
    candidate,
  };
  const body = draft.collect(() => write(cellPlace({ slot: candidate, raster })));
  draft.emit({ op: 'each', query, shuffled: false, recheck: false, body });
}

export function isBare(target: Ast.Expr): boolean {
  return target.is === 'path' && target.names.length === 1;
}
