import { LAWS } from '../plan/functions.ts';
import { FORM_CODE } from './form-code.ts';
import { columnKey, drawsLuck, visitStatements } from '../plan/analysis.ts';
import { placedOnAxis } from './emit-expression.ts';
import { QueryEmitter } from './emit-query.ts';
import { MOST_ROUNDS } from '../plan/failures.ts';
import type * as P from '../plan/plan.ts';
import { attributeColumnId, fieldColumnId, machineColumnId, tieColumnId, variableColumnId } from '../plan/settling.ts';
import { CELL_TRIES } from '../plan/values.ts';

export type { EmitShared } from './emit-expression.ts';

type Of<K extends P.Statement['op']> = Extract<P.Statement, { op: K }>;

/** Writes the statements of one body as JavaScript. */
export class BodyEmitter extends QueryEmitter {
  private labels = 0;
  private readonly loops: number[] = [];

  /** How the agent's stream is begun; undefined once it is. Luck that is not needed is not prepared. */
  private seed: string | undefined;
  /** Whether something after the list under way draws, further out. */
  private drawsLater = false;

  /** Writes the body of a turn: its stream begins with `seed`, just before the first draw. */
  turn(list: readonly P.Statement[], seed: string): void {
    this.seed = seed;
    this.drawsLater = false;
    this.statements(list);
    this.seed = undefined;
  }

  statements(list: readonly P.Statement[]): void {
    const later = this.drawsLater;
    list.forEach((statement, i) => {
      if (this.seed !== undefined && drawsLuck(statement))
        this.beginLuck(statement, later || list.slice(i + 1).some(drawsLuck));
      else this.statement(statement);
    });
    this.drawsLater = later;
  }

  /** Only branches in which luck is drawn begin it, if nothing after them needs it. */
  private beginLuck(statement: P.Statement, drawsLater: boolean): void {
    const { seed } = this;
    if (drawsLater || (statement.op !== 'if' && statement.op !== 'switch')) {
      this.w.line(seed!);
      this.seed = undefined;
      this.statement(statement);
      return;
    }
    this.drawsLater = false;
    const branches = statement.op === 'if' ? [statement.then, statement.else] : statement.cases;
    const emit = (branch: readonly P.Statement[]): void => {
      this.seed = seed;
      this.statements(branch);
    };
    if (statement.op === 'if') this.if(statement, emit);
    else this.switch(statement, emit);
    this.seed = branches.length > 0 ? undefined : seed;
  }

  protected checked(name: string, site: number): void {
    this.w.line(`if (${name} - ${name} !== 0) F(${site}, ${name}, ${this.actorArgs()});`);
  }

  private finite(e: P.Expr, site: number): string {
    if (e.op === 'number' && Number.isFinite(e.value)) return this.expr(e);
    return `fin(${this.expr(e)}, ${site}, ${this.actorArgs()})`;
  }

  private statement(s: P.Statement): void {
    const { w } = this;
    switch (s.op) {
      case 'set':
        return w.line(`L${s.local} = ${this.expr(s.value)};`);
      case 'draw':
        return this.draw(s);
      case 'if':
        return this.if(s, (block) => this.statements(block));
      case 'switch':
        return this.switch(s, (block) => this.statements(block));
      case 'repeat':
        return this.repeat(s);
      case 'until':
        return w.line(`if (${this.test(s.condition)}) break rep${this.loops[this.loops.length - 1]};`);
      case 'nobody':
        return w.line(`L${s.local} = -1;`);
      case 'find':
        return w.line(`L${s.local} = k${s.kind}.slotOf(${this.expr(s.number)});`);
      case 'demand':
        return w.line(`if (L${s.local} < 0) FN(${s.site}, ${this.actorArgs()});`);
      case 'find tie':
        return w.line(
          `L${s.local} = net${s.network}.between(L${(s.flip ? s.b : s.a).local}, L${(s.flip ? s.a : s.b).local});`,
        );
      case 'other end':
        return w.line(
          `L${s.local} = ${s.from ? `net${s.network}.b[L${s.tie}] === L${s.from.local} ? net${s.network}.a[L${s.tie}] : ` : ''}net${s.network}.b[L${s.tie}];`,
        );
      case 'count':
      case 'any':
        return this.count(s);
      case 'gather':
        return this.gather(s);
      case 'pick':
        return this.pick(s);
      case 'each':
        return this.each(s);
      case 'create':
        this.tell(`{ is: "act", what: "created", site: ${s.site} }`);
        return this.create(s);
      case 'end turn':
        return w.line('break turn;');
      default:
        return this.act(s);
    }
  }

