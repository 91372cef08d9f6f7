import type { Diagnostic, Progress } from '../diagnostics.ts';
import { ExpressionChecker } from './check-expression.ts';
import { KindChecker } from './check-kinds.ts';
import { OrderChecker } from './check-order.ts';
import { OutputChecker } from './check-outputs.ts';
import { namesInStudies } from './study-names.ts';
import { StatementChecker } from './check-statements.ts';
import { demandPlainValue, SurroundingsChecker } from './check-surroundings.ts';
import type {
  CheckedClock,
  CheckedModel,
  CheckResult,
  LocalSymbol,
  NetworkSymbol,
  RuleSymbol,
  VariableSymbol,
} from './checked.ts';
import { DataReader } from './data.ts';
import { Declarer, findScales } from './declare.ts';
import { checkLine, declareLines } from './check-lines.ts';
import { reportRidingInCircles } from './check-riding.ts';
import { checkSizes } from './check-sizes.ts';
import { checkTimes } from './check-times.ts';
import { reportCircles } from './circles.ts';
import { reportDoubts } from './doubts.ts';
import type { Context } from './environment.ts';
import { Environment, NOBODY } from './environment.ts';
import * as say from './meaning-messages.ts';
import type { ModelFile } from '../maps/map-file.ts';
import { nearestWord } from './near-names.ts';
import type { ParseResult } from './parser.ts';
import { parse } from './parser.ts';
import type * as Ast from './syntax.ts';
import { unitScale } from './scales.ts';
import { partsOf } from './syntax.ts';
import type { Type } from './types.ts';
import { isPlain, number, PER_TIME, PLAIN, sameDimension, sayDimension, sayType } from './types.ts';

type InteractionRule = Extract<RuleSymbol, { is: 'interaction' }>;

const NO_FILES: ReadonlyMap<string, ModelFile> = new Map();
/** Attribute dimensions settle along chains of assignments; so many passes follow chains of so many links. */
const INFERENCE_PASSES = 3;

/**
 * Parses and checks a model text. Never throws on the text; `model` is there exactly if no finding is an error.
 * @param files the files beside the model, by the names under which it mentions them
 */
export function checkModel(text: string, files: ReadonlyMap<string, ModelFile> = NO_FILES): CheckResult {
  const progress: Progress = { at: { start: 0, end: text.length } };
  let parsed = UNREAD;
  try {
    parsed = parse(text);
    return checkParsed(text, files, parsed, progress);
  } catch (error) {
    return {
      diagnostics: sorted([...parsed.diagnostics, unforeseen(error, progress)]),
      tree: parsed.tree,
      lexed: parsed.lexed,
      uses: new Map(),
    };
  }
}

const UNREAD: ParseResult = {
  tree: { parts: [] },
  diagnostics: [],
  lexed: { tokens: [], comments: [], diagnostics: [] },
};

/** What was thrown on a text, as a finding at the piece that was worked on. */
export function unforeseen(error: unknown, { at }: Progress): Diagnostic {
  if (/stack|recursion/i.test(String(error))) return say.tooDeep(at);
  return say.unforeseen(at, error instanceof Error ? error.message : String(error));
}

function checkParsed(
  text: string,
  files: ReadonlyMap<string, ModelFile>,
  parsed: ParseResult,
  progress: Progress,
): CheckResult {
  const own = partsOf(parsed.tree, 'data').map(({ file, lines }) => [file.name, `${lines.join('\n')}\n`] as const);
  const env = new Environment(text, findScales(parsed.tree), new Map<string, ModelFile>([...files, ...own]), progress);
  const checker = new ModelChecker(
    env,
    parsed.tree,
    parsed.diagnostics.every((d) => d.severity !== 'error'),
  );
  const rest = parsed.diagnostics.some((d) => d.code === 'text/too-long') ? undefined : checker.run();
  const diagnostics = sorted([...parsed.diagnostics, ...(rest ? env.diagnostics : [])]);
  const failed = diagnostics.some((d) => d.severity === 'error');
  return {
    model: failed || !rest ? undefined : { ...rest, lexed: parsed.lexed },
    diagnostics,
    tree: parsed.tree,
    lexed: parsed.lexed,
    uses: env.uses,
  };
}

function sorted(diagnostics: readonly Diagnostic[]): Diagnostic[] {
  return [...diagnostics].sort((a, b) => a.span.start - b.span.start || a.span.end - b.span.end);
}

class ModelChecker {
  private readonly e: ExpressionChecker;
  private readonly st: StatementChecker;
  private readonly kinds: KindChecker;
  private readonly surrounding: SurroundingsChecker;
  private interactions: InteractionRule[] = [];

