import type { Diagnostic, Span } from '../diagnostics.ts';
import type { LexResult } from './lexer.ts';
import type { Scales } from './scales.ts';
import type * as Ast from './syntax.ts';
import type { ChoiceType, Type } from './types.ts';

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

export interface SpaceSymbol extends Symbol {
  readonly is: 'space';
  readonly form: 'plane' | 'grid';
  readonly edge: 'wrapping' | 'walled' | 'reflecting';
  readonly neighbours: 4 | 8;
  readonly oneAgentACell: boolean;
  readonly unit: DisplayUnit;
  readonly part: Ast.SpacePart;
}

export interface FieldSymbol extends Symbol {
  readonly is: 'field';
  readonly part: Ast.FieldPart;
}

export interface AttributeSymbol extends Symbol {
  readonly is: 'attribute';
  type: Type;
  readonly unit: DisplayUnit;
  readonly line: Ast.HasLine;
}

export interface StateSymbol {
  readonly name: string;
  readonly key: string;
  readonly span: Span;
  readonly part: Ast.StatePart;
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
  readonly part: Ast.StatesPart;
}

export interface KindSymbol extends Symbol {
  readonly is: 'kind';
  readonly attributes: readonly AttributeSymbol[];
  readonly derives: readonly DeriveSymbol[];
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
}

export type BuiltIn = 'x' | 'y' | 'direction' | 'number' | 'place';
export type ClockReading = 'now' | 'step' | 'hour' | 'weekday' | 'month' | 'year' | 'day of year' | 'date';

/** What a name stands for, at one place in the text. */
export type Ref =
  | { readonly is: 'parameter'; readonly parameter: ParameterSymbol }
  | { readonly is: 'variable'; readonly variable: VariableSymbol }
  | { readonly is: 'field'; readonly field: FieldSymbol }
  | { readonly is: 'attribute'; readonly kind: KindSymbol; readonly attribute: AttributeSymbol; readonly agent: LocalSymbol }
  | { readonly is: 'derive'; readonly kind: KindSymbol; readonly derive: DeriveSymbol; readonly agent: LocalSymbol }
  | { readonly is: 'machine'; readonly kind: KindSymbol; readonly machine: MachineSymbol; readonly agent: LocalSymbol }
  | { readonly is: 'builtin'; readonly which: BuiltIn; readonly agent: LocalSymbol }
  | { readonly is: 'local'; readonly local: LocalSymbol }
  | { readonly is: 'clock'; readonly which: ClockReading }
  | { readonly is: 'measure'; readonly measure: MeasureSymbol }
  | { readonly is: 'option'; readonly option: number }
  | { readonly is: 'flow'; readonly kind: KindSymbol; readonly machine: MachineSymbol; readonly state: number };

export type RuleSymbol =
  | { readonly is: 'behaviour'; readonly name: string; readonly kind: KindSymbol; readonly part: Ast.BehaviourPart; readonly span: Span }
  | { readonly is: 'machine'; readonly name: string; readonly kind: KindSymbol; readonly machine: MachineSymbol; readonly span: Span }
  | { readonly is: 'interaction'; readonly name: string; readonly roles: readonly [LocalSymbol, LocalSymbol]; readonly part: Ast.InteractionPart; readonly span: Span }
  | { readonly is: 'field'; readonly name: string; readonly field: FieldSymbol; readonly span: Span };

export interface OrderEntry {
  readonly rules: readonly RuleSymbol[];
  readonly mode: Ast.Mode;
}

export interface CalendarDate {
  readonly year: number;
  readonly month: number;
  readonly day: number;
}

export interface CheckedClock {
  readonly part?: Ast.ClockPart;
  /** In base units of time. */
  readonly stepLength: number;
  readonly start?: CalendarDate;
  readonly unit: DisplayUnit;
}

export interface CheckedShow {
  readonly part: Ast.ShowPart;
  readonly target: KindSymbol | FieldSymbol;
}

export interface CheckedChart {
  readonly title: string;
  readonly measures: readonly MeasureSymbol[];
}

export interface CheckedModel {
  readonly title: string;
  readonly prose: readonly string[];
  readonly tree: Ast.SyntaxTree;
  readonly lexed: LexResult;
  readonly scales: Scales;
  readonly clock: CheckedClock;
  readonly space?: SpaceSymbol;
  readonly parameters: readonly ParameterSymbol[];
  readonly variables: readonly VariableSymbol[];
  readonly fields: readonly FieldSymbol[];
  readonly kinds: readonly KindSymbol[];
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
  /** Names as they are declared, by the offset at which they are used; for the formatter and for renaming. */
  readonly spellings: ReadonlyMap<number, string>;
}

export interface CheckResult {
  /** Absent if there are errors. */
  readonly model?: CheckedModel;
  readonly diagnostics: readonly Diagnostic[];
  readonly tree: Ast.SyntaxTree;
  readonly lexed: LexResult;
}
