import type { Span } from '../diagnostics.ts';

/** The syntax tree. Every node keeps its place; names keep the spelling of the text and compare by `key`. */

export interface Name {
  readonly text: string;
  /** Lower-cased: names match whatever their capitals. */
  readonly key: string;
  readonly span: Span;
}

interface Node {
  readonly span: Span;
}

export type BinaryOperator = '+' | '-' | '*' | '/' | '^' | '<' | '<=' | '>' | '>=' | 'is' | 'is not' | 'and' | 'or';
export type GatherFunction = 'sum' | 'mean' | 'geometric mean' | 'min' | 'max' | 'median' | 'sd' | 'quantile';

export interface Argument extends Node {
  readonly name?: Name;
  readonly share?: Expr | 'rest';
  readonly value: Expr;
}

/** Which of the ways to a place is taken. */
export interface WayChoice {
  /** That of least time rather than of least length. */
  readonly quickest: boolean;
  /** Kinds of ways to keep to; all of the map if absent. */
  readonly ways?: readonly Name[];
}

export type Expr = Node &
  (
    | { readonly is: 'number'; readonly value: number; readonly unit?: Name }
    | { readonly is: 'percent'; readonly value: number }
    | { readonly is: 'date'; readonly text: string }
    | { readonly is: 'time'; readonly hours: number }
    | { readonly is: 'string'; readonly text: string }
    | { readonly is: 'yesno'; readonly value: boolean }
    | { readonly is: 'nobody' | 'nowhere' | 'here' | 'day of year' }
    | { readonly is: 'somewhere'; readonly zone?: Name; readonly space?: Name }
    /** `place named "Mill"` of a map. */
    | { readonly is: 'named place'; readonly name: FileName }
    /** The length of the way along the lanes from here; with `at` the time it takes at that speed. */
    | {
        readonly is: 'way to';
        readonly to: Expr;
        readonly at?: Expr;
        readonly way: WayChoice;
        /** Lines that may be taken on the way. */
        readonly lines?: readonly Name[];
      }
    /** How many seats a vehicle has, has left, and how many ride in it. */
    | { readonly is: 'seats'; readonly which: SeatWords; readonly of: Expr }
    | { readonly is: 'path'; readonly names: readonly Name[] }
    /** `welfare(2)`, or as somebody else reckons it: `a.welfare(2)`. */
    | { readonly is: 'call'; readonly of?: Expr; readonly name: Name; readonly args: readonly Argument[] }
    | { readonly is: 'unary'; readonly op: '-' | 'not'; readonly value: Expr }
    | { readonly is: 'binary'; readonly op: BinaryOperator; readonly left: Expr; readonly right: Expr }
    | {
        readonly is: 'one of';
        readonly not: boolean;
        readonly left: Expr;
        readonly options: readonly Expr[];
        readonly query?: Query;
      }
    | { readonly is: 'in zone'; readonly not: boolean; readonly place: Expr; readonly zone: Name }
    | { readonly is: 'tie to'; readonly other: Expr; readonly network: Name }
    | { readonly is: 'network'; readonly which: NetworkWords; readonly network: Name }
    | { readonly is: 'time in'; readonly path: Expr }
    | { readonly is: 'if'; readonly condition: Expr; readonly then: Expr; readonly else: Expr }
    | { readonly is: 'per'; readonly value: Expr; readonly count: number; readonly unit: Name }
    | { readonly is: 'with unit'; readonly value: Expr; readonly unit: Name }
    | { readonly is: 'brackets'; readonly value: Expr }
    | { readonly is: 'at'; readonly field: Name; readonly place: Expr }
    | { readonly is: 'point'; readonly x: Expr; readonly y: Expr }
    | { readonly is: 'ask'; readonly ask: 'count' | 'any' | 'share'; readonly query: Query }
    | {
        readonly is: 'pick';
        readonly how: 'random' | 'nearest' | 'first' | 'most' | 'least';
        readonly query: Query;
        readonly by?: Expr;
      }
    | {
        readonly is: 'gather';
        readonly fn: GatherFunction;
        readonly level?: Expr;
        readonly of: Expr;
        readonly over?: Query;
        readonly last?: Expr;
      }
    | { readonly is: 'time of'; readonly which: 'max' | 'min'; readonly of: Expr }
    | {
        readonly is: 'first time' | 'ever' | 'always' | 'share of steps' | 'last of' | 'period' | SpellFunction;
        readonly of: Expr;
      }
    | { readonly is: 'growth rate'; readonly of: Expr; readonly first?: Expr; readonly last?: Expr }
    | { readonly is: 'mean peak'; readonly of: Expr; readonly during: Expr }
    | { readonly is: 'flow'; readonly which: 'entered' | 'left'; readonly path: Expr }
    | { readonly is: 'wrong' }
  );