  constructor(
    private readonly env: Environment,
    private readonly tree: Ast.SyntaxTree,
    /** Whether all of the text could be read. */
    private readonly isWhole: boolean,
  ) {
    this.e = new ExpressionChecker(env);
    this.st = new StatementChecker(env, this.e);
    this.kinds = new KindChecker(env, this.e, this.st);
    this.surrounding = new SurroundingsChecker(env, this.e, this.kinds);
  }

  run(): Omit<CheckedModel, 'lexed'> {
    const { env, tree } = this;
    const model = partsOf(tree, 'model')[0];
    env.declareAt = (
      tree.parts.find((part) => part.is === 'parameter') ??
      tree.parts.find((part) => part.is !== 'model' && part.is !== 'clock')
    )?.span.start;
    if (!model) env.report(say.noModelTitle({ start: 0, end: 0 }));
    const declarer = new Declarer(env, tree);
    declarer.units();
    const clock = declarer.clock();
    declarer.spaces();
    declarer.parameters();
    declarer.variables();
    declarer.derives();
    declarer.tallies();
    declarer.zones();
    declarer.fields();
    declarer.formulas();
    declarer.kinds();
    declarer.networks();
    declareLines(env, tree);
    declarer.messages();
    const measures = declarer.measures();
    measures.declare();
    this.interactions = partsOf(tree, 'interaction').flatMap((part) => this.interactionSymbol(part) ?? []);
    for (let pass = 0; pass < INFERENCE_PASSES; pass++) env.mutedPass(() => this.bodies(clock));
    measures.declareGroups();
    this.bodies(clock);
    reportCircles(env);
    reportRidingInCircles(env);
    const order = new OrderChecker(env, tree, this.interactions).order();
    const outputs = new OutputChecker(env, tree, this.e, this.interactions);
    const charts = outputs.charts();
    const shows = outputs.shows();
    const records = outputs.records();
    outputs.checks();
    namesInStudies(env, tree);
    checkTimes(env, tree);
    checkSizes(env);
    new DataReader(env, tree).read();
    // What could not be read may be just what a doubt would miss.
    if (this.isWhole) reportDoubts(env, tree, order);
    return {
      title: model?.title ?? 'Untitled',
      prose: model?.prose ?? [],
      tree,
      scales: env.scales,
      clock,
      spaces: [...env.spaces.values()],
      parameters: [...env.parameters.values()],
      variables: [...env.variables.values()],
      derives: [...env.derives.values()],
      tallies: [...env.tallies.values()],
      zones: [...env.zones.values()],
      fields: [...env.fields.values()],
      kinds: [...env.kinds.values()],
      networks: [...env.networks.values()],
      ridings: [...env.ridings.values()],
      lines: [...env.lines.values()],
      takers: env.takers,
      messages: [...env.messages.values()],
      records,
      measures: [...env.measures.values()],
      summaries: [...env.summaries.values()],
      interactions: this.interactions,
      order,
      charts,
      shows,
      types: env.types,
      refs: env.refs,
      locals: env.locals,
      kindOf: env.kindOf,
      networkOf: env.networkOf,
      askersRiding: env.askersRiding,
      linesOf: env.linesOf,
      stopTables: env.stopTables,
      inputSeries: env.inputSeries,
      timetables: env.timetables,
      timetableDays: env.timetableDays,
      zoneOf: env.zoneOf,
      spaceOf: env.spaceOf,
      messageOf: env.messageOf,
      queryHeads: env.queryHeads,
      listQueries: env.listQueries,
      hops: env.hops,
      formulas: env.formulas,
      routines: env.routines,
      timedMachines: env.timedMachines,
      tables: env.tables,
      tieFiles: env.tieFiles,
      rasters: env.rasters,
      namedPlaces: env.namedPlaces,
      outlines: env.outlines,
      uses: env.uses,
    };
  }

  private interactionSymbol(part: Ast.InteractionPart): InteractionRule | undefined {
    const roles = part.roles.map((role): LocalSymbol | undefined => {
      const kind = this.env.kinds.get(role.kind.key);
      if (!kind) {
        const near = nearestWord(
          role.kind.text,
          [...this.env.kinds.values()].map((k) => k.name),
        );
        this.env.report(say.unknownKind(role.kind.span, role.kind.text, near));
        return undefined;
      }
      this.env.stands(role.kind, kind);
      this.env.use(kind);
      this.env.stands(role.name, role.name);
      return { is: 'local', name: role.name.text, span: role.name.span, type: kind.self.type };
    });
    const [first, second] = roles;
    this.env.stands(part.name, part.name);
    if (!first || !second) return undefined;
    if (part.roles[0].name.key === part.roles[1].name.key)
      this.env.report(say.takenName(part.roles[1].name.span, second.name, 'the first role'));
    return { is: 'interaction', name: part.name.text, roles: [first, second], part, span: part.name.span };
  }

