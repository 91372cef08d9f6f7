import { applied } from '../plan/functions.ts';
import { wayAlong } from '../forms/edges.ts';
import { formOf } from '../forms/forms.ts';
import { cellsInto } from '../engine/cells.ts';
import { below } from '../engine/random/stream.ts';
import { drawUnit } from '../engine/random/laws.ts';
import { bearingBetween, cellAt, cellX, cellY, distanceBetween, isInReach, squareBetween } from '../forms/space.ts';
import { isInMask } from '../engine/zones.ts';
import * as math from '../math.ts';
import { gather } from '../measures/numeric/gather.ts';
import { componentCount, meanClustering } from '../measures/network-measures.ts';
import { columnKey } from '../plan/analysis.ts';
import { failAt } from '../plan/failures.ts';
import type { Agent, Frame, Signal, Tie, Value } from './state.ts';
import { InterpreterState, isThere } from './state.ts';
import type * as P from '../plan/plan.ts';
import { spaceOfRaster } from '../plan/plan.ts';
import { binaryFunction, CELL_TRIES, clockValue, recentOf } from '../plan/values.ts';

type PickStatement = Extract<P.Statement, { op: 'pick' }>;

/** Values and queries of the reference interpreter. */
export abstract class InterpreterValues extends InterpreterState {
  protected abstract execute(statements: readonly P.Statement[], frame: Frame): Signal;

  protected code(code: P.Code, frame: Frame): number {
    this.execute(code.statements, frame);
    return this.number(code.value, frame);
  }

  protected agent(ref: P.AgentRef, frame: Frame): Agent {
    return frame.locals[ref.local] as Agent;
  }

  private seen(ref: P.AgentRef, frame: Frame): Agent['before'] & object {
    const agent = this.agent(ref, frame);
    return ref.own || ref.fresh ? agent : (agent.before ?? agent);
  }