/** What is asked of the stretches of a run in which a condition holds. */
type NetworkWords = (typeof NETWORK_WORDS)[number];

/** What is asked of a network as a whole: `diameter of Kin`. */
export const NETWORK_WORDS = [
  'components',
  'largest component',
  'clustering',
  'mean path',
  'diameter',
  'efficiency',
] as const;

/** What is asked of a vehicle: `seats left of f`. */
export const SEAT_WORDS = ['seats', 'seats left', 'riders'] as const;
type SeatWords = (typeof SEAT_WORDS)[number];

type SpellFunction = 'spells' | 'mean spell' | 'longest spell';

export type ExprOf<K extends Expr['is']> = Extract<Expr, { is: K }>;

export interface Reach extends Node {
  readonly is: 'within' | 'next to' | 'here' | 'square' | 'cross' | 'tied' | 'aboard' | 'carrying' | 'zone' | 'anyone';
  readonly distance?: Expr;
  readonly of?: Expr;
  /** Of `within D along the lanes`: the way counts, either way or ahead. */
  readonly along?: 'either way' | 'ahead';
  /** The network of `tied by`, the zone of `in zone`. */
  readonly name?: Name;
}

export interface Query extends Node {
  readonly head:
    | { readonly is: 'kind'; readonly name: Name; readonly owner?: Name }
    | { readonly is: 'cells'; readonly empty: boolean; readonly on?: Name; readonly span: Span }
    | { readonly is: 'ties'; readonly network: Name; readonly span: Span };
  readonly reaches: readonly Reach[];
  readonly alias?: Name;
  readonly where?: Expr;
  readonly weight?: Expr;
}

export type Block = readonly Statement[];

export interface Placing extends Node {
  readonly is:
    'anywhere' | 'nowhere' | 'here' | 'at' | 'within' | 'next to' | 'one to a cell' | 'circle' | 'zone' | 'cells';
  readonly distance?: Expr;
  readonly of?: Expr;
  readonly zone?: Name;
  /** Of `on cells where`; the cell is `it`. */
  readonly where?: Expr;
}

export type Statement = Node &
  (
    | { readonly is: 'let'; readonly name: Name; readonly value: Expr }
    | {
        readonly is: 'assign';
        readonly target: Expr;
        readonly op: '=' | '+=' | '-=' | '*=' | '/=';
        readonly value: Expr;
      }
    | { readonly is: 'if'; readonly condition: Expr; readonly then: Block; readonly else?: Block }
    | { readonly is: 'with'; readonly name: Name; readonly value: Expr; readonly then: Block; readonly else?: Block }
    | { readonly is: 'for each'; readonly name: Name; readonly query: Query; readonly body: Block }
    /** Somebody else than the asker if `who` is there. */
    | { readonly is: 'turn'; readonly who?: Expr; readonly how: 'by' | 'to'; readonly value: Expr }
    | { readonly is: 'move'; readonly who?: Expr; readonly how: 'by' | 'to'; readonly value: Expr }
    | { readonly is: 'move toward'; readonly who?: Expr; readonly target: Expr; readonly by: Expr }
    | {
        readonly is: 'travel';
        readonly target: Expr;
        readonly at: Expr;
        readonly way: WayChoice;
        /** Lines that may be taken on the way. */
        readonly lines?: readonly Name[];
        /** What is done where no way leads there. */
        readonly else?: Block;
      }
    | {
        readonly is: 'create';
        readonly count: Expr;
        readonly kind: Name;
        readonly placing?: Placing;
        readonly alias?: Name;
        readonly block: Block;
      }
    | { readonly is: 'remove'; readonly target: Expr }
    | { readonly is: 'repeat'; readonly most: Expr; readonly body: Block }
    | { readonly is: 'until'; readonly condition: Expr }
    | { readonly is: 'add'; readonly value: Expr; readonly target: Expr }
    | {
        readonly is: 'send';
        readonly message: Name;
        readonly args: readonly Argument[];
        readonly to?: Expr;
        readonly all?: Query;
        readonly after?: Expr;
      }
    | { readonly is: 'tie'; readonly from?: Expr; readonly to: Expr; readonly network: Name; readonly block: Block }
    | { readonly is: 'untie'; readonly from?: Expr; readonly to?: Expr; readonly network: Name }
    | { readonly is: 'join'; readonly other: Expr; readonly network: Name }
    /** `board v`, and `take on w` with a rider. */
    | {
        readonly is: 'board';
        readonly rider?: Expr;
        /** The acting agent if absent. */
        readonly vehicle?: Expr;
        /** What is done where there is nobody to ride with, or no seat. */
        readonly else?: Block;
      }
    /** `alight`, and `set down w` with a rider. */
    | { readonly is: 'alight'; readonly rider?: Expr }
    | { readonly is: 'do'; readonly name: Name; readonly args: readonly Argument[] }
    | { readonly is: 'log'; readonly values: readonly Expr[] }
    | { readonly is: 'end run' }
  );

