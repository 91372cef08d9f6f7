import { formOf } from '../forms/forms.ts';
import { needsNoList } from '../plan/analysis.ts';
import { ExpressionEmitter } from './emit-expression.ts';
import * as P from '../plan/plan.ts';
import { CELL_TRIES } from '../plan/values.ts';

type PickStatement = Extract<P.Statement, { op: 'pick' }>;
type CellsQuery = P.Query & { readonly over: Extract<P.Query['over'], { is: 'cells' }> };

/** Writes queries: loops over candidates, counts, gatherings and picks. */
export abstract class QueryEmitter extends ExpressionEmitter {
  abstract statements(list: readonly P.Statement[]): void;

  protected abstract checked(name: string, site: number): void;

  /** Draws the next word of the agent's stream into a variable. */
  protected word(name: string): void {
    this.w.line(
      `t = Math.imul(s0, 0x9e3779bb); ${name} = Math.imul((t << 5) | (t >>> 27), 5) >>> 0; s1 ^= s0; s0 = ((s0 << 26) | (s0 >>> 6)) ^ s1 ^ (s1 << 9); s1 = (s1 << 13) | (s1 >>> 19);`,
    );
  }

  /** Loops over the candidates of a query, each in its local; agents in reach in no particular order. */
  protected candidates(query: P.Query, list: number, body: () => void): void {
    const c = `L${query.candidate}`;
    const fitting = (): void => {
      if (!query.where) return body();
      this.statements(query.where.statements);
      this.w.block(`if (${this.test(query.where.value)})`, body);
    };
    const { over } = query;
    switch (over.is) {
      case 'agents':
        return this.agents(query, list, fitting);
      case 'cells':
        return this.cells(query as CellsQuery, list, fitting);
      case 'ties':
        return this.ties(over, c, list, fitting);
      case 'list':
        return this.items(query, over, c, list, fitting);
      case 'tally':
        return this.w.block(`for (let j${list} = 0, e = TL[${over.tally}].count; j${list} < e; j${list}++)`, () => {
          this.w.line(`${c} = j${list};`);
          fitting();
        });
    }
  }

  private agents(query: P.Query, list: number, fitting: () => void): void {
    const { reach } = query;
    const k = query.kind;
    const c = `L${query.candidate}`;
    const skip = query.except === undefined ? '' : `${c} === L${query.except}`;
    const b = this.keepsPositions(k) ? 'b' : '';
    const absent =
      query.present && this.shared.plan.kinds[k]!.mayBeNowhere && this.spaceOf(k)
        ? `k${k}_${b}x[${c}] !== k${k}_${b}x[${c}]`
        : '';
    const there = (): void => this.skipGone(k, c, [skip, absent].filter(Boolean).join(' || '));
    if (reach.is === 'all') {
      this.w.block(`for (let j${list} = 0, e = k${k}.used; j${list} < e; j${list}++)`, () => {
        this.w.line(`${c} = j${list};`);
        there();
        fitting();
      });
    } else if (reach.is === 'tied') this.tied(reach, c, there, list, fitting);
    else this.near(query, reach, list, there, fitting);
  }

  /** The arrays of the rows of a network: held in locals of the rule where it leaves the ties alone, else read from `R` and the number of the list. */
  private rows(
    { network, side }: Extract<P.Reach, { is: 'tied' }>,
    list: number,
  ): { start: string; length: string; other: string } {
    const isHeld = this.options.holdsRows && !this.options.effects.movesTies;
    if (!isHeld) this.w.line(`const R${list} = net${network}.rows[${side}];`);
    const part = (name: string): string => (isHeld ? `net${network}_${side}_${name}` : `R${list}.${name}`);
    return { start: part('start'), length: part('length'), other: part('other') };
  }

  private tied(
    reach: Extract<P.Reach, { is: 'tied' }>,
    c: string,
    there: () => void,
    list: number,
    fitting: () => void,
  ): void {
    const { w } = this;
    const a = `L${reach.agent.local}`;
    const rows = this.rows(reach, list);
    const isThere = reach.agent.own && this.options.actorKind !== undefined;
    w.line(
      `const a${list} = ${isThere ? '' : `${a} < 0 ? 0 : `}${rows.start}[${a}], b${list} = ${isThere ? '' : `${a} < 0 ? 0 : `}a${list} + ${rows.length}[${a}];`,
    );
    w.block(`for (let j${list} = a${list}; j${list} < b${list}; j${list}++)`, () => {
      w.line(`${c} = ${rows.other}[j${list}];`);
      there();
      fitting();
    });
  }

