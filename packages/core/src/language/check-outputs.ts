import { comparable } from './check-expression.ts';
import type { ExpressionChecker } from './check-expression.ts';
import type {
  CheckedChart,
  CheckedRecord,
  CheckedShow,
  KindSymbol,
  LocalSymbol,
  MeasureSymbol,
  RuleSymbol,
} from './checked.ts';
import { NOBODY } from './environment.ts';
import type { Context, Environment } from './environment.ts';
import { isColour, isShape, LOOK_COLOURS, LOOK_SCALE_ENDS, LOOK_SHAPES } from './looks.ts';
import * as say from './meaning-messages.ts';
import { nearestWord } from './near-names.ts';
import type * as Ast from './syntax.ts';
import { partsOf } from './syntax.ts';
import { PLAIN_NUMBER, sayType, wordsOf, YESNO } from './types.ts';
import type { Type } from './types.ts';

type InteractionRule = Extract<RuleSymbol, { is: 'interaction' }>;

/** Checks what a model shows, charts and records of a run, and what its checks expect. */
export class OutputChecker {
  constructor(
    private readonly env: Environment,
    private readonly tree: Ast.SyntaxTree,
    private readonly e: ExpressionChecker,
    private readonly interactions: readonly InteractionRule[],
  ) {}

  charts(): CheckedChart[] {
    return partsOf(this.tree, 'chart').map((part) => {
      if (part.distribution) this.distribution(part.distribution);
      return {
        title: part.title,
        measures: part.values.flatMap((value) => this.measuresOf(value)),
        levels: part.levels.flatMap((value) => this.env.chartMeasures.get(value) ?? []),
        against: part.against && this.oneMeasure(part.against),
        distribution: part.distribution,
      };
    });
  }

  private oneMeasure(value: Ast.Expr): MeasureSymbol | undefined {
    const [measure, another] = this.measuresOf(value);
    if (another) this.env.report(say.wrongType(value.span, 'One measure', 'several of a group'));
    return measure;
  }

  /** What agents have at a step: of all of a kind, or of those that fit. */
  private distribution(gathering: Ast.ExprOf<'gather'>): void {
    const { env } = this;
    this.e.check(gathering, { ...NOBODY, noDraws: 'A chart' });
    const { over } = gathering;
    const isOfKind = over && env.queryHeads.get(over)?.is === 'agents' && over.reaches.length === 0;
    if (!isOfKind && (!over || env.queryHeads.has(over))) env.report(say.distributionOf(gathering.span));
  }

  /** The measures that a name or expression of a chart stands for. */
  private measuresOf(value: Ast.Expr): readonly MeasureSymbol[] {
    const made = this.env.chartMeasures.get(value);
    if (made) return [made];
    if (value.is === 'path' && value.names.length > 1) {
      const of = this.env.measures.get(value.names.map(({ key }) => key).join('.'))!;
      this.e.names.standsForGroup(value, of);
      return [of];
    }
    const name = value.is === 'path' ? value.names[0]! : undefined;
    const groups = name && this.env.measureGroups.get(name.key);
    if (groups) {
      this.env.stands(name, { name: name.text, span: groups[0]!.span });
      return groups;
    }
    const measure = name && this.env.measures.get(name.key);
    if (measure && name) {
      this.env.stands(name, measure);
      this.env.use(measure);
      return [measure];
    }
    const known = [...this.env.measures.values()].map((m) => m.name);
    if (name)
      this.env.report(
        say.unknownName(name.span, name.text, nearestWord(name.text, known), undefined, 'A chart draws measures.'),
      );
    return [];
  }

  shows(): CheckedShow[] {
    return partsOf(this.tree, 'show').flatMap((part) => {
      const kind = this.env.kinds.get(part.name.key);
      const field = this.env.fields.get(part.name.key);
      const target = kind ?? field ?? this.env.networks.get(part.name.key) ?? this.env.zones.get(part.name.key);
      if (!target) {
        const { kinds, fields, networks, zones } = this.env;
        const known = [...kinds.values(), ...fields.values(), ...networks.values(), ...zones.values()].map(
          (symbol) => symbol.name,
        );
        this.env.report(say.unknownShown(part.name.span, part.name.text, nearestWord(part.name.text, known)));
        return [];
      }
      this.env.stands(part.name, target);
      this.env.use(target);
      if (part.asCells && !field)
        this.env.report(say.wrongType(part.name.span, 'A field for “as cells”', 'something without cells'));
      this.look(part, kind);
      this.colouredWords(part, field ? field.type : part.colourBy && this.env.types.get(part.colourBy));
      return [{ part, target }];
    });
  }

