import type { KindSymbol, LocalSymbol, MachineSymbol } from '../language/checked.ts';
import type * as Ast from '../language/syntax.ts';
import type { AgentClass } from './classes.ts';
import { stateNamed } from './classes.ts';
import { rest } from './formula.ts';
import type { Roles, Term, TermReader } from './terms.ts';
import { argumentsOf, CERTAIN, mapped, NotDerived, times } from './terms.ts';

/** What a rule may come to: with which chance, and who is then in which class, gone, or new. */
export interface Outcome {
  readonly chance: Term;
  readonly roles: Roles;
  readonly gone: readonly LocalSymbol[];
  readonly born: readonly { readonly agents: AgentClass; readonly count: Term }[];
}

/** A state that is come into, with its share. */
export interface Entry {
  readonly state: number;
  readonly share: Term;
}

/** Reads what rules do to states and numbers of agents. What else they write is noted, as nothing that is read may change. */
export class EffectReader {
  readonly written = new Set<object>();

  constructor(private readonly terms: TermReader) {}

  /** The ways in which a block can come out. @throws NotDerived where that depends on more than the limit knows */
  outcomes(block: Ast.Block, roles: Roles): Outcome[] {
    return this.after([{ chance: CERTAIN, roles, gone: [], born: [] }], block);
  }

  private after(outcomes: readonly Outcome[], block: Ast.Block): Outcome[] {
    return block.reduce<Outcome[]>(
      (found, statement) => found.flatMap((outcome) => this.statement(outcome, statement)),
      [...outcomes],
    );
  }

  private statement(outcome: Outcome, statement: Ast.Statement): Outcome[] {
    switch (statement.is) {
      case 'let': {
        const local = this.terms.model.locals.get(statement);
        const { roles } = outcome;
        return [
          local ? { ...outcome, roles: new Map([...roles, [local, { value: statement.value, roles }]]) } : outcome,
        ];
      }
      case 'assign':
        return this.assign(outcome, statement);
      case 'if':
        return this.branches(outcome, statement);
      case 'create':
        return this.create(outcome, statement);
      case 'remove':
        return this.remove(outcome, statement);
      case 'do': {
        const routine = this.terms.model.routines.get(statement);
        if (!routine) throw new NotDerived(statement.span, 'This routine has no part in the limit.');
        const roles = new Map(outcome.roles);
        routine.inputs.forEach((input, i) => roles.set(input, { value: routine.values[i]!, roles: outcome.roles }));
        return this.after([{ ...outcome, roles }], routine.body);
      }
      default:
        this.mustChangeNobody(statement);
        return [outcome];
    }
  }

  private assign(outcome: Outcome, { target, op, value, span }: Ast.StatementOf<'assign'>): Outcome[] {
    const ref = this.terms.refOf(target);
    if (ref?.is !== 'machine') {
      this.noteWritten(target);
      return [outcome];
    }
    const agent = this.terms.agent(ref.agent, span, outcome.roles);
    const to = op === '=' ? this.stateOf(value, ref.machine) : undefined;
    if (to === undefined) throw new NotDerived(span, 'Which state is come into depends on more than states.');
    if (agent.states[ref.machine.index] === to) return [outcome];
    return this.entries(ref.machine, to).map(({ state, share }) => ({
      ...outcome,
      chance: times(outcome.chance, share),
      roles: new Map([...outcome.roles, [ref.agent, { agent: this.terms.classes.moved(agent, ref.machine, state) }]]),
    }));
  }

  private stateOf(value: Ast.Expr, machine: MachineSymbol): ReturnType<typeof stateNamed> | undefined {
    const ref = this.terms.refOf(value);
    if (ref?.is === 'group') return ref.group;
    return ref?.is === 'option' && ref.option < machine.states.length ? ref.option : undefined;
  }

