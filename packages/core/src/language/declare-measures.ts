import type { MeasureSymbol } from './checked.ts';
import type { Environment } from './environment.ts';
import { asksForKinds, groupingOf, valueForGroup } from './measure-groups.ts';
import * as say from './meaning-messages.ts';
import type * as Ast from './syntax.ts';
import { partsOf } from './syntax.ts';
import { UNKNOWN, wordsOf } from './types.ts';

/** Gives measures, summaries and what charts draw their symbols. */
export class MeasureDeclarer {
  constructor(
    private readonly env: Environment,
    private readonly tree: Ast.SyntaxTree,
    /** Those whose names are free. */
    private readonly parts: readonly Ast.MeasurePart[],
  ) {}

  /** Declares all but those by group, whose words are not known before types are inferred. */
  declare(): void {
    for (const part of this.parts) if (!part.by) this.measure(part);
    this.chartMeasures();
  }

  /** Declares all measures anew once the words are known by which some are grouped. */
  declareGroups(): void {
    const { env } = this;
    if (this.parts.every(({ by }) => !by)) return;
    for (const known of [env.measures, env.summaries, env.chartMeasures]) known.clear();
    for (const part of this.parts) {
      if (part.by) this.groups(part, part.by);
      else this.measure(part);
    }
    this.chartMeasures();
  }

  /** One measure for each group, under the name of the measure and that of the group. */
  private groups(part: Ast.MeasurePart, by: Ast.Name): void {
    const { env } = this;
    const grouping = groupingOf(part.value, by.key, env.kinds);
    const words = grouping && wordsOf(grouping.type);
    if (!words) {
      if (asksForKinds(part.value, env.kinds)) env.report(say.notGrouped(by.span, by.text));
      this.measure(part);
      return;
    }
    env.stands(by, grouping);
    env.use(grouping);
    const { name } = part;
    const symbols = words.map((word) =>
      this.measure({
        ...part,
        name: { ...name, text: `${name.text}.${word}`, key: `${name.key}.${word.toLowerCase()}` },
        value: valueForGroup(part.value, by.text, word, env.kinds),
      }),
    );
    env.measureGroups.set(name.key, symbols);
  }

  private measure(part: Ast.MeasurePart): MeasureSymbol {
    const target = part.is === 'measure' ? this.env.measures : this.env.summaries;
    const symbol: MeasureSymbol = {
      is: 'measure',
      name: part.name.text,
      key: part.name.key,
      index: target.size,
      span: part.name.span,
      about: part.about,
      type: UNKNOWN,
      part,
    };
    target.set(part.name.key, symbol);
    return symbol;
  }

  private chartMeasures(): void {
    for (const chart of partsOf(this.tree, 'chart')) {
      for (const value of [...chart.values, ...(chart.against ? [chart.against] : [])])
        if (!this.isMeasureName(value)) this.chartMeasure(value);
      for (const value of chart.levels) this.chartMeasure(value, 'level ');
    }
  }

  private isMeasureName(value: Ast.Expr): boolean {
    return (
      value.is === 'path' &&
      (value.names.length === 1 || this.env.measures.has(value.names.map(({ key }) => key).join('.')))
    );
  }

  /** An expression in a chart is a measure under its own words. */
  private chartMeasure(value: Ast.Expr, before = ''): void {
    const text = before + this.env.textOf(value.span).replace(/\s+/g, ' ');
    const name: Ast.Name = { text, key: `chart ${text.toLowerCase()}`, span: value.span };
    const part: Ast.MeasurePart = { is: 'measure', name, value, span: value.span };
    const known = this.env.measures.get(name.key);
    const symbol: MeasureSymbol = known ?? {
      is: 'measure',
      name: text,
      key: name.key,
      index: this.env.measures.size,
      span: value.span,
      type: UNKNOWN,
      part,
    };
    this.env.measures.set(name.key, symbol);
    this.env.chartMeasures.set(value, symbol);
  }
}
