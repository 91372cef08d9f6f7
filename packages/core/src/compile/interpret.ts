import * as math from '../engine/math.ts';
import { mix, Stream, below } from '../engine/random/stream.ts';
import type { Script, ScriptTimelineLine, StateView } from '../engine/script.ts';
import type { FieldGrid, Space } from '../engine/space.ts';
import { bearingBetween, cellAt, directionAfter, distanceBetween, fieldShape, placeOnAxis, wayAlong } from '../engine/space.ts';
import { spreadInto } from '../engine/field-change.ts';
import { World } from '../engine/world.ts';
import { gather } from '../measures/numeric/gather.ts';
import type { RuleTouch } from './analysis.ts';
import { columnKey, touchOf } from './analysis.ts';
import { drawLaw } from './draw-law.ts';
import { failAt, failCeiling, failCount, failShare } from './failures.ts';
import type * as P from './plan.ts';
import { attributeColumnId, Contributions, fieldColumnId, settleStream, variableColumnId } from './settling.ts';
import { startSpace } from './start-space.ts';
import { askWhen, binaryFunction, CELL_TRIES, clockValue, pureFunction } from './values.ts';

/**
 * The reference: runs a plan by walking over it, with agents as objects and every query asking everybody. Slow and plain; generated
 * code must give the same bits (test/differential.test.ts).
 */
export function interpretPlan(plan: P.Plan): Script {
  return new Interpreter(plan);
}

interface Agent {
  readonly number: number;
  readonly kind: number;
  life: 'there' | 'unborn' | 'leaving' | 'gone';
  x: number;
  y: number;
  direction: number;
  attributes: number[];
  states: number[];
  due: number[];
  /** As others see it during a rule that acts all at once. */
  before: { x: number; y: number; direction: number; attributes: number[]; states: number[] } | undefined;
}

type Value = number | Agent | null;

interface Frame {
  readonly locals: Value[];
  readonly stream: Stream;
  readonly actor: Agent | undefined;
  readonly atOnce: AtOnce | undefined;
  readonly cell: number;
}

/** What is gathered during a rule that acts all at once. */
interface AtOnce {
  readonly touch: RuleTouch;
  readonly attributes: Map<Agent, Map<number, Contributions>>;
  readonly fields: Map<number, Map<number, Contributions>>;
  readonly variables: Map<number, Contributions>;
  /** Own values that the acting agent sees in contested columns. */
  own: Map<string, number>;
  ownSet: Map<string, { agent: Agent; column: number }>;
}

type Signal = 'on' | 'end turn';

class Interpreter implements Script {
  readonly world: World;
  readonly entries: readonly (() => void)[];
  readonly timeline: readonly ScriptTimelineLine[];
  readonly measures: readonly (() => number)[];
  readonly endAfter: () => number;
  readonly endWhen: readonly (() => number)[];
  readonly finals: readonly (() => number)[];
  private kinds: Agent[][] = [];
  private nextNumbers: number[] = [];
  private fields: FieldGrid[] = [];
  private space: Space | undefined;

  constructor(private readonly plan: P.Plan) {
    this.world = new World(plan.clock, plan.parameters.length, plan.counters, plan.measures.length, plan.variables.length);
    const ask = (body: P.ValueBody) => (): number => this.value(body);
    this.entries = plan.schedule.map((entry) => () => (entry.is === 'fields' ? this.growFields(entry.fields) : this.runRules(entry)));
    this.timeline = plan.timeline.map((line) => ({
      when: askWhen(line.when, ask),
      lay: line.lay.map(({ parameter, value }) => ({ parameter, value: ask(value) })),
      act: () => this.run(line.body, Stream.of(this.world.seed, this.world.step, line.key)),
    }));
    this.measures = plan.measures.map((measure) => ask(measure.body));
    this.endAfter = ask(plan.clock.endAfter);
    this.endWhen = plan.clock.endWhen.map(ask);
    this.finals = plan.finals.map(ask);
  }

  // Start

  start(): void {
    const { plan, world } = this;
    this.kinds = plan.kinds.map(() => []);
    this.nextNumbers = plan.kinds.map(() => 1);
    plan.variables.forEach((variable, i) => (world.variables[i] = this.finite(this.value(variable.start), variable.site, undefined)));
    this.space = startSpace(plan, (body) => this.value(body));
    this.fields = plan.fields.map((field, i) => this.startField(field, i));
    plan.kinds.forEach((kind, index) => this.startKind(kind, index));
    world.isEnding = false;
  }