  /** Statements that change something and always go on. */
  private act(
    s: Exclude<
      P.Statement,
      {
        op:
          | 'set'
          | 'draw'
          | 'if'
          | 'switch'
          | 'repeat'
          | 'until'
          | 'nobody'
          | 'find'
          | 'demand'
          | 'find tie'
          | 'other end'
          | 'count'
          | 'any'
          | 'gather'
          | 'pick'
          | 'each'
          | 'create'
          | 'end turn';
      }
    >,
  ): void {
    const { w } = this;
    switch (s.op) {
      case 'write':
        return this.write(s);
      case 'write field':
        this.tell(`{ is: "act", what: "changed", site: ${s.site} }`);
        return this.writeField(s);
      case 'write variable': {
        const held = `W.variables[${s.index}]`;
        w.line(`p = ${this.finite(s.value, s.site)};`);
        return w.line(
          this.options.atOnce
            ? this.logged(variableColumnId(s.index), '0', s.how)
            : `${held} = fin(${applied(held, s.how, 'p')}, ${s.site}, ${this.actorArgs()});`,
        );
      }
      case 'write tie': {
        const held = `net${s.network}.columns[${s.column}][L${s.tie}]`;
        w.line(`p = ${this.finite(s.value, s.site)};`);
        return w.line(
          this.options.atOnce
            ? this.logged(tieColumnId(s.network, s.column), `L${s.tie}`, s.how)
            : `${held} = fin(${applied(held, s.how, 'p')}, ${s.site}, ${this.actorArgs()});`,
        );
      }
      case 'write parameter':
        return w.line(`W.bottom[${s.index}] = ${this.finite(s.value, s.site)};`);
      case 'add to list':
        return this.addToList(s);
      case 'add to tally':
        return w.line(`TL[${s.tally}].add(${this.finite(s.value, s.site)}, ${this.options.atOnce});`);
      case 'tie':
        return this.tie(s);
      case 'untie': {
        const first = `L${(s.flip && s.b ? s.b : s.a).local}`;
        const cut = s.b
          ? `untie(${s.network}, ${first}, L${(s.flip ? s.a : s.b).local})`
          : `isolate(${s.network}, ${s.flip ? 1 : 0}, L${s.a.local})`;
        if (!this.options.atOnce) return w.line(`S.${cut};`);
        return w.block('', () => {
          w.line(`const a = ${first}, b = ${s.b ? `L${(s.flip ? s.a : s.b).local}` : '-1'};`);
          w.line(
            `S.later.push(() => S.${s.b ? `untie(${s.network}, a, b)` : `isolate(${s.network}, ${s.flip ? 1 : 0}, a)`});`,
          );
        });
      }
      case 'send':
        this.tell(`{ is: "act", what: "sent", site: ${s.site} }`);
        return this.send(s);
      case 'log':
        return w.line(
          `S.note(${s.site}, [${s.values.map(({ value }) => this.expr(value)).join(', ')}], ${this.actorArgs()});`,
        );
      case 'record':
        return w.line(
          `if (S.recording) S.keep(${s.record}, [${s.values.map((value) => this.expr(value)).join(', ')}]);`,
        );
      case 'change':
        w.line(`p = ${this.expr(s.state)};`);
        return w.line(this.logged(machineColumnId(s.kind, s.machine), `L${s.agent.local}`, '='));
      case 'vanish':
        return this.vanish(s.kind, `L${s.agent.local}`);
      case 'become':
        return this.become(s);
      case 'write due':
        return w.line(`k${s.kind}_d${s.column}[L${s.agent.local}] = ${this.finite(s.value, s.site)};`);
      case 'turn':
        this.tell(`{ is: "act", what: "turned", site: ${s.site} }`);
        return this.turnBy(s);
      case 'move by':
      case 'move to':
        this.tell(`{ is: "act", what: "moved", site: ${s.site} }`);
        return this.move(s);
      case 'draw cell':
        return this.drawCell(s);
      case 'draw in zone':
        return this.drawInZone(s);
      case 'draw listed':
        this.word('w1');
        w.line(`L${s.local} = CL.draw(w1, ${this.shared.plan.spaces[s.space]!.oneAgentACell});`);
        return w.line(`if (L${s.local} < 0) F(${s.site}, NaN, -1, -1);`);
      case 'remove':
        if (this.options.atOnce)
          w.line(`if (k${s.kind}_alive[L${s.agent.local}] === 1) k${s.kind}_alive[L${s.agent.local}] = 3;`);
        else w.line(`if (k${s.kind}_alive[L${s.agent.local}] & 1) removeAt(${s.kind}, L${s.agent.local});`);
        return this.tellOf(s.kind, s.agent, (number) => `{ is: "removed", kind: ${s.kind}, number: ${number} }`);
      case 'end run':
        return w.line('W.isEnding = true;');
    }
  }

