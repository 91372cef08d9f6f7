import { formOf } from '../forms/forms.ts';
import type { Progress } from '../diagnostics.ts';
import { keyOfName } from '../engine/random/stream.ts';
import type {
  AttributeSymbol,
  CheckedModel,
  CheckedRecord,
  CheckedShow,
  DisplayUnit,
  FieldSymbol,
  KindSymbol,
  LocalSymbol,
  MachineSymbol,
  MeasureSymbol,
  NetworkSymbol,
  RuleSymbol,
  SpaceSymbol,
  ZoneSymbol,
} from '../language/checked.ts';
import type { Dimension } from '../language/types.ts';
import { sameDimension, TIME } from '../language/types.ts';
import { attributeWidth } from '../language/check-sizes.ts';
import { fullName } from '../language/check-order.ts';
import { joined } from '../language/format.ts';
import { isColour } from '../language/looks.ts';
import type * as Ast from '../language/syntax.ts';
import { partsOf } from '../language/syntax.ts';
import { baseUnit } from '../language/scales.ts';
import { countedBy, measureOrder, visitStatements } from '../plan/analysis.ts';
import { binary, num } from './code.ts';
import type { Given } from './creation.ts';
import { lowerPlacing, makeAgent } from './creation.ts';
import type { ColumnRange, Lowering, Point, Standing, Verbs } from './draft.ts';
import { Draft } from './draft.ts';
import { lowerValue } from './expression.ts';
import { lowerSummary } from './summary.ts';
import { lowerInteraction, recordedValue } from './interaction.ts';
import { changeBody, enterState } from './machine.ts';
import { reactionBody } from './messages.ts';
import { lowerPlace } from './place.ts';
import { lowerCentre, lowerPick } from './query.ts';
import { shownFactor } from './shown-factor.ts';
import { lowerBlock, lowerBody, lowerValueBody } from './statement.ts';
import { machineRule } from './transitions.ts';
import { rasterOfSpace } from '../plan/plan.ts';
import type {
  Body,
  CheckPlan,
  ColumnPlan,
  Expr,
  FieldPlan,
  KindPlan,
  MachinePlan,
  NetworkPlan,
  ParameterPlan,
  Plan,
  PointPlan,
  RasterPlan,
  ReactionPlan,
  RecordPlan,
  RowExpr,
  RulePlan,
  ScheduleEntry,
  SeriesPlan,
  ShapePlan,
  ShowPlan,
  SpacePlan,
  StartPlan,
  Statement,
  TimelinePlan,
  TimelineWhen,
  AskedBody,
  ValueBody,
  ZonePlan,
} from '../plan/plan.ts';

/** Lowers a checked model to its plan. The plan holds no names that are looked up and nothing of the text but places. */
export function lowerModel(
  model: CheckedModel,
  births: Births = NO_BIRTHS,
  progress: Progress = { at: { start: 0, end: 0 } },
): Plan {
  return new ModelLowerer(model, births, progress).plan();
}

/** Agents that are there already, by kind: they stand in the place of its start lines. States by machine. */
export type Births = ReadonlyMap<
  string,
  {
    readonly x: readonly number[];
    readonly y: readonly number[];
    readonly direction: readonly number[];
    readonly states: ReadonlyMap<string, readonly number[]>;
  }
>;

const NO_BIRTHS: Births = new Map();

const NO_STANDING: Standing = {};
const MEASURE_STANDING: Standing = { empties: true };
/** Steps after which a run ends when the model has no clock. */
const STEPS_WITHOUT_CLOCK = 1000;
/** In bodies of fields: the own cell's centre. */
function cellStanding(raster: number): Standing {
  return {
    here: {
      x: { op: 'cell x', raster, cell: { op: 'own cell' } },
      y: { op: 'cell y', raster, cell: { op: 'own cell' } },
    },
  };
}

const VERBS: Verbs = { value: lowerValue, pick: lowerPick, centre: lowerCentre, block: lowerBlock };

class ModelLowerer {
  private readonly shared: Lowering;
  private readonly counterTotal: number;
  private readonly rules: RulePlan[] = [];
  private readonly finals: AskedBody[] = [];
  private readonly askedBodies: AskedBody[] = [];
  private readonly dueCounts: number[] = [];
  private readonly tables: (readonly (readonly number[])[])[] = [];

