import { normalLayers } from '../engine/random/laws.ts';
import { SINES } from '../sines.ts';

const LAYERS = normalLayers();

/** Numbers that kernels look up, as one column: the layers of the normal law, then the sines of whole degrees. */
export const TABLES = Float64Array.of(...LAYERS, ...SINES);

/** Where the sine of 0 degrees stands there. */
export const SINES_AT = LAYERS.length;
