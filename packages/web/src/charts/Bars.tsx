import { heading } from '@vole/core';
import { TakeFiles } from '../files/TakeFiles.tsx';
import { shownNumber } from '../words/numbers.ts';
import { binsOf, momentsOf } from './bins.ts';

interface Props {
  readonly title: string;
  /** What the values are, where the title does not say so: for files. */
  readonly name?: string;
  readonly values: readonly number[];
  readonly unit: string;
  /** Other values, drawn as a line over the bars. */
  readonly against?: readonly number[];
  readonly againstWords?: string;
  readonly options?: readonly string[];
  /** Values that are marked by a line. */
  readonly marks?: readonly number[];
  /** Of the drawing, in its own units: smaller makes its words larger in a narrow place. */
  readonly width?: number;
}

const USUAL_WIDTH = 360;
const HEIGHT = 84;

/** A histogram as bars of even width, with mean, spread and the range that holds nine tenths. */
export function Bars({
  title,
  name = '',
  values,
  unit,
  against,
  againstWords,
  options,
  marks = [],
  width: drawingWidth = USUAL_WIDTH,
}: Props) {
  const all = binsOf([...values, ...(against ?? []), ...marks]);
  if (all.length === 0) return null;
  const from = all[0]!.from;
  const width = all[0]!.to - from;
  const sharesOf = (list: readonly number[]): number[] => {
    const counts = all.map(() => 0);
    for (const value of list)
      if (Number.isFinite(value)) counts[Math.min(all.length - 1, Math.max(0, Math.floor((value - from) / width)))]!++;
    return counts.map((count) => count / Math.max(1, list.length));
  };
  const shares = sharesOf(values);
  const others = against && sharesOf(against);
  const most = Math.max(...shares, ...(others ?? [0]));
  const bar = drawingWidth / all.length;
  const y = (share: number): number => HEIGHT - (share / most) * (HEIGHT - 4);
  const { mean, sd, low, median, high } = momentsOf(values);
  // As many digits as the spread asks for: values that lie close together must not all read the same.
  const digits =
    Math.min(
      12,
      Math.max(
        3,
        Math.ceil(Math.log10(Math.max(Math.abs(low), Math.abs(high)) / (high - low || 1))) + 2,
        // Whole numbers read the same here and elsewhere.
        Math.ceil(Math.log10(Math.max(1, Math.abs(high)))),
      ),
    ) || 3;
  const number = (value: number): string => shownNumber(Number(value.toPrecision(digits)), digits);
  return (
    <figure aria-label={title} className="mt-2">
      <p className="text-sm text-faint">
        {title}
        {others && <>; line: {againstWords}</>}
      </p>
      <svg
        viewBox={`0 0 ${drawingWidth} ${HEIGHT + 14}`}
        className="w-full max-w-[440px]"
        role="img"
        aria-label={`${title}: mean ${number(mean)} ${unit}`}
      >
        {shares.map((share, i) => (
          <rect
            key={i}
            x={i * bar + 0.5}
            width={Math.max(0.5, bar - 1)}
            y={y(share)}
            height={HEIGHT - y(share)}
            fill="var(--color-moss)"
            opacity={0.75}
          >
            <title>{`${options?.[i] ?? `${number(all[i]!.from)} to ${number(all[i]!.to)} ${unit}`}: ${(share * 100).toFixed(1)} %`}</title>
          </rect>
        ))}
        {marks.map((mark, i) => (
          <line
            key={i}
            x1={((mark - from) / width) * bar}
            x2={((mark - from) / width) * bar}
            y1={0}
            y2={HEIGHT}
            stroke="var(--ink)"
            strokeWidth={2}
          />
        ))}
        {others && (
          <polyline
            points={others.map((share, i) => `${(i + 0.5) * bar},${y(share)}`).join(' ')}
            fill="none"
            stroke="var(--ink)"
            strokeWidth={1.5}
          />
        )}
        <line x1={0} x2={drawingWidth} y1={HEIGHT} y2={HEIGHT} stroke="var(--line)" />
        {options ? (
          options.map((option, i) => (
            <text
              key={option}
              x={(i + 0.5) * bar}
              y={HEIGHT + 11}
              fontSize={10.5}
              textAnchor="middle"
              fill="var(--faint)"
            >
              {option}
            </text>
          ))
        ) : (
          <>
            <text x={0} y={HEIGHT + 11} fontSize={10.5} fill="var(--faint)">
              {number(from)}
            </text>
            <text x={drawingWidth} y={HEIGHT + 11} fontSize={10.5} textAnchor="end" fill="var(--faint)">
              {number(from + width * all.length)} {unit}
            </text>
          </>
        )}
      </svg>
      <p className="text-sm">
        <TakeFiles
          title={[name, title].filter((part) => part !== '').join(' ')}
          hasFigure
          table={() => [[heading('value', unit)], ...values.map((value) => [options?.[value] ?? value])]}
        />
      </p>
      {!options && (
        <figcaption className="text-sm">
          mean <b>{number(mean)}</b>
          {unit && ` ${unit}`}, standard deviation <b>{number(sd)}</b>, median {number(median)}, nine in ten from{' '}
          {number(low)} to {number(high)}
        </figcaption>
      )}
    </figure>
  );
}
