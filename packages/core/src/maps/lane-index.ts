import type { LaneNetwork } from './lane-network.ts';

/** Most cells of the raster by which lanes are found. */
const MOST_CELLS = 4_000_000;

/** Finds the lane at, or nearest to, a place. What was found last stands in its members, so that nothing is made for an answer. */
export class LaneIndex {
  /** The place found: a lane, how far along it, and where that is. */
  lane = -1;
  along = 0;
  x = NaN;
  y = NaN;

  private readonly cell: number;
  private readonly columns: number;
  private readonly rows: number;
  /** Lanes of cell c: `lanes[starts[c]]` to before `lanes[starts[c + 1]]`. */
  private readonly starts: Int32Array;
  private readonly lanes: Int32Array;
  private readonly sums: Float64Array;
  /** Square of what rounding may put a place beside its lane. */
  private readonly rounding: number;
  private askedX = NaN;
  private askedY = NaN;

  constructor(private readonly network: LaneNetwork) {
    const { width, height, length } = network;
    const count = length.length;
    this.rounding = 1e-20 * Math.max(width * width, height * height);
    const wanted = Math.sqrt((width * height) / Math.min(MOST_CELLS, Math.max(1, count * 2)));
    this.cell = Math.max(wanted, Math.max(width, height) / 2000);
    this.columns = Math.floor(width / this.cell) + 1;
    this.rows = Math.floor(height / this.cell) + 1;
    this.starts = new Int32Array(this.columns * this.rows + 1);
    for (let lane = 0; lane < count; lane++) this.cellsOf(lane, (cell) => this.starts[cell + 1]!++);
    for (let cell = 0; cell < this.columns * this.rows; cell++) this.starts[cell + 1]! += this.starts[cell]!;
    const next = this.starts.slice();
    this.lanes = new Int32Array(this.starts[this.columns * this.rows]!);
    for (let lane = 0; lane < count; lane++) this.cellsOf(lane, (cell) => (this.lanes[next[cell]!++] = lane));
    this.sums = new Float64Array(count);
    let sum = 0;
    for (let lane = 0; lane < count; lane++) this.sums[lane] = sum += length[lane]!;
  }

  /** Cells through which a lane may go: those of its box that lie near enough to it. */
  private cellsOf(lane: number, use: (cell: number) => void): void {
    const { x, y, from, to } = this.network;
    const [ax, ay, bx, by] = [x[from[lane]!]!, y[from[lane]!]!, x[to[lane]!]!, y[to[lane]!]!];
    const [left, right] = [this.columnOf(Math.min(ax, bx)), this.columnOf(Math.max(ax, bx))];
    const [bottom, top] = [this.rowOf(Math.min(ay, by)), this.rowOf(Math.max(ay, by))];
    const isWide = right > left && top > bottom;
    const near = 0.7072 * this.cell;
    for (let row = bottom; row <= top; row++)
      for (let column = left; column <= right; column++) {
        const isNear =
          !isWide || this.squareTo(lane, (column + 0.5) * this.cell, (row + 0.5) * this.cell) <= near * near;
        if (isNear) use(row * this.columns + column);
      }
  }

  private columnOf(x: number): number {
    return Math.min(this.columns - 1, Math.max(0, Math.floor(x / this.cell)));
  }

  private rowOf(y: number): number {
    return Math.min(this.rows - 1, Math.max(0, Math.floor(y / this.cell)));
  }

  /** The share of a lane after which it is nearest to a place. */
  private shareAt(lane: number, px: number, py: number): number {
    const { x, y, from, to, length } = this.network;
    const a = from[lane]!;
    const b = to[lane]!;
    const t = ((px - x[a]!) * (x[b]! - x[a]!) + (py - y[a]!) * (y[b]! - y[a]!)) / (length[lane]! * length[lane]!);
    return t < 0 ? 0 : t > 1 ? 1 : t;
  }

  private squareTo(lane: number, px: number, py: number): number {
    const { x, y, from, to } = this.network;
    const t = this.shareAt(lane, px, py);
    const a = from[lane]!;
    const b = to[lane]!;
    const dx = t === 1 ? x[b]! - px : x[a]! + t * (x[b]! - x[a]!) - px;
    const dy = t === 1 ? y[b]! - py : y[a]! + t * (y[b]! - y[a]!) - py;
    return dx * dx + dy * dy;
  }

  /** Finds the place of the lanes that is nearest to another; of lanes equally near the first. */
  snap(px: number, py: number): this {
    if (px === this.askedX && py === this.askedY) return this;
    let best = Infinity;
    let found = -1;
    const column = this.columnOf(px);
    const row = this.rowOf(py);
    const most = Math.max(this.columns, this.rows);
    for (let ring = 0; ring <= most; ring++) {
      for (let r = row - ring; r <= row + ring; r++) {
        if (r < 0 || r >= this.rows) continue;
        const isWhole = r === row - ring || r === row + ring;
        for (let c = column - ring; c <= column + ring; c += isWhole || ring === 0 ? 1 : 2 * ring) {
          if (c < 0 || c >= this.columns) continue;
          const cell = r * this.columns + c;
          for (let i = this.starts[cell]!; i < this.starts[cell + 1]!; i++) {
            const lane = this.lanes[i]!;
            const square = this.squareTo(lane, px, py);
            if (square < best || (square === best && lane < found)) {
              best = square;
              found = lane;
            }
          }
        }
      }
      if (found >= 0 && best < this.seenAround(px, py, column, row, ring)) break;
    }
    this.take(found, this.shareAt(found, px, py) * this.network.length[found]!);
    // A place that is on the lane but for rounding stays as it is, so that it can be found again.
    if (best < this.rounding) {
      this.x = px;
      this.y = py;
    }
    this.askedX = px;
    this.askedY = py;
    return this;
  }

  /** Square of the distance within which all lanes lie in the cells of so many rings; places outside the map lie beyond its border cells. */
  private seenAround(px: number, py: number, column: number, row: number, ring: number): number {
    const { cell, columns, rows } = this;
    const left = column - ring <= 0 ? Infinity : px - (column - ring) * cell;
    const right = column + ring >= columns - 1 ? Infinity : (column + ring + 1) * cell - px;
    const bottom = row - ring <= 0 ? Infinity : py - (row - ring) * cell;
    const top = row + ring >= rows - 1 ? Infinity : (row + ring + 1) * cell - py;
    const seen = Math.min(left, right, bottom, top);
    return seen > 0 ? seen * seen : 0;
  }

  /** Takes a place on a lane as found. */
  take(lane: number, along: number): void {
    const { x, y, from, to, length } = this.network;
    const a = from[lane]!;
    const b = to[lane]!;
    const t = along / length[lane]!;
    this.askedX = NaN;
    this.lane = lane;
    this.along = along;
    this.x = t >= 1 ? x[b]! : t <= 0 ? x[a]! : x[a]! + t * (x[b]! - x[a]!);
    this.y = t >= 1 ? y[b]! : t <= 0 ? y[a]! : y[a]! + t * (y[b]! - y[a]!);
  }

  /** The place so much of all lanes' length from the first one's beginning. @param share from 0 to 1 */
  placeAt(share: number): this {
    const { sums } = this;
    const wanted = share * sums[sums.length - 1]!;
    let low = 0;
    let high = sums.length - 1;
    while (low < high) {
      const middle = (low + high) >> 1;
      if (sums[middle]! > wanted) high = middle;
      else low = middle + 1;
    }
    const before = low === 0 ? 0 : sums[low - 1]!;
    this.take(low, Math.min(wanted - before, this.network.length[low]!));
    return this;
  }
}
