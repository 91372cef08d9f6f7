import { cellsInto } from '../engine/cells.ts';
import { spreadInto } from '../engine/field-change.ts';
import { below, mix, RandomStream } from '../engine/random/stream.ts';
import type { RecordRows, Script, ScriptTimelineLine, StateView } from '../engine/script.ts';
import type { FieldGrid } from '../forms/space.ts';
import { formOf } from '../forms/forms.ts';
import type { Maker } from '../engine/spaces/network-makers.ts';
import { makePairs } from '../engine/spaces/network-makers.ts';
import { effectsOf } from '../plan/analysis.ts';
import { failAt, failCount, failShare } from '../plan/failures.ts';
import type { Agent, AtOnce, Frame, Tie } from './state.ts';
import { isThere } from './state.ts';
import { InterpreterStatements } from './statements.ts';
import { filePairs, makerOf, pairsOf } from '../plan/make-network.ts';
import type * as P from '../plan/plan.ts';
import {
  attributeColumnId,
  CELL_COLUMN,
  changeKey,
  fieldColumnId,
  machineColumnId,
  settleStream,
  tieColumnId,
  variableColumnId,
} from '../plan/settling.ts';
import { rasterValue, startGrounds, startZones } from '../plan/start-space.ts';
import { askWhen, deliveryKey, startKeys } from '../plan/values.ts';

/**
 * The reference: runs a plan by walking over it, with agents as objects and every query asking everybody. Slow and plain; generated
 * code must give the same bits (test/differential.test.ts).
 */
export function interpretPlan(plan: P.Plan): Script {
  return new Interpreter(plan);
}

class Interpreter extends InterpreterStatements implements Script {
  readonly entries: readonly (() => void)[];
  readonly timeline: readonly ScriptTimelineLine[];
  readonly measures: readonly (() => number)[];
  readonly measureOrder: readonly number[];
  readonly endAfter: () => number;
  readonly endWhen: readonly (() => number)[];
  readonly finals: readonly (() => number)[];

  constructor(plan: P.Plan) {
    super(plan);
    const ask = (body: P.ValueBody) => (): number => this.value(body);
    this.entries = plan.schedule.map((entry) => () => this.runEntry(entry));
    this.timeline = plan.timeline.map((line) => ({
      when: askWhen(line.when, ask),
      lay: line.lay.map(({ parameter, value }) => ({ parameter, value: ask(value) })),
      act: () => this.run(line.body, RandomStream.of(this.world.seed, this.world.step, line.key)),
    }));
    this.measures = plan.measures.map((measure) => ask(measure.body));
    this.measureOrder = plan.measureOrder;
    this.endAfter = ask(plan.clock.endAfter);
    this.endWhen = plan.clock.endWhen.map(ask);
    this.finals = plan.finals.map(ask);
  }

  // Start

  start(): void {
    const { plan, world } = this;
    const value = (body: P.ValueBody): number => this.value(body);
    this.kinds = plan.kinds.map(() => []);
    this.nextNumbers = plan.kinds.map(() => 1);
    this.networks = plan.networks.map(() => []);
    this.nextSerials = plan.networks.map(() => 0);
    this.tallies.forEach((tally) => tally.clear());
    this.mail.clear();
    for (const record of this.kept) record.data.length = 0;
    plan.variables.forEach(
      (variable, i) => (world.variables[i] = this.finite(this.value(variable.start), variable.site, undefined)),
    );
    this.grounds = startGrounds(plan, value);
    this.zones = startZones(plan, this.grounds, value);
    this.fields = plan.fields.map((field) => {
      const cell = field.cell ? this.value(field.cell) : 1;
      const { space } = this.grounds[field.space]!;
      const { columns, rows } = formOf(space).rasterOf(space, cell);
      return { columns, rows, cell, values: new Float64Array(columns * rows) };
    });
    plan.fields.forEach((field, i) => this.startField(field, i));
    for (const kind of plan.kinds) this.startKind(kind);
    plan.networks.forEach((network, index) => this.startNetwork(network, index));
    plan.kinds.forEach((kind, index) => this.startExact(kind, index));
    world.isEnding = false;
  }

