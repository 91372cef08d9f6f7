import { useVirtualizer } from '@tanstack/react-virtual';
import type { ReactNode } from 'react';
import { useRef } from 'react';

interface Props {
  readonly head: ReactNode;
  readonly count: number;
  /** A row by its place, as a `tr` of height `TABLE_ROW`. */
  readonly row: (index: number) => ReactNode;
  readonly label: string;
}

/** Height of a row in pixels. */
export const TABLE_ROW = 22;
const BEYOND = 20;

/** A table of however many rows; only those in sight are made. */
export function VirtualTable({ head, count, row, label }: Props) {
  const scroller = useRef<HTMLDivElement>(null);
  const shown = useVirtualizer({
    count,
    getScrollElement: () => scroller.current,
    estimateSize: () => TABLE_ROW,
    overscan: BEYOND,
  });
  const items = shown.getVirtualItems();
  const above = items[0]?.start ?? 0;
  const below = shown.getTotalSize() - (items.at(-1)?.end ?? 0);
  return (
    <div ref={scroller} className="min-h-0 flex-1 overflow-auto" tabIndex={0} role="region" aria-label={label}>
      <table className="w-full text-right" aria-rowcount={count + 1}>
        <thead className="sticky top-0 bg-sheet text-sm text-faint">{head}</thead>
        <tbody>
          {above > 0 && <tr style={{ height: above }} aria-hidden />}
          {items.map(({ index }) => row(index))}
          {below > 0 && <tr style={{ height: below }} aria-hidden />}
        </tbody>
      </table>
    </div>
  );
}
