import { Meaning } from '../manual/Meaning.tsx';
import type { Plan, PosteriorAnswer } from '@vole/core';
import { factorWords, unitOfParameter } from '@vole/core';
import type { StudyRow } from '../storage/schema.ts';
import { TakeFiles } from '../files/TakeFiles.tsx';
import { useOpenValues } from './use-open-values.ts';

interface Props {
  readonly plan: Plan;
  readonly study: StudyRow;
  readonly best: NonNullable<PosteriorAnswer['best']>;
}

/** Where runs lie nearest to what was observed: one point, of which nothing is said how well it is known. */
export function BestPoint({ plan, study, best }: Props) {
  const open = useOpenValues(plan, study);
  return (
    <section aria-label="Best point" className="card p-4">
      <h2 className="mb-1 text-[16px]">
        Nearest to the observations <Meaning of="best-point" />
      </h2>
      <table className="w-full" data-testid="best-point">
        <tbody>
          {best.parameters.map((parameter, i) => (
            <tr key={parameter} className="border-t border-line">
              <td>{parameter}</td>
              <td className="text-right font-bold">{factorWords(plan, parameter, best.values[i]!, true)}</td>
            </tr>
          ))}
        </tbody>
      </table>
      <p className="text-sm">
        <TakeFiles
          title="best point"
          table={() => [
            ['parameter', 'unit', 'value'],
            ...best.parameters.map((name, i) => [name, unitOfParameter(plan, name), best.values[i]!]),
          ]}
        />
      </p>
      <p className="mt-1 text-sm text-faint">
        One point says nothing of how well it is known: other points may agree as well. Sequential Monte Carlo tells.
      </p>
      <button type="button" className="link text-sm" onClick={() => open(best.parameters, best.values)}>
        watch it
      </button>
    </section>
  );
}
