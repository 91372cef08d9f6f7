import { formOf } from '../forms/forms.ts';
import { areRowsOdd } from '../forms/hexagons.ts';
import type { Diagnostic, Progress } from '../diagnostics.ts';
import { comparable, ExpressionChecker } from './check-expression.ts';
import { OrderChecker } from './check-order.ts';
import { OutputChecker } from './check-outputs.ts';
import { StatementChecker } from './check-statements.ts';
import type {
  AttributeSymbol,
  CheckedClock,
  CheckedModel,
  CheckResult,
  FieldSymbol,
  KindSymbol,
  LocalSymbol,
  NetworkSymbol,
  RuleSymbol,
  SpaceSymbol,
  VariableSymbol,
} from './checked.ts';
import { DataReader } from './data.ts';
import { Declarer, findScales } from './declare.ts';
import { checkSizes } from './check-sizes.ts';
import { checkTimes } from './check-times.ts';
import { reportCircles } from './circles.ts';
import { reportDoubts } from './doubts.ts';
import type { Context } from './environment.ts';
import { Environment, NOBODY } from './environment.ts';
import * as say from './meaning-messages.ts';
import { nearestWord } from './near-names.ts';
import type { ParseResult } from './parser.ts';
import { parse } from './parser.ts';
import type * as Ast from './syntax.ts';
import { constantOf, unitScale } from './scales.ts';
import { partsOf } from './syntax.ts';
import type { ChoiceType, Type } from './types.ts';
import {
  choiceOf,
  isPlain,
  number,
  PER_TIME,
  placeOn,
  PLAIN,
  PLAIN_NUMBER,
  sameDimension,
  sayDimension,
  sayType,
  UNKNOWN,
} from './types.ts';

type InteractionRule = Extract<RuleSymbol, { is: 'interaction' }>;

const NO_FILES: ReadonlyMap<string, string> = new Map();
/** Attribute dimensions settle along chains of assignments; so many passes follow chains of so many links. */
const INFERENCE_PASSES = 3;

/**
 * Parses and checks a model text. Never throws on the text; `model` is there exactly if no finding is an error.
 * @param files texts of the files beside the model, by the names under which it mentions them
 */
