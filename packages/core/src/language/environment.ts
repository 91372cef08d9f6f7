import type { Diagnostic, Span } from '../diagnostics.ts';
import type { FieldSymbol, KindSymbol, LocalSymbol, MeasureSymbol, ParameterSymbol, Ref, SpaceSymbol, VariableSymbol } from './checked.ts';
import { nearestWord } from './near-names.ts';
import type { Scales } from './scales.ts';
import type * as Ast from './syntax.ts';
import type { Type } from './types.ts';

/** What may be named and done at one place of the text. Contexts nest; an inner one sees what the outer ones declare. */
export interface Context {
  /** The agent whose attributes stand bare. */
  readonly self?: LocalSymbol;
  /** The agent that asks queries; in an interaction the acting one. */
  readonly asker?: LocalSymbol;
  readonly it?: LocalSymbol;
  /** Who may not draw luck here, in words; undefined where drawing is allowed. */
  readonly noDraws?: string;
  readonly measuresAllowed?: boolean;
  /** In a summary: measures are read as rows of the run. */
  readonly summary?: boolean;
  readonly locals: ReadonlyMap<string, LocalSymbol>;
}

/** The named things of a model and the findings of the checker, shared by its parts. */
export class Environment {
  readonly parameters = new Map<string, ParameterSymbol>();
  readonly variables = new Map<string, VariableSymbol>();
  readonly fields = new Map<string, FieldSymbol>();
  readonly kinds = new Map<string, KindSymbol>();
  readonly measures = new Map<string, MeasureSymbol>();
  readonly summaries = new Map<string, MeasureSymbol>();
  space: SpaceSymbol | undefined;
  hasCalendar = false;

  readonly types = new Map<Ast.Expr, Type>();
  readonly refs = new Map<Ast.Expr, Ref>();
  readonly locals = new Map<object, LocalSymbol>();
  readonly kindOf = new Map<object, KindSymbol>();
  readonly spellings = new Map<number, string>();
  readonly used = new Set<object>();
  /** Machines that some statement sets by hand. */
  readonly setMachines = new Set<object>();

  /** The rule whose lines are being checked, and what in rules depends on the mode they run in. */
  rule: object | undefined;
  readonly modal: { readonly rule: object | undefined; readonly span: Span; readonly agent: LocalSymbol | undefined; readonly is: 'machine' | 'move' }[] = [];

  private readonly found: Diagnostic[] = [];
  private muted = false;
  /** Where a new parameter is put by a fix. */
  declareAt: number | undefined;

  constructor(
    readonly text: string,
    readonly scales: Scales,
  ) {}

  get diagnostics(): readonly Diagnostic[] {
    return this.found;
  }

  report(diagnostic: Diagnostic): void {
    if (!this.muted) this.found.push(diagnostic);
  }

  /** Runs a pass that only infers types: what it would report is left to the last pass. */
  mutedPass(pass: () => void): void {
    this.muted = true;
    pass();
    this.muted = false;
  }

  textOf(span: Span): string {
    return this.text.slice(span.start, span.end);
  }

  spell(name: Ast.Name, declared: string): void {
    this.spellings.set(name.span.start, declared);
  }

  use(symbol: object): void {
    this.used.add(symbol);
  }

  near(word: string, ...groups: Iterable<string>[]): string | undefined {
    return nearestWord(word, groups.flatMap((group) => [...group]));
  }
}
