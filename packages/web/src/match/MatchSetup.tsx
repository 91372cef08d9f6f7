import type { MatchDefinition, Plan } from '@vole/core';
import { applyEdits } from '@vole/core';
import { useState } from 'react';
import { downloadText, fileName } from '../files/download.ts';
import { draftMatch } from '../session/session.ts';
import { useAppSelector } from '../store/store.ts';
import { StaleNote, StudyProgress } from '../studies/study-views.tsx';
import { TextFindings } from '../studies/TextFindings.tsx';
import { ChoiceWord } from '../words/ChoiceWord.tsx';
import type { ComparedRuns } from './compared-runs.ts';
import { MatchSentence } from './MatchSentence.tsx';
import { SearchControls } from './SearchControls.tsx';
import type { ReadText } from './use-match.ts';

interface Props {
  readonly plan: Plan;
  readonly read: ReadText | undefined;
  /** The last one that was right: where the text has errors it is still shown. */
  readonly match: MatchDefinition | undefined;
  readonly place: number;
  readonly onPlace: (place: number) => void;
  readonly compared: ComparedRuns;
}

/** What is compared with what, as a sentence or as a text, with the search it asks for. */
export function MatchSetup({ plan, read, match, place, onPlace, compared }: Props) {
  const [asText, setAsText] = useState(false);
  const text = useAppSelector((state) => state.project.matchDraft);
  const hasText = text.trim() !== '';
  const fits = read?.text === text;
  return (
    <section aria-label="Comparison" className="card p-4">
      {!hasText && !asText && <p className="font-title text-[17px]">Compare the model with what was observed.</p>}
      {asText ? (
        <textarea
          aria-label="Text of the match"
          className="h-64 w-full resize-y rounded border border-line bg-ground p-2 font-mono text-[13px] leading-5 whitespace-pre-wrap"
          spellCheck={false}
          value={text}
          onChange={(event) => draftMatch(event.target.value)}
        />
      ) : (
        hasText && (
          <MatchSentence
            plan={plan}
            text={text}
            series={Math.min(place, Math.max(0, (match?.series.length ?? 1) - 1))}
            names={match?.series.map(({ name }) => name) ?? []}
            onSeries={onPlace}
          />
        )
      )}
      {compared.words.length > 0 && hasText && (
        <p className="text-sm">
          against{' '}
          <ChoiceWord
            label="Compared runs"
            value={compared.chosen}
            options={compared.words}
            onChange={compared.choose}
          />
        </p>
      )}
      <p className="flex flex-wrap gap-x-3 text-sm">
        <button type="button" className="link" onClick={() => setAsText(!asText)}>
          {asText ? 'as a sentence' : 'as text'}
        </button>
        {hasText && (
          <button
            type="button"
            className="link"
            onClick={() => downloadText(fileName(match?.name ?? 'match', 'match'), text)}
          >
            as a file
          </button>
        )}
      </p>
      {read?.problem && (
        <p role="alert" className="mt-1 text-problem">
          {read.problem}
        </p>
      )}
      {read && hasText && read.diagnostics.length > 0 && (
        <TextFindings
          text={read.text}
          diagnostics={read.diagnostics}
          onFix={(fix) => fits && draftMatch(applyEdits(read.text, fix.edits))}
        />
      )}
      {compared.isUnfit && (
        <p role="alert" className="mt-1 text-problem">
          These runs are of a text of the model that the match does not fit.
        </p>
      )}
      {read?.match && fits ? (
        <SearchControls plan={plan} read={read} match={read.match} posterior={compared.posterior} />
      ) : (
        <StudyProgress kind="match" plan={plan} />
      )}
      {compared.kind === 'repeat' && <StaleNote kind="repeat" />}
    </section>
  );
}
