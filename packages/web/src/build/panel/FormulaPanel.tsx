import { classColour } from '@vole/core';
import { useMemo, useState } from 'react';
import { CartesianGrid, Line, LineChart, ResponsiveContainer, Tooltip, XAxis, YAxis } from 'recharts';
import { TakeFiles } from '../../files/TakeFiles.tsx';
import { useAppSelector } from '../../store/store.ts';
import { shownNumber } from '../../words/numbers.ts';
import { ExpressionField } from './ExpressionField.tsx';
import { curvesOf, knownFormulas, valueOf } from './formula-curves.ts';

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
  const {
    formula,
    names,
    axis,
    family: second,
    rest,
    at,
    curves,
    problem,
  } = useMemo(
    () => curvesOf(text, expression, { values, over, range, family, familyValues }),
    [text, expression, values, over, range, family, familyValues],
  );
  const data = at.map((x, i) => ({ x, ...Object.fromEntries(curves.map((curve, c) => [`y${c}`, curve.values[i]])) }));
  return (
    <div>
      <ExpressionField
        label="Expression to plot"
        known={known}
        knownLabel="Formula of the model"
        value={expression}
        onChange={setTyped}
      />
      {names.length > 0 && (
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
      )}
      {problem !== undefined && (
        <p role="alert" className="text-problem">
          {problem}
        </p>
      )}
      {curves.length > 0 && (
        <>
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
                    curves[Number(String(key).slice(1))]?.label ?? '',
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
                [axis ?? '', ...curves.map(({ label }) => label)],
                ...at.map((x, i) => [x, ...curves.map((curve) => curve.values[i]!)]),
              ]}
            />
          </figure>
          {second && (
            <p className="flex flex-wrap gap-x-4 text-sm">
              {curves.map(({ label }, c) => (
                <b key={c} style={{ color: classColour(c + 1, theme) }}>
                  {label}
                </b>
              ))}
            </p>
          )}
          <table className="mt-1 text-right text-sm">
            <tbody>
              <tr>
                <th className="pr-3 text-left font-normal text-faint">{axis}</th>
                {everyTwelfth(at).map((x) => (
                  <td key={x} className="px-1.5">
                    {shownNumber(x)}
                  </td>
                ))}
              </tr>
              {curves.map(({ label, values: ofCurve }, c) => (
                <tr key={c}>
                  <th className="pr-3 text-left font-normal text-faint">{label}</th>
                  {everyTwelfth(ofCurve).map((value, i) => (
                    <td key={i} className="px-1.5 font-semibold">
                      {shownNumber(value)}
                    </td>
                  ))}
                </tr>
              ))}
            </tbody>
          </table>
        </>
      )}
      {rest.length > 0 && (
        <div className="mt-1 grid grid-cols-[auto_1fr_auto] items-center gap-x-3">
          {rest.map((name) => {
            const parameter = formula.parameters.find((p) => p.name === name);
            const shown = valueOf(formula, values, name);
            const usual = parameter?.value ?? 1;
            return (
              <label key={name} className="contents">
                <span>{name}</span>
                <input
                  type="range"
                  aria-label={`${name}, by sliding`}
                  className="accent-moss"
                  min={Math.min(0, usual * 4)}
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
    </div>
  );
}

function everyTwelfth<T>(values: readonly T[]): T[] {
  return values.filter((_, i) => i % 12 === 0);
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
