import type { Law, PureFunction } from './functions.ts';
import type { SpaceRules } from '../forms/form.ts';
import type { Span } from '../diagnostics.ts';
import type { InputSeries } from '../engine/input-series.ts';
import type { LaneNetwork } from '../maps/lane-network.ts';
import type { NetworkMeasure } from '../measures/network-measures.ts';

/**
 * The plan of a model: its rules as statements over numbered columns, locals and draws, with nothing left to look up.
 * Expressions are pure and cheap; whatever loops or draws luck is a statement that leaves its result in a local.
 * A place is a pair of expressions. A truth value is 1 or 0, a choice its index. A local may hold an agent, a tie, or none of them; columns
 * that point at agents hold their numbers, 0 for nobody. A cell is its index in a raster: that of a field, or `rasterOfSpace` for that of a space.
 */

export type BinaryFunction = '+' | '-' | '*' | '/' | '<' | '<=' | '>' | '>=' | 'is' | 'is not' | 'and' | 'or';
export type ClockValue =
  'now' | 'step length' | 'end of step' | 'hour' | 'weekday' | 'month' | 'year' | 'day of year' | 'date';

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
  | { readonly op: 'size'; readonly space: number; readonly axis: 'width' | 'height' }
  | { readonly op: 'attribute'; readonly kind: number; readonly column: number; readonly agent: AgentRef }
  | { readonly op: 'state'; readonly kind: number; readonly machine: number; readonly agent: AgentRef }
  | { readonly op: 'due'; readonly kind: number; readonly column: number; readonly agent: AgentRef }
  | { readonly op: 'position'; readonly kind: number; readonly axis: 'x' | 'y' | 'direction'; readonly agent: AgentRef }
  | { readonly op: 'number of'; readonly kind: number; readonly agent: AgentRef }
  | { readonly op: 'same agent'; readonly a: AgentRef; readonly b: AgentRef }
  | { readonly op: 'field'; readonly field: number; readonly x: Expr; readonly y: Expr }
  | { readonly op: 'cell'; readonly field: number }
  /** In bodies of fields: the index of the own cell. */
  | { readonly op: 'own cell' }
  | { readonly op: 'field cell'; readonly field: number; readonly cell: Expr }
  | { readonly op: 'cell x' | 'cell y'; readonly raster: number; readonly cell: Expr }
  | { readonly op: 'cell at'; readonly raster: number; readonly x: Expr; readonly y: Expr }
  /** The i-th of the cells that the start line under way has found to fit. */
  | { readonly op: 'listed cell'; readonly index: Expr }
  | { readonly op: 'is nowhere'; readonly x: Expr }
  | { readonly op: 'in zone'; readonly zone: number; readonly x: Expr; readonly y: Expr }
  | { readonly op: 'in reach'; readonly reach: SpaceReach; readonly x: Expr; readonly y: Expr }
  /** The coordinate of a place that lies a distance away in a direction. */
  | {
      readonly op: 'along';
      readonly space: number;
      readonly axis: 'x' | 'y';
      readonly x: Expr;
      readonly y: Expr;
      readonly distance: Expr;
      readonly angle: Expr;
    }
  /** The same in the direction an agent faces, turned by so many degrees. */
  | {
      readonly op: 'ahead';
      readonly axis: 'x' | 'y';
      readonly x: Expr;
      readonly y: Expr;
      readonly distance: Expr;
      readonly kind: number;
      readonly agent: AgentRef;
      readonly aside: number;
    }
  /** The signed way along an axis, the shorter one where the space wraps. */
  | { readonly op: 'way'; readonly space: number; readonly axis: 'x' | 'y'; readonly from: Expr; readonly to: Expr }
  /** A coordinate of the place of a map so much of all lanes' length from their beginning; the share is from 0 to 1. */
  | { readonly op: 'lane at'; readonly space: number; readonly axis: 'x' | 'y'; readonly share: Expr }
  /** Whether the way along the lanes from a place to another is no longer than a length; with a direction that one sets out in. */
  | {
      readonly op: 'near along';
      readonly space: number;
      readonly x: Expr;
      readonly y: Expr;
      readonly facing?: Expr;
      readonly most: Expr;
      readonly toX: Expr;
      readonly toY: Expr;
    }
  /** Of the journey of least expected time from a place: that time, a coordinate of where to walk next, or whether one waits for a line there. */
  | {
      readonly op: 'journey';
      readonly which: 'time' | 'x' | 'y' | 'rides';
      readonly x: Expr;
      readonly y: Expr;
      readonly aim: JourneyAim;
    }
  /** The expected time of a journey for one in a vehicle that leaves a stop of a line; infinite where that leads nowhere. */
  | {
      readonly op: 'ride time';
      readonly line: Expr;
      readonly stop: Expr;
      /** When it is to leave, and since when that is waited for; a trip keeps to its timetable. */
      readonly departs: Expr;
      readonly since: Expr;
      readonly aim: JourneyAim;
    }
  /**
   * Of a line with a timetable, by its first trip: how many trips have begun by a time, when such a trip, counted over all days, leaves its first stop. Of a trip and a stop of it: the time
   * to the next, and the time that it stays; not a number at the last stop.
   */
  | {
      readonly op: 'timetable';
      readonly which: 'begun by' | 'leaves' | 'ride' | 'stay';
      readonly space: number;
      readonly line: Expr;
      readonly of: Expr;
    }
  /** A coordinate of a stop of a line, stops counted from 0. */
  | {
      readonly op: 'stop place';
      readonly space: number;
      readonly line: Expr;
      readonly axis: 'x' | 'y';
      readonly stop: Expr;
    }
  /** The length of the way along the lanes; with a speed above 0 the time of the quickest. Infinite where there is none. */
  | {
      readonly op: 'way length';
      readonly space: number;
      readonly ax: Expr;
      readonly ay: Expr;
      readonly bx: Expr;
      readonly by: Expr;
      readonly speed: Expr;
      /** Kinds of ways to keep to, with blanks between them; all if empty. */
      readonly ways: string;
    }
  /** Whether an agent has not been removed since it was found. */
  | { readonly op: 'is there'; readonly kind: number; readonly agent: AgentRef }
  /** Whether a local holds somebody, or a tie. */
  | { readonly op: 'somebody'; readonly local: number }
  | { readonly op: 'number or 0'; readonly kind: number; readonly local: number }
  | { readonly op: 'tied'; readonly network: number; readonly side: number; readonly a: AgentRef; readonly b: AgentRef }
  | { readonly op: 'tie value'; readonly network: number; readonly column: number; readonly tie: number }
  | { readonly op: 'list length'; readonly kind: number; readonly column: number; readonly agent: AgentRef }
  /** Item of a list; `part` 1 is the y of a place. */
  | {
      readonly op: 'list item';
      readonly kind: number;
      readonly column: number;
      readonly stride: number;
      readonly part: number;
      readonly agent: AgentRef;
      readonly index: Expr;
    }
  | { readonly op: 'message value'; readonly column: number }
  | { readonly op: 'message sender' }
  | { readonly op: 'tally'; readonly tally: number; readonly fn: 'count' | GatherFunction; readonly level?: Expr }
  | { readonly op: 'tally item'; readonly tally: number; readonly index: Expr }
  | { readonly op: 'table'; readonly table: number; readonly column: number; readonly row: Expr }
  | { readonly op: 'network measure'; readonly which: NetworkMeasure; readonly network: number }
  /** Gathers the rows of a measure that lie in the time before now. */
  | {
      readonly op: 'recent';
      readonly fn: GatherFunction;
      readonly measure: number;
      readonly time: Expr;
      readonly level?: Expr;
    }
  | { readonly op: 'not'; readonly value: Expr }
  | { readonly op: 'minus'; readonly value: Expr }
  | { readonly op: 'binary'; readonly fn: BinaryFunction; readonly left: Expr; readonly right: Expr }
  | { readonly op: 'choose'; readonly condition: Expr; readonly then: Expr; readonly else: Expr }
  | { readonly op: 'call'; readonly fn: PureFunction; readonly args: readonly Expr[] }
  | {
      readonly op: 'distance' | 'bearing';
      readonly space: number;
      readonly ax: Expr;
      readonly ay: Expr;
      readonly bx: Expr;
      readonly by: Expr;
    }
  /** Stops the run at the site unless the value is finite. */
  | {
      readonly op: 'finite';
      readonly value: Expr;
      readonly site: number;
      /** In measures nothing may come of nothing: only what is beyond all numbers stops the run. */ readonly mayBeEmpty?: boolean;
    }
  | { readonly op: 'count of kind'; readonly kind: number }
  | { readonly op: 'measure'; readonly index: number }
  | { readonly op: 'flow'; readonly which: 'entered' | 'left'; readonly counter: number }
  | { readonly op: 'field mean'; readonly field: number; readonly fn: GatherFunction; readonly level?: Expr };

