import { treeOf } from '@vole/core';
import { useMemo, useState } from 'react';
import { useAppSelector } from '../../store/store.ts';
import { Bars } from '../../charts/Bars.tsx';
import { ExpressionField } from './ExpressionField.tsx';
import { binsOf } from '../../charts/bins.ts';
import { drawsOf } from './probe.ts';

/** The first values of attributes that a text draws. */
function startsOf(text: string): { name: string; expression: string; start: number; end: number }[] {
  return treeOf(text).parts.flatMap((part) =>
    part.is !== 'agent'
      ? []
      : part.has.flatMap((line) => {
          const expression = line.value && text.slice(line.value.span.start, line.value.span.end);
          return expression
            ? [
                {
                  name: `${line.name.text} of ${part.name.text}`,
                  expression,
                  start: line.span.start,
                  end: line.span.end,
                },
              ]
            : [];
        }),
  );
}

/** Many draws of a distribution or of an attribute's first value, before any run. */
export function DrawsPanel({ cursor }: { readonly cursor: number }) {
  const text = useAppSelector((state) => state.project.text);
  const starts = useMemo(() => startsOf(text), [text]);
  const here = starts.find((start) => cursor >= start.start && cursor <= start.end);
  const [typed, setTyped] = useState<string>();
  const expression =
    typed ??
    here?.expression ??
    starts.find((start) => /\(/.test(start.expression))?.expression ??
    'gamma(mean = 10, shape = 4)';
  const draws = useMemo(() => drawsOf(text, expression), [text, expression]);
  const bins = draws.options ? undefined : binsOf(draws.values);
  return (
    <div>
      <ExpressionField
        label="Expression to draw"
        known={starts}
        knownLabel="Attribute of the model"
        value={expression}
        onChange={setTyped}
      />
      {draws.problem ? (
        <p role="alert" className="text-problem">
          {draws.problem}
        </p>
      ) : bins?.length === 1 ? (
        <p className="text-faint">Always {`${draws.values[0]} ${draws.unit}`.trim()}: nothing is drawn.</p>
      ) : (
        <Bars title={`${draws.values.length} draws`} values={draws.values} unit={draws.unit} options={draws.options} />
      )}
    </div>
  );
}
