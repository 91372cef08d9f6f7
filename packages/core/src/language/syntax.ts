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

export type Expr = Node &
  (
    | { readonly is: 'number'; readonly value: number; readonly unit?: Name }
    | { readonly is: 'percent'; readonly value: number }
    | { readonly is: 'date'; readonly text: string }
    | { readonly is: 'time'; readonly hours: number }
    | { readonly is: 'string'; readonly text: string }
    | { readonly is: 'yesno'; readonly value: boolean }
    | { readonly is: 'nobody' | 'nowhere' | 'here' | 'somewhere' | 'day of year' }
    | { readonly is: 'path'; readonly names: readonly Name[] }
    | { readonly is: 'call'; readonly name: Name; readonly args: readonly Argument[] }
    | { readonly is: 'unary'; readonly op: '-' | 'not'; readonly value: Expr }
    | { readonly is: 'binary'; readonly op: BinaryOperator; readonly left: Expr; readonly right: Expr }
    | { readonly is: 'one of'; readonly not: boolean; readonly left: Expr; readonly options: readonly Expr[] }
    | { readonly is: 'if'; readonly condition: Expr; readonly then: Expr; readonly else: Expr }
    | { readonly is: 'per'; readonly value: Expr; readonly count: number; readonly unit: Name }
    | { readonly is: 'with unit'; readonly value: Expr; readonly unit: Name }
    | { readonly is: 'brackets'; readonly value: Expr }
    | { readonly is: 'at'; readonly field: Name; readonly place: Expr }
    | { readonly is: 'point'; readonly x: Expr; readonly y: Expr }
    | { readonly is: 'ask'; readonly ask: 'count' | 'any' | 'share'; readonly query: Query }
    | { readonly is: 'pick'; readonly how: 'random' | 'nearest' | 'first' | 'most' | 'least'; readonly query: Query; readonly by?: Expr }
    | {
        readonly is: 'gather';
        readonly fn: GatherFunction;
        readonly level?: Expr;
        readonly of: Expr;
        readonly over?: Query;
        readonly last?: Expr;
      }
    | { readonly is: 'time of'; readonly which: 'max' | 'min'; readonly of: Expr }
    | { readonly is: 'first time' | 'ever' | 'always' | 'last of'; readonly of: Expr }
    | { readonly is: 'flow'; readonly which: 'entered' | 'left'; readonly path: Expr }
    | { readonly is: 'wrong' }
  );

export type ExprOf<K extends Expr['is']> = Extract<Expr, { is: K }>;

export interface Reach extends Node {
  readonly is: 'within' | 'next to' | 'here' | 'square' | 'cross';
  readonly distance?: Expr;
  readonly of?: Expr;
}

export interface Query extends Node {
  readonly head: { readonly is: 'kind'; readonly name: Name } | { readonly is: 'cells'; readonly empty: boolean; readonly span: Span };
  readonly reaches: readonly Reach[];
  readonly alias?: Name;
  readonly where?: Expr;
  readonly weight?: Expr;
}

export type Block = readonly Statement[];

export interface Placing extends Node {
  readonly is: 'anywhere' | 'here' | 'at' | 'within' | 'one to a cell' | 'circle';
  readonly distance?: Expr;
  readonly of?: Expr;
}

export type Statement = Node &
  (
    | { readonly is: 'let'; readonly name: Name; readonly value: Expr }
    | { readonly is: 'assign'; readonly target: Expr; readonly op: '=' | '+=' | '-=' | '*=' | '/='; readonly value: Expr }
    | { readonly is: 'if'; readonly condition: Expr; readonly then: Block; readonly else?: Block }
    | { readonly is: 'with'; readonly name: Name; readonly value: Expr; readonly then: Block; readonly else?: Block }
    | { readonly is: 'for each'; readonly name: Name; readonly query: Query; readonly body: Block }
    | { readonly is: 'turn'; readonly how: 'by' | 'to'; readonly value: Expr }
    | { readonly is: 'move'; readonly how: 'by' | 'to'; readonly value: Expr }
    | { readonly is: 'move toward'; readonly target: Expr; readonly by: Expr }
    | {
        readonly is: 'create';
        readonly count: Expr;
        readonly kind: Name;
        readonly placing?: Placing;
        readonly alias?: Name;
        readonly block: Block;
      }
    | { readonly is: 'remove'; readonly target: Expr }
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
  readonly from?: { readonly text: string; readonly span: Span };
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
  readonly value: Expr;
  readonly choices?: readonly Name[];
}
export interface SpacePart extends Part {
  readonly is: 'space';
  readonly name: Name;
  readonly form: 'plane' | 'grid';
  readonly width: Expr;
  readonly height: Expr;
  readonly neighbours?: 4 | 6 | 8;
  readonly oneAgentACell: boolean;
  readonly edge?: 'wrapping' | 'walled' | 'reflecting';
}
export interface FieldPart extends Part {
  readonly is: 'field';
  readonly name: Name;
  readonly space: Name;
  readonly cell?: Expr;
  readonly start?: Expr;
  readonly grow?: Expr;
  readonly spread?: Expr;
  readonly fade?: Expr;
  readonly keep?: Bound;
}
export interface StartLine extends Node {
  readonly count: Expr;
  readonly placing?: Placing;
  readonly facing?: Expr;
}
export interface HasLine extends Part {
  readonly name: Name;
  readonly value: Expr;
  readonly choices?: readonly Name[];
  readonly whole: boolean;
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
  readonly trigger: 'after' | 'rate' | 'chance' | 'when';
  readonly value: Expr;
  readonly when?: Expr;
  readonly targets: readonly Share[];
  readonly block: Block;
}
export interface StatePart extends Part {
  readonly name: Name;
  readonly enter: readonly Block[];
  readonly leave: readonly Block[];
  readonly transitions: readonly Transition[];
}
export interface StartShare extends Node {
  readonly share: Expr | 'rest' | 'all';
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
export interface AgentPart extends Part {
  readonly is: 'agent';
  readonly name: Name;
  readonly space?: Name;
  readonly starts: readonly StartLine[];
  readonly has: readonly HasLine[];
  readonly derives: readonly DeriveLine[];
  readonly states: readonly StatesPart[];
  readonly behaviours: readonly BehaviourPart[];
}
export interface Role extends Node {
  readonly name: Name;
  readonly kind: Name;
}
export interface InteractionPart extends Part {
  readonly is: 'interaction';
  readonly name: Name;
  readonly roles: readonly [Role, Role];
  readonly reach: Reach;
  readonly pick?: 'nearest' | 'random' | 'first';
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
  readonly value: Expr;
}
export interface ChartPart extends Part {
  readonly is: 'chart';
  readonly title: string;
  readonly values: readonly Expr[];
}
export interface ShowPart extends Part {
  readonly is: 'show';
  readonly name: Name;
  readonly shape?: Name;
  readonly size?: Expr;
  readonly colourBy?: Expr;
  readonly colour?: Name;
  readonly scale?: readonly [Name, Name];
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

export type AnyPart =
  | ModelPart
  | ClockPart
  | ParameterPart
  | VariablePart
  | SpacePart
  | FieldPart
  | AgentPart
  | InteractionPart
  | OrderPart
  | TimelinePart
  | MeasurePart
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
