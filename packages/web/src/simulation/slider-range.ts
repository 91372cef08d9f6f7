import type { ParameterPlan } from '@vole/core';

/** The range of a slider: the bounds of the text, or up to four times the usual value. */
export function sliderRange({ value, min, max, whole, unitFactor }: ParameterPlan): {
  min: number;
  max: number;
  step: number;
} {
  const usual = value / unitFactor;
  const low = min === undefined ? Math.min(0, usual * 4) : min / unitFactor;
  const high = max === undefined ? Math.max(1, usual * 4) : max / unitFactor;
  const rough = (high - low) / 100;
  const step = whole ? 1 : 10 ** Math.floor(Math.log10(rough));
  return { min: low, max: high, step };
}