  /** Goes through the lists of the buckets that the reach touches; nothing in the body may change them. */
  private near(query: P.Query, reach: P.SpaceReach, list: number, there: () => void, fitting: () => void): void {
    const { w } = this;
    const k = query.kind;
    const c = `L${query.candidate}`;
    const s = this.shared.plan.kinds[k]!.space;
    const space = this.spaceOf(k)!;
    const { isStraight, isOfCells } = formOf(space);
    const isDisc = reach.is === 'within' && isOfCells && isStraight;
    const needsDistance = reach.is === 'within' || reach.is === 'square' || reach.is === 'cross';
    w.line(
      `const x${list} = ${this.expr(reach.x)}, y${list} = ${this.expr(reach.y)}, r${list} = ${needsDistance ? this.expr(reach.distance) : '0'};`,
    );
    const radius = needsDistance
      ? reach.is === 'within' && isStraight
        ? `r${list}`
        : `r${list} * 1.5 + 1`
      : reach.is === 'here'
        ? '0'
        : '2';
    w.block(`if (k${k}.index.range(x${list}, y${list}, ${radius}, WRAPS${s}))`, () => {
      if (isDisc)
        w.line(
          `const isExact${list} = k${k}.index.isExact, half${list} = k${k}.index.halves(r${list}), X${list} = x${list} | 0, Y${list} = y${list} | 0;`,
        );
      w.line(
        `const I${list} = k${k}.index, C${list} = I${list}.columns, D${list} = I${list}.rows, f${list} = I${list}.fromColumn, g${list} = I${list}.toColumn;`,
      );
      const isStanding = this.options.effects.standing.has(k);
      w.line(
        isStanding
          ? `const S${list} = I${list}.start, M${list} = I${list}.members, MX${list} = I${list}.memberX, MY${list} = I${list}.memberY;`
          : `const H${list} = I${list}.head, N${list} = I${list}.next;`,
      );
      w.block(
        `for (let u${list} = I${list}.fromRow, v${list} = I${list}.toRow; u${list} <= v${list}; u${list}++)`,
        () => {
          w.line(
            `const w${list} = (u${list} < 0 ? u${list} + D${list} : u${list} >= D${list} ? u${list} - D${list} : u${list}) * C${list};`,
          );
          if (isDisc) {
            w.line(`let h${list} = f${list}, l${list} = g${list};`);
            w.line(
              `if (isExact${list}) { const half = half${list}[u${list} < Y${list} ? Y${list} - u${list} : u${list} - Y${list}] | 0; if (X${list} - half > h${list}) h${list} = X${list} - half; if (X${list} + half < l${list}) l${list} = X${list} + half; }`,
            );
          }
          const [first, last] = isDisc ? [`h${list}`, `l${list}`] : [`f${list}`, `g${list}`];
          if (isStanding)
            this.sortedRow(list, first, last, () => {
              w.line(`${c} = M${list}[j${list}];`);
              there();
              this.nearTest(reach, list, `MX${list}[j${list}]`, `MY${list}[j${list}]`, fitting);
            });
          else
            this.linkedRow(list, first, last, isDisc && space.oneAgentACell, () => {
              w.line(`${c} = j${list};`);
              there();
              const b = this.keepsPositions(k) ? 'b' : '';
              this.nearTest(reach, list, `k${k}_${b}x[${c}]`, `k${k}_${b}y[${c}]`, fitting);
            });
        },
      );
    });
  }

  /** Those in a row of sorted buckets, in one go, or two where the row goes round the edge. */
  private sortedRow(list: number, first: string, last: string, body: () => void): void {
    const { w } = this;
    w.block(`for (let z${list} = ${first}; z${list} <= ${last};)`, () => {
      w.line(
        `const b${list} = z${list} < 0 ? z${list} + C${list} : z${list} >= C${list} ? z${list} - C${list} : z${list};`,
      );
      w.line(
        `const t${list} = ${last} - z${list} < C${list} - b${list} ? ${last} - z${list} + 1 : C${list} - b${list};`,
      );
      w.block(
        `for (let j${list} = S${list}[w${list} + b${list}], e${list} = S${list}[w${list} + b${list} + t${list}]; j${list} < e${list}; j${list}++)`,
        body,
      );
      w.line(`z${list} += t${list};`);
    });
  }

