import Graph from 'graphology';
import louvain from 'graphology-communities-louvain';
import { connectedComponents } from 'graphology-components';
import forceAtlas2 from 'graphology-layout-forceatlas2';
import { singleSourceLength } from 'graphology-shortest-path/unweighted.js';
import { keyOfName, RandomStream } from '../../engine/random/stream.ts';
import { meanClustering } from '../../measures/network-measures.ts';
import type { GraphTable } from '../../graphml.ts';
import type { PowerLaw } from './power-law.ts';
import { powerLawOf } from './power-law.ts';

/** Who met whom, and how often, as it was recorded. */
export interface Meetings {
  /** What each of those that met is called, once. */
  readonly nodes: readonly string[];
  /** Places of both in `nodes`, once for each pair; of directed networks from the first to the second. */
  readonly pairs: readonly (readonly [from: number, to: number, meetings: number])[];
  readonly directed: boolean;
}

/** Numbers of a network; ways, clusters and communities take ties as undirected. */
export interface NetworkFigures {
  /** Agents that met anybody. */
  readonly nodes: number;
  /** Pairs that met; of directed networks each way counts. */
  readonly ties: number;
  readonly meetings: number;
  /** Share of all pairs that met. */
  readonly density: number;
  readonly meanDegree: number;
  /** Share of ties that go both ways; NaN of undirected networks. */
  readonly reciprocity: number;
  readonly components: number;
  /** Share of the nodes that the largest component has. */
  readonly largest: number;
  /** Mean over nodes of the share of their neighbours that met one another (Watts and Strogatz 1998). */
  readonly clustering: number;
  /** Mean number of ties between those that can reach one another. */
  readonly pathLength: number;
  /** The most ties between two that can reach one another. */
  readonly diameter: number;
  /** Mean over pairs of one over the ties between them, 0 for those that cannot reach one another (Latora and Marchiori 2001). */
  readonly efficiency: number;
  /** Communities, and their modularity (Blondel et al. 2008). */
  readonly communities: number;
  readonly modularity: number;
}

/** A network with its figures, and whatever its picture and its distribution of degrees need. */
export interface NetworkAnswer {
  readonly figures: NetworkFigures;
  /** Nodes from which ways were measured: all, or evenly chosen ones of very many. */
  readonly sources: number;
  /** Neighbours of each node. */
  readonly degrees: readonly number[];
  readonly law: PowerLaw | undefined;
  /** The picture; nothing of networks that are too large for one. */
  readonly picture: NetworkPicture | undefined;
}

/** Where the nodes of a network are drawn, and its ties. */
export interface NetworkPicture {
  readonly nodes: readonly {
    readonly name: string;
    /** From 0 to 1 across and down. */
    readonly x: number;
    readonly y: number;
    readonly degree: number;
    readonly community: number;
  }[];
  /** Places of both in `nodes`. */
  readonly ties: readonly (readonly [from: number, to: number, meetings: number])[];
}

/** Nodes from which ways are measured at most. */
const MOST_SOURCES = 300;
const MOST_DRAWN = 600;
const MOST_TIES_DRAWN = 4000;
const LAYOUT_ROUNDS = 200;

