import type { MatchReading } from '@vole/core';
import { textDigest } from '@vole/core';
import { useEffect, useMemo, useState } from 'react';
import { askMatch } from '../observed/table-reader.ts';
import { useAppSelector } from '../store/store.ts';
import { holdAgainst } from '../studies/answers.ts';
import { NewestOnly } from '../studies/newest-only.ts';

/** The match of the open project as its text says it. */
export interface ReadText extends MatchReading {
  /** The text that was read: for a moment an earlier one than that on the page. */
  readonly text: string;
  /** Tells text, tables and model apart from others; studies are held against it. */
  readonly of: string;
  readonly tables: Readonly<Record<string, string>>;
  /** What keeps it from being read at all. */
  readonly problem?: string;
  readonly project: string | undefined;
}

/** The text of the match, read apart from the page whenever it, a table or the model changes; the last reading stays until the next is there. */
export function useMatch(): ReadText | undefined {
  const { id, text: model, files, matchDraft: text } = useAppSelector((state) => state.project);
  const rows = useAppSelector((state) => state.observed.tables);
  const tables = useMemo(() => Object.fromEntries(rows.map(({ name, csv }) => [name, csv])), [rows]);
  const [asking] = useState(() => new NewestOnly());
  const [read, setRead] = useState<ReadText>();
  useEffect(() => () => asking.clear(), [asking]);
  useEffect(() => {
    if (text.trim() === '') return;
    asking.do(async () => {
      const of = textDigest(JSON.stringify([text, tables]));
      const common = { project: id, text, tables, of };
      try {
        const reading = (await askMatch(text, model, tables)) ?? { diagnostics: [] };
        // Before it is on show: whoever asks then is answered by this one.
        if (reading.match) holdAgainst({ text, tables });
        setRead({ ...reading, ...common });
      } catch (error) {
        setRead({ diagnostics: [], ...common, problem: error instanceof Error ? error.message : String(error) });
      }
    });
    // The worker reads the model with the files of now.
  }, [asking, id, text, model, files, tables]);
  return read && read.project === id && text.trim() !== '' ? read : undefined;
}