type GatherFunction = 'sum' | 'mean' | 'geometric mean' | 'min' | 'max' | 'median' | 'sd' | 'quantile';

/** Who is near a place: round, in a square or cross of cells, on the cells next to it, or on the very place. */
export interface SpaceReach {
  readonly is: 'within' | 'square' | 'cross' | 'next to' | 'here';
  readonly space: number;
  /** 0 where the form has none. */
  readonly distance: Expr;
  readonly x: Expr;
  readonly y: Expr;
}
export type Reach =
  | { readonly is: 'all' }
  | SpaceReach
  | { readonly is: 'tied'; readonly network: number; readonly side: number; readonly agent: AgentRef };

export interface Code {
  readonly statements: readonly Statement[];
  readonly value: Expr;
}

export interface Query {
  readonly over:
    | { readonly is: 'agents' }
    | { readonly is: 'cells'; readonly raster: number; readonly empty: boolean }
    /** The ties of an agent, or all of a network. */
    | { readonly is: 'ties'; readonly network: number; readonly side: number; readonly agent?: AgentRef }
    /** Items of a list: the agents themselves, or the indices of numbers and places. */
    | {
        readonly is: 'list';
        readonly ofAgents: boolean;
        readonly owner: number;
        readonly column: number;
        readonly agent: AgentRef;
      }
    | { readonly is: 'tally'; readonly tally: number };
  /** Leaves out agents that are nowhere. */
  readonly present?: boolean;
  /** The kind of the agents asked for, else -1. */
  readonly kind: number;
  readonly reach: Reach;
  /** The local that holds the candidate while `where` and the body run. */
  readonly candidate: number;
  /** The local of the asking agent, if it is of the kind asked for: never a candidate (S9). */
  readonly except?: number;
  readonly where?: Code;
}

