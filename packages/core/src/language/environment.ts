import type { Diagnostic, Progress, Span } from '../diagnostics.ts';
import type {
  CheckedRaster,
  CheckedSeries,
  CheckedTable,
  CheckedTies,
  CheckedTrip,
  DeriveSymbol,
  Expansion,
  FieldSymbol,
  Hop,
  KindSymbol,
  LineSymbol,
  LocalSymbol,
  MeasureSymbol,
  MessageSymbol,
  NamedPlace,
  NameUse,
  NetworkSymbol,
  ParameterSymbol,
  QueryHead,
  Ref,
  RidingSymbol,
  SpaceSymbol,
  TallySymbol,
  VariableSymbol,
  ZoneSymbol,
} from './checked.ts';
import * as say from './meaning-messages.ts';
import { nearestWord } from './near-names.ts';
import type { ModelFile } from '../maps/map-file.ts';
import type { Scales } from './scales.ts';
import type * as Ast from './syntax.ts';
import type { Type } from './types.ts';
import { UNKNOWN } from './types.ts';

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
  /** In a check: summaries are read, too. */
  readonly summariesAllowed?: boolean;
  /** In a summary: measures are read as rows of the run. */
  readonly summary?: boolean;
  readonly locals: ReadonlyMap<string, LocalSymbol>;
  /** Paths, as text, that are known to be somebody here, as to the right of `friend is not nobody and`. */
  readonly sure?: ReadonlySet<string>;
  /** The kind whose formulas and routines are in reach; with `self` usually its kind. */
  readonly owner?: KindSymbol;
  /** The part of the text that is in the order as a rule, while its statements are read. */
  readonly rule?: object;
  /** The field whose cells act here. */
  readonly field?: FieldSymbol;
  /** The cell that a query looks at, of which bare fields are read. */
  readonly cell?: LocalSymbol;
  /** What is asked of the candidate of a query, beside what stands in the query itself. */
  readonly asked?: Ast.Expr;
  /** The space that is called for here, whoever asks. */
  readonly space?: SpaceSymbol;
  /** Formulas and routines that are being read, to find those that use themselves. */
  readonly within?: readonly object[];
}

/** Where nobody acts and nothing was given a name. */
export const NOBODY: Context = { locals: new Map() };

/** Where and how a name is declared: its symbol, or the name itself. */
export type Declared = Ast.Name | { readonly name: string; readonly span: Span };

/** The named things of a model and the findings of the checker, shared by its parts. */
export class Environment {
  readonly parameters = new Map<string, ParameterSymbol>();
  readonly tallies = new Map<string, TallySymbol>();
  readonly zones = new Map<string, ZoneSymbol>();
  readonly networks = new Map<string, NetworkSymbol>();
  readonly ridings = new Map<string, RidingSymbol>();
  readonly lines = new Map<string, LineSymbol>();
  readonly messages = new Map<string, MessageSymbol>();
  readonly derives = new Map<string, DeriveSymbol>();
  readonly defines = new Map<string, Ast.DefinePart>();
  readonly routineParts = new Map<string, Ast.RoutinePart>();
  readonly variables = new Map<string, VariableSymbol>();
  readonly fields = new Map<string, FieldSymbol>();
  readonly kinds = new Map<string, KindSymbol>();
  readonly measures = new Map<string, MeasureSymbol>();
  readonly summaries = new Map<string, MeasureSymbol>();
  /** Measures by group, under the name that the groups have in common. */
  readonly measureGroups = new Map<string, readonly MeasureSymbol[]>();
  readonly spaces = new Map<string, SpaceSymbol>();
  hasCalendar = false;

  readonly types = new Map<Ast.Expr, Type>();
  readonly refs = new Map<Ast.Expr, Ref>();
  readonly locals = new Map<object, LocalSymbol>();
  readonly kindOf = new Map<object, KindSymbol>();
  readonly networkOf = new Map<object, NetworkSymbol>();
  readonly askersRiding = new Map<object, RidingSymbol>();
  readonly linesOf = new Map<object, readonly LineSymbol[]>();
  readonly stopTables = new Map<LineSymbol, readonly NamedPlace[]>();
  readonly inputSeries = new Map<VariableSymbol, CheckedSeries>();
  readonly timetables = new Map<LineSymbol, readonly CheckedTrip[]>();
  timetableDays: 1 | 7 = 1;
  /** The day of the week with which a run begins, Monday 0, where the clock says the date. */
  firstWeekday: number | undefined;
  /** Kinds whose agents take lines, so that they may wait. */
  readonly takers = new Set<KindSymbol>();
  readonly zoneOf = new Map<object, ZoneSymbol>();
  readonly spaceOf = new Map<object, SpaceSymbol>();
  readonly messageOf = new Map<object, MessageSymbol>();
  readonly queryHeads = new Map<object, QueryHead>();
  readonly listQueries = new Map<Ast.Expr, Ast.Query>();
  readonly hops = new Map<Ast.Expr, Hop>();
  readonly formulas = new Map<object, Expansion<Ast.Expr>>();
  readonly routines = new Map<object, Expansion<Ast.Block>>();
  readonly tables = new Map<object, CheckedTable>();
  readonly tieFiles = new Map<object, CheckedTies>();
  readonly rasters = new Map<object, CheckedRaster>();
  readonly namedPlaces = new Map<Ast.Expr, NamedPlace>();
  readonly outlines = new Map<object, readonly Float64Array[]>();
  readonly uses = new Map<number, NameUse>();
  readonly used = new Set<object>();
  /** Messages that somebody sends, and those that somebody hears. */
  readonly sent = new Set<MessageSymbol>();
  readonly heard = new Set<MessageSymbol>();
  /** Measures made of the expressions of charts. */
  readonly chartMeasures = new Map<Ast.Expr, MeasureSymbol>();
  /** Machines whose time in a state is asked for. */
  readonly timedMachines = new Set<object>();
  /** Where rules do what only one after the other can do, by rule. */
  readonly needTurns = new Map<object, Map<number, Span>>();
  /** Machines that some statement sets by hand. */
  readonly setMachines = new Set<object>();

