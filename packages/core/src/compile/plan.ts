import type { Span } from '../diagnostics.ts';

/**
 * The plan of a model: its rules as statements over numbered columns, locals and draws, with nothing left to look up.
 * Expressions are pure and cheap; whatever loops or draws luck is a statement that leaves its result in a local.
 * A place is a pair of expressions. A truth value is 1 or 0, a choice its index, an agent a reference held in a local.
 */

export type PureFunction =
  | 'abs' | 'min' | 'max' | 'clip' | 'mod' | 'round' | 'floor' | 'ceiling' | 'sqrt' | 'exp' | 'log' | 'sin' | 'cos' | 'tan' | 'swing' | 'power'
  | 'chance of rate' | 'heading';
export type Law =
  | 'uniform' | 'normal' | 'lognormal' | 'exponential' | 'gamma' | 'beta' | 'weibull' | 'triangular' | 'poisson' | 'binomial' | 'whole' | 'chance' | 'unit';
export type BinaryFunction = '+' | '-' | '*' | '/' | '<' | '<=' | '>' | '>=' | 'is' | 'is not' | 'and' | 'or';
export type ClockValue = 'now' | 'step length' | 'end of step' | 'hour' | 'weekday' | 'month' | 'year' | 'day of year' | 'date';

/** Which agent: a local holds it. `own` is the acting agent, whose own writes it sees also all at once (S17). */
export interface AgentRef {
  readonly local: number;
  readonly own: boolean;
  /** Created in this very turn: its columns are written directly, whatever the mode. */
  readonly fresh?: boolean;
}

export type Expr =
  | { readonly op: 'number'; readonly value: number }
  | { readonly op: 'local'; readonly local: number }
  | { readonly op: 'parameter'; readonly index: number }
  | { readonly op: 'variable'; readonly index: number }
  | { readonly op: 'clock'; readonly which: ClockValue }
  | { readonly op: 'size'; readonly axis: 'width' | 'height' }
  | { readonly op: 'attribute'; readonly kind: number; readonly column: number; readonly agent: AgentRef }
  | { readonly op: 'state'; readonly kind: number; readonly machine: number; readonly agent: AgentRef }
  | { readonly op: 'due'; readonly kind: number; readonly column: number; readonly agent: AgentRef }
  | { readonly op: 'position'; readonly kind: number; readonly axis: 'x' | 'y' | 'direction'; readonly agent: AgentRef }
  | { readonly op: 'number of'; readonly kind: number; readonly agent: AgentRef }
  | { readonly op: 'same agent'; readonly a: AgentRef; readonly b: AgentRef }
  | { readonly op: 'field'; readonly field: number; readonly x: Expr; readonly y: Expr }
  | { readonly op: 'cell'; readonly field: number }
  | { readonly op: 'not'; readonly value: Expr }
  | { readonly op: 'minus'; readonly value: Expr }
  | { readonly op: 'binary'; readonly fn: BinaryFunction; readonly left: Expr; readonly right: Expr }
  | { readonly op: 'choose'; readonly condition: Expr; readonly then: Expr; readonly else: Expr }
  | { readonly op: 'call'; readonly fn: PureFunction; readonly args: readonly Expr[] }
  | { readonly op: 'distance' | 'bearing'; readonly ax: Expr; readonly ay: Expr; readonly bx: Expr; readonly by: Expr }
  /** Stops the run at the site unless the value is finite. */
  | { readonly op: 'finite'; readonly value: Expr; readonly site: number }
  | { readonly op: 'count of kind'; readonly kind: number }
  | { readonly op: 'measure'; readonly index: number }
  | { readonly op: 'flow'; readonly which: 'entered' | 'left'; readonly counter: number }
  | { readonly op: 'field mean'; readonly field: number; readonly fn: 'sum' | 'mean' | 'min' | 'max' | 'median' | 'sd' | 'quantile'; readonly level?: Expr };