  private if(s: Of<'if'>, branch: (block: readonly P.Statement[]) => void): void {
    const { w } = this;
    if (this.shared.traces && s.site !== undefined) {
      w.line(`q = ${this.test(s.condition)} ? 1 : 0;`);
      this.tell(`{ is: "condition", site: ${s.site}, holds: q === 1 }`);
      w.block('if (q === 1)', () => branch(s.then));
      if (s.else.length) w.block('else', () => branch(s.else));
      return;
    }
    if (s.condition.op === 'is there' && this.shared.steady.has(s.condition.kind)) branch(s.then);
    else if (s.then.length === 0 && s.else.length > 0)
      w.block(`if (!(${this.test(s.condition)}))`, () => branch(s.else));
    else {
      w.block(`if (${this.test(s.condition)})`, () => branch(s.then));
      if (s.else.length) w.block('else', () => branch(s.else));
    }
  }

  private switch(s: Of<'switch'>, branch: (block: readonly P.Statement[]) => void): void {
    const { w } = this;
    w.block(`switch (${this.expr(s.value)})`, () => {
      s.cases.forEach((block, i) => {
        if (block.length === 0) return;
        w.block(`case ${i}:`, () => {
          branch(block);
          w.line('break;');
        });
      });
    });
  }

  private draw(s: Of<'draw'>): void {
    const args = s.args.map((arg) => this.expr(arg));
    if (s.law === 'chance') {
      if (s.args[0]!.op !== 'number') {
        this.w.line(`p = ${args[0]};`);
        this.w.line(`if (p !== p) F(${s.site}, p, ${this.actorArgs()});`);
      }
      this.word('w1');
      this.w.line(`L${s.local} = w1 < ${s.args[0]!.op === 'number' ? args[0] : 'p'} * 4294967296 ? 1 : 0;`);
      this.tell(`{ is: "draw", site: ${s.site}, value: L${s.local} }`);
      return;
    }
    this.word('w1');
    this.word('w2');
    this.w.line(`L${s.local} = ${LAWS[s.law].code}(${[...args, 'w1', 'w2'].join(', ')});`);
    if (s.law !== 'unit') this.checked(`L${s.local}`, s.site);
    this.tell(`{ is: "draw", site: ${s.site}, value: L${s.local} }`);
  }

