import type { CivilMoment } from '../calendar/civil.ts';
import type { LaneNetwork } from '../maps/lane-network.ts';
import type { SpaceRules } from '../forms/form.ts';
import type { Diagnostic, Span } from '../diagnostics.ts';
import type { LexResult } from './lexer.ts';
import type { Scales } from './scales.ts';
import type * as Ast from './syntax.ts';
import type { ChoiceType, Dimension, Type } from './types.ts';

/** What the checker found out about a model: its named things, and for each expression its type and what it names. */

/** A unit for showing and reading values: a shown value times `factor` is the value inside a run. */
export interface DisplayUnit {
  readonly label: string;
  readonly factor: number;
}

interface Symbol {
  readonly name: string;
  readonly key: string;
  readonly index: number;
  readonly span: Span;
  readonly about?: string;
}

/** A parameter with its type, bounds and unit. */
export interface ParameterSymbol extends Symbol {
  readonly is: 'parameter';
  readonly type: Type;
  /** Usual value in base units; yes is 1, no is 0, a choice is its index. */
  readonly value: number;
  readonly min?: number;
  readonly max?: number;
  readonly whole: boolean;
  readonly unit: DisplayUnit;
  readonly part: Ast.ParameterPart;
}

/** A quantity of the whole model that rules may change. */
export interface VariableSymbol extends Symbol {
  readonly is: 'variable';
  type: Type;
  readonly part: Ast.VariablePart;
}

/** The course of a variable that a table gives: each value holds from its time on. Times count from the start, in base units, as values do. */
export interface CheckedSeries {
  readonly times: readonly number[];
  readonly values: readonly number[];
}

export interface SpaceSymbol extends Symbol, SpaceRules {
  readonly is: 'space';
  /** A length, or plain where the sizes bear no unit. */
  readonly dim: Dimension;
  readonly unit: DisplayUnit;
  readonly part: Ast.SpacePart;
  /** Of a map whose file could be read. */
  readonly lanes?: LaneNetwork;
}

export interface NamedPlace {
  readonly x: number;
  readonly y: number;
}

/** A trip of a timetable: where it stops, and when, in seconds from midnight. */
export interface CheckedTrip {
  readonly name: string;
  readonly stops: readonly NamedPlace[];
  readonly arrives: readonly number[];
  readonly leaves: readonly number[];
  /** On which days of the week it runs, Monday 0; all without it. */
  readonly days?: readonly number[];
}

export interface FieldSymbol extends Symbol {
  readonly is: 'field';
  /** Absent where the named one is not there, which is an error. */
  readonly space?: SpaceSymbol;
  type: Type;
  readonly part: Ast.FieldPart;
}

export interface AttributeSymbol extends Symbol {
  readonly is: 'attribute';
  type: Type;
  readonly unit: DisplayUnit;
  readonly line: Ast.HasLine;
}

/** Cells of the space under a name; agents do not move onto those of an obstacle. */
export interface ZoneSymbol extends Symbol {
  readonly is: 'zone';
  readonly space?: SpaceSymbol;
  readonly part: Ast.ZonePart;
}

export interface NetworkSymbol extends Symbol {
  readonly is: 'network';
  readonly from: KindSymbol;
  readonly to: KindSymbol;
  readonly directed: boolean;
  readonly attributes: readonly AttributeSymbol[];
  readonly part: Ast.NetworkPart;
}

/** Who rides in what: agents of one kind tied to vehicles of another, each to one at most. */
export interface RidingSymbol extends NetworkSymbol {
  /** Where somebody boards. */
  readonly boardedAt: Span;
}

/** A line that vehicles run on. */
export interface LineSymbol extends Symbol {
  readonly is: 'line';
  readonly kind: KindSymbol;
  readonly part: Ast.LinePart;
}

export interface MessageSymbol extends Symbol {
  readonly is: 'message';
  readonly attributes: readonly AttributeSymbol[];
  /** Kinds of agents that send it; with one kind, its senders have a type. */
  readonly senders: Set<string>;
  readonly part: Ast.MessagePart;
}

/** Values gathered during a step. */
export interface TallySymbol extends Symbol {
  readonly is: 'tally';
  type: Type;
  readonly part: Ast.TallyPart;
}

/** A state that an agent can be in; it lies in groups, the outermost first. */
export interface StateSymbol {
  readonly name: string;
  readonly key: string;
  readonly span: Span;
  readonly part: Ast.StatePart;
  readonly groups: readonly StateGroup[];
}