  private startField(field: P.FieldPlan, index: number): FieldGrid {
    const cell = field.cell ? this.value(field.cell) : 1;
    const { columns, rows } = fieldShape(this.space!, cell);
    const grid: FieldGrid = { columns, rows, cell, values: new Float64Array(columns * rows) };
    this.fields[index] = grid;
    const key = mix(index + 0x6b43a9b5);
    for (let i = 0; i < columns * rows; i++) {
      const value = field.start ? this.cellValue(field.start, grid, i, Stream.of(this.world.seed, 0, key, i)) : 0;
      grid.values[i] = this.keep(index, this.finite(value, field.site, undefined));
    }
    return grid;
  }

  private cellValue(body: P.ValueBody, grid: FieldGrid, cell: number, stream: Stream): number {
    const shift = this.space!.form === 'grid' ? 0 : 0.5;
    const column = cell % grid.columns;
    const row = Math.floor(cell / grid.columns);
    const locals: Value[] = [(column + shift) * grid.cell, (row + shift) * grid.cell];
    const frame: Frame = { locals, stream, actor: undefined, atOnce: undefined, cell };
    this.execute(body.statements, frame);
    return this.number(body.value, frame);
  }

  private startKind(kind: P.KindPlan, index: number): void {
    for (const start of kind.starts) {
      const count = this.value(start.count);
      if (!(count >= 0) || Math.floor(count) !== count) failCount(this.plan.sites[start.site]!, this.world, undefined, count);
      for (let i = 0; i < count; i++) this.run(start.one, Stream.of(this.world.seed, 0, start.key, i));
    }
    kind.machines.forEach((machine, m) => {
      const agents = this.kinds[index]!;
      const luck = Stream.of(this.world.seed, 0, mix(index * 64 + m + 0x7f4a7c15));
      const order = agents.map((_, i) => i);
      let drawn = 0;
      for (const exact of machine.exact) {
        const count = this.value(exact.count);
        for (let i = 0; i < count && drawn < order.length; i++, drawn++) {
          const j = drawn + below(luck.word(), order.length - drawn);
          [order[drawn], order[j]] = [order[j]!, order[drawn]!];
          const agent = agents[order[drawn]!]!;
          this.run(exact.enter, Stream.of(this.world.seed, 0, mix(index * 64 + m + 0x3c6ef35f), agent.number), agent);
        }
      }
    });
  }

  // Rules

  private runRules(entry: Extract<P.ScheduleEntry, { is: 'rules' }>): void {
    const rules = entry.rules.map((index) => this.plan.rules[index]!).filter((rule) => !rule.every || this.world.isMultipleNow(this.value(rule.every)));
    if (entry.mode === 'all at once') for (const rule of rules) this.runAtOnce(rule);
    else this.runTurns(entry, rules);
    this.kinds = this.kinds.map((agents) => agents.filter((agent) => agent.life !== 'gone'));
  }

  private runTurns(entry: Extract<P.ScheduleEntry, { is: 'rules' }>, rules: readonly P.RulePlan[]): void {
    const kinds = [...new Set(rules.map((rule) => rule.kind))];
    const turns = kinds.flatMap((kind) => this.kinds[kind]!.filter(isThere));
    if (entry.mode === 'in turn') {
      const luck = Stream.of(this.world.seed, this.world.step, entry.key);
      for (let i = turns.length - 1; i > 0; i--) {
        const j = below(luck.word(), i + 1);
        [turns[i], turns[j]] = [turns[j]!, turns[i]!];
      }
    }
    for (const agent of turns) {
      for (const rule of rules) {
        if (rule.kind !== agent.kind || !isThere(agent)) continue;
        this.run(rule.body, Stream.of(this.world.seed, this.world.step, rule.key, agent.number), agent);
      }
    }
  }

