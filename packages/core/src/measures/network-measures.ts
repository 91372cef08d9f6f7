/** A network as lists: for each agent those it is tied to, ties taken as undirected, nobody twice. */
export type Adjacency = readonly (readonly number[])[];

/** How many parts there are within which everybody can be reached along ties. */
export function componentCount(ties: Adjacency): number {
  const seen = new Uint8Array(ties.length);
  let count = 0;
  for (let first = 0; first < ties.length; first++) {
    if (seen[first]) continue;
    count++;
    const open = [first];
    seen[first] = 1;
    while (open.length > 0) {
      for (const other of ties[open.pop()!]!) {
        if (seen[other]) continue;
        seen[other] = 1;
        open.push(other);
      }
    }
  }
  return count;
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
