import { RandomStream } from '../engine/random/stream.ts';
import { isInMask } from '../engine/zones.ts';
import { wayAlong } from '../forms/edges.ts';
import { formOf } from '../forms/forms.ts';
import { bearingBetween, cellAt, cellX, cellY, distanceBetween, isInReach, laneAt, wayLength } from '../forms/space.ts';
import * as math from '../math.ts';
import type { Adjacency } from '../measures/network-measures.ts';
import { networkMeasure } from '../measures/network-measures.ts';
import { gather } from '../measures/numeric/gather.ts';
import { columnKey } from '../plan/analysis.ts';
import type * as P from '../plan/plan.ts';
import { binaryFunction, clockValue, recentOf } from '../plan/values.ts';
import { isThere } from './reference-run.ts';
import type { Agent, Frame, ReferenceRun, Tie, Value } from './reference-run.ts';
import { applied } from '../plan/functions.ts';

export function codeValue(run: ReferenceRun, code: P.Code, frame: Frame): number {
  run.execute(code.statements, frame);
  return numberOf(run, code.value, frame);
}

export function agentOf(ref: P.AgentRef, frame: Frame): Agent {
  return frame.locals[ref.local] as Agent;
}

function seenAgent(ref: P.AgentRef, frame: Frame): Agent['before'] & object {
  const agent = agentOf(ref, frame);
  return ref.own || ref.fresh ? agent : (agent.before ?? agent);
}

