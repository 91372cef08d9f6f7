import { formOf } from '../forms/forms.ts';
import * as math from '../math.ts';
import { below } from '../engine/random/stream.ts';
import { cellAt, directionAfter, placeOnAxis } from '../forms/space.ts';
import { drawInMask, shareBefore } from '../engine/zones.ts';
import { columnKey } from '../plan/analysis.ts';
import { drawLaw } from '../plan/functions.ts';
import { failAt, failCeiling, failCount, failNobody, failRounds, MOST_ROUNDS } from '../plan/failures.ts';
import type { Agent, AtOnce, Frame, Signal, Tie } from './state.ts';
import { getOrMake, isThere } from './state.ts';
import { InterpreterValues } from './values.ts';
import type * as P from '../plan/plan.ts';
import { Contributions } from '../plan/settling.ts';
import { CELL_TRIES, dueAfter, noteText } from '../plan/values.ts';

type Of<K extends P.Statement['op']> = Extract<P.Statement, { op: K }>;

/** What the reference interpreter does at each statement. */
export abstract class InterpreterStatements extends InterpreterValues {
  protected execute(statements: readonly P.Statement[], frame: Frame): Signal {
    for (const statement of statements) {
      const signal = this.statement(statement, frame);
      if (signal !== 'on') return signal;
    }
    return 'on';
  }

