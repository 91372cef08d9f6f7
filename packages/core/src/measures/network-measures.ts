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

export function componentCount(ties: Adjacency): number {
  return componentSizes(ties).length;
}

/** Mean number of ties on the shortest ways from some agents to all they can reach; not a number if they reach nobody. */
export function meanPathLength(ties: Adjacency, from: readonly number[]): number {
  let total = 0;
  let pairs = 0;
  const far = new Int32Array(ties.length);
  for (const first of from) {
    far.fill(-1);
    far[first] = 0;
    const queue = [first];
    for (let at = 0; at < queue.length; at++) {
      const agent = queue[at]!;
      for (const other of ties[agent]!) {
        if (far[other]! >= 0) continue;
        far[other] = far[agent]! + 1;
        total += far[other];
        pairs++;
        queue.push(other);
      }
    }
  }
  return total / pairs;
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
