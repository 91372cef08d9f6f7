import { wordsOf } from '../language/types.ts';
import type * as Ast from '../language/syntax.ts';
import { valueAt } from '../engine/input-series.ts';
import type { Progress } from '../diagnostics.ts';
import { keyOfName } from '../engine/random/stream.ts';
import type { CheckedModel, CheckedRecord, FieldSymbol, LocalSymbol, MeasureSymbol } from '../language/checked.ts';
import { baseUnit } from '../language/scales.ts';
import { partsOf } from '../language/syntax.ts';
import { TIME, sameDimension } from '../language/types.ts';
import { countedBy, measureOrder } from '../plan/analysis.ts';
import { visitStatements } from '../plan/visit.ts';
import type {
  Body,
  CheckPlan,
  DistributionPlan,
  Expr,
  NetworkPlan,
  KindPlan,
  ParameterPlan,
  Plan,
  ReactionPlan,
  RecordPlan,
  RowExpr,
  SeriesPlan,
  Statement,
  ValueBody,
} from '../plan/plan.ts';
import { binary, num } from './code.ts';
import type { Standing } from './draft.ts';
import { recordedValue } from './interaction.ts';
import { kindPlan } from './kinds.ts';
import { reactionBody } from './messages.ts';
import { aimPlans } from './journey-aim.ts';
import { lineDepartures, linePlans } from './lines.ts';
import { ModelDraft, NO_BIRTHS } from './model-draft.ts';
import type { Births } from './model-draft.ts';
import { schedulePlan } from './schedule.ts';
import { shownFactor } from './shown-factor.ts';
import { lowerSummary } from './summary.ts';
import { fieldPlan, networkPlan, spacePlan, zonePlan } from './surroundings.ts';
import { timelinePlans } from './timeline.ts';

/** Lowers a checked model to its plan. The plan holds no names that are looked up and nothing of the text but places. */
export function lowerModel(
  model: CheckedModel,
  births: Births = NO_BIRTHS,
  progress: Progress = { at: { start: 0, end: 0 } },
): Plan {
  return planOf(new ModelDraft(model, births, progress));
}

const MEASURE_STANDING: Standing = { empties: true };

/** Steps after which a run ends when the model has no clock. */
const STEPS_WITHOUT_CLOCK = 1000;

function planOf(whole: ModelDraft): Plan {
  const { model } = whole;
  // First, since what is written to a field depends on its bounds.
  const fields = model.fields.map((field) => fieldPlan(whole, field));
  const schedule = schedulePlan(whole);
  const networks = [...model.networks, ...model.ridings].map((network) => networkPlan(whole, network));
  const kinds = model.kinds.map((kind) => kindPlan(whole, kind));
  const reactions = reactionPlans(whole);
  const timeline = [...timelinePlans(whole), ...lineDepartures(whole)];
  const { endAfter, endWhen = [] } = model.clock.part ?? {};
  const measures = model.measures.map((measure) => {
    const body = whole.ask(
      inUnit(whole.value(measure.part.value, measure.name, MEASURE_STANDING), shownFactor(model, measure)),
    );
    return { ...seriesPlan(whole, measure), body, counts: countedBy(body) };
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
      endAfter: endAfter ? whole.asked(endAfter, 'clock') : whole.askNumber(STEPS_WITHOUT_CLOCK),
      endWhen: endWhen.map((condition) => whole.asked(condition, 'clock')),
    },
    spaces: model.spaces.map((space) => spacePlan(whole, space)),
    variables: model.variables.map((variable) => ({
      name: variable.name,
      start: variable.part.value
        ? whole.asked(variable.part.value, variable.name)
        : whole.askNumber(valueAt(model.inputSeries.get(variable)!, 0)),
      site: whole.draft(variable.name).site(variable.span, 'the first value'),
    })),
    inputs: [...model.inputSeries].map(([{ index }, series]) => ({ variable: index, ...series })),
    tallies: model.tallies.map((tally) => ({ name: tally.name, kept: tally.part.kept })),
    zones: model.zones.map((zone) => zonePlan(whole, zone)),
    fields,
    kinds: kinds.map((kind, k) => ({
      ...kind,
      mayBeNowhere: [k, ...vehiclesOf(k, networks)].some(
        (other) =>
          whole.births.get(kinds[other]!.name)?.x.some(Number.isNaN) ||
          mayBeNowhere(other, kinds, [...whole.rules, ...reactions, ...timeline]),
      ),
    })),
    lines: linePlans(whole),
    aims: aimPlans(whole),
    networks,
    messages: model.messages.map((message) => ({ name: message.name, columns: message.attributes.length })),
    reactions,
    records: model.records.map((record) => recordPlan(whole, record)),
    tables: whole.tables,
    rules: whole.rules,
    schedule,
    timeline,
    measures,
    measureOrder: measureOrder(measures),
    summaries: model.summaries.map((summary) => ({
      ...seriesPlan(whole, summary),
      value: summaryInUnit(
        lowerSummary(
          model,
          summary.part.value,
          (expr) => whole.finals.push(whole.asked(expr, summary.name, MEASURE_STANDING)) - 1,
        ),
        shownFactor(model, summary),
      ),
    })),
    checks: checkPlans(whole),
    finals: whole.finals,
    asked: whole.askedBodies,
    charts: model.charts.map((chart) => ({
      title: chart.title,
      measures: chart.measures.map((measure) => measure.index),
      levels: chart.levels.map((level) => level.index),
      against: chart.against?.index,
      distribution: chart.distribution && distributionPlan(whole, chart.distribution),
    })),
    counters: whole.counterTotal,
    sites: whole.shared.sites,
  };
}

