import type { KeyboardEvent, PointerEvent, ReactNode } from 'react';
import { useEffect, useRef, useState } from 'react';
import { interfaceActions } from '../store/interface-slice.ts';
import { useAppDispatch, useAppSelector } from '../store/store.ts';
import type { Tick } from '@vole/core';

interface RibbonMark {
  readonly step: number;
  readonly label: string;
}

interface Props {
  /** What stands above the drawing, left, middle and right. */
  readonly left: ReactNode;
  readonly middle?: ReactNode;
  readonly right?: ReactNode;
  /** A row between these and the drawing, where there is one. */
  readonly below?: ReactNode;
  readonly lastStep: number;
  readonly ticks: readonly Tick[];
  readonly marks?: readonly RibbonMark[];
  /** Step of the reading line; none without it. */
  readonly reading?: number;
  readonly onRead?: (step: number) => void;
  readonly readingWords?: string;
  /** Draws the course into a picture of this size; `x` gives the place of a step. */
  readonly draw: (width: number, height: number, x: (step: number) => number) => ReactNode;
}

const HEIGHT = 66;
/** Pixels that the label of a tick takes up at most. */
const LABEL_ROOM = 32;

/** The strip at the foot of every view: a population's course over time, and the way to any step of it. */
export function Ribbon({
  left,
  middle,
  right,
  below,
  lastStep,
  ticks,
  marks = [],
  reading,
  onRead,
  readingWords,
  draw,
}: Props) {
  const folded = useAppSelector((state) => state.interface.ribbonFolded);
  const dispatch = useAppDispatch();
  const frame = useRef<HTMLDivElement>(null);
  const [width, setWidth] = useState(1200);
  useEffect(() => {
    const element = frame.current;
    if (!element) return undefined;
    const observer = new ResizeObserver(() => setWidth(Math.max(100, element.clientWidth)));
    observer.observe(element);
    return () => observer.disconnect();
  }, []);
  const x = (step: number): number => (lastStep > 0 ? (step / lastStep) * width : 0);
  const stepAt = (event: PointerEvent<HTMLDivElement>): number => {
    const box = event.currentTarget.getBoundingClientRect();
    return Math.round(Math.max(0, Math.min(1, (event.clientX - box.left) / box.width)) * lastStep);
  };
  const press = (event: KeyboardEvent): void => {
    const by = { ArrowLeft: -1, ArrowRight: 1, PageDown: -30, PageUp: 30 }[event.key];
    if (by === undefined || reading === undefined || !onRead) return;
    event.preventDefault();
    onRead(Math.max(0, Math.min(lastStep, reading + by)));
  };
  return (
    <section aria-label="Ribbon" className="shrink-0 overflow-x-clip border-t border-line bg-sheet px-4 pt-1.5 pb-1">
      <div className="flex h-9 items-center gap-4 max-[1150px]:gap-2">
        <div className="flex min-w-0 flex-1 items-center gap-3">{left}</div>
        <div className="shrink-0">{middle}</div>
        <div className="flex min-w-0 flex-1 items-center justify-end gap-3">
          {right}
          <button
            type="button"
            className="link text-sm"
            aria-expanded={!folded}
            onClick={() => dispatch(interfaceActions.ribbonFolded(!folded))}
          >
            {folded ? 'unfold' : 'fold'}
          </button>
        </div>
      </div>
      {below}
      <div
        ref={frame}
        className={`relative touch-none select-none ${onRead ? 'cursor-ew-resize' : ''}`}
        role={onRead ? 'slider' : undefined}
        aria-label={onRead ? 'Reading line: the step on show' : undefined}
        aria-valuemin={onRead ? 0 : undefined}
        aria-valuemax={onRead ? lastStep : undefined}
        aria-valuenow={onRead ? reading : undefined}
        aria-valuetext={onRead ? readingWords : undefined}
        tabIndex={onRead ? 0 : undefined}
        onKeyDown={press}
        onPointerDown={(event) => {
          event.currentTarget.setPointerCapture(event.pointerId);
          onRead?.(stepAt(event));
        }}
        onPointerMove={(event) => {
          if (event.buttons === 1) onRead?.(stepAt(event));
        }}
      >
        <svg
          width={width}
          height={folded ? 10 : HEIGHT + 18}
          className="block overflow-visible"
          data-figure
          aria-hidden
        >
          <g transform={folded ? `scale(1 ${8 / HEIGHT})` : undefined}>{draw(width, HEIGHT, x)}</g>
          <line x1={0} x2={width} y1={folded ? 9 : HEIGHT} y2={folded ? 9 : HEIGHT} stroke="var(--line)" />
          {!folded && (
            <>
              {ticks.map((tick) => (
                <text
                  key={tick.step}
                  x={Math.min(x(tick.step) + 2, width)}
                  y={HEIGHT + 13}
                  fontSize={11.5}
                  fill="var(--faint)"
                  textAnchor={x(tick.step) + LABEL_ROOM > width ? 'end' : 'start'}
                >
                  {tick.label}
                  {tick.year ? ` ${tick.year}` : ''}
                </text>
              ))}
              <Marks marks={marks} x={x} width={width} />
            </>
          )}
          {reading !== undefined && (
            <g>
              <line
                x1={x(reading)}
                x2={x(reading)}
                y1={0}
                y2={folded ? 10 : HEIGHT}
                stroke="var(--ink)"
                strokeWidth={1.6}
              />
              <circle cx={x(reading)} cy={folded ? 5 : HEIGHT} r={5} fill="var(--ink)" />
            </g>
          )}
        </svg>
      </div>
    </section>
  );
}

/** Marks as dotted lines with their words, as long as these have room. */
function Marks({
  marks,
  x,
  width,
}: {
  readonly marks: readonly RibbonMark[];
  readonly x: (step: number) => number;
  readonly width: number;
}) {
  const places = marks.map((mark) => x(mark.step));
  return marks.map((mark, i) => {
    const at = places[i]!;
    const room = at - (places[i - 1] ?? 0);
    const said = room > mark.label.length * 6 + 12;
    return (
      <g key={`${mark.step} ${mark.label}`}>
        <line x1={at} x2={at} y1={2} y2={HEIGHT} stroke="var(--ink)" strokeDasharray="2 3" opacity={0.7} />
        {said && (
          <text x={Math.min(at - 4, width - 4)} y={10} fontSize={11.5} textAnchor="end" fill="var(--faint)">
            {mark.label}
          </text>
        )}
      </g>
    );
  });
}