export type StatementOf<K extends Statement['is']> = Extract<Statement, { is: K }>;

interface Part extends Node {
  /** The sentence in quotes at the end of the line, shown by the interface. */
  readonly about?: string;
}

export interface ModelPart extends Part {
  readonly is: 'model';
  readonly title: string;
  readonly prose: readonly string[];
}
export interface ClockPart extends Part {
  readonly is: 'clock';
  readonly step?: Expr;
  /** The day with which runs begin, and the time of it. */
  readonly from?: { readonly text: string; readonly span: Span; readonly hours?: number };
  readonly endAfter?: Expr;
  readonly endWhen: readonly Expr[];
}
export interface Bound extends Node {
  readonly from: Expr;
  readonly to: Expr;
}
export interface ParameterPart extends Part {
  readonly is: 'parameter';
  readonly name: Name;
  readonly value: Expr;
  readonly choices?: readonly Name[];
  readonly whole: boolean;
  readonly bound?: Bound;
}
export interface VariablePart extends Part {
  readonly is: 'variable';
  readonly name: Name;
  /** Its first value; without it a table gives them all. */
  readonly value?: Expr;
  readonly choices?: readonly Name[];
  readonly table?: SeriesTable;
}
/** A table of times and values, in the unit of the values, if they have one. */
export interface SeriesTable extends Node {
  readonly file: FileName;
  readonly column?: FileName;
  readonly unit?: Name;
}
/** A unit of measure of the model's own, perhaps a multiple of another. */
export interface UnitPart extends Part {
  readonly is: 'unit';
  readonly name: Name;
  readonly of?: { readonly count: number; readonly unit: Name };
}
/** A small file that is kept in the model itself. */
export interface DataPart extends Part {
  readonly is: 'data';
  readonly file: FileName;
  readonly lines: readonly string[];
  /** Where each begins in the text. */
  readonly starts: readonly number[];
}
/** A scenario or a study: its lines are those of the text of a study, and are read as such once the model is known. */
interface LinesOfStudy extends Part {
  /** Empty if it has no name. */
  readonly title: string;
  readonly lines: readonly { readonly text: string; readonly span: Span }[];
}
export interface ScenarioPart extends LinesOfStudy {
  readonly is: 'scenario';
}
export interface StudyPart extends LinesOfStudy {
  readonly is: 'study';
}
export interface TallyPart extends Part {
  readonly is: 'tally';
  readonly name: Name;
  readonly kept: boolean;
}
export interface DefinePart extends Part {
  readonly is: 'define';
  readonly name: Name;
  readonly inputs: readonly Name[];
  readonly value: Expr;
}
/** A value of the model as a whole, computed whenever it is read. */
interface DerivePart extends Part {
  readonly is: 'derive';
  readonly name: Name;
  readonly value: Expr;
}
export interface RoutinePart extends Part {
  readonly is: 'routine';
  readonly name: Name;
  readonly inputs: readonly Name[];
  readonly body: Block;
}
export type Shape = Node &
  (
    | { readonly is: 'box'; readonly from: Expr; readonly to: Expr }
    | { readonly is: 'circle'; readonly radius: Expr; readonly around: Expr }
    | { readonly is: 'line' | 'cells'; readonly places: readonly Expr[] }
    | { readonly is: 'from'; readonly file: FileName }
    /** Areas of a map: those of a name, or of a kind. */
    | { readonly is: 'area named'; readonly name: FileName }
    | { readonly is: 'areas of'; readonly kind: Name }
  );
