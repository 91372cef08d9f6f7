import { usePlotArea } from 'recharts';
import type { ChartLevel } from './level-lines.ts';

interface Props {
  readonly levels: readonly ChartLevel[];
  readonly lastStep: number;
  readonly low: number;
  readonly high: number;
}

/** Levels as dashed lines over a chart of courses, each with its name at its right end. */
export function LevelLines({ levels, lastStep, low, high }: Props) {
  const area = usePlotArea();
  if (!area) return null;
  const x = (step: number): number => area.x + (step / lastStep) * area.width;
  const y = (height: number): number => area.y + area.height - ((height - low) / (high - low)) * area.height;
  return (
    <g pointerEvents="none">
      {levels.map(({ name, heights, steps }) => {
        const points = steps
          ? steps.map((step, i) => ({ step, height: heights[i]! }))
          : [0, lastStep].map((step) => ({ step, height: heights[0]! }));
        const drawn = points.filter(({ height }) => Number.isFinite(height));
        if (drawn.length === 0) return null;
        return (
          <g key={name}>
            <path
              d={drawn.map(({ step, height }, i) => `${i === 0 ? 'M' : 'L'}${x(step)} ${y(height)}`).join('')}
              fill="none"
              stroke="var(--ink)"
              strokeWidth={1.2}
              strokeDasharray="5 3"
            />
            <text
              x={area.x + area.width - 4}
              y={y(drawn.at(-1)!.height) - 4}
              textAnchor="end"
              fontSize={12}
              fill="var(--ink)"
            >
              {name}
            </text>
          </g>
        );
      })}
    </g>
  );
}
