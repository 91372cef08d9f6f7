import type { LoadedModel } from '../load.ts';
import { readProse } from '../language/prose.ts';
import { concepts } from './concepts.ts';
import { details } from './details.ts';
import type { Section } from './document.ts';
import { overview } from './overview.ts';
import { readRule } from './reading.ts';

/**
 * A model told in the standard order for such models (V. Grimm et al., Ecol. Model. 198 (2006), 115-126; 221 (2010), 2760-2768; J. Artif. Soc. Soc. Simul. 23
 * (2020), 7): overview, design concepts, details, filled from its text. What cannot be derived stands as places for the modeler's words, kept in the prose of the text.
 * @param text that the model was loaded from
 */
export function modelSections({ checked, plan }: LoadedModel, text: string): Section[] {
  const prose = readProse(text);
  const readings = new Map(
    checked.order.flatMap(({ rules }) => rules.map((rule) => [rule, readRule(checked, rule)] as const)),
  );
  return [
    ...overview(checked, prose, readings),
    concepts(checked, prose, readings),
    ...details(checked, plan, text, prose, readings),
  ];
}
