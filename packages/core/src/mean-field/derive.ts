import type { Span } from '../diagnostics.ts';
import type { CheckedModel, KindSymbol, LocalSymbol, MachineSymbol, ParameterSymbol } from '../language/checked.ts';
import type * as Ast from '../language/syntax.ts';
import { partsOf } from '../language/syntax.ts';
import { log } from '../math.ts';
import type { AgentClass } from './classes.ts';
import { AgentClasses, stateNamed, transitionsOf } from './classes.ts';
import type { Outcome } from './effects.ts';
import { EffectReader } from './effects.ts';
import { fractionOf } from './formula.ts';
import type { Roles, Term } from './terms.ts';
import { argumentsOf, CERTAIN, constantTerm, mapped, NO_ROLES, NotDerived, TermReader, times } from './terms.ts';

/** Agents that change, come or go at a rate: what becomes of one is the same as of all others of its class. */
export interface Flow {
  /** Whose number the rate is of; two for a meeting of two. Absent for what comes about by itself. */
  readonly per: readonly AgentClass[];
  /** Each time: who changes from one class into another, or goes, and who is new. */
  readonly moves: readonly { readonly from: AgentClass; readonly to?: AgentClass }[];
  readonly born: readonly { readonly agents: AgentClass; readonly count: Term }[];
  /** For one agent, or one pair, in base units of time. */
  readonly rate: Term;
  /** The kind by whose number a rate of meetings is divided. */
  readonly among?: KindSymbol;
}

/** A duration that is a row of stages, each left at the same rate. */
export interface Stages {
  readonly transition: Ast.Transition;
  readonly machine: MachineSymbol;
  readonly kind: KindSymbol;
  readonly state: number;
  readonly count: Term;
  /** Of leaving a stage. */
  readonly rate: Term;
  /** Where agents go from the last one. */
  readonly to: readonly { readonly state: number; readonly share: Term }[];
}

/** Agents at the start. */
interface StartNumbers {
  readonly kind: KindSymbol;
  readonly count: Term;
  readonly exact: readonly { readonly machine: MachineSymbol; readonly state: number; readonly count: Term }[];
  readonly beginnings: readonly { readonly agents: AgentClass; readonly share: Term }[];
}

/** A parameter that has another value for a time, in base units of time; without an end it keeps it. */
interface Override {
  readonly parameter: ParameterSymbol;
  readonly value: Term;
  readonly from: Term;
  readonly to?: Term;
}

/** The well-mixed limit of a model: what happens to very many agents in very short steps if everybody can meet everybody. */
export interface MeanField {
  readonly model: CheckedModel;
  readonly classes: AgentClasses;
  readonly starts: readonly StartNumbers[];
  readonly flows: readonly Flow[];
  readonly stages: readonly Stages[];
  readonly overrides: readonly Override[];
  /** Attributes, variables and parameters that rules change: what reads them has no limit. */
  readonly written: ReadonlySet<object>;
  /** Why a run may differ from it however many agents there are. */
  readonly reasons: readonly string[];
}

/** Why a model has no such limit that could be derived. */
export interface Obstacle {
  readonly span: Span;
  readonly message: string;
}

/** Classes that are told apart at most. */
const MOST_CLASSES = 120;

/**
 * Derives the well-mixed limit of a model from its state machines, from meetings by `mixing` or of `anyone`, and from agents that come and go by chance.
 * @returns the limit, or every place that stands in its way
 */
export function deriveMeanField(model: CheckedModel): MeanField | { readonly obstacles: readonly Obstacle[] } {
  const size = model.kinds.reduce(
    (sum, { machines }) => sum + machines.reduce((product, { states }) => product * states.length, 1),
    0,
  );
  if (size > MOST_CLASSES)
    return {
      obstacles: [
        {
          span: model.kinds[0]!.span,
          message: `There are ${size} combinations of states, too many to set up equations for.`,
        },
      ],
    };
  return new Derivation(model).derive();
}

