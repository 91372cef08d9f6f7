import type { MatchLine, Plan } from '@vole/core';
import { MATCH_LIMITS, MATCH_METHODS } from '@vole/core';
import { useState } from 'react';
import { draftMatch } from '../session/session.ts';
import { ChoiceWord } from '../words/ChoiceWord.tsx';
import { EditableWord } from '../words/EditableWord.tsx';
import { readCount } from '../words/read-count.ts';
import {
  linesLike,
  partOf,
  usualPrior,
  withExpression,
  withHoldOut,
  withoutUnknown,
  withPart,
  withSearch,
  withUnknown,
} from './match-edits.ts';
import { errorWords, READINGS } from './table-choices.ts';

interface Props {
  readonly plan: Plan;
  readonly text: string;
  /** Place of the series that is looked at, among all of the text. */
  readonly series: number;
  readonly names: readonly string[];
  readonly onSeries: (series: number) => void;
}

/** The match as a sentence whose words are edited; each change is one of its text. */
export function MatchSentence({ plan, text, series, names, onSeries }: Props) {
  const ties = linesLike(text, 'tie');
  const tie = ties[series];
  const finds = linesLike(text, 'find');
  const [by] = linesLike(text, 'by');
  return (
    <>
      {tie && <TieSentence text={text} tie={tie} table={tableOf(text, tie)} plan={plan} />}
      {ties.length > 1 && (
        <p className="text-sm">
          series{' '}
          <ChoiceWord
            label="Series"
            value={names[series] ?? ''}
            options={names}
            onChange={(name) => onSeries(names.indexOf(name))}
          />{' '}
          of {ties.length}
        </p>
      )}
      <p className="mt-1 text-sm text-faint">
        held out from{' '}
        <EditableWord
          label="Held out from"
          value={linesLike(text, 'hold out')[0]?.value.text.replace(/^from\s+/i, '') ?? 'never'}
          onChange={(from) => draftMatch(withHoldOut(text, /^never$/i.test(from.trim()) ? '' : from))}
        />
      </p>
      {finds.length > 0 && (
        <p className="mt-2 font-title text-[17px] leading-8">
          Find{' '}
          {finds.map(({ name, value }, i) => (
            <span key={name.span.start}>
              {i > 0 && (i === finds.length - 1 ? ' and ' : ', ')}
              <b>{name.text}</b> in{' '}
              <span className="whitespace-nowrap">
                <EditableWord
                  label={`Prior of ${name.text}`}
                  value={value.text}
                  onChange={(prior) => draftMatch(withUnknown(text, name.text, prior))}
                />
                <button
                  type="button"
                  className="px-1 text-sm text-faint"
                  aria-label={`Do not seek ${name.text}`}
                  onClick={() => draftMatch(withoutUnknown(text, name.text))}
                >
                  ✕
                </button>
              </span>
            </span>
          ))}
          {by && (
            <>
              , by{' '}
              <ChoiceWord
                label="Method"
                value={by.method}
                options={MATCH_METHODS}
                onChange={(method) =>
                  draftMatch(withSearch(text, { method: method as (typeof MATCH_METHODS)[number] }))
                }
              />
              {by.method !== 'best point' && (
                <>
                  ,{' '}
                  <NumberWord
                    label="Draws"
                    value={by.draws}
                    words="draws"
                    most={MATCH_LIMITS.draws}
                    onChange={(draws) => draftMatch(withSearch(text, { draws }))}
                  />
                </>
              )}
              , at most{' '}
              <NumberWord
                label="Runs at most"
                value={by.most}
                words="runs"
                most={MATCH_LIMITS.runs}
                onChange={(most) => draftMatch(withSearch(text, { most }))}
              />
              .
            </>
          )}
        </p>
      )}
      <FindAnother plan={plan} text={text} finds={finds.map(({ name }) => name.text.toLowerCase())} />
    </>
  );
}

/** A whole number in a sentence; what is none stays as it was, and it is said why. */
function NumberWord({
  label,
  value,
  words,
  most,
  onChange,
}: {
  readonly label: string;
  readonly value: number;
  readonly words: string;
  readonly most: number;
  readonly onChange: (value: number) => void;
}) {
  const [problem, setProblem] = useState<string>();
  return (
    <>
      <EditableWord
        label={label}
        value={`${value} ${words}`}
        onChange={(typed) => {
          const count = readCount(typed.replace(/[,'](?=\d{3})/g, ''), most, label);
          setProblem(typeof count === 'number' ? undefined : count.problem);
          if (typeof count === 'number') onChange(count);
        }}
      />
      {problem && (
        <span role="alert" className="block font-body text-base text-problem">
          {problem}
        </span>
      )}
    </>
  );
}

function FindAnother({
  plan,
  text,
  finds,
}: {
  readonly plan: Plan;
  readonly text: string;
  readonly finds: readonly string[];
}) {
  const others = plan.parameters.filter(({ name }) => !finds.includes(name.toLowerCase()));
  if (others.length === 0) return null;
  const prompt = finds.length === 0 ? 'find a parameter ...' : 'and another one ...';
  return (
    <p className="text-sm">
      <ChoiceWord
        label="Find another parameter"
        value={prompt}
        options={[prompt, ...others.map(({ name }) => name)]}
        onChange={(name) => {
          const parameter = others.find((each) => each.name === name);
          if (parameter) draftMatch(withUnknown(text, name, usualPrior(parameter)));
        }}
      />
    </p>
  );
}

function TieSentence({
  text,
  tie,
  table,
  plan,
}: {
  readonly text: string;
  readonly tie: Extract<MatchLine, { is: 'tie' }>;
  readonly table: string;
  readonly plan: Plan;
}) {
  const reading = partOf(tie, 'reading') ?? READINGS[0]!;
  return (
    <p className="font-title text-[17px] leading-8">
      Compare{' '}
      <EditableWord
        label="Compared with"
        value={tie.expression.text}
        onChange={(expression) =>
          draftMatch(withExpression(text, tie, expression.trim() || (plan.measures[0]?.name ?? '')))
        }
      />{' '}
      with <b>{tie.columns.map((column) => column.text).join(', ')}</b> of <b>{table}</b>,{' '}
      <ChoiceWord
        label="Observed"
        value={reading}
        options={READINGS.includes(reading) ? READINGS : [...READINGS, reading]}
        onChange={(words) => draftMatch(withPart(text, tie, 'reading', words === READINGS[0] ? undefined : words))}
      />
      ,{' '}
      <EditableWord
        label="Error of observing"
        value={partOf(tie, 'error') ?? 'no error'}
        onChange={(typed) => {
          const words = errorWords(typed);
          draftMatch(withPart(text, tie, 'error', words === 'no error' ? undefined : words));
        }}
      />
      .
    </p>
  );
}

/** The table that a tie is of: the last one named above it. */
function tableOf(text: string, tie: MatchLine): string {
  const above = linesLike(text, 'observed').filter(({ span }) => span.start < tie.span.start);
  return above.at(-1)?.value.text.replace(/^["“]|["”]$/g, '') ?? '';
}
