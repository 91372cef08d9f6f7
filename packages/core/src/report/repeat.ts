import { textDigest } from '../digest.ts';
import type { Section } from './document.ts';
import { code, paragraph } from './document.ts';

/** How somebody else gets the same numbers. @param text of the model @param engine its version */
export function repeatSection(text: string, engine: string): Section {
  return {
    id: 'repeat',
    title: 'How to repeat it',
    blocks: [
      paragraph(
        'All numbers follow from the text of the model, the values of its parameters and the seeds. The text has the digest ',
        code(textDigest(text)),
        ` (the beginning of SHA-256); runs were made by engine version ${engine} of Vole Parade. The same text, values and seeds give the same run to the bit, in a browser and on the command line.`,
      ),
      paragraph(
        'The bundle of the project, opened in the application, runs all of it again at a click, and so does ',
        code('npx vole verify BUNDLE'),
        ' in a terminal; a run of the model alone is repeated by',
      ),
      { is: 'listing', text: 'npx vole run MODEL.vole --seed 1' },
    ],
  };
}