  private runAtOnce(rule: P.RulePlan): void {
    for (const agents of this.kinds) for (const agent of agents) {
      agent.before = { x: agent.x, y: agent.y, direction: agent.direction, attributes: [...agent.attributes], states: [...agent.states] };
    }
    const atOnce: AtOnce = { touch: touchOf(rule), attributes: new Map(), fields: new Map(), variables: new Map(), own: new Map(), ownSet: new Map() };
    for (const agent of this.kinds[rule.kind]!.filter(isThere)) {
      atOnce.own = new Map();
      atOnce.ownSet = new Map();
      this.run(rule.body, Stream.of(this.world.seed, this.world.step, rule.key, agent.number), agent, atOnce);
      for (const [key, { agent: target, column }] of atOnce.ownSet) this.contribute(atOnce, target, column, '=', atOnce.own.get(key)!);
    }
    this.settle(rule, atOnce);
    for (const agents of this.kinds) {
      for (const agent of agents) {
        agent.before = undefined;
        if (agent.life === 'leaving') this.leave(agent);
        if (agent.life === 'unborn') agent.life = 'there';
      }
    }
  }

  private contribute(atOnce: AtOnce, agent: Agent, column: number, how: P.WriteHow, value: number): void {
    const columns = getOrMake(atOnce.attributes, agent, () => new Map<number, Contributions>());
    getOrMake(columns, column, () => new Contributions()).add(how, value);
  }

  private settle(rule: P.RulePlan, atOnce: AtOnce): void {
    const { seed, step } = this.world;
    for (const [agent, columns] of atOnce.attributes) {
      for (const [column, contributions] of columns) {
        const before = agent.before?.attributes[column] ?? agent.attributes[column]!;
        agent.attributes[column] = contributions.settle(before, () => settleStream(seed, step, rule.key, attributeColumnId(agent.kind, column), agent.number));
      }
    }
    for (const [variable, contributions] of atOnce.variables) {
      this.world.variables[variable] = contributions.settle(this.world.variables[variable]!, () => settleStream(seed, step, rule.key, variableColumnId(variable), 0));
    }
    for (const [field, cells] of atOnce.fields) {
      const { values } = this.fields[field]!;
      for (const [cell, contributions] of cells) {
        values[cell] = this.keep(field, contributions.settle(values[cell]!, () => settleStream(seed, step, rule.key, fieldColumnId(field), cell)));
      }
    }
  }

  private growFields(indices: readonly number[]): void {
    const grown = indices.map((index) => {
      const field = this.plan.fields[index]!;
      const grid = this.fields[index]!;
      const grown = Float64Array.from(grid.values);
      const times = field.growPerTime ? this.world.clock.stepLength : 1;
      for (let i = 0; field.grow && i < grown.length; i++) {
        const grow = this.cellValue(field.grow, grid, i, Stream.of(0, 0, 0));
        grown[i] = this.finite(grid.values[i]! + times * grow, field.site, undefined);
      }
      const spread = Float64Array.from(grown);
      if (field.spread) spreadInto(spread, grown, grid, this.space!, this.share(field.spread, field.site));
      const rest = field.fade ? 1 - this.share(field.fade, field.site) : 1;
      return spread.map((value) => this.keep(index, field.fade ? value * rest : value));
    });
    indices.forEach((index, i) => this.fields[index]!.values.set(grown[i]!));
  }

  private share(body: P.ValueBody, site: number): number {
    const share = this.value(body);
    return share >= 0 && share <= 1 ? share : failShare(this.plan.sites[site]!, this.world, share);
  }

  private keep(field: number, value: number): number {
    const keep = this.plan.fields[field]!.keep;
    return keep ? math.clip(value, this.value(keep.min), this.value(keep.max)) : value;
  }

  // Bodies

  private run(body: P.Body, stream: Stream, actor?: Agent, atOnce?: AtOnce): void {
    const locals: Value[] = actor ? [actor] : [];
    this.execute(body.statements, { locals, stream, actor, atOnce, cell: -1 });
  }

  private value(body: P.ValueBody): number {
    const frame: Frame = { locals: [], stream: Stream.of(0, 0, 0), actor: undefined, atOnce: undefined, cell: -1 };
    this.execute(body.statements, frame);
    return this.number(body.value, frame);
  }

  private code(code: P.Code, frame: Frame): number {
    this.execute(code.statements, frame);
    return this.number(code.value, frame);
  }

  private execute(statements: readonly P.Statement[], frame: Frame): Signal {
    for (const statement of statements) {
      if (this.statement(statement, frame) === 'end turn') return 'end turn';
    }
    return 'on';
  }

