import type { Diagnostic, Span, TextEdit } from '../diagnostics.ts';
import { applyEdits } from '../diagnostics.ts';
import type { CheckResult, NameUse } from './checked.ts';
import { checkModel } from './checker.ts';
import type { ModelFile } from '../maps/map-file.ts';
import type { Token } from './lexer.ts';
import type { DefinePart, RoutinePart } from './syntax.ts';
import { partsOf } from './syntax.ts';

/** All edits that give a name another spelling, or why that cannot be. */
export interface Renaming {
  /** One for each place where the name stands. */
  readonly edits: readonly TextEdit[];
  /** Why the name cannot be changed so; no edits then. */
  readonly problem?: string;
}

export interface Named {
  /** As it is written at the place that was asked for. */
  readonly name: string;
  readonly spans: readonly Span[];
}

/** Names at places of one model text. */
export class Names {
  private readonly check: CheckResult;
  private readonly tokens: readonly Token[];
  private readonly formulas: readonly (DefinePart | RoutinePart)[];

  /** @param files beside the model, by name */
  constructor(
    private readonly text: string,
    private readonly files: ReadonlyMap<string, ModelFile> = new Map(),
  ) {
    this.check = checkModel(text, files);
    this.tokens = namesOf(this.check);
    const { tree } = this.check;
    this.formulas = [
      ...partsOf(tree, 'define'),
      ...partsOf(tree, 'routine'),
      ...partsOf(tree, 'agent').flatMap((part) => [...part.defines, ...part.routines]),
    ];
  }

  /** The name at a place of the text, with all places where the same is named; nothing on words of the language and in prose. */
  named(at: number): Named | undefined {
    const token = this.tokenAt(at);
    const same = token ? this.sameAs(token) : [];
    return token && same.length > 0 ? { name: token.text, spans: same.map(({ span }) => span) } : undefined;
  }

  /**
   * Gives what is named at a place another name, wherever it stands, if the model then still means the same. Things of the same name stay as
   * they are, unless a formula or routine reads both. Prose is left alone.
   * @param at offset of a place in, or at an end of, the name
   */
  rename(at: number, to: string): Renaming {
    if (!/^[\p{L}_][\p{L}\p{N}_]*$/u.test(to))
      return { edits: [], problem: `“${to}” is no name: letters, digits and _ make one.` };
    const named = this.named(at);
    if (!named) return { edits: [], problem: 'Nothing that has a name of its own stands here.' };
    const edits = named.spans.map((span) => ({ span, text: to }));
    const after = checkModel(applyEdits(this.text, edits), this.files);
    const problem = firstNew(this.check.diagnostics, after.diagnostics) ?? this.mistaken(edits, after.uses);
    return problem ? { edits: [], problem: `“${to}” cannot be the name: ${problem}` } : { edits };
  }

  private tokenAt(at: number): Token | undefined {
    return (
      this.tokens.find(({ span }) => span.start <= at && at < span.end) ??
      this.tokens.find(({ span }) => span.end === at)
    );
  }

  /** All places where what is named here is named, in the order of the text. */
  private sameAs(token: Token): Token[] {
    const { uses } = this.check;
    const declared = new Set(uses.get(token.span.start)?.declaredAt);
    for (let before = -1; before < declared.size;) {
      before = declared.size;
      for (const { declaredAt } of uses.values())
        if ([...declaredAt].some((at) => declared.has(at))) for (const at of declaredAt) declared.add(at);
    }
    const isSame = ({ span }: Token): boolean => {
      const use = uses.get(span.start);
      return use !== undefined && [...use.declaredAt].some((at) => declared.has(at));
    };
    const own = this.tokens.filter(
      (other) =>
        isSame(other) ||
        (other.word === token.word &&
          !uses.has(other.span.start) &&
          this.isLoose(other) &&
          this.inputOf(other) === this.inputOf(token)),
    );
    // A word of the language can stand for a thing of another name, as “tie” does in an interaction.
    return own.every((other) => other.word === token.word) && own.includes(token) ? own : [];
  }

  /** Own units, and names that the checker has not come to: in a text with errors, and in formulas that nobody uses. */
  private isLoose(token: Token): boolean {
    if (partsOf(this.check.tree, 'unit').some((part) => part.name.key === token.word)) return true;
    return this.isNamed(token.word) && (this.check.model === undefined || this.formulaAt(token) !== undefined);
  }

  private formulaAt({ span: { start } }: Token): DefinePart | RoutinePart | undefined {
    return this.formulas.find(({ span }) => span.start <= start && start < span.end);
  }

  /** The formula or routine that has an input of this name, if the checker has not come to it. */
  private inputOf(token: Token): DefinePart | RoutinePart | undefined {
    const formula = this.check.uses.has(token.span.start) ? undefined : this.formulaAt(token);
    return formula?.inputs.some((input) => input.key === token.word) ? formula : undefined;
  }

  /** Whether something in the text is declared under a word. */
  private isNamed(word: string): boolean {
    const isInput = ({ inputs }: DefinePart | RoutinePart): boolean => inputs.some((input) => input.key === word);
    return (
      this.formulas.some(isInput) ||
      this.tokens.some(
        (token) => token.word === word && this.check.uses.get(token.span.start)?.declaredAt.has(token.span.start),
      )
    );
  }

  /** Says which name would be taken for something else after the edits, if one would. */
  private mistaken(edits: readonly TextEdit[], after: ReadonlyMap<number, NameUse>): string | undefined {
    const moved = (at: number): number =>
      edits.reduce((sum, { span, text }) => (span.start < at ? sum + text.length - (span.end - span.start) : sum), at);
    for (const [at, { declaredAt, spelling }] of this.check.uses) {
      const now = after.get(moved(at))?.declaredAt;
      const isKept = now?.size === declaredAt.size && [...declaredAt].every((place) => now.has(moved(place)));
      if (!isKept)
        return `“${spelling}” in line ${this.text.slice(0, at).split('\n').length} would then be taken for something else.`;
    }
    return undefined;
  }
}

/** The names of a text in their order, those in tables that it holds included. */
function namesOf({ lexed, uses }: CheckResult): Token[] {
  const tokens = lexed.tokens.filter((token) => token.type === 'name');
  const read = new Set(tokens.map(({ span }) => span.start));
  const inTables = [...uses].flatMap(([start, { spelling }]): Token[] => {
    const span = { start, end: start + spelling.length };
    return read.has(start) ? [] : [{ type: 'name', text: spelling, word: spelling.toLowerCase(), value: 0, span }];
  });
  return [...tokens, ...inTables].sort((a, b) => a.span.start - b.span.start);
}

function firstNew(before: readonly Diagnostic[], after: readonly Diagnostic[]): string | undefined {
  const left = new Map<string, number>();
  for (const { code } of before) left.set(code, (left.get(code) ?? 0) + 1);
  for (const { code, message } of after) {
    const known = left.get(code) ?? 0;
    if (known === 0) return message;
    left.set(code, known - 1);
  }
  return undefined;
}
