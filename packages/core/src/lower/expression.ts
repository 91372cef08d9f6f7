import { daysFromCivil } from '../calendar/civil.ts';
import { formOf } from '../forms/forms.ts';
import type { FieldSymbol, LocalSymbol, Ref, SpaceSymbol } from '../language/checked.ts';
import { FUNCTIONS } from '../language/functions.ts';
import { constantOf, unitScale } from '../language/scales.ts';
import type * as Ast from '../language/syntax.ts';
import { PURE_FUNCTIONS, isPureFunction } from '../plan/functions.ts';
import type { Law } from '../plan/functions.ts';
import { rasterOfSpace } from '../plan/plan.ts';
import type { Expr, Statement } from '../plan/plan.ts';
import { binary, larger, local, NOW, num, times } from './code.ts';
import type { Draft } from './draft.ts';
import { asLength, measuredAxis } from './lengths.ts';
import {
  cellPlace,
  hop,
  inDerived,
  inFormula,
  lowerAgent,
  lowerPlace,
  lowerTie,
  placeHere,
  placeOfAgent,
} from './place.ts';
import { journeyValue } from './journey-columns.ts';
import { lowerSeats } from './seats.ts';
import { lowerWay } from './way.ts';
import { counted, lowerAsk, lowerGather, lowerQuery } from './query.ts';
import { emitShares } from './shares.ts';
import { shownFactor } from './shown-factor.ts';

/** A rate per time as an amount per step, anything else as it stands. */
export function perStep(draft: Draft, expr: Ast.Expr): Expr {
  const value = draft.lower(expr);
  const type = draft.shared.model.types.get(expr);
  return type?.is === 'number' && type.dim?.['time'] === -1
    ? binary('*', value, num(draft.shared.model.clock.stepLength))
    : value;
}

export function lowerValue(draft: Draft, expr: Ast.Expr): Expr {
  draft.shared.progress.at = expr.span;
  switch (expr.is) {
    case 'number': {
      const scale = expr.unit && unitScale(expr.unit.key, draft.shared.model.scales);
      return num(expr.value * (scale?.factor ?? 1));
    }
    case 'percent':
      return num(expr.value);
    case 'time': {
      const type = draft.shared.model.types.get(expr);
      const isOfDay = type?.is === 'number' && !type.dim?.['time'];
      if (isOfDay) return num(expr.hours);
      // How long after the start that time of its day is.
      const { clock, scales } = draft.shared.model;
      return num((expr.hours * 3600 - (clock.start?.seconds ?? 0)) / (scales.time?.size ?? 1));
    }
    case 'date':
      return num(daysFromCivil(...(expr.text.split('-').map(Number) as [number, number, number])));
    case 'yesno':
      return num(expr.value ? 1 : 0);
    case 'brackets':
      return draft.lower(expr.value);
    case 'with unit': {
      const factor = unitScale(expr.unit.key, draft.shared.model.scales)?.factor ?? 1;
      return factor === 1 ? draft.lower(expr.value) : binary('*', draft.lower(expr.value), num(factor));
    }
    case 'per': {
      const factor = (unitScale(expr.unit.key, draft.shared.model.scales)?.factor ?? 1) * expr.count;
      const value = draft.lower(expr.value);
      if (value.op === 'number') return num(value.value / factor);
      return factor === 1 ? value : binary('/', value, num(factor));
    }
    case 'unary': {
      const value = draft.lower(expr.value);
      if (value.op === 'number' && expr.op === '-') return num(-value.value);
      return { op: expr.op === '-' ? 'minus' : 'not', value };
    }
    case 'binary':
      return lowerBinary(draft, expr);
    case 'one of':
      return lowerOneOf(draft, expr);
    case 'if':
      return lowerConditional(draft, expr);
    case 'path':
      return lowerPath(draft, expr);
    case 'call':
      return lowerCall(draft, expr);
    case 'at':
      return fieldAt(draft, expr);
    case 'ask':
      return lowerAsk(draft, expr);
    case 'gather':
      return lowerGather(draft, expr);
    case 'flow':
      return lowerFlow(draft, expr);
    case 'in zone': {
      const { x, y } = lowerPlace(draft, expr.place);
      const inside: Expr = { op: 'in zone', zone: draft.shared.model.zoneOf.get(expr)!.index, x, y };
      return expr.not ? { op: 'not', value: inside } : inside;
    }
    case 'time in': {
      hop(draft, expr.path);
      const ref = draft.shared.model.refs.get(expr.path);
      if (ref?.is !== 'machine') throw new RangeError('No machine to time');
      const since: Expr = {
        op: 'due',
        kind: ref.kind.index,
        column: draft.shared.dueColumns.get(ref.machine)!,
        agent: draft.agent(ref.agent),
      };
      return larger(num(0), binary('-', NOW, since));
    }
    case 'network':
      return { op: 'network measure', which: expr.which, network: draft.shared.model.networkOf.get(expr)!.index };
    case 'way to':
      return lowerWay(draft, expr);
    case 'seats':
      return lowerSeats(draft, expr);
    case 'pick':
      return pickedNumber(draft, expr);
    case 'day of year':
      return { op: 'clock', which: 'day of year' };
    default:
      throw new RangeError(`An expression of the form “${expr.is}” cannot stand here`);
  }
}

