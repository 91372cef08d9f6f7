import type { LaneNetwork } from './lane-network.ts';

/** The lanes that begin or end at each node: those of node n are `lanes[starts[n]]` to before `lanes[starts[n + 1]]`. */
export interface LanesAt {
  readonly starts: Int32Array;
  readonly lanes: Int32Array;
}

export function lanesAtNodes({ x, from, to }: LaneNetwork): LanesAt {
  const starts = new Int32Array(x.length + 1);
  for (const ends of [from, to]) for (const node of ends) starts[node + 1]!++;
  for (let node = 0; node < x.length; node++) starts[node + 1]! += starts[node]!;
  const next = starts.slice();
  const lanes = new Int32Array(from.length * 2);
  for (let lane = 0; lane < from.length; lane++) {
    lanes[next[from[lane]!]!++] = lane;
    lanes[next[to[lane]!]!++] = lane;
  }
  return { starts, lanes };
}
