import { PURE_FUNCTIONS } from '../plan/functions.ts';
import { formOf } from '../forms/forms.ts';
import { FORM_CODE } from './form-code.ts';
import { cosDegrees, sinDegrees } from '../math.ts';
import type { RuleEffects } from '../plan/analysis.ts';
import { columnKey } from '../plan/analysis.ts';
import * as P from '../plan/plan.ts';
import type { SourceWriter } from './source-writer.ts';
import { literal } from './source-writer.ts';

/** What the emitter of one body needs to know about the whole. */
export interface EmitShared {
  readonly plan: P.Plan;
  /** Kinds whose slots are all alive, always. */
  readonly steady: ReadonlySet<number>;
  /** Whether the code tells what one agent goes through. */
  readonly traces: boolean;
  /** Gives a scratch list of its own to each query. */
  nextList(): number;
  /** Declares a variable that lasts from call to call, and gives its name. */
  lasting(first: string): string;
  /** Name of the function that gives a value body. */
  valueName(body: P.AskedBody): string;
}

export interface BodyOptions {
  /** Kind of the acting agent, held in local 0. */
  readonly actorKind?: number;
  readonly atOnce: boolean;
  readonly effects: RuleEffects;
  /** In bodies of fields: the index expression of the own cell, and the field. */
  readonly cell?: string;
  readonly ownField?: number;
  /** Whether the function around the body has the rows of all networks in locals. */
  readonly holdsRows?: boolean;
}

const BINARY: Record<Exclude<P.BinaryFunction, 'and' | 'or'>, string> = {
  '+': '+',
  '-': '-',
  '*': '*',
  '/': '/',
  '<': '<',
  '<=': '<=',
  '>': '>',
  '>=': '>=',
  is: '===',
  'is not': '!==',
};
const TRUTHS = new Set<P.BinaryFunction>(['<', '<=', '>', '>=', 'is', 'is not', 'and', 'or']);
const CLOCK: Record<P.ClockValue, string> = {
  now: 'wNow',
  'step length': 'W.stepLength',
  'end of step': 'wEnd',
  hour: 'W.hour',
  weekday: 'W.weekday',
  month: 'W.month',
  year: 'W.year',
  'day of year': 'W.dayOfYear',
  date: 'W.date',
};

/** The bounds of a field as code, if they stand in the text as numbers. */
export function boundsOf({ min, max }: NonNullable<P.FieldPlan['keep']>): readonly [string, string] | undefined {
  if (min.value.op !== 'number' || max.value.op !== 'number' || min.value.value > max.value.value) return undefined;
  return [literal(min.value.value), literal(max.value.value)];
}

/** Code that brings a coordinate into a space, as `placeOnAxis` does, with form and edge known. */
export function placedOnAxis({ form, edge }: P.SpacePlan, v: string, size: string): string {
  return FORM_CODE[form].bringIn(v, size, edge);
}

/** Writes the expressions of one body as JavaScript. */
export class ExpressionEmitter {
  constructor(
    protected readonly shared: EmitShared,
    protected readonly w: SourceWriter,
    protected readonly options: BodyOptions,
  ) {}

