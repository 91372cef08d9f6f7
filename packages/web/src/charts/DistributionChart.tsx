import { stepWords } from '@vole/core';
import { useLive } from '../simulation/live-handle.ts';
import { shownNumber } from '../words/numbers.ts';
import { Bars } from './Bars.tsx';

/** What agents have now of what a chart of the text shows the distribution of. */
export function DistributionChart({ chart }: { readonly chart: number }) {
  const plan = useLive((state) => state.plan);
  const frame = useLive((state) => state.frame);
  const distribution = plan?.charts[chart]?.distribution;
  const shown = frame?.distributions[chart];
  if (!plan || !frame || !distribution || !shown) return null;
  const { values, of } = shown;
  const { name, unitLabel, kind } = distribution;
  const { count } = frame.kinds[kind] ?? { count: 0 };
  if (values.length === 0) return <p className="text-sm text-faint">Nobody has it now.</p>;
  const all = of < count ? ` looked at, of ${shownNumber(count)} in all` : '';
  const who = `${shownNumber(values.length)} of ${shownNumber(of)} ${plan.kinds[kind]!.name}${all}`;
  return (
    <Bars
      title={`${who}, ${stepWords(plan, frame.step)}`}
      name={name}
      values={[...values]}
      unit={unitLabel}
      width={300}
    />
  );
}