export type WriteHow = '=' | '+=' | '*=';

/** What a `log` line writes of a value: words of the text, or the value as a reader knows it. */
export interface LoggedValue extends LoggedForm {
  readonly value: Expr;
}

export interface LoggedForm {
  /** Stands in place of the value. */
  readonly text?: string;
  readonly options?: readonly string[];
  /** Name of the kind whose agents it numbers. */
  readonly kind?: string;
  readonly unit?: string;
  /** Whether the next value belongs to it, as y does to x. */
  readonly comma?: boolean;
}

export type Statement =
  | { readonly op: 'set'; readonly local: number; readonly value: Expr }
  | {
      readonly op: 'draw';
      readonly local: number;
      readonly law: Law;
      readonly args: readonly Expr[];
      readonly site: number;
    }
  /** With a site it is a condition of the text, which a trace tells. */
  | {
      readonly op: 'if';
      readonly condition: Expr;
      readonly then: readonly Statement[];
      readonly else: readonly Statement[];
      readonly site?: number;
    }
  | { readonly op: 'switch'; readonly value: Expr; readonly cases: readonly (readonly Statement[])[] }
  | { readonly op: 'repeat'; readonly count: Expr; readonly body: readonly Statement[]; readonly site: number }
  /** Directly in the body of a repeat: leaves it. */
  | { readonly op: 'until'; readonly condition: Expr }
  | { readonly op: 'nobody'; readonly local: number }
  /** Puts the agent of a number into a local, nobody if there is none. */
  | { readonly op: 'find'; readonly local: number; readonly kind: number; readonly number: Expr }
  /** Stops the run if the local holds nobody. */
  | { readonly op: 'demand'; readonly local: number; readonly site: number }
  /** Stops the run where an agent that rides in a vehicle is to move by itself. */
  | { readonly op: 'demand ashore'; readonly riders: Expr; readonly site: number }
  | {
      readonly op: 'find tie';
      readonly local: number;
      readonly network: number;
      readonly a: AgentRef;
      readonly b: AgentRef;
      readonly flip: boolean;
    }
  /** The agent at the other end of a tie, seen from one end, else the second. */
  | {
      readonly op: 'other end';
      readonly local: number;
      readonly network: number;
      readonly tie: number;
      readonly from?: AgentRef;
    }
  | { readonly op: 'count' | 'any'; readonly local: number; readonly query: Query }
  | {
      readonly op: 'gather';
      readonly local: number;
      readonly fn: GatherFunction;
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
      readonly weight?: Code;
      readonly site: number;
      readonly from?: { readonly x: Expr; readonly y: Expr };
      readonly found: readonly Statement[];
      readonly nobody: readonly Statement[];
    }
  /** Lists the candidates, then runs the body for each that is still there (and still fits, with `recheck`). */
  | {
      readonly op: 'each';
      readonly query: Query;
      readonly shuffled: boolean;
      readonly recheck: boolean;
      readonly most?: number;
      readonly body: readonly Statement[];
    }
  | {
      readonly op: 'write';
      readonly kind: number;
      readonly column: number;
      readonly agent: AgentRef;
      readonly how: WriteHow;
      readonly value: Expr;
      readonly site: number;
      /** A place may be nowhere: then the value is not a number. */
      readonly mayBeEmpty?: boolean;
    }
  | {
      readonly op: 'write field';
      readonly field: number;
      readonly x: Expr;
      readonly y: Expr;
      readonly how: WriteHow;
      readonly value: Expr;
      readonly site: number;
    }
  | {
      readonly op: 'write variable';
      readonly index: number;
      readonly how: WriteHow;
      readonly value: Expr;
      readonly site: number;
    }
  | { readonly op: 'write parameter'; readonly index: number; readonly value: Expr; readonly site: number }
  | {
      readonly op: 'write tie';
      readonly network: number;
      readonly column: number;
      readonly tie: number;
      readonly how: WriteHow;
      readonly value: Expr;
      readonly site: number;
    }
  | {
      readonly op: 'add to list';
      readonly kind: number;
      readonly column: number;
      readonly size: number;
      readonly agent: AgentRef;
      /** One value, two for a place. An agent (its number) that is in the list already moves to the newest place. */
      readonly values: readonly Expr[];
      readonly ofAgents: boolean;
      readonly site: number;
    }
  | { readonly op: 'add to tally'; readonly tally: number; readonly value: Expr; readonly site: number }
  /** Ties two agents unless they are; all at once when the rule is over. With `flip` the first is of the kind tied to. */
  | {
      readonly op: 'tie';
      readonly network: number;
      readonly a: AgentRef;
      readonly b: AgentRef;
      readonly flip: boolean;
      readonly values: readonly Expr[];
      readonly site: number;
    }
  | {
      readonly op: 'untie';
      readonly network: number;
      readonly a: AgentRef;
      readonly b?: AgentRef;
      readonly flip: boolean;
    }
  | {
      readonly op: 'send';
      readonly message: number;
      readonly kind: number;
      readonly agent: AgentRef;
      readonly sender?: { readonly kind: number; readonly agent: AgentRef };
      readonly values: readonly Expr[];
      readonly delay?: Expr;
      readonly site: number;
    }
  | {
      readonly op: 'log';
      readonly values: readonly LoggedValue[];
      readonly site: number;
    }
  | { readonly op: 'record'; readonly record: number; readonly values: readonly Expr[] }
  /** Sets the machine of another agent all at once: rivals are settled when the rule is over. */
  | {
      readonly op: 'change';
      readonly kind: number;
      readonly machine: number;
      readonly agent: AgentRef;
      readonly state: Expr;
    }
  /** Leaves the space: kept, but met by nobody. */
  | { readonly op: 'vanish'; readonly kind: number; readonly agent: AgentRef }
  /** Draws a place in a zone, or with -1 one of the space that is free of obstacles. */
  | {
      readonly op: 'draw in zone';
      readonly space: number;
      readonly zone: number;
      readonly x: number;
      readonly y: number;
      readonly site: number;
    }
  /** Draws one of the cells that the start line under way has found to fit. */
  | { readonly op: 'draw listed'; readonly space: number; readonly local: number; readonly site: number }
  | {
      readonly op: 'become';
      readonly kind: number;
      readonly machine: number;
      readonly agent: AgentRef;
      readonly state: number;
    }
  | {
      readonly op: 'write due';
      readonly kind: number;
      readonly column: number;
      readonly agent: AgentRef;
      readonly value: Expr;
      readonly site: number;
    }
  | {
      readonly op: 'turn';
      readonly kind: number;
      readonly agent: AgentRef;
      readonly direction: Expr;
      readonly site: number;
    }
  | {
      readonly op: 'move by';
      readonly kind: number;
      readonly agent: AgentRef;
      readonly distance: Expr;
      readonly site: number;
    }
  /**
   * Goes along the lanes towards a place: so much of a length, or with a speed above 0 of a time by the quickest way. Leaves in locals what share of the amount
   * was used, and what is left to go: 0 at the place, below 0 where no way leads there.
   */
  | {
      readonly op: 'travel';
      readonly kind: number;
      readonly agent: AgentRef;
      readonly x: Expr;
      readonly y: Expr;
      readonly amount: Expr;
      readonly speed: Expr;
      readonly ways: string;
      readonly used: number;
      readonly left: number;
      /** Whether the run stops where no way leads there. */
      readonly mustReach: boolean;
      readonly site: number;
    }
  | {
      readonly op: 'move to';
      readonly kind: number;
      readonly agent: AgentRef;
      readonly x: Expr;
      readonly y: Expr;
      readonly site: number;
    }
  /** Draws a cell of the grid, on a grid with one agent a cell an empty one (the run counts if there is none). */
  | { readonly op: 'draw cell'; readonly space: number; readonly x: number; readonly y: number }
  /** Makes an agent at a place; its columns are written by the statements that follow. `found` runs if there was room. */
  | {
      readonly op: 'create';
      readonly kind: number;
      readonly local: number;
      readonly x?: Expr;
      readonly y?: Expr;
      /** Stands there already: no cell is too full for it. */ readonly always?: boolean;
      readonly site: number;
      readonly found: readonly Statement[];
    }
  | { readonly op: 'remove'; readonly kind: number; readonly agent: AgentRef }
  | { readonly op: 'end turn' }
  | { readonly op: 'end run' };