  private startField(field: P.FieldPlan, index: number): void {
    const grid = this.fields[index]!;
    const key = mix(index + 0x6b43a9b5);
    for (let i = 0; i < grid.values.length; i++) {
      const value = field.raster
        ? rasterValue(field.raster, grid, i)
        : field.start
          ? this.cellValue(field.start, i, RandomStream.of(this.world.seed, 0, key, i))
          : 0;
      grid.values[i] = this.keep(index, this.finite(value, field.site, undefined));
    }
  }

  private cellValue(body: P.ValueBody, cell: number, stream: RandomStream): number {
    const frame: Frame = { locals: [], stream, actor: undefined, atOnce: undefined, cell, mail: -1 };
    this.execute(body.statements, frame);
    return this.number(body.value, frame);
  }

  private startKind(kind: P.KindPlan): void {
    for (const start of kind.starts) {
      if (start.cells) this.listCells(start.cells);
      const count = start.count ? this.value(start.count) : this.cellList.count;
      if (!(count >= 0) || Math.floor(count) !== count)
        failCount(this.plan.sites[start.site]!, this.world, undefined, count);
      for (let i = 0; i < count; i++) {
        const frame: Frame = {
          locals: [i],
          stream: RandomStream.of(this.world.seed, 0, start.key, i),
          actor: undefined,
          atOnce: undefined,
          cell: -1,
          mail: -1,
        };
        this.execute(start.one.statements, frame);
      }
    }
  }

  private listCells({ raster: index, where }: NonNullable<P.StartPlan['cells']>): void {
    const { cellList } = this;
    const { raster, space } = this.groundOf(index);
    const all = new Int32Array(raster.columns * raster.rows);
    cellsInto(raster, space, 'all', 0, 0, 0, all);
    cellList.cells = all.filter((cell) => {
      const frame: Frame = {
        locals: [cell],
        stream: RandomStream.of(0, 0, 0),
        actor: undefined,
        atOnce: undefined,
        cell: -1,
        mail: -1,
      };
      return !where || this.code(where, frame) !== 0;
    });
    cellList.count = cellList.cells.length;
  }

  private startExact(kind: P.KindPlan, index: number): void {
    kind.machines.forEach((machine, m) => {
      const agents = this.kinds[index]!;
      const keys = startKeys(index, m);
      const luck = RandomStream.of(this.world.seed, 0, keys.draw);
      const order = agents.map((_, i) => i);
      let drawn = 0;
      for (const exact of machine.exact) {
        const count = this.value(exact.count);
        for (let i = 0; i < count && drawn < order.length; i++, drawn++) {
          const j = drawn + below(luck.word(), order.length - drawn);
          [order[drawn], order[j]] = [order[j]!, order[drawn]!];
          const agent = agents[order[drawn]!]!;
          this.run(exact.enter, RandomStream.of(this.world.seed, 0, keys.enter, agent.number), agent);
        }
      }
    });
  }

  private startNetwork(network: P.NetworkPlan, index: number): void {
    const from = this.kinds[network.from]!;
    const to = this.kinds[network.to]!;
    const { maker } = network;
    const ask = (body: P.ValueBody, agent: Agent): number => this.ofAgent(body, agent);
    const pairs =
      maker.is === 'file'
        ? filePairs(maker, network, from.length, to.length, this.plan.sites[network.site]!)
        : pairsOf(network, this.plan.sites[network.site]!, () =>
            makePairs(
              this.networkMaker(network, maker, from, to, ask),
              from.length,
              to.length,
              network.from === network.to,
              network.directed,
              RandomStream.of(this.world.seed, 0, network.key),
            ),
          );
    Array.from(pairs.a).forEach((a, i) => {
      const values = network.firsts.map((first, column) => {
        const given = maker.is === 'file' ? maker.values[column]?.[pairs.rows![i]!] : undefined;
        if (given !== undefined) return given;
        const frame: Frame = {
          locals: [],
          stream: RandomStream.of(this.world.seed, 0, mix(network.key + column + 1), i),
          actor: undefined,
          atOnce: undefined,
          cell: -1,
          mail: -1,
        };
        return this.finite(this.code(first, frame), network.site, undefined);
      });
      this.networks[index]!.push({
        a: from[a]!,
        b: to[pairs.b[i]!]!,
        serial: this.nextSerials[index]!++,
        there: true,
        values,
      });
    });
  }

