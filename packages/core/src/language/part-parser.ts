import { nearestWord } from './near-names.ts';
import { MOST_ITEMS } from './limits.ts';
import * as say from './reading-messages.ts';
import type { ExpressionParser } from './parse-expression.ts';
import type { StatementParser } from './parse-statement.ts';
import type * as Ast from './syntax.ts';
import { describe } from './token-stream.ts';
import { stringValue } from './lexer.ts';
import type { TokenStream } from './token-stream.ts';

/** What the readers of parts have in common. */
export class PartParser {
  constructor(
    protected readonly s: TokenStream,
    protected readonly e: ExpressionParser,
    protected readonly st: StatementParser,
  ) {}

  protected unknownLine(known: readonly string[], under: string): never {
    return this.s.fail(say.unknownLine(this.s.placeForMissing(), describe(this.s.current), under, known));
  }

  /**
   * What follows after commas, each once; what is unknown is passed over, so that the part is there all the same.
   * @param read takes one, and says which it is
   */
  protected options(part: string, known: readonly string[], read: () => string | undefined): void {
    const { s } = this;
    const said = new Set<string>();
    for (let comma = s.current.span.start; s.takeIf(','); comma = s.current.span.start) {
      const { start } = s.current.span;
      const option = read();
      if (option === undefined) {
        s.skipTo(',');
        const span = s.spanFrom(start);
        const text = s.textOf(span);
        // A line goes on below its comma.
        const isMissing = text === '' || s.textOf({ start: comma, end: start }).includes('\n');
        s.report(
          isMissing
            ? say.nothingAfterComma({ start: comma, end: comma + 1 }, known)
            : say.unknownOption(span, text, part, known, nearestWord(text, known)),
        );
      } else if (said.has(option)) s.report(say.optionTwice(s.spanFrom(comma), s.textOf(s.spanFrom(start))));
      else said.add(option);
    }
  }

  protected bound(): Ast.Bound {
    const start = this.s.current.span.start;
    this.s.expect('from', 'bounds read “from 0 to 1”');
    const from = this.e.sum();
    this.s.expect('to', 'bounds read “from 0 to 1”');
    return { from, to: this.e.sum(), span: this.s.spanFrom(start) };
  }

  protected choicesAfter(value: Ast.Expr): Ast.Name[] | undefined {
    return value.is === 'path' && value.names.length === 1 && this.s.is('of') ? this.choices() : undefined;
  }

  /** `of calm, wild` */
  protected choices(): Ast.Name[] {
    this.s.take();
    const choices = [this.s.name('a choice')];
    while (this.s.is(',') && this.s.ahead(1).word !== 'whole' && this.s.ahead(1).word !== 'from') {
      this.s.take();
      choices.push(this.s.name('a choice'));
    }
    return choices;
  }

  /** `"name"` of a file that lies beside the model. */
  protected file(): Ast.FileName {
    if (!this.s.isType('string'))
      return this.s.fail(say.missingFile(this.s.placeForMissing(), describe(this.s.current)));
    const token = this.s.take();
    return { name: stringValue(token), span: token.span };
  }

  hasLine(start: number): Ast.HasLine {
    const s = this.s;
    const name = s.name('the name of the attribute');
    let kind: Ast.Name | undefined;
    if (s.takeIf(':')) {
      if (s.is('last')) return this.listLine(start, name);
      kind = s.name('the kind it points at: “has mother: Vole = nobody”');
    }
    s.expect('=', 'an attribute needs its first value: “has energy = 1”');
    const value = this.e.expression();
    const choices = this.choicesAfter(value);
    const whole = s.takeIf(',', 'whole');
    const about = s.endOfLine();
    return { name, value, choices, whole, kind, about, span: s.spanFrom(start) };
  }

  /** `has friends: last 3 Vole` */
  private listLine(start: number, name: Ast.Name): Ast.HasLine {
    const s = this.s;
    s.take();
    if (!s.isType('number')) s.fail(say.missingNumber(s.placeForMissing(), describe(s.current)));
    const size = s.take();
    if (!Number.isInteger(size.value) || size.value < 1 || size.value > MOST_ITEMS) s.report(say.listSize(size.span));
    const of = s.takeIf('numbers') ? 'numbers' : s.takeIf('places') ? 'places' : 'agents';
    const kind = of === 'agents' ? s.name('a kind, “numbers” or “places”: “last 3 Vole”') : undefined;
    const about = s.endOfLine();
    return {
      name,
      value: { is: 'nobody', span: name.span },
      whole: false,
      kind,
      list: { size: size.value, of },
      about,
      span: s.spanFrom(start),
    };
  }

  protected deriveLine(start: number): Ast.DeriveLine {
    const name = this.s.name('the name of what is derived');
    this.s.expect('=', 'a derived value reads “derive name = expression”');
    const value = this.e.expression();
    const about = this.s.endOfLine();
    return { name, value, about, span: this.s.spanFrom(start) };
  }

  protected define(start: number): Ast.DefinePart {
    const s = this.s;
    const name = s.name('the name of the formula');
    s.expect(
      '(',
      'a formula names its inputs: “define bite(x) = ...”; without inputs it is a “derive”, a variable or a parameter',
    );
    const inputs = this.inputs();
    s.expect('=', 'a formula reads “define name(inputs) = expression”');
    const value = this.e.expression();
    const about = s.endOfLine();
    return { is: 'define', name, inputs, value, about, span: s.spanFrom(start) };
  }

  private inputs(): Ast.Name[] {
    const inputs: Ast.Name[] = [];
    while (!this.s.is(')')) {
      if (inputs.length > 0) this.s.expect(',', 'inputs are separated by commas');
      inputs.push(this.s.name('the name of an input'));
    }
    this.s.take();
    return inputs;
  }

  protected routine(start: number): Ast.RoutinePart {
    const s = this.s;
    const name = s.name('the name of the routine');
    const inputs = s.takeIf('(') ? this.inputs() : [];
    const about = s.endOfLine();
    const span = s.spanFrom(start);
    return { is: 'routine', name, inputs, body: this.st.requiredBlock(span, 'a routine'), about, span };
  }

  protected behaviour(start: number): Ast.BehaviourPart {
    const s = this.s;
    const name = s.name('the name of the behaviour');
    const every = s.takeIf('every') ? this.e.sum() : undefined;
    const when = s.takeIf('when') ? this.e.expression() : undefined;
    const about = s.endOfLine();
    const span = s.spanFrom(start);
    return { is: 'behaviour', name, every, when, body: this.st.requiredBlock(span, 'a behaviour'), about, span };
  }

  protected shareOf(): Ast.Expr | 'rest' {
    return this.s.takeIf('rest') ? 'rest' : this.e.small();
  }
}