  constructor(
    private readonly model: CheckedModel,
    private readonly births: Births,
    progress: Progress,
  ) {
    const counters = new Map<object, number>();
    const dueColumns = new Map<object, number>();
    const columns = new Map<AttributeSymbol, ColumnRange>();
    let counter = 0;
    for (const kind of model.kinds) {
      let due = 0;
      for (const machine of kind.machines) {
        counters.set(machine, counter);
        counter += machine.states.length + machine.groups.length;
        due = dueColumnsOf(machine, due, dueColumns, model.timedMachines.has(machine));
      }
      this.dueCounts.push(due);
      let first = 0;
      for (const attribute of kind.attributes) {
        const width = attributeWidth(attribute);
        columns.set(attribute, { first, width });
        first += width;
      }
    }
    this.counterTotal = counter;
    this.shared = { model, sites: [], counters, dueColumns, columns, progress };
  }

  plan(): Plan {
    const { model } = this;
    const schedule = this.schedule();
    const networks = this.model.networks.map((network) => this.network(network));
    const kinds = model.kinds.map((kind) => this.kind(kind));
    const fields = model.fields.map((field) => this.field(field));
    const reactions = this.reactions();
    const timeline = this.timeline();
    const { endAfter, endWhen = [] } = model.clock.part ?? {};
    const measures = model.measures.map((measure) => {
      const body = this.ask(
        inUnit(this.value(measure.part.value, measure.name, MEASURE_STANDING), shownFactor(model, measure)),
      );
      return { ...this.series(measure), body, counts: countedBy(body) };
    });
    return {
      title: model.title,
      parameters: model.parameters.map((parameter): ParameterPlan => ({
        name: parameter.name,
        about: parameter.about,
        type: parameter.type.is === 'yesno' ? 'yes or no' : parameter.type.is === 'choice' ? 'choice' : 'number',
        options: parameter.type.is === 'choice' ? parameter.type.options : undefined,
        value: parameter.value,
        min: parameter.min,
        max: parameter.max,
        whole: parameter.whole,
        unitLabel: parameter.unit.label,
        unitFactor: parameter.unit.factor,
      })),
      clock: {
        stepLength: model.clock.stepLength,
        unitLabel: model.clock.unit.label,
        unitSeconds: model.scales.time?.size ?? 0,
        start: model.clock.start,
        endAfter: endAfter ? this.asked(endAfter, 'clock') : this.askNumber(STEPS_WITHOUT_CLOCK),
        endWhen: endWhen.map((condition) => this.asked(condition, 'clock')),
      },
      spaces: model.spaces.map((space) => this.space(space)),
      variables: model.variables.map((variable) => ({
        name: variable.name,
        start: this.asked(variable.part.value, variable.name),
        site: this.draft(variable.name).site(variable.span, 'the first value'),
      })),
      tallies: model.tallies.map((tally) => ({ name: tally.name, kept: tally.part.kept })),
      zones: model.zones.map((zone) => this.zone(zone)),
      fields,
      kinds: kinds.map((kind, k) => ({
        ...kind,
        mayBeNowhere: this.mayBeNowhere(k, kinds, [...this.rules, ...reactions, ...timeline]),
      })),
      networks,
      messages: model.messages.map((message) => ({ name: message.name, columns: message.attributes.length })),
      reactions,
      records: model.records.map((record) => this.record(record)),
      tables: this.tables,
      rules: this.rules,
      schedule,
      timeline,
      measures,
      measureOrder: measureOrder(measures),
      summaries: model.summaries.map((summary) => ({
        ...this.series(summary),
        value: summaryInUnit(
          lowerSummary(
            model,
            summary.part.value,
            (expr) => this.finals.push(this.asked(expr, summary.name, MEASURE_STANDING)) - 1,
          ),
          shownFactor(model, summary),
        ),
      })),
      checks: this.checks(),
      finals: this.finals,
      asked: this.askedBodies,
      charts: model.charts.map((chart) => ({
        title: chart.title,
        measures: chart.measures.map((measure) => measure.index),
        levels: chart.levels.map((level) => level.index),
      })),
      counters: this.counterTotal,
      sites: this.shared.sites,
    };
  }

  private checks(): CheckPlan[] {
    return partsOf(this.model.tree, 'check').map((part): CheckPlan => {
      return {
        title: part.title,
        settings: part.settings.map(({ name, value }) => ({
          parameter: this.model.parameters.findIndex((p) => p.key === name.key),
          value: this.asked(value, part.title),
        })),
        seeds: part.seeds,
        duration: part.duration && this.asked(part.duration, part.title),
        expectations: part.expectations.map((expectation) => {
          const { value, bound, runs } = expectation;
          const holds =
            runs === 'every' || (runs === undefined && !bound)
              ? this.askNumber(1)
              : runs && this.asked(runs, part.title);
          return {
            text: this.words(bound ? { start: value.span.start, end: bound.span.end } : value.span),
            value: lowerSummary(this.model, value, (expr) => this.finals.push(this.asked(expr, part.title)) - 1),
            bounds: bound && { low: this.asked(bound.from, part.title), high: this.asked(bound.to, part.title) },
            runs: holds,
          };
        }),
      };
    });
  }