function lowerBinary(draft: Draft, expr: Ast.ExprOf<'binary'>): Expr {
  if (expr.op === 'and' || expr.op === 'or') return lowerLogical(draft, expr.op, expr.left, expr.right);
  if (expr.op === 'is' || expr.op === 'is not') {
    const same = sameness(draft, expr.left, expr.right);
    return expr.op === 'is'
      ? same
      : same.op === 'binary' && same.fn === 'is'
        ? { ...same, fn: 'is not' }
        : { op: 'not', value: same };
  }
  const left = draft.lower(expr.left);
  const right = draft.lower(expr.right);
  if (expr.op === '^') return draft.finite({ op: 'call', fn: 'power', args: [left, right] }, expr.span, 'a power');
  const value = binary(expr.op, left, right);
  const divides = expr.op === '/' && !(right.op === 'number' && right.value !== 0);
  return divides ? draft.finite(value, expr.span, 'a division') : value;
}

function sameness(draft: Draft, leftExpr: Ast.Expr, rightExpr: Ast.Expr): Expr {
  const { types, refs } = draft.shared.model;
  const left = types.get(leftExpr);
  const right = types.get(rightExpr);
  const isNobody = left?.is === 'nobody' || right?.is === 'nobody';
  if (isNobody) {
    const other = left?.is === 'nobody' ? rightExpr : leftExpr;
    const type = types.get(other);
    if (type?.is === 'nobody') return num(1);
    return {
      op: 'not',
      value: { op: 'somebody', local: type?.is === 'tie' ? lowerTie(draft, other) : lowerAgent(draft, other) },
    };
  }
  if (left?.is === 'agent')
    return {
      op: 'same agent',
      a: draft.agentIn(lowerAgent(draft, leftExpr)),
      b: draft.agentIn(lowerAgent(draft, rightExpr)),
    };
  if (left?.is === 'tie') return binary('is', local(lowerTie(draft, leftExpr)), local(lowerTie(draft, rightExpr)));
  if (left?.is === 'place') {
    const a = lowerPlace(draft, leftExpr);
    if (rightExpr.is === 'nowhere') return { op: 'is nowhere', x: a.x };
    const b = lowerPlace(draft, rightExpr);
    return binary('and', binary('is', a.x, b.x), binary('is', a.y, b.y));
  }
  const ref = refs.get(rightExpr);
  if (ref?.is === 'group') return isOneOf(draft.hold(draft.lower(leftExpr)), ref.group.members.map(num));
  return binary('is', draft.lower(leftExpr), draft.lower(rightExpr));
}

export function isOneOf(value: Expr, options: readonly Expr[]): Expr {
  return options.map((option) => binary('is', value, option)).reduce((a, b) => binary('or', a, b));
}

