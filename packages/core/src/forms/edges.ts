import type { Edge } from './form.ts';

/** What happens at the ends of an axis. */

/** A position brought back onto a ring of a size: from 0 to below it. */
export function wrap(v: number, size: number): number {
  return v >= 0 && v < size ? v : lessRounds(v, size);
}

/** What is left when whole rounds of a size are taken away: below it, and 0 for places so far off that none of their digits is within a round. */
function lessRounds(v: number, size: number): number {
  const left = v - size * Math.floor(v / size);
  return left < 0 || left >= size ? 0 : left;
}

export function stopAtWall(v: number, size: number): number {
  return v < 0 ? 0 : v > size ? size : v;
}

/** A way that is thrown back at the walls 0 and `size`, as often as needed. */
export function reflect(v: number, size: number): number {
  if (v >= 0 && v <= size) return v;
  const w = wrap(v, 2 * size);
  return w > size ? 2 * size - w : w;
}

/** Whether a reflected way ends going backwards along its axis. */
export function isTurnedBack(v: number, size: number): boolean {
  return Math.floor(v / size) % 2 !== 0 && !(v === size);
}

/** The cell, on one axis, nearest to a position on a grid. */
export function gridCell(v: number, size: number, edge: Edge): number {
  const cell = Math.floor(v + 0.5);
  if (cell >= 0 && cell < size) return cell;
  if (edge === 'wrapping') return lessRounds(cell, size);
  if (edge === 'walled') return cell < 0 ? 0 : size - 1;
  const twice = lessRounds(cell, 2 * size);
  return twice >= size ? 2 * size - 1 - twice : twice;
}

/** The shorter way along an axis from a to b, signed. */
export function wayAlong(a: number, b: number, size: number, wraps: boolean): number {
  const d = b - a;
  if (!wraps) return d;
  return d > size / 2 ? d - size : d < -size / 2 ? d + size : d;
}

/** The neighbouring column or row, or -1 beyond a wall. */
export function neighbour(index: number, count: number, wraps: boolean): number {
  if (index >= 0 && index < count) return index;
  return wraps ? (index < 0 ? index + count : index - count) : -1;
}