  private draft(rule: string, standing: Standing = NO_STANDING): Draft {
    return new Draft(this.shared, rule, standing, VERBS);
  }

  private value(expr: Ast.Expr, rule: string, standing?: Standing): ValueBody {
    return lowerValueBody(this.draft(rule, standing), expr);
  }

  /** A value that the run itself asks for. */
  private asked(expr: Ast.Expr, rule: string, standing?: Standing): AskedBody {
    return this.ask(this.value(expr, rule, standing));
  }

  private askNumber(value: number): AskedBody {
    return this.ask({ statements: [], value: { op: 'number', value }, locals: 0 });
  }

  private ask(body: ValueBody): AskedBody {
    const asked = { ...body, id: this.askedBodies.length };
    this.askedBodies.push(asked);
    return asked;
  }

  private series(symbol: MeasureSymbol): SeriesPlan {
    const type = symbol.type;
    const dim = type.is === 'number' ? type.dim : undefined;
    const chosen = symbol.part.unit;
    const unitLabel = chosen ? chosen.text : dim ? this.baseUnit(dim).label : '';
    return {
      name: symbol.name,
      about: symbol.about,
      unitLabel,
      yesNo: type.is === 'yesno',
      timeUnit: dim && sameDimension(dim, TIME) ? shownFactor(this.model, symbol) : undefined,
    };
  }

  private baseUnit(dim: Dimension): DisplayUnit {
    return baseUnit(dim, this.model.scales);
  }

  private field(field: FieldSymbol): FieldPlan {
    const { part, index } = field;
    const name = part.name.text;
    const type = part.grow && this.model.types.get(part.grow);
    const space = field.space!;
    const { isOfCells } = formOf(space);
    const raster = isOfCells ? rasterOfSpace(space.index) : index;
    const standing: Standing = { ...cellStanding(raster), ownField: index };
    const show = this.model.shows.find((s) => s.target === field)?.part;
    const given = this.model.rasters.get(part);
    return {
      name,
      space: space.index,
      options: field.type.is === 'choice' ? field.type.options : field.type.is === 'yesno' ? ['no', 'yes'] : undefined,
      raster: given,
      cell: part.cell && this.asked(part.cell, name),
      start: part.start && this.value(part.start, name, cellStanding(raster)),
      grow: part.grow && this.value(part.grow, name, standing),
      growPerTime: type?.is === 'number' && type.dim?.['time'] === -1,
      spread: part.spread && this.shareOfStep(part.spread, name),
      fade: part.fade && this.shareOfStep(part.fade, name),
      becomes: part.becomes.length > 0 ? this.becomes(part, name, standing) : undefined,
      keep: part.keep && { min: this.asked(part.keep.from, name), max: this.asked(part.keep.to, name) },
      asCells: show?.asCells === true || isOfCells || field.type.is !== 'number',
      scale: show?.scale && [show.scale[0].key, show.scale[1].key],
      site: this.draft(name).site(part.span, `the field “${name}”`),
    };
  }

  /** The first line whose condition holds gives the next value; if none does, the cell stays (D22). */
  private becomes(part: Ast.FieldPart, name: string, standing: Standing): ValueBody {
    const draft = this.draft(name, standing);
    const slot = draft.newLocal();
    const build = (i: number): void => {
      const line = part.becomes[i];
      if (!line) {
        draft.emit({ op: 'set', local: slot, value: { op: 'cell', field: standing.ownField! } });
        return;
      }
      const condition = line.when ? draft.lower(line.when) : undefined;
      const then = draft.collect(() => draft.emit({ op: 'set', local: slot, value: draft.lower(line.value) }));
      if (condition) draft.emit({ op: 'if', condition, then, else: draft.collect(() => build(i + 1)) });
      else for (const statement of then) draft.emit(statement);
    };
    const statements = draft.collect(() => build(0));
    return { statements, value: { op: 'local', local: slot }, locals: draft.localCount };
  }

