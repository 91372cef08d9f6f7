import { strToU8, zipSync } from 'fflate';
import type { Block, Line, Report, TableBlock, Words } from './document.ts';
import { placeWords, writtenBlocks } from './document.ts';
import type { ReportFacts } from './html.ts';
import { texOfAssignment } from './tex.ts';

/** A report as Markdown with its figures as files beside it. */
export interface ReportMarkdown {
  readonly text: string;
  /** SVG by the name of the file. */
  readonly figures: ReadonlyMap<string, string>;
}

/** A report as Markdown: tables with bars, formulas between dollar signs, figures beside it. Places that wait are left out. */
export function reportMarkdown({ title, sections }: Report, { generator }: ReportFacts): ReportMarkdown {
  const figures = new Map<string, string>();
  let tables = 0;
  const block = (of: Block): string => {
    switch (of.is) {
      case 'heading':
        return `### ${plain(of.text)}`;
      case 'paragraph':
        return line(of.words);
      case 'list':
        return of.items.map((item, i) => `${of.isOrdered ? `${i + 1}.` : '-'} ${line(item)}`).join('\n');
      case 'table':
        return table(of, ++tables);
      case 'listing':
        return `${'`'.repeat(3)}\n${of.text}\n${'`'.repeat(3)}`;
      case 'formulas':
        return of.formulas.map((each) => `$$${texOfAssignment(each)}$$`).join('\n\n');
      case 'picture': {
        const name = `figure-${figures.size + 1}.svg`;
        figures.set(name, of.svg);
        return `![${plain(of.told)}](${name})\n\n**Figure ${figures.size}.** ${line(of.caption ?? [])}`;
      }
      case 'place':
        return `**${of.heading}.** ${line(placeWords(of))}`;
    }
  };
  const text = [
    `# ${plain(title)}`,
    ...sections.flatMap((section) => [`## ${plain(section.title)}`, ...writtenBlocks(section).map(block)]),
    `*${plain(generator)}*`,
  ];
  return { text: `${text.filter((part) => part !== '').join('\n\n')}\n`, figures };
}

/** The same with its figures as one zip. @param name of the text in it */
export function reportMarkdownZip(name: string, report: Report, facts: ReportFacts): Uint8Array {
  const { text, figures } = reportMarkdown(report, facts);
  return zipSync(Object.fromEntries([[name, text], ...figures].map(([file, content]) => [file, strToU8(content!)])));
}

function table({ head, rows, numeric = [], caption = [] }: TableBlock, place: number): string {
  const cells = (row: readonly string[]): string => `| ${row.map((cell) => cell.replaceAll('|', '\\|')).join(' | ')} |`;
  return [
    cells(head.map(plain)),
    cells(head.map((_, i) => (numeric.includes(i) ? '---:' : '---'))),
    ...rows.map((row) => cells(row.map((cell) => word(cell)))),
    '',
    `**Table ${place}.** ${line(caption)}`,
  ].join('\n');
}

function line(of: Line): string {
  return of.map(word).join('');
}

function word(of: Words): string {
  if (typeof of === 'string') return plain(of);
  switch (of.is) {
    case 'strong':
      return `**${plain(of.text)}**`;
    case 'code': {
      const fence = '`'.repeat(Math.max(0, ...[...of.text.matchAll(/`+/g)].map(([run]) => run.length)) + 1);
      return `${fence}${of.text}${fence}`;
    }
    case 'faint':
      return plain(of.text);
  }
}

/** Text with nothing in it that Markdown takes for a sign of its own. */
function plain(text: string): string {
  return text.replace(/[\\`*_[\]<>$#]/g, (sign) => `\\${sign}`);
}