  private networkMaker(
    network: P.NetworkPlan,
    maker: Exclude<P.NetworkPlan['maker'], { is: 'file' }>,
    from: readonly Agent[],
    to: readonly Agent[],
    ask: (body: P.ValueBody, agent: Agent) => number,
  ): Maker {
    const xy = (agents: readonly Agent[]): { x: number[]; y: number[] } => ({
      x: agents.map((agent) => agent.x),
      y: agents.map((agent) => agent.y),
    });
    return makerOf(
      maker,
      this.spaceOf(network.from),
      (body) => this.value(body),
      xy(from),
      xy(to),
      (body) => from.map((agent) => ask(body, agent)),
    );
  }

  private ofAgent(body: P.ValueBody, agent: Agent): number {
    const frame: Frame = {
      locals: [agent],
      stream: RandomStream.of(0, 0, 0),
      actor: agent,
      atOnce: undefined,
      cell: -1,
      mail: -1,
    };
    return this.code(body, frame);
  }

  // Rules

  private runEntry(entry: P.ScheduleEntry): void {
    if (entry.is === 'fields') this.changeFields(entry.fields);
    else if (entry.is === 'surroundings') {
      const rule = this.plan.rules[entry.rule]!;
      if (!rule.every || this.world.isMultipleNow(this.value(rule.every)))
        this.run(rule.body, RandomStream.of(this.world.seed, this.world.step, rule.key));
    } else this.runRules(entry);
    this.clearGone();
  }

  private clearGone(): void {
    this.kinds = this.kinds.map((agents) => agents.filter((agent) => agent.life !== 'gone'));
  }

  private runRules(entry: Extract<P.ScheduleEntry, { is: 'rules' }>): void {
    const rules = entry.rules
      .map((index) => this.plan.rules[index]!)
      .filter((rule) => !rule.every || this.world.isMultipleNow(this.value(rule.every)));
    if (entry.mode === 'all at once') for (const rule of rules) this.runAtOnce(rule);
    else this.runTurns(entry, rules);
  }

  private runTurns(entry: Extract<P.ScheduleEntry, { is: 'rules' }>, rules: readonly P.RulePlan[]): void {
    const kinds = [...new Set(rules.map((rule) => rule.kind))];
    const turns = kinds.flatMap((kind) => this.kinds[kind]!.filter(isThere));
    if (entry.mode === 'in turn') {
      const luck = RandomStream.of(this.world.seed, this.world.step, entry.key);
      for (let i = turns.length - 1; i > 0; i--) {
        const j = below(luck.word(), i + 1);
        [turns[i], turns[j]] = [turns[j]!, turns[i]!];
      }
    }
    for (const agent of turns) {
      for (const rule of rules) {
        if (rule.kind !== agent.kind || !isThere(agent)) continue;
        this.run(rule.body, RandomStream.of(this.world.seed, this.world.step, rule.key, agent.number), agent);
      }
    }
  }

  private runAtOnce(rule: P.RulePlan): void {
    for (const agents of this.kinds)
      for (const agent of agents) {
        agent.before = {
          x: agent.x,
          y: agent.y,
          direction: agent.direction,
          attributes: [...agent.attributes],
          states: [...agent.states],
        };
      }
    const atOnce: AtOnce = {
      effects: effectsOf(rule),
      attributes: new Map(),
      ties: new Map(),
      fields: new Map(),
      variables: new Map(),
      changes: new Map(),
      later: [],
      own: new Map(),
      ownSet: new Map(),
    };
    for (const agent of this.kinds[rule.kind]!.filter(isThere)) {
      atOnce.own = new Map();
      atOnce.ownSet = new Map();
      this.run(rule.body, RandomStream.of(this.world.seed, this.world.step, rule.key, agent.number), agent, atOnce);
      for (const [key, { agent: target, column }] of atOnce.ownSet)
        this.contribute(atOnce, target, column, '=', atOnce.own.get(key)!);
    }
    this.settle(rule, atOnce);
    if (this.spaceOf(rule.kind)?.oneAgentACell) this.settleMoves(rule);
    for (const later of atOnce.later) later();
    for (const agents of this.kinds) {
      for (const agent of agents) {
        agent.before = undefined;
        if (agent.life === 'leaving') this.leave(agent);
        if (agent.life === 'unborn') agent.life = 'there';
      }
    }
    this.settleChanges(rule, atOnce);
    for (const tally of this.tallies) tally.settle();
  }