  private space(space: SpaceSymbol): SpacePlan {
    const { name, form, edge, neighbours, oneAgentACell, part } = space;
    const asksEmpty = [...this.model.queryHeads.values()].some(
      (head) => head.is === 'cells' && head.empty && head.space === space,
    );
    return {
      name,
      form,
      edge,
      neighbours,
      oneAgentACell,
      tracksCells: oneAgentACell || asksEmpty,
      cell: part.cell && this.asked(part.cell, name),
      width: this.asked(part.width, name),
      height: this.asked(part.height, name),
      unitLabel: space.unit.label,
    };
  }

  private zone(zone: ZoneSymbol): ZonePlan {
    const point = (expr: Ast.Expr): PointPlan => {
      const of = (axis: 'x' | 'y'): AskedBody => {
        const draft = this.draft(zone.name);
        let value: Expr = { op: 'number', value: 0 };
        const statements = draft.collect(() => (value = lowerPlace(draft, expr)[axis]));
        return this.ask({ statements, value, locals: draft.localCount });
      };
      return [of('x'), of('y')];
    };
    const shapes = zone.part.shapes.map((shape): ShapePlan => {
      switch (shape.is) {
        case 'box':
          return { is: 'box', from: point(shape.from), to: point(shape.to) };
        case 'circle':
          return { is: 'circle', radius: this.asked(shape.radius, zone.name), around: point(shape.around) };
        case 'line':
        case 'cells':
          return { is: shape.is, places: shape.places.map(point) };
        case 'from':
          return { is: 'raster', raster: this.model.rasters.get(shape) as RasterPlan };
      }
    });
    return {
      name: zone.name,
      space: zone.space!.index,
      obstacle: zone.part.is === 'obstacle',
      shapes,
      site: this.draft(zone.name).site(zone.span, `the ${zone.part.is} “${zone.name}”`),
    };
  }

  private network(network: NetworkSymbol): NetworkPlan {
    const { name } = network;
    const { maker } = network.part;
    const show = this.model.shows.find((s) => s.target === network)?.part;
    const value = (expr: Ast.Expr): AskedBody => this.asked(expr, name);
    const ofEach = (expr: Ast.Expr): ValueBody => this.value(expr, name, { actor: network.from.self });
    const make = (): NetworkPlan['maker'] => {
      switch (maker.is) {
        case 'none':
        case 'lattice':
          return { is: maker.is };
        case 'small world':
          return { is: maker.is, size: value(maker.size), rewired: value(maker.rewired) };
        case 'blocks':
          return {
            is: 'blocks',
            by: ofEach(maker.by),
            inside: value(maker.inside),
            across: value(maker.across),
          };
        case 'groups':
          return {
            is: 'groups',
            size: value(maker.size),
            where: maker.where && ofEach(maker.where),
          };
        case 'from': {
          const ties = this.model.tieFiles.get(network)!;
          return {
            is: 'file',
            a: ties.from,
            b: ties.to,
            values: network.attributes.map((attribute) => ties.columns.get(attribute.key)),
          };
        }
        default:
          return { is: maker.is, size: value(maker.size) };
      }
    };
    return {
      name,
      from: network.from.index,
      to: network.to.index,
      directed: network.directed,
      columns: network.attributes.flatMap((attribute) => columnsOf(attribute)),
      maker: make(),
      firsts: network.attributes.map((attribute) => this.value(attribute.line.value, name)),
      key: keyOfName(`network ${name}`),
      site: this.draft(name).site(network.span, `the network “${name}”`),
      colour: show?.colour?.key ?? show?.shape?.key,
    };
  }

  private reactions(): ReactionPlan[] {
    return this.model.kinds.flatMap((kind) =>
      this.model.messages.flatMap((message): ReactionPlan[] => {
        const name = `on ${kind.name} ${message.name}`;
        const body = reactionBody(this.draft(name, { actor: kind.self }), kind, message);
        return body.statements.length > 0
          ? [{ kind: kind.index, message: message.index, body, key: keyOfName(name) }]
          : [];
      }),
    );
  }

