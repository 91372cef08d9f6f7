import { keyOfName } from '../engine/random/stream.ts';
import type { AttributeSymbol, CheckedModel, CheckedShow, DisplayUnit, KindSymbol, MachineSymbol, MeasureSymbol, RuleSymbol } from '../language/checked.ts';
import { fullName } from '../language/checker.ts';
import { isColour } from '../language/looks.ts';
import type * as Ast from '../language/syntax.ts';
import { partsOf } from '../language/syntax.ts';
import type { Lowering, Point, Standing } from './lower-expression.ts';
import { lowerSummary } from './lower-summary.ts';
import { stateIndex, StatementLowerer } from './lower-statement.ts';
import type {
  Body, CheckPlan, ColumnPlan, Expr, FieldPlan, KindPlan, MachinePlan, ParameterPlan, Plan, RulePlan, ScheduleEntry, SeriesPlan, ShowPlan, TimelinePlan, TimelineWhen, ValueBody,
} from './plan.ts';

/** Lowers a checked model to its plan. The plan holds no names that are looked up and nothing of the text but places. */
export function lowerModel(model: CheckedModel): Plan {
  return new ModelLowerer(model).plan();
}

const NO_STANDING: Standing = {};
const CELL_STANDING: Standing = { here: { x: { op: 'local', local: 0 }, y: { op: 'local', local: 1 } } };

class ModelLowerer {
  private readonly shared: Lowering;
  private readonly counterTotal: number;
  private readonly rules: RulePlan[] = [];
  private readonly finals: ValueBody[] = [];

  constructor(private readonly model: CheckedModel) {
    const counters = new Map<object, number>();
    const dueColumns = new Map<object, number>();
    let counter = 0;
    for (const kind of model.kinds) {
      let due = 0;
      for (const machine of kind.machines) {
        counters.set(machine, counter);
        counter += machine.states.length;
        dueColumns.set(machine, due);
        due += dueCountOf(machine);
      }
    }
    this.counterTotal = counter;
    this.shared = { model, sites: [], counters, dueColumns };
  }