/** The right side runs only if the left side leaves it open, so that it draws nothing and loops over nothing in vain. */
function lowerLogical(draft: Draft, op: 'and' | 'or', leftExpr: Ast.Expr, rightExpr: Ast.Expr): Expr {
  const left = draft.lower(leftExpr);
  const right = draft.code(rightExpr);
  if (right.statements.length === 0) return binary(op, left, right.value);
  const slot = draft.newLocal();
  draft.emit({ op: 'set', local: slot, value: left });
  const body: Statement[] = [...right.statements, { op: 'set', local: slot, value: right.value }];
  const goesOn = op === 'and' ? local(slot) : { op: 'not' as const, value: local(slot) };
  draft.emit({ op: 'if', condition: goesOn, then: body, else: [] });
  return local(slot);
}

function lowerOneOf(draft: Draft, expr: Ast.ExprOf<'one of'>): Expr {
  const query = expr.query ?? draft.shared.model.listQueries.get(expr);
  const any = query ? amongQuery(draft, expr, query) : amongOptions(draft, expr);
  return expr.not ? { op: 'not', value: any } : any;
}

function amongOptions(draft: Draft, expr: Ast.ExprOf<'one of'>): Expr {
  const { types, refs } = draft.shared.model;
  const type = types.get(expr.left);
  if (type?.is === 'agent' || type?.is === 'place')
    return expr.options.map((option) => sameness(draft, expr.left, option)).reduce((a, b) => binary('or', a, b));
  const left = draft.hold(draft.lower(expr.left));
  const options = expr.options.flatMap((option) => {
    const ref = refs.get(option);
    return ref?.is === 'group' ? ref.group.members.map(num) : [draft.lower(option)];
  });
  return isOneOf(left, options);
}

function amongQuery(draft: Draft, expr: Ast.ExprOf<'one of'>, query: Ast.Query): Expr {
  const candidate = draft.shared.model.locals.get(query)!;
  if (candidate.type.is !== 'agent') {
    const left = draft.hold(draft.lower(expr.left));
    const found = lowerQuery(draft, query);
    const item = draft.items.get(candidate) ?? local(found.candidate);
    return counted(draft, 'any', {
      ...found,
      where: {
        statements: found.where?.statements ?? [],
        value: found.where ? binary('and', found.where.value, binary('is', item, left)) : binary('is', item, left),
      },
    });
  }
  const wanted = draft.agentIn(lowerAgent(draft, expr.left));
  const found = lowerQuery(draft, query);
  const same: Expr = { op: 'same agent', a: { local: found.candidate, own: false }, b: wanted };
  // The asker may be one of them too.
  return counted(draft, 'any', {
    ...found,
    except: undefined,
    where: {
      statements: found.where?.statements ?? [],
      value: found.where ? binary('and', found.where.value, same) : same,
    },
  });
}

function lowerConditional(draft: Draft, expr: Ast.ExprOf<'if'>): Expr {
  const condition = draft.lower(expr.condition);
  const then = draft.code(expr.then);
  const otherwise = draft.code(expr.else);
  if (then.statements.length + otherwise.statements.length === 0)
    return { op: 'choose', condition, then: then.value, else: otherwise.value };
  const slot = draft.newLocal();
  draft.emit({
    op: 'if',
    condition,
    then: [...then.statements, { op: 'set', local: slot, value: then.value }],
    else: [...otherwise.statements, { op: 'set', local: slot, value: otherwise.value }],
  });
  return local(slot);
}

function lowerPath(draft: Draft, expr: Ast.ExprOf<'path'>): Expr {
  hop(draft, expr);
  const ref = draft.shared.model.refs.get(expr);
  if (!ref) throw new RangeError(`“${expr.names.map((n) => n.text).join('.')}” was not resolved`);
  return lowerRef(draft, ref);
}

