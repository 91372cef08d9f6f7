import type {
  AttributeSymbol,
  CheckedModel,
  DeriveSymbol,
  KindSymbol,
  LocalSymbol,
  RuleSymbol,
} from '../language/checked.ts';
import { FUNCTIONS } from '../language/functions.ts';
import type * as Ast from '../language/syntax.ts';
import { wording } from './model-words.ts';

/** What a rule reads, changes and draws, each named as in the text and told once, in the order in which it stands there. */
export interface RuleReading {
  /** Attributes and states of those who act. */
  readonly own: ReadonlySet<string>;
  /** Those of others, as `energy of Vole`. */
  readonly others: ReadonlySet<string>;
  readonly fields: ReadonlySet<string>;
  /** What is asked of surroundings: `Vole within 6 m`. */
  readonly asks: ReadonlySet<string>;
  readonly parameters: ReadonlySet<string>;
  /** Variables of the whole model, the calendar, tallies. */
  readonly shared: ReadonlySet<string>;
  /** What conditions stand on. */
  readonly decides: ReadonlySet<string>;
  /** Choices of the most or the least of several. */
  readonly seeks: ReadonlySet<string>;
  readonly draws: ReadonlySet<string>;
  readonly ownChanges: ReadonlySet<string>;
  readonly otherChanges: ReadonlySet<string>;
  /** Fields, variables, tallies, parameters that are changed. */
  readonly sharedChanges: ReadonlySet<string>;
  /** What is done besides, as `move`, `send Alarm`. */
  readonly acts: ReadonlySet<string>;
}

/** Reads a rule. */
export function readRule(model: CheckedModel, rule: RuleSymbol): RuleReading {
  const reader = new Reader(model);
  switch (rule.is) {
    case 'behaviour':
      reader.acting.add(rule.kind.self);
      reader.read(rule.part);
      break;
    case 'machine':
      reader.acting.add(rule.kind.self);
      reader.read(rule.machine.part.states);
      reader.found.ownChanges.add(rule.machine.name);
      break;
    case 'interaction':
      reader.acting.add(rule.roles[0]);
      reader.read(rule.part);
      break;
    case 'surroundings':
      reader.read(rule.part);
      break;
    case 'line': {
      const { stops, at, every, dwell } = rule.line.part;
      reader.read([stops, at, every, dwell]);
      for (const act of ['travel', 'set others down', 'remove themselves']) reader.found.acts.add(act);
      break;
    }
    case 'field': {
      const { grow, spread, fade, becomes } = rule.field.part;
      reader.read([grow, spread, fade, becomes]);
      reader.found.sharedChanges.add(rule.field.name);
      break;
    }
  }
  return reader.found;
}

type Found = { readonly [K in keyof RuleReading]: Set<string> };

class Reader {
  readonly found: Found = {
    own: new Set(),
    others: new Set(),
    fields: new Set(),
    asks: new Set(),
    parameters: new Set(),
    shared: new Set(),
    decides: new Set(),
    seeks: new Set(),
    draws: new Set(),
    ownChanges: new Set(),
    otherChanges: new Set(),
    sharedChanges: new Set(),
    acts: new Set(),
  };
  readonly acting = new Set<LocalSymbol>();
  private readonly derives = new Set<DeriveSymbol>();
  private isCondition = false;

  constructor(private readonly model: CheckedModel) {}

  /** Reads a node and all that is in it; places, names and plain values say nothing. */
  read(node: unknown): void {
    if (Array.isArray(node)) for (const item of node) this.read(item);
    else if (typeof node === 'object' && node !== null) this.node(node);
  }

  private node(node: object & { readonly is?: string; readonly trigger?: string }): void {
    if (node.trigger !== undefined) return this.transition(node as Ast.Transition);
    switch (node.is) {
      case 'path':
        return this.path(node as Ast.ExprOf<'path'>);
      case 'at':
        this.value((node as Ast.ExprOf<'at'>).field.text, 'fields');
        return this.inside(node);
      case 'call':
        return this.call(node as Ast.ExprOf<'call'>);
      case 'ask':
      case 'gather':
        return this.asked(node as Ast.ExprOf<'ask' | 'gather'>);
      case 'pick':
        return this.pick(node as Ast.ExprOf<'pick'>);
      case 'somewhere':
        this.draw(node as Ast.Expr);
        return;
      case 'tie to':
        this.found.asks.add(wording(this.model, (node as Ast.Expr).span));
        return this.inside(node);
      case 'interaction':
        return this.interaction(node as Ast.InteractionPart);
      default:
        return this.statement(node as Ast.Statement);
    }
  }

