import FlatQueue from 'flatqueue';
import { cosDegrees, sinDegrees } from '../math.ts';
import type { LaneIndex } from './lane-index.ts';
import type { LaneNetwork } from './lane-network.ts';
import { lanesAtNodes } from './lanes-at.ts';

/** Who can be come to along the lanes within some length of a place. The lanes round a place are searched once for all who are asked about in a row. */
export class NearLanes {
  private readonly at;
  /** Lengths of the ways to the nodes that bear the number of the search. */
  private readonly length: Float64Array;
  private readonly foundIn: Int32Array;
  private search = 0;
  private readonly queue = new FlatQueue<number>();
  private asked = { x: NaN, y: NaN, facing: NaN, most: NaN };
  private lane = -1;
  private along = 0;
  private goesOn = true;
  private goesBack = true;

  constructor(
    private readonly network: LaneNetwork,
    private readonly index: LaneIndex,
  ) {
    this.at = lanesAtNodes(network);
    this.length = new Float64Array(network.x.length);
    this.foundIn = new Int32Array(network.x.length);
  }

  /**
   * Whether the way from a place to another along the lanes is no longer than a length.
   * @param facing a direction that one sets out in, in degrees; either way along the lane if it is not a number
   */
  isWithin(x: number, y: number, facing: number, most: number, toX: number, toY: number): boolean {
    if (!(x === x && toX === toX)) return false;
    const { asked } = this;
    const isSame =
      x === asked.x &&
      y === asked.y &&
      most === asked.most &&
      (facing === asked.facing || (facing !== facing && asked.facing !== asked.facing));
    if (!isSame) this.searchRound(x, y, facing, most);
    const { from, to, length, oneWay } = this.network;
    const { lane, along } = this.index.snap(toX, toY);
    if (lane === this.lane) {
      const on = along - this.along;
      if (on >= 0 ? this.goesOn || on === 0 : this.goesBack) {
        if (Math.abs(on) <= most) return true;
      }
    }
    if (this.wayTo(from[lane]!) + along <= most) return true;
    return !oneWay[lane] && this.wayTo(to[lane]!) + (length[lane]! - along) <= most;
  }

  private wayTo(node: number): number {
    return this.foundIn[node] === this.search ? this.length[node]! : Infinity;
  }

  /** Lengths of the ways to all nodes within reach. */
  private searchRound(x: number, y: number, facing: number, most: number): void {
    const { network, queue } = this;
    const { lane, along } = this.index.snap(x, y);
    const [a, b] = [network.from[lane]!, network.to[lane]!];
    const ahead =
      sinDegrees(facing) * (network.x[b]! - network.x[a]!) + cosDegrees(facing) * (network.y[b]! - network.y[a]!);
    this.goesOn = !(ahead < 0);
    this.goesBack = !(ahead >= 0) && (!network.oneWay[lane] || along === 0);
    this.asked = { x, y, facing, most };
    this.lane = lane;
    this.along = along;
    this.search++;
    queue.clear();
    if (this.goesOn) this.reach(b, network.length[lane]! - along, most);
    if (this.goesBack) this.reach(a, along, most);
    for (let node = queue.pop(); node !== undefined; node = queue.pop()) {
      const done = this.length[node]!;
      for (let i = this.at.starts[node]!; i < this.at.starts[node + 1]!; i++) {
        const next = this.at.lanes[i]!;
        if (network.from[next] === node) this.reach(network.to[next]!, done + network.length[next]!, most);
        else if (!network.oneWay[next]) this.reach(network.from[next]!, done + network.length[next]!, most);
      }
    }
  }

  private reach(node: number, length: number, most: number): void {
    if (!(length <= most) || !(length < this.wayTo(node))) return;
    this.length[node] = length;
    this.foundIn[node] = this.search;
    this.queue.push(node, length);
  }
}