  private repeat(s: Of<'repeat'>): void {
    const id = this.labels++;
    this.w.line(`const n${id}_ = ${this.expr(s.count)};`);
    if (s.count.op !== 'number' || !(s.count.value >= 0))
      this.w.line(
        `if (!(n${id}_ >= 0) || Math.floor(n${id}_) !== n${id}_) FC(${s.site}, n${id}_, ${this.actorArgs()});`,
      );
    const isBounded = s.count.op === 'number' && s.count.value <= MOST_ROUNDS;
    this.loops.push(id);
    this.w.block(`rep${id}: for (let i${id}_ = 0; i${id}_ < n${id}_; i${id}_++)`, () => {
      if (!isBounded) this.w.line(`if (i${id}_ === ${MOST_ROUNDS}) FR(${s.site}, ${this.actorArgs()});`);
      this.statements(s.body);
    });
    this.loops.pop();
  }

  protected afterMeeting(body: readonly P.Statement[]): void {
    if (this.options.actorKind !== undefined && removesAgents(body))
      this.w.line(`if (!(k${this.options.actorKind}_alive[L0] & 1)) break turn;`);
  }

  // Tracing

  private tell(event: string): void {
    if (this.shared.traces) this.w.line(`if (tr) TR.note(${event});`);
  }

  /** Tells of what happens to an agent, also when another does it. */
  private tellOf(kind: number, agent: P.AgentRef, event: (number: string) => string): void {
    if (!this.shared.traces || agent.fresh) return;
    const number = `k${kind}.number[L${agent.local}]`;
    this.w.line(`if (tr || TR.concerns(${kind}, ${number})) TR.note(${event(number)});`);
  }

  // Writes

  /** Notes a write of `p` until the rule is over. */
  private logged(column: number, target: string, how: P.WriteHow): string {
    return `writes.add(${column}, ${target}, ${how === '=' ? 0 : how === '*=' ? 1 : 2}, p);`;
  }

  private write(s: Of<'write'>): void {
    const { w } = this;
    const { effects } = this.options;
    const key = columnKey(s.kind, s.column);
    const own = this.options.atOnce && !s.agent.fresh ? effects.contested.get(key) : undefined;
    const column = `k${s.kind}_a${s.column}[L${s.agent.local}]`;
    if (own === undefined) {
      w.line(`p = ${applied(column, s.how, this.expr(s.value))};`);
      if (!s.mayBeEmpty && !(s.how === '=' && s.value.op === 'number')) this.checked('p', s.site);
      w.line(`${column} = p;`);
      this.tellOf(
        s.kind,
        s.agent,
        (number) =>
          `{ is: "write", site: ${s.site}, kind: ${s.kind}, number: ${number}, column: ${s.column}, value: p }`,
      );
      return;
    }
    w.line(`p = ${this.expr(s.value)};`);
    if (!s.mayBeEmpty) this.checked('p', s.site);
    const contribute = effects.addedColumns.has(key)
      ? `${column} += p;`
      : this.logged(attributeColumnId(s.kind, s.column), `L${s.agent.local}`, s.how);
    if (!s.agent.own) w.line(contribute);
    else {
      const held = `o${s.kind}_${s.column}`;
      w.line(own === '=' ? `os${s.kind}_${s.column} = true;` : contribute);
      w.line(`${held} = ${applied(held, s.how, 'p')};`);
      if (!s.mayBeEmpty) this.checked(held, s.site);
    }
  }

  private writeField(s: Of<'write field'>): void {
    const { w } = this;
    const cell = this.cellIndex(s.field, s.x, s.y);
    w.block('', () => {
      w.line(`const cell = ${cell};`);
      w.line(`p = ${this.expr(s.value)};`);
      if (this.options.atOnce) {
        if (s.value.op !== 'number') this.checked('p', s.site);
        w.line(
          this.addsField(s.field) ? `g${s.field}_v[cell] += p;` : this.logged(fieldColumnId(s.field), 'cell', s.how),
        );
        return;
      }
      w.line(`p = ${applied(`g${s.field}_v[cell]`, s.how, 'p')};`);
      this.checked('p', s.site);
      w.line(
        `g${s.field}_v[cell] = ${this.shared.plan.fields[s.field]!.keep ? `clip(p, lo${s.field}, hi${s.field})` : 'p'};`,
      );
    });
  }

