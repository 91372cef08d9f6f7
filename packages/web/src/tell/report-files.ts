import type { Report, ReportFacts } from '@vole/core';
import { ENGINE_VERSION, reportDocx, reportHtml, reportMarkdownZip } from '@vole/core';
import { fileName } from '../files/download.ts';
import { drawnOn, pngOfCanvas } from '../files/figure.ts';

/** A report as a file. */
interface ReportFile {
  readonly name: string;
  readonly content: Blob;
}

/** What every report says of its making. */
export const REPORT_FACTS: ReportFacts = { language: 'en', generator: `Vole Parade, engine version ${ENGINE_VERSION}` };

/** Dots per inch of pictures in a DOCX, which are drawn at twice the size of a screen. */
const DENSITY = 192;

/** The forms in which a report leaves the page, by their names. @throws where a picture cannot be made */
export const REPORT_FORMS: Readonly<Record<string, (report: Report, title: string) => Promise<ReportFile>>> = {
  HTML: (report, title) =>
    Promise.resolve({
      name: fileName(title, 'html'),
      content: new Blob([reportHtml(report, REPORT_FACTS)], { type: 'text/html;charset=utf-8' }),
    }),
  DOCX: async (report, title) => {
    const rasterise = async (svg: string, width: number, height: number): Promise<Uint8Array> =>
      new Uint8Array(await (await pngOfCanvas(await drawnOn(svg, width, height), [], DENSITY)).arrayBuffer());
    return {
      name: fileName(title, 'docx'),
      content: new Blob([await reportDocx(report, REPORT_FACTS, rasterise)], {
        type: 'application/vnd.openxmlformats-officedocument.wordprocessingml.document',
      }),
    };
  },
  Markdown: (report, title) =>
    Promise.resolve({
      name: fileName(title, 'zip'),
      content: new Blob([reportMarkdownZip(fileName(title, 'md'), report, REPORT_FACTS) as Uint8Array<ArrayBuffer>], {
        type: 'application/zip',
      }),
    }),
};