  private statement(s: P.Statement, frame: Frame): Signal {
    const { locals } = frame;
    switch (s.op) {
      case 'set':
        locals[s.local] = s.value.op === 'local' ? locals[s.value.local]! : this.number(s.value, frame);
        return 'on';
      case 'draw':
        locals[s.local] = this.finite(drawLaw(s.law, s.args.map((arg) => this.number(arg, frame)), frame.stream), s.site, frame);
        return 'on';
      case 'if':
        return this.execute(this.number(s.condition, frame) !== 0 ? s.then : s.else, frame);
      case 'switch':
        return this.execute(s.cases[this.number(s.value, frame)] ?? [], frame);
      case 'repeat': {
        const count = this.number(s.count, frame);
        if (!(count >= 0) || Math.floor(count) !== count) failCount(this.plan.sites[s.site]!, this.world, this.nameOf(frame.actor), count);
        for (let i = 0; i < count; i++) if (this.execute(s.body, frame) === 'end turn') return 'end turn';
        return 'on';
      }
      case 'count':
        locals[s.local] = this.candidates(s.query, frame).length;
        return 'on';
      case 'any':
        locals[s.local] = this.candidates(s.query, frame).length > 0 ? 1 : 0;
        return 'on';
      case 'gather':
        locals[s.local] = this.gather(s, frame);
        return 'on';
      case 'pick':
        return this.pick(s, frame);
      case 'each':
        return this.each(s, frame);
      case 'write':
        this.write(s, frame);
        return 'on';
      case 'write field':
        this.writeField(s, frame);
        return 'on';
      case 'write variable':
        this.writeVariable(s, frame);
        return 'on';
      case 'write parameter':
        this.world.bottom[s.index] = this.finite(this.number(s.value, frame), s.site, frame);
        return 'on';
      case 'become':
        this.become(this.agent(s.agent, frame), s.machine, s.state, s.agent.fresh === true);
        return 'on';
      case 'write due':
        this.agent(s.agent, frame).due[s.column] = this.finite(this.number(s.value, frame), s.site, frame);
        return 'on';
      case 'turn':
        this.agent(s.agent, frame).direction = math.heading(this.finite(this.number(s.direction, frame), s.site, frame));
        return 'on';
      case 'move by':
        this.moveBy(s, frame);
        return 'on';
      case 'move to': {
        const x = this.finite(this.number(s.x, frame), s.site, frame);
        const y = this.finite(this.number(s.y, frame), s.site, frame);
        this.place(this.agent(s.agent, frame), x, y);
        return 'on';
      }
      case 'draw cell':
        this.drawCell(s, frame);
        return 'on';
      case 'create':
        return this.create(s, frame);
      case 'remove': {
        const agent = this.agent(s.agent, frame);
        if (frame.atOnce && agent.life === 'there') agent.life = 'leaving';
        else if (!frame.atOnce && isThere(agent)) this.leave(agent);
        return 'on';
      }
      case 'end turn':
        return 'end turn';
      case 'end run':
        this.world.isEnding = true;
        return 'on';
    }
  }

  private agent(ref: P.AgentRef, frame: Frame): Agent {
    return frame.locals[ref.local] as Agent;
  }

  private write(s: Extract<P.Statement, { op: 'write' }>, frame: Frame): void {
    const agent = this.agent(s.agent, frame);
    const value = this.finite(this.number(s.value, frame), s.site, frame);
    const { atOnce } = frame;
    const key = columnKey(s.kind, s.column);
    const ownWrites = atOnce && !s.agent.fresh ? atOnce.touch.contested.get(key) : undefined;
    if (!atOnce || !ownWrites) {
      agent.attributes[s.column] = this.finite(applied(agent.attributes[s.column]!, s.how, value), s.site, frame);
    } else if (!s.agent.own) this.contribute(atOnce, agent, s.column, s.how, value);
    else {
      const held = atOnce.own.get(key) ?? agent.attributes[s.column]!;
      atOnce.own.set(key, this.finite(applied(held, s.how, value), s.site, frame));
      if (ownWrites === '=') atOnce.ownSet.set(key, { agent, column: s.column });
      else this.contribute(atOnce, agent, s.column, s.how, value);
    }
  }

  private writeField(s: Extract<P.Statement, { op: 'write field' }>, frame: Frame): void {
    const grid = this.fields[s.field]!;
    const cell = cellAt(this.number(s.x, frame), this.number(s.y, frame), grid, this.space!);
    const value = this.finite(this.number(s.value, frame), s.site, frame);
    if (frame.atOnce) {
      const cells = getOrMake(frame.atOnce.fields, s.field, () => new Map<number, Contributions>());
      getOrMake(cells, cell, () => new Contributions()).add(s.how, value);
    } else grid.values[cell] = this.keep(s.field, this.finite(applied(grid.values[cell]!, s.how, value), s.site, frame));
  }

