/** A network as lists: for each agent those it is tied to, ties taken as undirected, nobody twice. */
export type Adjacency = readonly (readonly number[])[];

/** How many are in each of the parts within which everybody can be reached along ties, in the order of their first members. */
export function componentSizes(ties: Adjacency): number[] {
  const seen = new Uint8Array(ties.length);
  const sizes: number[] = [];
  for (let first = 0; first < ties.length; first++) {
    if (seen[first]) continue;
    const open = [first];
    seen[first] = 1;
    let size = 0;
    while (open.length > 0) {
      size++;
      for (const other of ties[open.pop()!]!) {
        if (seen[other]) continue;
        seen[other] = 1;
        open.push(other);
      }
    }
    sizes.push(size);
  }
  return sizes;
}

/** How many ordered pairs are so many ties apart, by the number of ties on their shortest ways from some agents; pairs that cannot reach one another are in none. */
function pairsApart(ties: Adjacency, from: readonly number[]): number[] {
  const pairs: number[] = [0];
  const far = new Int32Array(ties.length);
  for (const first of from) {
    far.fill(-1);
    far[first] = 0;
    const queue = [first];
    for (let at = 0; at < queue.length; at++) {
      const agent = queue[at]!;
      for (const other of ties[agent]!) {
        if (far[other]! >= 0) continue;
        const apart = far[agent]! + 1;
        far[other] = apart;
        pairs[apart] = (pairs[apart] ?? 0) + 1;
        queue.push(other);
      }
    }
  }
  return pairs;
}

/** Mean number of ties on the shortest ways from some agents to all they can reach; not a number if they reach nobody. */
export function meanPathLength(ties: Adjacency, from: readonly number[]): number {
  const pairs = pairsApart(ties, from);
  return sumOf(pairs, (count, apart) => count * apart) / sumOf(pairs, (count) => count);
}

/** The most ties on a shortest way between two that can reach one another; not a number if nobody reaches anybody. */
function diameter(ties: Adjacency): number {
  const longest = pairsApart(ties, [...ties.keys()]).length - 1;
  return longest === 0 ? NaN : longest;
}

/**
 * Mean over all pairs of 1 / ties on their shortest way, 0 where there is none; not a number for fewer than two agents.
 * Source: V. Latora and M. Marchiori, Efficient behavior of small-world networks (2001).
 */
function efficiency(ties: Adjacency): number {
  // Summed by lengths, so that it does not depend on the order of agents.
  const pairs = pairsApart(ties, [...ties.keys()]);
  return sumOf(pairs, (count, apart) => (apart === 0 ? 0 : count / apart)) / (ties.length * (ties.length - 1));
}

function sumOf(pairs: readonly number[], value: (count: number, apart: number) => number): number {
  return pairs.reduce((sum, count, apart) => sum + value(count, apart), 0);
}

/**
 * Mean over the agents of the share of pairs of their neighbours that are tied themselves; those with fewer than two neighbours count as 0.
 * Source: D. J. Watts and S. H. Strogatz, Collective dynamics of small-world networks (1998).
 */
export function meanClustering(ties: Adjacency): number {
  if (ties.length === 0) return NaN;
  let total = 0;
  const isNeighbour = new Uint8Array(ties.length);
  for (const neighbours of ties) {
    const k = neighbours.length;
    if (k < 2) continue;
    for (const other of neighbours) isNeighbour[other] = 1;
    let closed = 0;
    for (const other of neighbours) for (const third of ties[other]!) if (isNeighbour[third]) closed++;
    total += closed / (k * (k - 1));
    for (const other of neighbours) isNeighbour[other] = 0;
  }
  return total / ties.length;
}

/** What can be asked of a network as a whole, in the words of the language. */
export type NetworkMeasure =
  'components' | 'largest component' | 'clustering' | 'mean path' | 'diameter' | 'efficiency';

export function networkMeasure(which: NetworkMeasure, ties: Adjacency): number {
  switch (which) {
    case 'components':
      return componentSizes(ties).length;
    case 'largest component':
      return componentSizes(ties).reduce((most, size) => Math.max(most, size), 0);
    case 'clustering':
      return meanClustering(ties);
    case 'mean path':
      return meanPathLength(ties, [...ties.keys()]);
    case 'diameter':
      return diameter(ties);
    case 'efficiency':
      return efficiency(ties);
  }
}