function checkPlans(whole: ModelDraft): CheckPlan[] {
  return partsOf(whole.model.tree, 'check').map((part): CheckPlan => {
    return {
      title: part.title,
      settings: part.settings.map(({ name, value }) => ({
        parameter: whole.model.parameters.findIndex((p) => p.key === name.key),
        value: whole.asked(value, part.title),
      })),
      seeds: part.seeds,
      duration: part.duration && whole.asked(part.duration, part.title),
      expectations: part.expectations.map((expectation) => {
        const { value, bound, runs } = expectation;
        const holds =
          runs === 'every' || (runs === undefined && !bound)
            ? whole.askNumber(1)
            : runs && whole.asked(runs, part.title);
        return {
          text: whole.words(bound ? { start: value.span.start, end: bound.span.end } : value.span),
          value: lowerSummary(whole.model, value, (expr) => whole.finals.push(whole.asked(expr, part.title)) - 1),
          bounds: bound && { low: whole.asked(bound.from, part.title), high: whole.asked(bound.to, part.title) },
          runs: holds,
        };
      }),
    };
  });
}

function seriesPlan(whole: ModelDraft, symbol: MeasureSymbol): SeriesPlan {
  const type = symbol.type;
  const dim = type.is === 'number' ? type.dim : undefined;
  const chosen = symbol.part.unit;
  const unitLabel = chosen ? chosen.text : dim ? baseUnit(dim, whole.model.scales).label : '';
  return {
    name: symbol.name,
    about: symbol.about,
    unitLabel,
    yesNo: type.is === 'yesno',
    timeUnit: dim && sameDimension(dim, TIME) ? shownFactor(whole.model, symbol) : undefined,
  };
}

function reactionPlans(whole: ModelDraft): ReactionPlan[] {
  return whole.model.kinds.flatMap((kind) =>
    whole.model.messages.flatMap((message): ReactionPlan[] => {
      const name = `on ${kind.name} ${message.name}`;
      const body = reactionBody(whole.draft(name, { actor: kind.self }), kind, message);
      return body.statements.length > 0
        ? [{ kind: kind.index, message: message.index, body, key: keyOfName(name) }]
        : [];
    }),
  );
}

