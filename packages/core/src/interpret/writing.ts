import { RandomStream } from '../engine/random/stream.ts';
import { cellAt, heldValue } from '../forms/space.ts';
import * as math from '../math.ts';
import { columnKey } from '../plan/analysis.ts';
import type * as P from '../plan/plan.ts';
import { Contributions } from '../plan/settling.ts';
import { getOrMake } from './reference-run.ts';
import type { Agent, AtOnce, Frame, Of, ReferenceRun, Tie } from './reference-run.ts';
import { agentOf, bodyValue, numberOf } from './values.ts';

export function writeAttribute(run: ReferenceRun, s: Of<'write'>, frame: Frame): void {
  const agent = agentOf(s.agent, frame);
  const read = numberOf(run, s.value, frame);
  const value = s.mayBeEmpty ? read : run.finite(read, s.site, frame);
  const { atOnce } = frame;
  const key = columnKey(s.kind, s.column);
  const ownWrites = atOnce && !s.agent.fresh ? atOnce.effects.contested.get(key) : undefined;
  if (!atOnce || !ownWrites) {
    const next = applied(agent.attributes[s.column]!, s.how, value);
    agent.attributes[s.column] = s.mayBeEmpty ? next : run.finite(next, s.site, frame);
  } else if (!s.agent.own) contribute(atOnce, agent, s.column, s.how, value);
  else {
    const held = atOnce.own.get(key) ?? agent.attributes[s.column]!;
    const next = applied(held, s.how, value);
    atOnce.own.set(key, s.mayBeEmpty ? next : run.finite(next, s.site, frame));
    if (ownWrites === '=') atOnce.ownSet.set(key, { agent, column: s.column });
    else contribute(atOnce, agent, s.column, s.how, value);
  }
}

export function contribute(atOnce: AtOnce, agent: Agent, column: number, how: P.WriteHow, value: number): void {
  const columns = getOrMake(atOnce.attributes, agent, () => new Map<number, Contributions>());
  getOrMake(columns, column, () => new Contributions()).add(how, value);
}

export function writeField(run: ReferenceRun, s: Of<'write field'>, frame: Frame): void {
  const grid = run.fields[s.field]!;
  const cell = cellAt(numberOf(run, s.x, frame), numberOf(run, s.y, frame), grid, run.groundOf(s.field).space);
  const value = run.finite(numberOf(run, s.value, frame), s.site, frame);
  const { isSingle } = run.plan.fields[s.field]!;
  if (frame.atOnce) {
    run.finite(heldValue(value, isSingle), s.site, frame);
    const cells = getOrMake(frame.atOnce.fields, s.field, () => new Map<number, Contributions>());
    getOrMake(cells, cell, () => new Contributions()).add(s.how, value);
  } else
    grid.values[cell] = withinBounds(
      run,
      s.field,
      run.finite(heldValue(applied(grid.values[cell]!, s.how, value), isSingle), s.site, frame),
    );
}

/** What a cell keeps of a value. */
export function keptWithin(run: ReferenceRun, field: number, cell: number, value: number): number {
  const { kept, site } = run.plan.fields[field]!;
  if (kept) {
    const stream = RandomStream.of(0, 0, 0);
    const frame: Frame = { locals: [value], stream, actor: undefined, atOnce: undefined, cell, mail: -1 };
    run.execute(kept.statements, frame);
    return run.finite(numberOf(run, kept.value, frame), site, undefined);
  }
  return withinBounds(run, field, value);
}

/** Bounds that differ from cell to cell stand in what is written by one after the other. */
function withinBounds(run: ReferenceRun, field: number, value: number): number {
  const { bounds } = run.plan.fields[field]!;
  return bounds ? math.clip(value, bodyValue(run, bounds.min), bodyValue(run, bounds.max)) : value;
}

export function writeVariable(run: ReferenceRun, s: Of<'write variable'>, frame: Frame): void {
  const value = run.finite(numberOf(run, s.value, frame), s.site, frame);
  const { variables } = run.context;
  if (frame.atOnce) getOrMake(frame.atOnce.variables, s.index, () => new Contributions()).add(s.how, value);
  else variables[s.index] = run.finite(applied(variables[s.index]!, s.how, value), s.site, frame);
}

export function writeTie(run: ReferenceRun, s: Of<'write tie'>, frame: Frame): void {
  const tie = frame.locals[s.tie] as Tie;
  const value = run.finite(numberOf(run, s.value, frame), s.site, frame);
  if (frame.atOnce) {
    const columns = getOrMake(frame.atOnce.ties, tie, () => new Map<number, Contributions>());
    getOrMake(columns, s.column, () => new Contributions()).add(s.how, value);
  } else tie.values[s.column] = run.finite(applied(tie.values[s.column]!, s.how, value), s.site, frame);
}

export function addToList(run: ReferenceRun, s: Of<'add to list'>, frame: Frame): void {
  const agent = agentOf(s.agent, frame);
  const values = s.values.map((value) => numberOf(run, value, frame));
  if (!s.ofAgents && values.length === 1) run.finite(values[0]!, s.site, frame);
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

function applied(held: number, how: P.WriteHow, value: number): number {
  return how === '=' ? value : how === '+=' ? held + value : held * value;
}