export function numberOf(run: ReferenceRun, e: P.Expr, frame: Frame): number {
  const { context } = run;
  const at = (expr: P.Expr): number => numberOf(run, expr, frame);
  switch (e.op) {
    case 'number':
      return e.value;
    case 'local':
      return frame.locals[e.local] as number;
    case 'parameter':
      return context.parameters[e.index]!;
    case 'variable':
      return context.variables[e.index]!;
    case 'clock':
      return clockValue(e.which, context);
    case 'size':
      return run.grounds[e.space]!.space[e.axis];
    case 'attribute':
      return attributeValue(e, frame);
    case 'state':
      return seenAgent(e.agent, frame).states[e.machine]!;
    case 'due':
      return agentOf(e.agent, frame).due[e.column]!;
    case 'position':
      return seenAgent(e.agent, frame)[e.axis];
    case 'number of':
      return agentOf(e.agent, frame).number;
    case 'same agent':
      return frame.locals[e.a.local] === frame.locals[e.b.local] ? 1 : 0;
    case 'is there':
      return isThere(agentOf(e.agent, frame)) ? 1 : 0;
    case 'somebody':
      return frame.locals[e.local] === null ? 0 : 1;
    case 'number or 0':
      return (frame.locals[e.local] as Agent | null)?.number ?? 0;
    case 'field': {
      const grid = run.fields[e.field]!;
      return grid.values[cellAt(at(e.x), at(e.y), grid, run.groundOf(e.field).space)] ?? NaN;
    }
    case 'cell':
      return run.fields[e.field]!.values[frame.cell]!;
    case 'own cell':
      return frame.cell;
    case 'field cell':
      return run.fields[e.field]!.values[at(e.cell)]!;
    case 'cell x':
      return cellX(at(e.cell), run.rasterOf(e.raster), run.groundOf(e.raster).space);
    case 'cell y':
      return cellY(at(e.cell), run.rasterOf(e.raster), run.groundOf(e.raster).space);
    case 'cell at':
      return cellAt(at(e.x), at(e.y), run.rasterOf(e.raster), run.groundOf(e.raster).space);
    case 'listed cell':
      return run.cellList.cells[at(e.index)]!;
    case 'is nowhere':
      return Number.isNaN(at(e.x)) ? 1 : 0;
    case 'in zone':
      return isInMask(run.zones.masks[e.zone]!, at(e.x), at(e.y), run.grounds[run.plan.zones[e.zone]!.space]!.space)
        ? 1
        : 0;
    case 'in reach':
      return isInReach(
        e.reach.is,
        at(e.reach.distance),
        at(e.reach.x),
        at(e.reach.y),
        at(e.x),
        at(e.y),
        run.grounds[e.reach.space]!.space,
      )
        ? 1
        : 0;
    case 'way':
      return wayTo(run, e, frame);
    case 'along':
      return formOf(run.grounds[e.space]!.space).along(e.axis, at(e.x), at(e.y), at(e.distance), at(e.angle));
    case 'ahead': {
      const { direction } = seenAgent(e.agent, frame);
      return math.aheadOnAxis(
        e.axis,
        at(e.axis === 'x' ? e.x : e.y),
        at(e.distance),
        math.sinDegrees(direction),
        math.cosDegrees(direction),
        e.aside,
      );
    }
    case 'lane at':
      return laneAt(e.axis, at(e.share), run.grounds[e.space]!.space);
    case 'near along': {
      const facing = e.facing ? at(e.facing) : NaN;
      const { near } = run.grounds[e.space]!.space.lanes!;
      return near.isWithin(at(e.x), at(e.y), facing, at(e.most), at(e.toX), at(e.toY)) ? 1 : 0;
    }
    case 'journey': {
      const { x, y, walker, terms, now, journeys } = aimed(run, e.aim, at);
      return journeys.ask(e.which, at(e.x), at(e.y), now, x, y, walker, terms);
    }
    case 'ride time': {
      const { x, y, walker, terms, now, journeys } = aimed(run, e.aim, at);
      return journeys.rideTime(at(e.line), at(e.stop), at(e.departs), at(e.since), now, x, y, walker, terms);
    }
    case 'timetable':
      return run.grounds[e.space]!.journeys!.timetable(e.which, at(e.line), at(e.of));
    case 'stop place':
      return run.grounds[e.space]!.journeys!.stop(at(e.line), e.axis, at(e.stop));
    case 'way length':
      return wayLength(at(e.ax), at(e.ay), at(e.bx), at(e.by), at(e.speed), e.ways, run.grounds[e.space]!.space);
    case 'tied':
      return areTied(run, e.network, e.side, agentOf(e.a, frame), agentOf(e.b, frame)) ? 1 : 0;
    case 'tie value':
      return (frame.locals[e.tie] as Tie).values[e.column]!;
    case 'list length':
      return agentOf(e.agent, frame).attributes[e.column]!;
    case 'list item':
      return agentOf(e.agent, frame).attributes[e.column + 1 + at(e.index) * e.stride + e.part]!;
    case 'message value':
      return run.mail.values[e.column]![frame.mail]!;
    case 'message sender':
      return run.mail.sender[frame.mail]!;
    case 'tally': {
      const { values, count } = run.tallies[e.tally]!;
      return e.fn === 'count' ? count : gather(e.fn, values.slice(0, count), count, e.level && at(e.level));
    }
    case 'tally item':
      return run.tallies[e.tally]!.values[at(e.index)]!;
    case 'table':
      return run.plan.tables[e.table]![e.column]![at(e.row)]!;
    case 'network measure':
      return networkMeasure(e.which, tiedIn(run, e.network));
    case 'recent':
      return recentOf(context, e.fn, e.measure, at(e.time), e.level && at(e.level));
    case 'not':
      return at(e.value) !== 0 ? 0 : 1;
    case 'minus':
      return -at(e.value);
    case 'binary':
      return binaryValue(run, e, frame);
    case 'choose':
      return at(at(e.condition) !== 0 ? e.then : e.else);
    case 'call':
      return applied(e.fn, e.args.map(at));
    case 'distance':
      return distanceBetween(at(e.ax), at(e.ay), at(e.bx), at(e.by), run.grounds[e.space]!.space);
    case 'bearing':
      return bearingBetween(at(e.ax), at(e.ay), at(e.bx), at(e.by), run.grounds[e.space]!.space);
    case 'finite': {
      const value = at(e.value);
      return e.mayBeEmpty && Number.isNaN(value) ? value : run.finite(value, e.site, frame);
    }
    case 'count of kind':
      return run.kinds[e.kind]!.filter(isThere).length;
    case 'measure':
      return context.row[e.index]!;
    case 'flow':
      return context[e.which][e.counter]!;
    case 'field mean': {
      const { values } = run.fields[e.field]!;
      return gather(e.fn, Float64Array.from(values), values.length, e.level && at(e.level));
    }
  }
}

function attributeValue(e: Extract<P.Expr, { op: 'attribute' }>, frame: Frame): number {
  const agent = agentOf(e.agent, frame);
  if (e.agent.fresh || !frame.atOnce) return agent.attributes[e.column]!;
  if (!e.agent.own) return (agent.before ?? agent).attributes[e.column]!;
  return frame.atOnce.own.get(columnKey(e.kind, e.column)) ?? agent.attributes[e.column]!;
}

