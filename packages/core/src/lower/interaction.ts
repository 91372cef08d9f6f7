import type { Span } from '../diagnostics.ts';
import type { KindSymbol, LocalSymbol } from '../language/checked.ts';
import type * as Ast from '../language/syntax.ts';
import { changesOnly } from '../plan/analysis.ts';
import { binary, local, num } from './body-lowerer.ts';
import { StatementLowerer } from './statement.ts';
import type { Body, Code, Expr, Query, Statement } from '../plan/plan.ts';

/** Lowers interactions: who meets whom, on what condition and with what luck, and what happens to both. */
export class InteractionLowerer extends StatementLowerer {
  interaction(part: Ast.InteractionPart, partner: LocalSymbol, inTurn: boolean): Body {
    const { kind: actorKind, symbol: actor } = this.self;
    const partnerKind = this.kindOfLocal(partner);
    const slot = this.slotOf(partner);
    const twins = actorKind === partnerKind;
    const statements = this.collect(() => {
      if (part.partner.is === 'mixing')
        this.mixing(part, part.partner, partnerKind, slot, twins ? this.slotOf(actor) : undefined);
      else this.reached(part, part.partner, partnerKind, slot, inTurn);
    });
    return { statements, locals: this.localCount };
  }

  private reached(
    part: Ast.InteractionPart,
    partner: Extract<Ast.Partner, { is: 'reach' }>,
    partnerKind: KindSymbol,
    slot: number,
    inTurn: boolean,
  ): void {
    const { kind: actorKind, symbol: actor } = this.self;
    const twins = actorKind === partnerKind;
    const reach = this.reach(partner.reach, partnerKind);
    const body = this.collect(() => this.meeting(part, partner, slot));
    let where = this.withTie(part, partner, slot, () => this.lowerOpen(part, body, slot));
    if (part.oncePerPair && twins) where = this.laterOnly(actorKind, actor, slot, where);
    const query: Query = {
      over: { is: 'agents' },
      present: true,
      kind: partnerKind.index,
      reach,
      candidate: slot,
      except: twins ? this.slotOf(actor) : undefined,
      where,
    };
    this.gated(part, () => this.meetPartners(partner, query, body, inTurn));
  }

