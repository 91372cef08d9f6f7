import type { FormName, SpaceForm } from './form.ts';
import { grid } from './grid.ts';
import { hexagons } from './hexagons.ts';
import { map } from './map.ts';
import { plane } from './plane.ts';

/** The forms of space that there are. */
export const FORMS: Readonly<Record<FormName, SpaceForm>> = { plane, grid, hexagons, map };

/** The form of a space, at each stage from the text to the run. */
export function formOf({ form }: { readonly form: FormName }): SpaceForm {
  return FORMS[form];
}