/** A state with states inside. */
export interface StateGroup {
  readonly name: string;
  readonly key: string;
  readonly span: Span;
  readonly part: Ast.StatePart;
  /** Indices of the states in it, those of inner groups included. */
  readonly members: number[];
}

/** A formula or routine as it is used at one place, with its inputs standing for what is given there. */
export interface Expansion<Body> {
  readonly inputs: readonly LocalSymbol[];
  readonly values: readonly Ast.Expr[];
  readonly body: Body;
}

export interface DeriveSymbol extends Symbol {
  readonly is: 'derive';
  type: Type;
  readonly line: Ast.DeriveLine;
}

export interface MachineSymbol extends Symbol {
  readonly is: 'machine';
  readonly type: ChoiceType;
  readonly states: readonly StateSymbol[];
  /** Inner groups after the outer ones they lie in. */
  readonly groups: readonly StateGroup[];
  readonly part: Ast.StatesPart;
}

/** A kind of agents: attributes, state machines, behaviours. */
export interface KindSymbol extends Symbol {
  readonly is: 'kind';
  /** The space its agents live on; absent in a model without one. */
  readonly space?: SpaceSymbol;
  readonly attributes: readonly AttributeSymbol[];
  readonly derives: readonly DeriveSymbol[];
  /** Of vehicles. */
  readonly seats?: Ast.Expr;
  readonly machines: readonly MachineSymbol[];
  readonly part: Ast.AgentPart;
  readonly self: LocalSymbol;
}

export interface MeasureSymbol extends Symbol {
  readonly is: 'measure';
  type: Type;
  readonly part: Ast.MeasurePart;
}

/** A name that lives inside one rule: `let`, roles, loop names, candidates, the acting agent. */
export interface LocalSymbol {
  readonly is: 'local';
  readonly name: string;
  readonly span: Span;
  type: Type;
  /** Stands for a cell of the space. */
  readonly isCell?: boolean;
}

export type BuiltIn = 'x' | 'y' | 'direction' | 'number' | 'place';
export type ClockReading = 'now' | 'step' | 'hour' | 'weekday' | 'month' | 'year' | 'day of year' | 'date';

/** What a name stands for, at one place in the text. */
export type Ref =
  | { readonly is: 'parameter'; readonly parameter: ParameterSymbol }
  | { readonly is: 'variable'; readonly variable: VariableSymbol }
  /** `at`: the cell that a query looks at, where that is meant; else where the asker stands. */
  | { readonly is: 'field'; readonly field: FieldSymbol; readonly at?: LocalSymbol }
  | {
      readonly is: 'attribute';
      readonly kind: KindSymbol;
      readonly attribute: AttributeSymbol;
      readonly agent: LocalSymbol;
    }
  | { readonly is: 'derive'; readonly kind: KindSymbol; readonly derive: DeriveSymbol; readonly agent: LocalSymbol }
  /** A value of the model as a whole. */
  | { readonly is: 'model derive'; readonly derive: DeriveSymbol }
  | { readonly is: 'machine'; readonly kind: KindSymbol; readonly machine: MachineSymbol; readonly agent: LocalSymbol }
  | { readonly is: 'builtin'; readonly which: BuiltIn; readonly agent: LocalSymbol }
  | { readonly is: 'vehicle'; readonly riding: RidingSymbol; readonly agent: LocalSymbol }
  /** Whether an agent stands at a stop and waits. */
  | { readonly is: 'waiting'; readonly kind: KindSymbol; readonly agent: LocalSymbol }
  | { readonly is: 'local'; readonly local: LocalSymbol }
  | { readonly is: 'clock'; readonly which: ClockReading }
  | { readonly is: 'measure'; readonly measure: MeasureSymbol }
  | { readonly is: 'summary'; readonly summary: MeasureSymbol }
  | { readonly is: 'option'; readonly option: number }
  /** A state with states inside: any of these. */
  | { readonly is: 'group'; readonly group: StateGroup }
  | {
      readonly is: 'tie attribute';
      readonly network: NetworkSymbol;
      readonly attribute: AttributeSymbol;
      readonly tie: LocalSymbol;
    }
  | {
      readonly is: 'tie end';
      readonly network: NetworkSymbol;
      readonly tie: LocalSymbol;
      readonly seenFrom: LocalSymbol | undefined;
      readonly kind: KindSymbol;
    }
  | { readonly is: 'message attribute'; readonly attribute: AttributeSymbol; readonly message: LocalSymbol }
  | { readonly is: 'sender'; readonly message: LocalSymbol; readonly kind: KindSymbol }
  | { readonly is: 'coordinate'; readonly axis: 'x' | 'y' | 'place'; readonly of: Ast.Expr }
  | { readonly is: 'tally'; readonly tally: TallySymbol }
  /** One of several machines, of one kind each, that a flow counts. */
  | {
      readonly is: 'flow';
      readonly kind: KindSymbol;
      readonly machine: MachineSymbol;
      readonly state: number;
      readonly group?: StateGroup;
    };