  private settle(rule: P.RulePlan, atOnce: AtOnce): void {
    const { seed, step } = this.world;
    for (const [agent, columns] of atOnce.attributes) {
      for (const [column, contributions] of columns) {
        const before = agent.before?.attributes[column] ?? agent.attributes[column]!;
        agent.attributes[column] = contributions.settle(before, () =>
          settleStream(seed, step, rule.key, attributeColumnId(agent.kind, column), agent.number),
        );
      }
    }
    for (const [variable, contributions] of atOnce.variables) {
      this.world.variables[variable] = contributions.settle(this.world.variables[variable]!, () =>
        settleStream(seed, step, rule.key, variableColumnId(variable), 0),
      );
    }
    for (const [tie, columns] of atOnce.ties) {
      const network = this.networks.findIndex((ties) => ties.includes(tie));
      for (const [column, contributions] of columns) {
        tie.values[column] = contributions.settle(tie.values[column]!, () =>
          settleStream(seed, step, rule.key, tieColumnId(network, column), tie.serial),
        );
      }
    }
    for (const [field, cells] of atOnce.fields) {
      const { values } = this.fields[field]!;
      for (const [cell, contributions] of cells) {
        values[cell] = this.keep(
          field,
          contributions.settle(values[cell]!, () => settleStream(seed, step, rule.key, fieldColumnId(field), cell)),
        );
      }
    }
  }

  /** Several that want one empty cell: a keyed draw picks one, the others stay (S18). */
  private settleMoves(rule: P.RulePlan): void {
    const { seed, step } = this.world;
    const { width } = this.spaceOf(rule.kind)!;
    const wants = new Map<number, Agent[]>();
    for (const agent of this.kinds[rule.kind]!) {
      const { before } = agent;
      if (agent.life === 'unborn' || !before || (agent.x === before.x && agent.y === before.y) || Number.isNaN(agent.x))
        continue;
      const cell = agent.y * width + agent.x;
      wants.set(cell, [...(wants.get(cell) ?? []), agent]);
    }
    const stay = (agent: Agent): void => {
      agent.x = agent.before!.x;
      agent.y = agent.before!.y;
      this.world.refused++;
    };
    const neighbours = this.agentsOn(this.plan.kinds[rule.kind]!.space);
    const isHeld = (cell: number): boolean =>
      neighbours.some(
        (agent) => agent.life !== 'gone' && (agent.before ?? agent).y * width + (agent.before ?? agent).x === cell,
      );
    for (const [cell, agents] of wants) {
      const chosen = isHeld(cell)
        ? -1
        : agents.length === 1
          ? 0
          : below(settleStream(seed, step, rule.key, CELL_COLUMN, cell).word(), agents.length);
      agents.forEach((agent, i) => {
        if (i !== chosen) stay(agent);
      });
    }
  }

  private settleChanges(rule: P.RulePlan, { changes }: AtOnce): void {
    const { seed, step } = this.world;
    for (const agent of [...changes.keys()].sort((a, b) => a.kind - b.kind || a.number - b.number)) {
      for (const [machine, contributions] of [...changes.get(agent)!].sort((a, b) => a[0] - b[0])) {
        if (!isThere(agent)) continue;
        const state = contributions.settle(0, () =>
          settleStream(seed, step, rule.key, machineColumnId(agent.kind, machine), agent.number),
        );
        const { change } = this.plan.kinds[agent.kind]!.machines[machine]!;
        const stream = RandomStream.of(seed, step, changeKey(rule.key) + machine, agent.number);
        this.execute(change.statements, {
          locals: [agent, state],
          stream,
          actor: agent,
          atOnce: undefined,
          cell: -1,
          mail: -1,
        });
      }
    }
  }

  private changeFields(indices: readonly number[]): void {
    const next = indices.map((index) => this.nextField(index));
    indices.forEach((index, i) => this.fields[index]!.values.set(next[i]!));
  }