class Derivation {
  private readonly classes: AgentClasses;
  private readonly terms: TermReader;
  private readonly effects: EffectReader;
  private readonly obstacles: Obstacle[] = [];
  private readonly flows: Flow[] = [];
  private readonly stages: Stages[] = [];
  private readonly starts: StartNumbers[] = [];
  private readonly overrides: Override[] = [];
  private readonly reasons = new Set<string>();

  constructor(private readonly model: CheckedModel) {
    this.classes = new AgentClasses(model);
    this.terms = new TermReader(model, this.classes);
    this.effects = new EffectReader(this.terms);
  }

  derive(): MeanField | { readonly obstacles: readonly Obstacle[] } {
    const { model } = this;
    for (const kind of model.kinds) this.kind(kind);
    for (const { part, roles } of model.interactions) this.attempt(() => this.interaction(part, roles));
    for (const part of partsOf(model.tree, 'behaviour')) this.attempt(() => this.effects.mustChangeNobody(part.body));
    for (const part of partsOf(model.tree, 'timeline'))
      for (const line of part.lines) this.attempt(() => this.timeline(line));
    this.changing();
    if (this.obstacles.length > 0) return { obstacles: this.obstacles };
    if (this.flows.length === 0 && this.stages.length === 0)
      return {
        obstacles: [
          {
            span: { start: 0, end: 1 },
            message: 'No state or number of agents changes by rates, chances or meetings.',
          },
        ],
      };
    for (const [attribute, kind] of this.terms.averaged)
      this.reasons.add(
        `Agents of ${kind.name} differ in ${attribute.name}; the equations give all of them its mean, so they miss that those with more of it are the first to change.`,
      );
    const { classes, starts, flows, stages, overrides } = this;
    return {
      model,
      classes,
      starts,
      flows,
      stages,
      overrides,
      written: this.effects.written,
      reasons: [...this.reasons],
    };
  }

  private attempt(step: () => void): void {
    try {
      step();
    } catch (error) {
      if (!(error instanceof NotDerived)) throw error;
      this.obstacles.push({ span: error.span, message: error.message });
    }
  }

  private kind(kind: KindSymbol): void {
    this.attempt(() => this.start(kind));
    for (const machine of kind.machines)
      machine.states.forEach((_, state) => {
        for (const { transition, group } of transitionsOf(machine, state))
          this.attempt(() => this.transition(kind, machine, state, transition, group !== undefined));
      });
    for (const behaviour of kind.part.behaviours) this.attempt(() => this.behaviour(kind, behaviour));
    for (const { body } of kind.part.reactions) this.attempt(() => this.effects.mustChangeNobody(body));
  }

  private start(kind: KindSymbol): void {
    const exact = kind.machines.flatMap((machine) =>
      machine.part.start
        .filter((share) => share.exact)
        .map(({ share, state, span }) => {
          const to = stateNamed(machine, state.key);
          if (typeof share === 'string' || typeof to !== 'number')
            throw new NotDerived(span, 'How many begin in this state is not told by a number.');
          return { machine, state: to, count: this.terms.term(share, NO_ROLES) };
        }),
    );
    const beginnings = this.effects.beginnings(kind);
    for (const { count, span } of kind.part.starts) {
      if (count.is === 'table' || count.is === 'every cell')
        throw new NotDerived(span, 'How many begin is told by a table or by cells.');
      this.starts.push({ kind, count: this.terms.term(count, NO_ROLES), exact, beginnings });
    }
  }