  expr(e: P.Expr): string {
    const { plan } = this.shared;
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
        return `${e.axis === 'width' ? 'SW' : 'SH'}${e.space}`;
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
      case 'is there':
        return `(k${e.kind}_alive[L${e.agent.local}] & 1)`;
      case 'somebody':
        return `(L${e.local} >= 0 ? 1 : 0)`;
      case 'number or 0':
        return `(L${e.local} >= 0 ? k${e.kind}_num[L${e.local}] : 0)`;
      case 'field':
        return `${this.fieldValues(e.field)}[${this.cellIndex(e.field, e.x, e.y)}]`;
      case 'field cell':
        return `${this.fieldValues(e.field)}[${this.expr(e.cell)}]`;
      case 'cell':
        return `${this.fieldValues(e.field)}[${this.options.cell ?? '0'}]`;
      case 'own cell':
        return this.options.cell ?? '0';
      case 'cell x':
        return this.cellCentre(e.raster, this.expr(e.cell), 'x');
      case 'cell y':
        return this.cellCentre(e.raster, this.expr(e.cell), 'y');
      case 'cell at':
        return `cellAt(${this.expr(e.x)}, ${this.expr(e.y)}, ${this.raster(e.raster)}, SP${P.spaceOfRaster(plan, e.raster)})`;
      case 'listed cell':
        return `CL.cells[${this.expr(e.index)}]`;
      case 'is nowhere':
        return `isNaN(${this.expr(e.x)}) | 0`;
      case 'in zone':
        return `(isInMask(S.zones.masks[${e.zone}], ${this.expr(e.x)}, ${this.expr(e.y)}, SP${plan.zones[e.zone]!.space}) ? 1 : 0)`;
      case 'in reach': {
        const { is, distance, x, y } = e.reach;
        return `(isInReach(${JSON.stringify(is)}, ${[distance, x, y, e.x, e.y].map((part) => this.expr(part)).join(', ')}, SP${e.reach.space}) ? 1 : 0)`;
      }
      case 'along':
        return this.along(e);
      case 'ahead':
        return this.ahead(e);
      case 'way':
        return `wayAlong(${this.expr(e.from)}, ${this.expr(e.to)}, ${e.axis === 'x' ? 'SW' : 'SH'}${e.space}, WRAPS${e.space})`;
      case 'tied':
        return `(net${e.network}.rows[${e.side}].find(L${e.a.local}, L${e.b.local}) >= 0 ? 1 : 0)`;
      case 'tie value':
        return `net${e.network}.columns[${e.column}][L${e.tie}]`;
      case 'list length':
        return `k${e.kind}_a${e.column}[L${e.agent.local}]`;
      case 'list item':
        return `k${e.kind}.attributes[${e.column + 1 + e.part} + ${this.expr(e.index)} * ${e.stride}][L${e.agent.local}]`;
      case 'message value':
        return `MAIL.values[${e.column}][M]`;
      case 'message sender':
        return 'MAIL.sender[M]';
      case 'tally':
        return e.fn === 'count'
          ? `TL[${e.tally}].count`
          : `gatherTally(TL[${e.tally}], ${JSON.stringify(e.fn)}, ${this.level(e.level)})`;
      case 'tally item':
        return `TL[${e.tally}].values[${this.expr(e.index)}]`;
      case 'table':
        return `TB[${e.table}][${e.column}][${this.expr(e.row)}]`;
      case 'network measure':
        return `S.networkMeasure(${JSON.stringify(e.which)}, ${e.network})`;
      case 'recent':
        return `recentOf(W, ${JSON.stringify(e.fn)}, ${e.measure}, ${this.expr(e.time)}, ${this.level(e.level)})`;
      case 'not':
        return `(${this.test(e.value)} ? 0 : 1)`;
      case 'minus':
        return `(-${this.expr(e.value)})`;
      case 'binary':
        return TRUTHS.has(e.fn)
          ? `(${this.test(e)} ? 1 : 0)`
          : `(${this.expr(e.left)} ${BINARY[e.fn as '+']} ${this.expr(e.right)})`;
      case 'choose':
        return `(${this.test(e.condition)} ? ${this.expr(e.then)} : ${this.expr(e.else)})`;
      case 'call':
        return `${PURE_FUNCTIONS[e.fn].code}(${e.args.map((arg) => this.expr(arg)).join(', ')})`;
      case 'distance':
      case 'bearing': {
        const args = [e.ax, e.ay, e.bx, e.by].map((part) => this.expr(part)).join(', ');
        return `${e.op === 'distance' ? 'distanceBetween' : 'bearingBetween'}(${args}, SP${e.space})`;
      }
      case 'finite':
        return `${e.mayBeEmpty ? 'finOrEmpty' : 'fin'}(${this.expr(e.value)}, ${e.site}, ${this.actorArgs()})`;
      case 'count of kind':
        return `k${e.kind}.living`;
      case 'measure':
        return `W.row[${e.index}]`;
      case 'flow':
        return `${e.which === 'entered' ? 'WE' : 'WL'}[${e.counter}]`;
      case 'field mean':
        return `gatherField(${JSON.stringify(e.fn)}, ${this.fieldValues(e.field)}, ${this.level(e.level)})`;
      default:
        throw new RangeError(`No code for ${(e satisfies never as P.Expr).op} in ${plan.title}`);
    }
  }

  private level(level: P.Expr | undefined): string {
    return level ? this.expr(level) : 'undefined';
  }

  /** A line that passes over agents that are not there; nothing for kinds that nobody leaves. */
  protected skipGone(kind: number, slot: string, more = ''): void {
    const gone = this.shared.steady.has(kind) ? '' : `!(k${kind}_alive[${slot}] & 1)`;
    const either = [gone, more].filter(Boolean).join(' || ');
    if (either) this.w.line(`if (${either}) continue;`);
  }

  /** An expression as a JavaScript condition. */
  test(e: P.Expr): string {
    if (e.op === 'number') return e.value !== 0 ? 'true' : 'false';
    if (e.op === 'not') return `!(${this.test(e.value)})`;
    if (e.op === 'binary' && e.fn === 'and') return `(${this.test(e.left)} && ${this.test(e.right)})`;
    if (e.op === 'binary' && e.fn === 'or') return `(${this.test(e.left)} || ${this.test(e.right)})`;
    if (e.op === 'binary' && TRUTHS.has(e.fn))
      return `${this.expr(e.left)} ${BINARY[e.fn as 'is']} ${this.expr(e.right)}`;
    if (e.op === 'somebody') return `L${e.local} >= 0`;
    if (e.op === 'same agent') return `L${e.a.local} === L${e.b.local}`;
    return `${this.expr(e)} !== 0`;
  }

  protected actorArgs(): string {
    return this.options.actorKind === undefined ? '-1, -1' : `${this.options.actorKind}, L0`;
  }

  private along(e: Extract<P.Expr, { op: 'along' }>): string {
    const [x, y, distance, angle] = [e.x, e.y, e.distance, e.angle].map((part) => this.expr(part));
    return FORM_CODE[this.shared.plan.spaces[e.space]!.form].along(e.axis, x!, y!, distance!, angle!);
  }

  private ahead(e: Extract<P.Expr, { op: 'ahead' }>): string {
    const b = this.seen(e.agent, this.keepsPositions(e.kind)) ? 'b' : '';
    const [sine, cosine] = [`k${e.kind}_${b}sin[L${e.agent.local}]`, `k${e.kind}_${b}cos[L${e.agent.local}]`];
    const [from, distance] = [this.expr(e.axis === 'x' ? e.x : e.y), this.expr(e.distance)];
    if (e.aside === 0) return `(${from} + ${distance} * ${e.axis === 'x' ? sine : cosine})`;
    const [s, c] = [literal(sinDegrees(e.aside)), literal(cosDegrees(e.aside))];
    return `(${from} + ${distance} * ${e.axis === 'x' ? `(${sine} * ${c} + ${cosine} * ${s})` : `(${cosine} * ${c} - ${sine} * ${s})`})`;
  }

  protected raster(raster: number): string {
    return raster < 0 ? `RS${-1 - raster}` : `g${raster}`;
  }

  protected spaceOf(kind: number): P.SpacePlan | undefined {
    return P.spaceOfKind(this.shared.plan, kind);
  }

  private cellCentre(raster: number, cell: string, axis: 'x' | 'y'): string {
    const s = P.spaceOfRaster(this.shared.plan, raster);
    return FORM_CODE[this.shared.plan.spaces[s]!.form].centre(axis, cell, this.raster(raster), s);
  }

  /** The cell of a field at a place, written out where that is short: places of agents lie inside the space already. */
  protected cellIndex(field: number, x: P.Expr, y: P.Expr): string {
    const s = this.shared.plan.fields[field]!.space;
    const space = this.shared.plan.spaces[s]!;
    const isInside = x.op === 'position' && y.op === 'position';
    const { isOfCells } = formOf(space);
    if (isOfCells && isInside) return `(${FORM_CODE[space.form].cellOfPlace(this.expr(x), this.expr(y), s)})`;
    if (isOfCells || (space.edge !== 'wrapping' && !isInside)) return `c${field}(${this.expr(x)}, ${this.expr(y)})`;
    const inside = (v: string, size: string): string =>
      isInside ? '' : `, ${v} >= 0 && ${v} < ${size} || (${v} = wrap(${v}, ${size}))`;
    const steps = `fx = ${this.expr(x)}${inside('fx', `SW${s}`)}, fy = ${this.expr(y)}${inside('fy', `SH${s}`)}, fi = (fx / g${field}_z) | 0, fj = (fy / g${field}_z) | 0`;
    return `(${steps}, fx === fx && fy === fy ? (fj < g${field}_r ? fj : g${field}_r - 1) * g${field}_c + (fi < g${field}_c ? fi : g${field}_c - 1) : -1)`;
  }

  /** A field that is only added to all at once is read as it was before. */
  protected fieldValues(field: number): string {
    return this.keepsField(field) ? `g${field}_b` : `g${field}_v`;
  }

  addsField(field: number): boolean {
    const hows = this.options.effects.writtenFields.get(field);
    return this.options.atOnce && hows !== undefined && hows.size === 1 && hows.has('+=');
  }

  keepsField(field: number): boolean {
    return this.addsField(field) && this.options.effects.readFields.has(field);
  }

  /** Whether a read of another agent must see the column as it was before the rule. */
  private seen(agent: P.AgentRef, isKept: boolean): boolean {
    return isKept && !agent.own && !agent.fresh;
  }

  keepsState(kind: number, machine: number): boolean {
    const { atOnce, effects } = this.options;
    const key = columnKey(kind, machine);
    return atOnce && effects.writtenStates.has(key) && effects.othersStatesRead.has(key);
  }

  keepsAttribute(kind: number, column: number): boolean {
    const { atOnce, effects } = this.options;
    const key = columnKey(kind, column);
    if (!atOnce) return false;
    if (effects.contested.has(key)) return effects.addedColumns.has(key);
    return effects.writtenColumns.has(key) && effects.othersRead.has(key);
  }

  /** All at once on cells that hold one agent, wishes are settled against the places before. */
  keepsPositions(kind: number): boolean {
    const { atOnce, effects } = this.options;
    if (!atOnce) return false;
    if (this.spaceOf(kind)?.oneAgentACell && effects.movedKinds.size > 0) return true;
    return effects.movedKinds.has(kind) && effects.othersPlacesRead.has(kind);
  }

  private ownOverlay(kind: number, column: number): boolean {
    const { atOnce, effects } = this.options;
    const own = effects.contested.get(columnKey(kind, column));
    return atOnce && own !== undefined && own !== 'none';
  }

  private attribute(e: Extract<P.Expr, { op: 'attribute' }>): string {
    const { kind, column, agent } = e;
    if (agent.own && this.ownOverlay(kind, column)) return `o${kind}_${column}`;
    const isAdded =
      this.options.atOnce && !agent.fresh && this.options.effects.addedColumns.has(columnKey(kind, column));
    return `${isAdded || this.seen(agent, this.keepsAttribute(kind, column)) ? `k${kind}_ba${column}` : `k${kind}_a${column}`}[L${agent.local}]`;
  }

  private position(kind: number, axis: 'x' | 'y' | 'direction', agent: P.AgentRef): string {
    const column = axis === 'direction' ? 'dir' : axis;
    return `k${kind}_${this.seen(agent, this.keepsPositions(kind)) ? 'b' : ''}${column}[L${agent.local}]`;
  }
}
