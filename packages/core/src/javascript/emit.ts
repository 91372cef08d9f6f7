import type { RuleEffects } from '../plan/analysis.ts';
import { keepsToItself, standingOf, kindsOfFixedSize, effectsOf, visitStatements } from '../plan/analysis.ts';
import type { BodyOptions, EmitShared } from './body-writer.ts';
import { BodyWriter } from './body-writer.ts';
import { columnNames } from './column-names.ts';
import {
  addsField,
  boundsOf,
  emitTest,
  emitValue,
  keepsAttribute,
  keepsField,
  keepsPositions,
  keepsState,
  placedOnAxis,
} from './emit-expression.ts';
import { emitStatements, emitTurn } from './emit-statement.ts';
import * as P from '../plan/plan.ts';
import { attributeColumnId } from '../plan/settling.ts';
import { literal, SourceWriter } from './source-writer.ts';

/** Names of the engine's functions that generated code may call; nothing else is in its reach. */
const ENGINE_FUNCTIONS = [
  'mix',
  'ruleKey0',
  'ruleKey1',
  'agentKey0',
  'agentKey1',
  'exp',
  'log',
  'power',
  'sinDegrees',
  'cosDegrees',
  'tanDegrees',
  'heading',
  'swing',
  'turnTo',
  'chanceOfRate',
  'directionOf',
  'mod',
  'clip',
  'roundHalfUp',
  'drawUnit',
  'drawUniform',
  'drawNormal',
  'drawLognormal',
  'drawExponential',
  'drawGamma',
  'drawBeta',
  'drawWeibull',
  'drawTriangular',
  'drawPoisson',
  'drawBinomial',
  'drawWhole',
  'wrap',
  'stopAtWall',
  'reflect',
  'gridCell',
  'directionAfter',
  'distanceBetween',
  'bearingBetween',
  'squareBetween',
  'wayAlong',
  'hexAlong',
  'isInReach',
  'isInMask',
  'shareBefore',
  'drawInMask',
  'cellAt',
  'cellX',
  'cellY',
  'cellsInto',
  'eightInto',
  'gather',
  'gatherField',
  'gatherTally',
  'recentOf',
  'dueAfter',
  'addToList',
  'least',
  'greatest',
  'sortSlots',
  'keepWithin',
] as const;

const NO_EFFECTS: RuleEffects = effectsOf({ body: { statements: [], locals: 0 } });

/**
 * The source of a function `(W, S, E) => parts` that binds the plan's rules to a state: `W` the world, `S` the populations and fields,
 * `E` the engine's functions. It is called again whenever a population's arrays were replaced, so columns are constants inside.
 *
 * Names in the source, numbers standing for those of the plan: `k0` a population, `k0_alive`, `k0_num`, `k0_x`, `k0_dir` its columns,
 * `k0_a2` an attribute, `k0_b...` a column as it was before a rule that acts all at once; `g1_v` the values of a field, `net0` a network,
 * `SP0` a space, `GR0` the same with its cells, `OCC0` who stands where; `L0` a local of the plan (in a rule the slot of who acts), `s0`
 * and `s1` the key of its luck, `w1` and `w2` two words of it, `p` and `t` values for a moment; `e0` an entry of the order, `turn:` what
 * one agent does in it.
 */
export function emitPlan(plan: P.Plan, traces = false): string {
  return new PlanEmitter(plan, traces).source();
}

class PlanEmitter {
  private readonly w = new SourceWriter();
  private readonly shared: EmitShared;
  private lists = 0;
  private readonly lasting: string[] = [];

  constructor(
    private readonly plan: P.Plan,
    traces: boolean,
  ) {
    this.shared = {
      plan,
      steady: kindsOfFixedSize(plan),
      traces,
      nextList: () => this.lists++,
      lasting: (first) => `V${this.lasting.push(first) - 1}`,
      valueName: ({ id }) => `v${id}`,
    };
  }