  private transition(
    kind: KindSymbol,
    machine: MachineSymbol,
    state: number,
    transition: Ast.Transition,
    isOfGroup: boolean,
  ): void {
    const { trigger, span } = transition;
    for (const agents of this.classes.of(kind)) {
      if (agents.states[machine.index] !== state) continue;
      const roles: Roles = new Map([[kind.self, { agent: agents }]]);
      if (trigger === 'on') throw new NotDerived(span, 'This change comes with a message; the limit knows none.');
      const when = transition.when ? this.terms.term(transition.when, roles) : CERTAIN;
      if (when.constant === 0) continue;
      if (trigger === 'when') {
        if (this.terms.term(transition.value, roles).constant === 0) continue;
        throw new NotDerived(span, 'This change comes when a condition holds, for all at once; the limit knows rates.');
      }
      const targets = this.effects
        .shared(transition.targets)
        .flatMap(({ share, state: key }) =>
          this.effects
            .entries(machine, stateNamed(machine, key))
            .map((entry) => ({ state: entry.state, share: times(share, entry.share) })),
        );
      if (trigger === 'after') {
        this.duration(kind, machine, state, transition, { roles, when, targets, isOfGroup });
        continue;
      }
      const value = this.terms.term(transition.value, roles);
      const rate = times(when, trigger === 'rate' ? value : this.rateOfChance(value, span));
      for (const outcome of this.effects.outcomes(transition.block, roles))
        for (const { state: to, share } of targets)
          this.changed(
            [agents],
            { ...outcome, roles: this.withState(outcome.roles, kind, machine, to) },
            roles,
            times(rate, share),
          );
    }
  }

  private withState(roles: Roles, kind: KindSymbol, machine: MachineSymbol, state: number): Roles {
    const agent = this.terms.agent(kind.self, machine.span, roles);
    return new Map([...roles, [kind.self, { agent: this.classes.moved(agent, machine, state) }]]);
  }

  /** A duration is a rate if it is exponential, a row of stages if it is gamma with a whole shape; no other has equations like these. */
  private duration(
    kind: KindSymbol,
    machine: MachineSymbol,
    state: number,
    transition: Ast.Transition,
    told: {
      readonly roles: Roles;
      readonly when: Term;
      readonly targets: readonly { readonly state: number; readonly share: Term }[];
      readonly isOfGroup: boolean;
    },
  ): void {
    const { value, span, block } = transition;
    if (value.is !== 'call' || !(value.name.key === 'exponential' || value.name.key === 'gamma'))
      throw new NotDerived(
        span,
        'Only an exponential duration, or a gamma one with a whole shape, has equations of this form; this one looks back in time.',
      );
    if (told.when.constant !== 1)
      throw new NotDerived(span, 'A duration that ends only under a condition has no equation of this form.');
    const [mean, shape] = argumentsOf(value).map((arg) => this.terms.term(arg, told.roles));
    this.effects.mustChangeNobody(block);
    const isExponential = value.name.key === 'exponential';
    if (isExponential) {
      const rate = mapped(mean!, (x) => 1 / x, fractionOf(CERTAIN.formula, mean!.formula));
      const agents = told.roles.get(kind.self)!;
      if (!('agent' in agents)) return;
      for (const { state: to, share } of told.targets)
        this.changed(
          [agents.agent],
          { chance: CERTAIN, roles: this.withState(told.roles, kind, machine, to), gone: [], born: [] },
          told.roles,
          times(rate, share),
        );
      return;
    }
    if (told.isOfGroup)
      throw new NotDerived(span, 'A duration of several states together has no equation of this form.');
    const known = this.stages.find((each) => each.machine === machine && each.state === state);
    if (known && known.transition !== transition)
      throw new NotDerived(span, 'Two durations of one state have no equation of this form.');
    if (known) return;
    if (this.stages.some((each) => each.kind === kind && each.machine !== machine))
      throw new NotDerived(span, 'Two machines of one kind with such durations have no equations that could be read.');
    this.stages.push({
      transition,
      machine,
      kind,
      state,
      count: shape!,
      rate: {
        formula: fractionOf(shape!.formula, mean!.formula),
        at: (moment) => shape!.at(moment) / mean!.at(moment),
      },
      to: told.targets,
    });
  }

  /** The rate that has the same effect as a chance in each step. */
  private rateOfChance(chance: Term, span: Span): Term {
    const { stepLength } = this.model.clock;
    if (chance.constant !== undefined && chance.constant >= 1)
      throw new NotDerived(span, 'This happens to all in one step; the limit knows rates.');
    return mapped(chance, (p) => -log(Math.max(0, 1 - p)) / stepLength, {
      is: 'fraction',
      top: {
        is: 'function',
        name: '−log',
        args: [
          {
            is: 'sum',
            terms: [
              { isLess: false, of: CERTAIN.formula },
              { isLess: true, of: chance.formula },
            ],
          },
        ],
      },
      bottom: this.stepFormula(),
    });
  }