function recordPlan(whole: ModelDraft, record: CheckedRecord): RecordPlan {
  const { part, target } = record;
  const columns = part.values.map((value) => {
    const type = whole.model.types.get(value);
    const options = type && wordsOf(type);
    const unitLabel = type?.is === 'number' && type.dim ? baseUnit(type.dim, whole.model.scales).label : '';
    const kind = type?.is === 'agent' ? whole.model.kinds.findIndex(({ name }) => name === type.kind) : -1;
    return { name: whole.words(value.span), options, unitLabel, ...(kind >= 0 ? { agentOf: kind } : {}) };
  });
  const every = part.every && whole.asked(part.every, target.name);
  if (target.is === 'field') return fieldRecord(whole, target, every);
  if (target.is === 'interaction')
    return {
      name: target.name,
      kind: -1,
      columns: [
        ...target.roles.map((role) => ({ name: role.name, unitLabel: '', agentOf: kindOfRole(whole, role) })),
        ...columns,
      ],
      every,
    };
  const ofAgent = (value: Ast.Expr): ValueBody => {
    const draft = whole.draft(target.name, { actor: target.self });
    let lowered: Expr = { op: 'number', value: 0 };
    const statements = draft.collect(() => (lowered = recordedValue(draft, value)));
    return { statements, value: lowered, locals: draft.localCount };
  };
  const values = part.values.map(ofAgent);
  return { name: target.name, kind: target.index, columns, values, every, when: part.when && ofAgent(part.when) };
}

/** The value of every cell, with where it lies. */
function fieldRecord(whole: ModelDraft, field: FieldSymbol, every: RecordPlan['every']): RecordPlan {
  const { name, type, space } = field;
  const unitLabel = type.is === 'number' && type.dim ? baseUnit(type.dim, whole.model.scales).label : '';
  return {
    name,
    kind: -1,
    field: field.index,
    columns: [
      ...['x', 'y'].map((axis) => ({ name: axis, unitLabel: space!.unit.label })),
      { name, unitLabel, options: wordsOf(type) },
    ],
    every,
  };
}

function distributionPlan(whole: ModelDraft, { of, over }: Ast.ExprOf<'gather'>): DistributionPlan {
  const { model } = whole;
  const head = model.queryHeads.get(over!);
  if (head?.is !== 'agents') throw new RangeError('A distribution is one of agents');
  const draft = whole.draft('chart', MEASURE_STANDING);
  draft.slotOf(model.locals.get(over!)!);
  const held = draft.newLocal();
  const statements = draft.collect(() => {
    draft.emit({ op: 'set', local: held, value: num(NaN) });
    const fits = over!.where ? draft.lower(over!.where) : num(1);
    const then = draft.collect(() => draft.emit({ op: 'set', local: held, value: draft.lower(of) }));
    draft.emit({ op: 'if', condition: fits, then, else: [] });
  });
  const type = model.types.get(of);
  return {
    name: whole.words(of.span).replace(/^it\./i, ''),
    unitLabel: type?.is === 'number' && type.dim ? baseUnit(type.dim, model.scales).label : '',
    kind: head.kind.index,
    value: { statements, value: { op: 'local', local: held }, locals: draft.localCount },
  };
}

/** The kind of those who take part in an interaction in a role. */
function kindOfRole(whole: ModelDraft, { type }: LocalSymbol): number {
  return type.is === 'agent' ? whole.model.kinds.findIndex(({ name }) => name === type.kind) : -1;
}

/** The kinds whose agents take those of a kind with them, in their own hold or further in. */
function vehiclesOf(kind: number, networks: readonly NetworkPlan[]): number[] {
  return networks.flatMap(({ riding, from, to }) => (riding && from === kind ? [to, ...vehiclesOf(to, networks)] : []));
}

function mayBeNowhere(kind: number, kinds: readonly KindPlan[], bodies: readonly { readonly body: Body }[]): boolean {
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

/** A value in base units as one in a unit of which one is so many of them. */
function inUnit(body: ValueBody, factor: number): ValueBody {
  return factor === 1 ? body : { ...body, value: binary('/', body.value, num(factor)) };
}

function summaryInUnit(value: RowExpr, factor: number): RowExpr {
  return factor === 1 ? value : { op: 'binary', fn: '/', left: value, right: { op: 'number', value: factor } };
}
