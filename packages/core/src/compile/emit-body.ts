import type { RuleTouch } from './analysis.ts';
import { columnKey, visitStatements } from './analysis.ts';
import { CELL_TRIES } from './values.ts';
import type * as P from './plan.ts';
import { attributeColumnId } from './settling.ts';
import type { SourceWriter } from './source-writer.ts';
import { literal } from './source-writer.ts';

/** What the emitter of one body needs to know about the whole. */
export interface EmitShared {
  readonly plan: P.Plan;
  /** Gives a scratch list of its own to each query. */
  nextList(): number;
  /** Name of the function that gives a value body. */
  valueName(body: P.ValueBody): string;
}

export interface BodyOptions {
  /** Kind of the acting agent, held in local 0. */
  readonly actorKind?: number;
  readonly atOnce: boolean;
  readonly touch: RuleTouch;
  /** Index expression of the own cell, in bodies of fields. */
  readonly cell?: string;
}

const BINARY: Record<Exclude<P.BinaryFunction, 'and' | 'or'>, string> = {
  '+': '+', '-': '-', '*': '*', '/': '/', '<': '<', '<=': '<=', '>': '>', '>=': '>=', is: '===', 'is not': '!==',
};
const TRUTHS = new Set<P.BinaryFunction>(['<', '<=', '>', '>=', 'is', 'is not', 'and', 'or']);
const CLOCK: Record<P.ClockValue, string> = {
  now: 'W.now', 'step length': 'W.stepLength', 'end of step': 'W.end', hour: 'W.hour', weekday: 'W.weekday', month: 'W.month', year: 'W.year',
  'day of year': 'W.dayOfYear', date: 'W.date',
};
const CALLS: Record<P.PureFunction, string> = {
  abs: 'Math.abs', min: 'least', max: 'greatest', clip: 'clip', mod: 'mod', round: 'roundHalfUp', floor: 'Math.floor', ceiling: 'Math.ceil',
  sqrt: 'Math.sqrt', exp: 'exp', log: 'log', sin: 'sinDegrees', cos: 'cosDegrees', tan: 'tanDegrees', swing: 'swing', power: 'power',
  'chance of rate': 'chanceOfRate', heading: 'heading',
};
const LAWS: Record<Exclude<P.Law, 'chance'>, string> = {
  unit: 'drawUnit', uniform: 'drawUniform', normal: 'drawNormal', lognormal: 'drawLognormal', exponential: 'drawExponential', gamma: 'drawGamma',
  beta: 'drawBeta', weibull: 'drawWeibull', triangular: 'drawTriangular', poisson: 'drawPoisson', binomial: 'drawBinomial', whole: 'drawWhole',
};

/** Writes the statements and expressions of one body as JavaScript. */
export class BodyEmitter {
  private labels = 0;

  constructor(
    private readonly shared: EmitShared,
    private readonly w: SourceWriter,
    private readonly options: BodyOptions,
  ) {}

  // Expressions

