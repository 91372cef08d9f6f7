/**
 * Points that fill a cube evenly, however many are taken.
 * Source: I. M. Sobol (1967); direction numbers of S. Joe and F. Y. Kuo, Constructing Sobol sequences with better two-dimensional
 * projections, SIAM J. Sci. Comput. 30 (2008), 2635-2654; Gray code order of I. A. Antonov and V. M. Saleev (1979).
 */

/** Degree and inner coefficients of a primitive polynomial, then the first direction numbers, of dimensions from the second on. */
const DIRECTIONS: readonly (readonly [coefficients: number, ...first: number[]])[] = [
  [0, 1],
  [1, 1, 3],
  [1, 1, 3, 1],
  [2, 1, 1, 1],
  [1, 1, 1, 3, 3],
  [4, 1, 3, 5, 13],
  [2, 1, 1, 5, 5, 17],
  [4, 1, 1, 5, 5, 5],
  [7, 1, 1, 7, 11, 19],
  [11, 1, 1, 5, 1, 1],
  [13, 1, 1, 1, 3, 11],
  [14, 1, 3, 5, 5, 31],
  [1, 1, 3, 3, 9, 7, 49],
  [13, 1, 1, 1, 15, 21, 21],
  [16, 1, 3, 1, 13, 27, 49],
  [19, 1, 1, 1, 15, 7, 5],
  [22, 1, 3, 1, 15, 13, 25],
  [25, 1, 1, 5, 5, 19, 61],
  [1, 1, 3, 7, 11, 23, 15, 103],
  [4, 1, 3, 7, 13, 13, 15, 69],
  [7, 1, 1, 3, 13, 7, 35, 63],
  [8, 1, 3, 5, 9, 1, 25, 53],
  [14, 1, 3, 1, 13, 9, 35, 107],
  [19, 1, 3, 1, 5, 27, 61, 31],
  [21, 1, 1, 5, 11, 19, 41, 61],
  [28, 1, 3, 5, 3, 3, 13, 69],
  [31, 1, 1, 7, 13, 1, 19, 1],
  [32, 1, 3, 7, 5, 13, 19, 59],
  [37, 1, 1, 3, 9, 25, 29, 41],
  [41, 1, 3, 5, 13, 23, 1, 55],
  [42, 1, 3, 7, 3, 13, 59, 17],
  [50, 1, 3, 1, 3, 5, 53, 69],
  [55, 1, 1, 5, 5, 23, 33, 13],
  [56, 1, 1, 7, 7, 1, 61, 123],
  [59, 1, 1, 7, 9, 13, 61, 49],
  [62, 1, 3, 3, 5, 3, 55, 33],
  [14, 1, 3, 1, 15, 31, 13, 49, 245],
  [21, 1, 3, 5, 15, 31, 59, 63, 97],
  [22, 1, 3, 1, 11, 11, 11, 77, 249],
];

/** Most dimensions of a sequence. */
export const MOST_DIMENSIONS = DIRECTIONS.length + 1;
const BITS = 32;
const ONE = 4294967296;

/** The direction numbers of a dimension, counted from 0, as words of 32 bits. */
function directionsOf(dimension: number): Uint32Array {
  const words = new Uint32Array(BITS);
  const row = DIRECTIONS[dimension - 1];
  if (!row) return words.map((_, i) => 1 << (BITS - 1 - i));
  const [coefficients, ...first] = row;
  const degree = first.length;
  for (let i = 0; i < BITS; i++) {
    if (i < degree) {
      words[i] = first[i]! << (BITS - 1 - i);
      continue;
    }
    let word = words[i - degree]! ^ (words[i - degree]! >>> degree);
    for (let k = 1; k < degree; k++) if ((coefficients >> (degree - 1 - k)) & 1) word ^= words[i - k]!;
    words[i] = word;
  }
  return words;
}

/**
 * The first points of the sequence, each of `dimensions` numbers from 0 to below 1.
 * @param shift a word for each dimension that is added digit by digit (a digital shift), which keeps the evenness and makes further samples
 * @throws RangeError beyond `MOST_DIMENSIONS` dimensions
 */
export function sobolPoints(count: number, dimensions: number, shift: readonly number[] = []): number[][] {
  if (dimensions > MOST_DIMENSIONS)
    throw new RangeError(`The sequence has ${MOST_DIMENSIONS} dimensions, not ${dimensions}`);
  const directions = Array.from({ length: dimensions }, (_, d) => directionsOf(d));
  const state = new Uint32Array(dimensions);
  return Array.from({ length: count }, (_, place) => {
    if (place > 0) {
      // The lowest zero of the place before says which direction changes.
      const changed = 31 - Math.clz32(~(place - 1) & place);
      for (let d = 0; d < dimensions; d++) state[d]! ^= directions[d]![changed]!;
    }
    return Array.from(state, (word, d) => ((word ^ (shift[d] ?? 0)) >>> 0) / ONE);
  });
}