  private writeVariable(s: Extract<P.Statement, { op: 'write variable' }>, frame: Frame): void {
    const value = this.finite(this.number(s.value, frame), s.site, frame);
    const { variables } = this.world;
    if (frame.atOnce) getOrMake(frame.atOnce.variables, s.index, () => new Contributions()).add(s.how, value);
    else variables[s.index] = this.finite(applied(variables[s.index]!, s.how, value), s.site, frame);
  }

  private become(agent: Agent, machine: number, state: number, fresh: boolean): void {
    const counter = this.plan.kinds[agent.kind]!.machines[machine]!.firstCounter;
    if (fresh || isThere(agent)) {
      if (!fresh) this.world.left[counter + agent.states[machine]!]!++;
      this.world.entered[counter + state]!++;
    }
    agent.states[machine] = state;
  }

  private leave(agent: Agent): void {
    agent.life = 'gone';
    this.plan.kinds[agent.kind]!.machines.forEach((machine, m) => this.world.left[machine.firstCounter + agent.states[m]!]!++);
  }

  // Places

  private moveBy(s: Extract<P.Statement, { op: 'move by' }>, frame: Frame): void {
    const agent = this.agent(s.agent, frame);
    const distance = this.finite(this.number(s.distance, frame), s.site, frame);
    const x = agent.x + distance * math.sinDegrees(agent.direction);
    const y = agent.y + distance * math.cosDegrees(agent.direction);
    if (this.place(agent, x, y)) agent.direction = directionAfter(agent.direction, x, y, this.space!);
  }

  private place(agent: Agent, x: number, y: number): boolean {
    const space = this.space!;
    const toX = placeOnAxis(x, space.width, space);
    const toY = placeOnAxis(y, space.height, space);
    if (space.oneAgentACell && (toX !== agent.x || toY !== agent.y) && this.isTaken(toX, toY)) {
      this.world.refused++;
      return false;
    }
    agent.x = toX;
    agent.y = toY;
    return true;
  }

  private isTaken(x: number, y: number): boolean {
    return this.kinds.some((agents) => agents.some((agent) => agent.life !== 'gone' && agent.x === x && agent.y === y));
  }

  private drawCell(s: Extract<P.Statement, { op: 'draw cell' }>, frame: Frame): void {
    const { width, height, oneAgentACell } = this.space!;
    let cell = 0;
    for (let tries = 0; tries < CELL_TRIES; tries++) {
      cell = below(frame.stream.word(), width * height);
      if (!oneAgentACell || !this.isTaken(cell % width, Math.floor(cell / width))) break;
    }
    for (let i = 0; oneAgentACell && i < width * height && this.isTaken(cell % width, Math.floor(cell / width)); i++) cell = (cell + 1) % (width * height);
    frame.locals[s.x] = cell % width;
    frame.locals[s.y] = Math.floor(cell / width);
  }

  private create(s: Extract<P.Statement, { op: 'create' }>, frame: Frame): Signal {
    const { plan, space, world } = this;
    const x = s.x ? placeOnAxis(this.finite(this.number(s.x, frame), s.site, frame), space!.width, space!) : 0;
    const y = s.y ? placeOnAxis(this.finite(this.number(s.y, frame), s.site, frame), space!.height, space!) : 0;
    if (space?.oneAgentACell && this.isTaken(x, y)) {
      world.refused++;
      return 'on';
    }
    const total = this.kinds.reduce((sum, agents) => sum + agents.filter((agent) => agent.life !== 'gone').length, 0);
    if (total >= world.ceiling) failCeiling(plan.sites[s.site]!, world);
    const kind = plan.kinds[s.kind]!;
    const agent: Agent = {
      number: this.nextNumbers[s.kind]!++, kind: s.kind, life: frame.atOnce ? 'unborn' : 'there', x, y, direction: 0,
      attributes: kind.columns.map(() => 0), states: kind.machines.map(() => 0), due: new Array<number>(kind.dueCount).fill(0), before: undefined,
    };
    this.kinds[s.kind]!.push(agent);
    frame.locals[s.local] = agent;
    return this.execute(s.found, frame);
  }

  // Queries

