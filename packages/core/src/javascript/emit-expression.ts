import { formOf } from '../forms/forms.ts';
import { cosDegrees, sinDegrees } from '../math.ts';
import { columnKey } from '../plan/analysis.ts';
import { PURE_FUNCTIONS } from '../plan/functions.ts';
import * as P from '../plan/plan.ts';
import * as before from '../plan/seen-before.ts';
import type { BodyWriter } from './body-writer.ts';
import { FORM_CODE } from './form-code.ts';
import { rasterCode, sizeCode } from './known-sizes.ts';
import { literal } from '../source-writer.ts';

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
export function boundsOf({ min, max }: NonNullable<P.FieldPlan['bounds']>): readonly [string, string] | undefined {
  if (min.value.op !== 'number' || max.value.op !== 'number' || min.value.value > max.value.value) return undefined;
  return [literal(min.value.value), literal(max.value.value)];
}

/** Code that brings a place into a space, as `placeIn` does, with form and edge known. @param x and y names, or code that may be computed twice */
export function placedIn(plan: P.Plan, s: number, x: string, y: string): readonly [string, string] {
  const space = plan.spaces[s]!;
  if (formOf(space).isOnLanes) return [`onLane("x", ${x}, ${y}, SP${s})`, `onLane("y", ${x}, ${y}, SP${s})`];
  return [placedOnAxis(space, x, sizeCode(plan, s, 'x')), placedOnAxis(space, y, sizeCode(plan, s, 'y'))];
}

/** Code that brings a coordinate into a space, as `placeOnAxis` does, with form and edge known. */
export function placedOnAxis({ form, edge }: P.SpacePlan, v: string, size: string): string {
  return FORM_CODE[form].bringIn(v, size, edge);
}