  /** Those in a row of buckets as linked lists. */
  private linkedRow(list: number, first: string, last: string, isSingle: boolean, body: () => void): void {
    const { w } = this;
    w.block(`for (let z${list} = ${first}; z${list} <= ${last}; z${list}++)`, () => {
      const next = isSingle ? `isExact${list} ? -1 : N${list}[j${list}]` : `N${list}[j${list}]`;
      w.block(
        `for (let j${list} = H${list}[w${list} + (z${list} < 0 ? z${list} + C${list} : z${list} >= C${list} ? z${list} - C${list} : z${list})]; j${list} >= 0; j${list} = ${next})`,
        body,
      );
    });
  }

  /** Whether a candidate at a place is in reach. */
  private nearTest(reach: P.SpaceReach, list: number, x: string, y: string, fitting: () => void): void {
    const { w } = this;
    const s = reach.space;
    const space = this.shared.plan.spaces[s]!;
    const { isStraight, isOfCells } = formOf(space);
    const isPlain = isStraight && (reach.is === 'within' || reach.is === 'here' || reach.is === 'next to');
    if (!isPlain) {
      w.block(`if (isInReach(${JSON.stringify(reach.is)}, r${list}, x${list}, y${list}, ${x}, ${y}, SP${s}))`, fitting);
      return;
    }
    const measure = (): void => {
      w.line(`dx = ${x} - x${list}; dy = ${y} - y${list};`);
      if (space.edge === 'wrapping') w.line(shorterWay(s));
    };
    w.line('let dx = 0, dy = 0;');
    if (reach.is === 'within' && isOfCells) w.block(`if (!isExact${list})`, measure);
    else measure();
    const near =
      reach.is === 'within'
        ? `dx * dx + dy * dy <= r${list} * r${list} && r${list} >= 0`
        : reach.is === 'here'
          ? 'dx === 0 && dy === 0'
          : space.neighbours === 4
            ? 'Math.abs(dx) + Math.abs(dy) === 1'
            : 'greatest(Math.abs(dx), Math.abs(dy)) === 1';
    w.block(`if (${near})`, fitting);
  }

  private ties(over: Extract<P.Query['over'], { is: 'ties' }>, c: string, list: number, fitting: () => void): void {
    const { w } = this;
    const n = over.network;
    if (!over.agent) {
      w.block(`for (let j${list} = 0; j${list} < net${n}.count; j${list}++)`, () => {
        w.line(`${c} = j${list};`);
        w.line(`if (!net${n}.there[${c}]) continue;`);
        fitting();
      });
      return;
    }
    const a = `L${over.agent.local}`;
    w.line(`const R${list} = net${n}.rows[${over.side}];`);
    w.block(
      `for (let j${list} = R${list}.start[${a}], e${list} = j${list} + R${list}.length[${a}]; j${list} < e${list}; j${list}++)`,
      () => {
        w.line(`${c} = R${list}.tie[j${list}];`);
        fitting();
      },
    );
  }

  private items(
    query: P.Query,
    over: Extract<P.Query['over'], { is: 'list' }>,
    c: string,
    list: number,
    fitting: () => void,
  ): void {
    const { w } = this;
    const a = `L${over.agent.local}`;
    w.block(
      `for (let j${list} = 0, e${list} = k${over.owner}_a${over.column}[${a}]; j${list} < e${list}; j${list}++)`,
      () => {
        if (over.ofAgents) {
          w.line(`${c} = k${query.kind}.slotOf(k${over.owner}.attributes[${over.column + 1} + j${list}][${a}]);`);
          w.line(`if (${c} < 0) continue;`);
        } else w.line(`${c} = j${list};`);
        fitting();
      },
    );
  }

  // Cells