  private statement(node: Ast.Statement): void {
    const { acts } = this.found;
    switch (node.is) {
      case 'assign':
        this.write(node.target);
        if (node.op !== '=') this.read(node.target);
        return this.read(node.value);
      case 'move':
      case 'move toward':
        acts.add('move');
        return this.inside(node);
      case 'turn':
      case 'travel':
        acts.add(node.is);
        return this.inside(node);
      case 'board':
      case 'alight':
        acts.add(ridingWords(node));
        return this.inside(node);
      case 'create':
        acts.add(`create agents of the kind ${node.kind.text}`);
        this.read([node.count, node.placing]);
        // What is set here are first values of the new one.
        for (const each of node.block) this.read(each.is === 'assign' ? each.value : each);
        return;
      case 'remove':
        acts.add(this.isActing(node.target) ? 'remove themselves' : `remove ${wording(this.model, node.target.span)}`);
        return this.inside(node);
      case 'send':
        acts.add(`send ${node.message.text}`);
        if (node.all) this.found.asks.add(wording(this.model, node.all.span));
        return this.inside(node);
      case 'tie':
      case 'untie':
      case 'join':
        acts.add(`${node.is === 'untie' ? 'untie' : 'tie'} by ${node.network.text}`);
        return this.inside(node);
      case 'add':
        if (node.target.is === 'path') this.write(node.target);
        return this.read(node.value);
      case 'end run':
        acts.add('end the run');
        return;
      case 'do': {
        this.read(node.args);
        return this.read(this.model.routines.get(node)?.body);
      }
      case 'for each':
        this.found.asks.add(wording(this.model, node.query.span));
        return this.inside(node);
      default:
        return this.inside(node);
    }
  }

  private inside(node: object): void {
    for (const [key, value] of Object.entries(node)) {
      const before = this.isCondition;
      if (key === 'condition' || key === 'when') this.isCondition = true;
      this.read(value);
      this.isCondition = before;
    }
  }

  private transition(node: Ast.Transition): void {
    const told = wording(this.model, node.value.span);
    if (node.trigger === 'rate' || node.trigger === 'chance') this.found.draws.add(`${node.trigger} ${told}`);
    if (node.trigger === 'when') {
      this.isCondition = true;
      this.read(node.value);
      this.isCondition = false;
    } else this.read(node.value);
    if (node.targets.length > 1)
      this.found.draws.add(`which of ${node.targets.map(({ state }) => state.text).join(', ')}`);
    if (node.message) this.found.asks.add(`message ${node.message.text}`);
    this.inside({ when: node.when });
    this.read(node.block);
  }

  private interaction(part: Ast.InteractionPart): void {
    const { partner, luck } = part;
    if (luck) this.found.draws.add(`${luck.is} ${wording(this.model, luck.value.span)}`);
    const [, other] = part.roles;
    if (partner.is === 'mixing') {
      this.found.draws.add('who meets whom');
      for (const { reach } of partner.sources)
        this.found.asks.add(`${other.kind.text} ${wording(this.model, reach.span)}`);
    } else {
      if (partner.pick === 'random') this.found.draws.add('which partner');
      this.found.asks.add(`${other.kind.text} ${wording(this.model, partner.reach.span)}`);
      if (partner.pick === 'most' || partner.pick === 'least') this.found.seeks.add(wording(this.model, partner.span));
    }
    const before = this.isCondition;
    this.isCondition = true;
    this.read(part.where);
    this.isCondition = before;
    this.read([partner, luck?.value, part.body]);
  }

  private call(node: Ast.ExprOf<'call'>): void {
    const name = node.name.key;
    if (FUNCTIONS.get(name)?.draws || name === 'pick') this.draw(node);
    if (name === 'distance' || name === 'bearing' || name === 'ahead')
      this.found.asks.add(wording(this.model, node.span));
    this.read(node.args.map(({ value }) => value));
    this.formula(node);
  }

  /** What a formula reads; of somebody else, the attributes of that one. */
  private formula(node: Ast.ExprOf<'call'>): void {
    const body = this.model.formulas.get(node)?.body;
    const self = node.of && this.model.kindOf.get(node)?.self;
    this.read(node.of);
    const wasActing = self && this.acting.delete(self);
    this.read(body);
    if (wasActing) this.acting.add(self);
  }

