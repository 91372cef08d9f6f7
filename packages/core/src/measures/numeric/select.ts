/** Stretches of so few values are sorted by insertion. */
const SHORT = 32;

/**
 * Moves the values that a sorted array would have at some places to these places, without sorting the rest. Source: C. Hoare, Algorithm 65: Find (1961), for several places at once.
 * @param values finite or endless, no NaN; changed in place
 * @param places ascending, within `values`
 */
export function placeInOrder(values: Float64Array, places: readonly number[]): void {
  select(values, 0, values.length - 1, places, 0, places.length);
}

/** Works on values low to high, and on the places from one to another. */
function select(
  values: Float64Array,
  low: number,
  high: number,
  places: readonly number[],
  first: number,
  end: number,
): void {
  while (high - low >= SHORT && first < end) {
    const pivot = middleOfThree(values[low]!, values[(low + high) >> 1]!, values[high]!);
    let i = low;
    let j = high;
    while (i <= j) {
      while (values[i]! < pivot) i++;
      while (values[j]! > pivot) j--;
      if (i > j) break;
      const value = values[i]!;
      values[i++] = values[j]!;
      values[j--] = value;
    }
    let split = first;
    while (split < end && places[split]! <= j) split++;
    select(values, low, j, places, first, split);
    // What lies between j and i is equal to the pivot, and in its place.
    while (split < end && places[split]! < i) split++;
    low = i;
    first = split;
  }
  if (first < end) insertionSort(values, low, high);
}

function middleOfThree(a: number, b: number, c: number): number {
  return Math.max(Math.min(a, b), Math.min(Math.max(a, b), c));
}

function insertionSort(values: Float64Array, low: number, high: number): void {
  for (let i = low + 1; i <= high; i++) {
    const value = values[i]!;
    let j = i - 1;
    for (; j >= low && values[j]! > value; j--) values[j + 1] = values[j]!;
    values[j + 1] = value;
  }
}
