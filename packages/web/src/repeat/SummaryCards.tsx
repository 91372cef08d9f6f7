import { Meaning } from '../manual/Meaning.tsx';
import type { AnswerTo, Plan } from '@vole/core';
import { heading } from '@vole/core';
import { CartesianGrid, Line, LineChart, ReferenceLine, ResponsiveContainer, XAxis, YAxis } from 'recharts';
import { Bars } from '../charts/Bars.tsx';
import { TakeFiles } from '../files/TakeFiles.tsx';
import { roundTicks } from '../charts/round-ticks.ts';
import { ChoiceWord } from '../words/ChoiceWord.tsx';
import { shownNumber } from '../words/numbers.ts';

/** Half width of a mean that is wished for, as a share of it. */
const WANTED = 0.05;

interface Props {
  readonly plan: Plan;
  /** Place of the summary that is looked at; one that is a number. */
  readonly summary: number;
  readonly onSummary: (name: string) => void;
  readonly distribution: AnswerTo<{ readonly is: 'distribution'; readonly summary: number }>;
  /** Shows the courses of both humps apart. */
  readonly onSplit: (summary: number, below: number) => void;
}

/** The values of a summary over all runs as bars. */
export function Distribution({ plan, summary, onSummary, distribution, onSplit }: Props) {
  const { name, unitLabel } = plan.summaries[summary]!;
  const { values, never, dip, between } = distribution;
  const numbers = plan.summaries.filter(({ yesNo }) => !yesNo).map((each) => each.name);
  return (
    <section aria-label="Distribution" className="card p-4">
      <h2 className="text-[16px]">
        <ChoiceWord label="Summary" value={name} options={numbers} onChange={onSummary} /> <Meaning of="two-heaps" />
      </h2>
      {values.length > 0 ? (
        <Bars name={name} title={`of ${values.length} runs`} values={values} unit={unitLabel} width={250} />
      ) : (
        <p className="text-faint">No run has a value.</p>
      )}
      {dip && between !== undefined && (
        <p className="text-sm text-doubt">
          Two humps (dip {shownNumber(dip.dip, 2)}, p {dip.p < 0.01 ? 'below 0.01' : dip.p.toFixed(2)}), which a mean
          does not describe.{' '}
          <button type="button" className="link" onClick={() => onSplit(summary, between)}>
            show runs below and above {shownNumber(between)} apart
          </button>
        </p>
      )}
      {never > 0 && <p className="text-sm text-doubt">Never in {never} runs, which are not in the bars.</p>}
    </section>
  );
}

interface EnoughProps {
  readonly plan: Plan;
  readonly summary: number;
  readonly enough: AnswerTo<{ readonly is: 'enough'; readonly summary: number }>;
}

/** How well the mean of a summary is known with more and more seeds, and how many would make it so to 5 %. */
export function EnoughSeeds({ plan, summary, enough }: EnoughProps) {
  const { seeds, halves, mean } = enough;
  const { name } = plan.summaries[summary]!;
  const last = halves.at(-1);
  const wanted = Math.abs(mean) * WANTED;
  if (last === undefined || !(wanted > 0)) return null;
  const runs = seeds.at(-1)!;
  const needed = Math.ceil(runs * (last / wanted) ** 2);
  const ticks = roundTicks(0, Math.max(wanted, ...halves), 3);
  return (
    <section aria-label="Enough seeds" className="card p-4">
      <header className="flex items-baseline justify-between gap-2">
        <h2 className="text-[16px] whitespace-nowrap">
          Enough seeds? <Meaning of="enough-seeds" />
        </h2>
        <span className="text-sm text-faint">± of the mean of {name}</span>
      </header>
      <div className="h-28">
        <ResponsiveContainer width="100%" height="100%">
          <LineChart
            data={seeds.map((n, i) => ({ n, half: halves[i] }))}
            margin={{ top: 6, right: 16, bottom: 0, left: 0 }}
          >
            <CartesianGrid vertical={false} stroke="var(--line)" />
            <XAxis
              dataKey="n"
              type="number"
              domain={[0, runs]}
              ticks={[0, runs]}
              interval={0}
              tick={{ fontSize: 12, fill: 'var(--faint)' }}
              axisLine={{ stroke: 'var(--line)' }}
              tickLine={false}
            />
            <YAxis
              domain={[0, ticks.at(-1)!]}
              ticks={ticks}
              interval={0}
              width={44}
              tick={{ fontSize: 12, fill: 'var(--faint)' }}
              axisLine={false}
              tickLine={false}
              tickFormatter={(value: number) => shownNumber(value)}
            />
            <ReferenceLine y={wanted} stroke="var(--ink)" strokeDasharray="3 3" />
            <Line dataKey="half" stroke="var(--accent)" strokeWidth={2} dot={false} isAnimationActive={false} />
          </LineChart>
        </ResponsiveContainer>
      </div>
      <TakeFiles
        title={`seeds and the mean of ${name}`}
        note={`half width of the 90 % interval of the mean of ${name}; dashed: 5 % of it`}
        hasFigure
        table={() => [
          ['seeds', heading('half_width', plan.summaries[summary]!.unitLabel)],
          ...seeds.map((n, i) => [n, halves[i]!]),
        ]}
      />
      <p>
        Known within {shownNumber((100 * last) / Math.abs(mean), 2)} % (90 %) with {runs} seeds; dashed: 5 %.{' '}
        {needed > runs ? (
          <>
            For that about <b>{needed.toLocaleString('en-GB')}</b>, {(needed - runs).toLocaleString('en-GB')} more.
          </>
        ) : (
          'That is within 5 %.'
        )}
      </p>
    </section>
  );
}
