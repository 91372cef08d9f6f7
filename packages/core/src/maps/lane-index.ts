import type { LaneNetwork } from './lane-network.ts';

/** Most cells of the raster by which lanes are found. */
const MOST_CELLS = 4_000_000;

/** Numbers of a lane among the shapes, as many as one line of a processor's cache holds. */
const PER_LANE = 8;

/** Share of a lane at each of its ends where others may come near. */
const AT_ENDS = 1 / 64;

function shapesOf({ x, y, from, to, length }: LaneNetwork): Float64Array {
  const shapes = new Float64Array(length.length * PER_LANE);
  for (let lane = 0; lane < length.length; lane++) {
    const [ax, ay, bx, by] = [x[from[lane]!]!, y[from[lane]!]!, x[to[lane]!]!, y[to[lane]!]!];
    shapes.set([ax, ay, bx - ax, by - ay, length[lane]! * length[lane]!, bx, by, length[lane]!], lane * PER_LANE);
  }
  return shapes;
}

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
  /** Of each lane, side by side so that it is read at once: x and y of its beginning, the way along it, the square of its length, x and y of its end, its length. */
  private readonly shapes: Float64Array;
  /** Square of what rounding may put a place beside its lane. */
  private readonly rounding: number;
  /** Of each lane whether all others keep away from it: 0 as long as nobody has asked, 1 if they do, 2 if not. */
  private readonly apart: Uint8Array;
  private askedX = NaN;
  private askedY = NaN;

  constructor(private readonly network: LaneNetwork) {
    const { width, height, length } = network;
    const count = length.length;
    this.shapes = shapesOf(network);
    this.apart = new Uint8Array(count);
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
    const { shapes } = this;
    const at = lane * PER_LANE;
    const t = ((px - shapes[at]!) * shapes[at + 2]! + (py - shapes[at + 1]!) * shapes[at + 3]!) / shapes[at + 4]!;
    return t < 0 ? 0 : t > 1 ? 1 : t;
  }

  private squareTo(lane: number, px: number, py: number): number {
    const { shapes } = this;
    const at = lane * PER_LANE;
    const t = this.shareAt(lane, px, py);
    const dx = t === 1 ? shapes[at + 5]! - px : shapes[at]! + t * shapes[at + 2]! - px;
    const dy = t === 1 ? shapes[at + 6]! - py : shapes[at + 1]! + t * shapes[at + 3]! - py;
    return dx * dx + dy * dy;
  }

  /**
   * Finds the place of the lanes that is nearest to another; of lanes equally near the first.
   * @param likely a lane on which it may lie, or -1; nothing but time depends on it
   */
  snap(px: number, py: number, likely = -1): this {
    if (px === this.askedX && py === this.askedY) return this;
    if (likely >= 0 && this.isOnlyOn(likely, px, py)) this.takeNearest(px, py, likely, 0);
    else this.searchAround(px, py);
    this.askedX = px;
    this.askedY = py;
    return this;
  }

  private takeNearest(px: number, py: number, lane: number, square: number): void {
    this.take(lane, this.shareAt(lane, px, py) * this.shapes[lane * PER_LANE + 7]!);
    // A place that is on the lane but for rounding stays as it is, so that it can be found again.
    if (square < this.rounding) {
      this.x = px;
      this.y = py;
    }
  }

  /** Whether a place lies on a lane but for rounding, away from its ends, and no other lane comes near it there. */
  private isOnlyOn(lane: number, px: number, py: number): boolean {
    const t = this.shareAt(lane, px, py);
    if (!(t > AT_ENDS && t < 1 - AT_ENDS && this.squareTo(lane, px, py) < this.rounding)) return false;
    if (this.apart[lane] === 0) this.apart[lane] = this.liesApart(lane) ? 1 : 2;
    return this.apart[lane] === 1;
  }

  /** Whether all other lanes keep away from a lane, its ends left out, by much more than what rounding makes. */
  private liesApart(lane: number): boolean {
    const room = 1e4 * this.rounding;
    const { shapes } = this;
    const at = lane * PER_LANE;
    const point = (t: number): [number, number] => [
      shapes[at]! + t * shapes[at + 2]!,
      shapes[at + 1]! + t * shapes[at + 3]!,
    ];
    const ends = [point(AT_ENDS / 2), point(1 - AT_ENDS / 2)] as const;
    let isApart = true;
    this.cellsOf(lane, (cell) => {
      for (let i = this.starts[cell]!; isApart && i < this.starts[cell + 1]!; i++)
        if (this.lanes[i] !== lane) isApart = !this.comesNear(this.lanes[i]!, ends, room);
    });
    return isApart;
  }

  /** Whether a lane crosses a piece of another, or comes nearer to it than the root of a square. */
  private comesNear(lane: number, ends: readonly [[number, number], [number, number]], square: number): boolean {
    const { shapes } = this;
    const at = lane * PER_LANE;
    const [ax, ay, bx, by] = [shapes[at]!, shapes[at + 1]!, shapes[at + 5]!, shapes[at + 6]!];
    const [[px, py], [qx, qy]] = ends;
    const side = (fx: number, fy: number, tx: number, ty: number, x: number, y: number): number =>
      (tx - fx) * (y - fy) - (ty - fy) * (x - fx);
    const parts = side(ax, ay, bx, by, px, py) * side(ax, ay, bx, by, qx, qy) <= 0;
    if (parts && side(px, py, qx, qy, ax, ay) * side(px, py, qx, qy, bx, by) <= 0) return true;
    const length = (qx - px) * (qx - px) + (qy - py) * (qy - py);
    const toPiece = (x: number, y: number): number => {
      const t = Math.min(1, Math.max(0, ((x - px) * (qx - px) + (y - py) * (qy - py)) / length));
      const [dx, dy] = [px + t * (qx - px) - x, py + t * (qy - py) - y];
      return dx * dx + dy * dy;
    };
    const nearest = Math.min(
      toPiece(ax, ay),
      toPiece(bx, by),
      this.squareTo(lane, px, py),
      this.squareTo(lane, qx, qy),
    );
    return !(nearest > square);
  }

  private searchAround(px: number, py: number): void {
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
    this.takeNearest(px, py, found, best);
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
    const { shapes } = this;
    const at = lane * PER_LANE;
    const t = along / shapes[at + 7]!;
    this.askedX = NaN;
    this.lane = lane;
    this.along = along;
    this.x = t >= 1 ? shapes[at + 5]! : t <= 0 ? shapes[at]! : shapes[at]! + t * shapes[at + 2]!;
    this.y = t >= 1 ? shapes[at + 6]! : t <= 0 ? shapes[at + 1]! : shapes[at + 1]! + t * shapes[at + 3]!;
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