  private candidates(query: P.Query, frame: Frame): Agent[] {
    const except = query.except === undefined ? undefined : frame.locals[query.except];
    const inReach = this.reachTest(query.reach, frame);
    return this.kinds[query.kind]!.filter((agent) => isThere(agent) && agent !== except && inReach(agent) && this.fits(query, agent, frame));
  }

  private fits(query: P.Query, agent: Agent, frame: Frame): boolean {
    frame.locals[query.candidate] = agent;
    return !query.where || this.code(query.where, frame) !== 0;
  }

  private reachTest(reach: P.Reach, frame: Frame): (agent: Agent) => boolean {
    if (reach.is === 'all') return () => true;
    const space = this.space!;
    const x = this.number(reach.x, frame);
    const y = this.number(reach.y, frame);
    const place = (agent: Agent): { x: number; y: number } => agent.before ?? agent;
    if (reach.is === 'within') {
      const distance = this.number(reach.distance, frame);
      return (agent) => distance >= 0 && squaredDistance(x, y, place(agent).x, place(agent).y, space) <= distance * distance;
    }
    if (reach.is === 'here') return (agent) => place(agent).x === x && place(agent).y === y;
    const wraps = space.edge === 'wrapping';
    return (agent) => {
      const dx = Math.abs(wayAlong(x, place(agent).x, space.width, wraps));
      const dy = Math.abs(wayAlong(y, place(agent).y, space.height, wraps));
      return space.neighbours === 4 ? dx + dy === 1 : Math.max(dx, dy) === 1;
    };
  }

  private gather(s: Extract<P.Statement, { op: 'gather' }>, frame: Frame): number {
    const values = this.candidates(s.query, frame).map((agent) => {
      frame.locals[s.query.candidate] = agent;
      return this.code(s.value, frame);
    });
    const level = s.level ? this.number(s.level, frame) : undefined;
    const result = gather(s.fn, Float64Array.from(values), values.length, level);
    return s.site === undefined ? result : this.finite(result, s.site, frame);
  }

  private pick(s: Extract<P.Statement, { op: 'pick' }>, frame: Frame): Signal {
    const agents = this.candidates(s.query, frame);
    const best = this.bestOf(s, agents, frame);
    if (best.length === 0) return this.execute(s.nobody, frame);
    const draws = s.how === 'random' || (s.how !== 'first' && best.length > 1);
    frame.locals[s.local] = best[draws ? below(frame.stream.word(), best.length) : 0]!;
    return this.execute(s.found, frame);
  }

  private bestOf(s: Extract<P.Statement, { op: 'pick' }>, agents: Agent[], frame: Frame): Agent[] {
    if (s.how === 'random' || s.how === 'first') return agents;
    const x = s.from ? this.number(s.from.x, frame) : 0;
    const y = s.from ? this.number(s.from.y, frame) : 0;
    const scores = agents.map((agent) => {
      if (s.how === 'nearest') {
        const at = agent.before ?? agent;
        return -squaredDistance(x, y, at.x, at.y, this.space!);
      }
      frame.locals[s.query.candidate] = agent;
      const by = this.code(s.by!, frame);
      return s.how === 'most' ? by : -by;
    });
    const best = scores.reduce((a, b) => (b > a ? b : a), -Infinity);
    return agents.filter((_, i) => scores[i] === best);
  }

  private each(s: Extract<P.Statement, { op: 'each' }>, frame: Frame): Signal {
    const list = this.candidates(s.query, frame);
    for (let i = list.length - 1; s.shuffled && i > 0; i--) {
      const j = below(frame.stream.word(), i + 1);
      [list[i], list[j]] = [list[j]!, list[i]!];
    }
    for (const agent of list) {
      if (!isThere(agent)) continue;
      if (s.recheck && !this.fits(s.query, agent, frame)) continue;
      frame.locals[s.query.candidate] = agent;
      if (this.execute(s.body, frame) === 'end turn') return 'end turn';
      if (frame.actor && !isThere(frame.actor)) return 'end turn';
    }
    return 'on';
  }

  // Values

  private finite(value: number, site: number, frame: Frame | undefined): number {
    if (Number.isFinite(value)) return value;
    return failAt(this.plan.sites[site]!, this.world, this.nameOf(frame?.actor), value);
  }

  private nameOf(agent: Agent | undefined): string | undefined {
    return agent && `${this.plan.kinds[agent.kind]!.name} ${agent.number}`;
  }

