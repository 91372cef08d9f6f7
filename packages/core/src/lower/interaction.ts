import type { Span } from '../diagnostics.ts';
import type { KindSymbol, LocalSymbol } from '../language/checked.ts';
import type * as Ast from '../language/syntax.ts';
import { changesOnly } from '../plan/analysis.ts';
import type { Body, Code, Expr, Query, Statement } from '../plan/plan.ts';
import { binary, local, num } from './code.ts';
import type { Draft } from './draft.ts';
import { perStep } from './expression.ts';
import { selfOf } from './machine.ts';
import { whoAsks, heldPlace, isFlipped, lowerAgent, placeHere, placeOfAgent } from './place.ts';
import { lowerReach, nearAlong } from './query.ts';
import { emitShares } from './shares.ts';

export function lowerInteraction(draft: Draft, part: Ast.InteractionPart, partner: LocalSymbol, inTurn: boolean): Body {
  const { kind: actorKind, symbol: actor } = selfOf(draft);
  const partnerKind = draft.kindOfLocal(partner);
  const slot = draft.slotOf(partner);
  const twins = actorKind === partnerKind;
  const statements = draft.collect(() => {
    if (part.partner.is === 'mixing')
      lowerMixing(draft, part, part.partner, partnerKind, slot, twins ? draft.slotOf(actor) : undefined);
    else meetReached(draft, part, part.partner, partnerKind, slot, inTurn);
  });
  return { statements, locals: draft.localCount };
}

function meetReached(
  draft: Draft,
  part: Ast.InteractionPart,
  partner: Extract<Ast.Partner, { is: 'reach' }>,
  partnerKind: KindSymbol,
  slot: number,
  inTurn: boolean,
): void {
  const { kind: actorKind, symbol: actor } = selfOf(draft);
  const twins = actorKind === partnerKind;
  const reach = lowerReach(draft, partner.reach, partnerKind);
  const body = draft.collect(() => lowerMeeting(draft, part, partner, slot));
  let where = withTie(draft, part, partner, slot, () => {
    const { along } = partner.reach;
    const near = along && nearAlong(draft, partner.reach, placeOfAgent(partnerKind, draft.agentIn(slot)));
    const open = lowerOpen(draft, part, body, slot);
    return near && open ? binary('and', near, open) : (near ?? open);
  });
  if (part.oncePerPair && twins) where = laterOnly(draft, actorKind, actor, slot, where);
  const query: Query = {
    over: { is: 'agents' },
    present: true,
    kind: partnerKind.index,
    reach,
    candidate: slot,
    except: twins ? draft.slotOf(actor) : undefined,
    where,
  };
  ifGateOpens(draft, part, () => meetPartners(draft, partner, query, body, inTurn));
}

function meetPartners(
  draft: Draft,
  partner: Extract<Ast.Partner, { is: 'reach' }>,
  query: Query,
  body: readonly Statement[],
  inTurn: boolean,
): void {
  const { pick, howMany } = partner;
  const { reach, where, candidate: slot } = query;
  if (!pick || howMany !== undefined) {
    draft.emit({
      op: 'each',
      query,
      shuffled: inTurn || howMany !== undefined,
      recheck: inTurn && where !== undefined,
      most: howMany,
      body,
    });
    return;
  }
  const isPlaced = reach.is !== 'all' && reach.is !== 'tied';
  const from =
    pick !== 'nearest' ? undefined : isPlaced ? { x: reach.x, y: reach.y } : heldPlace(draft, placeHere(draft));
  const by = partner.by && draft.code(partner.by);
  draft.emit({
    op: 'pick',
    local: slot,
    how: pick,
    query,
    by,
    from,
    found: body,
    nobody: [],
    site: draft.site(partner.span, 'a partner'),
  });
}

/** Code that may read the tie through which the two have met. */
function withTie(
  draft: Draft,
  part: Ast.InteractionPart,
  partner: Extract<Ast.Partner, { is: 'reach' }>,
  slot: number,
  build: () => Expr | undefined,
): Code | undefined {
  const tie = draft.shared.model.locals.get(part);
  if (tie) draft.slots.delete(tie);
  let value: Expr | undefined;
  const statements = draft.collect(() => (value = build()));
  if (value === undefined) return undefined;
  return { statements: [...foundTie(draft, part, partner, slot), ...statements], value };
}

