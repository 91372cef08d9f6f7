/** A run that lies outside the others for some of its course. */
interface ApartRun {
  /** Its place among the runs that were given. */
  readonly place: number;
  /** The first kept row in which it lies outside, and whether it lies above the others there. */
  readonly row: number;
  readonly isAbove: boolean;
  /** Share of the rows in which it lies outside. */
  readonly share: number;
}

/** One of the least central runs, and where it lies furthest out. */
interface UnusualRun {
  readonly place: number;
  readonly row: number;
  readonly isAbove: boolean;
}

/** How central each course is, the most central one, and those that stand apart. */
export interface CourseDepths {
  /** Modified band depth of each course, from 0 to 1: the deeper, the more central. */
  readonly depths: readonly number[];
  /** Place of the deepest. */
  readonly typical: number;
  /** Those that lie further out than the central half by 1.5 times its width somewhere; those longest outside first. */
  readonly apart: readonly ApartRun[];
  /** The least deep that do not stand apart, the least first; none where all are as deep. */
  readonly unusual: readonly UnusualRun[];
}

/** A course stands apart where it lies further out than the central half by so many times the width of that half. */
const OUTSIDE = 1.5;
/** Fewest courses among which some can stand apart. */
const LEAST_COURSES = 8;
/** Values that are put in order for depths. */
const MOST_VALUES = 100_000;
/** The least central courses that are named. */
const MOST_UNUSUAL = 2;

/**
 * Orders courses by their modified band depth: the mean, over time and over all pairs of courses, of the share of time for which a course
 * lies between the two. Source: S. Lopez-Pintado and J. Romo, J. Am. Stat. Assoc. 104 (2009), 718-734, J = 2; computed by ranks as in
 * Y. Sun, M. G. Genton and D. W. Nychka, Stat 1 (2012), 68-74. Courses stand apart by the functional box plot of Y. Sun and M. G. Genton,
 * J. Comput. Graph. Stat. 20 (2011), 316-334.
 *
 * @param courses values row by row, of one length each; one that is shorter keeps its last value; empty values (NaN) count as lying nowhere
 */
export function courseDepths(courses: readonly Float64Array[]): CourseDepths {
  const n = courses.length;
  const rows = Math.max(0, ...courses.map(({ length }) => length));
  const at = (place: number, row: number): number => {
    const course = courses[place]!;
    return course.length === 0 ? NaN : course[row < course.length ? row : course.length - 1]!;
  };
  const sums = new Float64Array(n);
  const counted = new Float64Array(n);
  const pairs = (n * (n - 1)) / 2;
  // Of very many courses the depth is taken over some rows, evenly spread: it orders them just as well.
  const every = Math.max(1, Math.ceil((n * rows) / MOST_VALUES));
  for (let row = 0; row < rows; row += every) {
    const values = courses.map((_, place) => at(place, row));
    const sorted = Uint32Array.from(courses.keys())
      .filter((place) => !Number.isNaN(values[place]!))
      .sort((a, b) => values[a]! - values[b]!);
    for (let from = 0; from < sorted.length;) {
      let to = from + 1;
      while (to < sorted.length && values[sorted[to]!] === values[sorted[from]!]) to++;
      // Equal values lie in every band that touches them.
      const below = from;
      const above = sorted.length - to;
      const same = to - from;
      const inside = below * above + same * (below + above) + (same * (same - 1)) / 2;
      for (let i = from; i < to; i++) {
        sums[sorted[i]!]! += pairs > 0 ? inside / pairs : 1;
        counted[sorted[i]!]!++;
      }
      from = to;
    }
  }
  const depths = Array.from(sums, (sum, i) => (counted[i]! > 0 ? sum / counted[i]! : 0));
  const order = depths.map((_, i) => i).sort((a, b) => depths[b]! - depths[a]! || a - b);
  const apart = n < LEAST_COURSES ? [] : apartOf(order, rows, at);
  const others = order.filter((i) => !apart.some(({ place }) => place === i)).reverse();
  const unusual = n < LEAST_COURSES ? [] : others.slice(0, MOST_UNUSUAL).map((i) => unusualOf(i, order, rows, at));
  return { depths, typical: order[0] ?? -1, apart, unusual };
}

/** Where a course lies furthest from the deepest one. */
function unusualOf(
  place: number,
  order: readonly number[],
  rows: number,
  at: (place: number, row: number) => number,
): UnusualRun {
  let furthest = { place, row: 0, isAbove: true };
  let distance = 0;
  for (let row = 0; row < rows; row++) {
    const apart = at(place, row) - at(order[0]!, row);
    if (Math.abs(apart) > distance) {
      distance = Math.abs(apart);
      furthest = { place, row, isAbove: apart > 0 };
    }
  }
  return furthest;
}

function apartOf(order: readonly number[], rows: number, at: (place: number, row: number) => number): ApartRun[] {
  const low = new Float64Array(rows).fill(Infinity);
  const high = new Float64Array(rows).fill(-Infinity);
  for (const place of order.slice(0, Math.ceil(order.length / 2)))
    for (let row = 0; row < rows; row++) {
      const value = at(place, row);
      if (value < low[row]!) low[row] = value;
      if (value > high[row]!) high[row] = value;
    }
  return order
    .flatMap((place): ApartRun[] => {
      let first: { row: number; isAbove: boolean } | undefined;
      let outside = 0;
      for (let row = 0; row < rows; row++) {
        if (low[row]! > high[row]!) continue;
        const margin = OUTSIDE * (high[row]! - low[row]!);
        const value = at(place, row);
        const isAbove = value > high[row]! + margin;
        if (!isAbove && !(value < low[row]! - margin)) continue;
        first ??= { row, isAbove };
        outside++;
      }
      return first ? [{ place, ...first, share: outside / rows }] : [];
    })
    .sort((a, b) => b.share - a.share || a.place - b.place);
}