export function emitValue(out: BodyWriter, e: P.Expr): string {
  const { plan } = out.shared;
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
      return sizeCode(plan, e.space, e.axis === 'width' ? 'x' : 'y');
    case 'attribute':
      return emitAttribute(out, e);
    case 'state':
      return `${seesBefore(e.agent, keepsState(out, e.kind, e.machine)) ? `k${e.kind}_bs${e.machine}` : `k${e.kind}_s${e.machine}`}[L${e.agent.local}]`;
    case 'due':
      return `k${e.kind}_d${e.column}[L${e.agent.local}]`;
    case 'position':
      return emitPosition(out, e.kind, e.axis, e.agent);
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
      // No number where the place is none, in place of nothing.
      return `(+${fieldValues(out, e.field)}[${cellIndex(out, e.field, e.x, e.y)}])`;
    case 'field cell':
      return `${fieldValues(out, e.field)}[${emitValue(out, e.cell)}]`;
    case 'cell':
      return `${fieldValues(out, e.field)}[${out.options.cell ?? '0'}]`;
    case 'own cell':
      return out.options.cell ?? '0';
    case 'cell x':
      return cellCentre(out, e.raster, emitValue(out, e.cell), 'x');
    case 'cell y':
      return cellCentre(out, e.raster, emitValue(out, e.cell), 'y');
    case 'cell at':
      return `cellAt(${emitValue(out, e.x)}, ${emitValue(out, e.y)}, ${rasterName(e.raster)}, SP${P.spaceOfRaster(plan, e.raster)})`;
    case 'listed cell':
      return `CL.cells[${emitValue(out, e.index)}]`;
    case 'is nowhere':
      return `isNaN(${emitValue(out, e.x)}) | 0`;
    case 'in zone':
      return `(isInMask(S.zones.masks[${e.zone}], ${emitValue(out, e.x)}, ${emitValue(out, e.y)}, SP${plan.zones[e.zone]!.space}) ? 1 : 0)`;
    case 'in reach': {
      const { is, distance, x, y } = e.reach;
      return `(isInReach(${JSON.stringify(is)}, ${[distance, x, y, e.x, e.y].map((part) => emitValue(out, part)).join(', ')}, SP${e.reach.space}) ? 1 : 0)`;
    }
    case 'along':
      return emitAlong(out, e);
    case 'ahead':
      return emitAhead(out, e);
    case 'way':
      return `wayAlong(${emitValue(out, e.from)}, ${emitValue(out, e.to)}, ${sizeCode(plan, e.space, e.axis)}, WRAPS${e.space})`;
    case 'lane at':
      return `laneAt(${JSON.stringify(e.axis)}, ${emitValue(out, e.share)}, SP${e.space})`;
    case 'near along': {
      const facing = e.facing ? emitValue(out, e.facing) : 'NaN';
      const [x, y, most, toX, toY] = [e.x, e.y, e.most, e.toX, e.toY].map((part) => emitValue(out, part));
      return `(SP${e.space}.lanes.near.isWithin(${x}, ${y}, ${facing}, ${most}, ${toX}, ${toY}) ? 1 : 0)`;
    }
    case 'journey': {
      const [x, y] = [e.x, e.y].map((part) => emitValue(out, part));
      return `GR${e.aim.space}.journeys.ask("${e.which}", ${x}, ${y}, ${aimCode(out, e.aim)})`;
    }
    case 'ride time': {
      const asked = [e.line, e.stop, e.departs, e.since].map((part) => emitValue(out, part)).join(', ');
      return `GR${e.aim.space}.journeys.rideTime(${asked}, ${aimCode(out, e.aim)})`;
    }
    case 'timetable':
      return `GR${e.space}.journeys.timetable("${e.which}", ${emitValue(out, e.line)}, ${emitValue(out, e.of)})`;
    case 'stop place':
      return `GR${e.space}.journeys.stop(${emitValue(out, e.line)}, "${e.axis}", ${emitValue(out, e.stop)})`;
    case 'way length':
      return `wayLength(${[e.ax, e.ay, e.bx, e.by, e.speed].map((part) => emitValue(out, part)).join(', ')}, ${JSON.stringify(e.ways)}, SP${e.space})`;
    case 'tied':
      return `(net${e.network}.rows[${e.side}].find(L${e.a.local}, L${e.b.local}) >= 0 ? 1 : 0)`;
    case 'tie value':
      return `net${e.network}.columns[${e.column}][L${e.tie}]`;
    case 'list length':
      return `k${e.kind}_a${e.column}[L${e.agent.local}]`;
    case 'list item':
      return `k${e.kind}.attributes[${e.column + 1 + e.part} + ${emitValue(out, e.index)} * ${e.stride}][L${e.agent.local}]`;
    case 'message value':
      return `MAIL.values[${e.column}][M]`;
    case 'message sender':
      return 'MAIL.sender[M]';
    case 'tally':
      return e.fn === 'count'
        ? `TL[${e.tally}].count`
        : `gatherTally(TL[${e.tally}], ${JSON.stringify(e.fn)}, ${emitLevel(out, e.level)})`;
    case 'tally item':
      return `TL[${e.tally}].values[${emitValue(out, e.index)}]`;
    case 'table':
      return `TB[${e.table}][${e.column}][${emitValue(out, e.row)}]`;
    case 'network measure':
      return `S.networkMeasure(${JSON.stringify(e.which)}, ${e.network})`;
    case 'recent':
      return `recentOf(W, ${JSON.stringify(e.fn)}, ${e.measure}, ${emitValue(out, e.time)}, ${emitLevel(out, e.level)})`;
    case 'not':
      return `(${emitTest(out, e.value)} ? 0 : 1)`;
    case 'minus':
      return `(-${emitValue(out, e.value)})`;
    case 'binary':
      return TRUTHS.has(e.fn)
        ? `(${emitTest(out, e)} ? 1 : 0)`
        : `(${emitValue(out, e.left)} ${BINARY[e.fn as '+']} ${emitValue(out, e.right)})`;
    case 'choose':
      return `(${emitTest(out, e.condition)} ? ${emitValue(out, e.then)} : ${emitValue(out, e.else)})`;
    case 'call':
      return `${PURE_FUNCTIONS[e.fn].code}(${e.args.map((arg) => emitValue(out, arg)).join(', ')})`;
    case 'distance':
    case 'bearing': {
      const args = [e.ax, e.ay, e.bx, e.by].map((part) => emitValue(out, part)).join(', ');
      return `${e.op === 'distance' ? 'distanceBetween' : 'bearingBetween'}(${args}, SP${e.space})`;
    }
    case 'finite':
      return `${e.mayBeEmpty ? 'finOrEmpty' : 'fin'}(${emitValue(out, e.value)}, ${e.site}, ${actorArgs(out)})`;
    case 'count of kind':
      return `k${e.kind}.living`;
    case 'measure':
      return `W.row[${e.index}]`;
    case 'flow':
      return `${e.which === 'entered' ? 'WE' : 'WL'}[${e.counter}]`;
    case 'field mean':
      return `gatherField(${JSON.stringify(e.fn)}, ${fieldValues(out, e.field)}, ${emitLevel(out, e.level)})`;
    default:
      throw new RangeError(`No code for ${(e satisfies never as P.Expr).op} in ${plan.title}`);
  }
}

