import { cellsInto } from '../engine/cells.ts';
import { RandomStream, below, mix } from '../engine/random/stream.ts';
import { makePairs } from '../engine/spaces/network-makers.ts';
import type { Maker } from '../engine/spaces/network-makers.ts';
import { formOf } from '../forms/forms.ts';
import { arrayOfCells, heldValue } from '../forms/space.ts';
import { failCount } from '../plan/failures.ts';
import { filePairs, makerOf, pairsOf } from '../plan/make-network.ts';
import type * as P from '../plan/plan.ts';
import { rasterValue, startGrounds, startZones } from '../plan/start-space.ts';
import { startKeys } from '../plan/values.ts';
import type { Agent, Frame, ReferenceRun } from './reference-run.ts';
import { runBody } from './statements.ts';
import { bodyValue, codeValue, numberOf } from './values.ts';
import { keptWithin } from './writing.ts';

export function startRun(run: ReferenceRun): void {
  const { plan, context } = run;
  const value = (body: P.ValueBody): number => bodyValue(run, body);
  run.kinds = plan.kinds.map(() => []);
  run.nextNumbers = plan.kinds.map(() => 1);
  run.networks = plan.networks.map(() => []);
  run.nextSerials = plan.networks.map(() => 0);
  run.tallies.forEach((tally) => tally.clear());
  run.mail.clear();
  for (const record of run.kept) record.data.length = 0;
  plan.variables.forEach(
    (variable, i) => (context.variables[i] = run.finite(bodyValue(run, variable.start), variable.site, undefined)),
  );
  run.grounds = startGrounds(plan, value);
  run.zones = startZones(plan, run.grounds, value);
  run.fields = plan.fields.map((field) => {
    const cell = field.cell ? bodyValue(run, field.cell) : 1;
    const { space } = run.grounds[field.space]!;
    const { columns, rows } = formOf(space).rasterOf(space, cell);
    return { columns, rows, cell, values: new (arrayOfCells(field.isSingle))(columns * rows) };
  });
  plan.fields.forEach((field, i) => startField(run, field, i));
  plan.fields.forEach((_, i) => keepAll(run, i));
  for (const kind of plan.kinds) startKind(run, kind);
  plan.networks.forEach((network, index) => startNetwork(run, network, index));
  plan.kinds.forEach((kind, index) => startExact(run, kind, index));
  context.isEnding = false;
}

function startField(run: ReferenceRun, field: P.FieldPlan, index: number): void {
  const grid = run.fields[index]!;
  const key = mix(index + 0x6b43a9b5);
  for (let i = 0; i < grid.values.length; i++) {
    const value = field.raster
      ? rasterValue(field.raster, grid, i)
      : field.start
        ? cellValue(run, field.start, i, RandomStream.of(run.context.seed, 0, key, i))
        : 0;
    const first = run.finite(heldValue(value, field.isSingle), field.site, undefined);
    // Bounds that differ from cell to cell wait until all fields have their first values.
    grid.values[i] = field.kept ? first : keptWithin(run, index, i, first);
  }
}

function keepAll(run: ReferenceRun, index: number): void {
  const { values } = run.fields[index]!;
  if (run.plan.fields[index]!.kept)
    values.forEach((value, cell) => (values[cell] = keptWithin(run, index, cell, value)));
}

export function cellValue(run: ReferenceRun, body: P.ValueBody, cell: number, stream: RandomStream): number {
  const frame: Frame = { locals: [], stream, actor: undefined, atOnce: undefined, cell, mail: -1 };
  run.execute(body.statements, frame);
  return numberOf(run, body.value, frame);
}

function startKind(run: ReferenceRun, kind: P.KindPlan): void {
  for (const start of kind.starts) {
    if (start.cells) listCells(run, start.cells);
    const count = start.count ? bodyValue(run, start.count) : run.cellList.count;
    if (!(count >= 0) || Math.floor(count) !== count)
      failCount(run.plan.sites[start.site]!, run.context, undefined, count);
    for (let i = 0; i < count; i++) {
      const frame: Frame = {
        locals: [i],
        stream: RandomStream.of(run.context.seed, 0, start.key, i),
        actor: undefined,
        atOnce: undefined,
        cell: -1,
        mail: -1,
      };
      run.execute(start.one.statements, frame);
    }
  }
}