  source(): string {
    const { w, plan } = this;
    const head = new SourceWriter();
    head.line('"use strict";');
    head.line(`const { ${ENGINE_FUNCTIONS.join(', ')} } = E;`);
    head.line(
      'const P = W.parameters, lists = S.lists, writes = S.log, CL = S.cellList, TL = S.tallies, TB = S.tables, MAIL = S.mail;',
    );
    head.line(
      'const F = S.fail, FC = S.failCount, FL = S.failCeiling, FR = S.failRounds, FN = S.failNobody, removeAt = S.removeAt, turns = S.turns, total = S.total;',
    );
    head.line('const WE = W.entered, WL = W.left, IN = S.inState;');
    if (this.shared.traces) head.line('const TR = S.trace;');
    plan.spaces.forEach(({ edge }, s) => {
      head.line(
        `const GR${s} = S.grounds[${s}], SP${s} = GR${s} && GR${s}.space, RS${s} = GR${s} && GR${s}.raster, DISCS${s} = GR${s} && GR${s}.discs, OCC${s} = S.occupied[${s}];`,
      );
      head.line(
        `const SW${s} = GR${s} ? SP${s}.width : 0, SH${s} = GR${s} ? SP${s}.height : 0, WRAPS${s} = ${edge === 'wrapping'};`,
      );
    });
    head.line('function fin(v, site, kind, slot) { if (v - v === 0) return v; return F(site, v, kind, slot); }');
    head.line('function finOrEmpty(v, site, kind, slot) { return v !== v ? v : fin(v, site, kind, slot); }');
    plan.kinds.forEach((kind, k) => {
      w.line(`const k${k} = S.populations[${k}];`);
      w.line(
        `const ${columnNames(kind, k)
          .map(([name, source]) => `${name} = ${source}`)
          .join(', ')};`,
      );
    });
    plan.networks.forEach((_, n) => w.line(`const net${n} = S.networks[${n}];`));
    plan.fields.forEach((_, g) => this.fieldConstants(g));
    plan.asked.forEach((body) => this.valueFunction(`v${body.id}`, body));
    plan.fields.forEach((field, g) => this.fieldFunctions(field, g));
    plan.kinds.forEach((kind, k) => this.startFunctions(kind, k));
    plan.networks.forEach((network, n) => this.networkFunctions(network, n));
    plan.schedule.forEach((entry, i) => this.entry(entry, i));
    plan.timeline.forEach((line, i) => this.actFunction(`tl${i}`, line));
    plan.kinds.forEach((kind, k) => this.changeFunctions(kind, k));
    plan.reactions.forEach((reaction, i) => this.reactionFunction(reaction, i));
    plan.records.forEach((record, i) =>
      record.values?.forEach((body, c) => this.agentValue(`rc${i}_${c}`, body, record.kind)),
    );
    plan.kinds.forEach((kind, k) => this.showFunctions(kind, k));
    this.results();
    if (this.lasting.length > 0) head.line(`let ${this.lasting.map((first, i) => `V${i} = ${first}`).join(', ')};`);
    return `${head.toString()}\n${w.toString()}`;
  }

  /** A field's values, and the finding of its cells written out for the form and edge of the space. */
  private fieldConstants(g: number): void {
    const { w } = this;
    const s = this.plan.fields[g]!.space;
    const space = this.plan.spaces[s]!;
    w.line(
      `const g${g} = S.fields[${g}], g${g}_v = g${g} && g${g}.values, g${g}_z = g${g} && g${g}.cell, g${g}_c = g${g} && g${g}.columns, g${g}_r = g${g} && g${g}.rows;`,
    );
    w.block(`function c${g}(x, y)`, () => {
      w.line('if (x !== x || y !== y) return -1;');
      w.line(
        `const i = Math.floor(${placedOnAxis(space, 'x', `SW${s}`)} / g${g}_z), j = Math.floor(${placedOnAxis(space, 'y', `SH${s}`)} / g${g}_z);`,
      );
      w.line(`return (j < g${g}_r ? j : g${g}_r - 1) * g${g}_c + (i < g${g}_c ? i : g${g}_c - 1);`);
    });
  }

  private body(options: BodyOptions): BodyWriter {
    return new BodyWriter(this.shared, this.w, options, emitStatements);
  }

