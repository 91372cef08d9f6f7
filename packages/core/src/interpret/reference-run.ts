import { CellList } from '../engine/cells.ts';
import { MessageQueue } from '../engine/message-queue.ts';
import type { RandomStream } from '../engine/random/stream.ts';
import { Tally } from '../engine/tallies.ts';
import { RunContext } from '../engine/run-context.ts';
import type { Raster, Space } from '../forms/form.ts';
import type { FieldGrid } from '../forms/space.ts';
import type { RuleEffects } from '../plan/analysis.ts';
import { kindsOfFixedSize } from '../plan/analysis.ts';
import { failAt } from '../plan/failures.ts';
import { spaceOfRaster } from '../plan/plan.ts';
import type * as P from '../plan/plan.ts';
import type { Contributions } from '../plan/settling.ts';
import { NO_ZONES } from '../plan/start-space.ts';
import type { SpaceOfRun, Zones } from '../plan/start-space.ts';

export interface Agent {
  readonly number: number;
  readonly kind: number;
  life: 'there' | 'unborn' | 'leaving' | 'gone';
  x: number;
  y: number;
  direction: number;
  attributes: number[];
  states: number[];
  due: number[];
  /** As others see it during a rule that acts all at once. */
  before: { x: number; y: number; direction: number; attributes: number[]; states: number[] } | undefined;
}

export interface Tie {
  readonly a: Agent;
  readonly b: Agent;
  /** Rises with the making of ties. */
  readonly serial: number;
  there: boolean;
  values: number[];
}

export type Value = number | Agent | Tie | null;

export interface Frame {
  readonly locals: Value[];
  readonly stream: RandomStream;
  readonly actor: Agent | undefined;
  readonly atOnce: AtOnce | undefined;
  readonly cell: number;
  /** The row of the message that is being delivered. */
  readonly mail: number;
}

/** What is gathered during a rule that acts all at once. */
export interface AtOnce {
  readonly effects: RuleEffects;
  readonly attributes: Map<Agent, Map<number, Contributions>>;
  readonly ties: Map<Tie, Map<number, Contributions>>;
  readonly fields: Map<number, Map<number, Contributions>>;
  readonly variables: Map<number, Contributions>;
  readonly changes: Map<Agent, Map<number, Contributions>>;
  /** What waits for the end of the rule, in the order of the actors. */
  readonly later: (() => void)[];
  /** Own values that the acting agent sees in contested columns. */
  own: Map<string, number>;
  ownSet: Map<string, { agent: Agent; column: number }>;
}

export type Signal = 'on' | 'end turn' | 'leave loop';

export function isThere(agent: Agent): boolean {
  return agent.life === 'there' || agent.life === 'leaving';
}

export function getOrMake<K, V>(map: Map<K, V>, key: K, make: () => V): V {
  let value = map.get(key);
  if (value === undefined) map.set(key, (value = make()));
  return value;
}

export type Of<K extends P.Statement['op']> = Extract<P.Statement, { op: K }>;

/** What the reference interpreter knows of a run: agents and ties as objects, everything found by asking everybody. */
export class ReferenceRun {
  readonly context: RunContext;
  kinds: Agent[][] = [];
  /** The kinds that nobody joins or leaves. */
  readonly steady: ReadonlySet<number>;
  nextNumbers: number[] = [];
  networks: Tie[][] = [];
  nextSerials: number[] = [];
  fields: FieldGrid[] = [];
  tallies: Tally[];
  grounds: SpaceOfRun[] = [];
  zones: Zones = NO_ZONES;
  readonly mail: MessageQueue;
  readonly cellList = new CellList();
  recording = false;
  kept: { width: number; data: number[] }[];

  constructor(
    readonly plan: P.Plan,
    private readonly executeAll: (run: ReferenceRun, statements: readonly P.Statement[], frame: Frame) => Signal,
  ) {
    this.context = new RunContext(
      plan.clock,
      plan.parameters.length,
      plan.counters,
      plan.measures.length,
      plan.variables.length,
    );
    this.steady = kindsOfFixedSize(plan);
    this.tallies = plan.tallies.map((tally) => new Tally(tally.kept));
    this.mail = new MessageQueue(plan.messages.reduce((most, message) => Math.max(most, message.columns), 0));
    this.kept = plan.records.map((record) => ({
      width: 1 + (record.kind >= 0 ? 1 : 0) + record.columns.length,
      data: [],
    }));
  }

  execute(statements: readonly P.Statement[], frame: Frame): Signal {
    return this.executeAll(this, statements, frame);
  }

  rasterOf(raster: number): Raster {
    return raster < 0 ? this.grounds[spaceOfRaster(this.plan, raster)]!.raster : this.fields[raster]!;
  }

  groundOf(raster: number): SpaceOfRun {
    return this.grounds[spaceOfRaster(this.plan, raster)]!;
  }

  /** The space on which agents of a kind live. */
  spaceOf(kind: number): Space | undefined {
    return this.grounds[this.plan.kinds[kind]!.space]?.space;
  }

  finite(value: number, site: number, frame: Frame | undefined): number {
    if (Number.isFinite(value)) return value;
    return failAt(this.plan.sites[site]!, this.context, this.nameOf(frame?.actor), value);
  }

  nameOf(agent: Agent | undefined): string | undefined {
    return agent && `${this.plan.kinds[agent.kind]!.name} ${agent.number}`;
  }

  tiesOf(network: number): Tie[] {
    return this.networks[network]!.filter((tie) => tie.there);
  }

  /** The tie from a to b; in an undirected network of one kind either way round. */
  tieBetween(network: number, a: Agent | null, b: Agent | null): Tie | null {
    const { directed, from, to } = this.plan.networks[network]!;
    const oneSided = !directed && from === to;
    return (
      this.tiesOf(network).find((tie) => (tie.a === a && tie.b === b) || (oneSided && tie.a === b && tie.b === a)) ??
      null
    );
  }
}
