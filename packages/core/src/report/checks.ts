import type { CheckOutcome } from '../studies/checks.ts';
import { expectationWords } from '../studies/checks.ts';
import type { Line, Section } from './document.ts';
import { paragraph, tableOf } from './document.ts';

/** What came of the checks of a model: each case, over how many seeds, whether it held, and what was seen. */
export function checksSection(outcomes: readonly CheckOutcome[]): Section {
  const held = outcomes.filter(({ holds }) => holds).length;
  return {
    id: 'checks',
    title: 'Checks',
    blocks: [
      paragraph(
        `Of ${outcomes.length} ${outcomes.length === 1 ? 'case whose outcome is' : 'cases whose outcome is'} known beforehand ${held === outcomes.length ? (held === 1 ? 'it held' : 'all held') : `${held} held and ${outcomes.length - held} did not`}, over the seeds that each asks for.`,
      ),
      tableOf({
        is: 'table',
        head: ['case', 'seeds', 'holds', 'what was seen'],
        rows: outcomes.map(({ title, seeds, holds, expectations, failure }): Line => [
          title,
          String(seeds),
          holds ? 'yes' : { is: 'strong', text: 'no' },
          failure
            ? `the run with seed ${failure.seed} stopped: ${failure.diagnostic.message}`
            : expectations.map(expectationWords).join('; '),
        ]),
        numeric: [1],
        caption: ['Checks of the model, run with the text above.'],
      }),
    ],
  };
}
