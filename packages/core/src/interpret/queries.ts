import { cellsInto } from '../engine/cells.ts';
import { isInReach } from '../forms/space.ts';
import { spaceOfRaster } from '../plan/plan.ts';
import type * as P from '../plan/plan.ts';
import { isThere } from './reference-run.ts';
import type { Agent, Frame, ReferenceRun, Tie, Value } from './reference-run.ts';
import { agentOf, codeValue, isEmptyCell, neighboursOf, numberOf, tiesAt } from './values.ts';

export function candidates(run: ReferenceRun, query: P.Query, frame: Frame): Value[] {
  return askedOf(run, query, frame).filter((candidate) => fits(run, query, candidate, frame));
}

export function fits(run: ReferenceRun, query: P.Query, candidate: Value, frame: Frame): boolean {
  frame.locals[query.candidate] = candidate;
  return !query.where || codeValue(run, query.where, frame) !== 0;
}

function askedOf(run: ReferenceRun, query: P.Query, frame: Frame): Value[] {
  const { over, reach } = query;
  switch (over.is) {
    case 'agents':
      return agentsIn(run, query.kind, reach, frame).filter((agent) => mayBeAsked(run, query, agent, frame));
    case 'cells':
      return cellsAsked(run, query, frame);
    case 'ties':
      return over.agent
        ? sortedTies(run, over.network, over.side, agentOf(over.agent, frame))
        : run.tiesOf(over.network);
    case 'list': {
      const { attributes } = agentOf(over.agent, frame);
      const length = attributes[over.column]!;
      if (!over.ofAgents) return Array.from({ length }, (_, i) => i);
      const members = Array.from({ length }, (_, i) =>
        run.kinds[query.kind]!.find((agent) => agent.number === attributes[over.column + 1 + i])!,
      );
      return members.filter((agent) => agent && isThere(agent));
    }
    case 'tally':
      return Array.from({ length: run.tallies[over.tally]!.count }, (_, i) => i);
  }
}

/** Whether an agent is one of those of whom it is asked who fits. */
export function mayBeAsked(run: ReferenceRun, query: P.Query, agent: Agent, frame: Frame): boolean {
  if (!isThere(agent) || (query.except !== undefined && agent === frame.locals[query.except])) return false;
  return !(query.present && run.spaceOf(query.kind) && Number.isNaN((agent.before ?? agent).x));
}

/** The ties of an agent in the order of whom they lead to. */
function sortedTies(run: ReferenceRun, network: number, side: number, agent: Agent): Tie[] {
  const other = (tie: Tie): number => (tie.a === agent ? tie.b : tie.a).number;
  return tiesAt(run, network, side, agent).sort((p, q) => other(p) - other(q));
}

function agentsIn(run: ReferenceRun, kind: number, reach: P.Reach, frame: Frame): Agent[] {
  if (reach.is === 'all') return run.kinds[kind]!;
  if (reach.is === 'tied') {
    const agent = frame.locals[reach.agent.local] as Agent | null;
    return agent ? neighboursOf(run, reach.network, reach.side, agent).filter((other) => other.kind === kind) : [];
  }
  const [distance, x, y] = [
    numberOf(run, reach.distance, frame),
    numberOf(run, reach.x, frame),
    numberOf(run, reach.y, frame),
  ];
  return run.kinds[kind]!.filter((agent) => {
    const at = agent.before ?? agent;
    return isInReach(reach.is, distance, x, y, at.x, at.y, run.grounds[reach.space]!.space);
  });
}

function cellsAsked(run: ReferenceRun, query: P.Query, frame: Frame): number[] {
  const over = query.over as Extract<P.Query['over'], { is: 'cells' }>;
  const raster = run.rasterOf(over.raster);
  const { space } = run.groundOf(over.raster);
  const out = new Int32Array(raster.columns * raster.rows);
  const { reach } = query;
  const n =
    reach.is === 'all' || reach.is === 'tied'
      ? cellsInto(raster, space, 'all', 0, 0, 0, out)
      : cellsInto(
          raster,
          space,
          reach.is,
          numberOf(run, reach.distance, frame),
          numberOf(run, reach.x, frame),
          numberOf(run, reach.y, frame),
          out,
        );
  return [...out.subarray(0, n)].filter(
    (cell) => !over.empty || isEmptyCell(run, spaceOfRaster(run.plan, over.raster), cell),
  );
}