  private bodies(clock: CheckedClock): void {
    this.clockBody(clock);
    for (const variable of this.env.variables.values()) this.variable(variable);
    for (const derive of this.env.derives.values())
      derive.type = this.e.check(derive.line.value, { ...NOBODY, noDraws: 'A derived value' });
    this.surroundings();
    for (const kind of this.env.kinds.values()) this.kinds.kind(kind);
    for (const interaction of this.interactions) this.interactionBody(interaction);
    this.timeline();
    for (const measure of this.env.measures.values()) {
      measure.type = this.e.check(measure.part.value, { ...NOBODY, noDraws: 'A measure', measuresAllowed: true });
      this.demandNumberOrYesNo(measure.part.value);
      this.shownUnit(measure.part, measure.type);
    }
    for (const summary of this.env.summaries.values()) {
      summary.type = this.e.check(summary.part.value, {
        ...NOBODY,
        noDraws: 'A summary',
        measuresAllowed: true,
        summary: true,
      });
      this.demandNumberOrYesNo(summary.part.value);
      this.shownUnit(summary.part, summary.type);
    }
  }

  private shownUnit({ unit }: Ast.MeasurePart, type: Type): void {
    if (!unit || type.is === 'unknown') return;
    const scale = unitScale(unit.key, this.env.scales);
    if (!scale) this.env.report(say.stepUnitOnly(unit.span));
    else if (type.is !== 'number' || !sameDimension(type.dim ?? scale.dim, scale.dim)) {
      this.env.report(
        say.wrongType(
          unit.span,
          type.is === 'number' ? `A unit of ${sayDimension(type.dim ?? PLAIN)}` : 'No unit',
          sayDimension(scale.dim),
        ),
      );
    }
  }

  private demandNumberOrYesNo(expr: Ast.Expr): void {
    const type = this.env.types.get(expr);
    if (type && type.is !== 'number' && type.is !== 'yesno' && type.is !== 'unknown')
      this.env.report(say.wrongType(expr.span, 'A number, or yes or no,', sayType(type)));
  }

  private clockBody({ part }: CheckedClock): void {
    if (!part) return;
    if (part.endAfter) this.e.time(part.endAfter, NOBODY);
    else this.env.report(say.noEnd(part.span));
    for (const condition of part.endWhen)
      this.e.yesNo(condition, { ...NOBODY, noDraws: 'The clock', measuresAllowed: true });
  }

  private variable(variable: VariableSymbol): void {
    const { value, table } = variable.part;
    if (!value) {
      const { unit } = table!;
      const scale = unit && unitScale(unit.key, this.env.scales);
      if (unit && !scale) this.env.report(say.stepUnitOnly(unit.span));
      if (unit && variable.type.is === 'choice') this.env.report(say.cannotSet(unit.span, 'The unit of a choice'));
      if (variable.type.is === 'unknown') variable.type = number(scale?.dim ?? PLAIN);
      return;
    }
    const before = variable.type;
    const found = this.e.check(value, { ...NOBODY, noDraws: 'The first value of a variable' }, before);
    demandPlainValue(this.env, value, found);
    if (before.is === 'unknown') variable.type = found;
    else if (found.is === 'number' && before.is === 'number' && !before.dim)
      variable.type = { ...before, dim: found.dim };
  }

  /** Spaces, zones, fields, networks, messages and what the surroundings do by themselves. */
  private surroundings(): void {
    const { env, e, st, surrounding, kinds } = this;
    for (const space of env.spaces.values()) surrounding.space(space);
    for (const zone of env.zones.values()) {
      if (zone.part.is === 'obstacle' && zone.space?.form === 'map')
        env.report(
          say.onLanesOnly(zone.span, 'An obstacle', 'Leave lanes out by the kinds of ways: “ways footway path”.'),
        );
      for (const shape of zone.part.shapes) surrounding.shape(shape, { ...NOBODY, space: zone.space });
    }
    for (const field of env.fields.values()) surrounding.field(field);
    for (const network of env.networks.values()) surrounding.network(network);
    for (const line of env.lines.values()) checkLine(env, e, line);
    for (const message of env.messages.values())
      for (const attribute of message.attributes)
        kinds.attribute(attribute, message.attributes, { ...NOBODY, noDraws: 'A message' });
    for (const part of partsOf(this.tree, 'behaviour')) {
      if (part.every) e.time(part.every, NOBODY);
      if (part.when) e.yesNo(part.when, NOBODY);
      st.block(part.body, NOBODY);
    }
  }

