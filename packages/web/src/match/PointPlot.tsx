import { useEffect, useRef, useState } from 'react';
import { roundTicks } from '../charts/round-ticks.ts';
import { shownNumber } from '../words/numbers.ts';

/** A value with bands, at a place. */
export interface PlottedPoint {
  readonly key: number;
  readonly x: number;
  readonly y: number;
  readonly low50: number;
  readonly high50: number;
  readonly low90: number;
  readonly high90: number;
  readonly isHeldOut: boolean;
  readonly words: string;
}

interface Props {
  readonly label: string;
  readonly points: readonly PlottedPoint[];
  readonly xTicks: readonly { readonly x: number; readonly label: string }[];
  readonly xRange: readonly [number, number];
  readonly yRange: readonly [number, number];
  readonly xName: string;
  readonly yName: string;
  /** A line on which points lie that agree: level at 0, or rising with both axes. */
  readonly line: 'level' | 'rising';
  readonly colour: string;
}

const LEFT = 58;
const RIGHT = 14;
const TOP = 10;
const BOTTOM = 40;

/** Points with bands of 50 and 90 %, against a line of agreement; those that are held out are hollow. */
export function PointPlot({ label, points, xTicks, xRange, yRange, xName, yName, line, colour }: Props) {
  const frame = useRef<HTMLDivElement>(null);
  const [size, setSize] = useState({ width: 600, height: 320 });
  useEffect(() => {
    const element = frame.current;
    if (!element) return undefined;
    const observer = new ResizeObserver(() =>
      setSize({ width: Math.max(200, element.clientWidth), height: Math.max(140, element.clientHeight) }),
    );
    observer.observe(element);
    return () => observer.disconnect();
  }, []);
  const yTicks = roundTicks(yRange[0], yRange[1], 6);
  const [low, high] = [yTicks[0]!, yTicks.at(-1)!];
  const [from, to] = xRange;
  const x = (value: number): number => LEFT + ((value - from) / (to - from || 1)) * (size.width - LEFT - RIGHT);
  const y = (value: number): number =>
    size.height - BOTTOM - ((value - low) / (high - low)) * (size.height - TOP - BOTTOM);
  const [lineFrom, lineTo] = [Math.max(from, low), Math.min(to, high)];
  return (
    <div ref={frame} className="h-full w-full overflow-hidden">
      <svg data-figure width={size.width} height={size.height} role="img" aria-label={label}>
        {yTicks.map((tick) => (
          <g key={tick}>
            <path d={`M${LEFT} ${y(tick)}H${size.width - RIGHT}`} stroke="var(--line)" />
            <text x={LEFT - 8} y={y(tick) + 4} fontSize={12} textAnchor="end" fill="var(--faint)">
              {shownNumber(tick)}
            </text>
          </g>
        ))}
        {xTicks.map((tick) => (
          <text
            key={tick.x}
            x={x(tick.x)}
            y={size.height - BOTTOM + 16}
            fontSize={12}
            textAnchor="middle"
            fill="var(--faint)"
          >
            {tick.label}
          </text>
        ))}
        <text x={(LEFT + size.width) / 2} y={size.height - 5} fontSize={12.5} textAnchor="middle" fill="var(--ink)">
          {xName}
        </text>
        <text
          transform={`translate(12 ${(TOP + size.height - BOTTOM) / 2}) rotate(-90)`}
          fontSize={12.5}
          textAnchor="middle"
          fill="var(--ink)"
        >
          {yName}
        </text>
        {line === 'level' ? (
          <path d={`M${LEFT} ${y(0)}H${size.width - RIGHT}`} stroke="var(--ink)" strokeDasharray="4 3" />
        ) : (
          lineTo > lineFrom && (
            <path
              d={`M${x(lineFrom)} ${y(lineFrom)}L${x(lineTo)} ${y(lineTo)}`}
              stroke="var(--ink)"
              strokeDasharray="4 3"
            />
          )
        )}
        {points.map((point) => (
          <g key={point.key} data-testid="plotted-point">
            <path
              d={`M${x(point.x)} ${y(point.low90)}V${y(point.high90)}`}
              stroke={colour}
              strokeWidth={1.4}
              opacity={0.6}
            />
            <path
              d={`M${x(point.x)} ${y(point.low50)}V${y(point.high50)}`}
              stroke={colour}
              strokeWidth={4}
              opacity={0.45}
            />
            <circle
              cx={x(point.x)}
              cy={y(point.y)}
              r={4}
              fill={point.isHeldOut ? 'var(--sheet)' : 'var(--ink)'}
              stroke="var(--ink)"
              strokeWidth={1.6}
            >
              <title>{point.words}</title>
            </circle>
          </g>
        ))}
      </svg>
    </div>
  );
}
