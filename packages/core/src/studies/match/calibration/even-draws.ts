/** Places of so many draws, spread evenly over their summed weights (systematic resampling); heavy ones come several times. @param start from 0 to 1 */
export function evenDraws(weights: readonly number[], count: number, start = 0.5): number[] {
  const chosen: number[] = [];
  let [sum, draw] = [weights[0] ?? 0, 0];
  for (let i = 0; i < count; i++) {
    const wanted = (i + start) / count;
    while (sum < wanted && draw < weights.length - 1) sum += weights[++draw]!;
    chosen.push(draw);
  }
  return chosen;
}