function binaryValue(run: ReferenceRun, e: Extract<P.Expr, { op: 'binary' }>, frame: Frame): number {
  const left = numberOf(run, e.left, frame);
  if (e.fn === 'and') return left !== 0 && numberOf(run, e.right, frame) !== 0 ? 1 : 0;
  if (e.fn === 'or') return left !== 0 || numberOf(run, e.right, frame) !== 0 ? 1 : 0;
  return binaryFunction(e.fn, left, numberOf(run, e.right, frame));
}

function wayTo(run: ReferenceRun, e: Extract<P.Expr, { op: 'way' }>, frame: Frame): number {
  const { width, height, edge } = run.grounds[e.space]!.space;
  return wayAlong(
    numberOf(run, e.from, frame),
    numberOf(run, e.to, frame),
    e.axis === 'x' ? width : height,
    edge === 'wrapping',
  );
}

// Networks

function areTied(run: ReferenceRun, network: number, side: number, a: Agent, b: Agent): boolean {
  return neighboursOf(run, network, side, a).includes(b);
}

/** Those on the other side of the ties of an agent, in order of number. */
export function neighboursOf(run: ReferenceRun, network: number, side: number, agent: Agent): Agent[] {
  return tiesAt(run, network, side, agent)
    .map((tie) => (tie.a === agent ? tie.b : tie.a))
    .sort((p, q) => p.number - q.number);
}

export function tiesAt(run: ReferenceRun, network: number, side: number, agent: Agent): Tie[] {
  const { directed, from, to } = run.plan.networks[network]!;
  const oneSided = !directed && from === to;
  return run
    .tiesOf(network)
    .filter((tie) => (oneSided ? tie.a === agent || tie.b === agent : side === 0 ? tie.a === agent : tie.b === agent));
}

/** A network as lists: for each agent those it is tied to. */
function tiedIn(run: ReferenceRun, network: number): Adjacency {
  const { from, to } = run.plan.networks[network]!;
  const agents = [...new Set([from, to])].flatMap((kind) => run.kinds[kind]!.filter(isThere));
  const index = new Map(agents.map((agent, i) => [agent, i]));
  const ties = agents.map(() => new Set<number>());
  for (const tie of run.tiesOf(network)) {
    ties[index.get(tie.a)!]!.add(index.get(tie.b)!);
    ties[index.get(tie.b)!]!.add(index.get(tie.a)!);
  }
  return ties.map((set) => [...set].sort((p, q) => p - q));
}

export function isEmptyCell(run: ReferenceRun, index: number, cell: number): boolean {
  const { space, raster } = run.grounds[index]!;
  const on = (agent: Agent): boolean => {
    const { x, y } = agent.before ?? agent;
    return !Number.isNaN(x) && cellAt(x, y, raster, space) === cell;
  };
  return (
    !isBlocked(run, index, cellX(cell, raster, space), cellY(cell, raster, space)) &&
    !agentsOn(run, index).some((agent) => agent.life !== 'gone' && on(agent))
  );
}

export function agentsOn(run: ReferenceRun, space: number): Agent[] {
  return run.kinds.flatMap((agents, kind) => (run.plan.kinds[kind]!.space === space ? agents : []));
}

export function isBlocked(run: ReferenceRun, space: number, x: number, y: number): boolean {
  const blocked = run.zones.blocked[space];
  return blocked !== undefined && isInMask(blocked, x, y, run.grounds[space]!.space);
}

export function isGone(candidate: Value): boolean {
  if (candidate === null || typeof candidate === 'number') return false;
  return 'life' in candidate ? !isThere(candidate) : !candidate.there;
}

export function bodyValue(run: ReferenceRun, body: P.ValueBody): number {
  return codeValue(run, body, {
    locals: [],
    stream: RandomStream.of(0, 0, 0),
    actor: undefined,
    atOnce: undefined,
    cell: -1,
    mail: -1,
  });
}

/** A journey's aim as numbers. */
function aimed(run: ReferenceRun, aim: P.JourneyAim, at: (e: P.Expr) => number) {
  const { space, quickest, ways, lines, trips } = aim;
  return {
    x: at(aim.x),
    y: at(aim.y),
    walker: { pace: at(aim.pace), quickest, ways, lines, trips },
    terms: aim.terms.map(at),
    now: at(aim.now),
    journeys: run.grounds[space]!.journeys!,
  };
}