/** Where a journey leads, how one walks, and which lines one may take. */
export interface JourneyAim {
  readonly space: number;
  readonly x: Expr;
  readonly y: Expr;
  readonly pace: Expr;
  readonly quickest: boolean;
  readonly ways: string;
  readonly lines: readonly number[];
  /** Headway, speed and time at stops of each of them. */
  readonly terms: readonly Expr[];
  /** The first of the trips that one may take, and the one after the last, of each line with a timetable. */
  readonly trips: readonly (readonly [number, number])[];
  /** When one sets out. */
  readonly now: Expr;
}

/** What the text says of a kind of journeys, for those who ask where somebody is bound: an aim without its place and pace. */
export interface AimPlan extends Pick<JourneyAim, 'space' | 'quickest' | 'ways' | 'lines' | 'trips'> {
  readonly terms: readonly AskedBody[];
}

/** A line that vehicles of a kind run on, from its first stop to its last; of a line with a timetable one of its trips. */
export interface LinePlan {
  readonly name: string;
  readonly kind: number;
  readonly space: number;
  readonly stops: readonly PointPlan[];
  readonly ways: string;
  readonly trip?: TripPlan;
}

/** Where and when a trip stops: times in base units from the midnight with which its timetable begins. */
interface TripPlan {
  readonly x: readonly number[];
  readonly y: readonly number[];
  readonly arrives: readonly number[];
  readonly leaves: readonly number[];
  /** How many trips its timetable has. */
  readonly trips: number;
  /** Days after which it begins anew. */
  readonly days: number;
}

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

