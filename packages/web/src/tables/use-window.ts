import { useDeferredValue, useState } from 'react';

/** Rows that are asked for at a time, those in sight in their middle. */
const WINDOW = 400;

/** Which rows of a long table are asked for, as it is scrolled. */
export function useWindow(): {
  readonly from: number;
  readonly count: number;
  /** Says that a row is in sight that is not there yet. */
  readonly miss: (index: number) => void;
} {
  const [wanted, setWanted] = useState(0);
  const miss = (index: number): void => {
    const start = Math.max(0, index - WINDOW / 2);
    // Rows are made while the table is drawn; what they need is asked for after it.
    if (Math.abs(start - wanted) > WINDOW / 4) queueMicrotask(() => setWanted(start));
  };
  return { from: useDeferredValue(wanted), count: WINDOW, miss };
}