  private branches(outcome: Outcome, { condition, then, else: otherwise = [] }: Ast.StatementOf<'if'>): Outcome[] {
    if (!this.changes(then) && !this.changes(otherwise)) {
      this.mustChangeNobody({ then, otherwise });
      return [outcome];
    }
    const { chance, first } = this.gate(condition, outcome.roles);
    if (first.constant === 0 || chance.constant === 0) return this.after([outcome], otherwise);
    const holds = times(first, chance);
    const yes = this.after([{ ...outcome, chance: times(outcome.chance, holds) }], then);
    if (holds.constant === 1) return yes;
    const no = this.after([{ ...outcome, chance: times(outcome.chance, less(holds)) }], otherwise);
    return [...yes, ...no];
  }

  /** A condition, and the chance that is drawn as part of it. */
  gate(condition: Ast.Expr, roles: Roles): { readonly first: Term; readonly chance: Term } {
    if (condition.is === 'brackets') return this.gate(condition.value, roles);
    if (condition.is === 'call' && condition.name.key === 'chance')
      return { first: CERTAIN, chance: this.terms.term(argumentsOf(condition)[0]!, roles) };
    if (condition.is === 'binary' && condition.op === 'and') {
      const [left, right] = [this.gate(condition.left, roles), this.gate(condition.right, roles)];
      return { first: times(left.first, right.first), chance: times(left.chance, right.chance) };
    }
    return { first: this.terms.term(condition, roles), chance: CERTAIN };
  }

  private create(outcome: Outcome, statement: Ast.StatementOf<'create'>): Outcome[] {
    const kind = this.terms.model.kindOf.get(statement);
    if (!kind) throw new NotDerived(statement.span, 'Who is created here has no part in the limit.');
    const given = new Map<MachineSymbol, ReturnType<typeof stateNamed>>();
    for (const line of statement.block) {
      if (line.is !== 'assign')
        throw new NotDerived(line.span, 'New agents are made in a way that the limit does not know.');
      const ref = this.terms.refOf(line.target);
      const to = ref?.is === 'machine' ? this.stateOf(line.value, ref.machine) : undefined;
      if (ref?.is === 'machine' && to !== undefined) given.set(ref.machine, to);
      else this.noteWritten(line.target);
    }
    const count = this.terms.term(statement.count, outcome.roles);
    const born = this.beginnings(kind, given).map(({ agents, share }) => ({ agents, count: times(count, share) }));
    return [{ ...outcome, born: [...outcome.born, ...born] }];
  }

  private remove(outcome: Outcome, { target, span }: Ast.StatementOf<'remove'>): Outcome[] {
    const ref = this.terms.refOf(target);
    if (ref?.is !== 'local') throw new NotDerived(span, 'Who is removed here has no part in the limit.');
    this.terms.agent(ref.local, span, outcome.roles);
    return [{ ...outcome, gone: [...outcome.gone, ref.local] }];
  }

  /** The classes in which new agents of a kind begin, with their shares. */
  beginnings(
    kind: KindSymbol,
    given: ReadonlyMap<MachineSymbol, ReturnType<typeof stateNamed>> = new Map(),
  ): { readonly agents: AgentClass; readonly share: Term }[] {
    const found = kind.machines.reduce<{ states: number[]; share: Term }[]>(
      (begun, machine) =>
        begun.flatMap(({ states, share }) =>
          this.entries(machine, given.get(machine) ?? machine.part).map((entry) => ({
            states: [...states, entry.state],
            share: times(share, entry.share),
          })),
        ),
      [{ states: [], share: CERTAIN }],
    );
    return found.map(({ states, share }) => ({ agents: this.terms.classes.at(kind, states), share }));
  }

