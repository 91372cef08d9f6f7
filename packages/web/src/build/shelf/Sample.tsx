import { classColour, interpretPlan, Run } from '@vole/core';
import { useEffect, useState } from 'react';
import { useReadText } from '../../simulation/read-texts.ts';
import { useAppSelector } from '../../store/store.ts';

const PACE = 130;
/** A sample that has died out or grown too full begins anew. */
const MOST = 150;

interface Dot {
  readonly number: number;
  readonly x: number;
  readonly y: number;
  readonly direction: number;
  readonly look: number;
}

/** A little model run step by step in the page, by the reference interpreter: small enough for that. */
export function Sample({ text, label }: { readonly text: string; readonly label: string }) {
  const theme = useAppSelector((state) => state.interface.theme);
  const plan = useReadText(text)?.loaded?.plan;
  const [dots, setDots] = useState<readonly Dot[]>([]);
  const [ties, setTies] = useState<readonly (readonly [number, number])[]>([]);
  useEffect(() => {
    if (!plan) return undefined;
    const isStill = matchMedia('(prefers-reduced-motion: reduce)').matches;
    let seed = 1;
    let executable = interpretPlan(plan);
    const values = plan.parameters.map((p) => p.value);
    let run = new Run(executable, values, seed);
    const show = (): number => {
      const { populations, networks } = executable.view();
      const all = populations[0]!;
      setDots(
        all.numbers.map((number, i) => ({
          number,
          x: all.x[i]!,
          y: all.y[i]!,
          direction: all.direction[i]!,
          look: all.states[0]?.[i] ?? lookOf(all.attributes, i),
        })),
      );
      setTies((networks[0]?.a ?? []).map((a, i) => [a, networks[0]!.b[i]!] as const));
      return all.numbers.length;
    };
    show();
    if (isStill) {
      run.runTo(40);
      show();
      return undefined;
    }
    const timer = setInterval(() => {
      try {
        run.next();
        const count = show();
        if (!run.hasEnded && count > 0 && count < MOST) return;
      } catch {
        // A sample whose blanks make no sense just begins anew.
      }
      seed++;
      executable = interpretPlan(plan);
      run = new Run(executable, values, seed);
    }, PACE);
    return () => clearInterval(timer);
  }, [plan]);
  const places = new Map(dots.map((dot) => [dot.number, dot]));
  return (
    <svg
      viewBox="-0.5 -0.5 31 19"
      className="mt-1.5 w-full max-w-[300px] rounded-sm border border-line bg-sheet"
      role="img"
      aria-label={label}
    >
      {ties.map(([a, b], i) => {
        const [from, to] = [places.get(a), places.get(b)];
        return from && to ? (
          <line
            key={i}
            x1={from.x}
            y1={18 - from.y}
            x2={to.x}
            y2={18 - to.y}
            stroke="var(--faint)"
            strokeWidth={0.08}
          />
        ) : null;
      })}
      {dots.map((dot) => (
        <path
          key={dot.number}
          d="M0 -0.8C0.5 -0.2 0.5 0.3 0 0.8C-0.5 0.3 -0.5 -0.2 0 -0.8Z"
          transform={`translate(${dot.x} ${18 - dot.y}) rotate(${dot.direction})`}
          fill={classColour(dot.look, theme)}
        />
      ))}
    </svg>
  );
}

/** Without states a dot's colour follows its first attribute, so that copying and tiring are seen. */
function lookOf(attributes: readonly (readonly number[])[], i: number): number {
  const value = attributes[0]?.[i];
  return value === undefined || !Number.isFinite(value) ? 0 : Math.max(0, Math.min(3, Math.floor(value * 3)));
}
