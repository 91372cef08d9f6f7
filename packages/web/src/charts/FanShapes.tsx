import { Area, Line } from 'recharts';

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
