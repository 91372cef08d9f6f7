import { RandomStream, below } from '../engine/random/stream.ts';
import { effectsOf } from '../plan/analysis.ts';
import type * as P from '../plan/plan.ts';
import { heldValue } from '../forms/space.ts';
import {
  CELL_COLUMN,
  attributeColumnId,
  changeKey,
  fieldColumnId,
  machineColumnId,
  settleStream,
  tieColumnId,
  variableColumnId,
} from '../plan/settling.ts';
import { isThere } from './reference-run.ts';
import type { Agent, AtOnce, ReferenceRun } from './reference-run.ts';
import { leave, runBody } from './statements.ts';
import { agentsOn } from './values.ts';
import { contribute, keptWithin } from './writing.ts';

export function runAtOnce(run: ReferenceRun, rule: P.RulePlan): void {
  for (const agents of run.kinds)
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
  for (const agent of run.kinds[rule.kind]!.filter(isThere)) {
    atOnce.own = new Map();
    atOnce.ownSet = new Map();
    runBody(run, rule.body, RandomStream.of(run.context.seed, run.context.step, rule.key, agent.number), agent, atOnce);
    for (const [key, { agent: target, column }] of atOnce.ownSet)
      contribute(atOnce, target, column, '=', atOnce.own.get(key)!);
  }
  settleAll(run, rule, atOnce);
  if (run.spaceOf(rule.kind)?.oneAgentACell) settleMoves(run, rule);
  for (const later of atOnce.later) later();
  for (const agents of run.kinds) {
    for (const agent of agents) {
      agent.before = undefined;
      if (agent.life === 'leaving') leave(run, agent);
      if (agent.life === 'unborn') agent.life = 'there';
    }
  }
  settleChanges(run, rule, atOnce);
  for (const tally of run.tallies) tally.settle();
}

function settleAll(run: ReferenceRun, rule: P.RulePlan, atOnce: AtOnce): void {
  const { seed, step } = run.context;
  for (const [agent, columns] of atOnce.attributes) {
    for (const [column, contributions] of columns) {
      const before = agent.before?.attributes[column] ?? agent.attributes[column]!;
      agent.attributes[column] = contributions.settle(before, () =>
        settleStream(seed, step, rule.key, attributeColumnId(agent.kind, column), agent.number),
      );
    }
  }
  for (const [variable, contributions] of atOnce.variables) {
    run.context.variables[variable] = contributions.settle(run.context.variables[variable]!, () =>
      settleStream(seed, step, rule.key, variableColumnId(variable), 0),
    );
  }
  for (const [tie, columns] of atOnce.ties) {
    const network = run.networks.findIndex((ties) => ties.includes(tie));
    for (const [column, contributions] of columns) {
      tie.values[column] = contributions.settle(tie.values[column]!, () =>
        settleStream(seed, step, rule.key, tieColumnId(network, column), tie.serial),
      );
    }
  }
  for (const [field, cells] of atOnce.fields) {
    const { values } = run.fields[field]!;
    const { isSingle } = run.plan.fields[field]!;
    for (const [cell, contributions] of cells) {
      values[cell] = contributions.settle(
        values[cell]!,
        () => settleStream(seed, step, rule.key, fieldColumnId(field), cell),
        (value) => heldValue(value, isSingle),
      );
    }
  }
  for (const field of [...atOnce.fields.keys()].sort((a, b) => a - b)) {
    const { values } = run.fields[field]!;
    for (const cell of atOnce.fields.get(field)!.keys()) values[cell] = keptWithin(run, field, cell, values[cell]!);
  }
}

/** Several that want one empty cell: a keyed draw picks one, the others stay (S18). */
function settleMoves(run: ReferenceRun, rule: P.RulePlan): void {
  const { seed, step } = run.context;
  const { width } = run.spaceOf(rule.kind)!;
  const wants = new Map<number, Agent[]>();
  for (const agent of run.kinds[rule.kind]!) {
    const { before } = agent;
    if (agent.life === 'unborn' || !before || (agent.x === before.x && agent.y === before.y) || Number.isNaN(agent.x))
      continue;
    const cell = agent.y * width + agent.x;
    wants.set(cell, [...(wants.get(cell) ?? []), agent]);
  }
  const stay = (agent: Agent): void => {
    agent.x = agent.before!.x;
    agent.y = agent.before!.y;
    run.context.refused++;
  };
  const neighbours = agentsOn(run, run.plan.kinds[rule.kind]!.space);
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

function settleChanges(run: ReferenceRun, rule: P.RulePlan, { changes }: AtOnce): void {
  const { seed, step } = run.context;
  for (const agent of [...changes.keys()].sort((a, b) => a.kind - b.kind || a.number - b.number)) {
    for (const [machine, contributions] of [...changes.get(agent)!].sort((a, b) => a[0] - b[0])) {
      if (!isThere(agent)) continue;
      const state = contributions.settle(0, () =>
        settleStream(seed, step, rule.key, machineColumnId(agent.kind, machine), agent.number),
      );
      const { change } = run.plan.kinds[agent.kind]!.machines[machine]!;
      const stream = RandomStream.of(seed, step, changeKey(rule.key) + machine, agent.number);
      run.execute(change.statements, {
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