  private addToList(s: Of<'add to list'>): void {
    const { w } = this;
    const waits = this.options.atOnce && !s.agent.own;
    w.block('', () => {
      w.line(
        `const slot = L${s.agent.local}, a = ${this.expr(s.values[0]!)}, b = ${s.values[1] ? this.expr(s.values[1]) : '0'};`,
      );
      if (!s.ofAgents && s.values.length === 1) this.checked('a', s.site);
      const add = `addToList(k${s.kind}.attributes, slot, ${s.column}, ${s.size}, ${s.values.length}, ${s.ofAgents}, a, b)`;
      w.line(waits ? `S.later.push(() => ${add});` : `${add};`);
    });
  }

  private tie(s: Of<'tie'>): void {
    const { w } = this;
    w.block('', () => {
      w.line(
        `const a = L${(s.flip ? s.b : s.a).local}, b = L${(s.flip ? s.a : s.b).local}, values = [${s.values.map((value) => this.finite(value, s.site)).join(', ')}];`,
      );
      w.line(
        this.options.atOnce
          ? `S.later.push(() => S.tie(${s.network}, a, b, values));`
          : `S.tie(${s.network}, a, b, values);`,
      );
    });
  }

  private send(s: Of<'send'>): void {
    const { w } = this;
    const sender = s.sender ? `${s.sender.kind}, k${s.sender.kind}_num[L${s.sender.agent.local}]` : '-1, 0';
    const values = `[${s.values.map((value) => this.finite(value, s.site)).join(', ')}]`;
    const due = s.delay ? `dueAfter(${this.finite(s.delay, s.site)}, W)` : 'NaN';
    w.block('', () => {
      w.line(`const values = ${values}, due = ${due};`);
      w.line(
        `if (k${s.kind}_alive[L${s.agent.local}] !== 0) MAIL.send(${s.message}, ${s.kind}, k${s.kind}_num[L${s.agent.local}], ${sender}, due, wEnd, values);`,
      );
    });
  }

  private become(s: Of<'become'>): void {
    const { w } = this;
    const { firstCounter, groups } = this.shared.plan.kinds[s.kind]!.machines[s.machine]!;
    const target = `k${s.kind}_s${s.machine}[L${s.agent.local}]`;
    const count = (which: 'entered' | 'left', counter: string): string =>
      `${which === 'entered' ? 'WE' : 'WL'}[${counter}]++;`;
    if (s.agent.fresh) {
      w.line(count('entered', `${firstCounter + s.state}`));
      for (const { members, counter } of groups) if (members.includes(s.state)) w.line(count('entered', `${counter}`));
    } else {
      w.block(this.shared.steady.has(s.kind) ? '' : `if (k${s.kind}_alive[L${s.agent.local}] & 1)`, () => {
        w.line(`${count('left', `${firstCounter} + ${target}`)} ${count('entered', `${firstCounter + s.state}`)}`);
        if (this.shared.steady.has(s.kind))
          w.line(`IN[${firstCounter} + ${target}]--; IN[${firstCounter + s.state}]++;`);
        for (const { members, counter } of groups) {
          const wasIn = `(${members.map((member) => `${target} === ${member}`).join(' || ')})`;
          w.line(
            members.includes(s.state)
              ? `if (!${wasIn}) ${count('entered', `${counter}`)}`
              : `if (${wasIn}) ${count('left', `${counter}`)}`,
          );
        }
      });
    }
    w.line(`${target} = ${s.state};`);
    this.tellOf(
      s.kind,
      s.agent,
      (number) => `{ is: "become", kind: ${s.kind}, number: ${number}, machine: ${s.machine}, state: ${s.state} }`,
    );
  }

