import type { LaneNetwork } from '@vole/core';
import { linesWithStops } from '@vole/core/stop-edits';
import { useMemo } from 'react';
import { foundWords } from '../session/map-text.ts';
import { useAppSelector } from '../store/store.ts';
import type { LineTool, Tool } from './HandCard.tsx';
import { OPENING } from './HandCard.tsx';

interface Props {
  readonly lanes: LaneNetwork;
  readonly tool: Tool;
  readonly onTool: (tool: Tool) => void;
}

const NEW_LINE: LineTool = { is: 'line', does: 'begins', line: 'a new line' };

/** What was found in a map, and what a click does to the lines whose stops stand in the text. */
export function MapTools({ lanes, tool, onTool }: Props) {
  const text = useAppSelector((state) => state.project.text);
  const lines = useMemo(() => linesWithStops(text), [text]);
  const chosen = tool.is === 'line' ? tool : undefined;
  const choice = (wanted: LineTool, words: string) => {
    const isOn = chosen?.does === wanted.does && chosen.line === wanted.line;
    return (
      <button
        type="button"
        className={isOn ? 'font-semibold' : 'link'}
        aria-pressed={isOn}
        aria-label={`A click ${wanted.does} ${wanted.line}`}
        onClick={() => onTool(isOn ? OPENING : wanted)}
      >
        {words}
      </button>
    );
  };
  return (
    <>
      <p className="text-faint">{foundWords(lanes)}</p>
      <ul aria-label="Lines" className="mt-1">
        {lines.map(({ name, stops }) => (
          <li key={name}>
            {name} <span className="text-faint">{stops} stops:</span>{' '}
            {choice({ is: 'line', does: 'adds a stop to', line: name }, 'add')},{' '}
            {choice({ is: 'line', does: 'moves a stop of', line: name }, 'move')},{' '}
            {choice({ is: 'line', does: 'takes a stop out of', line: name }, 'take out')}
          </li>
        ))}
        <li>{choice(NEW_LINE, 'draw a line')}</li>
      </ul>
      {chosen && (
        <p className="mt-1" role="status">
          {chosen.does === 'begins'
            ? chosen.first === undefined
              ? 'Click where its first stop is.'
              : `It begins at ${chosen.first}; click where its second stop is.`
            : `A click on the map ${chosen.does} ${chosen.line}.`}
        </p>
      )}
    </>
  );
}