  private meetPartners(
    partner: Extract<Ast.Partner, { is: 'reach' }>,
    query: Query,
    body: readonly Statement[],
    inTurn: boolean,
  ): void {
    const { pick, howMany } = partner;
    const { reach, where, candidate: slot } = query;
    if (!pick || howMany !== undefined) {
      this.emit({
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
    const from = pick !== 'nearest' ? undefined : isPlaced ? { x: reach.x, y: reach.y } : this.heldPlace(this.here());
    const by = partner.by && this.code(partner.by);
    this.emit({
      op: 'pick',
      local: slot,
      how: pick,
      query,
      by,
      from,
      found: body,
      nobody: [],
      site: this.site(partner.span, 'a partner'),
    });
  }

  /** Code that may read the tie through which the two have met. */
  private withTie(
    part: Ast.InteractionPart,
    partner: Extract<Ast.Partner, { is: 'reach' }>,
    slot: number,
    build: () => Expr | undefined,
  ): Code | undefined {
    const tie = this.shared.model.locals.get(part);
    if (tie) this.slots.delete(tie);
    let value: Expr | undefined;
    const statements = this.collect(() => (value = build()));
    if (value === undefined) return undefined;
    return { statements: [...this.foundTie(part, partner, slot), ...statements], value };
  }

  private foundTie(
    part: Ast.InteractionPart,
    partner: Extract<Ast.Partner, { is: 'reach' }>,
    slot: number,
  ): Statement[] {
    const tie = this.shared.model.locals.get(part);
    const network = this.shared.model.networkOf.get(partner.reach);
    const held = tie && this.slots.get(tie);
    return network && held !== undefined
      ? [
          {
            op: 'find tie',
            local: held,
            network: network.index,
            a: this.asker(),
            b: this.agentIn(slot),
            flip: this.isFlipped(network),
          },
        ]
      : [];
  }

  /** So many meetings, each with a partner drawn from a source that is drawn by the shares (S20). */
  private mixing(
    part: Ast.InteractionPart,
    partner: Extract<Ast.Partner, { is: 'mixing' }>,
    kind: KindSymbol,
    slot: number,
    except: number | undefined,
  ): void {
    const amount = this.hold(this.perStep(partner.count));
    const meet = this.collect(() => {
      const count = this.wholeByLuck(amount, partner.count.span);
      const sources: readonly Ast.MixingSource[] =
        partner.sources.length > 0
          ? partner.sources
          : [{ share: 'rest', reach: { is: 'anyone', span: partner.span }, span: partner.span }];
      const body = this.collect(() => {
        const from = (source: Ast.MixingSource): void => {
          const query: Query = {
            over: { is: 'agents' },
            present: true,
            kind: kind.index,
            reach: this.reach(source.reach, kind),
            candidate: slot,
            except,
          };
          const found = this.collect(() => this.meetIfFit(part, slot));
          this.emit({
            op: 'pick',
            local: slot,
            how: 'random',
            query,
            found,
            nobody: [],
            site: this.site(source.span, 'a partner'),
          });
        };
        if (sources.length === 1) from(sources[0]!);
        else
          this.emitShares(
            this.draw('unit', [], partner.span),
            sources.map((source) => source.share),
            (i) => from(sources[i]!),
          );
        const { kind: actorKind, agent } = this.self;
        this.emit({
          op: 'if',
          condition: { op: 'is there', kind: actorKind.index, agent },
          then: [],
          else: [{ op: 'end turn' }],
        });
      });
      this.emit({ op: 'repeat', count, body, site: this.site(partner.count.span, 'a number of meetings') });
    });
    this.gated(part, () => {
      for (const statement of meet) this.emit(statement);
    });
  }

  /** A whole number whose mean is an amount: the part beyond the whole is the chance of one more. */
  private wholeByLuck(amount: Expr, span: Span): Expr {
    if (amount.op === 'number' && Number.isInteger(amount.value)) return amount;
    const whole: Expr = this.hold({ op: 'call', fn: 'floor', args: [amount] });
    const count = this.newLocal();
    this.emit({ op: 'set', local: count, value: whole });
    const more = this.collect(() => {
      const luck = this.draw('chance', [binary('-', amount, whole)], span);
      this.emit({ op: 'set', local: count, value: binary('+', local(count), luck) });
    });
    this.emit({ op: 'if', condition: binary('>', amount, whole), then: more, else: [] });
    return local(count);
  }

  /** A condition on the actor alone that does not hold spares all its meetings: nothing in them could make it hold. */
  private gated(part: Ast.InteractionPart, build: () => void): void {
    const own = part.where ? this.actorConditions(part.where) : [];
    if (own.length === 0) {
      build();
      return;
    }
    let gate: Expr = num(1);
    for (const condition of own) gate = this.andThen(gate, () => this.lower(condition));
    this.emit({
      op: 'if',
      condition: gate,
      then: this.collect(build),
      else: [],
      site: this.site(part.where!.span, 'a condition'),
    });
  }

  /** The parts of a condition, joined by `and`, that read nobody but the actor. */
  private actorConditions(where: Ast.Expr): Ast.Expr[] {
    return conjuncts(where).filter((part) => {
      if (part.is !== 'binary' || (part.op !== 'is' && part.op !== 'is not')) return false;
      const ref = this.shared.model.refs.get(part.left);
      const isOwn =
        (ref?.is === 'machine' || ref?.is === 'attribute') &&
        ref.agent === this.self.symbol &&
        !this.shared.model.hops.has(part.left);
      const right = this.shared.model.refs.get(part.right);
      return isOwn && (right?.is === 'option' || right?.is === 'group' || part.right.is === 'yesno');
    });
  }

  private meetIfFit(part: Ast.InteractionPart, slot: number): void {
    const body = this.collect(() => this.meeting(part));
    const condition = this.lowerOpen(part, body, slot);
    if (condition)
      this.emit({ op: 'if', condition, then: body, else: [], site: this.site(part.where!.span, 'a condition') });
    else for (const statement of body) this.emit(statement);
  }

  /** What of the condition of an interaction is still open in a meeting: what `gated` has asked of the actor holds on, if meetings leave the actor alone. */
  private lowerOpen(part: Ast.InteractionPart, body: readonly Statement[], partner: number): Expr | undefined {
    if (!part.where) return undefined;
    const settled = changesOnly(partner, body) ? this.actorConditions(part.where) : [];
    const open = conjuncts(part.where).filter((condition) => !settled.includes(condition));
    if (settled.length === 0 || open.length === conjuncts(part.where).length) return this.lower(part.where);
    return open.length === 0
      ? undefined
      : open.slice(1).reduce((left, right) => this.andThen(left, () => this.lower(right)), this.lower(open[0]!));
  }

  /** Each pair once: the one with the lower number meets the other. */
  private laterOnly(
    kind: KindSymbol,
    actor: LocalSymbol,
    partner: number,
    where: { statements: readonly Statement[]; value: Expr } | undefined,
  ) {
    const later = binary(
      '>',
      { op: 'number of', kind: kind.index, agent: { local: partner, own: false } },
      { op: 'number of', kind: kind.index, agent: this.agent(actor) },
    );
    return where
      ? { statements: where.statements, value: binary('and', later, where.value) }
      : { statements: [], value: later };
  }

  private meeting(part: Ast.InteractionPart, partner?: Extract<Ast.Partner, { is: 'reach' }>, slot?: number): void {
    const tie = this.shared.model.locals.get(part);
    if (tie) this.slots.delete(tie);
    const statements = this.collect(() => {
      if (!part.luck) {
        this.met(part);
        return;
      }
      const value = this.lower(part.luck.value);
      const chance: Expr =
        part.luck.is === 'chance'
          ? value
          : { op: 'call', fn: 'chance of rate', args: [binary('*', value, num(this.shared.model.clock.stepLength))] };
      const luck = this.draw('chance', [chance], part.luck.value.span);
      this.emit({ op: 'if', condition: luck, then: this.collect(() => this.met(part)), else: [] });
    });
    if (partner && slot !== undefined) for (const statement of this.foundTie(part, partner, slot)) this.emit(statement);
    for (const statement of statements) this.emit(statement);
  }

  private met(part: Ast.InteractionPart): void {
    const { model } = this.shared;
    model.records.forEach((record, index) => {
      if (record.target.is !== 'interaction' || record.target.part !== part) return;
      const numbers = record.target.roles.map((role): Expr => ({
        op: 'number of',
        kind: this.kindOfLocal(role).index,
        agent: this.agent(role),
      }));
      this.emit({
        op: 'record',
        record: index,
        values: [...numbers, ...record.part.values.map((value) => this.recorded(value))],
      });
    });
    this.block(part.body);
  }

  /** A value as it is recorded: of agents their number. */
  recorded(value: Ast.Expr): Expr {
    const type = this.shared.model.types.get(value);
    if (type?.is !== 'agent') return this.lower(value);
    return {
      op: 'number or 0',
      kind: this.shared.model.kinds.findIndex((k) => k.name === type.kind),
      local: this.lowerAgent(value),
    };
  }
}

/** The parts of a condition that are joined by `and`. */
function conjuncts(where: Ast.Expr): Ast.Expr[] {
  if (where.is === 'binary' && where.op === 'and') return [...conjuncts(where.left), ...conjuncts(where.right)];
  return where.is === 'brackets' ? conjuncts(where.value) : [where];
}