  private number(e: P.Expr, frame: Frame): number {
    const { world } = this;
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
        return this.space![e.axis];
      case 'attribute':
        return this.attribute(e, frame);
      case 'state': {
        const agent = this.agent(e.agent, frame);
        return (e.agent.own || e.agent.fresh ? agent : (agent.before ?? agent)).states[e.machine]!;
      }
      case 'due':
        return this.agent(e.agent, frame).due[e.column]!;
      case 'position': {
        const agent = this.agent(e.agent, frame);
        return (e.agent.own || e.agent.fresh ? agent : (agent.before ?? agent))[e.axis];
      }
      case 'number of':
        return this.agent(e.agent, frame).number;
      case 'same agent':
        return frame.locals[e.a.local] === frame.locals[e.b.local] ? 1 : 0;
      case 'field': {
        const grid = this.fields[e.field]!;
        return grid.values[cellAt(this.number(e.x, frame), this.number(e.y, frame), grid, this.space!)]!;
      }
      case 'cell':
        return this.fields[e.field]!.values[frame.cell]!;
      case 'not':
        return this.number(e.value, frame) !== 0 ? 0 : 1;
      case 'minus':
        return -this.number(e.value, frame);
      case 'binary':
        return this.binary(e, frame);
      case 'choose':
        return this.number(this.number(e.condition, frame) !== 0 ? e.then : e.else, frame);
      case 'call':
        return pureFunction(e.fn, e.args.map((arg) => this.number(arg, frame)));
      case 'distance':
        return distanceBetween(this.number(e.ax, frame), this.number(e.ay, frame), this.number(e.bx, frame), this.number(e.by, frame), this.space!);
      case 'bearing':
        return bearingBetween(this.number(e.ax, frame), this.number(e.ay, frame), this.number(e.bx, frame), this.number(e.by, frame), this.space!);
      case 'finite':
        return this.finite(this.number(e.value, frame), e.site, frame);
      case 'count of kind':
        return this.kinds[e.kind]!.filter(isThere).length;
      case 'measure':
        return world.row[e.index]!;
      case 'flow':
        return world[e.which][e.counter]!;
      case 'field mean': {
        const { values } = this.fields[e.field]!;
        return gather(e.fn, Float64Array.from(values), values.length, e.level && this.number(e.level, frame));
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

  // For others

  living(kind: number): number {
    return this.kinds[kind]!.filter(isThere).length;
  }

  snapshot(): ArrayBuffer[] {
    const text = JSON.stringify({ kinds: this.kinds, next: this.nextNumbers, fields: this.fields.map((field) => [...field.values]) });
    return [new TextEncoder().encode(text).buffer as ArrayBuffer];
  }

  restore(parts: readonly ArrayBuffer[]): void {
    const held = JSON.parse(new TextDecoder().decode(parts[0])) as { kinds: Agent[][]; next: number[]; fields: number[][] };
    this.kinds = held.kinds;
    this.nextNumbers = held.next;
    held.fields.forEach((values, i) => this.fields[i]!.values.set(values));
  }

  view(): StateView {
    return {
      populations: this.kinds.map((agents, kind) => ({
        numbers: agents.map((agent) => agent.number),
        x: agents.map((agent) => agent.x),
        y: agents.map((agent) => agent.y),
        direction: agents.map((agent) => agent.direction),
        attributes: this.plan.kinds[kind]!.columns.map((_, i) => agents.map((agent) => agent.attributes[i]!)),
        states: this.plan.kinds[kind]!.machines.map((_, i) => agents.map((agent) => agent.states[i]!)),
        due: Array.from({ length: this.plan.kinds[kind]!.dueCount }, (_, i) => agents.map((agent) => agent.due[i]!)),
      })),
      fields: this.fields.map((field) => [...field.values]),
    };
  }
}

function isThere(agent: Agent): boolean {
  return agent.life === 'there' || agent.life === 'leaving';
}

function getOrMake<K, V>(map: Map<K, V>, key: K, make: () => V): V {
  let value = map.get(key);
  if (value === undefined) map.set(key, (value = make()));
  return value;
}

function applied(held: number, how: P.WriteHow, value: number): number {
  return how === '=' ? value : how === '+=' ? held + value : held * value;
}

function squaredDistance(ax: number, ay: number, bx: number, by: number, space: Space): number {
  const wraps = space.edge === 'wrapping';
  const dx = wayAlong(ax, bx, space.width, wraps);
  const dy = wayAlong(ay, by, space.height, wraps);
  return dx * dx + dy * dy;
}