  private nextField(index: number): Float64Array {
    const field = this.plan.fields[index]!;
    const grid: FieldGrid = this.fields[index]!;
    const times = field.growPerTime ? this.world.clock.stepLength : 1;
    const grown = grid.values.map((value, i) =>
      field.grow
        ? this.finite(value + times * this.cellValue(field.grow, i, RandomStream.of(0, 0, 0)), field.site, undefined)
        : value,
    );
    const spread = Float64Array.from(grown);
    if (field.spread) spreadInto(spread, grown, grid, this.groundOf(index).space, this.share(field.spread, field.site));
    const rest = field.fade ? 1 - this.share(field.fade, field.site) : 1;
    const faded = spread.map((value) => (field.fade ? value * rest : value));
    if (!field.becomes) return faded.map((value) => this.keep(index, value));
    // Its own lines are read from what has grown, spread and faded, all of it at once.
    const kept = Float64Array.from(grid.values);
    grid.values.set(faded);
    const key = mix(index + 0x1f83d9ab);
    const next = faded.map((_, i) =>
      this.keep(
        index,
        this.finite(
          this.cellValue(field.becomes!, i, RandomStream.of(this.world.seed, this.world.step, key, i)),
          field.site,
          undefined,
        ),
      ),
    );
    grid.values.set(kept);
    return next;
  }

  private share(body: P.ValueBody, site: number): number {
    const share = this.value(body);
    return share >= 0 && share <= 1 ? share : failShare(this.plan.sites[site]!, this.world, share);
  }

  // Messages, tallies, records

  beginStep(): void {
    for (const tally of this.tallies) tally.beginStep();
  }

  deliver(round: number): void {
    const { world, plan, mail } = this;
    mail.round(world.seed, world.step, round, world.end, world.stepLength * 1e-9, round === 0, (row, ordinal) => {
      const kind = mail.kind[row]!;
      const receiver = this.kinds[kind]!.find((agent) => agent.number === mail.receiver[row] && isThere(agent));
      const reaction = plan.reactions.find((r) => r.kind === kind && r.message === mail.message[row]);
      if (!receiver || !reaction) return;
      const stream = RandomStream.of(
        world.seed,
        world.step,
        deliveryKey(reaction.key, round, ordinal),
        receiver.number,
      );
      this.execute(reaction.body.statements, {
        locals: [receiver],
        stream,
        actor: receiver,
        atOnce: undefined,
        cell: -1,
        mail: row,
      });
    });
    this.clearGone();
  }

  get records(): readonly RecordRows[] {
    return this.kept;
  }

  record(): void {
    this.plan.records.forEach((record, i) => {
      if (record.kind < 0 || !this.isRecordedNow(i)) return;
      for (const agent of this.kinds[record.kind]!.filter(isThere)) {
        this.kept[i]!.data.push(
          this.world.step,
          agent.number,
          ...record.values!.map((body) => this.ofAgent(body, agent)),
        );
      }
    });
  }

  // Bodies

  private run(body: P.Body, stream: RandomStream, actor?: Agent, atOnce?: AtOnce): void {
    this.execute(body.statements, { locals: actor ? [actor] : [], stream, actor, atOnce, cell: -1, mail: -1 });
  }

  protected override value(body: P.ValueBody): number {
    return this.code(body, {
      locals: [],
      stream: RandomStream.of(0, 0, 0),
      actor: undefined,
      atOnce: undefined,
      cell: -1,
      mail: -1,
    });
  }

  // For others

  living(kind: number): number {
    return this.kinds[kind]!.filter(isThere).length;
  }

  snapshot(): ArrayBuffer[] {
    return failAt(
      { span: { start: 0, end: 0 }, rule: 'snapshot', what: 'a snapshot of the reference' },
      this.world,
      undefined,
      NaN,
    );
  }

  restore(): void {
    this.snapshot();
  }

  view(): StateView {
    const ties = (index: number): Tie[] => this.tiesOf(index);
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
      networks: this.plan.networks.map((network, n) => ({
        a: ties(n).map((tie) => tie.a.number),
        b: ties(n).map((tie) => tie.b.number),
        values: network.firsts.map((_, column) => ties(n).map((tie) => tie.values[column]!)),
      })),
      tallies: this.tallies.map((tally) => [...tally.values.subarray(0, tally.count)]),
      mail: this.mail.view(),
    };
  }
}
