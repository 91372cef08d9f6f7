import type { Plan, StoppingRule } from '@vole/core';
import { ChoiceWord } from '../words/ChoiceWord.tsx';
import { EditableWord } from '../words/EditableWord.tsx';
import { readCount } from '../words/read-count.ts';
import { readPercent } from '../words/read-percent.ts';

const MOST_SEEDS = 10_000;
const COUNTED = 'seeds';
const NEEDED = 'as many as needed';

interface Props {
  readonly plan: Plan;
  readonly seeds: number;
  readonly until: StoppingRule | undefined;
  readonly onSeeds: (seeds: number) => void;
  readonly onUntil: (until: StoppingRule | undefined) => void;
  readonly onProblem: (problem: string | undefined) => void;
}

/** How many seeds a study runs, as part of a sentence: a number of them, or as many as it takes to know the mean of a summary. */
export function SeedsWanted({ plan, seeds, until, onSeeds, onUntil, onProblem }: Props) {
  const numbers = plan.summaries.flatMap(({ name, yesNo }, summary) => (yesNo ? [] : [{ name, summary }]));
  const take = (read: number | { readonly problem: string }, set: (value: number) => void): void => {
    onProblem(typeof read === 'number' ? undefined : read.problem);
    if (typeof read === 'number') set(read);
  };
  const how = numbers.length > 0 && (
    <ChoiceWord
      label="How many seeds"
      value={until ? NEEDED : COUNTED}
      options={[COUNTED, NEEDED]}
      onChange={(chosen) =>
        onUntil(chosen === NEEDED ? { summary: numbers[0]!.summary, share: 0.05, most: 500 } : undefined)
      }
    />
  );
  if (!until)
    return (
      <>
        <EditableWord
          label="Number of seeds"
          value={numbers.length > 0 ? String(seeds) : `${seeds} seeds`}
          onChange={(text) => take(readCount(text, MOST_SEEDS, 'A number of seeds'), onSeeds)}
        />{' '}
        {how}
      </>
    );
  return (
    <>
      {how}: until the mean of{' '}
      <ChoiceWord
        label="Summary to be known"
        value={plan.summaries[until.summary]!.name}
        options={numbers.map(({ name }) => name)}
        onChange={(name) => onUntil({ ...until, summary: numbers.find((each) => each.name === name)!.summary })}
      />{' '}
      is known within{' '}
      <EditableWord
        label="How well"
        value={`${Number((until.share * 100).toPrecision(6))} %`}
        onChange={(text) =>
          take(readPercent(text, 'How well a mean is known'), (share) => onUntil({ ...until, share }))
        }
      />
      , at most{' '}
      <EditableWord
        label="Most seeds"
        value={`${until.most} seeds`}
        onChange={(text) =>
          take(readCount(text, MOST_SEEDS, 'The most seeds', 2), (most) => onUntil({ ...until, most }))
        }
      />
      ,
    </>
  );
}
