import { Area, Line } from 'recharts';

/** How a course that runs are held against is drawn over a fan. */
export const DASHED = { fill: 'none', stroke: 'var(--ink)', strokeWidth: 1.8, strokeDasharray: '7 5' } as const;

/** Bands and median of a fan in one colour, of rows with `band90`, `band50` and `median`. */
export function FanShapes({ colour }: { readonly colour: string }) {
  return (
    <>
      <Area
        dataKey="band90"
        stroke="none"
        fill={colour}
        fillOpacity={0.14}
        isAnimationActive={false}
        activeDot={false}
      />
      <Area
        dataKey="band50"
        stroke="none"
        fill={colour}
        fillOpacity={0.24}
        isAnimationActive={false}
        activeDot={false}
      />
      <Line
        dataKey="median"
        stroke={colour}
        strokeWidth={2.2}
        dot={false}
        isAnimationActive={false}
        activeDot={false}
      />
    </>
  );
}