  expr(e: P.Expr): string {
    switch (e.op) {
      case 'number':
        return literal(e.value);
      case 'local':
        return `L${e.local}`;
      case 'parameter':
        return `P[${e.index}]`;
      case 'variable':
        return `W.variables[${e.index}]`;
      case 'clock':
        return CLOCK[e.which];
      case 'size':
        return e.axis === 'width' ? 'SW' : 'SH';
      case 'attribute':
        return this.attribute(e);
      case 'state':
        return `${this.seen(e.agent, this.keepsState(e.kind, e.machine)) ? `k${e.kind}_bs${e.machine}` : `k${e.kind}_s${e.machine}`}[L${e.agent.local}]`;
      case 'due':
        return `k${e.kind}_d${e.column}[L${e.agent.local}]`;
      case 'position':
        return this.position(e.kind, e.axis, e.agent);
      case 'number of':
        return `k${e.kind}_num[L${e.agent.local}]`;
      case 'same agent':
        return `(L${e.a.local} === L${e.b.local} ? 1 : 0)`;
      case 'field':
        return `g${e.field}_v[c${e.field}(${this.expr(e.x)}, ${this.expr(e.y)})]`;
      case 'cell':
        return `g${e.field}_v[${this.options.cell ?? '0'}]`;
      case 'not':
        return `(${this.test(e.value)} ? 0 : 1)`;
      case 'minus':
        return `(-${this.expr(e.value)})`;
      case 'binary':
        return TRUTHS.has(e.fn) ? `(${this.test(e)} ? 1 : 0)` : `(${this.expr(e.left)} ${BINARY[e.fn as '+']} ${this.expr(e.right)})`;
      case 'choose':
        return `(${this.test(e.condition)} ? ${this.expr(e.then)} : ${this.expr(e.else)})`;
      case 'call':
        return `${CALLS[e.fn]}(${e.args.map((arg) => this.expr(arg)).join(', ')})`;
      case 'distance':
      case 'bearing': {
        const args = [e.ax, e.ay, e.bx, e.by].map((part) => this.expr(part)).join(', ');
        return `${e.op === 'distance' ? 'distanceBetween' : 'bearingBetween'}(${args}, SP)`;
      }
      case 'finite':
        return `fin(${this.expr(e.value)}, ${e.site}, ${this.actorArgs()})`;
      case 'count of kind':
        return `k${e.kind}.living`;
      case 'measure':
        return `W.row[${e.index}]`;
      case 'flow':
        return `W.${e.which}[${e.counter}]`;
      case 'field mean':
        return `gatherField(${JSON.stringify(e.fn)}, g${e.field}_v, ${e.level ? this.expr(e.level) : 'undefined'})`;
    }
  }

  /** An expression as a JavaScript condition. */
  test(e: P.Expr): string {
    if (e.op === 'number') return e.value !== 0 ? 'true' : 'false';
    if (e.op === 'not') return `!(${this.test(e.value)})`;
    if (e.op === 'binary' && e.fn === 'and') return `(${this.test(e.left)} && ${this.test(e.right)})`;
    if (e.op === 'binary' && e.fn === 'or') return `(${this.test(e.left)} || ${this.test(e.right)})`;
    if (e.op === 'binary' && TRUTHS.has(e.fn)) return `${this.expr(e.left)} ${BINARY[e.fn as 'is']} ${this.expr(e.right)}`;
    return `${this.expr(e)} !== 0`;
  }

  private actorArgs(): string {
    return this.options.actorKind === undefined ? '-1, -1' : `${this.options.actorKind}, L0`;
  }

  /** Whether a read of another agent must see the column as it was before the rule. */
  private seen(agent: P.AgentRef, isKept: boolean): boolean {
    return isKept && !agent.own && !agent.fresh;
  }

  keepsState(kind: number, machine: number): boolean {
    const { atOnce, touch } = this.options;
    const key = columnKey(kind, machine);
    return atOnce && touch.writtenStates.has(key) && touch.othersStatesRead.has(key);
  }

  keepsAttribute(kind: number, column: number): boolean {
    const { atOnce, touch } = this.options;
    const key = columnKey(kind, column);
    return atOnce && touch.writtenColumns.has(key) && !touch.contested.has(key) && touch.othersRead.has(key);
  }

  keepsPositions(kind: number): boolean {
    const { atOnce, touch } = this.options;
    return atOnce && touch.movedKinds.has(kind) && touch.othersPlacesRead.has(kind);
  }

  private ownOverlay(kind: number, column: number): boolean {
    const { atOnce, touch } = this.options;
    const own = touch.contested.get(columnKey(kind, column));
    return atOnce && own !== undefined && own !== 'none';
  }

  private attribute(e: Extract<P.Expr, { op: 'attribute' }>): string {
    const { kind, column, agent } = e;
    if (agent.own && this.ownOverlay(kind, column)) return `o${kind}_${column}`;
    return `${this.seen(agent, this.keepsAttribute(kind, column)) ? `k${kind}_ba${column}` : `k${kind}_a${column}`}[L${agent.local}]`;
  }