  // Places

  private turnBy(s: Of<'turn'>): void {
    const { w } = this;
    const a = `L${s.agent.local}`;
    w.line(`p = ${this.expr(s.direction)};`);
    const turn = (): void => {
      this.checked('p', s.site);
      w.line(`turnTo(k${s.kind}_dir, k${s.kind}_sin, k${s.kind}_cos, ${a}, p);`);
    };
    // Who is nowhere does not turn.
    if (!s.agent.fresh && this.shared.plan.kinds[s.kind]!.mayBeNowhere)
      w.block(`if (k${s.kind}_x[${a}] === k${s.kind}_x[${a}])`, turn);
    else turn();
  }

  /** Whether the body itself keeps up who stands on which cell: all at once this is done when the rule is over. */
  private tracks(kind: number): boolean {
    return this.spaceOf(kind)!.tracksCells && !this.options.atOnce;
  }

  private vanish(k: number, a: string): void {
    const { w } = this;
    const s = this.shared.plan.kinds[k]!.space;
    if (this.tracks(k))
      w.line(
        `if (k${k}_x[${a}] === k${k}_x[${a}]) OCC${s}[${this.cellOfPlace(s, `k${k}_x[${a}]`, `k${k}_y[${a}]`)}]--;`,
      );
    if (!this.options.atOnce && this.options.effects.queried.has(k)) w.line(`k${k}.index.remove(${a});`);
    w.line(`k${k}_x[${a}] = NaN; k${k}_y[${a}] = NaN;`);
  }

  private move(s: Of<'move by' | 'move to'>): void {
    const { w } = this;
    const k = s.kind;
    const a = `L${s.agent.local}`;
    const mayBeNowhere = this.shared.plan.kinds[k]!.mayBeNowhere;
    w.block('', () => {
      if (s.op === 'move by') {
        w.line(`const d = ${this.finite(s.distance, s.site)};`);
        if (mayBeNowhere) w.block(`if (k${k}_x[${a}] === k${k}_x[${a}])`, () => this.moveBy(k, a));
        else this.moveBy(k, a);
        return;
      }
      if (mayBeNowhere) {
        w.line(`const vx = ${this.expr(s.x)}, vy = ${this.expr(s.y)};`);
        w.block('if (vx !== vx)', () => this.vanish(k, a));
        w.block('else', () => this.moveTo(s, k, a, 'vx', 'vy'));
      } else this.moveTo(s, k, a, this.expr(s.x), this.expr(s.y));
    });
  }

  private axis(s: number, v: string, size: 'SW' | 'SH'): string {
    return placedOnAxis(this.shared.plan.spaces[s]!, v, `${size}${s}`);
  }

  /** The cell, as it is counted who stands where, of a place that lies inside the space. */
  private cellOfPlace(s: number, x: string, y: string): string {
    return FORM_CODE[this.shared.plan.spaces[s]!.form].cellOfPlace(x, y, s);
  }

  private hasObstacles(s: number): boolean {
    return this.shared.plan.zones.some((zone) => zone.obstacle && zone.space === s);
  }

  private moveBy(k: number, a: string): void {
    const { w } = this;
    const s = this.shared.plan.kinds[k]!.space;
    const space = this.spaceOf(k)!;
    w.line(`const ox = k${k}_x[${a}], oy = k${k}_y[${a}];`);
    const keyword = this.hasObstacles(s) ? 'let' : 'const';
    const [x, y] = (['x', 'y'] as const).map((axis) => FORM_CODE[space.form].ahead(axis, 'ox', 'oy', 'd', `k${k}`, a));
    w.line(`${keyword} mx = ${x}, my = ${y};`);
    if (keyword === 'let')
      w.line(
        `const share = shareBefore(S.zones.blocked[${s}], ox, oy, mx, my, SP${s}); if (share < 1) { mx = ox + (mx - ox) * share; my = oy + (my - oy) * share; }`,
      );
    w.line(`const tx = ${this.axis(s, 'mx', 'SW')}, ty = ${this.axis(s, 'my', 'SH')};`);
    this.settleAt(k, a, space.edge === 'reflecting');
  }

