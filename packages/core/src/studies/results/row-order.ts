/** Puts places in the order of their values, in place; those without a value (NaN) come last either way, equal ones stay in the order of their places. */
export function putInOrder(places: Uint32Array, valueOf: (place: number) => number, down: boolean): Uint32Array {
  const sign = down ? -1 : 1;
  return places.sort((a, b) => {
    const [x, y] = [valueOf(a), valueOf(b)];
    if (Number.isNaN(x) || Number.isNaN(y)) return Number(Number.isNaN(x)) - Number(Number.isNaN(y)) || a - b;
    return sign * (x - y) || a - b;
  });
}