  private cells(query: CellsQuery, list: number, fitting: () => void): void {
    const { w } = this;
    const { reach, over } = query;
    const raster = this.raster(over.raster);
    const s = P.spaceOfRaster(this.shared.plan, over.raster);
    const isOwnNeighbour =
      reach.is === 'next to' &&
      this.options.cell !== undefined &&
      this.shared.plan.spaces[s]!.neighbours === 8 &&
      isOwnCell(reach.x);
    w.line(`const q${list} = lists.get(${list}, ${raster}.columns * ${raster}.rows);`);
    if (reach.is === 'all' || reach.is === 'tied')
      w.line(`const m${list} = cellsInto(${raster}, SP${s}, "all", 0, 0, 0, q${list});`);
    else {
      const args = `${raster}, SP${s}, ${JSON.stringify(reach.is)}, ${this.expr(reach.distance)}, ${this.expr(reach.x)}, ${this.expr(reach.y)}, q${list}`;
      w.line(
        `const m${list} = ${isOwnNeighbour ? `isInner ? eightInto(${this.options.cell}, ${raster}.columns, q${list}) : ` : ''}cellsInto(${args});`,
      );
    }
    w.block(`for (let j${list} = 0; j${list} < m${list}; j${list}++)`, () => {
      w.line(`L${query.candidate} = q${list}[j${list}];`);
      if (over.empty) w.line(`if (OCC${s}[L${query.candidate}]) continue;`);
      fitting();
    });
  }

  /** A random cell of a reach by steps drawn from here, while that finds one soon; leaves -1 if the cells must be listed. */
  private drawCellNear(s: PickStatement, list: number): void {
    const { w } = this;
    const query = s.query as CellsQuery;
    const { reach, over } = query;
    const on = P.spaceOfRaster(this.shared.plan, over.raster);
    if (reach.is === 'all' || reach.is === 'tied' || !formOf(this.shared.plan.spaces[on]!).isOfCells) return;
    const raster = this.raster(over.raster);
    const distance = this.shared.lasting('-1');
    const disc = this.shared.lasting('undefined');
    w.line(`const d${list} = ${this.expr(reach.distance)}, x${list} = ${this.expr(reach.x)};`);
    w.line(
      `if (d${list} !== ${distance}) { ${distance} = d${list}; ${disc} = DISCS${on}.get(${raster}, ${JSON.stringify(reach.is)}, d${list}); }`,
    );
    w.block(`if (${disc} && x${list} === x${list})`, () => {
      w.line(`const own${list} = cellAt(x${list}, ${this.expr(reach.y)}, ${raster}, SP${on});`);
      w.block(`for (let tries = 0; tries < ${CELL_TRIES}; tries++)`, () => {
        this.word('w1');
        w.line(`const cell = DISCS${on}.at(${raster}, ${disc}, own${list}, w1);`);
        w.line(`if (cell < 0${over.empty ? ` || OCC${on}[cell]` : ''}) continue;`);
        if (query.where) {
          w.line(`L${query.candidate} = cell;`);
          this.statements(query.where.statements);
          w.line(`if (!(${this.test(query.where.value)})) continue;`);
        }
        w.line(`f${list} = cell;`);
        w.line('break;');
      });
    });
  }

  // Counting and gathering

  protected count(s: Extract<P.Statement, { op: 'count' | 'any' }>): void {
    if (s.op === 'count' && this.countKept(s)) return;
    const list = this.shared.nextList();
    const counter = `c${list}`;
    this.w.block('', () => {
      this.w.line(`let ${counter} = 0;`);
      this.w.block(`found${list}:`, () => {
        const isState = s.op === 'count' ? this.stateTest(s.query.where) : undefined;
        if (isState)
          this.candidates({ ...s.query, where: undefined }, list, () => this.w.line(`${counter} += ${isState};`));
        else {
          this.candidates(s.query, list, () => {
            this.w.line(`${counter}++;`);
            if (s.op === 'any') this.w.line(`break found${list};`);
          });
        }
      });
      this.w.line(`L${s.local} = ${counter};`);
    });
  }