  private moveTo(s: Of<'move to'>, k: number, a: string, x: string, y: string): void {
    const { w } = this;
    w.line(`const mx = fin(${x}, ${s.site}, ${this.actorArgs()}), my = fin(${y}, ${s.site}, ${this.actorArgs()});`);
    const on = this.shared.plan.kinds[k]!.space;
    w.line(`const tx = ${this.axis(on, 'mx', 'SW')}, ty = ${this.axis(on, 'my', 'SH')};`);
    if (!this.hasObstacles(on)) {
      this.settleAt(k, a, false);
      return;
    }
    w.line(`if (isInMask(S.zones.blocked[${on}], tx, ty, SP${on})) W.refused++;`);
    w.block('else', () => this.settleAt(k, a, false));
  }

  private settleAt(k: number, a: string, turnsBack: boolean): void {
    const { w } = this;
    const s = this.shared.plan.kinds[k]!.space;
    const go = (): void => {
      w.line(`k${k}_x[${a}] = tx; k${k}_y[${a}] = ty;`);
      if (!this.options.atOnce && this.options.effects.queried.has(k)) w.line(`k${k}.index.move(${a}, tx, ty);`);
      if (turnsBack)
        w.line(`turnTo(k${k}_dir, k${k}_sin, k${k}_cos, ${a}, directionAfter(k${k}_dir[${a}], mx, my, SP${s}));`);
    };
    if (!this.tracks(k)) return go();
    w.line(
      `const from = k${k}_x[${a}] === k${k}_x[${a}] ? ${this.cellOfPlace(s, `k${k}_x[${a}]`, `k${k}_y[${a}]`)} : -1, to = ${this.cellOfPlace(s, 'tx', 'ty')};`,
    );
    const take = (): void => {
      w.line(`if (from >= 0) OCC${s}[from]--;`);
      w.line(`OCC${s}[to]++;`);
      go();
    };
    if (!this.spaceOf(k)!.oneAgentACell) return take();
    w.line(`if (from !== to && OCC${s}[to]) W.refused++;`);
    w.block('else', take);
  }

  private drawCell(s: Of<'draw cell'>): void {
    const { w } = this;
    const on = s.space;
    const blocked = this.hasObstacles(on) ? `S.zones.blocked[${on}].inside[c]` : '';
    const full = [this.shared.plan.spaces[on]!.oneAgentACell ? `OCC${on}[c]` : '', blocked]
      .filter(Boolean)
      .join(' || ');
    w.block('', () => {
      w.line(`let c = 0; const n = SW${on} * SH${on};`);
      w.block(`for (let tries = 0; tries < ${CELL_TRIES}; tries++)`, () => {
        this.word('w1');
        w.line('c = Math.floor((w1 * n) / 4294967296);');
        w.line(full ? `if (!(${full})) break;` : 'break;');
      });
      if (full) w.line(`for (let i = 0; i < n && (${full}); i++) c = (c + 1) % n;`);
      w.line(`L${s.x} = c % SW${on}; L${s.y} = Math.floor(c / SW${on});`);
    });
  }

  private drawInZone(s: Of<'draw in zone'>): void {
    const { w } = this;
    const on = s.space;
    const mask = s.zone < 0 ? `S.zones.free[${on}]` : `S.zones.masks[${s.zone}]`;
    w.block(`for (let tries = 0; tries < ${CELL_TRIES}; tries++)`, () => {
      w.line('let w3 = 0;');
      for (const word of ['w1', 'w2', 'w3']) this.word(word);
      w.line(
        `L${s.x} = drawInMask(${mask}, "x", w1, w2, w3, SP${on}); L${s.y} = drawInMask(${mask}, "y", w1, w2, w3, SP${on});`,
      );
      w.line(
        this.shared.plan.spaces[on]!.oneAgentACell ? `if (!OCC${on}[L${s.y} * SW${on} + L${s.x}]) break;` : 'break;',
      );
    });
    this.checked(`L${s.x}`, s.site);
  }