  private results(): void {
    const { w, plan } = this;
    const names = (prefix: string, count: number): string =>
      `[${Array.from({ length: count }, (_, i) => `${prefix}${i}`).join(', ')}]`;
    w.block('return', () => {
      w.line(`values: ${names('v', plan.asked.length)},`);
      w.line(`fieldStarts: [${plan.fields.map((field, g) => (field.start ? `gs${g}` : 'null')).join(', ')}],`);
      w.line(`fieldGrows: [${plan.fields.map((field, g) => (field.grow ? `gg${g}` : 'null')).join(', ')}],`);
      w.line(`fieldBecomes: [${plan.fields.map((field, g) => (field.becomes ? `gb${g}` : 'null')).join(', ')}],`);
      w.line(
        `cellLists: [${plan.kinds.map((kind, k) => `[${kind.starts.map((start, i) => (start.cells?.where ? `cl${k}_${i}` : 'null')).join(', ')}]`).join(', ')}],`,
      );
      w.line(
        `changes: [${plan.kinds.map((kind, k) => `[${kind.machines.map((_, m) => `ch${k}_${m}`).join(', ')}]`).join(', ')}],`,
      );
      w.line(`reactions: ${names('re', plan.reactions.length)},`);
      w.line(`tieFirsts: [${plan.networks.map((network, n) => names(`nf${n}_`, network.firsts.length)).join(', ')}],`);
      w.line(
        `tieAgents: [${plan.networks.map((network, n) => (agentBodyOf(network) ? `nb${n}` : 'null')).join(', ')}],`,
      );
      w.line(
        `records: [${plan.records.map((record, i) => (record.values ? names(`rc${i}_`, record.values.length) : 'null')).join(', ')}],`,
      );
      w.line(
        `starts: [${plan.kinds.map((kind, k) => `[${kind.starts.map((_, i) => `st${k}_${i}`).join(', ')}]`).join(', ')}],`,
      );
      w.line(
        `exacts: [${plan.kinds.map((kind, k) => `[${kind.machines.map((machine, m) => `[${machine.exact.map((_, i) => `ex${k}_${m}_${i}`).join(', ')}]`).join(', ')}]`).join(', ')}],`,
      );
      w.line(`entries: [${plan.schedule.map((entry, i) => (entry.is === 'fields' ? 'null' : `e${i}`)).join(', ')}],`);
      w.line(`acts: ${names('tl', plan.timeline.length)},`);
      w.line(`sizes: [${plan.kinds.map((kind, k) => (kind.show?.size ? `sz${k}` : 'null')).join(', ')}],`);
      w.line(`colours: [${plan.kinds.map((kind, k) => (kind.show?.colourBy ? `co${k}` : 'null')).join(', ')}],`);
    });
  }

  private locals(count: number, from = 0): void {
    const names = Array.from({ length: Math.max(0, count - from) }, (_, i) => `L${i + from} = 0`);
    this.w.line(
      `const wEnd = W.end, wNow = W.now; let s0 = 0, s1 = 1, t = 0, w1 = 0, w2 = 0, p = 0,${this.shared.traces ? ' q = 0, tr = false,' : ''} fx = 0, fy = 0, fi = 0, fj = 0${names.map((name) => `, ${name}`).join('')};`,
    );
  }

  private indices(effects: RuleEffects): void {
    for (const k of effects.queried)
      this.w.line(
        `k${k}.index.${effects.standing.has(k) ? 'sort' : 'ensure'}(SP${this.plan.kinds[k]!.space}, k${k}.alive, k${k}.x, k${k}.y, k${k}.used);`,
      );
  }

  /** Columns of kinds that the body may create are read anew: growing replaces them in the middle of it. */
  private shadows(effects: RuleEffects, acting?: number): void {
    // Held in locals, the acting kind's columns are found once a call instead of once an access.
    if (acting !== undefined && acting >= 0 && !effects.createdKinds.has(acting)) {
      this.w.line(
        `const ${columnNames(this.plan.kinds[acting]!, acting)
          .map(([name, source]) => `${name} = ${source}`)
          .join(', ')};`,
      );
    }
    for (const k of effects.createdKinds) {
      const names = columnNames(this.plan.kinds[k]!, k).map(([name, source]) => `${name} = ${source}`);
      this.w.line(`let k${k}_version = k${k}.version, ${names.join(', ')};`);
    }
  }

  /** Of a rule's kind how many there are, where that is always so; the rows of the networks that it asks for, where it leaves the ties alone. */
  private heldRows(effects: RuleEffects, kind: number): void {
    if (this.shared.steady.has(kind)) this.w.line(`const k${kind}_living = k${kind}.living;`);
    if (effects.movesTies) return;
    for (const side of effects.rowsAsked) {
      const [n, s] = side.split(':');
      this.w.line(
        `const { start: net${n}_${s}_start, length: net${n}_${s}_length, other: net${n}_${s}_other } = net${n}.rows[${s}];`,
      );
    }
  }

  private keepBounds(effects: RuleEffects): void {
    this.plan.fields.forEach((field, g) => {
      if (field.keep && effects.writtenFields.has(g))
        this.w.line(
          `const lo${g} = ${this.shared.valueName(field.keep.min)}(), hi${g} = ${this.shared.valueName(field.keep.max)}();`,
        );
    });
  }