  /** Of a kind that nobody joins or leaves it is known how many are in each state; outside its rules that needs no counting. */
  private countKept({ query, local }: Extract<P.Statement, { op: 'count' | 'any' }>): boolean {
    const { kind, over, reach, where, except } = query;
    if (
      this.options.actorKind !== undefined ||
      over.is !== 'agents' ||
      reach.is !== 'all' ||
      except !== undefined ||
      !this.shared.steady.has(kind)
    )
      return false;
    if (
      (query.present && this.shared.plan.kinds[kind]!.mayBeNowhere) ||
      !this.stateTest(where) ||
      where!.value.op !== 'binary'
    )
      return false;
    const { left, right } = where!.value;
    if (left.op !== 'state' || right.op !== 'number' || left.agent.local !== query.candidate) return false;
    this.w.line(`if (S.areStatesOpen) S.countStates();`);
    this.w.line(`L${local} = IN[${this.shared.plan.kinds[kind]!.machines[left.machine]!.firstCounter + right.value}];`);
    return true;
  }

  /** Whether an agent is in one state, as 1 or 0 without a branch: states are hard to foretell, and a wrong guess costs more than the sum. */
  private stateTest(where: P.Code | undefined): string | undefined {
    if (!where || where.statements.length > 0 || where.value.op !== 'binary' || where.value.fn !== 'is')
      return undefined;
    const { left, right } = where.value;
    return left.op === 'state' && right.op === 'number'
      ? `((${this.expr(left)} ^ ${this.expr(right)}) - 1) >>> 31`
      : undefined;
  }

  /** The candidates of a query in a list, in order. Gives the name of the list; its length is `n` with the number of the list. */
  private listed(query: P.Query, list: number): string {
    const { w } = this;
    const isNear = query.over.is === 'agents' && query.reach.is !== 'all' && query.reach.is !== 'tied';
    const name = `Q${list}`;
    w.line(`let n${list} = 0;`);
    w.line(`const ${name} = lists.get(${this.shared.nextList()}, ${this.roomFor(query)});`);
    this.candidates(query, list, () => w.line(`${name}[n${list}++] = L${query.candidate};`));
    if (isNear) w.line(`sortSlots(${name}, n${list});`);
    return name;
  }

  private roomFor({ over, kind }: P.Query): string {
    switch (over.is) {
      case 'agents':
        return `k${kind}.used`;
      case 'cells':
        return `${this.raster(over.raster)}.columns * ${this.raster(over.raster)}.rows`;
      case 'ties':
        return `net${over.network}.count`;
      case 'list':
        return '64';
      case 'tally':
        return `TL[${over.tally}].count`;
    }
  }

  protected gather(s: Extract<P.Statement, { op: 'gather' }>): void {
    const { w } = this;
    const list = this.shared.nextList();
    w.block('', () => {
      const name = this.listed(s.query, list);
      w.line(`const v${list} = lists.values(${list}, n${list});`);
      w.block(`for (let i = 0; i < n${list}; i++)`, () => {
        w.line(`L${s.query.candidate} = ${name}[i];`);
        this.statements(s.value.statements);
        w.line(`v${list}[i] = ${this.expr(s.value.value)};`);
      });
      w.line(
        `L${s.local} = gather(${JSON.stringify(s.fn)}, v${list}, n${list}, ${s.level ? this.expr(s.level) : 'undefined'});`,
      );
      if (s.site !== undefined) this.checked(`L${s.local}`, s.site);
    });
  }

  // Picking

  protected pick(s: PickStatement): void {
    const { w } = this;
    const list = this.shared.nextList();
    if (this.pickAtOnce(s, list)) return;
    w.line(`let f${list} = -1;`);
    w.block('', () => {
      if (s.how === 'random' && s.query.over.is === 'cells' && !s.weight) {
        this.drawCellNear(s, list);
        w.block(`if (f${list} < 0)`, () => this.pickListed(s, list));
      } else this.pickListed(s, list);
    });
    w.block(`if (f${list} >= 0)`, () => {
      w.line(`L${s.local} = f${list};`);
      this.tellFound(s);
      this.statements(s.found);
    });
    if (s.nobody.length) w.block('else', () => this.statements(s.nobody));
  }

  private tellFound({ query, local, site }: PickStatement): void {
    if (this.shared.traces && query.kind >= 0 && query.over.is === 'agents')
      this.w.line(
        `if (tr) TR.note({ is: "found", site: ${site}, kind: ${query.kind}, number: k${query.kind}.number[L${local}] });`,
      );
  }