function listCells(run: ReferenceRun, { raster: index, where }: NonNullable<P.StartPlan['cells']>): void {
  const { cellList } = run;
  const { raster, space } = run.groundOf(index);
  const all = new Int32Array(raster.columns * raster.rows);
  cellsInto(raster, space, 'all', 0, 0, 0, all);
  cellList.cells = all.filter((cell) => {
    const frame: Frame = {
      locals: [cell],
      stream: RandomStream.of(0, 0, 0),
      actor: undefined,
      atOnce: undefined,
      cell: -1,
      mail: -1,
    };
    return !where || codeValue(run, where, frame) !== 0;
  });
  cellList.count = cellList.cells.length;
}

function startExact(run: ReferenceRun, kind: P.KindPlan, index: number): void {
  kind.machines.forEach((machine, m) => {
    const agents = run.kinds[index]!;
    const keys = startKeys(index, m);
    const luck = RandomStream.of(run.context.seed, 0, keys.draw);
    const order = agents.map((_, i) => i);
    let drawn = 0;
    for (const exact of machine.exact) {
      const count = bodyValue(run, exact.count);
      for (let i = 0; i < count && drawn < order.length; i++, drawn++) {
        const j = drawn + below(luck.word(), order.length - drawn);
        [order[drawn], order[j]] = [order[j]!, order[drawn]!];
        const agent = agents[order[drawn]!]!;
        runBody(run, exact.enter, RandomStream.of(run.context.seed, 0, keys.enter, agent.number), agent);
      }
    }
  });
}

function startNetwork(run: ReferenceRun, network: P.NetworkPlan, index: number): void {
  const from = run.kinds[network.from]!;
  const to = run.kinds[network.to]!;
  const { maker } = network;
  const ask = (body: P.ValueBody, agent: Agent): number => ofAgent(run, body, agent);
  const pairs =
    maker.is === 'file'
      ? filePairs(maker, network, from.length, to.length, run.plan.sites[network.site]!)
      : pairsOf(network, run.plan.sites[network.site]!, () =>
          makePairs(
            networkMaker(run, network, maker, from, to, ask),
            from.length,
            to.length,
            network.from === network.to,
            network.directed,
            RandomStream.of(run.context.seed, 0, network.key),
          ),
        );
  Array.from(pairs.a).forEach((a, i) => {
    const values = network.firsts.map((first, column) => {
      const given = maker.is === 'file' ? maker.values[column]?.[pairs.rows![i]!] : undefined;
      if (given !== undefined) return given;
      const frame: Frame = {
        locals: [],
        stream: RandomStream.of(run.context.seed, 0, mix(network.key + column + 1), i),
        actor: undefined,
        atOnce: undefined,
        cell: -1,
        mail: -1,
      };
      return run.finite(codeValue(run, first, frame), network.site, undefined);
    });
    run.networks[index]!.push({
      a: from[a]!,
      b: to[pairs.b[i]!]!,
      serial: run.nextSerials[index]!++,
      there: true,
      values,
    });
  });
}

function networkMaker(
  run: ReferenceRun,
  network: P.NetworkPlan,
  maker: Exclude<P.NetworkPlan['maker'], { is: 'file' }>,
  from: readonly Agent[],
  to: readonly Agent[],
  ask: (body: P.ValueBody, agent: Agent) => number,
): Maker {
  const xy = (agents: readonly Agent[]): { x: number[]; y: number[] } => ({
    x: agents.map((agent) => agent.x),
    y: agents.map((agent) => agent.y),
  });
  return makerOf(
    maker,
    run.spaceOf(network.from),
    (body) => bodyValue(run, body),
    xy(from),
    xy(to),
    (body) => from.map((agent) => ask(body, agent)),
  );
}

export function ofAgent(run: ReferenceRun, body: P.ValueBody, agent: Agent): number {
  const frame: Frame = {
    locals: [agent],
    stream: RandomStream.of(0, 0, 0),
    actor: agent,
    atOnce: undefined,
    cell: -1,
    mail: -1,
  };
  return codeValue(run, body, frame);
}