  plan(): Plan {
    const { model } = this;
    const space = model.space;
    const schedule = this.schedule();
    const clockPart = model.clock.part!;
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
        endAfter: this.value(clockPart.endAfter!, 'clock'),
        endWhen: clockPart.endWhen.map((condition) => this.value(condition, 'clock')),
      },
      space: space && {
        name: space.name,
        form: space.form,
        edge: space.edge,
        neighbours: space.neighbours,
        oneAgentACell: space.oneAgentACell,
        width: this.value(space.part.width, space.name),
        height: this.value(space.part.height, space.name),
        unitLabel: space.unit.label,
      },
      variables: model.variables.map((variable) => ({
        name: variable.name,
        start: this.value(variable.part.value, variable.name),
        site: this.lowerer(variable.name).site(variable.span, 'the first value'),
      })),
      fields: model.fields.map((field) => this.field(field.part, field.index)),
      kinds: model.kinds.map((kind) => this.kind(kind)),
      rules: this.rules,
      schedule,
      timeline: this.timeline(),
      measures: model.measures.map((measure) => ({ ...this.series(measure), body: this.value(measure.part.value, measure.name) })),
      summaries: model.summaries.map((summary) => ({
        ...this.series(summary),
        value: lowerSummary(model, summary.part.value, (expr) => this.finals.push(this.value(expr, summary.name)) - 1),
      })),
      checks: this.checks(),
      finals: this.finals,
      charts: model.charts.map((chart) => ({ title: chart.title, measures: chart.measures.map((measure) => measure.index) })),
      counters: this.counterTotal,
      sites: this.shared.sites,
    };
  }

  private checks(): CheckPlan[] {
    return partsOf(this.model.tree, 'check').map((part): CheckPlan => {
      const constant = (value: number): ValueBody => ({ statements: [], value: { op: 'number', value }, locals: 0 });
      return {
        title: part.title,
        settings: part.settings.map(({ name, value }) => ({ parameter: this.model.parameters.findIndex((p) => p.key === name.key), value: this.value(value, part.title) })),
        seeds: part.seeds,
        duration: part.duration && this.value(part.duration, part.title),
        expectations: part.expectations.map((expectation) => {
          const { value, bound, runs } = expectation;
          const holds = runs === 'every' || (runs === undefined && !bound) ? constant(1) : runs && this.value(runs, part.title);
          return {
            text: this.words(bound ? { start: value.span.start, end: bound.span.end } : value.span),
            value: lowerSummary(this.model, value, (expr) => this.finals.push(this.value(expr, part.title)) - 1),
            bounds: bound && { low: this.value(bound.from, part.title), high: this.value(bound.to, part.title) },
            runs: holds,
          };
        }),
      };
    });
  }

  private lowerer(rule: string, standing: Standing = NO_STANDING): StatementLowerer {
    return new StatementLowerer(this.shared, rule, standing);
  }

  private value(expr: Ast.Expr, rule: string, standing?: Standing): ValueBody {
    return this.lowerer(rule, standing).valueBody(expr);
  }

  private series(symbol: MeasureSymbol): SeriesPlan {
    const type = symbol.type;
    const unit = type.is === 'number' && type.dim ? this.baseUnit(type.dim) : { label: '', factor: 1 };
    return { name: symbol.name, about: symbol.about, unitLabel: unit.label, unitFactor: unit.factor, yesNo: type.is === 'yesno' };
  }

  private baseUnit(dim: { time: number; length: number; angle: number }): DisplayUnit {
    const { scales } = this.model;
    if (dim.time === 1 && dim.length === 0 && dim.angle === 0) return { label: scales.time?.label ?? 'steps', factor: 1 };
    if (dim.length === 1 && dim.time === 0 && dim.angle === 0) return { label: scales.length?.label ?? '', factor: 1 };
    if (dim.angle === 1 && dim.time === 0 && dim.length === 0) return { label: 'deg', factor: 1 };
    return { label: '', factor: 1 };
  }

  private field(part: Ast.FieldPart, index: number): FieldPlan {
    const type = part.grow && this.model.types.get(part.grow);
    const growing: Standing = { ...CELL_STANDING, ownField: index };
    const show = this.model.shows.find((s) => s.target.is === 'field' && s.target.index === index)?.part;
    return {
      name: part.name.text,
      cell: part.cell && this.value(part.cell, part.name.text),
      start: part.start && this.value(part.start, part.name.text, CELL_STANDING),
      grow: part.grow && this.value(part.grow, part.name.text, growing),
      growPerTime: type?.is === 'number' && type.dim?.time === -1,
      spread: part.spread && this.shareOfStep(part.spread, part.name.text),
      fade: part.fade && this.shareOfStep(part.fade, part.name.text),
      keep: part.keep && { min: this.value(part.keep.from, part.name.text), max: this.value(part.keep.to, part.name.text) },
      scale: show?.scale && [show.scale[0].key, show.scale[1].key],
      site: this.lowerer(part.name.text).site(part.span, `the field “${part.name.text}”`),
    };
  }

  /** A share a step as it stands; a rate r per time as 1 - exp(-r d). */
  private shareOfStep(expr: Ast.Expr, rule: string): ValueBody {
    const body = this.value(expr, rule);
    const type = this.model.types.get(expr);
    if (type?.is !== 'number' || type.dim?.time !== -1) return body;
    const amount: Expr = { op: 'binary', fn: '*', left: body.value, right: { op: 'number', value: this.model.clock.stepLength } };
    return { ...body, value: { op: 'call', fn: 'chance of rate', args: [amount] } };
  }

  private kind(kind: KindSymbol): KindPlan {
    return {
      name: kind.name,
      columns: kind.attributes.map(columnOf),
      machines: kind.machines.map((machine) => this.machine(kind, machine)),
      dueCount: kind.machines.reduce((sum, machine) => sum + dueCountOf(machine), 0),
      starts: kind.part.starts.map((start, i) => {
        const lowerer = this.lowerer(`start of ${kind.name}`);
        const site = lowerer.site(start.span, `the start of ${kind.name}`);
        const statements = lowerer.collect(() => {
          const place = start.placing && lowerer.placing(start.placing);
          const facing = start.facing && ((at: Point): Expr => this.facing(lowerer, start.facing!, at));
          lowerer.makeAgent(kind, kind.self, place, facing, new Map(), { op: 'number', value: 0 }, site, () => undefined);
        });
        return {
          count: this.value(start.count, `start of ${kind.name}`),
          one: { statements, locals: lowerer.localCount },
          key: keyOfName(`start ${kind.name} ${i}`),
          site,
        };
      }),
      show: this.show(kind, this.model.shows.find((s) => s.target === kind)),
    };
  }

  private facing(lowerer: StatementLowerer, facing: Ast.Expr, at: Point): Expr {
    if (this.model.types.get(facing)?.is === 'number') return lowerer.lower(facing);
    const place = lowerer.place(facing);
    return { op: 'bearing', ax: at.x, ay: at.y, bx: place.x, by: place.y };
  }

  private machine(kind: KindSymbol, machine: MachineSymbol): MachinePlan {
    const exact = machine.part.start.filter((share) => share.exact);
    return {
      name: machine.name,
      states: machine.states.map((state) => state.name),
      firstDue: this.shared.dueColumns.get(machine)!,
      dueCount: dueCountOf(machine),
      firstCounter: this.shared.counters.get(machine)!,
      exact: exact.map((share) => {
        const lowerer = this.lowerer(`start of ${kind.name}`, { actor: kind.self });
        const state = stateIndex(machine, share.state);
        const statements = lowerer.collect(() => lowerer.enterState(kind, machine, { local: 0, own: true }, state, { op: 'number', value: 0 }, false));
        return { count: this.value(share.share as Ast.Expr, `start of ${kind.name}`), state, enter: { statements, locals: lowerer.localCount } };
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
      colourTitle: part.colourBy && this.model.lexed.tokens.filter((t) => t.span.start >= part.colourBy!.span.start && t.span.end <= part.colourBy!.span.end).map((t) => t.text).join(' '),
    };
  }

  private schedule(): ScheduleEntry[] {
    const all = this.model.order.flatMap((entry) => entry.rules);
    return this.model.order.map((entry): ScheduleEntry => {
      if (entry.rules[0]!.is === 'field') return { is: 'fields', fields: entry.rules.flatMap((rule) => (rule.is === 'field' ? [rule.field.index] : [])) };
      const rules = entry.rules.map((rule) => this.rule(rule, fullRuleName(rule, all), entry.mode === 'in turn'));
      const key = keyOfName(`turns ${rules.map((index) => this.rules[index]!.name).join(' ')}`);
      return { is: 'rules', rules, mode: entry.mode, key };
    });
  }

  private rule(rule: RuleSymbol, name: string, inTurn: boolean): number {
    const { kind, body, every } = this.ruleBody(rule, name, inTurn);
    return this.rules.push({ name, key: keyOfName(`rule ${name}`), kind: kind.index, every, body }) - 1;
  }

  private ruleBody(rule: RuleSymbol, name: string, inTurn: boolean): { kind: KindSymbol; body: Body; every?: ValueBody } {
    switch (rule.is) {
      case 'behaviour': {
        const { when, every, body } = rule.part;
        const block: Ast.Block = when ? [{ is: 'if', condition: when, then: body, span: when.span }] : body;
        return { kind: rule.kind, body: this.lowerer(name, { actor: rule.kind.self }).body(block), every: every && this.value(every, name) };
      }
      case 'machine':
        return { kind: rule.kind, body: this.lowerer(name, { actor: rule.kind.self }).machineRule(rule.kind, rule.machine) };
      case 'interaction': {
        const [actor, partner] = rule.roles;
        const lowerer = this.lowerer(name, { actor });
        return { kind: lowerer.kindOfLocal(actor), body: lowerer.interaction(rule.part, partner, inTurn) };
      }
      case 'field':
        throw new RangeError('A field has no rule body');
    }
  }

  private timeline(): TimelinePlan[] {
    const lines = partsOf(this.model.tree, 'timeline').flatMap((part) => part.lines);
    return lines.map((line, i): TimelinePlan => {
      const name = `timeline ${i + 1}`;
      const isPeriod = line.when.is === 'from' || line.when.is === 'while';
      const lay = !isPeriod ? [] : line.body.flatMap((statement) => {
        const ref = statement.is === 'assign' ? this.model.refs.get(statement.target) : undefined;
        return statement.is === 'assign' && ref?.is === 'parameter' ? [{ parameter: ref.parameter.index, value: this.value(statement.value, name) }] : [];
      });
      return {
        when: this.timelineWhen(line.when, name),
        lay,
        body: isPeriod ? { statements: [], locals: 0 } : this.lowerer(name).body(line.body),
        key: keyOfName(name),
        label: line.body.map((statement) => this.words(statement.span)).join('; '),
      };
    });
  }

  private words(span: { start: number; end: number }): string {
    return this.model.lexed.tokens
      .filter((token) => token.span.start >= span.start && token.span.end <= span.end && token.text !== '')
      .map((token) => token.text)
      .join(' ');
  }

  private timelineWhen(when: Ast.TimelineWhen, name: string): TimelineWhen {
    switch (when.is) {
      case 'at start':
        return { is: 'at', time: { statements: [], value: { op: 'number', value: 0 }, locals: 0 } };
      case 'at':
        return { is: 'at', time: this.value(when.time, name) };
      case 'from':
        return { is: 'from', from: this.value(when.from, name), to: this.value(when.to, name) };
      case 'every':
        return { is: 'every', period: this.value(when.period, name) };
      case 'every year on':
        return when;
      default:
        return { is: when.is, condition: this.value(when.condition, name) };
    }
  }
}

function dueCountOf(machine: MachineSymbol): number {
  return machine.states.reduce((most, state) => Math.max(most, state.part.transitions.filter((t) => t.trigger === 'after').length), 0);
}

function columnOf(attribute: AttributeSymbol): ColumnPlan {
  const { type, unit } = attribute;
  return {
    name: attribute.name,
    type: type.is === 'yesno' ? 'yes or no' : type.is === 'choice' ? 'choice' : 'number',
    options: type.is === 'choice' ? type.options : undefined,
    unitLabel: unit.label,
    unitFactor: unit.factor,
  };
}

/** The name under which a rule's luck is keyed: with its kind, so that adding a rule elsewhere never changes it. */
function fullRuleName(rule: RuleSymbol, all: readonly RuleSymbol[]): string {
  return rule.is === 'interaction' || rule.is === 'field' ? fullName(rule, all) : `${rule.kind.name}.${rule.name}`;
}