export interface ZonePart extends Part {
  readonly is: 'zone' | 'obstacle';
  readonly name: Name;
  readonly space: Name;
  readonly shapes: readonly Shape[];
}
/** A name in quotes: of a file that lies beside the model, of a place or area of a map. */
export interface FileName extends Node {
  readonly name: string;
}
export type NetworkMaker = Node &
  (
    | { readonly is: 'none' | 'lattice' }
    | { readonly is: 'from'; readonly file: FileName }
    | { readonly is: 'ring' | 'random' | 'preferential'; readonly size: Expr }
    | { readonly is: 'small world'; readonly size: Expr; readonly rewired: Expr }
    | { readonly is: 'blocks'; readonly by: Expr; readonly inside: Expr; readonly across: Expr }
    | { readonly is: 'near'; readonly size: Expr }
    | { readonly is: 'groups'; readonly size: Expr; readonly where?: Expr }
  );
export interface NetworkPart extends Part {
  readonly is: 'network';
  readonly name: Name;
  readonly kinds: readonly [Name, Name];
  readonly directed: boolean;
  readonly maker: NetworkMaker;
  readonly has: readonly HasLine[];
}
/** A line that vehicles of a kind run on. */
export interface LinePart extends Part {
  readonly is: 'line';
  readonly name: Name;
  readonly kind: Name;
  /** Vehicles run from the last stop to the first, too. */
  readonly bothWays: boolean;
  readonly stops: readonly Expr[];
  /** Of `stops from "piers.csv"`. */
  readonly stopsFile?: FileName;
  /** Of `timetable from "ferries.csv"`, which says where and when vehicles stop. */
  readonly timetable?: FileName;
  readonly every?: Expr;
  readonly at?: Expr;
  readonly way: WayChoice;
  /** How long a vehicle stays at a stop; a step if it is not said. */
  readonly dwell?: Expr;
}
export interface MessagePart extends Part {
  readonly is: 'message';
  readonly name: Name;
  readonly has: readonly HasLine[];
}
export interface RecordPart extends Part {
  readonly is: 'record';
  readonly name: Name;
  readonly values: readonly Expr[];
  readonly every?: Expr;
  readonly when?: Expr;
}
export interface SpacePart extends Part {
  readonly is: 'space';
  readonly name: Name;
  readonly form: 'plane' | 'grid' | 'map';
  /** Absent of a map, which has the size of its lanes. */
  readonly width?: Expr;
  readonly height?: Expr;
  readonly map?: MapSource;
  readonly neighbours?: 4 | 6 | 8;
  readonly oneAgentACell: boolean;
  readonly cell?: Expr;
  readonly edge?: 'wrapping' | 'walled' | 'reflecting';
}
export interface MapSource {
  readonly file: FileName;
  /** Kinds of ways that become lanes; all that people go on if absent. */
  readonly ways?: readonly Name[];
  readonly allParts: boolean;
  readonly inMetres: boolean;
}
export interface FieldPart extends Part {
  readonly is: 'field';
  readonly name: Name;
  /** The words that it holds: `start bare of bare, heather`. */
  readonly choices?: readonly Name[];
  readonly space: Name;
  readonly cell?: Expr;
  /** Whether its values are kept in single precision. */
  readonly isSingle: boolean;
  readonly start?: Expr;
  readonly startFile?: FileName;
  /** The numbers in that file and the choices for which they stand, by their places: `of 1 bare, 2 heather, 7 bare`. */
  readonly codes?: readonly { readonly value: number; readonly option: number }[];
  readonly grow?: Expr;
  readonly spread?: Expr;
  readonly fade?: Expr;
  readonly becomes: readonly BecomesLine[];
  readonly keep?: Bound;
}
export interface BecomesLine extends Node {
  readonly value: Expr;
  readonly when?: Expr;
}
export interface StartLine extends Node {
  /** How many; a row of a table each; one on every cell that fits. */
  readonly count:
    Expr | { readonly is: 'table'; readonly file: FileName } | { readonly is: 'every cell'; readonly where?: Expr };
  readonly placing?: Placing;
  readonly facing?: Expr;
}
export interface HasLine extends Part {
  readonly name: Name;
  readonly value: Expr;
  readonly choices?: readonly Name[];
  readonly whole: boolean;
  /** The kind of an attribute that points at agents: `has mother: Vole = nobody`. */
  readonly kind?: Name;
  /** `last 3 Vole`: the latest few that were added. */
  readonly list?: { readonly size: number; readonly of: 'agents' | 'numbers' | 'places' };
}
/** What an agent does when a message reaches it. */
export interface ReactionLine extends Node {
  readonly message: Name;
  readonly alias?: Name;
  readonly when?: Expr;
  readonly body: Block;
}
/** An attribute that is computed whenever it is read. */
export interface DeriveLine extends Part {
  readonly name: Name;
  readonly value: Expr;
}
export interface BehaviourPart extends Part {
  readonly is: 'behaviour';
  readonly name: Name;
  readonly every?: Expr;
  readonly when?: Expr;
  readonly body: Block;
}
export interface Share extends Node {
  readonly share: Expr | 'rest';
  readonly state: Name;
}
export interface Transition extends Node {
  readonly trigger: 'after' | 'rate' | 'chance' | 'when' | 'on' | 'on arrival';
  /** The duration, rate, chance or condition; of `on` and `on arrival` its chance, 1 if it has none. */
  readonly value: Expr;
  readonly message?: Name;
  readonly alias?: Name;
  readonly when?: Expr;
  readonly targets: readonly Share[];
  readonly block: Block;
}
export interface StatePart extends Part {
  readonly name: Name;
  readonly enter: readonly Block[];
  readonly leave: readonly Block[];
  readonly transitions: readonly Transition[];
  /** Which of the states inside comes first, and these states. */
  readonly start: readonly StartShare[];
  readonly states: readonly StatePart[];
}
export interface StartShare extends Node {
  readonly share: Expr | 'rest' | 'all';
  /** `Singing when fame > 0.9`: those that meet the condition. */
  readonly when?: Expr;
  /** `3 of Singing`: exactly so many. */
  readonly exact: boolean;
  readonly state: Name;
}
export interface StatesPart extends Part {
  readonly is: 'states';
  readonly name: Name;
  readonly start: readonly StartShare[];
  readonly states: readonly StatePart[];
}
export interface SeatsLine extends Node {
  readonly value: Expr;
}
export interface AgentPart extends Part {
  readonly is: 'agent';
  readonly name: Name;
  readonly space?: Name;
  readonly starts: readonly StartLine[];
  readonly has: readonly HasLine[];
  readonly derives: readonly DeriveLine[];
  /** `seats 12`: agents of the kind are vehicles. */
  readonly seats?: SeatsLine;
  readonly states: readonly StatesPart[];
  readonly behaviours: readonly BehaviourPart[];
  readonly defines: readonly DefinePart[];
  readonly routines: readonly RoutinePart[];
  readonly reactions: readonly ReactionLine[];
}
export interface Role extends Node {
  readonly name: Name;
  readonly kind: Name;
}
export type Partner = Node &
  (
    | {
        readonly is: 'reach';
        readonly reach: Reach;
        readonly pick?: 'nearest' | 'random' | 'first' | 'most' | 'least';
        /** `random 3 within 5 m` */
        readonly howMany?: number;
        readonly by?: Expr;
      }
    | { readonly is: 'mixing'; readonly count: Expr; readonly sources: readonly MixingSource[] }
  );