function foundTie(
  draft: Draft,
  part: Ast.InteractionPart,
  partner: Extract<Ast.Partner, { is: 'reach' }>,
  slot: number,
): Statement[] {
  const tie = draft.shared.model.locals.get(part);
  const network = draft.shared.model.networkOf.get(partner.reach);
  const held = tie && draft.slots.get(tie);
  return network && held !== undefined
    ? [
        {
          op: 'find tie',
          local: held,
          network: network.index,
          a: whoAsks(draft),
          b: draft.agentIn(slot),
          flip: isFlipped(draft, network),
        },
      ]
    : [];
}

/** So many meetings, each with a partner drawn from a source that is drawn by the shares (S20). */
function lowerMixing(
  draft: Draft,
  part: Ast.InteractionPart,
  partner: Extract<Ast.Partner, { is: 'mixing' }>,
  kind: KindSymbol,
  slot: number,
  except: number | undefined,
): void {
  const amount = draft.hold(perStep(draft, partner.count));
  const meet = draft.collect(() => {
    const count = wholeByLuck(draft, amount, partner.count.span);
    const sources: readonly Ast.MixingSource[] =
      partner.sources.length > 0
        ? partner.sources
        : [{ share: 'rest', reach: { is: 'anyone', span: partner.span }, span: partner.span }];
    const body = draft.collect(() => {
      const from = (source: Ast.MixingSource): void => {
        const query: Query = {
          over: { is: 'agents' },
          present: true,
          kind: kind.index,
          reach: lowerReach(draft, source.reach, kind),
          candidate: slot,
          except,
          where: source.reach.along && nearCode(draft, source.reach, kind, slot),
        };
        const found = draft.collect(() => meetIfFit(draft, part, slot));
        draft.emit({
          op: 'pick',
          local: slot,
          how: 'random',
          query,
          found,
          nobody: [],
          site: draft.site(source.span, 'a partner'),
        });
      };
      if (sources.length === 1) from(sources[0]!);
      else
        emitShares(
          draft,
          draft.draw('unit', [], partner.span),
          sources.map((source) => source.share),
          (i) => from(sources[i]!),
        );
      const { kind: actorKind, agent } = selfOf(draft);
      draft.emit({
        op: 'if',
        condition: { op: 'is there', kind: actorKind.index, agent },
        then: [],
        else: [{ op: 'end turn' }],
      });
    });
    draft.emit({ op: 'repeat', count, body, site: draft.site(partner.count.span, 'a number of meetings') });
  });
  ifGateOpens(draft, part, () => {
    for (const statement of meet) draft.emit(statement);
  });
}

function nearCode(draft: Draft, reach: Ast.Reach, kind: KindSymbol, slot: number): Code {
  let value: Expr = num(0);
  const statements = draft.collect(() => (value = nearAlong(draft, reach, placeOfAgent(kind, draft.agentIn(slot)))));
  return { statements, value };
}

/** A whole number whose mean is an amount: the part beyond the whole is the chance of one more. */
function wholeByLuck(draft: Draft, amount: Expr, span: Span): Expr {
  if (amount.op === 'number' && Number.isInteger(amount.value)) return amount;
  const whole: Expr = draft.hold({ op: 'call', fn: 'floor', args: [amount] });
  const count = draft.newLocal();
  draft.emit({ op: 'set', local: count, value: whole });
  const more = draft.collect(() => {
    const luck = draft.draw('chance', [binary('-', amount, whole)], span);
    draft.emit({ op: 'set', local: count, value: binary('+', local(count), luck) });
  });
  draft.emit({ op: 'if', condition: binary('>', amount, whole), then: more, else: [] });
  return local(count);
}

/** A condition on the actor alone that does not hold spares all its meetings: nothing in them could make it hold. */
function ifGateOpens(draft: Draft, part: Ast.InteractionPart, build: () => void): void {
  const own = part.where ? actorConditions(draft, part.where) : [];
  if (own.length === 0) {
    build();
    return;
  }
  let gate: Expr = num(1);
  for (const condition of own) gate = draft.andThen(gate, () => draft.lower(condition));
  draft.emit({
    op: 'if',
    condition: gate,
    then: draft.collect(build),
    else: [],
    site: draft.site(part.where!.span, 'a condition'),
  });
}

/** The parts of a condition, joined by `and`, that read nobody but the actor. */
function actorConditions(draft: Draft, where: Ast.Expr): Ast.Expr[] {
  return conjuncts(where).filter((part) => {
    if (part.is !== 'binary' || (part.op !== 'is' && part.op !== 'is not')) return false;
    const ref = draft.shared.model.refs.get(part.left);
    const isOwn =
      (ref?.is === 'machine' || ref?.is === 'attribute') &&
      ref.agent === selfOf(draft).symbol &&
      !draft.shared.model.hops.has(part.left);
    const right = draft.shared.model.refs.get(part.right);
    return isOwn && (right?.is === 'option' || right?.is === 'group' || part.right.is === 'yesno');
  });
}