function emitLevel(out: BodyWriter, level: P.Expr | undefined): string {
  return level ? emitValue(out, level) : 'undefined';
}

/** A line that passes over agents that are not there; nothing for kinds that nobody leaves. */
export function skipGone(out: BodyWriter, kind: number, slot: string, more = ''): void {
  const gone = out.shared.steady.has(kind) ? '' : `!(k${kind}_alive[${slot}] & 1)`;
  const either = [gone, more].filter(Boolean).join(' || ');
  if (either) out.w.line(`if (${either}) continue;`);
}

/** An expression as a JavaScript condition. */
export function emitTest(out: BodyWriter, e: P.Expr): string {
  if (e.op === 'number') return e.value !== 0 ? 'true' : 'false';
  if (e.op === 'not') return `!(${emitTest(out, e.value)})`;
  if (e.op === 'binary' && e.fn === 'and') return `(${emitTest(out, e.left)} && ${emitTest(out, e.right)})`;
  if (e.op === 'binary' && e.fn === 'or') return `(${emitTest(out, e.left)} || ${emitTest(out, e.right)})`;
  if (e.op === 'binary' && TRUTHS.has(e.fn))
    return `${emitValue(out, e.left)} ${BINARY[e.fn as 'is']} ${emitValue(out, e.right)}`;
  if (e.op === 'somebody') return `L${e.local} >= 0`;
  if (e.op === 'same agent') return `L${e.a.local} === L${e.b.local}`;
  return `${emitValue(out, e)} !== 0`;
}

export function actorArgs(out: BodyWriter): string {
  return out.options.actorKind === undefined ? '-1, -1' : `${out.options.actorKind}, L0`;
}

function emitAlong(out: BodyWriter, e: Extract<P.Expr, { op: 'along' }>): string {
  const [x, y, distance, angle] = [e.x, e.y, e.distance, e.angle].map((part) => emitValue(out, part));
  return FORM_CODE[out.shared.plan.spaces[e.space]!.form].along(e.axis, x!, y!, distance!, angle!);
}

function emitAhead(out: BodyWriter, e: Extract<P.Expr, { op: 'ahead' }>): string {
  const b = seesBefore(e.agent, keepsPositions(out, e.kind)) ? 'b' : '';
  const [sine, cosine] = [`k${e.kind}_${b}sin[L${e.agent.local}]`, `k${e.kind}_${b}cos[L${e.agent.local}]`];
  const [from, distance] = [emitValue(out, e.axis === 'x' ? e.x : e.y), emitValue(out, e.distance)];
  if (e.aside === 0) return `(${from} + ${distance} * ${e.axis === 'x' ? sine : cosine})`;
  const [s, c] = [literal(sinDegrees(e.aside)), literal(cosDegrees(e.aside))];
  return `(${from} + ${distance} * ${e.axis === 'x' ? `(${sine} * ${c} + ${cosine} * ${s})` : `(${cosine} * ${c} - ${sine} * ${s})`})`;
}

export function rasterName(raster: number): string {
  return raster < 0 ? `RS${-1 - raster}` : `g${raster}`;
}

export function spaceOfKind(out: BodyWriter, kind: number): P.SpacePlan | undefined {
  return P.spaceOfKind(out.shared.plan, kind);
}

function cellCentre(out: BodyWriter, raster: number, cell: string, axis: 'x' | 'y'): string {
  const s = P.spaceOfRaster(out.shared.plan, raster);
  const { plan } = out.shared;
  return FORM_CODE[plan.spaces[s]!.form].centre(axis, cell, rasterName(raster), s, sizeCode(plan, s, 'x'));
}

