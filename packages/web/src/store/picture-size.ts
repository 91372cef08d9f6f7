import * as z from 'zod/mini';

/** How large figures are saved. */
export interface PictureSize {
  /** In millimetres, as in print. */
  readonly width: number;
  /** Dots per inch. */
  readonly density: number;
}

export const USUAL_SIZE: PictureSize = { width: 160, density: 300 };

/** Dots to a side that every browser draws. */
const MOST_DOTS = 12_000;
const MILLIMETRES_AN_INCH = 25.4;

const stored = z.object({
  width: z.number().check(z.minimum(5), z.maximum(2000)),
  density: z.number().check(z.minimum(30), z.maximum(2400)),
});

/** A size that was kept; the usual one where none can be read. */
export function readSize(text: string | null): PictureSize {
  try {
    return stored.parse(JSON.parse(text ?? ''));
  } catch {
    return USUAL_SIZE;
  }
}

/** A width or a resolution as it was typed, or what is wrong with it. */
export function readMeasure(text: string, what: 'width' | 'density'): number | { readonly problem: string } {
  const [low, high, name] = what === 'width' ? [5, 2000, 'A width in millimetres'] : [30, 2400, 'Dots per inch'];
  const value = text.trim() === '' ? NaN : Number(text);
  if (value >= low && value <= high) return value;
  return {
    problem: `${name} ${what === 'width' ? 'is' : 'are'} a number from ${low} to ${high}, not “${text.trim()}”.`,
  };
}

/**
 * Dots of a picture of some shape.
 * @throws Error if no browser could draw so many
 */
export function dotsOf(
  shape: { readonly width: number; readonly height: number },
  size: PictureSize,
): [number, number] {
  const width = (size.width / MILLIMETRES_AN_INCH) * size.density;
  const dots: [number, number] = [Math.round(width), Math.max(1, Math.round((width * shape.height) / shape.width))];
  const most = Math.max(...dots);
  if (most > MOST_DOTS)
    throw new Error(
      `At ${size.width} mm and ${size.density} dots per inch the picture would have ${most.toLocaleString('en-GB')} dots to a side; ${MOST_DOTS.toLocaleString('en-GB')} can be drawn. Choose less of either.`,
    );
  return dots;
}
