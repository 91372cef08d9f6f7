import { TakeFiles } from '../../files/TakeFiles.tsx';
import type { AnyPart } from '@vole/core';
import { classColour, treeOf } from '@vole/core';
import { useMemo, useState } from 'react';
import { CartesianGrid, Line, LineChart, ResponsiveContainer, Tooltip, XAxis, YAxis } from 'recharts';
import { shownNumber } from '../../words/numbers.ts';
import { ownValue } from '../../store/own-value.ts';
import { useAppSelector } from '../../store/store.ts';
import { ExpressionField } from './ExpressionField.tsx';
import type { Input } from './probe.ts';
import { formulaOf } from './probe.ts';

const POINTS = 61;

/** What can be plotted of a text without writing anything: its formulas and what its agents derive. */
function knownFormulas(text: string): { name: string; expression: string; start: number; end: number }[] {
  const { parts } = treeOf(text);
  const ofDefine = (part: Extract<AnyPart, { is: 'define' }>) => {
    const header = text.slice(part.span.start, part.span.end).split('=')[0]!;
    const inputs = /\(([^)]*)\)/.exec(header)?.[1];
    return {
      name: part.name.text,
      expression: inputs === undefined ? part.name.text : `${part.name.text}(${inputs})`,
      start: part.span.start,
      end: part.span.end,
    };
  };
  return parts.flatMap((part) => {
    if (part.is === 'define') return [ofDefine(part)];
    if (part.is !== 'agent') return [];
    return part.derives.map((derive) => ({
      name: `${derive.name.text} of ${part.name.text}`,
      expression: text.slice(derive.value.span.start, derive.value.span.end),
      start: derive.span.start,
      end: derive.span.end,
    }));
  });
}

