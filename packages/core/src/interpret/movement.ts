import { below } from '../engine/random/stream.ts';
import { drawInMask, shareBefore } from '../engine/zones.ts';
import { formOf } from '../forms/forms.ts';
import { directionAfter, placeIn } from '../forms/space.ts';
import { failAt, failNoWay } from '../plan/failures.ts';
import { TRIES } from '../plan/values.ts';
import type { Agent, Frame, Of, ReferenceRun } from './reference-run.ts';
import { agentOf, agentsOn, isBlocked, numberOf } from './values.ts';

export function moveBy(run: ReferenceRun, s: Of<'move by'>, frame: Frame): void {
  const agent = agentOf(s.agent, frame);
  const distance = run.finite(numberOf(run, s.distance, frame), s.site, frame);
  if (Number.isNaN(agent.x)) return;
  const space = run.spaceOf(s.kind)!;
  const form = formOf(space);
  let x = form.along('x', agent.x, agent.y, distance, agent.direction);
  let y = form.along('y', agent.x, agent.y, distance, agent.direction);
  const blocked = run.zones.blocked[run.plan.kinds[s.kind]!.space];
  if (blocked) {
    const share = shareBefore(blocked, agent.x, agent.y, x, y, space);
    if (share < 1) {
      x = agent.x + (x - agent.x) * share;
      y = agent.y + (y - agent.y) * share;
    }
  }
  if (placeAgent(run, agent, x, y, frame)) agent.direction = directionAfter(agent.direction, x, y, space);
}

export function moveTo(run: ReferenceRun, s: Of<'move to'>, frame: Frame): void {
  const agent = agentOf(s.agent, frame);
  const x = numberOf(run, s.x, frame);
  const y = numberOf(run, s.y, frame);
  if (Number.isNaN(x) && run.plan.kinds[s.kind]!.mayBeNowhere) {
    agent.x = NaN;
    agent.y = NaN;
    return;
  }
  const space = run.spaceOf(s.kind)!;
  const [toX, toY] = placeIn(run.finite(x, s.site, frame), run.finite(y, s.site, frame), space);
  if (isBlocked(run, run.plan.kinds[s.kind]!.space, toX, toY)) run.context.refused++;
  else placeAgent(run, agent, toX, toY, frame);
}

export function travel(run: ReferenceRun, s: Of<'travel'>, frame: Frame): void {
  const agent = agentOf(s.agent, frame);
  const goalX = run.finite(numberOf(run, s.x, frame), s.site, frame);
  const goalY = run.finite(numberOf(run, s.y, frame), s.site, frame);
  const amount = run.finite(numberOf(run, s.amount, frame), s.site, frame);
  const speed = run.finite(numberOf(run, s.speed, frame), s.site, frame);
  frame.locals[s.used] = 0;
  frame.locals[s.left] = 1;
  if (Number.isNaN(agent.x)) return;
  const lanes = run.spaceOf(s.kind)!.lanes!;
  lanes.travel(agent.x, agent.y, goalX, goalY, amount, speed, s.ways, agent.number);
  const { used, left, x, y, direction } = lanes;
  if (left === Infinity && s.mustReach) failNoWay(run.plan.sites[s.site]!, run.context, run.nameOf(frame.actor));
  frame.locals[s.used] = used;
  frame.locals[s.left] = left === Infinity ? -1 : left;
  if (used === 0) return;
  agent.x = x;
  agent.y = y;
  if (direction === direction) agent.direction = direction;
}

function placeAgent(run: ReferenceRun, agent: Agent, x: number, y: number, frame: Frame): boolean {
  const space = run.spaceOf(agent.kind)!;
  const [toX, toY] = placeIn(x, y, space);
  // All at once the wishes are settled when the rule is over.
  if (
    space.oneAgentACell &&
    !frame.atOnce &&
    (toX !== agent.x || toY !== agent.y) &&
    isTaken(run, run.plan.kinds[agent.kind]!.space, toX, toY)
  ) {
    run.context.refused++;
    return false;
  }
  agent.x = toX;
  agent.y = toY;
  return true;
}

export function isTaken(run: ReferenceRun, space: number, x: number, y: number): boolean {
  return agentsOn(run, space).some((agent) => {
    const at = agent.before ?? agent;
    return agent.life !== 'gone' && at.x === x && at.y === y;
  });
}

export function drawCell(run: ReferenceRun, s: Of<'draw cell'>, frame: Frame): void {
  const { width, height, oneAgentACell } = run.grounds[s.space]!.space;
  const isFull = (cell: number): boolean => {
    const x = cell % width;
    const y = Math.floor(cell / width);
    return isBlocked(run, s.space, x, y) || (oneAgentACell && isTaken(run, s.space, x, y));
  };
  let cell = 0;
  for (let tries = 0; tries < TRIES; tries++) {
    cell = below(frame.stream.word(), width * height);
    if (!isFull(cell)) break;
  }
  for (let i = 0; i < width * height && isFull(cell); i++) cell = (cell + 1) % (width * height);
  frame.locals[s.x] = cell % width;
  frame.locals[s.y] = Math.floor(cell / width);
}

export function drawInZone(run: ReferenceRun, s: Of<'draw in zone'>, frame: Frame): void {
  const { space } = run.grounds[s.space]!;
  const mask = s.zone < 0 ? run.zones.free[s.space]! : run.zones.masks[s.zone]!;
  let x = NaN;
  let y = NaN;
  for (let tries = 0; tries < TRIES; tries++) {
    const [a, b, c] = [frame.stream.word(), frame.stream.word(), frame.stream.word()];
    x = drawInMask(mask, 'x', a, b, c, space);
    y = drawInMask(mask, 'y', a, b, c, space);
    if (!space.oneAgentACell || !(isBlocked(run, s.space, x, y) || isTaken(run, s.space, x, y))) break;
  }
  frame.locals[s.x] = run.finite(x, s.site, frame);
  frame.locals[s.y] = y;
}

export function drawListed(run: ReferenceRun, s: Of<'draw listed'>, frame: Frame): void {
  const cell = run.cellList.draw(frame.stream.word(), run.grounds[s.space]!.space.oneAgentACell);
  frame.locals[s.local] = cell < 0 ? failAt(run.plan.sites[s.site]!, run.context, undefined, NaN) : cell;
}
