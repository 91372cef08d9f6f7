import { Meaning } from '../manual/Meaning.tsx';
import type { ApartAnswer, Cell, Plan, RunKey } from '@vole/core';
import { stepWords } from '@vole/core';
import { TakeFiles } from '../files/TakeFiles.tsx';

/** Runs that are listed at most. */
const MOST_LISTED = 6;

interface Props {
  readonly plan: Plan;
  /** By the course of this measure. */
  readonly measure: string;
  readonly answer: ApartAnswer;
  readonly onOpen: (run: RunKey, step: number) => void;
}

/** The most typical run and those that stand apart, each a click from Watch at the step at which it leaves the others. */
export function RunsApart({ plan, measure, answer, onOpen }: Props) {
  const { typical, apart, unusual, runs } = answer;
  return (
    <section aria-label="Runs that stand apart" className="card overflow-auto p-4">
      <h2 className="mb-1 text-[16px]">
        Runs that stand apart <Meaning of="runs-that-stand-apart" />
      </h2>
      <table className="w-full">
        <tbody>
          <tr className="border-t border-line">
            <td className="pr-3 font-bold">{typical.seed}</td>
            <td>the most typical run</td>
            <td className="text-right">
              <button type="button" className="link" onClick={() => onOpen(typical, typical.steps)}>
                open at the end
              </button>
            </td>
          </tr>
          {apart.slice(0, MOST_LISTED).map((run) => (
            <tr key={run.seed} className="border-t border-line">
              <td className="pr-3 font-bold">{run.seed}</td>
              <td>
                far {run.isAbove ? 'above' : 'below'} the others from {stepWords(plan, run.step)} on,{' '}
                {Math.max(1, Math.round(100 * run.share))} % of the time
              </td>
              <td className="text-right">
                <button type="button" className="link" onClick={() => onOpen(run, run.step)}>
                  open there
                </button>
              </td>
            </tr>
          ))}
          {unusual.map((run, i) => (
            <tr key={run.seed} className="border-t border-line">
              <td className="pr-3 font-bold">{run.seed}</td>
              <td>
                {i === 0 ? 'the least typical' : 'next to it'}
                {apart.length > 0 ? ' of the others' : ''}: furthest {run.isAbove ? 'above' : 'below'} the most typical
                at {stepWords(plan, run.step)}
              </td>
              <td className="text-right">
                <button type="button" className="link" onClick={() => onOpen(run, run.step)}>
                  open there
                </button>
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      <p className="text-sm">
        <TakeFiles title={`runs that stand apart by ${measure}`} table={() => apartTable(answer)} />
      </p>
      <p className="mt-1 text-sm text-faint">
        {apart.length === 0 ? `None of ${runs} runs stands apart; ` : `${apart.length} of ${runs} stand apart; `}
        by modified band depth of the course of {measure}: apart is who lies further out than the central half by 1.5
        times its width
      </p>
    </section>
  );
}

/** Where each named run leaves the others, and how much of the time it is away. */
function apartTable({ typical, apart, unusual }: ApartAnswer): Cell[][] {
  return [
    ['seed', 'what', 'from_step', 'side', 'share_of_time'],
    [typical.seed, 'most typical', NaN, '', NaN],
    ...apart.map(({ seed, step, isAbove, share }) => [seed, 'apart', step, isAbove ? 'above' : 'below', share]),
    ...unusual.map(({ seed, step, isAbove }) => [seed, 'less typical', step, isAbove ? 'above' : 'below', NaN]),
  ];
}