  private effectsOfCode(code: P.Code): RuleEffects {
    return effectsOf({
      body: { statements: [...code.statements, { op: 'set', local: 0, value: code.value }], locals: 0 },
    });
  }

  private valueFunction(name: string, body: P.ValueBody): void {
    const { w } = this;
    const effects = this.effectsOfCode(body);
    const out = this.body({ atOnce: false, effects });
    w.block(`function ${name}()`, () => {
      this.indices(effects);
      const asked = askedKinds(body);
      if (asked.length === 1) this.shadows(effects, asked[0]);
      this.locals(body.locals);
      out.statements(body.statements);
      w.line(`return ${emitValue(out, body.value)};`);
    });
  }

  // Fields

  private fieldFunctions(field: P.FieldPlan, g: number): void {
    if (field.start)
      this.cellLoop(
        `gs${g}`,
        field.start,
        g,
        (value) => {
          this.w.line(`p = ${value};`);
          this.storeCell(field, field.keep);
        },
        field,
      );
    if (field.grow)
      this.cellLoop(
        `gg${g}`,
        field.grow,
        g,
        (value) => {
          const times = `${literal(field.growPerTime ? this.plan.clock.stepLength : 1)} * `;
          this.w.line(`p = g${g}_v[i] + ${times}${value};`);
          // What spreads or fades is clipped only after that.
          this.storeCell(field, field.spread || field.fade || field.becomes ? undefined : field.keep);
        },
        field,
      );
    if (field.becomes)
      this.cellLoop(
        `gb${g}`,
        field.becomes,
        g,
        (value) => {
          this.w.line(`p = ${value};`);
          this.storeCell(field, field.keep);
        },
        field,
      );
  }

  /** Puts p into the cell, kept within bounds; not finite, it stops the run. */
  private storeCell({ site }: P.FieldPlan, keep: P.FieldPlan['keep']): void {
    const { w } = this;
    const check = `if (p - p !== 0) F(${site}, p, -1, -1);`;
    const bounds = keep && boundsOf(keep);
    if (!bounds) {
      w.line(check);
      w.line(`out[i] = ${keep ? 'clip(p, lo, hi)' : 'p'};`);
      return;
    }
    // Inside the bounds, as most cells are, p is surely finite.
    const [low, high] = bounds;
    w.line(`if (p > ${high}) { ${check} p = ${high}; } else if (!(p >= ${low})) { ${check} p = ${low}; }`);
    w.line('out[i] = p;');
  }

  private cellLoop(
    name: string,
    body: P.ValueBody,
    g: number,
    store: (value: string) => void,
    field: P.FieldPlan,
  ): void {
    const { w } = this;
    const effects = this.effectsOfCode(body);
    const out = this.body({ atOnce: false, effects, cell: 'i', ownField: g });
    const asksInner = effects.asksCells && this.plan.spaces[field.space]!.neighbours === 8;
    w.block(`function ${name}(out, key0, key1)`, () => {
      if (field.keep)
        w.line(
          `const lo = ${this.shared.valueName(field.keep.min)}(), hi = ${this.shared.valueName(field.keep.max)}();`,
        );
      this.indices(effects);
      this.locals(Math.max(1, body.locals));
      w.block(`for (let i = 0, n = g${g}_c * g${g}_r; i < n; i++)`, () => {
        if (effects.draws) w.line('s0 = agentKey0(key0, i); s1 = agentKey1(key1, i);');
        if (asksInner)
          w.line(
            `const column = i % g${g}_c, isInner = column > 0 && column < g${g}_c - 1 && i >= g${g}_c && i < n - g${g}_c;`,
          );
        out.statements(body.statements);
        store(emitValue(out, body.value));
      });
    });
  }

  // Agents at the start