export interface MixingSource extends Node {
  readonly share: Expr | 'rest';
  readonly reach: Reach;
}
export interface InteractionPart extends Part {
  readonly is: 'interaction';
  readonly name: Name;
  readonly roles: readonly [Role, Role];
  readonly partner: Partner;
  readonly oncePerPair: boolean;
  readonly where?: Expr;
  readonly luck?: { readonly is: 'chance' | 'rate'; readonly value: Expr };
  readonly body: Block;
}
export type Mode = 'in turn' | 'in fixed order' | 'all at once';
export interface OrderLine extends Node {
  readonly rules: readonly (readonly Name[])[];
  readonly mode?: Mode;
}
export interface OrderPart extends Part {
  readonly is: 'order';
  readonly lines: readonly OrderLine[];
}
export type TimelineWhen =
  | { readonly is: 'at start' }
  | { readonly is: 'at'; readonly time: Expr }
  | { readonly is: 'from'; readonly from: Expr; readonly to: Expr }
  | { readonly is: 'every'; readonly period: Expr }
  | { readonly is: 'every year on'; readonly month: number; readonly day: number }
  /** 1 is Monday, 7 Sunday; 0 every day. Hours after midnight. */
  | { readonly is: 'every day'; readonly weekday: number; readonly hours: number }
  | { readonly is: 'when' | 'whenever' | 'while'; readonly condition: Expr };
