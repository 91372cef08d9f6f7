import type { PosteriorAnswer, PosteriorWords } from '@vole/core';
import { posteriorPicture } from '@vole/core';
import { useMemo } from 'react';

interface Props extends PosteriorWords {
  readonly found: NonNullable<PosteriorAnswer['found']>;
  readonly colour: string;
}

/** Posteriors over their priors on the diagonal, draws of each pair of unknowns below it; drawn as reports have it, in the colours of the page. */
export function PosteriorPairs({ found, units, words, colour }: Props) {
  const svg = useMemo(
    () =>
      posteriorPicture(
        found,
        { units, words },
        { draws: colour, ground: 'var(--ground)', line: 'var(--line)', ink: 'var(--ink)', faint: 'var(--faint)' },
      ),
    [found, units, words, colour],
  );
  return (
    <div className="h-full max-h-full w-full [&>svg]:h-full [&>svg]:w-full" dangerouslySetInnerHTML={{ __html: svg }} />
  );
}