export type RuleSymbol =
  | { readonly is: 'surroundings'; readonly name: string; readonly part: Ast.BehaviourPart; readonly span: Span }
  | {
      readonly is: 'behaviour';
      readonly name: string;
      readonly kind: KindSymbol;
      readonly part: Ast.BehaviourPart;
      readonly span: Span;
    }
  | {
      readonly is: 'machine';
      readonly name: string;
      readonly kind: KindSymbol;
      readonly machine: MachineSymbol;
      readonly span: Span;
    }
  | {
      readonly is: 'interaction';
      readonly name: string;
      readonly roles: readonly [LocalSymbol, LocalSymbol];
      readonly part: Ast.InteractionPart;
      readonly span: Span;
    }
  | {
      readonly is: 'line';
      readonly name: string;
      readonly kind: KindSymbol;
      readonly line: LineSymbol;
      readonly span: Span;
    }
  | { readonly is: 'field'; readonly name: string; readonly field: FieldSymbol; readonly span: Span };

export interface OrderEntry {
  readonly rules: readonly RuleSymbol[];
  readonly mode: Ast.Mode;
}

export interface CheckedClock {
  readonly part?: Ast.ClockPart;
  /** In base units of time. */
  readonly stepLength: number;
  readonly start?: CivilMoment;
  readonly unit: DisplayUnit;
}

export interface CheckedShow {
  readonly part: Ast.ShowPart;
  readonly target: KindSymbol | FieldSymbol | NetworkSymbol | ZoneSymbol;
}

export interface CheckedRecord {
  readonly part: Ast.RecordPart;
  readonly target: KindSymbol | FieldSymbol | Extract<RuleSymbol, { is: 'interaction' }>;
  /** Of meetings: whether its values are read when a meeting is over. */
  readonly isAtEnd?: boolean;
}

/** A table read from a file beside the model: its columns as values of the attributes they are named after. */
export interface CheckedTable {
  readonly rows: number;
  readonly columns: ReadonlyMap<string, readonly number[]>;
}

/** Ties read from a file: numbers of the agents at both ends, and columns of tie attributes. */
export interface CheckedTies {
  readonly from: readonly number[];
  readonly to: readonly number[];
  readonly columns: ReadonlyMap<string, readonly number[]>;
}

/** A raster of values, row by row from below. */
export interface CheckedRaster {
  readonly columns: number;
  readonly rows: number;
  readonly values: readonly number[];
}

export interface CheckedChart {
  readonly title: string;
  readonly measures: readonly MeasureSymbol[];
  readonly levels: readonly MeasureSymbol[];
  readonly against?: MeasureSymbol;
  readonly distribution?: Ast.ExprOf<'gather'>;
}