  private position(kind: number, axis: 'x' | 'y' | 'direction', agent: P.AgentRef): string {
    const column = axis === 'direction' ? 'dir' : axis;
    return `k${kind}_${this.seen(agent, this.keepsPositions(kind)) ? 'b' : ''}${column}[L${agent.local}]`;
  }

  // Statements

  statements(list: readonly P.Statement[]): void {
    for (const statement of list) this.statement(statement);
  }

  private word(name: string): void {
    this.w.line(`t = Math.imul(s0, 0x9e3779bb); ${name} = Math.imul((t << 5) | (t >>> 27), 5) >>> 0; s1 ^= s0; s0 = ((s0 << 26) | (s0 >>> 6)) ^ s1 ^ (s1 << 9); s1 = (s1 << 13) | (s1 >>> 19);`);
  }

  private checked(name: string, site: number): void {
    this.w.line(`if (${name} - ${name} !== 0) F(${site}, ${name}, ${this.actorArgs()});`);
  }

  private statement(s: P.Statement): void {
    const { w } = this;
    switch (s.op) {
      case 'set':
        return w.line(`L${s.local} = ${this.expr(s.value)};`);
      case 'draw':
        return this.draw(s);
      case 'if':
        w.block(`if (${this.test(s.condition)})`, () => this.statements(s.then));
        if (s.else.length) w.block('else', () => this.statements(s.else));
        return;
      case 'switch':
        return w.block(`switch (${this.expr(s.value)})`, () => {
          s.cases.forEach((block, i) => {
            if (block.length === 0) return;
            w.block(`case ${i}:`, () => {
              this.statements(block);
              w.line('break;');
            });
          });
        });
      case 'repeat':
        return this.repeat(s);
      case 'count':
      case 'any':
        return this.count(s);
      case 'gather':
        return this.gather(s);
      case 'pick':
        return this.pick(s);
      case 'each':
        return this.each(s);
      case 'write':
        return this.write(s);
      case 'write field':
        return this.writeField(s);
      case 'write variable': {
        const held = `W.variables[${s.index}]`;
        w.line(`p = fin(${this.expr(s.value)}, ${s.site}, ${this.actorArgs()});`);
        return w.line(this.options.atOnce ? `writes.variable(${s.index}, ${JSON.stringify(s.how)}, p);` : `${held} = fin(${applied(held, s.how, 'p')}, ${s.site}, ${this.actorArgs()});`);
      }
      case 'write parameter':
        return w.line(`W.bottom[${s.index}] = fin(${this.expr(s.value)}, ${s.site}, ${this.actorArgs()});`);
      case 'become':
        return this.become(s);
      case 'write due':
        return w.line(`k${s.kind}_d${s.column}[L${s.agent.local}] = fin(${this.expr(s.value)}, ${s.site}, ${this.actorArgs()});`);
      case 'turn':
        return w.line(`k${s.kind}_dir[L${s.agent.local}] = heading(fin(${this.expr(s.direction)}, ${s.site}, ${this.actorArgs()}));`);
      case 'move by':
      case 'move to':
        return this.move(s);
      case 'draw cell':
        return this.drawCell(s);
      case 'create':
        return this.create(s);
      case 'remove':
        if (this.options.atOnce) w.line(`if (k${s.kind}_alive[L${s.agent.local}] === 1) k${s.kind}_alive[L${s.agent.local}] = 3;`);
        else w.line(`if (k${s.kind}_alive[L${s.agent.local}] & 1) removeAt(${s.kind}, L${s.agent.local});`);
        return;
      case 'end turn':
        return w.line('break turn;');
      case 'end run':
        return w.line('W.isEnding = true;');
    }
  }

