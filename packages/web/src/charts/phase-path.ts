/** A point of a path through two measures. */
export interface PhasePoint {
  readonly step: number;
  readonly x: number;
  readonly y: number;
}

/**
 * The path of a run through two measures, row by row; rows in which one of them is empty are left out.
 * @param rows all measures of all steps, step by step
 * @param width measures a step
 * @param most points that are drawn; of more rows every so manyth, and always the last
 */
export function phasePath(
  rows: ArrayLike<number>,
  width: number,
  { x, y }: { readonly x: number; readonly y: number },
  most: number,
): PhasePoint[] {
  const count = Math.floor(rows.length / Math.max(1, width));
  const stride = Math.max(1, Math.ceil(count / most));
  const points: PhasePoint[] = [];
  for (let step = 0; step < count; step++) {
    if (step % stride !== 0 && step !== count - 1) continue;
    const point = { step, x: rows[step * width + x]!, y: rows[step * width + y]! };
    if (Number.isFinite(point.x) && Number.isFinite(point.y)) points.push(point);
  }
  return points;
}