/** A value that the run itself asks for, of nobody in particular. */
export interface AskedBody extends ValueBody {
  /** Its place in `Plan.asked`. */
  readonly id: number;
}

export interface MachinePlan {
  readonly name: string;
  readonly states: readonly string[];
  /** States with states inside: their members, and the counter of each. */
  readonly groups: readonly { readonly name: string; readonly members: readonly number[]; readonly counter: number }[];
  /** Brings an agent (local 0) into another state (local 1), as a setting all at once does, or one by hand. */
  readonly change: Body;
  /** For each state the columns of the due times that can end it. */
  readonly dues: readonly (readonly number[])[];
  /** The column that holds since when the state lasts, if that is asked for. */
  readonly since?: number;
  /** First of this machine's counters of states entered and left. */
  readonly firstCounter: number;
  /** Start shares: exactly so many in a state, in text order; the rest is drawn by `Body` of the kind. */
  readonly exact: readonly { readonly count: AskedBody; readonly state: number; readonly enter: Body }[];
}

type ColumnType = 'number' | 'choice' | 'yes or no' | 'agent';

/** An attribute of a kind, or a part of one, as a column of numbers. */
export interface ColumnPlan {
  readonly name: string;
  /** The attribute that it is, or is a part of. */
  readonly attribute: string;
  readonly type: ColumnType;
  /** The kind of the agents it points at. */
  readonly of?: string;
  readonly options?: readonly string[];
  readonly unitLabel: string;
  readonly unitFactor: number;
}

/** Up to when one has travelled; whether one waits at a stop; of a vehicle its line (from 1, 0 for none), its last stop, and when it leaves that. */
export type JourneyColumn =
  'travelled' | 'waits' | 'line' | 'stop' | 'leaves' | 'departs' | 'aim' | 'goal x' | 'goal y' | 'pace';