export type Reach =
  | { readonly is: 'all' }
  | { readonly is: 'within'; readonly distance: Expr; readonly x: Expr; readonly y: Expr }
  | { readonly is: 'here'; readonly x: Expr; readonly y: Expr }
  | { readonly is: 'next to'; readonly x: Expr; readonly y: Expr };

export interface Code {
  readonly statements: readonly Statement[];
  readonly value: Expr;
}

export interface Query {
  readonly kind: number;
  readonly reach: Reach;
  /** The local that holds the candidate while `where` and the body run. */
  readonly candidate: number;
  /** The local of the asking agent, if it is of the kind asked for: never a candidate (S9). */
  readonly except?: number;
  readonly where?: Code;
}

export type WriteHow = '=' | '+=' | '*=';

export type Statement =
  | { readonly op: 'set'; readonly local: number; readonly value: Expr }
  | { readonly op: 'draw'; readonly local: number; readonly law: Law; readonly args: readonly Expr[]; readonly site: number }
  | { readonly op: 'if'; readonly condition: Expr; readonly then: readonly Statement[]; readonly else: readonly Statement[] }
  | { readonly op: 'switch'; readonly value: Expr; readonly cases: readonly (readonly Statement[])[] }
  | { readonly op: 'repeat'; readonly count: Expr; readonly body: readonly Statement[]; readonly site: number }
  | { readonly op: 'count' | 'any'; readonly local: number; readonly query: Query }
  | {
      readonly op: 'gather';
      readonly local: number;
      readonly fn: 'sum' | 'mean' | 'min' | 'max' | 'median' | 'sd' | 'quantile';
      readonly query: Query;
      readonly value: Code;
      readonly level?: Expr;
      /** Where an empty gathering stops the run; absent in measures, which are then empty. */
      readonly site?: number;
    }
  | {
      readonly op: 'pick';
      readonly local: number;
      readonly how: 'random' | 'nearest' | 'first' | 'most' | 'least';
      readonly query: Query;
      readonly by?: Code;
      readonly from?: { readonly x: Expr; readonly y: Expr };
      readonly found: readonly Statement[];
      readonly nobody: readonly Statement[];
    }
  /** Lists the candidates, then runs the body for each that is still there (and still fits, with `recheck`). */
  | { readonly op: 'each'; readonly query: Query; readonly shuffled: boolean; readonly recheck: boolean; readonly body: readonly Statement[] }
  | {
      readonly op: 'write';
      readonly kind: number;
      readonly column: number;
      readonly agent: AgentRef;
      readonly how: WriteHow;
      readonly value: Expr;
      readonly site: number;
    }
  | { readonly op: 'write field'; readonly field: number; readonly x: Expr; readonly y: Expr; readonly how: WriteHow; readonly value: Expr; readonly site: number }
  | { readonly op: 'write variable'; readonly index: number; readonly how: WriteHow; readonly value: Expr; readonly site: number }
  | { readonly op: 'write parameter'; readonly index: number; readonly value: Expr; readonly site: number }
  | { readonly op: 'become'; readonly kind: number; readonly machine: number; readonly agent: AgentRef; readonly state: number }
  | { readonly op: 'write due'; readonly kind: number; readonly column: number; readonly agent: AgentRef; readonly value: Expr; readonly site: number }
  | { readonly op: 'turn'; readonly kind: number; readonly agent: AgentRef; readonly direction: Expr; readonly site: number }
  | { readonly op: 'move by'; readonly kind: number; readonly agent: AgentRef; readonly distance: Expr; readonly site: number }
  | { readonly op: 'move to'; readonly kind: number; readonly agent: AgentRef; readonly x: Expr; readonly y: Expr; readonly site: number }
  /** Draws a cell of the grid, on a grid with one agent a cell an empty one (the run counts if there is none). */
  | { readonly op: 'draw cell'; readonly x: number; readonly y: number }
  /** Makes an agent at a place; its columns are written by the statements that follow. `found` runs if there was room. */
  | { readonly op: 'create'; readonly kind: number; readonly local: number; readonly x?: Expr; readonly y?: Expr; readonly site: number; readonly found: readonly Statement[] }
  | { readonly op: 'remove'; readonly kind: number; readonly agent: AgentRef }
  | { readonly op: 'end turn' | 'end run' };