  private draw(s: Extract<P.Statement, { op: 'draw' }>): void {
    const args = s.args.map((arg) => this.expr(arg));
    if (s.law === 'chance') {
      if (s.args[0]!.op !== 'number') {
        this.w.line(`p = ${args[0]};`);
        this.w.line(`if (p !== p) F(${s.site}, p, ${this.actorArgs()});`);
      }
      this.word('w1');
      this.w.line(`L${s.local} = w1 < ${s.args[0]!.op === 'number' ? args[0] : 'p'} * 4294967296 ? 1 : 0;`);
      return;
    }
    this.word('w1');
    this.word('w2');
    this.w.line(`L${s.local} = ${LAWS[s.law]}(${[...args, 'w1', 'w2'].join(', ')});`);
    if (s.law !== 'unit') this.checked(`L${s.local}`, s.site);
  }

  private repeat(s: Extract<P.Statement, { op: 'repeat' }>): void {
    const id = this.labels++;
    this.w.line(`const n${id} = ${this.expr(s.count)};`);
    this.w.line(`if (!(n${id} >= 0) || Math.floor(n${id}) !== n${id}) FC(${s.site}, n${id}, ${this.actorArgs()});`);
    this.w.block(`for (let i${id} = 0; i${id} < n${id}; i${id}++)`, () => this.statements(s.body));
  }

  // Queries

  /** Loops over the candidates of a query in no particular order, each in its local. */
  private candidates(query: P.Query, list: number, body: () => void): void {
    const { w } = this;
    const k = query.kind;
    const c = `L${query.candidate}`;
    const skip = query.except === undefined ? '' : ` || ${c} === L${query.except}`;
    const fitting = (): void => {
      if (!query.where) return body();
      this.statements(query.where.statements);
      w.block(`if (${this.test(query.where.value)})`, body);
    };
    const { reach } = query;
    if (reach.is === 'all') {
      w.block(`for (let j = 0, e = k${k}.used; j < e; j++)`, () => {
        w.line(`${c} = j;`);
        w.line(`if (!(k${k}_alive[${c}] & 1)${skip}) continue;`);
        fitting();
      });
      return;
    }
    const b = this.keepsPositions(k) ? 'b' : '';
    w.line(`const x${list} = ${this.expr(reach.x)}, y${list} = ${this.expr(reach.y)}, r${list} = ${reach.is === 'within' ? this.expr(reach.distance) : reach.is === 'here' ? '0' : '1.5'};`);
    w.line(`const m${list} = k${k}.index.nearInto(x${list}, y${list}, r${list}, WRAPS, q${list} = lists.get(${list}, k${k}.used));`);
    w.block(`for (let j${list} = 0; j${list} < m${list}; j${list}++)`, () => {
      w.line(`${c} = q${list}[j${list}];`);
      w.line(`if (!(k${k}_alive[${c}] & 1)${skip}) continue;`);
      w.line(`let dx = k${k}_${b}x[${c}] - x${list}, dy = k${k}_${b}y[${c}] - y${list};`);
      w.line('if (WRAPS) { dx = dx > SW / 2 ? dx - SW : dx < -SW / 2 ? dx + SW : dx; dy = dy > SH / 2 ? dy - SH : dy < -SH / 2 ? dy + SH : dy; }');
      const near =
        reach.is === 'within' ? `dx * dx + dy * dy <= r${list} * r${list}`
        : reach.is === 'here' ? 'dx === 0 && dy === 0'
        : this.shared.plan.space!.neighbours === 4 ? 'Math.abs(dx) + Math.abs(dy) === 1'
        : 'greatest(Math.abs(dx), Math.abs(dy)) === 1';
      w.block(`if (${near})`, fitting);
    });
  }

  private count(s: Extract<P.Statement, { op: 'count' | 'any' }>): void {
    const list = this.shared.nextList();
    const counter = `c${list}`;
    this.w.block('', () => {
      this.w.line(`let q${list}, ${counter} = 0;`);
      this.w.block(`found${list}:`, () => {
        this.candidates(s.query, list, () => {
          this.w.line(`${counter}++;`);
          if (s.op === 'any') this.w.line(`break found${list};`);
        });
      });
      this.w.line(`L${s.local} = ${counter};`);
    });
  }