  private startFunctions(kind: P.KindPlan, k: number): void {
    const { w } = this;
    kind.starts.forEach((start, i) => {
      const effects = effectsOf({ body: start.one });
      const out = this.body({ atOnce: false, effects });
      w.block(`function st${k}_${i}(count, key0, key1)`, () => {
        this.indices(effects);
        this.shadows(effects);
        this.locals(start.one.locals);
        w.block('for (let i = 0; i < count; i++)', () => {
          w.line('L0 = i;');
          w.line('s0 = agentKey0(key0, i); s1 = agentKey1(key1, i);');
          out.statements(start.one.statements);
        });
      });
    });
    kind.starts.forEach((start, i) => {
      const where = start.cells?.where;
      if (!where) return;
      const effects = this.effectsOfCode(where);
      const out = this.body({ atOnce: false, effects });
      w.block(`function cl${k}_${i}(cells)`, () => {
        this.indices(effects);
        this.locals(Math.max(1, where.locals));
        w.line('let n = 0;');
        w.block('for (let i = 0; i < cells.length; i++)', () => {
          w.line('L0 = cells[i];');
          out.statements(where.statements);
          w.line(`if (${emitTest(out, where.value)}) cells[n++] = cells[i];`);
        });
        w.line('return n;');
      });
    });
    kind.machines.forEach((machine, m) =>
      machine.exact.forEach((exact, i) => {
        const effects = effectsOf({ body: exact.enter });
        const out = this.body({ atOnce: false, effects, actorKind: k });
        w.block(`function ex${k}_${m}_${i}(L0, key0, key1)`, () => {
          this.locals(exact.enter.locals, 1);
          w.line(`s0 = agentKey0(key0, k${k}_num[L0]); s1 = agentKey1(key1, k${k}_num[L0]);`);
          w.block('turn:', () => out.statements(exact.enter.statements));
        });
      }),
    );
  }

  // Rules

  private entry(entry: P.ScheduleEntry, i: number): void {
    if (entry.is === 'fields') return;
    if (entry.is === 'surroundings') {
      const rule = this.plan.rules[entry.rule]!;
      this.actFunction(`e${i}`, rule, this.everyTest(rule));
      return;
    }
    const rules = entry.rules.map((index) => this.plan.rules[index]!);
    if (entry.mode === 'all at once') this.atOnceEntry(rules[0]!, i);
    else if (rules.length === 1) this.soleEntry(rules[0]!, entry, i);
    else this.sharedTurns(rules, entry, i);
  }

  private everyTest(rule: P.RulePlan): string | undefined {
    return rule.every && `W.isMultipleNow(${this.shared.valueName(rule.every)}())`;
  }

  private keys(rule: { readonly key: number }): void {
    this.w.line(`const key0 = ruleKey0(W.seed, W.step, ${rule.key}), key1 = ruleKey1(W.seed, W.step, ${rule.key});`);
  }

  private seedOf(kind: number): string {
    return `s0 = agentKey0(key0, k${kind}_num[L0]); s1 = agentKey1(key1, k${kind}_num[L0]);`;
  }

  private beginTrace(rule: P.RulePlan, k: number): void {
    if (this.shared.traces) this.w.line(`tr = TR.begin(${this.plan.rules.indexOf(rule)}, ${k}, k${k}.number[L0]);`);
  }

  private afterMoves(effects: RuleEffects, always: boolean): void {
    for (const k of effects.movedKinds) if (always || !effects.queried.has(k)) this.w.line(`k${k}.index.invalidate();`);
  }

  private soleEntry(rule: P.RulePlan, entry: Extract<P.ScheduleEntry, { is: 'rules' }>, i: number): void {
    const { w } = this;
    const effects = effectsOf(rule);
    const out = this.body({ atOnce: false, effects, actorKind: rule.kind, holdsRows: true });
    const k = rule.kind;
    w.block(`function e${i}()`, () => {
      const every = this.everyTest(rule);
      if (every) w.line(`if (!${every}) return;`);
      this.indices(effects);
      this.shadows(effects, rule.kind);
      this.heldRows(effects, rule.kind);
      this.keepBounds(effects);
      this.keys(rule);
      this.locals(rule.body.locals);
      // Where no turn can be seen in another, the order of turns makes no difference and need not be drawn.
      const contendsForCells = [...effects.movedKinds].some((moved) => P.spaceOfKind(this.plan, moved)?.tracksCells);
      const isPlain = entry.mode === 'in fixed order' || (effects.orderFree && !contendsForCells);
      const turn = (): void => {
        if (!this.shared.steady.has(k)) w.line(`if (!(k${k}_alive[L0] & 1)) continue;`);
        this.beginTrace(rule, k);
        w.block('turn:', () => emitTurn(out, rule.body.statements, this.seedOf(k)));
      };
      if (isPlain)
        this.eachAgent(rule, effects, effects.orderFree, turn, entry.mode === 'in turn' ? entry.key : undefined);
      else {
        w.line(`const list = turns([k${k}], ${entry.key}, true), n = S.turnCount;`);
        w.block('for (let i = 0; i < n; i++)', () => {
          w.line('L0 = list[i];');
          turn();
        });
      }
      this.afterMoves(effects, false);
    });
  }