  protected number(e: P.Expr, frame: Frame): number {
    const { world } = this;
    const at = (expr: P.Expr): number => this.number(expr, frame);
    switch (e.op) {
      case 'number':
        return e.value;
      case 'local':
        return frame.locals[e.local] as number;
      case 'parameter':
        return world.parameters[e.index]!;
      case 'variable':
        return world.variables[e.index]!;
      case 'clock':
        return clockValue(e.which, world);
      case 'size':
        return this.grounds[e.space]!.space[e.axis];
      case 'attribute':
        return this.attribute(e, frame);
      case 'state':
        return this.seen(e.agent, frame).states[e.machine]!;
      case 'due':
        return this.agent(e.agent, frame).due[e.column]!;
      case 'position':
        return this.seen(e.agent, frame)[e.axis];
      case 'number of':
        return this.agent(e.agent, frame).number;
      case 'same agent':
        return frame.locals[e.a.local] === frame.locals[e.b.local] ? 1 : 0;
      case 'is there':
        return isThere(this.agent(e.agent, frame)) ? 1 : 0;
      case 'somebody':
        return frame.locals[e.local] === null ? 0 : 1;
      case 'number or 0':
        return (frame.locals[e.local] as Agent | null)?.number ?? 0;
      case 'field': {
        const grid = this.fields[e.field]!;
        return grid.values[cellAt(at(e.x), at(e.y), grid, this.groundOf(e.field).space)]!;
      }
      case 'cell':
        return this.fields[e.field]!.values[frame.cell]!;
      case 'own cell':
        return frame.cell;
      case 'field cell':
        return this.fields[e.field]!.values[at(e.cell)]!;
      case 'cell x':
        return cellX(at(e.cell), this.rasterOf(e.raster), this.groundOf(e.raster).space);
      case 'cell y':
        return cellY(at(e.cell), this.rasterOf(e.raster), this.groundOf(e.raster).space);
      case 'cell at':
        return cellAt(at(e.x), at(e.y), this.rasterOf(e.raster), this.groundOf(e.raster).space);
      case 'listed cell':
        return this.cellList.cells[at(e.index)]!;
      case 'is nowhere':
        return Number.isNaN(at(e.x)) ? 1 : 0;
      case 'in zone':
        return isInMask(
          this.zones.masks[e.zone]!,
          at(e.x),
          at(e.y),
          this.grounds[this.plan.zones[e.zone]!.space]!.space,
        )
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
          this.grounds[e.reach.space]!.space,
        )
          ? 1
          : 0;
      case 'way':
        return this.way(e, frame);
      case 'along':
        return formOf(this.grounds[e.space]!.space).along(e.axis, at(e.x), at(e.y), at(e.distance), at(e.angle));
      case 'ahead': {
        const { direction } = this.seen(e.agent, frame);
        return math.aheadOnAxis(
          e.axis,
          at(e.axis === 'x' ? e.x : e.y),
          at(e.distance),
          math.sinDegrees(direction),
          math.cosDegrees(direction),
          e.aside,
        );
      }
      case 'tied':
        return this.areTied(e.network, e.side, this.agent(e.a, frame), this.agent(e.b, frame)) ? 1 : 0;
      case 'tie value':
        return (frame.locals[e.tie] as Tie).values[e.column]!;
      case 'list length':
        return this.agent(e.agent, frame).attributes[e.column]!;
      case 'list item':
        return this.agent(e.agent, frame).attributes[e.column + 1 + at(e.index) * e.stride + e.part]!;
      case 'message value':
        return this.mail.values[e.column]![frame.mail]!;
      case 'message sender':
        return this.mail.sender[frame.mail]!;
      case 'tally': {
        const { values, count } = this.tallies[e.tally]!;
        return e.fn === 'count' ? count : gather(e.fn, values.slice(0, count), count, e.level && at(e.level));
      }
      case 'tally item':
        return this.tallies[e.tally]!.values[at(e.index)]!;
      case 'table':
        return this.plan.tables[e.table]![e.column]![at(e.row)]!;
      case 'network measure':
        return this.networkMeasure(e.which, e.network);
      case 'recent':
        return recentOf(world, e.fn, e.measure, at(e.time), e.level && at(e.level));
      case 'not':
        return at(e.value) !== 0 ? 0 : 1;
      case 'minus':
        return -at(e.value);
      case 'binary':
        return this.binary(e, frame);
      case 'choose':
        return at(at(e.condition) !== 0 ? e.then : e.else);
      case 'call':
        return applied(e.fn, e.args.map(at));
      case 'distance':
        return distanceBetween(at(e.ax), at(e.ay), at(e.bx), at(e.by), this.grounds[e.space]!.space);
      case 'bearing':
        return bearingBetween(at(e.ax), at(e.ay), at(e.bx), at(e.by), this.grounds[e.space]!.space);
      case 'finite': {
        const value = at(e.value);
        return e.mayBeEmpty && Number.isNaN(value) ? value : this.finite(value, e.site, frame);
      }
      case 'count of kind':
        return this.kinds[e.kind]!.filter(isThere).length;
      case 'measure':
        return world.row[e.index]!;
      case 'flow':
        return world[e.which][e.counter]!;
      case 'field mean': {
        const { values } = this.fields[e.field]!;
        return gather(e.fn, Float64Array.from(values), values.length, e.level && at(e.level));
      }
    }
  }

  private attribute(e: Extract<P.Expr, { op: 'attribute' }>, frame: Frame): number {
    const agent = this.agent(e.agent, frame);
    if (e.agent.fresh || !frame.atOnce) return agent.attributes[e.column]!;
    if (!e.agent.own) return (agent.before ?? agent).attributes[e.column]!;
    return frame.atOnce.own.get(columnKey(e.kind, e.column)) ?? agent.attributes[e.column]!;
  }

  private binary(e: Extract<P.Expr, { op: 'binary' }>, frame: Frame): number {
    const left = this.number(e.left, frame);
    if (e.fn === 'and') return left !== 0 && this.number(e.right, frame) !== 0 ? 1 : 0;
    if (e.fn === 'or') return left !== 0 || this.number(e.right, frame) !== 0 ? 1 : 0;
    return binaryFunction(e.fn, left, this.number(e.right, frame));
  }

  private way(e: Extract<P.Expr, { op: 'way' }>, frame: Frame): number {
    const { width, height, edge } = this.grounds[e.space]!.space;
    return wayAlong(
      this.number(e.from, frame),
      this.number(e.to, frame),
      e.axis === 'x' ? width : height,
      edge === 'wrapping',
    );
  }

  // Networks

  private areTied(network: number, side: number, a: Agent, b: Agent): boolean {
    return this.neighbours(network, side, a).includes(b);
  }

  /** Those on the other side of the ties of an agent, in order of number. */
  private neighbours(network: number, side: number, agent: Agent): Agent[] {
    return this.tiesAt(network, side, agent)
      .map((tie) => (tie.a === agent ? tie.b : tie.a))
      .sort((p, q) => p.number - q.number);
  }

  private tiesAt(network: number, side: number, agent: Agent): Tie[] {
    const { directed, from, to } = this.plan.networks[network]!;
    const oneSided = !directed && from === to;
    return this.tiesOf(network).filter((tie) =>
      oneSided ? tie.a === agent || tie.b === agent : side === 0 ? tie.a === agent : tie.b === agent,
    );
  }

  private networkMeasure(which: 'components' | 'clustering', network: number): number {
    const { from, to } = this.plan.networks[network]!;
    const agents = [...new Set([from, to])].flatMap((kind) => this.kinds[kind]!.filter(isThere));
    const index = new Map(agents.map((agent, i) => [agent, i]));
    const ties = agents.map(() => new Set<number>());
    for (const tie of this.tiesOf(network)) {
      ties[index.get(tie.a)!]!.add(index.get(tie.b)!);
      ties[index.get(tie.b)!]!.add(index.get(tie.a)!);
    }
    const lists = ties.map((set) => [...set].sort((p, q) => p - q));
    return which === 'components' ? componentCount(lists) : meanClustering(lists);
  }

  // Queries

  protected candidates(query: P.Query, frame: Frame): Value[] {
    return this.asked(query, frame).filter((candidate) => this.fits(query, candidate, frame));
  }

  protected fits(query: P.Query, candidate: Value, frame: Frame): boolean {
    frame.locals[query.candidate] = candidate;
    return !query.where || this.code(query.where, frame) !== 0;
  }

  private asked(query: P.Query, frame: Frame): Value[] {
    const { over, reach } = query;
    switch (over.is) {
      case 'agents': {
        const except = query.except === undefined ? undefined : frame.locals[query.except];
        return this.agentsIn(query.kind, reach, frame).filter(
          (agent) =>
            isThere(agent) &&
            agent !== except &&
            !(query.present && this.spaceOf(query.kind) && Number.isNaN((agent.before ?? agent).x)),
        );
      }
      case 'cells':
        return this.cellsAsked(query, frame);
      case 'ties':
        return over.agent
          ? this.sortedTies(over.network, over.side, this.agent(over.agent, frame))
          : this.tiesOf(over.network);
      case 'list': {
        const { attributes } = this.agent(over.agent, frame);
        const length = attributes[over.column]!;
        if (!over.ofAgents) return Array.from({ length }, (_, i) => i);
        const members = Array.from({ length }, (_, i) =>
          this.kinds[query.kind]!.find((agent) => agent.number === attributes[over.column + 1 + i])!,
        );
        return members.filter((agent) => agent && isThere(agent));
      }
      case 'tally':
        return Array.from({ length: this.tallies[over.tally]!.count }, (_, i) => i);
    }
  }

  /** The ties of an agent in the order of whom they lead to. */
  private sortedTies(network: number, side: number, agent: Agent): Tie[] {
    const other = (tie: Tie): number => (tie.a === agent ? tie.b : tie.a).number;
    return this.tiesAt(network, side, agent).sort((p, q) => other(p) - other(q));
  }

  private agentsIn(kind: number, reach: P.Reach, frame: Frame): Agent[] {
    if (reach.is === 'all') return this.kinds[kind]!;
    if (reach.is === 'tied') {
      const agent = frame.locals[reach.agent.local] as Agent | null;
      return agent ? this.neighbours(reach.network, reach.side, agent).filter((other) => other.kind === kind) : [];
    }
    const [distance, x, y] = [
      this.number(reach.distance, frame),
      this.number(reach.x, frame),
      this.number(reach.y, frame),
    ];
    return this.kinds[kind]!.filter((agent) => {
      const at = agent.before ?? agent;
      return isInReach(reach.is, distance, x, y, at.x, at.y, this.grounds[reach.space]!.space);
    });
  }

  private cellsAsked(query: P.Query, frame: Frame): number[] {
    const over = query.over as Extract<P.Query['over'], { is: 'cells' }>;
    const raster = this.rasterOf(over.raster);
    const { space } = this.groundOf(over.raster);
    const out = new Int32Array(raster.columns * raster.rows);
    const { reach } = query;
    const n =
      reach.is === 'all' || reach.is === 'tied'
        ? cellsInto(raster, space, 'all', 0, 0, 0, out)
        : cellsInto(
            raster,
            space,
            reach.is,
            this.number(reach.distance, frame),
            this.number(reach.x, frame),
            this.number(reach.y, frame),
            out,
          );
    return [...out.subarray(0, n)].filter(
      (cell) => !over.empty || this.isEmptyCell(spaceOfRaster(this.plan, over.raster), cell),
    );
  }

  protected isEmptyCell(index: number, cell: number): boolean {
    const { space, raster } = this.grounds[index]!;
    const on = (agent: Agent): boolean => {
      const { x, y } = agent.before ?? agent;
      return !Number.isNaN(x) && cellAt(x, y, raster, space) === cell;
    };
    return (
      !this.isBlocked(index, cellX(cell, raster, space), cellY(cell, raster, space)) &&
      !this.agentsOn(index).some((agent) => agent.life !== 'gone' && on(agent))
    );
  }

  protected agentsOn(space: number): Agent[] {
    return this.kinds.flatMap((agents, kind) => (this.plan.kinds[kind]!.space === space ? agents : []));
  }

  protected isBlocked(space: number, x: number, y: number): boolean {
    const blocked = this.zones.blocked[space];
    return blocked !== undefined && isInMask(blocked, x, y, this.grounds[space]!.space);
  }

  protected gather(s: Extract<P.Statement, { op: 'gather' }>, frame: Frame): number {
    const values = this.candidates(s.query, frame).map((candidate) => {
      frame.locals[s.query.candidate] = candidate;
      return this.code(s.value, frame);
    });
    const level = s.level ? this.number(s.level, frame) : undefined;
    const result = gather(s.fn, Float64Array.from(values), values.length, level);
    return s.site === undefined ? result : this.finite(result, s.site, frame);
  }

  protected pick(s: PickStatement, frame: Frame): Signal {
    const drawn =
      s.how === 'random' && s.query.over.is === 'cells' && !s.weight ? this.drawCellNear(s.query, frame) : undefined;
    if (drawn !== undefined) {
      frame.locals[s.local] = drawn;
      return this.execute(s.found, frame);
    }
    const all = this.candidates(s.query, frame);
    const best = this.bestOf(s, all, frame);
    const chosen = s.weight ? this.weighted(s, s.weight, best, frame) : this.oneOf(s, best, frame);
    if (chosen === null) return this.execute(s.nobody, frame);
    frame.locals[s.local] = chosen;
    return this.execute(s.found, frame);
  }

  private oneOf(s: PickStatement, best: readonly Value[], frame: Frame): Value {
    if (best.length === 0) return null;
    const draws = s.how === 'random' || (s.how !== 'first' && best.length > 1);
    return best[draws ? below(frame.stream.word(), best.length) : 0]!;
  }

  /** Draws by weights that are 0 or more; nobody if all are 0. */
  private weighted(s: PickStatement, weight: P.Code, all: readonly Value[], frame: Frame): Value {
    const weights = all.map((candidate) => {
      frame.locals[s.query.candidate] = candidate;
      const value = this.code(weight, frame);
      return value >= 0
        ? this.finite(value, s.site, frame)
        : failAt(this.plan.sites[s.site]!, this.world, this.nameOf(frame.actor), value);
    });
    const total = weights.reduce((a, b) => a + b, 0);
    if (!(total > 0)) return null;
    const luck = drawUnit(frame.stream.word(), frame.stream.word()) * total;
    let reached = 0;
    let last = 0;
    for (const [i, w] of weights.entries()) {
      if (!(w > 0)) continue;
      reached += w;
      last = i;
      if (luck < reached) break;
    }
    return all[last]!;
  }

  /** A random cell of a reach by steps drawn from here, while that finds one soon; nothing if the cells must be listed. */
  private drawCellNear(query: P.Query, frame: Frame): number | undefined {
    const over = query.over as Extract<P.Query['over'], { is: 'cells' }>;
    const { reach } = query;
    if (reach.is === 'all' || reach.is === 'tied') return undefined;
    const { space, discs } = this.groundOf(over.raster);
    if (!formOf(space).isOfCells) return undefined;
    const raster = this.rasterOf(over.raster);
    const disc = discs.get(raster, reach.is, this.number(reach.distance, frame));
    const x = this.number(reach.x, frame);
    if (!disc || Number.isNaN(x)) return undefined;
    const own = cellAt(x, this.number(reach.y, frame), raster, space);
    for (let tries = 0; tries < CELL_TRIES; tries++) {
      const cell = discs.at(raster, disc, own, frame.stream.word());
      if (
        cell >= 0 &&
        (!over.empty || this.isEmptyCell(spaceOfRaster(this.plan, over.raster), cell)) &&
        this.fits(query, cell, frame)
      )
        return cell;
    }
    return undefined;
  }

  private bestOf(s: PickStatement, candidates: readonly Value[], frame: Frame): readonly Value[] {
    if (s.how === 'random' || s.how === 'first') return candidates;
    const x = s.from ? this.number(s.from.x, frame) : 0;
    const y = s.from ? this.number(s.from.y, frame) : 0;
    const scores = candidates.map((candidate) => {
      if (s.how === 'nearest') {
        const at = this.placeOf(s.query, candidate);
        return -squareBetween(
          x,
          y,
          at.x,
          at.y,
          s.query.over.is === 'cells' ? this.groundOf(s.query.over.raster).space : this.spaceOf(s.query.kind)!,
        );
      }
      frame.locals[s.query.candidate] = candidate;
      const by = this.code(s.by!, frame);
      return s.how === 'most' ? by : -by;
    });
    const best = scores.reduce((a, b) => (b > a ? b : a), -Infinity);
    return candidates.filter((_, i) => scores[i] === best);
  }

  private placeOf(query: P.Query, candidate: Value): { x: number; y: number } {
    if (query.over.is === 'cells') {
      const raster = this.rasterOf(query.over.raster);
      const { space } = this.groundOf(query.over.raster);
      return { x: cellX(candidate as number, raster, space), y: cellY(candidate as number, raster, space) };
    }
    const agent = candidate as Agent;
    return agent.before ?? agent;
  }

  protected each(s: Extract<P.Statement, { op: 'each' }>, frame: Frame): Signal {
    const list = this.candidates(s.query, frame);
    for (let i = list.length - 1; s.shuffled && i > 0; i--) {
      const j = below(frame.stream.word(), i + 1);
      [list[i], list[j]] = [list[j]!, list[i]!];
    }
    const most = s.most === undefined ? list.length : Math.min(s.most, list.length);
    for (const candidate of list.slice(0, most)) {
      if (isGone(candidate)) continue;
      if (s.recheck && !this.fits(s.query, candidate, frame)) continue;
      frame.locals[s.query.candidate] = candidate;
      const signal = this.execute(s.body, frame);
      if (signal !== 'on') return signal;
      if (frame.actor && !isThere(frame.actor)) return 'end turn';
    }
    return 'on';
  }
}

function isGone(candidate: Value): boolean {
  if (candidate === null || typeof candidate === 'number') return false;
  return 'life' in candidate ? !isThere(candidate) : !candidate.there;
}