/** A kind of agents as columns, state machines and start lines. */
export interface KindPlan {
  readonly name: string;
  /** The space its agents live on; -1 in a model without one. */
  readonly space: number;
  readonly columns: readonly ColumnPlan[];
  readonly machines: readonly MachinePlan[];
  readonly dueCount: number;
  /** Those of the due columns that hold no duration of a machine, by what they are for. */
  readonly journeyColumns: Readonly<Partial<Record<JourneyColumn, number>>>;
  readonly starts: readonly StartPlan[];
  /** Some agents of the kind may be nowhere. */
  readonly mayBeNowhere: boolean;
  readonly show?: ShowPlan;
}

/** A start line: how many, and the making of one agent, whose place in the line is in local 0. */
export interface StartPlan {
  /** Absent for one on every cell that fits. */
  readonly count?: AskedBody;
  readonly one: Body;
  readonly key: number;
  readonly site: number;
  /** Cells that fit, the cell in local 0. */
  readonly cells?: { readonly raster: number; readonly where?: ValueBody };
}

export interface ZonePlan {
  readonly name: string;
  readonly space: number;
  readonly obstacle: boolean;
  readonly shapes: readonly ShapePlan[];
  readonly site: number;
}
export type PointPlan = readonly [AskedBody, AskedBody];
export type ShapePlan =
  | { readonly is: 'box'; readonly from: PointPlan; readonly to: PointPlan }
  | { readonly is: 'circle'; readonly radius: AskedBody; readonly around: PointPlan }
  | { readonly is: 'line' | 'cells'; readonly places: readonly PointPlan[] }
  | { readonly is: 'area'; readonly outline: Float64Array }
  | { readonly is: 'raster'; readonly raster: RasterPlan };
export interface RasterPlan {
  readonly columns: number;
  readonly rows: number;
  readonly values: readonly number[];
}

export interface NetworkPlan {
  readonly name: string;
  readonly from: number;
  readonly to: number;
  readonly directed: boolean;
  /** Its ties hold who rides in what. */
  readonly riding: boolean;
  readonly columns: readonly ColumnPlan[];
  readonly maker:
    | { readonly is: 'none' | 'lattice' }
    | { readonly is: 'ring' | 'random' | 'preferential' | 'near'; readonly size: AskedBody }
    | { readonly is: 'small world'; readonly size: AskedBody; readonly rewired: AskedBody }
    | { readonly is: 'blocks'; readonly by: ValueBody; readonly inside: AskedBody; readonly across: AskedBody }
    | { readonly is: 'groups'; readonly size: AskedBody; readonly where?: ValueBody }
    | {
        readonly is: 'file';
        readonly a: readonly number[];
        readonly b: readonly number[];
        readonly values: readonly (readonly number[] | undefined)[];
      };
  /** First values of a tie's columns, by the tie's own luck. */
  readonly firsts: readonly ValueBody[];
  readonly key: number;
  readonly site: number;
  readonly colour?: string;
}

/** What agents of a kind do when a message reaches them. */
export interface ReactionPlan {
  readonly kind: number;
  readonly message: number;
  readonly body: Body;
  readonly key: number;
}

export interface RecordPlan {
  readonly name: string;
  /** -1 for the meetings of an interaction, and for a field. */
  readonly kind: number;
  /** Of a field, whose cells it holds row by row from below: where each lies, and its value. */
  readonly field?: number;
  readonly columns: readonly {
    readonly name: string;
    readonly options?: readonly string[];
    readonly unitLabel: string;
    /** Of a column of numbers of agents: their kind. */
    readonly agentOf?: number;
  }[];
  /** Of a kind: its values, the agent in local 0. */
  readonly values?: readonly ValueBody[];
  readonly every?: AskedBody;
  /** Of a kind: which of its agents, the agent in local 0. */
  readonly when?: ValueBody;
}

/** What agents of a kind have at a step. */
export interface DistributionPlan {
  readonly name: string;
  readonly unitLabel: string;
  readonly kind: number;
  /** The agent in local 0; not a number of one that does not belong to it. */
  readonly value: ValueBody;
}

/** How a kind is drawn: shape, colour, size. */
export interface ShowPlan {
  readonly shape: string;
  readonly colour?: string;
  readonly scale?: readonly [string, string];
  readonly size?: ValueBody;
  /** A class index for states, choices and yes or no; else a number on a scale. */
  readonly colourBy?: ValueBody;
  readonly classes?: readonly string[];
  readonly colourTitle?: string;
  /** Of the classes, as far as the text says. */
  readonly classColours?: WordColours;
}

