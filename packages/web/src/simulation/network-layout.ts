import type { GeneratedRun } from '@vole/core';
import type { Simulation, SimulationLinkDatum, SimulationNodeDatum } from 'd3-force';

interface Node extends SimulationNodeDatum {
  readonly key: string;
  x: number;
  y: number;
}

type Link = SimulationLinkDatum<Node>;

const SIDE = 100;
/** Beyond so many agents forces take too long; these stand in a spiral in the order of their numbers. */
const MOST_FORCED = 3000;
/** Milliseconds a frame for bringing the layout nearer to rest. */
const SHARE = 6;
const RESTING = 0.01;
/** How far agents are moved when a few come, go or tie anew. */
const DISTURBED = 0.3;
const GOLDEN_ANGLE = Math.PI * (3 - Math.sqrt(5));

/** What pulls and pushes; only runs that need it load it. */
let forces: typeof import('d3-force') | 'on their way' | 'cannot be loaded' = 'on their way';

/** Never fails: without forces agents stay where they stand at first. */
export async function loadForces(): Promise<void> {
  forces = await import('d3-force').catch(() => 'cannot be loaded' as const);
}

/** Places for agents of a model without a space, by who is tied to whom; those that are there keep theirs when others come or ties change. */
export class NetworkLayout {
  readonly side = SIDE;
  private readonly nodes = new Map<string, Node>();
  private simulation: Simulation<Node, Link> | undefined;
  private told = '';

  /**
   * Its agents stand in a spiral until the forces are loaded.
   * @param only the one network that is laid out, with its kinds; all if absent
   */
  constructor(private readonly only?: number) {
    void loadForces();
  }

  get isAtRest(): boolean {
    if (this.simulation) return this.simulation.alpha() <= RESTING;
    return this.nodes.size > MOST_FORCED || forces === 'cannot be loaded';
  }

  placeOf(kind: number, number: number): { readonly x: number; readonly y: number } | undefined {
    return this.nodes.get(`${kind} ${number}`);
  }

  /** Takes up who came, went, tied and untied, and lets the forces work for a short while. */
  settle(executable: GeneratedRun, now: () => number): void {
    const state = [
      typeof forces,
      ...executable.plan.kinds.map((_, kind) => agentsMark(executable, kind)),
      ...executable.plan.networks.map((_, network) => tiesMark(executable, network)),
    ].join();
    if (state !== this.told) {
      this.told = state;
      this.takeUp(executable);
    }
    const until = now() + SHARE;
    while (this.simulation && this.simulation.alpha() > RESTING && now() < until) this.simulation.tick();
  }

  private takeUp(executable: GeneratedRun): void {
    const present: Node[] = [];
    let i = 0;
    const networks = executable.plan.networks.flatMap((_, network) =>
      this.only === undefined || this.only === network ? [executable.state.ties(network)] : [],
    );
    const kinds = executable.plan.kinds.flatMap((_, kind) =>
      this.only === undefined || networks.some(({ from, to }) => kind === from || kind === to) ? [kind] : [],
    );
    const total = kinds.reduce((sum, kind) => sum + executable.living(kind), 0);
    for (const kind of kinds)
      for (const number of executable.state.agents(kind).numbers()) {
        const key = `${kind} ${number}`;
        const radius = (SIDE / 2) * 0.95 * Math.sqrt((i + 0.5) / Math.max(1, total));
        const node = this.nodes.get(key) ?? {
          key,
          x: SIDE / 2 + radius * Math.cos(i * GOLDEN_ANGLE),
          y: SIDE / 2 + radius * Math.sin(i * GOLDEN_ANGLE),
        };
        present.push(node);
        i++;
      }
    this.nodes.clear();
    for (const node of present) this.nodes.set(node.key, node);
    if (typeof forces === 'string' || present.length > MOST_FORCED) {
      this.simulation = undefined;
      return;
    }
    const links = networks.flatMap((ties): Link[] => {
      const ends = ties.ends();
      return Array.from({ length: ends.length / 2 }, (_, tie) => ({
        source: this.nodes.get(`${ties.from} ${ends[2 * tie]!}`)!,
        target: this.nodes.get(`${ties.to} ${ends[2 * tie + 1]!}`)!,
      }));
    });
    const room = SIDE / Math.sqrt(present.length + 1);
    this.simulation = forces
      .forceSimulation<Node, Link>(present)
      .force(
        'ties',
        forces
          .forceLink<Node, Link>(links)
          .distance(room * 0.8)
          .iterations(2),
      )
      .force(
        'apart',
        forces
          .forceManyBody<Node>()
          .strength(-room * 0.7)
          .distanceMax(SIDE / 3),
      )
      .force('room', forces.forceCollide<Node>(room * 0.3))
      .force('x', forces.forceX<Node>(SIDE / 2).strength(0.06))
      .force('y', forces.forceY<Node>(SIDE / 2).strength(0.06))
      .alpha(this.simulation ? DISTURBED : 1)
      .stop();
  }
}

/** Changes when someone of a kind comes or goes. */
function agentsMark({ state }: GeneratedRun, kind: number): string {
  const { count, lastNumber } = state.agents(kind);
  return `${count} ${lastNumber}`;
}

/** Changes when a tie is made or cut. */
function tiesMark({ state }: GeneratedRun, network: number): string {
  const { count, made } = state.ties(network);
  return `${count} ${made}`;
}