  private stepFormula() {
    const { unit, stepLength } = this.model.clock;
    const steps = Number((stepLength / unit.factor).toPrecision(6));
    return { is: 'number', text: `${steps} ${steps === 1 ? unit.label.replace(/s$/, '') : unit.label}` } as const;
  }

  /** Where agents come or go, or change, by chance in each step. */
  private behaviour(kind: KindSymbol, { body, every, when, span }: Ast.BehaviourPart): void {
    // What nobody's state hangs on need not be understood.
    if (!this.effects.changes(body)) return this.effects.mustChangeNobody(body);
    for (const agents of this.classes.of(kind)) {
      const roles: Roles = new Map([[kind.self, { agent: agents }]]);
      const outcomes = this.effects.outcomes(body, roles);
      const gate = when ? this.effects.gate(when, roles) : { first: CERTAIN, chance: CERTAIN };
      for (const outcome of outcomes) {
        const isChange =
          outcome.gone.length > 0 ||
          outcome.born.length > 0 ||
          this.terms.agent(kind.self, span, outcome.roles) !== agents;
        if (!isChange) continue;
        if (every) throw new NotDerived(span, 'This happens once in a while for all at once; the limit knows rates.');
        const chance = times(gate.first, gate.chance, outcome.chance);
        const stays = outcome.gone.length === 0 && this.terms.agent(kind.self, span, outcome.roles) === agents;
        const rate = stays ? this.perStep(chance) : this.rateOfChance(chance, span);
        this.changed([agents], { ...outcome, chance: CERTAIN }, roles, rate);
      }
    }
  }

  /** What happens so many times a step on average, as a rate. */
  private perStep(count: Term): Term {
    const { stepLength } = this.model.clock;
    return mapped(count, (x) => x / stepLength, fractionOf(count.formula, this.stepFormula()));
  }

  private interaction(part: Ast.InteractionPart, [actor, partner]: readonly [LocalSymbol, LocalSymbol]): void {
    const { partner: whom, luck, where } = part;
    if (!this.effects.changes(part.body)) return this.effects.mustChangeNobody(part.body);
    const kindOf = (local: LocalSymbol): KindSymbol | undefined =>
      this.model.kinds.find(({ name }) => name === (local.type.is === 'agent' ? local.type.kind : undefined));
    const kinds = [kindOf(actor), kindOf(partner)] as const;
    const meets = this.meetings(part);
    for (const a of this.classes.of(kinds[0]!))
      for (const b of this.classes.of(kinds[1]!)) {
        const roles: Roles = new Map([
          [actor, { agent: a }],
          [partner, { agent: b }],
        ]);
        const fits = where ? this.terms.term(where, roles) : CERTAIN;
        if (fits.constant === 0) continue;
        const outcomes = this.effects.outcomes(part.body, roles);
        const isChange = outcomes.some(
          ({ roles: after, gone, born }) =>
            gone.length > 0 ||
            born.length > 0 ||
            this.terms.agent(actor, part.span, after) !== a ||
            this.terms.agent(partner, part.span, after) !== b,
        );
        if (!isChange) continue;
        if (meets === undefined)
          throw new NotDerived(
            whom.span,
            'Whom one meets here is told by space or ties; only “mixing” and “anyone” have a well-mixed limit.',
          );
        const chance = luck ? this.terms.term(luck.value, roles) : CERTAIN;
        const rate = meets.isOfPairs
          ? times(luck?.is === 'rate' ? chance : this.rateOfChance(chance, part.span), meets.count)
          : times(meets.count, chance);
        for (const outcome of outcomes)
          this.changed([a, b], outcome, roles, times(fits, rate), meets.isOfPairs ? undefined : kinds[1]);
      }
  }