/** A colour for each word of a choice; nothing for one of which the text says none. */
type WordColours = readonly (string | undefined)[];

export interface FieldPlan {
  readonly name: string;
  readonly space: number;
  /** Whether it is drawn cell by cell: on grids, where the text says so, and where its values are no numbers. */
  readonly asCells: boolean;
  /** Names of the choices, or of no and yes; absent for numbers. */
  readonly options?: readonly string[];
  /** Whether each value that goes into a cell is rounded to single precision. */
  readonly isSingle: boolean;
  readonly raster?: RasterPlan;
  /** Gives the next value of a cell, all at once. */
  readonly becomes?: ValueBody;
  readonly cell?: AskedBody;
  readonly start?: ValueBody;
  readonly grow?: ValueBody;
  readonly growPerTime: boolean;
  /** Shares of a step, rates per time already turned into them. */
  readonly spread?: AskedBody;
  readonly fade?: AskedBody;
  readonly bounds?: { readonly min: AskedBody; readonly max: AskedBody };
  /** In place of them, where they differ from cell to cell: what a cell keeps of a value, which its first local holds. */
  readonly kept?: ValueBody;
  readonly scale?: readonly [string, string];
  /** Of its options, as far as the text says. */
  readonly optionColours?: WordColours;
  readonly site: number;
}

export interface RulePlan {
  readonly name: string;
  /** Key of the rule's luck: a hash of its full name, so that other rules may come and go. */
  readonly key: number;
  /** The kind of the acting agents; -1 for what the surroundings do. */
  readonly kind: number;
  readonly every?: AskedBody;
  readonly body: Body;
}

export type Mode = 'in turn' | 'in fixed order' | 'all at once';
export type ScheduleEntry =
  | { readonly is: 'rules'; readonly rules: readonly number[]; readonly mode: Mode; readonly key: number }
  | { readonly is: 'surroundings'; readonly rule: number }
  | { readonly is: 'fields'; readonly fields: readonly number[] };

export type TimelineWhen =
  | { readonly is: 'at'; readonly time: AskedBody }
  | { readonly is: 'from'; readonly from: AskedBody; readonly to: AskedBody }
  | { readonly is: 'every'; readonly period: AskedBody }
  | { readonly is: 'every year on'; readonly month: number; readonly day: number }
  | { readonly is: 'every day'; readonly weekday: number; readonly hours: number }
  | { readonly is: 'when' | 'whenever' | 'each time' | 'while'; readonly condition: AskedBody };

export interface TimelinePlan {
  readonly when: TimelineWhen;
  /** What is set: for periods the value laid over the parameter. */
  readonly overrides: readonly { readonly parameter: number; readonly value: AskedBody }[];
  readonly body: Body;
  readonly key: number;
  readonly label: string;
}

/** A parameter with its value and bounds in base units and how they are shown. */
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
      readonly fn: RowsFunction;
      readonly of: RowExpr;
      readonly level?: RowExpr;
      /** Only rows up to this time. */
      readonly first?: RowExpr;
      /** Only rows later than the end less this time. */
      readonly last?: RowExpr;
    }
  /** Mean over the stretches in which something held of the highest value in each. */
  | { readonly op: 'mean peak'; readonly of: RowExpr; readonly during: RowExpr }
  | { readonly op: 'row at'; readonly of: RowExpr; readonly time: RowExpr };

/** What the rows of a run are brought to. */
export type RowsFunction =
  | GatherFunction
  | 'last'
  | 'time of max'
  | 'time of min'
  | 'first time'
  | 'ever'
  | 'always'
  | 'growth rate'
  | 'period'
  | 'spells'
  | 'mean spell'
  | 'longest spell';

/** A simple case with a known answer, written with the model and run over many seeds. */
export interface CheckPlan {
  readonly title: string;
  readonly settings: readonly { readonly parameter: number; readonly value: AskedBody }[];
  readonly seeds: number;
  readonly duration?: AskedBody;
  readonly expectations: readonly {
    readonly text: string;
    readonly value: RowExpr;
    /** For a number: where it, or without `runs` its mean over the runs, must lie. */
    readonly bounds?: { readonly low: AskedBody; readonly high: AskedBody };
    /** Share of the runs in which it must hold; absent for the mean of a number. */
    readonly runs?: AskedBody;
  }[];
}