  /** The candidates of a query in a list, in order of number. Gives the names of list and length. */
  private listed(query: P.Query, list: number): void {
    const { w } = this;
    w.line(`let q${list}, n${list} = 0;`);
    if (query.reach.is === 'all') w.line(`q${list} = lists.get(${list}, k${query.kind}.used);`);
    this.candidates(query, list, () => w.line(`q${list}[n${list}++] = L${query.candidate};`));
    if (query.reach.is !== 'all') w.line(`sortSlots(q${list}, n${list});`);
  }

  private gather(s: Extract<P.Statement, { op: 'gather' }>): void {
    const { w } = this;
    const list = this.shared.nextList();
    w.block('', () => {
      this.listed(s.query, list);
      w.line(`const v${list} = lists.values(${list}, n${list});`);
      w.block(`for (let i = 0; i < n${list}; i++)`, () => {
        w.line(`L${s.query.candidate} = q${list}[i];`);
        this.statements(s.value.statements);
        w.line(`v${list}[i] = ${this.expr(s.value.value)};`);
      });
      w.line(`L${s.local} = gather(${JSON.stringify(s.fn)}, v${list}, n${list}, ${s.level ? this.expr(s.level) : 'undefined'});`);
      if (s.site !== undefined) this.checked(`L${s.local}`, s.site);
    });
  }

  private pick(s: Extract<P.Statement, { op: 'pick' }>): void {
    const { w } = this;
    const list = this.shared.nextList();
    w.line(`let f${list} = -1;`);
    w.block('', () => {
      this.listed(s.query, list);
      if (s.how !== 'random' && s.how !== 'first') this.keepBest(s, list);
      w.block(`if (n${list} > 0)`, () => {
        if (s.how === 'first') w.line(`f${list} = q${list}[0];`);
        else {
          const pickOne = (): void => {
            this.word('w1');
            w.line(`f${list} = q${list}[Math.floor((w1 * n${list}) / 4294967296)];`);
          };
          if (s.how === 'random') pickOne();
          else {
            w.block(`if (n${list} > 1)`, pickOne);
            w.line(`else f${list} = q${list}[0];`);
          }
        }
      });
    });
    w.block(`if (f${list} >= 0)`, () => {
      w.line(`L${s.local} = f${list};`);
      this.statements(s.found);
    });
    if (s.nobody.length) w.block('else', () => this.statements(s.nobody));
  }

  /** Leaves in the list only those that share the best score, in order. */
  private keepBest(s: Extract<P.Statement, { op: 'pick' }>, list: number): void {
    const { w } = this;
    const k = s.query.kind;
    const b = this.keepsPositions(k) ? 'b' : '';
    if (s.from) w.line(`const fx${list} = ${this.expr(s.from.x)}, fy${list} = ${this.expr(s.from.y)};`);
    w.line(`let best${list} = -Infinity, e${list} = 0;`);
    w.block(`for (let i = 0; i < n${list}; i++)`, () => {
      w.line(`const j = q${list}[i];`);
      if (s.how === 'nearest') {
        w.line(`let dx = k${k}_${b}x[j] - fx${list}, dy = k${k}_${b}y[j] - fy${list};`);
        w.line('if (WRAPS) { dx = dx > SW / 2 ? dx - SW : dx < -SW / 2 ? dx + SW : dx; dy = dy > SH / 2 ? dy - SH : dy < -SH / 2 ? dy + SH : dy; }');
        w.line('const score = -(dx * dx + dy * dy);');
      } else {
        w.line(`L${s.query.candidate} = j;`);
        this.statements(s.by!.statements);
        w.line(`const score = ${s.how === 'most' ? '' : '-'}${this.expr(s.by!.value)};`);
      }
      w.line(`if (score > best${list}) { best${list} = score; q${list}[0] = j; e${list} = 1; } else if (score === best${list}) q${list}[e${list}++] = j;`);
    });
    w.line(`n${list} = e${list};`);
  }