  private draw(node: Ast.Expr): void {
    this.found.draws.add(wording(this.model, node.span));
  }

  private asked(node: Ast.ExprOf<'ask' | 'gather'>): void {
    const query = node.is === 'ask' ? node.query : node.over;
    if (query) this.value(wording(this.model, query.span), 'asks');
    if (this.isCondition) this.found.decides.add(wording(this.model, node.span));
    this.inside(node);
  }

  private pick(node: Ast.ExprOf<'pick'>): void {
    if (node.how === 'random') this.draw(node);
    if (node.how === 'most' || node.how === 'least') this.found.seeks.add(wording(this.model, node.span));
    this.found.asks.add(wording(this.model, node.query.span));
    this.inside(node);
  }

  private path(node: Ast.ExprOf<'path'>): void {
    const ref = this.model.refs.get(node);
    const hop = this.model.hops.get(node);
    if (hop) this.read(hop.from);
    switch (ref?.is) {
      case 'parameter':
        return this.value(ref.parameter.name, 'parameters');
      case 'variable':
        return this.value(ref.variable.name, 'shared');
      case 'clock':
        return this.value(ref.which === 'now' ? 'the time' : ref.which, 'shared');
      case 'tally':
        return this.value(ref.tally.name, 'shared');
      case 'field':
        return this.value(ref.field.name, 'fields');
      case 'attribute':
        return this.attribute(ref.kind, ref.attribute, ref.agent);
      case 'machine':
        return this.attribute(ref.kind, ref.machine, ref.agent);
      case 'derive':
        this.attribute(ref.kind, ref.derive, ref.agent);
        if (!this.acting.has(ref.agent) || this.derives.has(ref.derive)) return;
        this.derives.add(ref.derive);
        return this.read(ref.derive.line.value);
      case 'model derive':
        return this.value(ref.derive.name, 'shared');
      case 'builtin':
        return this.attribute(undefined, { name: ref.which }, ref.agent);
      case 'vehicle':
        return this.attribute(ref.riding.from, { name: 'vehicle' }, ref.agent);
      case 'message attribute':
        return this.value(`${ref.attribute.name} of a message`, 'others');
      case 'tie attribute':
        return this.value(`${ref.attribute.name} of a tie of ${ref.network.name}`, 'others');
      default:
        return;
    }
  }

  private attribute(kind: KindSymbol | undefined, { name }: { readonly name: string }, agent: LocalSymbol): void {
    if (this.acting.has(agent)) this.value(name, 'own');
    else this.value(kind ? `${name} of ${kind.name}` : `${name} of others`, 'others');
  }

  private value(name: string, where: 'own' | 'others' | 'fields' | 'parameters' | 'shared' | 'asks'): void {
    this.found[where].add(name);
    if (this.isCondition && where !== 'asks') this.found.decides.add(name);
  }

  private write(target: Ast.Expr): void {
    const { ownChanges, otherChanges, sharedChanges } = this.found;
    if (target.is === 'at') {
      sharedChanges.add(target.field.text);
      return this.read(target.place);
    }
    const ref = this.model.refs.get(target);
    switch (ref?.is) {
      case 'attribute':
        return this.changed(ref.kind, ref.attribute, ref.agent);
      case 'machine':
        return this.changed(ref.kind, ref.machine, ref.agent);
      case 'field':
        sharedChanges.add(ref.field.name);
        return;
      case 'variable':
        sharedChanges.add(ref.variable.name);
        return;
      case 'tally':
        sharedChanges.add(ref.tally.name);
        return;
      case 'parameter':
        sharedChanges.add(ref.parameter.name);
        return;
      case 'tie attribute':
        otherChanges.add(`${ref.attribute.name} of a tie of ${ref.network.name}`);
        return;
      case 'builtin':
        ownChanges.add(ref.which);
        return;
      default:
        return;
    }
  }

  private changed(kind: KindSymbol, { name }: Pick<AttributeSymbol, 'name'>, agent: LocalSymbol): void {
    if (this.acting.has(agent)) this.found.ownChanges.add(name);
    else this.found.otherChanges.add(`${name} of ${kind.name}`);
  }

  private isActing(target: Ast.Expr): boolean {
    const ref = this.model.refs.get(target);
    return ref?.is === 'local' && this.acting.has(ref.local);
  }
}

function ridingWords({ is, rider }: Ast.StatementOf<'board' | 'alight'>): string {
  if (rider) return is === 'board' ? 'take others on' : 'set others down';
  return is;
}