/** A place in the text that a running model can point at. */
export interface Site {
  readonly span: Span;
  readonly rule: string;
  readonly what: string;
}

export interface Body {
  readonly statements: readonly Statement[];
  /** How many locals the body uses; local 0 holds the acting agent if there is one. */
  readonly locals: number;
}

export interface ValueBody extends Code {
  readonly locals: number;
}

export interface MachinePlan {
  readonly name: string;
  readonly states: readonly string[];
  /** First of this machine's columns of due times, and how many. */
  readonly firstDue: number;
  readonly dueCount: number;
  /** First of this machine's counters of states entered and left. */
  readonly firstCounter: number;
  /** Start shares: exactly so many in a state, in text order; the rest is drawn by `Body` of the kind. */
  readonly exact: readonly { readonly count: ValueBody; readonly state: number; readonly enter: Body }[];
}

export type ColumnType = 'number' | 'choice' | 'yes or no';

export interface ColumnPlan {
  readonly name: string;
  readonly type: ColumnType;
  readonly options?: readonly string[];
  readonly unitLabel: string;
  readonly unitFactor: number;
}

export interface KindPlan {
  readonly name: string;
  readonly columns: readonly ColumnPlan[];
  readonly machines: readonly MachinePlan[];
  readonly dueCount: number;
  /** Each start line: how many, and the making of one agent. */
  readonly starts: readonly { readonly count: ValueBody; readonly one: Body; readonly key: number; readonly site: number }[];
  readonly show?: ShowPlan;
}

export interface ShowPlan {
  readonly shape: string;
  readonly colour?: string;
  readonly scale?: readonly [string, string];
  readonly size?: ValueBody;
  /** A class index for states, choices and yes or no; else a number on a scale. */
  readonly colourBy?: ValueBody;
  readonly classes?: readonly string[];
  readonly colourTitle?: string;
}

export interface FieldPlan {
  readonly name: string;
  readonly cell?: ValueBody;
  readonly start?: ValueBody;
  readonly grow?: ValueBody;
  readonly growPerTime: boolean;
  /** Shares of a step, rates per time already turned into them. */
  readonly spread?: ValueBody;
  readonly fade?: ValueBody;
  readonly keep?: { readonly min: ValueBody; readonly max: ValueBody };
  readonly scale?: readonly [string, string];
  readonly site: number;
}

export interface RulePlan {
  readonly name: string;
  /** Key of the rule's luck: a hash of its full name, so that other rules may come and go. */
  readonly key: number;
  readonly kind: number;
  readonly every?: ValueBody;
  readonly body: Body;
}

export type Mode = 'in turn' | 'in fixed order' | 'all at once';
export type ScheduleEntry =
  | { readonly is: 'rules'; readonly rules: readonly number[]; readonly mode: Mode; readonly key: number }
  | { readonly is: 'fields'; readonly fields: readonly number[] };

export type TimelineWhen =
  | { readonly is: 'at'; readonly time: ValueBody }
  | { readonly is: 'from'; readonly from: ValueBody; readonly to: ValueBody }
  | { readonly is: 'every'; readonly period: ValueBody }
  | { readonly is: 'every year on'; readonly month: number; readonly day: number }
  | { readonly is: 'when' | 'whenever' | 'while'; readonly condition: ValueBody };

export interface TimelinePlan {
  readonly when: TimelineWhen;
  /** What is set: for periods the value laid over the parameter. */
  readonly lay: readonly { readonly parameter: number; readonly value: ValueBody }[];
  readonly body: Body;
  readonly key: number;
  readonly label: string;
}