  private record(record: CheckedRecord): RecordPlan {
    const { part, target } = record;
    const columns = part.values.map((value) => {
      const type = this.model.types.get(value);
      const options = type?.is === 'choice' ? type.options : type?.is === 'yesno' ? ['no', 'yes'] : undefined;
      const unitLabel = type?.is === 'number' && type.dim ? this.baseUnit(type.dim).label : '';
      return { name: this.words(value.span), options, unitLabel };
    });
    const every = part.every && this.asked(part.every, target.name);
    if (target.is === 'interaction')
      return {
        name: target.name,
        kind: -1,
        columns: [...target.roles.map((role) => ({ name: role.name, unitLabel: '' })), ...columns],
        every,
      };
    const values = part.values.map((value) => {
      const draft = this.draft(target.name, { actor: target.self });
      let lowered: Expr = { op: 'number', value: 0 };
      const statements = draft.collect(() => (lowered = recordedValue(draft, value)));
      return { statements, value: lowered, locals: draft.localCount };
    });
    return { name: target.name, kind: target.index, columns, values, every };
  }

  private mayBeNowhere(kind: number, kinds: readonly KindPlan[], bodies: readonly { readonly body: Body }[]): boolean {
    let found = false;
    const isEmpty = (e: Expr | undefined): boolean => e?.op === 'number' && Number.isNaN(e.value);
    const statement = (s: Statement): void => {
      if (s.op === 'vanish' && s.kind === kind) found = true;
      if (s.op === 'create' && s.kind === kind && isEmpty(s.x)) found = true;
      // A place that is not written out may turn out to be nowhere.
      if (s.op === 'move to' && s.kind === kind && s.x.op === 'attribute') found = true;
    };
    for (const { body } of bodies) visitStatements(body.statements, { statement });
    for (const start of kinds[kind]!.starts) visitStatements(start.one.statements, { statement });
    return found;
  }

  /** A share a step as it stands; a rate r per time as 1 - exp(-r d). */
  private shareOfStep(expr: Ast.Expr, rule: string): AskedBody {
    const body = this.value(expr, rule);
    const type = this.model.types.get(expr);
    if (type?.is !== 'number' || type.dim?.['time'] !== -1) return this.ask(body);
    const amount: Expr = {
      op: 'binary',
      fn: '*',
      left: body.value,
      right: { op: 'number', value: this.model.clock.stepLength },
    };
    return this.ask({ ...body, value: { op: 'call', fn: 'chance of rate', args: [amount] } });
  }

  private kind(kind: KindSymbol): KindPlan {
    return {
      name: kind.name,
      space: kind.space?.index ?? -1,
      columns: kind.attributes.flatMap(columnsOf),
      machines: kind.machines.map((machine) => this.machine(kind, machine)),
      dueCount: this.dueCounts[kind.index]!,
      starts: this.births.has(kind.name)
        ? [this.born(kind)]
        : kind.part.starts.map((start, i) => this.start(kind, start, i)),
      mayBeNowhere: false,
      show: this.show(
        kind,
        this.model.shows.find((s) => s.target === kind),
      ),
    };
  }

  private start(kind: KindSymbol, start: Ast.StartLine, index: number): StartPlan {
    const name = `start of ${kind.name}`;
    const draft = this.draft(name, { given: 1 });
    const site = draft.site(start.span, `the start of ${kind.name}`);
    const row: Expr = { op: 'local', local: 0 };
    const raster = rasterOfSpace(kind.space?.index ?? 0);
    const given = new Map<object, Given>();
    let count: AskedBody | undefined;
    let place: Point | undefined;
    let facing = start.facing && ((at: Point): Expr => this.facing(draft, kind, start.facing!, at));
    let where: Ast.Expr | undefined;
    let hasCells = false;
    const statements = draft.collect(() => {
      if (start.count.is === 'table') {
        const table = this.model.tables.get(start)!;
        const index = this.tables.push([...table.columns.values()]) - 1;
        const keys = [...table.columns.keys()];
        const cell = (key: string): Expr => ({ op: 'table', table: index, column: keys.indexOf(key), row });
        count = this.askNumber(table.rows);
        if (keys.includes('x') && keys.includes('y')) place = { x: cell('x'), y: cell('y') };
        if (keys.includes('direction')) facing = () => cell('direction');
        for (const attribute of kind.attributes)
          if (keys.includes(attribute.key)) given.set(attribute, { value: cell(attribute.key) });
        for (const machine of kind.machines)
          if (keys.includes(machine.key)) given.set(machine, { state: draft.hold(cell(machine.key)) });
      } else if (start.count.is === 'every cell') {
        hasCells = true;
        where = start.count.where;
        const listed: Expr = { op: 'listed cell', index: row };
        place = { x: { op: 'cell x', raster, cell: listed }, y: { op: 'cell y', raster, cell: listed } };
      } else count = this.asked(start.count, name);
      if (start.placing?.is === 'cells') {
        hasCells = true;
        where = start.placing.where;
      }
      place ??= start.placing && lowerPlacing(draft, start.placing);
      makeAgent(draft, kind, kind.self, place, facing, given, { op: 'number', value: 0 }, site, () => undefined);
    });
    return {
      count,
      one: { statements, locals: draft.localCount },
      key: keyOfName(`start ${kind.name} ${index}`),
      site,
      cells: hasCells
        ? {
            raster,
            where: where && this.cellTest(start.placing?.is === 'cells' ? start.placing : start, where, raster, name),
          }
        : undefined,
    };
  }

