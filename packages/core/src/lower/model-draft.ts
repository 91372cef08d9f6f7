import type { Progress } from '../diagnostics.ts';
import { attributeWidth } from '../language/check-sizes.ts';
import type { AttributeSymbol, CheckedModel, MachineSymbol, KindSymbol } from '../language/checked.ts';
import { joined } from '../language/format.ts';
import type * as Ast from '../language/syntax.ts';
import type { AskedBody, RulePlan, ValueBody, JourneyColumn } from '../plan/plan.ts';
import { hearsArrivals } from './arrivals.ts';
import { Draft } from './draft.ts';
import type { ColumnRange, Lowering, Standing, Verbs } from './draft.ts';
import { lowerValue } from './expression.ts';
import { lowerCentre, lowerPick } from './query.ts';
import { lowerBlock, lowerValueBody } from './statement.ts';

/** Agents that are there already, by kind: they stand in the place of its start lines. States by machine. */
export type Births = ReadonlyMap<
  string,
  {
    readonly x: readonly number[];
    readonly y: readonly number[];
    readonly direction: readonly number[];
    readonly states: ReadonlyMap<string, readonly number[]>;
  }
>;

export const NO_BIRTHS: Births = new Map();

const NO_STANDING: Standing = {};

const VERBS: Verbs = { value: lowerValue, pick: lowerPick, centre: lowerCentre, block: lowerBlock };

/** The columns of a kind that travels, takes lines, or is one of vehicles of lines, after those of its machines. */
function journeyColumnsOf(
  model: CheckedModel,
  kind: KindSymbol,
  first: number,
): Partial<Record<JourneyColumn, number>> {
  if (kind.space?.form !== 'map') return {};
  const takes = model.takers.has(kind);
  const serves = model.lines.some((line) => line.kind === kind);
  const names: JourneyColumn[] = [
    'travelled',
    ...(takes ? (['waits', 'aim', 'goal x', 'goal y', 'pace'] as const) : []),
    ...(serves ? (['line', 'stop', 'leaves', 'departs'] as const) : []),
  ];
  return Object.fromEntries(names.map((name, i) => [name, first + i]));
}

/** Gives each duration of a machine its column: states, of which one is in one at a time, share them; groups and the time of entry have their own. */
function dueColumnsOf(machine: MachineSymbol, first: number, columns: Map<object, number>, isTimed: boolean): number {
  let next = first;
  const durations = (part: Ast.StatePart): Ast.Transition[] => part.transitions.filter((t) => t.trigger === 'after');
  for (const state of machine.states) {
    durations(state.part).forEach((transition, i) => columns.set(transition, first + i));
    next = Math.max(next, first + durations(state.part).length);
  }
  for (const group of machine.groups) for (const transition of durations(group.part)) columns.set(transition, next++);
  if (isTimed) columns.set(machine, next++);
  if (hearsArrivals(machine)) columns.set(machine.part, next++);
  return next;
}

/** What is gathered while a whole model is lowered: where its columns lie, bodies that the run asks for, rules, tables. */
export class ModelDraft {
  readonly shared: Lowering;
  readonly counterTotal: number;
  readonly rules: RulePlan[] = [];
  readonly finals: AskedBody[] = [];
  readonly askedBodies: AskedBody[] = [];
  readonly dueCounts: number[] = [];
  readonly journeyColumns: Partial<Record<JourneyColumn, number>>[] = [];
  /** Machines that some rule sets in others all at once. */
  readonly changed = new Set<object>();
  readonly tables: (readonly (readonly number[])[])[] = [];

  constructor(
    readonly model: CheckedModel,
    readonly births: Births,
    progress: Progress,
  ) {
    const counters = new Map<object, number>();
    const dueColumns = new Map<object, number>();
    const columns = new Map<AttributeSymbol, ColumnRange>();
    let counter = 0;
    for (const kind of model.kinds) {
      let due = 0;
      for (const machine of kind.machines) {
        counters.set(machine, counter);
        counter += machine.states.length + machine.groups.length;
        due = dueColumnsOf(machine, due, dueColumns, model.timedMachines.has(machine));
      }
      const journey = journeyColumnsOf(model, kind, due);
      this.journeyColumns.push(journey);
      this.dueCounts.push(due + Object.keys(journey).length);
      let first = 0;
      for (const attribute of kind.attributes) {
        const width = attributeWidth(attribute);
        columns.set(attribute, { first, width });
        first += width;
      }
    }
    this.counterTotal = counter;
    this.shared = {
      model,
      sites: [],
      counters,
      dueColumns,
      journeyColumns: this.journeyColumns,
      columns,
      keptByCell: new Set(),
      progress,
      journeys: [],
    };
  }

  draft(rule: string, standing: Standing = NO_STANDING): Draft {
    return new Draft(this.shared, rule, standing, VERBS);
  }

  value(expr: Ast.Expr, rule: string, standing?: Standing): ValueBody {
    return lowerValueBody(this.draft(rule, standing), expr);
  }

  /** A value that the run itself asks for. */
  asked(expr: Ast.Expr, rule: string, standing?: Standing): AskedBody {
    return this.ask(this.value(expr, rule, standing));
  }

  askNumber(value: number): AskedBody {
    return this.ask({ statements: [], value: { op: 'number', value }, locals: 0 });
  }

  ask(body: ValueBody): AskedBody {
    const asked = { ...body, id: this.askedBodies.length };
    this.askedBodies.push(asked);
    return asked;
  }

  /** A piece of the text in its usual layout, on one line. */
  words(span: { start: number; end: number }): string {
    return joined(
      this.model.lexed.tokens.filter(
        (token) => token.span.start >= span.start && token.span.end <= span.end && token.text !== '',
      ),
      this.model.uses,
    );
  }
}