function meetIfFit(draft: Draft, part: Ast.InteractionPart, slot: number): void {
  const body = draft.collect(() => lowerMeeting(draft, part));
  const condition = lowerOpen(draft, part, body, slot);
  if (condition)
    draft.emit({ op: 'if', condition, then: body, else: [], site: draft.site(part.where!.span, 'a condition') });
  else for (const statement of body) draft.emit(statement);
}

/** What of the condition of an interaction is still open in a meeting: what `gated` has asked of the actor holds on, if meetings leave the actor alone. */
function lowerOpen(
  draft: Draft,
  part: Ast.InteractionPart,
  body: readonly Statement[],
  partner: number,
): Expr | undefined {
  if (!part.where) return undefined;
  const settled = changesOnly(partner, body) ? actorConditions(draft, part.where) : [];
  const open = conjuncts(part.where).filter((condition) => !settled.includes(condition));
  if (settled.length === 0 || open.length === conjuncts(part.where).length) return draft.lower(part.where);
  return open.length === 0
    ? undefined
    : open.slice(1).reduce((left, right) => draft.andThen(left, () => draft.lower(right)), draft.lower(open[0]!));
}

/** Each pair once: the one with the lower number meets the other. */
function laterOnly(
  draft: Draft,
  kind: KindSymbol,
  actor: LocalSymbol,
  partner: number,
  where: { statements: readonly Statement[]; value: Expr } | undefined,
) {
  const later = binary(
    '>',
    { op: 'number of', kind: kind.index, agent: { local: partner, own: false } },
    { op: 'number of', kind: kind.index, agent: draft.agent(actor) },
  );
  return where
    ? { statements: where.statements, value: binary('and', later, where.value) }
    : { statements: [], value: later };
}

function lowerMeeting(
  draft: Draft,
  part: Ast.InteractionPart,
  partner?: Extract<Ast.Partner, { is: 'reach' }>,
  slot?: number,
): void {
  const tie = draft.shared.model.locals.get(part);
  if (tie) draft.slots.delete(tie);
  const statements = draft.collect(() => {
    if (!part.luck) {
      lowerMet(draft, part);
      return;
    }
    const value = draft.lower(part.luck.value);
    const chance: Expr =
      part.luck.is === 'chance'
        ? value
        : { op: 'call', fn: 'chance of rate', args: [binary('*', value, num(draft.shared.model.clock.stepLength))] };
    const luck = draft.draw('chance', [chance], part.luck.value.span);
    draft.emit({ op: 'if', condition: luck, then: draft.collect(() => lowerMet(draft, part)), else: [] });
  });
  if (partner && slot !== undefined)
    for (const statement of foundTie(draft, part, partner, slot)) draft.emit(statement);
  for (const statement of statements) draft.emit(statement);
}

function lowerMet(draft: Draft, part: Ast.InteractionPart): void {
  emitRecords(draft, part, false);
  draft.block(part.body);
  emitRecords(draft, part, true);
}

/** Records of a meeting: those that are read as it begins, or as it is over. */
function emitRecords(draft: Draft, part: Ast.InteractionPart, isAtEnd: boolean): void {
  draft.shared.model.records.forEach((record, index) => {
    if (record.target.is !== 'interaction' || record.target.part !== part || (record.isAtEnd ?? false) !== isAtEnd)
      return;
    const numbers = record.target.roles.map((role): Expr => ({
      op: 'number of',
      kind: draft.kindOfLocal(role).index,
      agent: draft.agent(role),
    }));
    const { values, when } = record.part;
    const emit = (): void =>
      draft.emit({
        op: 'record',
        record: index,
        values: [...numbers, ...values.map((value) => recordedValue(draft, value))],
      });
    if (when) draft.emit({ op: 'if', condition: draft.lower(when), then: draft.collect(emit), else: [] });
    else emit();
  });
}

/** A value as it is recorded: of agents their number. */
export function recordedValue(draft: Draft, value: Ast.Expr): Expr {
  const type = draft.shared.model.types.get(value);
  if (type?.is !== 'agent') return draft.lower(value);
  return {
    op: 'number or 0',
    kind: draft.shared.model.kinds.findIndex((k) => k.name === type.kind),
    local: lowerAgent(draft, value),
  };
}

/** The parts of a condition that are joined by `and`. */
function conjuncts(where: Ast.Expr): Ast.Expr[] {
  if (where.is === 'binary' && where.op === 'and') return [...conjuncts(where.left), ...conjuncts(where.right)];
  return where.is === 'brackets' ? conjuncts(where.value) : [where];
}