  private statement(s: P.Statement, frame: Frame): Signal {
    const { locals } = frame;
    switch (s.op) {
      case 'if':
        return this.execute(this.number(s.condition, frame) !== 0 ? s.then : s.else, frame);
      case 'switch':
        return this.execute(s.cases[this.number(s.value, frame)] ?? [], frame);
      case 'repeat':
        return this.repeat(s, frame);
      case 'until':
        return this.number(s.condition, frame) !== 0 ? 'leave loop' : 'on';
      case 'pick':
        return this.pick(s, frame);
      case 'each':
        return this.each(s, frame);
      case 'create':
        return this.create(s, frame);
      case 'end turn':
        return 'end turn';
      case 'set':
        locals[s.local] = s.value.op === 'local' ? locals[s.value.local]! : this.number(s.value, frame);
        return 'on';
      case 'draw':
        locals[s.local] = this.finite(
          drawLaw(
            s.law,
            s.args.map((arg) => this.number(arg, frame)),
            frame.stream,
          ),
          s.site,
          frame,
        );
        return 'on';
      case 'nobody':
        locals[s.local] = null;
        return 'on';
      case 'find': {
        const number = this.number(s.number, frame);
        locals[s.local] = this.kinds[s.kind]!.find((agent) => agent.number === number && isThere(agent)) ?? null;
        return 'on';
      }
      case 'demand':
        if (locals[s.local] === null) failNobody(this.plan.sites[s.site]!, this.world, this.nameOf(frame.actor));
        return 'on';
      case 'find tie':
        locals[s.local] = this.tieBetween(
          s.network,
          locals[(s.flip ? s.b : s.a).local] as Agent | null,
          locals[(s.flip ? s.a : s.b).local] as Agent | null,
        );
        return 'on';
      case 'other end': {
        const tie = locals[s.tie] as Tie;
        locals[s.local] = s.from && tie.b === locals[s.from.local] ? tie.a : tie.b;
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
      default:
        this.act(s, frame);
        return 'on';
    }
  }

  /** Statements that change something and always go on. */
  private act(
    s: Exclude<
      P.Statement,
      {
        op:
          | 'if'
          | 'switch'
          | 'repeat'
          | 'until'
          | 'pick'
          | 'each'
          | 'create'
          | 'end turn'
          | 'set'
          | 'draw'
          | 'nobody'
          | 'find'
          | 'demand'
          | 'find tie'
          | 'other end'
          | 'count'
          | 'any'
          | 'gather';
      }
    >,
    frame: Frame,
  ): void {
    switch (s.op) {
      case 'write':
        return this.write(s, frame);
      case 'write field':
        return this.writeField(s, frame);
      case 'write variable':
        return this.writeVariable(s, frame);
      case 'write tie':
        return this.writeTie(s, frame);
      case 'write parameter':
        this.world.bottom[s.index] = this.finite(this.number(s.value, frame), s.site, frame);
        return;
      case 'add to list':
        return this.addToList(s, frame);
      case 'add to tally':
        return this.tallies[s.tally]!.add(
          this.finite(this.number(s.value, frame), s.site, frame),
          frame.atOnce !== undefined,
        );
      case 'tie':
        return this.tie(s, frame);
      case 'untie':
        return this.untie(s, frame);
      case 'send':
        return this.send(s, frame);
      case 'log':
        return this.world.note(
          s.site,
          this.nameOf(frame.actor) ?? '',
          noteText(
            s.values,
            s.values.map(({ value }) => this.number(value, frame)),
          ),
        );
      case 'record':
        if (this.recording && this.isRecordedNow(s.record))
          this.kept[s.record]!.data.push(this.world.step, ...s.values.map((value) => this.number(value, frame)));
        return;
      case 'change': {
        const changes = getOrMake(
          frame.atOnce!.changes,
          this.agent(s.agent, frame),
          () => new Map<number, Contributions>(),
        );
        getOrMake(changes, s.machine, () => new Contributions()).add('=', this.number(s.state, frame));
        return;
      }
      case 'vanish': {
        const agent = this.agent(s.agent, frame);
        agent.x = NaN;
        agent.y = NaN;
        return;
      }
      case 'become':
        return this.become(this.agent(s.agent, frame), s.machine, s.state, s.agent.fresh === true);
      case 'write due':
        this.agent(s.agent, frame).due[s.column] = this.finite(this.number(s.value, frame), s.site, frame);
        return;
      case 'turn':
        // Who is nowhere does not turn.
        if (!s.agent.fresh && Number.isNaN(this.agent(s.agent, frame).x)) return;
        this.agent(s.agent, frame).direction = math.heading(
          this.finite(this.number(s.direction, frame), s.site, frame),
        );
        return;
      case 'move by':
        return this.moveBy(s, frame);
      case 'move to':
        return this.moveTo(s, frame);
      case 'draw cell':
        return this.drawCell(s, frame);
      case 'draw in zone':
        return this.drawInZone(s, frame);
      case 'draw listed':
        return this.drawListed(s, frame);
      case 'remove': {
        const agent = this.agent(s.agent, frame);
        if (frame.atOnce && agent.life === 'there') agent.life = 'leaving';
        else if (!frame.atOnce && isThere(agent)) this.leave(agent);
        return;
      }
      case 'end run':
        this.world.isEnding = true;
    }
  }

  protected isRecordedNow(record: number): boolean {
    const { every } = this.plan.records[record]!;
    return !every || this.world.isRowOf(this.value(every));
  }

  protected abstract value(body: P.ValueBody): number;

  private repeat(s: Of<'repeat'>, frame: Frame): Signal {
    const count = this.number(s.count, frame);
    if (!(count >= 0) || Math.floor(count) !== count)
      failCount(this.plan.sites[s.site]!, this.world, this.nameOf(frame.actor), count);
    for (let i = 0; i < count; i++) {
      if (i === MOST_ROUNDS) failRounds(this.plan.sites[s.site]!, this.world, this.nameOf(frame.actor));
      const signal = this.execute(s.body, frame);
      if (signal === 'leave loop') break;
      if (signal !== 'on') return signal;
    }
    return 'on';
  }

  // Writes

  private write(s: Of<'write'>, frame: Frame): void {
    const agent = this.agent(s.agent, frame);
    const read = this.number(s.value, frame);
    const value = s.mayBeEmpty ? read : this.finite(read, s.site, frame);
    const { atOnce } = frame;
    const key = columnKey(s.kind, s.column);
    const ownWrites = atOnce && !s.agent.fresh ? atOnce.effects.contested.get(key) : undefined;
    if (!atOnce || !ownWrites) {
      const next = applied(agent.attributes[s.column]!, s.how, value);
      agent.attributes[s.column] = s.mayBeEmpty ? next : this.finite(next, s.site, frame);
    } else if (!s.agent.own) this.contribute(atOnce, agent, s.column, s.how, value);
    else {
      const held = atOnce.own.get(key) ?? agent.attributes[s.column]!;
      const next = applied(held, s.how, value);
      atOnce.own.set(key, s.mayBeEmpty ? next : this.finite(next, s.site, frame));
      if (ownWrites === '=') atOnce.ownSet.set(key, { agent, column: s.column });
      else this.contribute(atOnce, agent, s.column, s.how, value);
    }
  }

  protected contribute(atOnce: AtOnce, agent: Agent, column: number, how: P.WriteHow, value: number): void {
    const columns = getOrMake(atOnce.attributes, agent, () => new Map<number, Contributions>());
    getOrMake(columns, column, () => new Contributions()).add(how, value);
  }

  private writeField(s: Of<'write field'>, frame: Frame): void {
    const grid = this.fields[s.field]!;
    const cell = cellAt(this.number(s.x, frame), this.number(s.y, frame), grid, this.groundOf(s.field).space);
    const value = this.finite(this.number(s.value, frame), s.site, frame);
    if (frame.atOnce) {
      const cells = getOrMake(frame.atOnce.fields, s.field, () => new Map<number, Contributions>());
      getOrMake(cells, cell, () => new Contributions()).add(s.how, value);
    } else
      grid.values[cell] = this.keep(s.field, this.finite(applied(grid.values[cell]!, s.how, value), s.site, frame));
  }

  protected keep(field: number, value: number): number {
    const { keep } = this.plan.fields[field]!;
    return keep ? math.clip(value, this.value(keep.min), this.value(keep.max)) : value;
  }

  private writeVariable(s: Of<'write variable'>, frame: Frame): void {
    const value = this.finite(this.number(s.value, frame), s.site, frame);
    const { variables } = this.world;
    if (frame.atOnce) getOrMake(frame.atOnce.variables, s.index, () => new Contributions()).add(s.how, value);
    else variables[s.index] = this.finite(applied(variables[s.index]!, s.how, value), s.site, frame);
  }

  private writeTie(s: Of<'write tie'>, frame: Frame): void {
    const tie = frame.locals[s.tie] as Tie;
    const value = this.finite(this.number(s.value, frame), s.site, frame);
    if (frame.atOnce) {
      const columns = getOrMake(frame.atOnce.ties, tie, () => new Map<number, Contributions>());
      getOrMake(columns, s.column, () => new Contributions()).add(s.how, value);
    } else tie.values[s.column] = this.finite(applied(tie.values[s.column]!, s.how, value), s.site, frame);
  }

  private addToList(s: Of<'add to list'>, frame: Frame): void {
    const agent = this.agent(s.agent, frame);
    const values = s.values.map((value) => this.number(value, frame));
    if (!s.ofAgents && values.length === 1) this.finite(values[0]!, s.site, frame);
    const add = (): void => {
      const stride = values.length;
      const items = Array.from({ length: agent.attributes[s.column]! }, (_, i) =>
        agent.attributes.slice(s.column + 1 + i * stride, s.column + 1 + (i + 1) * stride),
      );
      const others = s.ofAgents ? items.filter(([number]) => number !== values[0]) : items;
      const next = [...others, values].slice(-s.size);
      agent.attributes[s.column] = next.length;
      next.flat().forEach((value, i) => (agent.attributes[s.column + 1 + i] = value));
    };
    if (frame.atOnce && !s.agent.own) frame.atOnce.later.push(add);
    else add();
  }

  // Ties and messages

  private tie(s: Of<'tie'>, frame: Frame): void {
    const first = this.agent(s.flip ? s.b : s.a, frame);
    const second = this.agent(s.flip ? s.a : s.b, frame);
    const values = s.values.map((value) => this.finite(this.number(value, frame), s.site, frame));
    const tie = (): void => {
      if (first === second || !isThere(first) || !isThere(second) || this.tieBetween(s.network, first, second)) return;
      this.networks[s.network]!.push({
        a: first,
        b: second,
        serial: this.nextSerials[s.network]!++,
        there: true,
        values,
      });
    };
    if (frame.atOnce) frame.atOnce.later.push(tie);
    else tie();
  }

  private untie(s: Of<'untie'>, frame: Frame): void {
    const a = frame.locals[s.a.local] as Agent | null;
    const b = s.b && (frame.locals[s.b.local] as Agent | null);
    const untie = (): void => {
      const cut = (tie: Tie | null): void => {
        if (tie) tie.there = false;
      };
      if (b === undefined) for (const tie of this.tiesOf(s.network)) if (tie.a === a || tie.b === a) cut(tie);
      if (b !== undefined) cut(s.flip ? this.tieBetween(s.network, b, a) : this.tieBetween(s.network, a, b));
      this.networks[s.network] = this.tiesOf(s.network);
    };
    if (frame.atOnce) frame.atOnce.later.push(untie);
    else untie();
  }

  private send(s: Of<'send'>, frame: Frame): void {
    const receiver = this.agent(s.agent, frame);
    const sender = s.sender && this.agent(s.sender.agent, frame);
    const values = s.values.map((value) => this.finite(this.number(value, frame), s.site, frame));
    const due = s.delay ? dueAfter(this.finite(this.number(s.delay, frame), s.site, frame), this.world) : NaN;
    if (receiver.life !== 'gone')
      this.mail.send(
        s.message,
        s.kind,
        receiver.number,
        s.sender?.kind ?? -1,
        sender?.number ?? 0,
        due,
        this.world.end,
        values,
      );
  }

  // States and lives

  private become(agent: Agent, machine: number, state: number, fresh: boolean): void {
    const { firstCounter, groups } = this.plan.kinds[agent.kind]!.machines[machine]!;
    const old = agent.states[machine]!;
    if (fresh || isThere(agent)) {
      if (!fresh) this.world.left[firstCounter + old]!++;
      this.world.entered[firstCounter + state]!++;
      for (const { members, counter } of groups) {
        const wasIn = !fresh && members.includes(old);
        if (wasIn && !members.includes(state)) this.world.left[counter]!++;
        if (!wasIn && members.includes(state)) this.world.entered[counter]!++;
      }
    }
    agent.states[machine] = state;
  }

  protected leave(agent: Agent): void {
    agent.life = 'gone';
    this.plan.kinds[agent.kind]!.machines.forEach(({ firstCounter, groups }, m) => {
      this.world.left[firstCounter + agent.states[m]!]!++;
      for (const { members, counter } of groups) if (members.includes(agent.states[m]!)) this.world.left[counter]!++;
    });
    this.networks = this.networks.map((ties) =>
      ties.filter((tie) => {
        if (tie.a === agent || tie.b === agent) tie.there = false;
        return tie.there;
      }),
    );
  }

  // Places

  private moveBy(s: Of<'move by'>, frame: Frame): void {
    const agent = this.agent(s.agent, frame);
    const distance = this.finite(this.number(s.distance, frame), s.site, frame);
    if (Number.isNaN(agent.x)) return;
    const space = this.spaceOf(s.kind)!;
    const form = formOf(space);
    let x = form.along('x', agent.x, agent.y, distance, agent.direction);
    let y = form.along('y', agent.x, agent.y, distance, agent.direction);
    const blocked = this.zones.blocked[this.plan.kinds[s.kind]!.space];
    if (blocked) {
      const share = shareBefore(blocked, agent.x, agent.y, x, y, space);
      if (share < 1) {
        x = agent.x + (x - agent.x) * share;
        y = agent.y + (y - agent.y) * share;
      }
    }
    if (this.place(agent, x, y, frame)) agent.direction = directionAfter(agent.direction, x, y, space);
  }

  private moveTo(s: Of<'move to'>, frame: Frame): void {
    const agent = this.agent(s.agent, frame);
    const x = this.number(s.x, frame);
    const y = this.number(s.y, frame);
    if (Number.isNaN(x) && this.plan.kinds[s.kind]!.mayBeNowhere) {
      agent.x = NaN;
      agent.y = NaN;
      return;
    }
    const space = this.spaceOf(s.kind)!;
    const toX = placeOnAxis(this.finite(x, s.site, frame), space.width, space);
    const toY = placeOnAxis(this.finite(y, s.site, frame), space.height, space);
    if (this.isBlocked(this.plan.kinds[s.kind]!.space, toX, toY)) this.world.refused++;
    else this.place(agent, toX, toY, frame);
  }

  private place(agent: Agent, x: number, y: number, frame: Frame): boolean {
    const space = this.spaceOf(agent.kind)!;
    const toX = placeOnAxis(x, space.width, space);
    const toY = placeOnAxis(y, space.height, space);
    // All at once the wishes are settled when the rule is over.
    if (
      space.oneAgentACell &&
      !frame.atOnce &&
      (toX !== agent.x || toY !== agent.y) &&
      this.isTaken(this.plan.kinds[agent.kind]!.space, toX, toY)
    ) {
      this.world.refused++;
      return false;
    }
    agent.x = toX;
    agent.y = toY;
    return true;
  }

  private isTaken(space: number, x: number, y: number): boolean {
    return this.agentsOn(space).some((agent) => {
      const at = agent.before ?? agent;
      return agent.life !== 'gone' && at.x === x && at.y === y;
    });
  }

  private drawCell(s: Of<'draw cell'>, frame: Frame): void {
    const { width, height, oneAgentACell } = this.grounds[s.space]!.space;
    const isFull = (cell: number): boolean => {
      const x = cell % width;
      const y = Math.floor(cell / width);
      return this.isBlocked(s.space, x, y) || (oneAgentACell && this.isTaken(s.space, x, y));
    };
    let cell = 0;
    for (let tries = 0; tries < CELL_TRIES; tries++) {
      cell = below(frame.stream.word(), width * height);
      if (!isFull(cell)) break;
    }
    for (let i = 0; i < width * height && isFull(cell); i++) cell = (cell + 1) % (width * height);
    frame.locals[s.x] = cell % width;
    frame.locals[s.y] = Math.floor(cell / width);
  }

  private drawInZone(s: Of<'draw in zone'>, frame: Frame): void {
    const { space } = this.grounds[s.space]!;
    const mask = s.zone < 0 ? this.zones.free[s.space]! : this.zones.masks[s.zone]!;
    let x = NaN;
    let y = NaN;
    for (let tries = 0; tries < CELL_TRIES; tries++) {
      const [a, b, c] = [frame.stream.word(), frame.stream.word(), frame.stream.word()];
      x = drawInMask(mask, 'x', a, b, c, space);
      y = drawInMask(mask, 'y', a, b, c, space);
      if (!space.oneAgentACell || !this.isTaken(s.space, x, y)) break;
    }
    frame.locals[s.x] = this.finite(x, s.site, frame);
    frame.locals[s.y] = y;
  }

  private drawListed(s: Of<'draw listed'>, frame: Frame): void {
    const cell = this.cellList.draw(frame.stream.word(), this.grounds[s.space]!.space.oneAgentACell);
    frame.locals[s.local] = cell < 0 ? failAt(this.plan.sites[s.site]!, this.world, undefined, NaN) : cell;
  }

  private create(s: Of<'create'>, frame: Frame): Signal {
    const { plan, world } = this;
    const kind = plan.kinds[s.kind]!;
    const space = this.spaceOf(s.kind);
    const at = (e: P.Expr | undefined, axis: 'width' | 'height'): number => {
      if (!e) return 0;
      const v = this.number(e, frame);
      return Number.isNaN(v) && kind.mayBeNowhere
        ? NaN
        : placeOnAxis(this.finite(v, s.site, frame), space![axis], space!);
    };
    const x = at(s.x, 'width');
    const y = at(s.y, 'height');
    if (
      s.x &&
      !s.always &&
      !Number.isNaN(x) &&
      (this.isBlocked(kind.space, x, y) || (space?.oneAgentACell && this.isTaken(kind.space, x, y)))
    ) {
      world.refused++;
      return 'on';
    }
    const total = this.kinds.reduce((sum, agents) => sum + agents.filter((agent) => agent.life !== 'gone').length, 0);
    if (total >= world.ceiling) failCeiling(plan.sites[s.site]!, world);
    const agent: Agent = {
      number: this.nextNumbers[s.kind]!++,
      kind: s.kind,
      life: frame.atOnce ? 'unborn' : 'there',
      x,
      y,
      direction: 0,
      attributes: kind.columns.map(() => 0),
      states: kind.machines.map(() => 0),
      due: new Array<number>(kind.dueCount).fill(0),
      before: undefined,
    };
    this.kinds[s.kind]!.push(agent);
    frame.locals[s.local] = agent;
    return this.execute(s.found, frame);
  }
}

function applied(held: number, how: P.WriteHow, value: number): number {
  return how === '=' ? value : how === '+=' ? held + value : held * value;
}