export interface ParameterPlan {
  readonly name: string;
  readonly about?: string;
  readonly type: 'number' | 'yes or no' | 'choice';
  readonly options?: readonly string[];
  readonly value: number;
  readonly min?: number;
  readonly max?: number;
  readonly whole: boolean;
  readonly unitLabel: string;
  /** A shown value times this is the value inside a run. */
  readonly unitFactor: number;
}

/** An expression over the rows of measures of a whole run. */
export type RowExpr =
  | { readonly op: 'number'; readonly value: number }
  | { readonly op: 'measure'; readonly index: number }
  | { readonly op: 'final'; readonly code: number }
  | { readonly op: 'minus' | 'not'; readonly value: RowExpr }
  | { readonly op: 'binary'; readonly fn: BinaryFunction; readonly left: RowExpr; readonly right: RowExpr }
  | { readonly op: 'choose'; readonly condition: RowExpr; readonly then: RowExpr; readonly else: RowExpr }
  | { readonly op: 'call'; readonly fn: PureFunction; readonly args: readonly RowExpr[] }
  | {
      readonly op: 'rows';
      readonly fn: 'sum' | 'mean' | 'min' | 'max' | 'median' | 'sd' | 'quantile' | 'last' | 'time of max' | 'time of min' | 'first time' | 'ever' | 'always';
      readonly of: RowExpr;
      readonly level?: RowExpr;
      /** Only rows later than the end less this time. */
      readonly last?: RowExpr;
    }
  | { readonly op: 'row at'; readonly of: RowExpr; readonly time: RowExpr };

/** A simple case with a known answer, written with the model and run over many seeds. */
export interface CheckPlan {
  readonly title: string;
  readonly settings: readonly { readonly parameter: number; readonly value: ValueBody }[];
  readonly seeds: number;
  readonly duration?: ValueBody;
  readonly expectations: readonly {
    readonly text: string;
    readonly value: RowExpr;
    /** For a number: where it, or without `runs` its mean over the runs, must lie. */
    readonly bounds?: { readonly low: ValueBody; readonly high: ValueBody };
    /** Share of the runs in which it must hold; absent for the mean of a number. */
    readonly runs?: ValueBody;
  }[];
}

export interface SeriesPlan {
  readonly name: string;
  readonly about?: string;
  readonly unitLabel: string;
  readonly unitFactor: number;
  readonly yesNo: boolean;
}

export interface Plan {
  readonly title: string;
  readonly parameters: readonly ParameterPlan[];
  readonly clock: {
    readonly stepLength: number;
    readonly unitLabel: string;
    /** Seconds in a base unit of time; 0 without a clock. */
    readonly unitSeconds: number;
    readonly start?: { readonly year: number; readonly month: number; readonly day: number };
    readonly endAfter: ValueBody;
    readonly endWhen: readonly ValueBody[];
  };
  readonly space?: {
    readonly name: string;
    readonly form: 'plane' | 'grid';
    readonly edge: 'wrapping' | 'walled' | 'reflecting';
    readonly neighbours: 4 | 8;
    readonly oneAgentACell: boolean;
    readonly width: ValueBody;
    readonly height: ValueBody;
    readonly unitLabel: string;
  };
  readonly variables: readonly { readonly name: string; readonly start: ValueBody; readonly site: number }[];
  readonly fields: readonly FieldPlan[];
  readonly kinds: readonly KindPlan[];
  readonly rules: readonly RulePlan[];
  readonly schedule: readonly ScheduleEntry[];
  readonly timeline: readonly TimelinePlan[];
  readonly measures: readonly (SeriesPlan & { readonly body: ValueBody })[];
  readonly summaries: readonly (SeriesPlan & { readonly value: RowExpr })[];
  readonly checks: readonly CheckPlan[];
  /** Values that summaries and checks read at the end of the run. */
  readonly finals: readonly ValueBody[];
  readonly charts: readonly { readonly title: string; readonly measures: readonly number[] }[];
  readonly counters: number;
  readonly sites: readonly Site[];
}