  /** How many meetings an agent has in a unit of time, or that every pair meets; nothing where space or ties decide. */
  private meetings({
    partner,
    oncePerPair,
    roles,
  }: Ast.InteractionPart): { readonly isOfPairs: boolean; readonly count: Term } | undefined {
    if (partner.is === 'mixing') {
      const type = this.model.types.get(partner.count);
      const count = this.terms.term(partner.count, NO_ROLES);
      const tied = partner.sources.find(({ reach }) => reach.is !== 'anyone');
      if (tied)
        this.reasons.add(
          `Meetings are ${tied.reach.name ? `along ${tied.reach.name.text}` : 'with those near by'}, where the same few meet again and again; the equations let everybody meet everybody.`,
        );
      return {
        isOfPairs: false,
        count: type?.is === 'number' && type.dim?.['time'] === -1 ? count : this.perStep(count),
      };
    }
    if (partner.reach.is !== 'anyone' || partner.howMany !== undefined) return undefined;
    if (partner.pick === 'random') return { isOfPairs: false, count: this.perStep(CERTAIN) };
    if (partner.pick) return undefined;
    const isHalf = oncePerPair && roles[0].kind.key === roles[1].kind.key;
    return { isOfPairs: true, count: isHalf ? constantTerm(0.5) : CERTAIN };
  }

  /** A flow for each way in which something comes out. */
  private changed(per: readonly AgentClass[], outcome: Outcome, before: Roles, rate: Term, among?: KindSymbol): void {
    const whole = times(rate, outcome.chance);
    if (whole.constant === 0) return;
    const moves: Flow['moves'][number][] = [];
    for (const [local, role] of before) {
      if (!('agent' in role)) continue;
      const after = this.terms.agent(local, role.agent.kind.span, outcome.roles);
      if (outcome.gone.includes(local)) moves.push({ from: role.agent });
      else if (after !== role.agent) moves.push({ from: role.agent, to: after });
    }
    if (moves.length + outcome.born.length === 0) return;
    this.flows.push({ per, moves, born: outcome.born, rate: whole, ...(among ? { among } : {}) });
  }

  /** Values that are laid over parameters at known times are known; any other change of one is like that by a rule. */
  private timeline({ when, body }: Ast.TimelineLine): void {
    for (const statement of body) {
      const override = this.overrideOf(when, statement);
      if (override) this.overrides.push(override);
      else this.effects.mustChangeNobody(statement);
    }
  }

  private overrideOf(when: Ast.TimelineWhen, statement: Ast.Statement): Override | undefined {
    const ref = statement.is === 'assign' ? this.terms.refOf(statement.target) : undefined;
    if (statement.is !== 'assign' || statement.op !== '=' || ref?.is !== 'parameter') return undefined;
    const number = (expr: Ast.Expr): Term => this.terms.term(expr, NO_ROLES);
    const { parameter } = ref;
    try {
      return overrideAt(when, parameter, number(statement.value), number);
    } catch (error) {
      if (error instanceof NotDerived) return undefined;
      throw error;
    }
  }

  /** Nothing that equations read may be written by a rule. */
  private changing(): void {
    for (const symbol of this.terms.read) {
      if (!this.effects.written.has(symbol)) continue;
      const { name, span } = symbol as { name: string; span: Span };
      this.obstacles.push({
        span,
        message: `“${name}” changes during a run, and what happens to agents depends on it.`,
      });
    }
  }
}

/** When a value is laid over a parameter, if that is known before the run. */
function overrideAt(
  when: Ast.TimelineWhen,
  parameter: ParameterSymbol,
  value: Term,
  number: (expr: Ast.Expr) => Term,
): Override | undefined {
  switch (when.is) {
    case 'from':
      return { parameter, value, from: number(when.from), to: number(when.to) };
    case 'at':
      return { parameter, value, from: number(when.time) };
    case 'at start':
      return { parameter, value, from: constantTerm(0) };
    default:
      return undefined;
  }
}
