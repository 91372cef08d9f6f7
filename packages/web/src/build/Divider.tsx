import type { KeyboardEvent, PointerEvent } from 'react';
import { interfaceActions } from '../store/interface-slice.ts';
import { useAppDispatch } from '../store/store.ts';
import type { BuildColumn } from '../store/build-widths.ts';
import { keptWidth, WIDTHS } from '../store/build-widths.ts';

const KEY_STEP = 24;

/** The line between two parts of Build: dragged, or moved by arrow keys; a double click puts it back. */
export function Divider({
  column,
  width,
  side,
}: {
  readonly column: BuildColumn;
  readonly width: number;
  readonly side: 'left' | 'right';
}) {
  const dispatch = useAppDispatch();
  const { label, least, most } = WIDTHS[column];
  const set = (wanted: number | undefined): void =>
    void dispatch(
      interfaceActions.buildWidthSet({
        column,
        width: wanted === undefined ? undefined : keptWidth(column, wanted, window.innerWidth),
      }),
    );
  const drag = (event: PointerEvent<HTMLDivElement>): void => {
    if (event.buttons === 1 && event.currentTarget.hasPointerCapture(event.pointerId))
      set(side === 'left' ? event.clientX : window.innerWidth - event.clientX);
  };
  const press = (event: KeyboardEvent): void => {
    const by = { ArrowLeft: -KEY_STEP, ArrowRight: KEY_STEP }[event.key];
    if (by !== undefined) set(width + (side === 'left' ? by : -by));
    else if (event.key === 'Home') set(undefined);
    else return;
    event.preventDefault();
  };
  return (
    <div
      role="separator"
      aria-orientation="vertical"
      aria-label={label}
      aria-valuenow={Math.round(width)}
      aria-valuemin={least}
      aria-valuemax={most}
      tabIndex={0}
      title="Drag it, or move it with the arrow keys; a double click puts it back"
      className="w-1.5 shrink-0 cursor-col-resize touch-none bg-line hover:bg-accent focus-visible:bg-accent"
      onPointerDown={(event) => event.currentTarget.setPointerCapture(event.pointerId)}
      onPointerMove={drag}
      onDoubleClick={() => set(undefined)}
      onKeyDown={press}
    />
  );
}