  /** Makes the agents that are there already, with the first values of this text. */
  private born(kind: KindSymbol): StartPlan {
    const name = `carried ${kind.name}`;
    const { x, y, direction, states } = this.births.get(kind.name)!;
    const draft = this.draft(name, { given: 1 });
    const site = draft.site(kind.span, `a ${kind.name} that was there already`);
    const table = this.tables.push([x, y, direction, ...states.values()]) - 1;
    const cell = (column: number): Expr => ({ op: 'table', table, column, row: { op: 'local', local: 0 } });
    const machines = [...states.keys()];
    const statements = draft.collect(() => {
      const given = new Map<object, Given>();
      for (const machine of kind.machines)
        if (states.has(machine.name))
          given.set(machine, { state: draft.hold(cell(3 + machines.indexOf(machine.name))) });
      makeAgent(
        draft,
        kind,
        kind.self,
        kind.space && { x: cell(0), y: cell(1) },
        () => cell(2),
        given,
        { op: 'number', value: 0 },
        site,
        () => undefined,
      );
    });
    return {
      count: this.askNumber(x.length),
      one: {
        statements: statements.map((s) => (s.op === 'create' ? { ...s, always: true } : s)),
        locals: draft.localCount,
      },
      key: keyOfName(name),
      site,
    };
  }

  /** A condition on cells of the space, the cell in local 0. */
  private cellTest(owner: object, where: Ast.Expr, raster: number, name: string): ValueBody {
    const cell: Expr = { op: 'local', local: 0 };
    const draft = this.draft(name, {
      given: 1,
      here: { x: { op: 'cell x', raster, cell }, y: { op: 'cell y', raster, cell } },
    });
    draft.cells.set(this.model.locals.get(owner)!, { slot: 0, raster });
    return lowerValueBody(draft, where);
  }

  private facing(draft: Draft, kind: KindSymbol, facing: Ast.Expr, at: Point): Expr {
    if (this.model.types.get(facing)?.is === 'number') return draft.lower(facing);
    const place = lowerPlace(draft, facing);
    return { op: 'bearing', space: kind.space!.index, ax: at.x, ay: at.y, bx: place.x, by: place.y };
  }

  private machine(kind: KindSymbol, machine: MachineSymbol): MachinePlan {
    const isCarried = this.births.get(kind.name)?.states.has(machine.name);
    const exact = isCarried ? [] : machine.part.start.filter((share) => share.exact);
    const first = this.shared.counters.get(machine)!;
    return {
      name: machine.name,
      states: machine.states.map((state) => state.name),
      groups: machine.groups.map((group, i) => ({
        name: group.name,
        members: group.members,
        counter: first + machine.states.length + i,
      })),
      change: changeBody(this.draft(machine.name, { actor: kind.self, given: 2 }), kind, machine),
      dues: machine.states.map(({ part, groups }) =>
        [part, ...groups.map((group) => group.part)].flatMap((state) =>
          state.transitions.flatMap((t) => this.shared.dueColumns.get(t) ?? []),
        ),
      ),
      since: this.model.timedMachines.has(machine) ? this.shared.dueColumns.get(machine) : undefined,
      firstCounter: first,
      exact: exact.map((share) => {
        const draft = this.draft(`start of ${kind.name}`, { actor: kind.self });
        const state = machine.states.findIndex((s) => s.key === share.state.key);
        const statements = draft.collect(() =>
          enterState(
            draft,
            kind,
            machine,
            { local: 0, own: true },
            state,
            { op: 'number', value: 0 },
            false,
            undefined,
          ),
        );
        return {
          count: this.asked(share.share as Ast.Expr, `start of ${kind.name}`),
          state,
          enter: { statements, locals: draft.localCount },
        };
      }),
    };
  }

