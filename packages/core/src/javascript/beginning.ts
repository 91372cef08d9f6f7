import { CellList, cellsInto } from '../engine/cells.ts';
import { Population } from '../engine/population.ts';
import { below, mix, RandomStream, ruleKey0, ruleKey1 } from '../engine/random/stream.ts';
import { makePairs } from '../engine/spaces/network-makers.ts';
import { failAt, failCeiling, failCount, failMemory } from '../plan/failures.ts';
import { filePairs, makerOf, pairsOf } from '../plan/make-network.ts';
import type * as P from '../plan/plan.ts';
import { startKeys } from '../plan/values.ts';
import type { RunState } from '../state/run-state.ts';
import { agentBodyOf } from './emit-starts.ts';
import type { Bound } from './generated-state.ts';

/** What the beginning of a run needs of the code that is bound to it. */
export interface BeginningCode {
  readonly code: Pick<Bound, 'cellLists' | 'starts' | 'exacts' | 'tieAgents' | 'tieFirsts'>;
  valueOf(body: P.AskedBody): number;
  /** For arrays that were replaced and are no columns of agents that have grown. */
  bindAnew(): void;
}

/** Makes agents and ties as the start lines say. */
export class Beginning {
  /** The cells that the start line at hand has found to fit. */
  readonly cellList = new CellList();

  constructor(
    private readonly state: RunState,
    private readonly bound: BeginningCode,
  ) {}

  startAll(): void {
    const { kinds, networks } = this.state.plan;
    kinds.forEach((kind, k) => this.startKind(kind, k));
    networks.forEach((network, n) => this.startNetwork(network, n));
    kinds.forEach((kind, k) => this.startExact(kind, k));
  }

  private startNetwork(network: P.NetworkPlan, n: number): void {
    const { context, plan } = this.state;
    const [from, to] = [this.state.populations[network.from]!, this.state.populations[network.to]!];
    const { maker } = network;
    const ofEach = agentBodyOf(network);
    const asked = ofEach
      ? Float64Array.from({ length: from.used }, (_, slot) => this.bound.code.tieAgents[n]!(slot))
      : new Float64Array(0);
    const pairs =
      maker.is === 'file'
        ? filePairs(maker, network, from.used, to.used, plan.sites[network.site]!)
        : pairsOf(network, plan.sites[network.site]!, () =>
            makePairs(
              makerOf(
                maker,
                this.state.grounds[plan.kinds[network.from]!.space]?.space,
                (body) => this.bound.valueOf(body),
                from,
                to,
                () => asked,
              ),
              from.used,
              to.used,
              network.from === network.to,
              network.directed,
              RandomStream.of(context.seed, 0, network.key),
            ),
          );
    const ties = this.state.networks[n]!;
    const [a, b] = [pairs.a, pairs.b].map((ends) => (ends instanceof Int32Array ? ends : new Int32Array(ends)));
    ties.fill(a!, b!, Math.max(from.used, to.used), this.state.memory);
    if (this.state.renewAfterGrowth()) this.bound.bindAnew();
    network.firsts.forEach((_, column) =>
      this.firstOfTies(n, column, maker.is === 'file' ? (tie) => maker.values[column]?.[pairs.rows![tie]!] : undefined),
    );
  }

  /** The first values of a column of all ties, by the tie's own luck where none is given. */
  firstOfTies(n: number, column: number, given?: (tie: number) => number | undefined): void {
    const { context, plan } = this.state;
    const network = plan.networks[n]!;
    const ties = this.state.networks[n]!;
    const key = mix(network.key + column + 1);
    const [key0, key1] = [ruleKey0(context.seed, 0, key), ruleKey1(context.seed, 0, key)];
    for (let tie = 0; tie < ties.count; tie++) {
      const first = given?.(tie) ?? this.bound.code.tieFirsts[n]![column]!(tie, key0, key1);
      ties.columns[column]![tie] =
        first - first === 0 ? first : failAt(plan.sites[network.site]!, context, undefined, first);
    }
  }

  private startKind(kind: P.KindPlan, k: number): void {
    const { plan, context } = this.state;
    const population = this.state.populations[k]!;
    kind.starts.forEach((start, i) => {
      if (start.cells) this.listCells(k, i, start.cells.where !== undefined);
      const count = start.count ? this.bound.valueOf(start.count) : this.cellList.count;
      if (!(count >= 0) || Math.floor(count) !== count) failCount(plan.sites[start.site]!, context, undefined, count);
      if (this.state.total() + count > context.ceiling) failCeiling(plan.sites[start.site]!, context);
      const needed =
        this.state.bytes +
        Math.max(0, population.used + count - population.capacity) * (Population.bytesPerAgent(population.shape) + 12);
      if (needed > context.memory) failMemory(plan.sites[start.site]!, needed, context.memory);
      this.state.reserve(k, population.used + count);
      this.bound.code.starts[k]![i]!(count, ruleKey0(context.seed, 0, start.key), ruleKey1(context.seed, 0, start.key));
    });
  }

  private listCells(kind: number, line: number, hasCondition: boolean): void {
    const { cellList } = this;
    const { raster, space } = this.state.grounds[this.state.plan.kinds[kind]!.space]!;
    cellList.cells = new Int32Array(raster.columns * raster.rows);
    cellsInto(raster, space, 'all', 0, 0, 0, cellList.cells);
    cellList.count = hasCondition ? this.bound.code.cellLists[kind]![line]!(cellList.cells) : cellList.cells.length;
  }

  private startExact(kind: P.KindPlan, k: number): void {
    const { context } = this.state;
    const population = this.state.populations[k]!;
    kind.machines.forEach((machine, m) => {
      if (machine.exact.length === 0) return;
      const order = new Int32Array(population.used);
      for (let slot = 0; slot < order.length; slot++) order[slot] = slot;
      const keys = startKeys(k, m);
      const luck = RandomStream.of(context.seed, 0, keys.draw);
      const key = keys.enter;
      let drawn = 0;
      machine.exact.forEach((exact, e) => {
        const count = this.bound.valueOf(exact.count);
        for (let i = 0; i < count && drawn < order.length; i++, drawn++) {
          const j = drawn + below(luck.word(), order.length - drawn);
          const slot = order[j]!;
          order[j] = order[drawn]!;
          order[drawn] = slot;
          this.bound.code.exacts[k]![m]![e]!(slot, ruleKey0(context.seed, 0, key), ruleKey1(context.seed, 0, key));
        }
      });
    });
  }
}