  /**
   * Goes through the agents of a rule in the order of their slots; where nobody's turn can be seen from another's and they ask for their
   * own kind by place, in the order of their places, so that those near one another lie near in memory. Where that is not the order of
   * the turns, and somebody's turn fails, those who come before in the order of the turns have theirs: the first failure is told.
   *
   * @param drawn the key by which the order of the turns is drawn, if it is
   */
  private eachAgent(
    rule: P.RulePlan,
    effects: RuleEffects,
    orderFree: boolean,
    turn: () => void,
    drawn?: number,
  ): void {
    const { w } = this;
    const k = rule.kind;
    const byPlace =
      orderFree &&
      effects.standing.has(k) &&
      keepsToItself(rule.body, effects) &&
      !this.plan.kinds[k]!.mayBeNowhere &&
      !P.spaceOfKind(this.plan, k)!.tracksCells;
    if (!byPlace && drawn === undefined) {
      w.block(`for (let slot = 0, n = k${k}.used; slot < n; slot++)`, () => {
        w.line('L0 = slot;');
        turn();
      });
      return;
    }
    const began = effects.removes ? `k${k}.alive.slice(0, k${k}.used)` : `k${k}.alive`;
    w.line(
      `const began = ${began}; let at = 0, n = ${byPlace ? `k${k}.index.count` : `k${k}.used`}, order = ${byPlace ? `k${k}.index.members` : 'undefined'}, failure;`,
    );
    w.block('for (;;)', () => {
      w.block('try', () => {
        w.block('for (; at < n; at++)', () => {
          w.line(byPlace ? 'L0 = order[at];' : 'L0 = order === undefined ? at : order[at];');
          turn();
        });
        w.line('break;');
      });
      w.line(
        `catch (e) { if (failure !== undefined) throw e; failure = e; order = S.turnsBefore(k${k}, began, ${drawn ?? 'undefined'}, order, at); n = S.turnCount; at = 0; }`,
      );
    });
    w.line('if (failure !== undefined) throw failure;');
  }

  /** Several rules on one line share a turn (D25): each agent, in one order of all their kinds, does those that are its own. */
  private sharedTurns(rules: readonly P.RulePlan[], entry: Extract<P.ScheduleEntry, { is: 'rules' }>, i: number): void {
    const { w } = this;
    const kinds = [...new Set(rules.map((rule) => rule.kind))];
    const allEffects = rules.map((rule) => effectsOf(rule));
    const queried = new Set(allEffects.flatMap((effects) => [...effects.queried]));
    const moved = new Set(allEffects.flatMap((effects) => [...effects.movedKinds]));
    const standing = standingOf(
      new Set(allEffects.flatMap((effects) => [...effects.askedFar])),
      moved,
      new Set(allEffects.flatMap((effects) => [...effects.createdKinds])),
    );
    rules.forEach((rule, r) => {
      const effects = { ...allEffects[r]!, queried, standing };
      const out = this.body({ atOnce: false, effects, actorKind: rule.kind });
      w.block(`function e${i}_${r}(L0, key0, key1)`, () => {
        this.shadows(effects, rule.kind);
        this.keepBounds(effects);
        this.locals(rule.body.locals, 1);
        w.line(`if (!(k${rule.kind}.alive[L0] & 1)) return;`);
        if (effects.draws)
          w.line(`s0 = agentKey0(key0, k${rule.kind}.number[L0]); s1 = agentKey1(key1, k${rule.kind}.number[L0]);`);
        this.beginTrace(rule, rule.kind);
        w.block('turn:', () => out.statements(rule.body.statements));
      });
    });
    w.block(`function e${i}()`, () => {
      this.indices({ ...NO_EFFECTS, queried, standing });
      rules.forEach((rule, r) => {
        w.line(
          `const on${r} = ${this.everyTest(rule) ?? 'true'}, a${r} = ruleKey0(W.seed, W.step, ${rule.key}), b${r} = ruleKey1(W.seed, W.step, ${rule.key});`,
        );
      });
      kinds.forEach((_, at) =>
        w.line(`const from${at} = ${at === 0 ? '0' : `from${at - 1} + k${kinds[at - 1]!}.used`};`),
      );
      w.line(
        `const list = turns([${kinds.map((k) => `k${k}`).join(', ')}], ${entry.key}, ${entry.mode === 'in turn'}), n = S.turnCount;`,
      );
      kinds.forEach((k, at) => w.line(`const end${at} = from${at} + k${k}.used;`));
      w.block('for (let i = 0; i < n; i++)', () => {
        w.line('const turn = list[i];');
        kinds.forEach((k, at) => {
          w.block(`if (turn >= from${at} && turn < end${at})`, () => {
            rules.forEach((rule, r) => {
              if (rule.kind === k) w.line(`if (on${r}) e${i}_${r}(turn - from${at}, a${r}, b${r});`);
            });
            w.line('continue;');
          });
        });
      });
      for (const k of moved) if (!queried.has(k)) w.line(`k${k}.index.invalidate();`);
    });
  }

