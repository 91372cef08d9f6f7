import { MOST_NOTES, noteHeader, stepWords, timeOf, writesNotes } from '@vole/core';
import { useMemo, useState } from 'react';
import { TakeFiles } from '../files/TakeFiles.tsx';
import { live, useLive } from '../simulation/live-handle.ts';
import { TABLE_ROW, VirtualTable } from '../tables/VirtualTable.tsx';
import { shownNumber } from '../words/numbers.ts';
import { Card } from './Card.tsx';
import { agentNamed, notesWith } from './log-filter.ts';

/** What `log` lines of the text wrote in the run on show: a click on a step goes there, one on an agent opens it. */
export function LogCard({ width }: { readonly width: number }) {
  const plan = useLive((state) => state.plan);
  const notes = useLive((state) => state.notes);
  const step = useLive((state) => state.frame?.step ?? 0);
  const [words, setWords] = useState('');
  const shown = useMemo(() => notesWith(notes, words), [notes, words]);
  const writes = useMemo(() => plan !== undefined && writesNotes(plan), [plan]);
  if (!plan || !writes) return null;
  const said =
    notes.length < MOST_NOTES
      ? `${shownNumber(notes.length)} ${notes.length === 1 ? 'note' : 'notes'}`
      : `the first ${shownNumber(MOST_NOTES)} notes`;
  return (
    <Card title="Log" width={width} note={words.trim() === '' ? said : `${shownNumber(shown.length)} of ${said}`}>
      <input
        aria-label="Words of the notes that are listed"
        placeholder="words, an agent, or step 12"
        className="word w-full"
        value={words}
        onChange={(event) => setWords(event.target.value)}
      />
      {shown.length === 0 ? (
        <p className="mt-1 text-faint">
          {notes.length === 0 ? 'No “log” line has written anything yet.' : 'No note has these words.'}
        </p>
      ) : (
        <div className="mt-1 flex h-52 flex-col text-sm">
          <VirtualTable
            label="Notes, the newest first"
            count={shown.length}
            head={
              <tr>
                <th className="pr-2 text-left font-normal">step</th>
                <th className="pr-2 text-left font-normal">agent</th>
                <th className="w-full text-left font-normal">note</th>
              </tr>
            }
            row={(index) => {
              const note = shown[index]!;
              const agent = agentNamed(plan, note.agent);
              return (
                <tr
                  key={index}
                  aria-rowindex={index + 2}
                  style={{ height: TABLE_ROW }}
                  className={`border-t border-line whitespace-nowrap ${note.step > step ? 'text-faint' : ''}`}
                >
                  <td className="pr-2">
                    <button
                      type="button"
                      className="link"
                      title={`Go to ${stepWords(plan, note.step)}`}
                      onClick={() => live.goTo(note.step)}
                    >
                      {note.step}
                    </button>
                  </td>
                  <td className="pr-2 text-left">
                    {agent ? (
                      <button
                        type="button"
                        className="link"
                        title={`Open ${note.agent}`}
                        onClick={() => live.openAgent(agent.kind, agent.number)}
                      >
                        {note.agent}
                      </button>
                    ) : (
                      note.agent
                    )}
                  </td>
                  <td className="max-w-0 truncate text-left" title={`${note.text} (line ${note.line} of the text)`}>
                    {note.text}
                  </td>
                </tr>
              );
            }}
          />
        </div>
      )}
      <TakeFiles
        title="Log"
        note={said}
        table={() => [
          // Of one run, whose seed the file says.
          noteHeader(plan).slice(2),
          ...[...shown].reverse().map((note) => [note.step, timeOf(plan, note.step), note.agent, note.line, note.text]),
        ]}
      />
    </Card>
  );
}