/** An expression of the model over a range of one of its inputs, as a family of curves over a second one, with the rest set by hand. */
export function FormulaPanel({ cursor }: { readonly cursor: number }) {
  const text = useAppSelector((state) => state.project.text);
  const theme = useAppSelector((state) => state.interface.theme);
  const known = useMemo(() => knownFormulas(text), [text]);
  const here = known.find((formula) => cursor >= formula.start && cursor <= formula.end);
  const [typed, setTyped] = useState<string>();
  const expression = typed ?? here?.expression ?? known[0]?.expression ?? 'exp(-x / 2)';
  const [values, setValues] = useState<Readonly<Record<string, string>>>({});
  const [over, setOver] = useState<string>();
  const [range, setRange] = useState<readonly [string, string]>(['0', '10']);
  const [family, setFamily] = useState('');
  const [familyValues, setFamilyValues] = useState('1, 2, 4');
  const inputs: Input[] = useMemo(() => Object.entries(values).map(([name, value]) => ({ name, value })), [values]);
  const formula = useMemo(() => formulaOf(text, expression, inputs), [text, expression, inputs]);
  const names = [...formula.inputs, ...formula.parameters.map((p) => p.name)];
  const axis = over && names.includes(over) ? over : names[0];
  const second = names.includes(family) && family !== axis ? family : undefined;
  const [low, high] = range.map(Number) as [number, number];
  const curves = second ? familyValues.split(',').map(Number).filter(Number.isFinite).slice(0, 6) : [undefined];
  const settings = Object.fromEntries([
    ...formula.parameters.map((p) => [p.name, p.value]),
    ...formula.inputs.map((name) => [name, parseFloat(ownValue(values, name) ?? '1')]),
  ]) as Record<string, number>;
  const data =
    axis === undefined
      ? []
      : Array.from({ length: POINTS }, (_, i) => {
          const x = low + ((high - low) * i) / (POINTS - 1);
          return Object.fromEntries([
            ['x', x],
            ...curves.map((value, c) => [
              `y${c}`,
              formula.at({ ...settings, ...(second ? { [second]: value! } : {}), [axis]: x }),
            ]),
          ]) as Record<string, number>;
        });
  const rest = names.filter((name) => name !== axis && name !== second);
  return (
    <div>
      <ExpressionField
        label="Expression to plot"
        known={known}
        knownLabel="Formula of the model"
        value={expression}
        onChange={setTyped}
      />
      {formula.problem ? (
        <p role="alert" className="text-problem">
          {formula.problem}
        </p>
      ) : (
        <>
          <p className="flex flex-wrap items-baseline gap-x-1.5">
            over <Names label="Input along the axis" names={names} value={axis ?? ''} onChange={setOver} />
            from <Small label="Range from" value={range[0]} onChange={(v) => setRange([v, range[1]])} /> to{' '}
            <Small label="Range to" value={range[1]} onChange={(v) => setRange([range[0], v])} />, a curve for each{' '}
            <Names
              label="Input of the curves"
              names={['', ...names.filter((name) => name !== axis)]}
              value={second ?? ''}
              onChange={setFamily}
            />
            {second && <Small label="Values of the curves" value={familyValues} onChange={setFamilyValues} wide />}
          </p>
          <figure aria-label="The formula, drawn">
            <ResponsiveContainer width="100%" height={150}>
              <LineChart data={data} margin={{ top: 6, right: 10, bottom: 0, left: -10 }}>
                <CartesianGrid stroke="var(--line)" />
                <XAxis
                  dataKey="x"
                  type="number"
                  domain={['dataMin', 'dataMax']}
                  tick={{ fontSize: 11, fill: 'var(--faint)' }}
                  tickFormatter={(v: number) => shownNumber(v)}
                  tickLine={false}
                />
                <YAxis
                  tick={{ fontSize: 11, fill: 'var(--faint)' }}
                  tickFormatter={(v: number) => shownNumber(v)}
                  tickLine={false}
                  width={52}
                />
                <Tooltip
                  isAnimationActive={false}
                  labelFormatter={(x) => `${axis} ${shownNumber(Number(x))}`}
                  formatter={(value, key) => [
                    shownNumber(Number(value), 5),
                    second ? `${second} ${shownNumber(curves[Number(String(key).slice(1))]!)}` : 'value',
                  ]}
                  contentStyle={{
                    background: 'var(--sheet)',
                    border: '1px solid var(--line)',
                    borderRadius: 6,
                    padding: '4px 8px',
                  }}
                />
                {curves.map((_, c) => (
                  <Line
                    key={c}
                    dataKey={`y${c}`}
                    dot={false}
                    strokeWidth={1.7}
                    isAnimationActive={false}
                    stroke={classColour(c + 1, theme)}
                  />
                ))}
              </LineChart>
            </ResponsiveContainer>
            <TakeFiles
              title={expression}
              note={axis ? `over ${axis}` : ''}
              hasFigure
              table={() => [
                [axis ?? '', ...curves.map((value) => (second ? `${second} ${value!}` : 'value'))],
                ...data.map((row) => [row['x']!, ...curves.map((_, c) => row[`y${c}`]!)]),
              ]}
            />
          </figure>
          {second && (
            <p className="flex flex-wrap gap-x-4 text-sm">
              {curves.map((value, c) => (
                <b key={c} style={{ color: classColour(c + 1, theme) }}>
                  {second} {shownNumber(value!)}
                </b>
              ))}
            </p>
          )}
          {rest.length > 0 && (
            <div className="mt-1 grid grid-cols-[auto_1fr_auto] items-center gap-x-3">
              {rest.map((name) => {
                const parameter = formula.parameters.find((p) => p.name === name);
                const shown = ownValue(values, name) ?? (parameter ? String(parameter.value) : '1');
                const usual = parameter?.value ?? 1;
                return (
                  <label key={name} className="contents">
                    <span>{name}</span>
                    <input
                      type="range"
                      aria-label={`${name}, by sliding`}
                      className="accent-moss"
                      min={0}
                      max={Math.max(1, usual * 4)}
                      step={Math.max(1, usual * 4) / 100}
                      value={parseFloat(shown) || 0}
                      onChange={(event) =>
                        setValues({ ...values, [name]: `${event.target.value}${shown.replace(/^[-+.\deE]+/, '')}` })
                      }
                    />
                    <input
                      aria-label={name}
                      className="word w-20 text-right"
                      value={shown}
                      onChange={(event) => setValues({ ...values, [name]: event.target.value })}
                    />
                  </label>
                );
              })}
            </div>
          )}
          <table className="mt-1 text-right text-sm">
            <tbody>
              <tr>
                <th className="pr-3 text-left font-normal text-faint">{axis}</th>
                {data
                  .filter((_, i) => i % 12 === 0)
                  .map((row) => (
                    <td key={row.x} className="px-1.5">
                      {shownNumber(row.x!)}
                    </td>
                  ))}
              </tr>
              {curves.map((value, c) => (
                <tr key={c}>
                  <th className="pr-3 text-left font-normal text-faint">
                    {second ? `${second} ${shownNumber(value!)}` : 'value'}
                  </th>
                  {data
                    .filter((_, i) => i % 12 === 0)
                    .map((row) => (
                      <td key={row.x} className="px-1.5 font-semibold">
                        {shownNumber(row[`y${c}`]!)}
                      </td>
                    ))}
                </tr>
              ))}
            </tbody>
          </table>
        </>
      )}
    </div>
  );
}

function Names({
  label,
  names,
  value,
  onChange,
}: {
  readonly label: string;
  readonly names: readonly string[];
  readonly value: string;
  readonly onChange: (name: string) => void;
}) {
  return (
    <select aria-label={label} className="word" value={value} onChange={(event) => onChange(event.target.value)}>
      {names.map((name) => (
        <option key={name} value={name}>
          {name || 'nothing more'}
        </option>
      ))}
    </select>
  );
}

function Small({
  label,
  value,
  onChange,
  wide = false,
}: {
  readonly label: string;
  readonly value: string;
  readonly onChange: (value: string) => void;
  readonly wide?: boolean;
}) {
  return (
    <input
      aria-label={label}
      className={`word ${wide ? 'w-24' : 'w-12'}`}
      value={value}
      onChange={(event) => onChange(event.target.value)}
    />
  );
}