function lowerRef(draft: Draft, ref: Ref): Expr {
  switch (ref.is) {
    case 'parameter':
      return { op: 'parameter', index: ref.parameter.index };
    case 'variable':
      return { op: 'variable', index: ref.variable.index };
    case 'attribute':
      return {
        op: 'attribute',
        kind: ref.kind.index,
        column: draft.columnOf(ref.attribute),
        agent: draft.agent(ref.agent),
      };
    case 'tie attribute':
      return { op: 'tie value', network: ref.network.index, column: ref.attribute.index, tie: draft.slotOf(ref.tie) };
    case 'message attribute':
      return { op: 'message value', column: ref.attribute.index };
    case 'coordinate':
      return measuredAxis(spaceOfPlace(draft, ref.of), ref.axis === 'y' ? 'y' : 'x', lowerPlace(draft, ref.of));
    case 'derive':
    case 'model derive':
      return inDerived(draft, ref, (value) => draft.lower(value));
    case 'machine':
      return { op: 'state', kind: ref.kind.index, machine: ref.machine.index, agent: draft.agent(ref.agent) };
    case 'waiting':
      return binary('is', journeyValue(draft, ref.kind, 'waits', draft.agent(ref.agent)), num(1));
    case 'builtin': {
      const kind = draft.kindOfLocal(ref.agent);
      const agent = draft.agent(ref.agent);
      if (ref.which === 'number') return { op: 'number of', kind: kind.index, agent };
      if (ref.which === 'place') throw new RangeError('A place is no number');
      if (ref.which === 'direction') return { op: 'position', kind: kind.index, axis: 'direction', agent };
      return measuredAxis(kind.space, ref.which, placeOfAgent(kind, agent));
    }
    case 'field': {
      if (ref.at) return fieldOfCell(draft, ref.field, ref.at);
      if (draft.standing.ownField === ref.field.index) return { op: 'cell', field: ref.field.index };
      const { x, y } = placeHere(draft);
      return { op: 'field', field: ref.field.index, x, y };
    }
    case 'local':
      return draft.items.get(ref.local) ?? local(draft.slotOf(ref.local));
    case 'clock':
      return { op: 'clock', which: ref.which === 'step' ? 'step length' : ref.which };
    case 'measure':
      return times({ op: 'measure', index: ref.measure.index }, shownFactor(draft.shared.model, ref.measure));
    case 'option':
      return num(ref.option);
    default:
      throw new RangeError(`A ${ref.is} is no value`);
  }
}

/** The space that a place or an agent is on; undefined in a model without one. */
function spaceOfPlace({ shared: { model } }: Draft, of: Ast.Expr): SpaceSymbol | undefined {
  const type = model.types.get(of);
  if (type?.is === 'agent') return model.kinds.find(({ name }) => name === type.kind)?.space;
  const name = type?.is === 'place' ? type.space : undefined;
  return model.spaces.find((space) => space.name === name) ?? model.spaces[0];
}

function fieldAt(draft: Draft, expr: Ast.ExprOf<'at'>): Expr {
  const ref = draft.shared.model.refs.get(expr);
  if (ref?.is !== 'field') throw new RangeError(`No field at “${expr.field.text}”`);
  const placed = expr.place.is === 'path' ? draft.shared.model.refs.get(expr.place) : undefined;
  if (placed?.is === 'local' && draft.cells.has(placed.local)) return fieldOfCell(draft, ref.field, placed.local);
  const { x, y } = lowerPlace(draft, expr.place);
  return { op: 'field', field: ref.field.index, x, y };
}

/** A field at a cell that a query looks at, which need not be one of its own. */
function fieldOfCell(draft: Draft, field: FieldSymbol, at: LocalSymbol): Expr {
  const cell = draft.cells.get(at)!;
  const { index } = field;
  if (hasCells(draft, field, cell.raster)) return { op: 'field cell', field: index, cell: local(cell.slot) };
  const { x, y } = cellPlace(cell);
  return { op: 'field', field: index, x, y };
}