  private atOnceEntry(rule: P.RulePlan, i: number): void {
    const { w } = this;
    // Who moves or comes does so for others when the rule is over.
    const asked = effectsOf(rule);
    const effects = { ...asked, standing: asked.askedFar };
    const out = this.body({ atOnce: true, effects, actorKind: rule.kind, holdsRows: true });
    const k = rule.kind;
    const own = [...effects.contested]
      .filter(([key, how]) => how !== 'none' && key.startsWith(`${k}:`))
      .map(([key, how]) => ({ column: Number(key.split(':')[1]), how }));
    w.block(`function e${i}()`, () => {
      const every = this.everyTest(rule);
      if (every) w.line(`if (!${every}) return;`);
      this.indices(effects);
      this.kept(out);
      this.shadows(effects, rule.kind);
      this.heldRows(effects, rule.kind);
      this.keys(rule);
      this.locals(rule.body.locals);
      this.eachAgent(rule, effects, true, () => {
        if (!this.shared.steady.has(k)) w.line(`if (!(k${k}_alive[L0] & 1)) continue;`);
        for (const { column } of own) {
          const seen = effects.addedColumns.has(`${k}:${column}`) ? `k${k}_ba${column}` : `k${k}_a${column}`;
          w.line(`let o${k}_${column} = ${seen}[L0], os${k}_${column} = false;`);
        }
        this.beginTrace(rule, k);
        w.block('turn:', () => emitTurn(out, rule.body.statements, this.seedOf(k)));
        for (const { column, how } of own) {
          if (how === '=')
            w.line(`if (os${k}_${column}) writes.add(${attributeColumnId(k, column)}, L0, 0, o${k}_${column});`);
        }
      });
      this.keepAdded(out);
      w.line(`S.settle(${rule.key});`);
      const moves = effects.movedKinds.size > 0;
      if (moves && P.spaceOfKind(this.plan, k)?.oneAgentACell) w.line(`S.settleMoves(${k}, ${rule.key});`);
      this.afterMoves(effects, true);
      w.line('S.runLater();');
      if (effects.removes || effects.createdKinds.size > 0) w.line('S.endOfRule();');
      if ([...effects.movedKinds].some((moved) => P.spaceOfKind(this.plan, moved)?.tracksCells))
        w.line('S.countCells();');
      if (effects.changes) w.line(`S.settleChanges(${rule.key});`);
      if (this.plan.tallies.length > 0) w.line('for (let i = 0; i < TL.length; i++) TL[i].settle();');
    });
  }

  /** Fields that were only added to are kept within their bounds when all have added. */
  private keepAdded(out: BodyWriter): void {
    this.plan.fields.forEach((field, g) => {
      if (field.keep && addsField(out, g))
        this.w.line(
          `keepWithin(g${g}_v, ${this.shared.valueName(field.keep.min)}(), ${this.shared.valueName(field.keep.max)}());`,
        );
    });
  }

  private kept(out: BodyWriter): void {
    const { w } = this;
    this.plan.fields.forEach((_, g) => {
      if (keepsField(out, g)) w.line(`const g${g}_b = S.keepField(${g});`);
    });
    this.plan.kinds.forEach((kind, k) => {
      if (keepsPositions(out, k)) {
        w.line(`k${k}.keepPositions();`);
        w.line(
          `const k${k}_bx = k${k}.before.x, k${k}_by = k${k}.before.y, k${k}_bdir = k${k}.before.direction, k${k}_bsin = k${k}.before.sine, k${k}_bcos = k${k}.before.cosine;`,
        );
      }
      kind.columns.forEach((_, c) => {
        if (!keepsAttribute(out, k, c)) return;
        w.line(`k${k}.keepAttribute(${c});`);
        w.line(`const k${k}_ba${c} = k${k}.before.attributes[${c}];`);
      });
      kind.machines.forEach((_, m) => {
        if (!keepsState(out, k, m)) return;
        w.line(`k${k}.keepStates(${m});`);
        w.line(`const k${k}_bs${m} = k${k}.before.states[${m}];`);
      });
    });
  }