export interface TimelineLine extends Node {
  readonly when: TimelineWhen;
  readonly body: Block;
}
export interface TimelinePart extends Part {
  readonly is: 'timeline';
  readonly lines: readonly TimelineLine[];
}
export interface MeasurePart extends Part {
  readonly is: 'measure' | 'summary';
  readonly name: Name;
  /** The unit in which it is shown and written; without one the base unit of the text. */
  readonly unit?: Name;
  /** By what the agents that it asks for are told apart: there is one value for each group. */
  readonly by?: Name;
  readonly value: Expr;
}
export interface ChartPart extends Part {
  readonly is: 'chart';
  readonly title: string;
  readonly values: readonly Expr[];
  /** What the values are drawn over in place of time. */
  readonly against?: Expr;
  /** What is gathered, of agents as they are at a step, in place of values. */
  readonly distribution?: ExprOf<'gather'>;
  /** Levels to hold the values against. */
  readonly levels: readonly Expr[];
}
export interface ShowPart extends Part {
  readonly is: 'show';
  readonly name: Name;
  readonly shape?: Name;
  readonly size?: Expr;
  readonly colourBy?: Expr;
  readonly colour?: Name;
  readonly scale?: readonly [Name, Name];
  /** Colours of words of a choice. */
  readonly words: readonly { readonly word: Name; readonly colour: Name }[];
  /** A field on a plane is drawn cell by cell rather than softly. */
  readonly asCells?: boolean;
}
export interface CheckPart extends Part {
  readonly is: 'check';
  readonly title: string;
  readonly settings: readonly { readonly name: Name; readonly value: Expr }[];
  readonly seeds: number;
  readonly duration?: Expr;
  readonly expectations: readonly {
    readonly value: Expr;
    readonly bound?: Bound;
    readonly runs: 'every' | Expr | undefined;
  }[];
}

/** A part of a model as it was parsed, told apart by `is`. */
export type AnyPart =
  | ModelPart
  | ClockPart
  | UnitPart
  | DataPart
  | ScenarioPart
  | StudyPart
  | ParameterPart
  | VariablePart
  | TallyPart
  | DefinePart
  | DerivePart
  | RoutinePart
  | BehaviourPart
  | SpacePart
  | ZonePart
  | NetworkPart
  | LinePart
  | FieldPart
  | MessagePart
  | AgentPart
  | InteractionPart
  | OrderPart
  | TimelinePart
  | MeasurePart
  | RecordPart
  | ChartPart
  | ShowPart
  | CheckPart;

export type PartOf<K extends AnyPart['is']> = Extract<AnyPart, { is: K }>;

export interface SyntaxTree {
  readonly parts: readonly AnyPart[];
}

export function partsOf<K extends AnyPart['is']>(tree: SyntaxTree, is: K): PartOf<K>[] {
  return tree.parts.filter((part): part is PartOf<K> => part.is === is);
}