  records(): CheckedRecord[] {
    return partsOf(this.tree, 'record').flatMap((part): CheckedRecord[] => {
      const { env } = this;
      const kind = env.kinds.get(part.name.key);
      const interaction = this.interactions.find((i) => i.name.toLowerCase() === part.name.key);
      const field = env.fields.get(part.name.key);
      const target = kind ?? interaction ?? field;
      if (!target) {
        const known = [...env.kinds.values(), ...this.interactions, ...env.fields.values()].map(({ name }) => name);
        env.report(say.unknownRecorded(part.name.span, part.name.text, nearestWord(part.name.text, known)));
        return [];
      }
      env.stands(part.name, target);
      env.use(target);
      if (part.every) this.e.time(part.every, NOBODY);
      if (target.is === 'field') {
        for (const beside of [...part.values, ...(part.when ? [part.when] : [])])
          env.report(say.recordOfField(beside.span, target.name));
        return [{ part, target }];
      }
      const lets = interaction ? this.letsOf(interaction.part) : [];
      const context: Context = kind
        ? { self: kind.self, asker: kind.self, owner: kind, locals: new Map(), noDraws: 'A record' }
        : {
            asker: interaction!.roles[0],
            locals: new Map([...interaction!.roles, ...lets].map((local) => [local.name.toLowerCase(), local])),
            noDraws: 'A record',
          };
      for (const value of part.values) {
        const type = this.e.check(value, context);
        if (!['number', 'yesno', 'choice', 'agent', 'unknown'].includes(type.is))
          env.report(say.wrongType(value.span, 'A value', sayType(type)));
      }
      if (part.when) this.e.yesNo(part.when, context);
      const isAtEnd = interaction && (part.when !== undefined || part.values.some((value) => this.reads(value, lets)));
      return [{ part, target, isAtEnd }];
    });
  }

  /** What a meeting names for itself, for as long as it lasts. */
  private letsOf({ body }: Ast.InteractionPart): LocalSymbol[] {
    return body.flatMap((statement) => (statement.is === 'let' ? (this.env.locals.get(statement) ?? []) : []));
  }

  private reads({ span }: Ast.Expr, locals: readonly LocalSymbol[]): boolean {
    return [...this.env.refs].some(
      ([at, ref]) =>
        ref.is === 'local' && locals.includes(ref.local) && at.span.start >= span.start && at.span.end <= span.end,
    );
  }

  private look(part: Ast.ShowPart, kind: KindSymbol | undefined): void {
    const colour = (name: Ast.Name, known: readonly string[]): void => {
      if (!known.includes(name.key))
        this.env.report(say.unknownLook(name.span, name.text, 'colour', known, nearestWord(name.text, known)));
    };
    if (part.shape && kind && !isShape(part.shape.key) && !isColour(part.shape.key)) {
      const known = [...LOOK_SHAPES, ...LOOK_COLOURS];
      this.env.report(
        say.unknownLook(
          part.shape.span,
          part.shape.text,
          'shape or colour',
          known,
          nearestWord(part.shape.text, known),
        ),
      );
    }
    if (part.colour) colour(part.colour, LOOK_COLOURS);
    for (const end of part.scale ?? []) colour(end, LOOK_SCALE_ENDS);
    if (!kind) return;
    const context: Context = { self: kind.self, asker: kind.self, owner: kind, locals: new Map(), noDraws: 'A show' };
    if (part.size) this.e.numeric(part.size, context);
    if (part.colourBy) this.e.check(part.colourBy, context);
  }

  /** `show ground: bare straw, heather moss`: words of the choice that is shown. */
  private colouredWords({ words, name }: Ast.ShowPart, shown: Type | undefined): void {
    const { env } = this;
    if (shown?.is === 'unknown') return;
    for (const { word, colour } of words) {
      const known = (shown && wordsOf(shown)) ?? [];
      const option = known.findIndex((other) => other.toLowerCase() === word.key);
      if (known.length === 0) env.report(say.noWordsShown(word.span, name.text));
      else if (option < 0) env.report(say.unknownChoice(word.span, word.text, known, nearestWord(word.text, known)));
      else if (shown?.is === 'choice') env.stands(word, { name: shown.options[option]!, span: shown.spans[option]! });
      if (!(LOOK_SCALE_ENDS as readonly string[]).includes(colour.key)) {
        const near = nearestWord(colour.text, LOOK_SCALE_ENDS);
        env.report(say.unknownLook(colour.span, colour.text, 'colour', LOOK_SCALE_ENDS, near));
      }
    }
  }

  checks(): void {
    const context: Context = {
      ...NOBODY,
      noDraws: 'A check',
      measuresAllowed: true,
      summary: true,
      summariesAllowed: true,
    };
    for (const part of partsOf(this.tree, 'check')) {
      for (const setting of part.settings) {
        const parameter = this.env.parameters.get(setting.name.key);
        if (!parameter) {
          const known = [...this.env.parameters.values()].map((p) => p.name);
          this.env.report(
            say.unknownName(
              setting.name.span,
              setting.name.text,
              nearestWord(setting.name.text, known),
              undefined,
              'A check sets parameters.',
            ),
          );
        } else this.env.stands(setting.name, parameter);
        const found = this.e.check(setting.value, NOBODY, parameter?.type ?? PLAIN_NUMBER);
        const fits =
          !parameter || found.is === 'unknown' || parameter.type.is === 'unknown' || comparable(parameter.type, found);
        if (!fits)
          this.env.report(
            say.wrongType(
              setting.value.span,
              sayType(parameter.type).replace(/^./, (first) => first.toUpperCase()),
              sayType(found),
            ),
          );
      }
      if (part.duration) this.e.time(part.duration, NOBODY);
      for (const expectation of part.expectations) {
        const type = this.e.check(expectation.value, context, YESNO);
        if (expectation.bound)
          for (const end of [expectation.bound.from, expectation.bound.to]) this.e.numeric(end, NOBODY);
        else if (type.is !== 'yesno' && type.is !== 'unknown')
          this.env.report(
            say.wrongType(expectation.value.span, 'A condition, or a number with bounds,', sayType(type)),
          );
      }
    }
  }
}