  private show(kind: KindSymbol, show: CheckedShow | undefined): ShowPlan | undefined {
    if (!show) return undefined;
    const { part } = show;
    const standing: Standing = { actor: kind.self };
    const type = part.colourBy && this.model.types.get(part.colourBy);
    const shapeWord = part.shape?.key;
    return {
      shape: shapeWord && !isColour(shapeWord) ? shapeWord : 'dot',
      colour: part.colour?.key ?? (shapeWord && isColour(shapeWord) ? shapeWord : undefined),
      scale: part.scale && [part.scale[0].key, part.scale[1].key],
      size: part.size && this.value(part.size, 'show', standing),
      colourBy: part.colourBy && this.value(part.colourBy, 'show', standing),
      classes: type?.is === 'choice' ? type.options : type?.is === 'yesno' ? ['no', 'yes'] : undefined,
      colourTitle: part.colourBy && this.words(part.colourBy.span),
    };
  }

  private schedule(): ScheduleEntry[] {
    const all = this.model.order.flatMap((entry) => entry.rules);
    return this.model.order.map((entry): ScheduleEntry => {
      if (entry.rules[0]!.is === 'field')
        return { is: 'fields', fields: entry.rules.flatMap((rule) => (rule.is === 'field' ? [rule.field.index] : [])) };
      const first = entry.rules[0]!;
      if (first.is === 'surroundings') return { is: 'surroundings', rule: this.surroundings(first.part, first.name) };
      const rules = entry.rules.map((rule) => this.rule(rule, fullRuleName(rule, all), entry.mode));
      const key = keyOfName(`turns ${rules.map((index) => this.rules[index]!.name).join(' ')}`);
      return { is: 'rules', rules, mode: entry.mode, key };
    });
  }

  private surroundings({ when, every, body }: Ast.BehaviourPart, name: string): number {
    const block: Ast.Block = when ? [{ is: 'if', condition: when, then: body, span: when.span }] : body;
    return (
      this.rules.push({
        name,
        key: keyOfName(`rule ${name}`),
        kind: -1,
        every: every && this.asked(every, name),
        body: lowerBody(this.draft(name), block),
      }) - 1
    );
  }

  private rule(rule: RuleSymbol, name: string, mode: Ast.Mode): number {
    const { kind, body, every } = this.ruleBody(rule, name, mode);
    return this.rules.push({ name, key: keyOfName(`rule ${name}`), kind: kind.index, every, body }) - 1;
  }

  /** Machines that some rule sets in others all at once. */
  private readonly changed = new Set<object>();

  private ruleBody(
    rule: RuleSymbol,
    name: string,
    mode: Ast.Mode,
  ): { kind: KindSymbol; body: Body; every?: AskedBody } {
    const atOnce = mode === 'all at once';
    switch (rule.is) {
      case 'behaviour': {
        const { when, every, body } = rule.part;
        const block: Ast.Block = when ? [{ is: 'if', condition: when, then: body, span: when.span }] : body;
        const changed = atOnce ? this.changedBy(block, rule.kind.self) : undefined;
        return {
          kind: rule.kind,
          body: lowerBody(this.draft(name, { actor: rule.kind.self, atOnce, changed }), block),
          every: every && this.asked(every, name),
        };
      }
      case 'machine':
        return {
          kind: rule.kind,
          body: machineRule(this.draft(name, { actor: rule.kind.self, atOnce }), rule.kind, rule.machine),
        };
      case 'interaction': {
        const [actor, partner] = rule.roles;
        const changed = atOnce ? this.changedBy(rule.part.body, actor) : undefined;
        const draft = this.draft(name, { actor, atOnce, changed });
        return {
          kind: draft.kindOfLocal(actor),
          body: lowerInteraction(draft, rule.part, partner, mode === 'in turn'),
        };
      }
      default:
        throw new RangeError(`A ${rule.is} has no rule body`);
    }
  }

  /** The machines that a block sets in agents other than the acting one. */
  private changedBy(block: Ast.Block, actor: LocalSymbol): Set<object> {
    const found = new Set<object>();
    const visit = (node: unknown): void => {
      if (Array.isArray(node)) node.forEach(visit);
      if (node === null || typeof node !== 'object' || Array.isArray(node)) return;
      const routine = this.model.routines.get(node);
      if (routine) visit(routine.body);
      const statement = node as Ast.Statement;
      if (statement.is === 'assign') {
        const ref = this.model.refs.get(statement.target);
        if (ref?.is === 'machine' && ref.agent !== actor) found.add(ref.machine);
      }
      Object.values(node).forEach(visit);
    };
    visit(block);
    for (const machine of found) this.changed.add(machine);
    return found;
  }

