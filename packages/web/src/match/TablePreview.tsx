import type { DateOrder, MatchReading, Plan, TableLook } from '@vole/core';
import { Dialog } from 'radix-ui';
import { useEffect, useState } from 'react';
import { askMatch } from '../observed/table-reader.ts';
import { useAppSelector } from '../store/store.ts';
import { ChoiceWord } from '../words/ChoiceWord.tsx';
import { EditableWord } from '../words/EditableWord.tsx';
import { withTable } from './match-edits.ts';
import type { ColumnRole, TableChoices } from './table-choices.ts';
import { COLUMN_ROLES, errorWords, guessChoices, linesOfChoices, READINGS, withRole } from './table-choices.ts';

/** A table that is about to be taken. */
export interface ShownTable {
  readonly name: string;
  readonly csv: string;
  readonly look: TableLook;
}

interface Props {
  readonly table: ShownTable;
  readonly plan: Plan;
  /** Texts of model and match as they stand, and the tables there are. */
  readonly model: string;
  readonly match: string;
  readonly tables: Readonly<Record<string, string>>;
  /** Takes the table with the text of the match that goes with it. */
  readonly onTake: (match: string) => void;
  readonly onClose: () => void;
}

const TIMES = ['date', 'hours', 'days', 'weeks', 'years', 'steps', 'time'];
const ORDERS: readonly DateOrder[] = ['year month day', 'day month year', 'month day year'];

