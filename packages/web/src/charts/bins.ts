export interface Moments {
  readonly mean: number;
  readonly sd: number;
  readonly low: number;
  readonly median: number;
  readonly high: number;
}

export function momentsOf(values: readonly number[]): Moments {
  const sorted = [...values].sort((a, b) => a - b);
  const mean = values.reduce((sum, value) => sum + value, 0) / values.length;
  const sd = Math.sqrt(values.reduce((sum, value) => sum + (value - mean) ** 2, 0) / Math.max(1, values.length - 1));
  const at = (share: number): number => sorted[Math.min(sorted.length - 1, Math.floor(share * sorted.length))] ?? NaN;
  return { mean, sd, low: at(0.05), median: at(0.5), high: at(0.95) };
}

export interface Bin {
  readonly from: number;
  readonly to: number;
  readonly count: number;
}

/** Values in bars of even width; whole numbers of a small range each in their own. */
export function binsOf(values: readonly number[], wanted = 24): Bin[] {
  const finite = values.filter((value) => Number.isFinite(value));
  if (finite.length === 0) return [];
  const low = finite.reduce((a, b) => Math.min(a, b));
  const high = finite.reduce((a, b) => Math.max(a, b));
  const isWhole = finite.every((value) => Number.isInteger(value)) && high - low < 60;
  const width = isWhole ? 1 : (high - low || 1) / wanted;
  const first = isWhole ? low - 0.5 : low;
  const bins = Array.from({ length: isWhole ? high - low + 1 : wanted }, (_, i) => ({
    from: first + i * width,
    to: first + (i + 1) * width,
    count: 0,
  }));
  for (const value of finite) bins[Math.min(bins.length - 1, Math.floor((value - first) / width))]!.count++;
  return bins;
}