  private timeline(): TimelinePlan[] {
    const lines = partsOf(this.model.tree, 'timeline').flatMap((part) => part.lines);
    return lines.map((line, i): TimelinePlan => {
      const name = `timeline ${i + 1}`;
      const isPeriod = line.when.is === 'from' || line.when.is === 'while';
      const lay = !isPeriod
        ? []
        : line.body.flatMap((statement) => {
            const ref = statement.is === 'assign' ? this.model.refs.get(statement.target) : undefined;
            return statement.is === 'assign' && ref?.is === 'parameter'
              ? [{ parameter: ref.parameter.index, value: this.asked(statement.value, name) }]
              : [];
          });
      return {
        when: this.timelineWhen(line.when, name),
        lay,
        body: isPeriod ? { statements: [], locals: 0 } : lowerBody(this.draft(name), line.body),
        key: keyOfName(name),
        label: line.body.map((statement) => this.words(statement.span)).join('; '),
      };
    });
  }

  /** A piece of the text in its usual layout, on one line. */
  private words(span: { start: number; end: number }): string {
    return joined(
      this.model.lexed.tokens.filter(
        (token) => token.span.start >= span.start && token.span.end <= span.end && token.text !== '',
      ),
      this.model.uses,
    );
  }

  private timelineWhen(when: Ast.TimelineWhen, name: string): TimelineWhen {
    switch (when.is) {
      case 'at start':
        return { is: 'at', time: this.askNumber(0) };
      case 'at':
        return { is: 'at', time: this.asked(when.time, name) };
      case 'from':
        return { is: 'from', from: this.asked(when.from, name), to: this.asked(when.to, name) };
      case 'every':
        return { is: 'every', period: this.asked(when.period, name) };
      case 'every year on':
      case 'every day':
        return when;
      default:
        return { is: when.is, condition: this.asked(when.condition, name) };
    }
  }
}

/** Gives each duration of a machine its column: states, of which one is in one at a time, share them; groups and the time of entry have their own. */
function dueColumnsOf(machine: MachineSymbol, first: number, columns: Map<object, number>, isTimed: boolean): number {
  let next = first;
  const durations = (part: Ast.StatePart): Ast.Transition[] => part.transitions.filter((t) => t.trigger === 'after');
  for (const state of machine.states) {
    durations(state.part).forEach((transition, i) => columns.set(transition, first + i));
    next = Math.max(next, first + durations(state.part).length);
  }
  for (const group of machine.groups) for (const transition of durations(group.part)) columns.set(transition, next++);
  if (isTimed) columns.set(machine, next++);
  return next;
}

/** A value in base units as one in a unit of which one is so many of them. */
function inUnit(body: ValueBody, factor: number): ValueBody {
  return factor === 1 ? body : { ...body, value: binary('/', body.value, num(factor)) };
}

function summaryInUnit(value: RowExpr, factor: number): RowExpr {
  return factor === 1 ? value : { op: 'binary', fn: '/', left: value, right: { op: 'number', value: factor } };
}

function columnsOf(attribute: AttributeSymbol): ColumnPlan[] {
  const { type, unit, name, line } = attribute;
  const column: ColumnPlan = {
    name,
    type:
      type.is === 'yesno' ? 'yes or no' : type.is === 'choice' ? 'choice' : type.is === 'agent' ? 'agent' : 'number',
    options: type.is === 'choice' ? type.options : undefined,
    of: type.is === 'agent' || type.is === 'list' ? type.kind : undefined,
    unitLabel: unit.label,
    unitFactor: unit.factor,
  };
  if (type.is === 'place')
    return [
      { ...column, name: `${name}.x` },
      { ...column, name: `${name}.y` },
    ];
  if (!line.list) return [column];
  const { of, size } = line.list;
  const items = Array.from({ length: size }, (_, i): ColumnPlan[] => {
    const item = {
      ...column,
      name: `${name} ${i + 1}`,
      type: of === 'agents' ? ('agent' as const) : ('number' as const),
    };
    return of === 'places'
      ? [
          { ...item, name: `${item.name}.x` },
          { ...item, name: `${item.name}.y` },
        ]
      : [item];
  });
  return [column, ...items.flat()];
}

/** The name under which a rule's luck is keyed: with its kind, so that adding a rule elsewhere never changes it. */
function fullRuleName(rule: RuleSymbol, all: readonly RuleSymbol[]): string {
  return rule.is === 'interaction' || rule.is === 'field' || rule.is === 'surroundings'
    ? fullName(rule, all)
    : `${rule.kind.name}.${rule.name}`;
}