  /** What the timeline or the surroundings do: nobody acts. */
  private actFunction(name: string, line: { readonly body: P.Body; readonly key: number }, test?: string): void {
    const { w } = this;
    const effects = effectsOf(line);
    const out = this.body({ atOnce: false, effects });
    w.block(`function ${name}()`, () => {
      if (test) w.line(`if (!${test}) return;`);
      this.indices(effects);
      this.shadows(effects);
      this.keepBounds(effects);
      this.keys(line);
      this.locals(line.body.locals);
      w.line('s0 = agentKey0(key0, 0); s1 = agentKey1(key1, 0);');
      w.block('turn:', () => out.statements(line.body.statements));
    });
  }

  /** What one agent does by itself, outside of the rules: when a message reaches it, when others have set its machine. */
  private soloFunction(name: string, kind: number, body: P.Body, given: string, from: number): void {
    const { w } = this;
    const effects = effectsOf({ body });
    const out = this.body({ atOnce: false, effects, actorKind: kind });
    w.block(`function ${name}(${given}, key0, key1)`, () => {
      this.indices(effects);
      this.shadows(effects);
      this.keepBounds(effects);
      this.locals(body.locals, from);
      w.line(`s0 = agentKey0(key0, k${kind}.number[L0]); s1 = agentKey1(key1, k${kind}.number[L0]);`);
      w.block('turn:', () => out.statements(body.statements));
      this.afterMoves(effects, false);
    });
  }

  private changeFunctions(kind: P.KindPlan, k: number): void {
    kind.machines.forEach((machine, m) => {
      this.soloFunction(`ch${k}_${m}`, k, machine.change, 'L0, L1', 2);
    });
  }

  private reactionFunction(reaction: P.ReactionPlan, i: number): void {
    this.soloFunction(`re${i}`, reaction.kind, reaction.body, 'L0, M', 1);
  }

  // Networks and records

  private networkFunctions(network: P.NetworkPlan, n: number): void {
    const { w } = this;
    network.firsts.forEach((first, c) => {
      const effects = this.effectsOfCode(first);
      const out = this.body({ atOnce: false, effects });
      w.block(`function nf${n}_${c}(i, key0, key1)`, () => {
        this.indices(effects);
        this.locals(first.locals);
        w.line('s0 = agentKey0(key0, i); s1 = agentKey1(key1, i);');
        out.statements(first.statements);
        w.line(`return ${emitValue(out, first.value)};`);
      });
    });
    const ofEach = agentBodyOf(network);
    if (ofEach) this.agentValue(`nb${n}`, ofEach, network.from);
  }

  private agentValue(name: string, body: P.ValueBody, kind: number): void {
    const { w } = this;
    const effects = this.effectsOfCode(body);
    const out = this.body({ atOnce: false, effects, actorKind: kind });
    w.block(`function ${name}(L0)`, () => {
      this.indices(effects);
      this.locals(body.locals, 1);
      out.statements(body.statements);
      w.line(`return ${emitValue(out, body.value)};`);
    });
  }

  // Drawing

  private showFunctions(kind: P.KindPlan, k: number): void {
    if (kind.show?.size) this.showFunction(`sz${k}`, kind.show.size, k);
    if (kind.show?.colourBy) this.showFunction(`co${k}`, kind.show.colourBy, k);
  }

  private showFunction(name: string, body: P.ValueBody, k: number): void {
    const { w } = this;
    const effects = this.effectsOfCode(body);
    const out = this.body({ atOnce: false, effects, actorKind: k });
    w.block(`function ${name}(out)`, () => {
      this.indices(effects);
      this.locals(Math.max(1, body.locals));
      w.line('let at = 0;');
      w.block(`for (let slot = 0; slot < k${k}.used; slot++)`, () => {
        w.line('L0 = slot;');
        w.line(`if (!(k${k}_alive[L0] & 1)) continue;`);
        out.statements(body.statements);
        w.line(`out[at++] = ${emitValue(out, body.value)};`);
      });
    });
  }
}

/** What the makers of a network ask of each agent. */
export function agentBodyOf({ maker }: P.NetworkPlan): P.ValueBody | undefined {
  return maker.is === 'blocks' ? maker.by : maker.is === 'groups' ? maker.where : undefined;
}

/** The kinds whose agents a value asks about. */
function askedKinds(body: P.Code): number[] {
  const kinds = new Set<number>();
  visitStatements([...body.statements, { op: 'set', local: 0, value: body.value }], {
    query: (query) => kinds.add(query.kind),
  });
  return [...kinds];
}