/** The cell of a field at a place, written out where that is short: places of agents lie inside the space already. */
export function cellIndex(out: BodyWriter, field: number, x: P.Expr, y: P.Expr): string {
  const { plan } = out.shared;
  const s = plan.fields[field]!.space;
  const space = plan.spaces[s]!;
  const isInside = x.op === 'position' && y.op === 'position';
  const { isOfCells } = formOf(space);
  const [width, height] = [sizeCode(plan, s, 'x'), sizeCode(plan, s, 'y')];
  if (isOfCells && isInside)
    return `(${FORM_CODE[space.form].cellOfPlace(emitValue(out, x), emitValue(out, y), s, width)})`;
  if (isOfCells || (space.edge !== 'wrapping' && !isInside))
    return `cellOf${field}(${emitValue(out, x)}, ${emitValue(out, y)})`;
  const inside = (v: string, size: string): string =>
    isInside ? '' : `, ${v} >= 0 && ${v} < ${size} || (${v} = wrap(${v}, ${size}))`;
  const { columns, rows, cell, isFull } = rasterCode(plan, field);
  const cellOn = (v: string): string => (cell === '1' ? `${v} | 0` : `(${v} / ${cell}) | 0`);
  const steps = `fx = ${emitValue(out, x)}${inside('fx', width)}, fy = ${emitValue(out, y)}${inside('fy', height)}, fi = ${cellOn('fx')}, fj = ${cellOn('fy')}`;
  // Where the last cell ends with the space, no place is beyond it.
  const [i, j] =
    isFull && space.edge === 'wrapping'
      ? ['fi', 'fj']
      : [`(fi < ${columns} ? fi : ${columns} - 1)`, `(fj < ${rows} ? fj : ${rows} - 1)`];
  return `(${steps}, fx === fx && fy === fy ? ${j} * ${columns} + ${i} : -1)`;
}

/** A field that is only added to all at once is read as it was before. */
function fieldValues(out: BodyWriter, field: number): string {
  return keepsField(out, field) ? `g${field}_b` : `g${field}_v`;
}

export function addsField(out: BodyWriter, field: number): boolean {
  return before.addsField(out.sight, field);
}

export function keepsField(out: BodyWriter, field: number): boolean {
  return before.keepsField(out.sight, field);
}

/** Whether a read of another agent must see the column as it was before the rule. */
function seesBefore(agent: P.AgentRef, isKept: boolean): boolean {
  return isKept && !agent.own && !agent.fresh;
}

export function keepsState(out: BodyWriter, kind: number, machine: number): boolean {
  return before.keepsState(out.sight, kind, machine);
}

export function keepsAttribute(out: BodyWriter, kind: number, column: number): boolean {
  return before.keepsAttribute(out.sight, kind, column);
}

export function keepsPositions(out: BodyWriter, kind: number): boolean {
  return before.keepsPositions(out.sight, kind);
}

function ownOverlay(out: BodyWriter, kind: number, column: number): boolean {
  const { atOnce, effects } = out.options;
  const own = effects.contested.get(columnKey(kind, column));
  return atOnce && own !== undefined && own !== 'none';
}

function emitAttribute(out: BodyWriter, e: Extract<P.Expr, { op: 'attribute' }>): string {
  const { kind, column, agent } = e;
  if (agent.own && ownOverlay(out, kind, column)) return `o${kind}_${column}`;
  const isAdded = out.options.atOnce && !agent.fresh && out.options.effects.addedColumns.has(columnKey(kind, column));
  return `${isAdded || seesBefore(agent, keepsAttribute(out, kind, column)) ? `k${kind}_ba${column}` : `k${kind}_a${column}`}[L${agent.local}]`;
}

function emitPosition(out: BodyWriter, kind: number, axis: 'x' | 'y' | 'direction', agent: P.AgentRef): string {
  const column = axis === 'direction' ? 'dir' : axis;
  return `k${kind}_${seesBefore(agent, keepsPositions(out, kind)) ? 'b' : ''}${column}[L${agent.local}]`;
}

export function emitChecked(out: BodyWriter, name: string, site: number): void {
  out.w.line(`if (${name} - ${name} !== 0) F(${site}, ${name}, ${actorArgs(out)});`);
}

export function emitFinite(out: BodyWriter, e: P.Expr, site: number): string {
  if (e.op === 'number' && Number.isFinite(e.value)) return emitValue(out, e);
  return `fin(${emitValue(out, e)}, ${site}, ${actorArgs(out)})`;
}

/** The last arguments of a question about a journey: where it leads, who walks how, and what is taken for granted of the lines. */
function aimCode(out: BodyWriter, { x, y, pace, quickest, ways, lines, terms, trips, now }: P.JourneyAim): string {
  const code = (part: P.Expr): string => emitValue(out, part);
  const walker = `{ pace: ${code(pace)}, quickest: ${String(quickest)}, ways: ${JSON.stringify(ways)}, lines: [${lines.join(', ')}], trips: ${JSON.stringify(trips)} }`;
  return `${code(now)}, ${code(x)}, ${code(y)}, ${walker}, [${terms.map(code).join(', ')}]`;
}