/** A text without errors: its parts as symbols, with types and units, and what each name in it stands for. */
export interface CheckedModel {
  readonly title: string;
  readonly prose: readonly string[];
  readonly tree: Ast.SyntaxTree;
  readonly lexed: LexResult;
  readonly scales: Scales;
  readonly clock: CheckedClock;
  readonly spaces: readonly SpaceSymbol[];
  readonly parameters: readonly ParameterSymbol[];
  readonly variables: readonly VariableSymbol[];
  /** Values of the model as a whole, computed whenever they are read. */
  readonly derives: readonly DeriveSymbol[];
  readonly tallies: readonly TallySymbol[];
  readonly zones: readonly ZoneSymbol[];
  readonly fields: readonly FieldSymbol[];
  readonly kinds: readonly KindSymbol[];
  readonly networks: readonly NetworkSymbol[];
  /** Networks that come of boarding; in the plan they follow the others. */
  readonly ridings: readonly RidingSymbol[];
  readonly lines: readonly LineSymbol[];
  /** Kinds whose agents take lines, so that they may wait. */
  readonly takers: ReadonlySet<KindSymbol>;
  readonly messages: readonly MessageSymbol[];
  readonly records: readonly CheckedRecord[];
  readonly measures: readonly MeasureSymbol[];
  readonly summaries: readonly MeasureSymbol[];
  readonly interactions: readonly Extract<RuleSymbol, { is: 'interaction' }>[];
  readonly order: readonly OrderEntry[];
  readonly charts: readonly CheckedChart[];
  readonly shows: readonly CheckedShow[];
  readonly types: ReadonlyMap<Ast.Expr, Type>;
  readonly refs: ReadonlyMap<Ast.Expr, Ref>;
  /** The candidate of each query, the local of each statement that makes one. */
  readonly locals: ReadonlyMap<object, LocalSymbol>;
  /** The kind that a query or a `create` asks for. */
  readonly kindOf: ReadonlyMap<object, KindSymbol>;
  readonly networkOf: ReadonlyMap<object, NetworkSymbol>;
  /** Of `aboard` without a vehicle: who rides in what, the asker being one of those who do. */
  readonly askersRiding: ReadonlyMap<object, RidingSymbol>;
  /** The lines that may be taken on a way, by what asks for it. */
  readonly linesOf: ReadonlyMap<object, readonly LineSymbol[]>;
  /** Stops of lines that are read from tables. */
  readonly stopTables: ReadonlyMap<LineSymbol, readonly NamedPlace[]>;
  /** Of variables whose values a table gives. */
  readonly inputSeries: ReadonlyMap<VariableSymbol, CheckedSeries>;
  /** The trips of lines that run by a timetable. */
  readonly timetables: ReadonlyMap<LineSymbol, readonly CheckedTrip[]>;
  /** Days after which timetables begin anew: 1, or 7 where some trips run on some days of the week only. */
  readonly timetableDays: 1 | 7;
  readonly zoneOf: ReadonlyMap<object, ZoneSymbol>;
  /** The space in which something stands that has no other place: `somewhere`, a centre, a way. */
  readonly spaceOf: ReadonlyMap<object, SpaceSymbol>;
  readonly messageOf: ReadonlyMap<object, MessageSymbol>;
  /** What a query asks for besides agents. */
  readonly queryHeads: ReadonlyMap<object, QueryHead>;
  /** Lists to the right of `is one of`, as queries. */
  readonly listQueries: ReadonlyMap<Ast.Expr, Ast.Query>;
  /** Paths of more than one step: the agent or place before the last dot, and the local that stands for it. */
  readonly hops: ReadonlyMap<Ast.Expr, Hop>;
  readonly formulas: ReadonlyMap<object, Expansion<Ast.Expr>>;
  readonly routines: ReadonlyMap<object, Expansion<Ast.Block>>;
  /** Machines whose time in a state is asked for. */
  readonly timedMachines: ReadonlySet<object>;
  readonly tables: ReadonlyMap<object, CheckedTable>;
  readonly tieFiles: ReadonlyMap<object, CheckedTies>;
  readonly rasters: ReadonlyMap<object, CheckedRaster>;
  /** Places of maps, by the expressions that name them. */
  readonly namedPlaces: ReadonlyMap<Ast.Expr, NamedPlace>;
  /** Outlines of the areas of maps, by the shapes that name them. */
  readonly outlines: ReadonlyMap<object, readonly Float64Array[]>;
  /** What each name stands for, by the offset at which it stands; for the formatter and for renaming. */
  readonly uses: ReadonlyMap<number, NameUse>;
}

export interface Hop {
  readonly from: Ast.Expr;
  readonly local: LocalSymbol;
}

export type QueryHead =
  | { readonly is: 'agents'; readonly kind: KindSymbol }
  | { readonly is: 'cells'; readonly empty: boolean; readonly space: SpaceSymbol; readonly field?: FieldSymbol }
  | { readonly is: 'ties'; readonly network: NetworkSymbol }
  | { readonly is: 'list'; readonly kind: KindSymbol; readonly attribute: AttributeSymbol; readonly agent: LocalSymbol }
  | { readonly is: 'tally'; readonly tally: TallySymbol };

/** A name at one place of the text. */
export interface NameUse {
  /** As it is written where it is declared. */
  readonly spelling: string;
  /** Offsets of the declarations; several where a formula or routine is read with agents of several kinds. */
  readonly declaredAt: Set<number>;
}

/** What checking a text gives: findings always, a model only where none of them is an error. */
export interface CheckResult {
  /** Absent if there are errors. */
  readonly model?: CheckedModel;
  readonly diagnostics: readonly Diagnostic[];
  readonly tree: Ast.SyntaxTree;
  readonly lexed: LexResult;
  /** What each name stands for, by the offset at which it stands; for the formatter and for renaming. */
  readonly uses: ReadonlyMap<number, NameUse>;
}
