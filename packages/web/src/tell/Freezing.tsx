import type { Report } from '@vole/core';
import { chooseReport } from '../session/session.ts';
import { useAppSelector } from '../store/store.ts';

interface Props {
  /** The report as it would be told now. */
  readonly report: Report;
  readonly isReading: boolean;
}

/** The report follows the project until it is frozen, and again once it is thawed. */
export function Freezing({ report, isReading }: Props) {
  const choice = useAppSelector((state) => state.project.report);
  const { frozen } = choice;
  const freeze = (): void => void chooseReport({ ...choice, frozen: { at: Date.now(), report } });
  const thaw = (): void => void chooseReport({ ...choice, frozen: undefined });
  return (
    <section aria-label="Frozen or not" className="card p-4">
      {frozen ? (
        <>
          <p>
            <b>Frozen</b> on {frozenAt(frozen.at)}.{' '}
            {!isReading && JSON.stringify(report) !== JSON.stringify(frozen.report) && (
              <span className="text-doubt" data-testid="moved-on">
                The project has moved on since.
              </span>
            )}
          </p>
          <button type="button" className="btn mt-1" onClick={thaw}>
            Let it follow again
          </button>
        </>
      ) : (
        <>
          <p className="text-sm text-faint">Figures and numbers follow the text and its studies.</p>
          <button type="button" className="btn mt-1" disabled={isReading} onClick={freeze}>
            Freeze the report
          </button>
        </>
      )}
    </section>
  );
}

function frozenAt(at: number): string {
  return new Date(at).toLocaleString('en-GB', {
    day: 'numeric',
    month: 'long',
    year: 'numeric',
    hour: '2-digit',
    minute: '2-digit',
  });
}
