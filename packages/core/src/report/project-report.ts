import { ENGINE_VERSION } from '../engine/version.ts';
import type { LoadedModel } from '../load.ts';
import type { CheckOutcome } from '../studies/checks.ts';
import { notesOf, readCsv } from '../studies/match/observed-csv.ts';
import { checksSection } from './checks.ts';
import type { Report } from './document.ts';
import { paragraph } from './document.ts';
import { modelSections } from './model-report.ts';
import { withQuotes } from './quotes.ts';
import { repeatSection } from './repeat.ts';
import type { StudyTold } from './results.ts';
import { studySection } from './results.ts';

/** All that a report is told from. */
export interface ReportContents {
  /** What it is called where the text has errors. */
  readonly name: string;
  readonly text: string;
  readonly model: LoadedModel | undefined;
  /** What the modeler says came out, in paragraphs. */
  readonly notes: string;
  readonly studies: readonly StudyTold[];
  /** Tables of what was observed, as CSV. */
  readonly observed: readonly { readonly name: string; readonly csv: string }[];
  readonly checks: readonly CheckOutcome[];
}

/** The report of a project: the model by the standard, what came out of each study, what was observed, the checks, and how to repeat it. */
export function projectReport({ name, text, model, notes, studies, observed, checks }: ReportContents): Report {
  const said = notes.trim();
  const report: Report = {
    title: model?.plan.title ?? name,
    sections: [
      ...(model ? modelSections(model, text) : []),
      ...(said || studies.length > 0
        ? [
            {
              id: 'results',
              title: 'What came out',
              blocks: said
                .split(/\n\s*\n/)
                .filter(Boolean)
                .map((part) => paragraph(part)),
            },
          ]
        : []),
      ...studies.map(studySection),
      ...(observed.length > 0
        ? [
            {
              id: 'observed',
              title: 'Observed data',
              blocks: observed.map(({ name: file, csv }) =>
                paragraph({ is: 'strong', text: `${file}.` }, ` ${[tableWords(csv), ...notesOf(csv)].join(' ')}`),
              ),
            },
          ]
        : []),
      ...(checks.length > 0 ? [checksSection(checks)] : []),
      repeatSection(text, ENGINE_VERSION),
    ],
  };
  return withQuotes(report, studies);
}

/** Letters of a table beyond which it is not read for a report, which is told anew with each change. */
const MOST_READ = 1_000_000;

/** How large a table is, and what its columns are called. */
function tableWords(csv: string): string {
  if (csv.length > MOST_READ) return `${(csv.length / 1e6).toFixed(1)} MB.`;
  try {
    const { header, rows } = readCsv(csv);
    return `${rows.length.toLocaleString('en-GB')} ${rows.length === 1 ? 'row' : 'rows'} with ${header.join(', ')}.`;
  } catch (error) {
    return (error as Error).message;
  }
}