export function checkModel(text: string, files: ReadonlyMap<string, string> = NO_FILES): CheckResult {
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
  files: ReadonlyMap<string, string>,
  parsed: ParseResult,
  progress: Progress,
): CheckResult {
  const own = partsOf(parsed.tree, 'data').map(({ file, lines }) => [file.name, `${lines.join('\n')}\n`] as const);
  const env = new Environment(text, findScales(parsed.tree), new Map([...files, ...own]), progress);
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

function isPlainValue(type: Type): boolean {
  return type.is === 'number' || type.is === 'yesno' || type.is === 'choice' || type.is === 'unknown';
}

class ModelChecker {
  private readonly e: ExpressionChecker;
  private readonly st: StatementChecker;
  private interactions: InteractionRule[] = [];

  constructor(
    private readonly env: Environment,
    private readonly tree: Ast.SyntaxTree,
    /** Whether all of the text could be read. */
    private readonly isWhole: boolean,
  ) {
    this.e = new ExpressionChecker(env);
    this.st = new StatementChecker(env, this.e);
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
    declarer.tallies();
    declarer.zones();
    declarer.fields();
    declarer.formulas();
    declarer.kinds();
    declarer.networks();
    declarer.messages();
    declarer.measures();
    this.interactions = partsOf(tree, 'interaction').flatMap((part) => this.interactionSymbol(part) ?? []);
    for (let pass = 0; pass < INFERENCE_PASSES; pass++) env.mutedPass(() => this.bodies(clock));
    this.bodies(clock);
    reportCircles(env);
    const order = new OrderChecker(env, tree, this.interactions).order();
    const outputs = new OutputChecker(env, tree, this.e, this.interactions);
    const charts = outputs.charts();
    const shows = outputs.shows();
    const records = outputs.records();
    outputs.checks();
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
      tallies: [...env.tallies.values()],
      zones: [...env.zones.values()],
      fields: [...env.fields.values()],
      kinds: [...env.kinds.values()],
      networks: [...env.networks.values()],
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
    this.surroundings();
    for (const kind of this.env.kinds.values()) this.kindBody(kind);
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
    const { value } = variable.part;
    const before = variable.type;
    const found = this.e.check(value, { ...NOBODY, noDraws: 'The first value of a variable' }, before);
    this.demandPlainValue(value, found);
    if (before.is === 'unknown') variable.type = found;
    else if (found.is === 'number' && before.is === 'number' && !before.dim)
      variable.type = { ...before, dim: found.dim };
  }

  private surroundings(): void {
    const { env, e, st } = this;
    for (const space of env.spaces.values()) this.space(space);
    for (const zone of env.zones.values())
      for (const shape of zone.part.shapes) this.shape(shape, { ...NOBODY, space: zone.space });
    for (const field of env.fields.values()) this.field(field);
    for (const network of env.networks.values()) this.network(network);
    for (const message of env.messages.values())
      for (const attribute of message.attributes)
        this.attribute(attribute, message.attributes, { ...NOBODY, noDraws: 'A message' });
    for (const part of partsOf(this.tree, 'behaviour')) {
      if (part.every) e.time(part.every, NOBODY);
      if (part.when) e.yesNo(part.when, NOBODY);
      st.block(part.body, NOBODY);
    }
  }

  private space(space: SpaceSymbol): void {
    const { env, e } = this;
    const { width, height, cell } = space.part;
    const { isOfCells, words } = formOf(space);
    const context: Context = { ...NOBODY, space };
    for (const size of [width, height]) {
      e.distance(size, context);
      if (isOfCells && !e.isWhole(size)) env.report(say.needsWhole(size.span, env.textOf(size.span)));
    }
    if (cell) {
      e.distance(cell, context);
      if (isOfCells) env.report(say.cannotSet(cell.span, 'The size of the cells of a grid'));
    }
    if (space.oneAgentACell && !isOfCells)
      env.report(say.wrongType(space.part.span, 'A grid for “one agent a cell”', words));
    const rows = constantOf(height, env.scales)?.value ?? 0;
    if (space.form === 'hexagons' && Number.isInteger(rows) && areRowsOdd({ edge: space.edge, height: rows }))
      env.report(say.oddRows(height.span, rows));
    if (space.neighbours === 6 && !isOfCells)
      env.report(say.wrongType(space.part.span, 'A grid for “6 neighbours”', words));
  }

  private shape(shape: Ast.Shape, context: Context): void {
    const { e } = this;
    if (shape.is === 'box') for (const corner of [shape.from, shape.to]) e.place(corner, context);
    if (shape.is === 'circle') {
      e.distance(shape.radius, context);
      e.place(shape.around, context);
    }
    if (shape.is === 'line' || shape.is === 'cells') for (const place of shape.places) e.place(place, context);
  }

  private field(field: FieldSymbol): void {
    const { env, e } = this;
    const { part } = field;
    const context: Context = { ...NOBODY, space: field.space };
    if (part.cell) {
      e.distance(part.cell, context);
      if (field.space && formOf(field.space).isOfCells)
        env.report(say.cannotSet(part.cell.span, 'The size of the cells of a field on a grid'));
    }
    const here: LocalSymbol = env.locals.get(field) ?? {
      is: 'local',
      name: 'cell',
      span: part.span,
      type: placeOn(field.space),
    };
    env.locals.set(field, here);
    const cell: Context = { ...context, asker: here, field };
    if (part.start) {
      const found = e.check(part.start, cell, field.type);
      if (found.is !== 'number' && found.is !== 'yesno' && found.is !== 'choice' && found.is !== 'unknown')
        env.report(say.wrongType(part.start.span, 'A number, yes or no, or a choice', sayType(found)));
      else if (field.type.is === 'unknown') field.type = found.is === 'number' ? number(found.dim ?? PLAIN) : found;
    } else if (field.type.is === 'unknown') field.type = PLAIN_NUMBER;
    if (field.type.is !== 'number') {
      for (const line of [part.grow, part.spread, part.fade, part.keep?.from])
        if (line) env.report(say.wrongType(line.span, 'A field of numbers', sayType(field.type)));
    }
    if (part.grow) e.numeric(part.grow, { ...cell, noDraws: 'The growth of a field' });
    if (part.spread) e.shareOrRate(part.spread, { ...context, noDraws: 'The spreading of a field' });
    if (part.fade) e.shareOrRate(part.fade, { ...context, noDraws: 'The fading of a field' });
    for (const line of part.becomes) {
      const found = e.check(line.value, cell, field.type);
      if (found.is !== 'unknown' && field.type.is !== 'unknown' && !comparable(field.type, found))
        env.report(say.wrongType(line.value.span, sayType(field.type), sayType(found)));
      if (line.when) e.yesNo(line.when, cell);
    }
    if (part.keep) {
      e.numeric(part.keep.from, context);
      e.numeric(part.keep.to, context);
    }
  }

  private demandPlainValue(at: Ast.Expr, type: Type): void {
    if (!isPlainValue(type)) this.env.report(say.wrongType(at.span, 'A number, yes or no, or a choice', sayType(type)));
  }

  private network(network: NetworkSymbol): void {
    const { env, e } = this;
    const { maker } = network.part;
    const { self } = network.from;
    const member: Context = { self, asker: self, owner: network.from, locals: new Map(), noDraws: 'A network' };
    for (const attribute of network.attributes) {
      this.attribute(attribute, network.attributes, NOBODY);
      this.demandPlainValue(attribute.line.value, attribute.type);
    }
    switch (maker.is) {
      case 'ring':
      case 'preferential':
        e.whole(maker.size, NOBODY);
        break;
      case 'small world':
        e.whole(maker.size, NOBODY);
        e.chance(maker.rewired, NOBODY);
        break;
      case 'random':
        e.numeric(maker.size, NOBODY);
        break;
      case 'near':
        e.distance(maker.size, { ...NOBODY, space: network.from.space });
        break;
      case 'blocks':
        this.demandPlainValue(maker.by, e.check(maker.by, member));
        e.chance(maker.inside, NOBODY);
        e.chance(maker.across, NOBODY);
        break;
      case 'groups':
        e.whole(maker.size, NOBODY);
        if (maker.where) e.yesNo(maker.where, { ...member, it: self });
        break;
      default:
    }
    if (maker.is === 'lattice' || maker.is === 'near') {
      const { from, to } = network;
      if (!from.space || !to.space) env.report(say.noSpace(maker.span, `“${maker.is}”`));
      else if (from.space !== to.space) env.report(say.otherSpace(maker.span, to.name, to.space.name, from.space.name));
    }
    if (
      network.from !== network.to &&
      ['ring', 'lattice', 'preferential', 'small world', 'blocks', 'groups'].includes(maker.is)
    ) {
      env.report(
        say.wrongType(maker.span, 'A network within one kind', `one of ${network.from.name} to ${network.to.name}`, {
          hint: 'Between two kinds: none, from "file", random, or near one another.',
        }),
      );
    }
  }

  private kindBody(kind: KindSymbol): void {
    const { env, e, st } = this;
    const { self, part } = kind;
    const context: Context = { self, asker: self, owner: kind, locals: new Map() };
    const unborn: Context = { ...NOBODY, space: kind.space };
    for (const start of part.starts) {
      const { count } = start;
      if (count.is === 'every cell') {
        if (!kind.space) env.report(say.noSpace(start.span, 'A cell'));
        else if (count.where) st.cellCondition(start, count.where, kind.space, unborn);
      } else if (count.is !== 'table') e.whole(count, unborn);
      if (start.placing) st.placing(start.placing, kind, unborn);
      else if (kind.space && count.is !== 'every cell' && count.is !== 'table')
        env.report(say.noPlace({ start: start.span.start, end: start.span.end }, kind.name));
      if (start.facing) {
        const type = e.check(start.facing, unborn);
        if (type.is === 'number') e.angle(start.facing, unborn);
        else if (type.is === 'place') e.sameSpace(start.facing, type, kind.space);
        else if (type.is !== 'unknown')
          env.report(say.wrongType(start.facing.span, 'A place or a direction', sayType(type)));
      }
    }
    for (const attribute of kind.attributes) this.attribute(attribute, kind.attributes, context);
    for (const derive of kind.derives)
      derive.type = e.check(derive.line.value, { ...context, noDraws: 'A derived attribute' });
    for (const machine of kind.machines) this.machine(machine.part, machine.type, context);
    for (const behaviour of part.behaviours) {
      if (behaviour.every) e.time(behaviour.every, NOBODY);
      if (behaviour.when) e.yesNo(behaviour.when, context);
      st.block(behaviour.body, context);
    }
    for (const reaction of part.reactions) {
      const inner = this.hearing(reaction, reaction.message, reaction.alias, context);
      if (reaction.when) e.yesNo(reaction.when, inner);
      st.block(reaction.body, inner);
    }
  }

  /** The context in which a message is heard, with the name it has there. */
  private hearing(owner: object, name: Ast.Name, alias: Ast.Name | undefined, context: Context): Context {
    const { env } = this;
    const message = env.messages.get(name.key);
    if (!message) {
      env.report(
        say.unknownMessage(
          name.span,
          name.text,
          env.near(
            name.text,
            [...env.messages.values()].map((m) => m.name),
          ),
        ),
      );
      return context;
    }
    env.stands(name, message);
    env.heard.add(message);
    env.messageOf.set(owner, message);
    const local: LocalSymbol = env.locals.get(owner) ?? {
      is: 'local',
      name: alias?.text ?? message.name,
      span: (alias ?? name).span,
      type: { is: 'message', message: message.name },
    };
    env.locals.set(owner, local);
    if (alias) env.stands(alias, alias);
    return alias ? { ...context, locals: new Map(context.locals).set(alias.key, local) } : context;
  }

  private attribute(attribute: AttributeSymbol, all: readonly AttributeSymbol[], context: Context): void {
    const { env, e } = this;
    const { line } = attribute;
    const before = attribute.type;
    const kind = line.kind && env.kinds.get(line.kind.key);
    if (line.kind) {
      if (kind) {
        env.stands(line.kind, kind);
        env.use(kind);
      } else
        env.report(
          say.unknownKind(
            line.kind.span,
            line.kind.text,
            nearestWord(
              line.kind.text,
              [...env.kinds.values()].map((k) => k.name),
            ),
          ),
        );
    }
    if (line.list) {
      if (before.is !== 'list')
        attribute.type = { is: 'list', of: line.list.of, kind: kind?.name, space: env.spaceAt(context)?.name };
      return;
    }
    if (line.choices) {
      if (before.is !== 'choice') attribute.type = choiceOf(line.choices);
      for (const choice of line.choices) env.stands(choice, choice);
      e.check(line.value, NOBODY, attribute.type);
      return;
    }
    const later = all
      .slice(all.indexOf(attribute))
      .find((other) => line.value.is === 'path' && line.value.names[0]!.key === other.key);
    if (later)
      env.report(
        say.unknownName(line.value.span, later.name, undefined, undefined, 'It is given its first value further down.'),
      );
    const found = e.check(line.value, context, before);
    if (line.kind) {
      attribute.type = kind ? { is: 'agent', kind: kind.name, maybe: true } : UNKNOWN;
      if (kind && found.is !== 'unknown' && !comparable(attribute.type, found))
        env.report(say.wrongType(line.value.span, sayType(attribute.type), sayType(found)));
      return;
    }
    if (found.is === 'nobody')
      env.report(
        say.wrongType(line.value.span, 'A kind for an attribute that points at agents', 'nobody', {
          hint: `Say of which kind: “has ${line.name.text}: Vole = nobody”.`,
        }),
      );
    else if (found.is === 'tie')
      env.report(say.wrongType(line.value.span, 'A value that an agent can keep', sayType(found)));
    else if (before.is === 'unknown')
      attribute.type =
        found.is === 'agent'
          ? { ...found, maybe: true }
          : found.is === 'place'
            ? { is: 'place', space: found.space ?? env.spaceAt(context)?.name }
            : found;
    else if (found.is === 'number' && before.is === 'number' && !before.dim)
      attribute.type = { ...before, dim: found.dim };
    if (line.whole && !e.isWhole(line.value)) env.report(say.needsWhole(line.value.span, env.textOf(line.value.span)));
  }

  private machine(part: Ast.StatesPart, type: ChoiceType, context: Context): void {
    this.startShares(part.start, type, context);
    for (const state of part.states) this.state(state, type, context);
  }

  private startShares(shares: readonly Ast.StartShare[], type: ChoiceType, context: Context): void {
    for (const share of shares) {
      this.stateName(share.state, type);
      const group = type.groups?.find(({ name }) => name.toLowerCase() === share.state.key);
      if (group && share.exact)
        this.env.report(
          say.groupIsNoValue(
            share.state.span,
            group.name,
            group.members.map((member) => type.options[member]!),
          ),
        );
      if (share.when) this.e.yesNo(share.when, context);
      if (typeof share.share === 'string') continue;
      if (share.exact) this.e.whole(share.share, NOBODY);
      else this.e.chance(share.share, context);
    }
  }

  private state(state: Ast.StatePart, type: ChoiceType, context: Context): void {
    for (const block of [...state.enter, ...state.leave]) this.st.block(block, context);
    this.startShares(state.start, type, context);
    for (const transition of state.transitions) this.transition(transition, type, context);
    for (const inner of state.states) this.state(inner, type, context);
  }

  private transition(transition: Ast.Transition, type: ChoiceType, outer: Context): void {
    const { e } = this;
    const context = transition.message ? this.hearing(transition, transition.message, transition.alias, outer) : outer;
    if (transition.trigger === 'after') e.time(transition.value, context);
    else if (transition.trigger === 'rate') e.rate(transition.value, context);
    else if (transition.trigger === 'when') e.yesNo(transition.value, context);
    else e.chanceThatMatters(transition.value, context);
    if (transition.when) e.yesNo(transition.when, context);
    for (const target of transition.targets) {
      this.stateName(target.state, type);
      if (target.share !== 'rest') e.chance(target.share, context);
    }
    this.st.block(transition.block, context);
  }

  private stateName(name: Ast.Name, type: ChoiceType): void {
    const states = type.options.map((option, i) => ({ name: option, span: type.spans[i]! }));
    const found = [...states, ...(type.groups ?? [])].find((state) => state.name.toLowerCase() === name.key);
    if (found) this.env.stands(name, found);
    else
      this.env.report(
        say.unknownState(name.span, name.text, type.machine ?? '', type.options, nearestWord(name.text, type.options)),
      );
  }

  private interactionBody({ part, roles }: InteractionRule): void {
    const { e, st } = this;
    const [first, second] = roles;
    const locals = new Map([
      [part.roles[0].name.key, first],
      [part.roles[1].name.key, second],
    ]);
    const context: Context = { asker: first, locals };
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
    return env.networkOf.get(partner.reach);
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
