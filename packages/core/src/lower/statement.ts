import { formOf } from '../forms/forms.ts';
import type { LocalSymbol } from '../language/checked.ts';
import { baseUnit } from '../language/scales.ts';
import type * as Ast from '../language/syntax.ts';
import type { Body, LoggedValue, ValueBody } from '../plan/plan.ts';
import { lowerAdd, lowerAssign } from './assignment.ts';
import { local, num } from './code.ts';
import { lowerCreate, lowerRemove } from './creation.ts';
import type { Draft } from './draft.ts';
import { measuredAxis } from './lengths.ts';
import { selfOf } from './machine.ts';
import { lowerSend } from './messages.ts';
import { lowerMove, lowerMoveToward, lowerTurn } from './movement.ts';
import { lowerAlight, lowerBoard, moving } from './riding.ts';
import { lowerMoveAlong, lowerTravel } from './travel.ts';
import { whoAsks, bindInputs, heldPlace, isFlipped, lowerAgent, lowerPlace, lowerTie } from './place.ts';
import { lowerQuery } from './query.ts';
import { emitTie, lowerJoin } from './ties.ts';

export function lowerBody(draft: Draft, block: Ast.Block): Body {
  const statements = draft.collect(() => draft.block(block));
  return { statements, locals: draft.localCount };
}

export function lowerValueBody(draft: Draft, expr: Ast.Expr): ValueBody {
  const code = draft.code(expr);
  return { ...code, locals: draft.localCount };
}

export function lowerBlock(draft: Draft, block: Ast.Block): void {
  for (const statement of block) lowerStatement(draft, statement);
}

function lowerStatement(draft: Draft, statement: Ast.Statement): void {
  const model = draft.shared.model;
  draft.shared.progress.at = statement.span;
  switch (statement.is) {
    case 'let': {
      const symbol = model.locals.get(statement)!;
      if (symbol.type.is === 'place')
        draft.heldPlaces.set(symbol, heldPlace(draft, lowerPlace(draft, statement.value)));
      else if (symbol.type.is === 'agent') draft.slots.set(symbol, copied(draft, lowerAgent(draft, statement.value)));
      else if (symbol.type.is === 'tie') draft.slots.set(symbol, copied(draft, lowerTie(draft, statement.value)));
      else draft.emit({ op: 'set', local: draft.slotOf(symbol), value: draft.lower(statement.value) });
      return;
    }
    case 'assign':
      return lowerAssign(draft, statement);
    case 'if': {
      const condition = draft.lower(statement.condition);
      const then = draft.collect(() => draft.block(statement.then));
      const otherwise = draft.collect(() => draft.block(statement.else ?? []));
      draft.emit({
        op: 'if',
        condition,
        then,
        else: otherwise,
        site: draft.site(statement.condition.span, 'a condition'),
      });
      return;
    }
    case 'with':
      return lowerWith(draft, statement);
    case 'for each': {
      const query = lowerQuery(draft, statement.query);
      const symbol = model.locals.get(statement)!;
      const candidate = model.locals.get(statement.query)!;
      const body = draft.collect(() => {
        draft.emit({ op: 'set', local: draft.slotOf(symbol), value: local(query.candidate) });
        sameAs(draft, symbol, candidate);
        draft.block(statement.body);
      });
      draft.emit({ op: 'each', query, shuffled: false, recheck: false, body });
      return;
    }
    case 'repeat': {
      const count = draft.lower(statement.most);
      const body = draft.collect(() => draft.block(statement.body));
      draft.emit({ op: 'repeat', count, body, site: draft.site(statement.most.span, 'how often to repeat') });
      return;
    }
    case 'until':
      return draft.emit({ op: 'until', condition: draft.lower(statement.condition) });
    case 'add':
      return lowerAdd(draft, statement);
    case 'send':
      return lowerSend(draft, statement);
    case 'tie': {
      const network = model.networkOf.get(statement)!;
      const a = statement.from ? draft.agentIn(lowerAgent(draft, statement.from)) : whoAsks(draft, network);
      const b = draft.agentIn(lowerAgent(draft, statement.to));
      return emitTie(draft, network, a, b, isFlipped(draft, network, statement.from), statement);
    }
    case 'untie': {
      const network = model.networkOf.get(statement)!;
      const a = statement.from ? draft.agentIn(lowerAgent(draft, statement.from)) : whoAsks(draft, network);
      const b = statement.to ? draft.agentIn(lowerAgent(draft, statement.to)) : undefined;
      return draft.emit({ op: 'untie', network: network.index, a, b, flip: isFlipped(draft, network, statement.from) });
    }
    case 'join':
      return lowerJoin(draft, statement);
    case 'board':
      return lowerBoard(draft, statement);
    case 'alight':
      return lowerAlight(draft, statement);
    case 'do': {
      const routine = model.routines.get(statement)!;
      bindInputs(draft, routine.inputs, routine.values);
      return draft.block(routine.body);
    }
    case 'log':
      return lowerLog(draft, statement);
    case 'turn':
      return lowerTurn(draft, statement);
    case 'move':
      return moving(draft, statement, (mover, site) => lowerMove(draft, statement, mover, site));
    case 'move toward':
      return !statement.who && formOf(selfOf(draft).kind.space!).isOnLanes
        ? lowerMoveAlong(draft, statement)
        : moving(draft, statement, (mover, site) => lowerMoveToward(draft, statement, mover, site));
    case 'travel':
      return lowerTravel(draft, statement);
    case 'create': {
      const count = draft.lower(statement.count);
      const body = draft.collect(() => lowerCreate(draft, statement));
      if (count.op === 'number' && count.value === 1) for (const inner of body) draft.emit(inner);
      else draft.emit({ op: 'repeat', count, body, site: draft.site(statement.count.span, 'how many to create') });
      return;
    }
    case 'remove':
      return lowerRemove(draft, statement);
    case 'end run':
      draft.emit({ op: 'end run' });
  }
}