  /** A random one of all, or of those tied to one, needs no list. */
  private pickAtOnce(s: PickStatement, list: number): boolean {
    const { w } = this;
    const { query } = s;
    const { reach, kind } = query;
    if (s.how !== 'random' || s.weight || query.where || query.over.is !== 'agents') return false;
    if (query.present && this.shared.plan.kinds[kind]!.mayBeNowhere) return false;
    if (reach.is !== 'all' && reach.is !== 'tied') return false;
    w.block('', () => {
      const take = reach.is === 'all' ? this.ofAll(query, list) : this.ofTied(reach, list);
      w.block(`if (m${list} > 0)`, () => {
        this.word('w1');
        take(`L${s.local}`);
        this.tellFound(s);
        this.statements(s.found);
      });
      if (s.nobody.length) w.block('else', () => this.statements(s.nobody));
    });
    return true;
  }

  /** How many there are, and how the drawn one is found. */
  private ofAll(query: P.Query, list: number): (target: string) => void {
    const { w } = this;
    const { kind, except } = query;
    const isSteady = this.shared.steady.has(kind);
    const living =
      isSteady && this.options.holdsRows && kind === this.options.actorKind ? `k${kind}_living` : `k${kind}.living`;
    const others = except === undefined ? '' : isSteady ? ' - 1' : ` - (k${kind}_alive[L${except}] & 1)`;
    w.line(`const m${list} = ${living}${others};`);
    const shift = except === undefined ? `p${list}` : `p${list} + (p${list} >= L${except} ? 1 : 0)`;
    return (target) => {
      w.line(`const p${list} = Math.floor((w1 * m${list}) / 4294967296);`);
      w.line(
        isSteady
          ? `${target} = ${shift};`
          : `${target} = ${living} === k${kind}.used ? ${shift} : k${kind}.livingAt(p${list}, ${except === undefined ? '-1' : `L${except}`});`,
      );
    };
  }

  private ofTied(reach: Extract<P.Reach, { is: 'tied' }>, list: number): (target: string) => void {
    const { w } = this;
    const rows = this.rows(reach, list);
    const agent = `L${reach.agent.local}`;
    w.line(`const m${list} = ${agent} >= 0 ? ${rows.length}[${agent}] : 0;`);
    return (target) =>
      w.line(`${target} = ${rows.other}[${rows.start}[${agent}] + Math.floor((w1 * m${list}) / 4294967296)];`);
  }

  private pickListed(s: PickStatement, list: number): void {
    const { w } = this;
    const name = this.listed(s.query, list);
    if (s.weight) {
      this.weighted(s, s.weight, name, list);
      return;
    }
    if (s.how !== 'random' && s.how !== 'first') this.keepBest(s, name, list);
    w.block(`if (n${list} > 0)`, () => {
      const pickOne = (): void => {
        this.word('w1');
        w.line(`f${list} = ${name}[Math.floor((w1 * n${list}) / 4294967296)];`);
      };
      if (s.how === 'first') w.line(`f${list} = ${name}[0];`);
      else if (s.how === 'random') pickOne();
      else {
        w.block(`if (n${list} > 1)`, pickOne);
        w.line(`else f${list} = ${name}[0];`);
      }
    });
  }

  private weighted(s: PickStatement, weight: P.Code, name: string, list: number): void {
    const { w } = this;
    w.line(`const v${list} = lists.values(${list}, n${list}); let sum${list} = 0;`);
    w.block(`for (let i = 0; i < n${list}; i++)`, () => {
      w.line(`L${s.query.candidate} = ${name}[i];`);
      this.statements(weight.statements);
      w.line(`p = ${this.expr(weight.value)};`);
      w.line(`if (!(p >= 0)) F(${s.site}, p, ${this.actorArgs()});`);
      this.checked('p', s.site);
      w.line(`v${list}[i] = p; sum${list} += p;`);
    });
    w.block(`if (sum${list} > 0)`, () => {
      this.word('w1');
      this.word('w2');
      w.line(`const luck = drawUnit(w1, w2) * sum${list}; let reached = 0;`);
      w.block(`for (let i = 0; i < n${list}; i++)`, () => {
        w.line(`if (!(v${list}[i] > 0)) continue;`);
        w.line(`reached += v${list}[i]; f${list} = ${name}[i];`);
        w.line('if (luck < reached) break;');
      });
    });
  }