export interface SeriesPlan {
  readonly name: string;
  readonly about?: string;
  /** The unit of its numbers, as they stand in rows and summaries. */
  readonly unitLabel: string;
  readonly yesNo: boolean;
  /** Of a length of time, such as the time of a peak: base units of time in one of its unit. */
  readonly timeUnit: number | undefined;
}

/** Whom a measure counts, where it counts all of a kind or all in one state: it is drawn in their colour. */
export interface CountedPlan {
  readonly kind: number;
  readonly machine?: number;
  readonly state?: number;
}

export interface SpacePlan extends SpaceRules {
  readonly name: string;
  /** Whether it matters who stands on which cell. */
  readonly tracksCells: boolean;
  /** Size of the cells of a plane, if it has any. */
  readonly cell?: AskedBody;
  readonly width: AskedBody;
  readonly height: AskedBody;
  readonly unitLabel: string;
  /** Of a map. */
  readonly lanes?: LaneNetwork;
}

/** The raster of the cells of a space itself, as it is numbered beside those of fields. */
export function rasterOfSpace(space: number): number {
  return -1 - space;
}

export function spaceOfRaster(plan: Pick<Plan, 'fields'>, raster: number): number {
  return raster < 0 ? -1 - raster : plan.fields[raster]!.space;
}

/** Whether there are cells of a space on which nobody may go. */
export function hasObstacles({ zones }: Pick<Plan, 'zones'>, space: number): boolean {
  return zones.some((zone) => zone.obstacle && zone.space === space);
}

/** The space on which agents of a kind live. */
export function spaceOfKind(plan: Pick<Plan, 'kinds' | 'spaces'>, kind: number): SpacePlan | undefined {
  return plan.spaces[plan.kinds[kind]!.space];
}

/** A model as something that runs: rules as statements over numbered columns and locals, in the order of a step. Plain data, which can be sent to a worker. */
export interface Plan {
  readonly title: string;
  readonly parameters: readonly ParameterPlan[];
  readonly clock: {
    readonly stepLength: number;
    readonly unitLabel: string;
    /** Seconds in a base unit of time; 0 without a clock. */
    readonly unitSeconds: number;
    /** The day with which runs begin, and seconds from its midnight; 0 if they are not there. */
    readonly start?: {
      readonly year: number;
      readonly month: number;
      readonly day: number;
      readonly seconds?: number;
    };
    readonly endAfter: AskedBody;
    readonly endWhen: readonly AskedBody[];
  };
  readonly spaces: readonly SpacePlan[];
  readonly variables: readonly { readonly name: string; readonly start: AskedBody; readonly site: number }[];
  /** Variables whose values tables give. */
  readonly inputs: readonly InputSeries[];
  readonly tallies: readonly { readonly name: string; readonly kept: boolean }[];
  readonly zones: readonly ZonePlan[];
  readonly fields: readonly FieldPlan[];
  readonly kinds: readonly KindPlan[];
  readonly lines: readonly LinePlan[];
  /** Of statements by which agents travel with lines; an agent's column `aim` counts them from 1. */
  readonly aims: readonly AimPlan[];
  readonly networks: readonly NetworkPlan[];
  readonly messages: readonly { readonly name: string; readonly columns: number }[];
  readonly reactions: readonly ReactionPlan[];
  readonly records: readonly RecordPlan[];
  readonly tables: readonly (readonly (readonly number[])[])[];
  readonly rules: readonly RulePlan[];
  readonly schedule: readonly ScheduleEntry[];
  readonly timeline: readonly TimelinePlan[];
  readonly measures: readonly (SeriesPlan & { readonly body: AskedBody; readonly counts?: CountedPlan })[];
  /** The order in which the measures of a row are taken: each after those that it reads. */
  readonly measureOrder: readonly number[];
  readonly summaries: readonly (SeriesPlan & { readonly value: RowExpr })[];
  readonly checks: readonly CheckPlan[];
  /** Values that summaries and checks read at the end of the run. */
  readonly finals: readonly AskedBody[];
  /** All values that the run asks for, by their ids. */
  readonly asked: readonly AskedBody[];
  readonly charts: readonly {
    readonly title: string;
    readonly measures: readonly number[];
    readonly levels: readonly number[];
    /** The measure that the others are drawn over in place of time. */
    readonly against?: number;
    readonly distribution?: DistributionPlan;
  }[];
  readonly counters: number;
  readonly sites: readonly Site[];
}