  private create(s: Of<'create'>): void {
    const { w } = this;
    const { plan } = this.shared;
    const k = s.kind;
    const on = plan.kinds[k]!.space;
    const space = this.spaceOf(k);
    const mayBeNowhere = plan.kinds[k]!.mayBeNowhere;
    w.block('', () => {
      const at = (e: P.Expr | undefined, size: 'SW' | 'SH'): string => {
        if (!e) return '0';
        const v = this.expr(e);
        const placed = placedOnAxis(space!, `fin(${v}, ${s.site}, ${this.actorArgs()})`, `${size}${on}`);
        return mayBeNowhere ? `(${v} !== ${v} ? NaN : ${placed})` : placed;
      };
      w.line(`const cx = ${at(s.x, 'SW')}, cy = ${at(s.y, 'SH')};`);
      const tracked = s.x && space?.tracksCells;
      const cell = space && this.cellOfPlace(on, 'cx', 'cy');
      const make = (): void => {
        w.line(`if (total() >= W.ceiling) FL(${s.site});`);
        w.line(`L${s.local} = k${k}.add(cx, cy, ${this.options.atOnce ? 2 : 1});`);
        if (tracked) w.line(`${mayBeNowhere ? 'if (cx === cx) ' : ''}OCC${on}[${cell}]++;`);
        w.line(`if (k${k}.version !== k${k}_version) { ${reloads(plan.kinds[k]!, k)} }`);
        this.statements(s.found);
      };
      const refusals =
        s.x && !s.always
          ? [
              space?.oneAgentACell ? `OCC${on}[${cell}]` : '',
              this.hasObstacles(on) ? `isInMask(S.zones.blocked[${on}], cx, cy, SP${on})` : '',
            ].filter(Boolean)
          : [];
      if (refusals.length === 0) return make();
      w.line(`if (${mayBeNowhere ? 'cx === cx && ' : ''}(${refusals.join(' || ')})) W.refused++;`);
      w.block('else', make);
    });
  }
}

function applied(held: string, how: P.WriteHow, value: string): string {
  return how === '=' ? value : `${held} ${how === '+=' ? '+' : '*'} ${value}`;
}

function removesAgents(body: readonly P.Statement[]): boolean {
  let removes = false;
  visitStatements(body, {
    statement(s) {
      if (s.op === 'remove') removes = true;
    },
  });
  return removes;
}

/** The columns of a kind under the names that code uses, as pairs of name and source. */
export function columnNames(kind: P.KindPlan, k: number): [string, string][] {
  const names: [string, string][] = [
    [`k${k}_alive`, `k${k}.alive`],
    [`k${k}_num`, `k${k}.number`],
    [`k${k}_x`, `k${k}.x`],
    [`k${k}_y`, `k${k}.y`],
    [`k${k}_dir`, `k${k}.direction`],
    [`k${k}_sin`, `k${k}.sine`],
    [`k${k}_cos`, `k${k}.cosine`],
  ];
  kind.columns.forEach((_, i) => names.push([`k${k}_a${i}`, `k${k}.attributes[${i}]`]));
  kind.machines.forEach((_, i) => names.push([`k${k}_s${i}`, `k${k}.states[${i}]`]));
  for (let i = 0; i < kind.dueCount; i++) names.push([`k${k}_d${i}`, `k${k}.due[${i}]`]);
  return names;
}

function reloads(kind: P.KindPlan, k: number): string {
  return (
    [`k${k}_version = k${k}.version`, ...columnNames(kind, k).map(([name, source]) => `${name} = ${source}`)].join(
      '; ',
    ) + ';'
  );
}