/** Works out a network. The same meetings give the same answer: communities and the picture draw from a luck of their own. */
export function networkOf(meetings: Meetings, withPicture: boolean): NetworkAnswer {
  const graph = undirectedGraph(meetings);
  const size = graph.order;
  const neighbours = meetings.nodes.map((_, node) => graph.neighbors(node).map(Number));
  const degrees = neighbours.map((list) => list.length);
  const components = connectedComponents(graph).map((members) => members.length);
  const ways = waysIn(graph, neighbours);
  const luck = RandomStream.of(size, 0, keyOfName('communities'));
  const { communities, count, modularity } =
    graph.size > 0
      ? louvain.detailed(graph, { rng: () => luck.word() / 4294967296, getEdgeWeight: 'weight' })
      : { communities: {} as Record<string, number>, count: size, modularity: NaN };
  const { pairs, directed } = meetings;
  const both = directed ? pairs.filter(([a, b]) => a !== b && graph.getEdgeAttribute(a, b, 'ways') === 2).length : NaN;
  const possible = (size * (size - 1)) / (directed ? 1 : 2);
  const drawn = withPicture && size <= MOST_DRAWN && graph.size <= MOST_TIES_DRAWN;
  return {
    figures: {
      nodes: size,
      ties: pairs.length,
      meetings: pairs.reduce((sum, [, , times]) => sum + times, 0),
      density: pairs.length / possible,
      meanDegree: degrees.reduce((sum, degree) => sum + degree, 0) / size,
      reciprocity: both / pairs.length,
      components: components.length,
      largest: Math.max(0, ...components) / size,
      clustering: meanClustering(neighbours),
      pathLength: ways.mean,
      diameter: ways.longest,
      efficiency: ways.efficiency,
      communities: count,
      modularity,
    },
    sources: ways.sources,
    degrees,
    law: powerLawOf(degrees),
    picture: drawn ? pictureOf(meetings, graph, communities) : undefined,
  };
}

/** Ties both ways as one, with the meetings of both and in how many ways they went. */
function undirectedGraph({ nodes, pairs }: Meetings): Graph {
  const graph = new Graph({ type: 'undirected' });
  nodes.forEach((_, node) => graph.addNode(node));
  for (const [a, b, times] of pairs) {
    if (a === b) continue;
    graph.updateEdge(a, b, (known) => ({
      weight: Number(known['weight'] ?? 0) + times,
      ways: Number(known['ways'] ?? 0) + 1,
    }));
  }
  return graph;
}

function waysIn(
  graph: Graph,
  neighbours: readonly (readonly number[])[],
): { readonly mean: number; readonly longest: number; readonly efficiency: number; readonly sources: number } {
  const size = neighbours.length;
  const every = Math.max(1, size / MOST_SOURCES);
  let [total, reached, longest, inverse, sources] = [0, 0, 0, 0, 0];
  for (let at = 0; at < size; at += every) {
    sources++;
    const lengths = singleSourceLength(graph, Math.floor(at));
    for (const length of Object.values(lengths)) {
      if (length === 0) continue;
      total += length;
      inverse += 1 / length;
      reached++;
      if (length > longest) longest = length;
    }
  }
  return {
    mean: total / reached,
    longest: reached === 0 ? NaN : longest,
    efficiency: inverse / (sources * (size - 1)),
    sources,
  };
}

function pictureOf(
  { nodes, pairs }: Meetings,
  graph: Graph,
  communities: Readonly<Record<string, number>>,
): NetworkPicture {
  const luck = RandomStream.of(nodes.length, 0, keyOfName('picture'));
  nodes.forEach((_, node) => {
    graph.setNodeAttribute(node, 'x', luck.word() / 4294967296);
    graph.setNodeAttribute(node, 'y', luck.word() / 4294967296);
  });
  const places = forceAtlas2(graph, {
    iterations: LAYOUT_ROUNDS,
    getEdgeWeight: null,
    settings: { ...forceAtlas2.inferSettings(graph), gravity: 1, adjustSizes: false },
  });
  const across = nodes.map((_, node) => places[node]!['x']);
  const down = nodes.map((_, node) => places[node]!['y']);
  const scaled = (values: readonly number[]): ((value: number) => number) => {
    const [low, high] = [Math.min(...values), Math.max(...values)];
    return (value) => (high > low ? (value - low) / (high - low) : 0.5);
  };
  const [x, y] = [scaled(across), scaled(down)];
  return {
    nodes: nodes.map((name, node) => ({
      name,
      x: x(across[node]!),
      y: y(down[node]!),
      degree: graph.degree(node),
      community: communities[node] ?? 0,
    })),
    ties: pairs,
  };
}

/** Meetings as a network that can be written: agents by their names, ties with their number of meetings. */
export function graphOfMeetings({ nodes, pairs, directed }: Meetings): GraphTable {
  return {
    directed,
    nodeColumns: [],
    tieColumns: ['meetings'],
    nodes: nodes.map((name) => ({ name, values: [] })),
    ties: pairs.map(([from, to, times]) => ({ from, to, values: [times] })),
  };
}
