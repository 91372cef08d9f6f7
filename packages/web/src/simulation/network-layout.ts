import type { GeneratedScript } from '@vole/core';
import type { Simulation, SimulationLinkDatum, SimulationNodeDatum } from 'd3-force';
import { forceCollide, forceLink, forceManyBody, forceSimulation, forceX, forceY } from 'd3-force';

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

/** Places for agents of a model without a space, by who is tied to whom; those that are there keep theirs when others come or ties change. */
export class NetworkLayout {
  readonly side = SIDE;
  private readonly nodes = new Map<string, Node>();
  private simulation: Simulation<Node, Link> | undefined;
  private told = '';

  /** @param only the one network that is laid out, with its kinds; all if absent */
  constructor(private readonly only?: number) {}

  get isAtRest(): boolean {
    return !this.simulation || this.simulation.alpha() <= RESTING;
  }

  placeOf(kind: number, number: number): { readonly x: number; readonly y: number } | undefined {
    return this.nodes.get(`${kind} ${number}`);
  }

  /** Takes up who came, went, tied and untied, and lets the forces work for a short while. */
  settle(script: GeneratedScript, now: () => number): void {
    const state = [
      ...script.populations.map((p) => `${p.living} ${p.number[p.used - 1] ?? 0}`),
      ...script.networks.map((n) => `${n.living} ${n.nextSerial}`),
    ].join();
    if (state !== this.told) {
      this.told = state;
      this.takeUp(script);
    }
    const until = now() + SHARE;
    while (this.simulation && this.simulation.alpha() > RESTING && now() < until) this.simulation.tick();
  }

  private takeUp(script: GeneratedScript): void {
    const present: Node[] = [];
    let i = 0;
    const networks = this.only === undefined ? script.networks : [script.networks[this.only]!];
    const isIn = (kind: number): boolean =>
      this.only === undefined || networks.some(({ from, to }) => kind === from || kind === to);
    const total = script.populations.reduce((sum, { living }, kind) => sum + (isIn(kind) ? living : 0), 0);
    script.populations.forEach((population, kind) => {
      if (!isIn(kind)) return;
      for (let slot = 0; slot < population.used; slot++) {
        if (!(population.alive[slot]! & 1)) continue;
        const key = `${kind} ${population.number[slot]!}`;
        const radius = (SIDE / 2) * 0.95 * Math.sqrt((i + 0.5) / Math.max(1, total));
        const node = this.nodes.get(key) ?? {
          key,
          x: SIDE / 2 + radius * Math.cos(i * GOLDEN_ANGLE),
          y: SIDE / 2 + radius * Math.sin(i * GOLDEN_ANGLE),
        };
        present.push(node);
        i++;
      }
    });
    this.nodes.clear();
    for (const node of present) this.nodes.set(node.key, node);
    if (present.length > MOST_FORCED) {
      this.simulation = undefined;
      return;
    }
    const links: Link[] = networks.flatMap((network) =>
      network.list.map((tie) => ({
        source: this.nodes.get(`${network.from} ${script.populations[network.from]!.number[network.a[tie]!]!}`)!,
        target: this.nodes.get(`${network.to} ${script.populations[network.to]!.number[network.b[tie]!]!}`)!,
      })),
    );
    const room = SIDE / Math.sqrt(present.length + 1);
    this.simulation = forceSimulation<Node, Link>(present)
      .force(
        'ties',
        forceLink<Node, Link>(links)
          .distance(room * 0.8)
          .iterations(2),
      )
      .force(
        'apart',
        forceManyBody<Node>()
          .strength(-room * 0.7)
          .distanceMax(SIDE / 3),
      )
      .force('room', forceCollide<Node>(room * 0.3))
      .force('x', forceX<Node>(SIDE / 2).strength(0.06))
      .force('y', forceY<Node>(SIDE / 2).strength(0.06))
      .alpha(this.simulation ? DISTURBED : 1)
      .stop();
  }
}
