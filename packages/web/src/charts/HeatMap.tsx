import { scaleLinear } from 'd3-scale';
import { shownNumber } from '../words/numbers.ts';

/** A cell of two factors: what its runs come to, and how many they are. */
export interface HeatCell {
  readonly x: number;
  readonly y: number;
  readonly value: number;
  readonly runs: number;
}

interface Props {
  readonly cells: readonly HeatCell[];
  readonly xs: readonly number[];
  readonly ys: readonly number[];
  readonly xName: string;
  readonly yName: string;
  readonly xWords: (value: number) => string;
  readonly yWords: (value: number) => string;
  /** What a cell is, for who hovers it. */
  readonly words: (cell: HeatCell) => string;
  readonly picked?: HeatCell;
  readonly onPick: (cell: HeatCell) => void;
}

const LEFT = 64;
const BOTTOM = 44;
const WIDTH = 600;
const HEIGHT = 360;

/** A summary over two factors, a cell a point: the darker the more, the number in it, a click picks it. */
export function HeatMap({ cells, xs, ys, xName, yName, xWords, yWords, words, picked, onPick }: Props) {
  const values = cells.map(({ value }) => value).filter(Number.isFinite);
  const share = scaleLinear()
    .domain([Math.min(...values), Math.max(...values)])
    .range([0.04, 1])
    .clamp(true);
  const width = (WIDTH - LEFT) / Math.max(1, xs.length);
  const height = (HEIGHT - BOTTOM) / Math.max(1, ys.length);
  const left = (x: number): number => LEFT + xs.indexOf(x) * width;
  const top = (y: number): number => (ys.length - 1 - ys.indexOf(y)) * height;
  const every = Math.ceil(xs.length / 12);
  return (
    <svg
      data-figure
      viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
      className="h-full w-full"
      role="img"
      aria-label={`${yName} and ${xName}`}
    >
      {cells.map((cell) => {
        const weight = Number.isFinite(cell.value) ? share(cell.value) : 0;
        const box = {
          x: left(cell.x) + 1,
          y: top(cell.y) + 1,
          width: Math.max(1, width - 2),
          height: Math.max(1, height - 2),
        };
        const isPicked = picked?.x === cell.x && picked.y === cell.y;
        return (
          <g
            key={`${cell.x} ${cell.y}`}
            tabIndex={0}
            role="button"
            aria-label={words(cell)}
            style={{ cursor: 'pointer' }}
            onClick={() => onPick(cell)}
            onKeyDown={(event) => (event.key === 'Enter' || event.key === ' ') && onPick(cell)}
          >
            <title>{words(cell)}</title>
            <rect {...box} fill="var(--wash)" />
            <rect
              {...box}
              fill="var(--accent)"
              fillOpacity={weight}
              stroke={isPicked ? 'var(--ink)' : 'none'}
              strokeWidth={2}
            />
            {width > 40 && height > 20 && (
              <text
                x={left(cell.x) + width / 2}
                y={top(cell.y) + height / 2 + 5}
                textAnchor="middle"
                fontSize={14}
                fill={weight > 0.55 ? 'var(--sheet)' : 'var(--ink)'}
                pointerEvents="none"
              >
                {Number.isFinite(cell.value) ? shownNumber(cell.value) : '–'}
                {height > 44 && (
                  <tspan x={left(cell.x) + width / 2} dy={15} fontSize={11}>
                    {`${cell.runs} runs`}
                  </tspan>
                )}
              </text>
            )}
          </g>
        );
      })}
      {xs.map((x, i) =>
        i % every === 0 ? (
          <text
            key={x}
            x={left(x) + width / 2}
            y={HEIGHT - BOTTOM + 16}
            textAnchor="middle"
            fontSize={13}
            fill="var(--faint)"
          >
            {xWords(x)}
          </text>
        ) : null,
      )}
      {ys.map((y, i) =>
        i % Math.ceil(ys.length / 16) === 0 ? (
          <text key={y} x={LEFT - 8} y={top(y) + height / 2 + 5} textAnchor="end" fontSize={13} fill="var(--faint)">
            {yWords(y)}
          </text>
        ) : null,
      )}
      <text x={LEFT + (WIDTH - LEFT) / 2} y={HEIGHT - 6} textAnchor="middle" fontSize={14} fill="var(--ink)">
        {xName}
      </text>
      <text
        x={14}
        y={(HEIGHT - BOTTOM) / 2}
        textAnchor="middle"
        fontSize={14}
        fill="var(--ink)"
        transform={`rotate(-90 14 ${(HEIGHT - BOTTOM) / 2})`}
      >
        {yName}
      </text>
    </svg>
  );
}
