import type { CheckedModel, MeasureSymbol } from '../language/checked.ts';
import { unitScale } from '../language/scales.ts';

/** Of a measure or summary that is shown in a unit of its own: base units in one of it. Its rows hold the shown numbers. */
export function shownFactor(model: CheckedModel, { part }: MeasureSymbol): number {
  return part.unit ? (unitScale(part.unit.key, model.scales)?.factor ?? 1) : 1;
}