/** Whether the cells of a raster are those of a field: where a space is one of cells all are the same, elsewhere those of one size, as far as the text tells it. */
function hasCells({ shared: { model } }: Draft, { index, space, part }: FieldSymbol, raster: number): boolean {
  if (raster === index) return true;
  const others = model.fields[raster];
  const other = raster === rasterOfSpace(space!.index) ? space : others?.space === space ? others : undefined;
  if (!other) return false;
  if (formOf(space!).isOfCells) return true;
  const [one, two] = [part.cell, other.part.cell].map((size) => size && constantOf(size, model.scales)?.value);
  return one !== undefined && one === two;
}

function lowerFlow(draft: Draft, expr: Ast.ExprOf<'flow'>): Expr {
  const ref = draft.shared.model.refs.get(expr);
  if (ref?.is !== 'flow') throw new RangeError('No state to count');
  const first = draft.shared.counters.get(ref.machine)!;
  const counter = ref.group
    ? first + ref.machine.states.length + ref.machine.groups.indexOf(ref.group)
    : first + ref.state;
  return { op: 'flow', which: expr.which, counter };
}

/** A picked item of a list or tally of numbers; not a number, which stops the run where it is used, if there is none. */
function pickedNumber(draft: Draft, expr: Ast.ExprOf<'pick'>): Expr {
  const slot = draft.newLocal();
  const value = draft.newLocal();
  const candidate = draft.shared.model.locals.get(expr.query)!;
  const nothing: Statement[] = [{ op: 'set', local: value, value: num(NaN) }];
  draft.pick(
    expr,
    slot,
    () => {
      const inner = draft.slotOf(candidate);
      draft.emit({ op: 'set', local: inner, value: local(slot) });
      draft.emit({ op: 'set', local: value, value: draft.items.get(candidate) ?? local(slot) });
    },
    nothing,
  );
  return draft.finite(local(value), expr.span, 'what was picked');
}

// Calls

function lowerCall(draft: Draft, expr: Ast.ExprOf<'call'>): Expr {
  const key = expr.name.key;
  const formula = draft.shared.model.formulas.get(expr);
  if (formula) return inFormula(draft, expr, formula, (body) => draft.lower(body));
  if (key === 'pick') return pickCall(draft, expr);
  if (key === 'distance' || key === 'bearing') {
    const places = expr.args.map((arg) => lowerPlace(draft, arg.value));
    const [from, to] = places.length === 1 ? [placeHere(draft), places[0]!] : [places[0]!, places[1]!];
    const space = draft.shared.model.spaceOf.get(expr)!;
    const found: Expr = { op: key, space: space.index, ax: from.x, ay: from.y, bx: to.x, by: to.y };
    return key === 'distance' ? asLength(space, found) : found;
  }
  const known = FUNCTIONS.get(key)!;
  const args = argumentsOf(expr, known.names).map((arg) => draft.lower(arg));
  if (known.draws) return draft.draw(key as Law, args, expr.span);
  if (!isPureFunction(key)) throw new RangeError(`No function “${key}”`);
  if (key === 'min' || key === 'max') return args.reduce((a, b) => ({ op: 'call', fn: key, args: [a, b] }));
  const value: Expr = { op: 'call', fn: key, args };
  return PURE_FUNCTIONS[key].mayLeaveNumbers ? draft.finite(value, expr.span, `“${key}”`) : value;
}

function argumentsOf(expr: Ast.ExprOf<'call'>, names: readonly string[]): Ast.Expr[] {
  const slots: Ast.Expr[] = [];
  expr.args.forEach((arg, i) => (slots[arg.name ? names.indexOf(arg.name.key) : i] = arg.value));
  return slots;
}

function pickCall(draft: Draft, expr: Ast.ExprOf<'call'>): Expr {
  const luck = draft.draw('unit', [], expr.span);
  const slot = draft.newLocal();
  const n = expr.args.length;
  const shares = expr.args.map((arg, i) => (arg.share === undefined ? num((i + 1) / n) : arg.share));
  emitShares(draft, luck, shares, (i) => {
    draft.emit({ op: 'set', local: slot, value: draft.lower(expr.args[i]!.value) });
  });
  return local(slot);
}