/** A local that keeps what another holds now. */
function copied(draft: Draft, slot: number): number {
  const own = draft.newLocal();
  draft.emit({ op: 'set', local: own, value: local(slot) });
  return own;
}

/** A loop name or picked one stands for what the candidate of its query stands for. */
function sameAs(draft: Draft, symbol: LocalSymbol, candidate: LocalSymbol): void {
  const cell = draft.cells.get(candidate);
  if (cell) draft.cells.set(symbol, { ...cell, slot: draft.slotOf(symbol) });
  const item = draft.items.get(candidate);
  if (item?.op === 'list item' || item?.op === 'tally item')
    draft.items.set(symbol, { ...item, index: local(draft.slotOf(symbol)) });
  const place = draft.heldPlaces.get(candidate);
  if (place?.x.op === 'list item' && place.y.op === 'list item') {
    const index = local(draft.slotOf(symbol));
    draft.heldPlaces.set(symbol, { x: { ...place.x, index }, y: { ...place.y, index } });
  }
}

function lowerWith(draft: Draft, statement: Ast.StatementOf<'with'>): void {
  const symbol = draft.shared.model.locals.get(statement)!;
  const otherwise = draft.collect(() => draft.block(statement.else ?? []));
  const { value } = statement;
  if (value.is === 'pick') {
    const slot = draft.slotOf(symbol);
    draft.pick(
      value,
      slot,
      () => {
        sameAs(draft, symbol, draft.shared.model.locals.get(value.query)!);
        draft.block(statement.then);
      },
      otherwise,
    );
    return;
  }
  const slot = copied(draft, symbol.type.is === 'tie' ? lowerTie(draft, value) : lowerAgent(draft, value));
  draft.slots.set(symbol, slot);
  const then = draft.collect(() => draft.block(statement.then));
  draft.emit({ op: 'if', condition: { op: 'somebody', local: slot }, then, else: otherwise });
}

/** A value as a note tells it; a place is two. */
function loggedValues(draft: Draft, value: Ast.Expr): LoggedValue[] {
  const { types, kinds, scales, spaces } = draft.shared.model;
  const type = types.get(value);
  if (value.is === 'string') return [{ value: num(0), text: value.text }];
  switch (type?.is) {
    case 'choice':
      return [{ value: draft.lower(value), options: type.options }];
    case 'yesno':
      return [{ value: draft.lower(value), options: ['no', 'yes'] }];
    case 'agent': {
      const kind = kinds.findIndex(({ name }) => name === type.kind);
      return [{ value: { op: 'number or 0', kind, local: lowerAgent(draft, value) }, kind: type.kind }];
    }
    case 'place': {
      const place = lowerPlace(draft, value);
      const space = spaces.find(({ name }) => name === type.space);
      const unit = space?.unit.label;
      return [
        { value: measuredAxis(space, 'x', place), comma: true },
        { value: measuredAxis(space, 'y', place), ...(unit ? { unit } : {}) },
      ];
    }
    case 'nobody':
      return [{ value: num(0), text: 'nobody' }];
    default:
      return [
        {
          value: draft.lower(value),
          ...(type?.is === 'number' && type.dim ? { unit: baseUnit(type.dim, scales).label } : {}),
        },
      ];
  }
}

function lowerLog(draft: Draft, statement: Ast.StatementOf<'log'>): void {
  const values = statement.values.flatMap((value) => loggedValues(draft, value));
  draft.emit({ op: 'log', values, site: draft.site(statement.span, 'a note') });
}