  private readonly found: Diagnostic[] = [];
  private readonly told = new Set<string>();
  private muted = false;
  /** Where a new parameter is put by a fix. */
  declareAt: number | undefined;

  constructor(
    readonly text: string,
    readonly scales: Scales,
    /** The files beside the model, by name. */
    readonly files: ReadonlyMap<string, ModelFile>,
    readonly progress: Progress,
  ) {}

  get diagnostics(): readonly Diagnostic[] {
    return this.found;
  }

  report(diagnostic: Diagnostic): void {
    if (this.muted) return;
    // What is read several times, as formulas and measures by group are, is told once.
    const { code, message, span } = diagnostic;
    const key = `${code} ${span.start} ${span.end} ${message}`;
    if (this.told.has(key)) return;
    this.told.add(key);
    this.found.push(diagnostic);
  }

  /** Reports, and gives the type of what could not be understood. */
  wrong(diagnostic: Diagnostic): Type {
    this.report(diagnostic);
    return UNKNOWN;
  }

  /** Runs a pass that only infers types: what it would report is left to the last pass. */
  mutedPass(pass: () => void): void {
    this.muted = true;
    try {
      pass();
    } finally {
      this.muted = false;
    }
  }

  textOf(span: Span): string {
    return this.text.slice(span.start, span.end);
  }

  /** Notes what a name stands for. What only infers types notes nothing: it may still take a word for something else. */
  stands(name: Ast.Name, declared: Declared): void {
    // What the checker has written itself stands nowhere.
    if (this.muted || name.span.start < 0) return;
    const known = this.uses.get(name.span.start);
    if (known) known.declaredAt.add(declared.span.start);
    else
      this.uses.set(name.span.start, {
        spelling: 'text' in declared ? declared.text : declared.name,
        declaredAt: new Set([declared.span.start]),
      });
  }

  kindNamed(type: Type): KindSymbol | undefined {
    return type.is === 'agent' ? this.kinds.get(type.kind.toLowerCase()) : undefined;
  }

  /** The space meant at one place of the text: the one that is called for there, else that of the asker or field, else the first one. */
  spaceAt(context: Context): SpaceSymbol | undefined {
    return (
      context.space ??
      (context.asker && this.spaceOfType(context.asker.type)) ??
      context.field?.space ??
      this.firstSpace
    );
  }

  spaceNamed(name: Ast.Name): SpaceSymbol | undefined {
    const space = this.spaces.get(name.key);
    if (space) this.stands(name, space);
    else
      this.report(
        say.unknownSpace(
          name.span,
          name.text,
          [...this.spaces.values()].map((known) => known.name),
        ),
      );
    return space;
  }

  get firstSpace(): SpaceSymbol | undefined {
    return this.spaces.values().next().value;
  }

  /** The space of a type that stands for a place; undefined where any will do. */
  spaceOfType(type: Type): SpaceSymbol | undefined {
    return type.is === 'place' && type.space !== undefined
      ? this.spaces.get(type.space.toLowerCase())
      : this.kindNamed(type)?.space;
  }

  use(symbol: object): void {
    this.used.add(symbol);
  }

  /** The message of a name; where there is none that is reported. */
  messageNamed({ key, span, text }: Ast.Name): MessageSymbol | undefined {
    const message = this.messages.get(key);
    if (!message) {
      const names = [...this.messages.values()].map(({ name }) => name);
      this.report(say.unknownMessage(span, text, this.near(text, names)));
    }
    return message;
  }

  near(word: string, ...groups: Iterable<string>[]): string | undefined {
    return nearestWord(
      word,
      groups.flatMap((group) => [...group]),
    );
  }
}
