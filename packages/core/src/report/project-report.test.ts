import { describe, expect, it } from 'vitest';
import { loadModel } from '../load.ts';
import { reportMarkdown } from './markdown.ts';
import { projectReport } from './project-report.ts';

const TEXT = `model Pen
  Voles in a pen.
agent Vole
  start 3
measure n = count Vole
`;
const told = (csv: string): string => {
  const report = projectReport({
    name: 'Pen',
    text: TEXT,
    model: loadModel(TEXT).loaded,
    notes: 'One.\n\nTwo.',
    studies: [],
    observed: [{ name: 'counts.csv', csv }],
    checks: [],
  });
  return reportMarkdown(report, { language: 'en', generator: 'a test' }).text;
};

describe('the report of a project', () => {
  it('says of each table of what was observed how large it is, what it holds, and its remarks', () => {
    expect(told('# Made-up counts.\nday;voles\n1;2\n2;3\n')).toContain(
      '**counts.csv.** 2 rows with day, voles. Made-up counts.',
    );
    expect(told('day,voles\n1,2\n')).toContain('**counts.csv.** 1 row with day, voles.');
    expect(told('day,voles\n')).toContain('This table has names of columns, but no rows.');
    expect(told(`day,voles\n${'1,2\n'.repeat(300_000)}`)).toContain('**counts.csv.** 1.2 MB.');
  });

  it('has what the modeler says in paragraphs, and how to repeat it at its end', () => {
    const text = told('day,voles\n1,2\n');
    expect(text).toMatch(/## What came out\n\nOne\.\n\nTwo\.\n/);
    expect(text.indexOf('## How to repeat it')).toBeGreaterThan(text.indexOf('## Observed data'));
  });
});
