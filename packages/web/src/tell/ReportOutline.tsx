import type { Report } from '@vole/core';
import { waitingPlaces } from '@vole/core';

/** The parts of the report, and the places in it that wait for a sentence. */
export function ReportOutline({ report, isReading }: { readonly report: Report; readonly isReading: boolean }) {
  const waiting = waitingPlaces(report);
  const show = (id: string): void => document.getElementById(`report-${id}`)?.scrollIntoView({ block: 'start' });
  return (
    <section aria-label="Report" className="card p-4">
      <h2 className="mb-2 text-[17px]">Report</h2>
      <ol className="flex flex-col items-start gap-1">
        {report.sections.map(({ id, title }) => (
          <li key={id}>
            <button type="button" className="text-left hover:underline" onClick={() => show(id)}>
              {title}
            </button>
          </li>
        ))}
      </ol>
      {isReading && (
        <p role="status" className="mt-2 text-sm text-faint">
          The studies are being read …
        </p>
      )}
      {waiting.length > 0 && (
        <p className="mt-2 text-sm text-faint">
          {waiting.length === 1 ? 'A place waits' : `${waiting.length} places wait`} for a sentence of yours.{' '}
          <button
            type="button"
            className="link"
            onClick={() => document.querySelector<HTMLTextAreaElement>('.printed [data-waits]')?.focus()}
          >
            see
          </button>
        </p>
      )}
    </section>
  );
}