  private each(s: Extract<P.Statement, { op: 'each' }>): void {
    const { w } = this;
    const list = this.shared.nextList();
    const k = s.query.kind;
    const c = `L${s.query.candidate}`;
    w.block('', () => {
      this.listed(s.query, list);
      if (s.shuffled) {
        w.block(`for (let i = n${list} - 1; i > 0; i--)`, () => {
          this.word('w1');
          w.line(`const j = Math.floor((w1 * (i + 1)) / 4294967296), h = q${list}[i]; q${list}[i] = q${list}[j]; q${list}[j] = h;`);
        });
      }
      w.block(`for (let i${list} = 0; i${list} < n${list}; i${list}++)`, () => {
        w.line(`${c} = q${list}[i${list}];`);
        w.line(`if (!(k${k}_alive[${c}] & 1)) continue;`);
        if (s.recheck && s.query.where) {
          this.statements(s.query.where.statements);
          w.line(`if (!(${this.test(s.query.where.value)})) continue;`);
          w.line(`${c} = q${list}[i${list}];`);
        }
        this.statements(s.body);
        if (this.options.actorKind !== undefined && removesAgents(s.body)) w.line(`if (!(k${this.options.actorKind}_alive[L0] & 1)) break turn;`);
      });
    });
  }

  // Writes

  private write(s: Extract<P.Statement, { op: 'write' }>): void {
    const { w } = this;
    const own = this.options.atOnce && !s.agent.fresh ? this.options.touch.contested.get(columnKey(s.kind, s.column)) : undefined;
    if (own === undefined) {
      const target = `k${s.kind}_a${s.column}[L${s.agent.local}]`;
      w.line(`p = ${applied(target, s.how, this.expr(s.value))};`);
      this.checked('p', s.site);
      w.line(`${target} = p;`);
      return;
    }
    w.line(`p = ${this.expr(s.value)};`);
    this.checked('p', s.site);
    const contribute = `writes.attribute(${attributeColumnId(s.kind, s.column)}, L${s.agent.local}, ${JSON.stringify(s.how)}, p);`;
    if (!s.agent.own) w.line(contribute);
    else {
      const held = `o${s.kind}_${s.column}`;
      w.line(own === '=' ? `os${s.kind}_${s.column} = true;` : contribute);
      w.line(`${held} = ${applied(held, s.how, 'p')};`);
      this.checked(held, s.site);
    }
  }

  private writeField(s: Extract<P.Statement, { op: 'write field' }>): void {
    const { w } = this;
    const cell = `c${s.field}(${this.expr(s.x)}, ${this.expr(s.y)})`;
    w.block('', () => {
      w.line(`const cell = ${cell};`);
      w.line(`p = ${this.expr(s.value)};`);
      if (this.options.atOnce) {
        this.checked('p', s.site);
        w.line(`writes.field(${s.field}, cell, ${JSON.stringify(s.how)}, p);`);
        return;
      }
      w.line(`p = ${applied(`g${s.field}_v[cell]`, s.how, 'p')};`);
      this.checked('p', s.site);
      w.line(`g${s.field}_v[cell] = ${this.shared.plan.fields[s.field]!.keep ? `clip(p, lo${s.field}, hi${s.field})` : 'p'};`);
    });
  }

  private become(s: Extract<P.Statement, { op: 'become' }>): void {
    const { w } = this;
    const counter = this.shared.plan.kinds[s.kind]!.machines[s.machine]!.firstCounter;
    const target = `k${s.kind}_s${s.machine}[L${s.agent.local}]`;
    if (s.agent.fresh) w.line(`W.entered[${counter + s.state}]++;`);
    else w.line(`if (k${s.kind}_alive[L${s.agent.local}] & 1) { W.left[${counter} + ${target}]++; W.entered[${counter + s.state}]++; }`);
    w.line(`${target} = ${s.state};`);
  }