/** A table before it is taken: what its columns seem to hold, which can be corrected, and what is read of it so. */
export function TablePreview({ table, plan, model, match, tables, onTake, onClose }: Props) {
  const { name, csv, look } = table;
  const [choices, setChoices] = useState<TableChoices>(() => guessChoices(look, plan));
  const candidate = withTable(match, name, linesOfChoices(choices, look));
  const reading = useReading(candidate, model, { ...tables, [name]: csv });
  // Until something is tied to a column, what is missing is said in the words of this dialog.
  const isTied = choices.columns.some(({ expression }) => expression.trim() !== '');
  const problems = reading?.diagnostics.filter(({ severity }) => severity === 'error') ?? [];
  const stepLimit = useAppSelector((state) => state.model.stepLimit);
  const expressions = [...new Set(plan.measures.map((measure) => measure.name))];
  const setExpression = (at: number, expression: string): void =>
    setChoices({
      ...choices,
      columns: choices.columns.map((choice, i) => (i === at ? { ...choice, expression } : choice)),
    });
  return (
    <Dialog.Root open onOpenChange={(open) => !open && onClose()}>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-40 bg-black/30" />
        <Dialog.Content
          className="card fixed top-1/2 left-1/2 z-50 flex max-h-[88vh] w-[min(920px,94vw)] -translate-x-1/2 -translate-y-1/2 flex-col overflow-auto p-6"
          onOpenAutoFocus={(event) => event.preventDefault()}
        >
          <Dialog.Title className="text-xl">{name}</Dialog.Title>
          <Dialog.Description className="mb-2 text-faint">
            {look.rows.toLocaleString('en-GB')} rows. {look.notes.join(' ')} Say what the columns hold; columns that are
            compared with the same thing are replicates.
          </Dialog.Description>
          <div className="overflow-auto">
            <table className="text-sm">
              <thead>
                <tr className="align-top">
                  {look.columns.map((column, at) => (
                    <th
                      key={column.name}
                      className="min-w-[130px] border-b border-line px-2 pb-1 text-left font-normal"
                    >
                      <b className="block">{column.name}</b>
                      <span className="block text-faint">
                        {column.holds}
                        {column.gaps > 0 && `, ${column.gaps} ${column.gaps === 1 ? 'gap' : 'gaps'}`}
                      </span>
                      <ChoiceWord
                        label={`Column ${column.name} is`}
                        value={choices.columns[at]!.role}
                        options={COLUMN_ROLES}
                        onChange={(role) => setChoices(withRole(choices, at, role as ColumnRole, look))}
                      />
                      {choices.columns[at]!.role === 'values' && (
                        <label className="mt-1 block">
                          of{' '}
                          <input
                            aria-label={`Column ${column.name} is compared with`}
                            className="word w-full"
                            list="expressions"
                            placeholder="a measure ..."
                            value={choices.columns[at]!.expression}
                            onChange={(event) => setExpression(at, event.target.value)}
                          />
                        </label>
                      )}
                    </th>
                  ))}
                </tr>
              </thead>
              <tbody>
                {look.first.map((cells, row) => (
                  <tr key={row} className="border-b border-line">
                    {cells.map((cell, at) => (
                      <td key={at} className="px-2 py-0.5">
                        {cell}
                      </td>
                    ))}
                  </tr>
                ))}
              </tbody>
            </table>
          </div>
          <datalist id="expressions">
            {expressions.map((expression) => (
              <option key={expression} value={expression} />
            ))}
          </datalist>
          <p className="mt-3 font-title text-[17px] leading-8">
            Times are{' '}
            <ChoiceWord
              label="Times are"
              value={choices.timeIs}
              options={TIMES}
              onChange={(timeIs) => setChoices({ ...choices, timeIs })}
            />
            {choices.timeIs === 'date' && choices.written && (
              <>
                , written{' '}
                <ChoiceWord
                  label="Dates are written"
                  value={choices.written}
                  options={ORDERS}
                  onChange={(written) => setChoices({ ...choices, written: written as DateOrder })}
                />
              </>
            )}
            ; values were observed{' '}
            <ChoiceWord
              label="Values were observed"
              value={choices.reading}
              options={READINGS}
              onChange={(next) => setChoices({ ...choices, reading: next })}
            />
            {choices.columns.every(({ role }) => role !== 'error') && (
              <>
                , with{' '}
                <EditableWord
                  label="Error of observing"
                  value={choices.error === '' ? 'no error' : errorWords(choices.error)}
                  onChange={(error) => setChoices({ ...choices, error })}
                />
              </>
            )}
            .
          </p>
          <p className="text-sm text-faint">
            An error is written “12 %”, “3” (a standard deviation), “poisson” or “negative binomial of 5”.
          </p>
          {isTied ? null : (
            <p role="status" className="mt-2 text-doubt">
              Say above, under a column of values, of which measure they are
              {expressions.length > 0 &&
                `: ${expressions.slice(0, 4).join(', ')}${expressions.length > 4 ? ' ...' : ''}`}
              .
            </p>
          )}
          {isTied && problems.length > 0 ? (
            <ul role="alert" className="mt-2 text-problem">
              {problems.slice(0, 6).map(({ message, hint }, i) => (
                <li key={i}>
                  {message} {hint}
                </li>
              ))}
            </ul>
          ) : (
            reading?.match && (
              <p className="mt-2 text-sm" data-testid="preview-read">
                {seriesWords(reading, name, match, stepLimit * plan.clock.stepLength)}
              </p>
            )
          )}
          <div className="mt-3 flex gap-2">
            <button type="button" className="btn-strong" disabled={!reading?.match} onClick={() => onTake(candidate)}>
              Take it
            </button>
            <button type="button" className="btn" onClick={onClose}>
              Leave it
            </button>
          </div>
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}

/** What is read of a text, once it is there; nothing while another one is being read. */
function useReading(text: string, model: string, tables: Readonly<Record<string, string>>): MatchReading | undefined {
  const [read, setRead] = useState<{ readonly of: string; readonly reading: MatchReading }>();
  const key = JSON.stringify([text, model, Object.keys(tables)]);
  useEffect(() => {
    let isAsked = true;
    const show = (reading: MatchReading): void => {
      if (isAsked) setRead({ of: key, reading });
    };
    askMatch(text, model, tables).then(
      (reading) => show(reading ?? { diagnostics: [] }),
      (error: unknown) =>
        show({
          diagnostics: [
            {
              severity: 'error',
              code: 'study/values',
              message: error instanceof Error ? error.message : String(error),
              span: { start: 0, end: 0 },
            },
          ],
        }),
    );
    return () => {
      isAsked = false;
    };
    // The tables are the same as long as their names are, while the preview is open.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [key]);
  return read?.of === key ? read.reading : undefined;
}

/** @param end of a run, in base units of time */
function seriesWords({ match }: MatchReading, table: string, before: string, end: number): string {
  const words = match!.series.map(({ name, observations, gaps }) => {
    const outside = observations.filter(({ time }) => time < 0 || time > end).length;
    return [
      `${name}: ${observations.length} ${observations.length === 1 ? 'value' : 'values'}`,
      ...(gaps > 0 ? [`${gaps} ${gaps === 1 ? 'gap' : 'gaps'}`] : []),
      ...(outside > 0 ? [`${outside} outside the time of a run, which will not be compared`] : []),
    ].join(', ');
  });
  const replaces = before.includes(`"${table}"`) ? ' It takes the place of the table of this name.' : '';
  return `${words.join('; ')}.${replaces}`;
}