  private interactionBody({ part, roles }: InteractionRule): void {
    const { e, st } = this;
    const [first, second] = roles;
    const locals = new Map([
      [part.roles[0].name.key, first],
      [part.roles[1].name.key, second],
    ]);
    const context: Context = { asker: first, locals, rule: part };
    const network = this.partner(part.partner, context, roles);
    if (network) {
      const tie: LocalSymbol = this.env.locals.get(part) ?? {
        is: 'local',
        name: 'tie',
        span: part.span,
        type: { is: 'tie', network: network.name },
      };
      this.env.locals.set(part, tie);
      locals.set('tie', tie);
    }
    if (part.partner.is === 'mixing' && part.luck?.is === 'rate') this.env.report(say.mixingRate(part.luck.value.span));
    if (part.where) e.yesNo(part.where, { ...context, noDraws: 'The condition of an interaction' });
    if (part.luck?.is === 'rate') e.rate(part.luck.value, context);
    if (part.luck?.is === 'chance') e.chanceThatMatters(part.luck.value, context);
    st.block(part.body, context);
  }

  /** Checks who meets whom; gives the network if they meet through one. */
  private partner(
    partner: Ast.Partner,
    context: Context,
    [first, second]: readonly [LocalSymbol, LocalSymbol],
  ): NetworkSymbol | undefined {
    const { env, e } = this;
    const kind = env.kindNamed(second.type);
    const head = kind && ({ is: 'agents', kind } as const);
    if (partner.is === 'mixing') {
      const dim = e.numeric(partner.count, context);
      if (dim && !isPlain(dim) && !sameDimension(dim, PER_TIME))
        env.report(say.wrongType(partner.count.span, 'A number of meetings, or one per time,', sayDimension(dim)));
      for (const source of partner.sources) {
        if (source.share !== 'rest') e.chance(source.share, context);
        e.queries.reach(source.reach, context, head);
      }
      return undefined;
    }
    e.queries.reach(partner.reach, context, head);
    if (partner.by) e.numeric(partner.by, { ...context, it: second, noDraws: '“with most” and “with least”' });
    if (partner.pick === 'nearest') {
      if (!env.firstSpace) env.report(say.noSpace(partner.span, '“nearest”'));
      else if (partner.reach.is === 'anyone')
        e.sameSpace(partner.span, second.type, env.spaceAt({ ...context, asker: first }));
    }
    return partner.reach.is === 'tied' ? env.networkOf.get(partner.reach) : undefined;
  }

  private timeline(): void {
    const conditions: Context = { ...NOBODY, noDraws: 'A condition of the timeline', measuresAllowed: true };
    for (const part of partsOf(this.tree, 'timeline')) {
      for (const line of part.lines) {
        const { when } = line;
        if (when.is === 'at') this.e.time(when.time, NOBODY);
        if (when.is === 'from') for (const time of [when.from, when.to]) this.e.time(time, NOBODY);
        if (when.is === 'every') this.e.time(when.period, NOBODY);
        const needsCalendar = when.is === 'every year on' || (when.is === 'every day' && when.weekday > 0);
        if (when.is === 'every day' && !this.env.scales.time) this.env.report(say.stepUnitOnly(line.span));
        if (needsCalendar && !this.env.hasCalendar)
          this.env.report(say.wrongType(line.span, 'A clock with a starting date', 'a model without one'));
        if (when.is === 'when' || when.is === 'whenever' || when.is === 'while')
          this.e.yesNo(when.condition, conditions);
        for (const statement of line.body) this.timelineStatement(statement, when.is === 'from' || when.is === 'while');
      }
    }
  }

  /** Parameters are set by the timeline alone; periods (`from`, `while`) set nothing else (S4). */
  private timelineStatement(statement: Ast.Statement, parametersOnly: boolean): void {
    const key =
      statement.is === 'assign' && statement.target.is === 'path' && statement.target.names.length === 1
        ? statement.target.names[0]!.key
        : '';
    const parameter = this.env.parameters.get(key);
    if (statement.is === 'assign' && parameter) {
      this.env.use(parameter);
      this.env.refs.set(statement.target, { is: 'parameter', parameter });
      this.env.types.set(statement.target, parameter.type);
      this.env.stands((statement.target as Ast.ExprOf<'path'>).names[0]!, parameter);
      const found = this.e.check(statement.value, { ...NOBODY, measuresAllowed: true }, parameter.type);
      if (found.is !== 'unknown' && found.is !== parameter.type.is)
        this.env.report(say.wrongType(statement.value.span, sayType(parameter.type), sayType(found)));
      else if (found.is === 'number' && parameter.type.is === 'number' && found.dim && parameter.type.dim) {
        if (!sameDimension(parameter.type.dim, found.dim))
          this.env.report(say.wrongDimension(statement.span, sayType(parameter.type), sayType(found)));
      }
      return;
    }
    if (parametersOnly)
      this.env.report(say.cannotSet(statement.span, 'Anything but a parameter over a period (use “at” or “every”)'));
    else this.st.block([statement], NOBODY);
  }
}