  private move(s: Extract<P.Statement, { op: 'move by' | 'move to' }>): void {
    const { w } = this;
    const k = s.kind;
    const a = `L${s.agent.local}`;
    const space = this.shared.plan.space!;
    w.block('', () => {
      if (s.op === 'move by') {
        w.line(`const d = fin(${this.expr(s.distance)}, ${s.site}, ${this.actorArgs()}), dir = k${k}_dir[${a}];`);
        w.line(`const mx = k${k}_x[${a}] + d * sinDegrees(dir), my = k${k}_y[${a}] + d * cosDegrees(dir);`);
      } else w.line(`const mx = fin(${this.expr(s.x)}, ${s.site}, ${this.actorArgs()}), my = fin(${this.expr(s.y)}, ${s.site}, ${this.actorArgs()});`);
      const isWrappingPlane = space.form === 'plane' && space.edge === 'wrapping';
      const axis = (v: string, size: string): string => (isWrappingPlane ? `wrap(${v}, ${size})` : `placeOnAxis(${v}, ${size}, SP)`);
      w.line(`const tx = ${axis('mx', 'SW')}, ty = ${axis('my', 'SH')};`);
      const go = (): void => {
        w.line(`k${k}_x[${a}] = tx; k${k}_y[${a}] = ty;`);
        if (!this.options.atOnce && this.options.touch.queried.has(k)) w.line(`k${k}.index.move(${a}, tx, ty);`);
        if (s.op === 'move by' && space.edge === 'reflecting') w.line(`k${k}_dir[${a}] = directionAfter(dir, mx, my, SP);`);
      };
      if (!space.oneAgentACell) return go();
      w.line(`const from = k${k}_y[${a}] * SW + k${k}_x[${a}], to = ty * SW + tx;`);
      w.line('if (from !== to && OCC[to]) W.refused++;');
      w.block('else', () => {
        w.line('OCC[from] = 0; OCC[to] = 1;');
        go();
      });
    });
  }

  private drawCell(s: Extract<P.Statement, { op: 'draw cell' }>): void {
    const { w } = this;
    const single = this.shared.plan.space!.oneAgentACell;
    w.block('', () => {
      w.line('let c = 0; const n = SW * SH;');
      w.block(`for (let tries = 0; tries < ${CELL_TRIES}; tries++)`, () => {
        this.word('w1');
        w.line('c = Math.floor((w1 * n) / 4294967296);');
        w.line(single ? 'if (!OCC[c]) break;' : 'break;');
      });
      if (single) w.line('for (let i = 0; i < n && OCC[c]; i++) c = (c + 1) % n;');
      w.line(`L${s.x} = c % SW; L${s.y} = Math.floor(c / SW);`);
    });
  }

  private create(s: Extract<P.Statement, { op: 'create' }>): void {
    const { w } = this;
    const { space } = this.shared.plan;
    const k = s.kind;
    w.block('', () => {
      const at = (e: P.Expr | undefined, size: string): string => (e ? `placeOnAxis(fin(${this.expr(e)}, ${s.site}, ${this.actorArgs()}), ${size}, SP)` : '0');
      w.line(`const cx = ${at(s.x, 'SW')}, cy = ${at(s.y, 'SH')};`);
      const make = (): void => {
        w.line(`if (total() >= W.ceiling) FL(${s.site});`);
        w.line(`L${s.local} = k${k}.add(cx, cy, ${this.options.atOnce ? 2 : 1});`);
        if (space?.oneAgentACell) w.line('OCC[cy * SW + cx] = 1;');
        w.line(`if (k${k}.version !== k${k}_version) { ${reloads(this.shared.plan.kinds[k]!, k)} }`);
        this.statements(s.found);
      };
      if (!space?.oneAgentACell) return make();
      w.line('if (OCC[cy * SW + cx]) W.refused++;');
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
  ];
  kind.columns.forEach((_, i) => names.push([`k${k}_a${i}`, `k${k}.attributes[${i}]`]));
  kind.machines.forEach((_, i) => names.push([`k${k}_s${i}`, `k${k}.states[${i}]`]));
  for (let i = 0; i < kind.dueCount; i++) names.push([`k${k}_d${i}`, `k${k}.due[${i}]`]);
  return names;
}

function reloads(kind: P.KindPlan, k: number): string {
  return [`k${k}_version = k${k}.version`, ...columnNames(kind, k).map(([name, source]) => `${name} = ${source}`)].join('; ') + ';';
}