  /** The states in which a machine, a group or a state is come into. */
  entries(machine: MachineSymbol, at: ReturnType<typeof stateNamed> | Ast.StatesPart): Entry[] {
    if (typeof at === 'number') {
      this.mustChangeNobody(this.enteringLines(machine, at));
      return [{ state: at, share: CERTAIN }];
    }
    const part = 'members' in at ? at.part : at;
    const shares = part.start.filter(({ exact }) => !exact);
    const conditional = shares.find(({ when }) => when);
    if (conditional) throw new NotDerived(conditional.span, 'In which state agents begin depends on more than shares.');
    const next = (key: string): Entry[] => this.entries(machine, stateNamed(machine, key));
    if (shares.length === 0) return next(part.states[0]!.name.key);
    if (shares.length === 1) return next(shares[0]!.state.key);
    return this.shared(shares).flatMap(({ share, state }) =>
      next(state).map((entry) => ({ state: entry.state, share: times(share, entry.share) })),
    );
  }

  /** Shares with the rest as a number. */
  shared(
    shares: readonly { readonly share: Ast.Expr | 'rest' | 'all'; readonly state: Ast.Name }[],
  ): { readonly share: Term; readonly state: string }[] {
    const told = shares.map(({ share, state }) => ({
      share: typeof share === 'string' ? undefined : this.terms.term(share, new Map()),
      state: state.key,
    }));
    const sum = told.flatMap(({ share }) => (share ? [share] : []));
    const left = sum.length === 0 ? CERTAIN : sum.length === 1 ? less(sum[0]!) : lessAll(sum);
    return told.map(({ share, state }) => ({ share: share ?? left, state }));
  }

  private enteringLines(machine: MachineSymbol, state: number): Ast.Block[] {
    const { part, groups } = machine.states[state]!;
    return [part, ...groups.map((group) => group.part)].flatMap(({ enter, leave }) => [...enter, ...leave]);
  }

  /** Whether a block may change states or numbers of agents, in itself or in a routine. */
  changes(block: Ast.Block): boolean {
    for (const node of nodesOf(block)) {
      if (isChange(node, this.terms)) return true;
      const routine = node.is === 'do' ? this.terms.model.routines.get(node) : undefined;
      if (routine && this.changes(routine.body)) return true;
    }
    return false;
  }

  /** Notes what is written. @throws NotDerived if anybody's state would change, or somebody come or go */
  mustChangeNobody(lines: object): void {
    for (const node of nodesOf(lines)) {
      if (isChange(node, this.terms))
        throw new NotDerived(
          node.span,
          'States or numbers of agents change here in a way that is no rate, chance or meeting.',
        );
      if (node.is === 'assign') this.noteWritten((node as Ast.StatementOf<'assign'>).target);
      if (node.is === 'do') {
        const routine = this.terms.model.routines.get(node);
        if (routine) this.mustChangeNobody(routine.body);
      }
    }
  }

  noteWritten(target: Ast.Expr): void {
    const ref = this.terms.refOf(target);
    if (ref?.is === 'attribute') this.written.add(ref.attribute);
    if (ref?.is === 'variable') this.written.add(ref.variable);
    if (ref?.is === 'parameter') this.written.add(ref.parameter);
  }
}

function less(share: Term): Term {
  return mapped(share, (x) => 1 - x, rest(share.formula));
}

function lessAll(shares: readonly Term[]): Term {
  return {
    formula: {
      is: 'sum',
      terms: [{ isLess: false, of: CERTAIN.formula }, ...shares.map(({ formula }) => ({ isLess: true, of: formula }))],
    },
    at: (moment) => shares.reduce((left, share) => left - share.at(moment), 1),
  };
}

interface SyntaxNode {
  readonly is: string;
  readonly span: Ast.Expr['span'];
}

/** Everything in a piece of a syntax tree that is told apart by `is`. */
function* nodesOf(tree: unknown): Generator<SyntaxNode> {
  if (typeof tree !== 'object' || tree === null) return;
  if ('is' in tree && typeof tree.is === 'string' && 'span' in tree) yield tree as SyntaxNode;
  for (const part of Object.values(tree)) yield* nodesOf(part);
}

function isChange(node: SyntaxNode, terms: TermReader): boolean {
  if (node.is === 'create' || node.is === 'remove') return true;
  return node.is === 'assign' && terms.refOf((node as Ast.StatementOf<'assign'>).target)?.is === 'machine';
}