  /** Leaves in the list only those that share the best score, in order. */
  private keepBest(s: PickStatement, name: string, list: number): void {
    const { w } = this;
    if (s.from) w.line(`const fx${list} = ${this.expr(s.from.x)}, fy${list} = ${this.expr(s.from.y)};`);
    w.line(`let best${list} = -Infinity, e${list} = 0;`);
    w.block(`for (let i = 0; i < n${list}; i++)`, () => {
      w.line(`const j = ${name}[i];`);
      if (s.how === 'nearest') this.nearScore(s.query, list);
      else {
        w.line(`L${s.query.candidate} = j;`);
        this.statements(s.by!.statements);
        w.line(`const score = ${s.how === 'most' ? '' : '-'}${this.expr(s.by!.value)};`);
      }
      w.line(
        `if (score > best${list}) { best${list} = score; ${name}[0] = j; e${list} = 1; } else if (score === best${list}) ${name}[e${list}++] = j;`,
      );
    });
    w.line(`n${list} = e${list};`);
  }

  private nearScore(query: P.Query, list: number): void {
    const { w } = this;
    if (query.over.is === 'cells') {
      const raster = this.raster(query.over.raster);
      const s = P.spaceOfRaster(this.shared.plan, query.over.raster);
      w.line(
        `const score = -squareBetween(fx${list}, fy${list}, cellX(j, ${raster}, SP${s}), cellY(j, ${raster}, SP${s}), SP${s});`,
      );
      return;
    }
    const k = query.kind;
    const b = this.keepsPositions(k) ? 'b' : '';
    const s = this.shared.plan.kinds[k]!.space;
    const space = this.spaceOf(k)!;
    if (!formOf(space).isStraight) {
      w.line(`const score = -squareBetween(fx${list}, fy${list}, k${k}_${b}x[j], k${k}_${b}y[j], SP${s});`);
      return;
    }
    w.line(`let dx = k${k}_${b}x[j] - fx${list}, dy = k${k}_${b}y[j] - fy${list};`);
    if (space.edge === 'wrapping') w.line(shorterWay(s));
    w.line('const score = -(dx * dx + dy * dy);');
  }

  // Going through them one by one

  protected each(s: Extract<P.Statement, { op: 'each' }>): void {
    const { w } = this;
    const list = this.shared.nextList();
    const { over, kind } = s.query;
    const c = `L${s.query.candidate}`;
    if (needsNoList(s)) {
      w.block('', () => this.candidates(s.query, list, () => this.statements(s.body)));
      return;
    }
    w.block('', () => {
      const name = this.listed(s.query, list);
      if (s.shuffled) {
        w.block(`for (let i = n${list} - 1; i > 0; i--)`, () => {
          this.word('w1');
          w.line(
            `const j = Math.floor((w1 * (i + 1)) / 4294967296), h = ${name}[i]; ${name}[i] = ${name}[j]; ${name}[j] = h;`,
          );
        });
      }
      const end = s.most === undefined ? `n${list}` : `least(n${list}, ${s.most})`;
      w.block(`for (let i${list} = 0, z${list} = ${end}; i${list} < z${list}; i${list}++)`, () => {
        w.line(`${c} = ${name}[i${list}];`);
        if (kind >= 0) this.skipGone(kind, c);
        if (over.is === 'ties') w.line(`if (!net${over.network}.there[${c}]) continue;`);
        if (s.recheck && s.query.where) {
          this.statements(s.query.where.statements);
          w.line(`if (!(${this.test(s.query.where.value)})) continue;`);
          w.line(`${c} = ${name}[i${list}];`);
        }
        this.statements(s.body);
        this.afterMeeting(s.body);
      });
    });
  }

  /** If the actor is gone its turn ends. */
  protected abstract afterMeeting(body: readonly P.Statement[]): void;
}

/** On a wrapping space the shorter of the ways dx, dy. */
function shorterWay(s: number): string {
  const on = (v: string, size: string): string =>
    `${v} = ${v} > ${size} / 2 ? ${v} - ${size} : ${v} < -${size} / 2 ? ${v} + ${size} : ${v};`;
  return `${on('dx', `SW${s}`)} ${on('dy', `SH${s}`)}`;
}

function isOwnCell(x: P.Expr): boolean {
  return x.op === 'cell x' && x.cell.op === 'own cell';
}
