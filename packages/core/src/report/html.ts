import type { Block, Line, Report, TableBlock } from './document.ts';
import { placeWords, writtenBlocks } from './document.ts';
import { mathOfAssignment } from './mathml.ts';
import type { MathNode } from './mathml.ts';
import { escapedXml } from '../xml.ts';

/** What a reader of a file must know of how it was made, for its head and foot. */
export interface ReportFacts {
  readonly language: 'en';
  /** Who made it with what, as `Vole Parade, engine version 3`. */
  readonly generator: string;
}

/** A report as one HTML file: pictures and styles inside, fit for print, nothing to be fetched. Places that wait are left out. */
export function reportHtml({ title, sections }: Report, { language, generator }: ReportFacts): string {
  const counts = { table: 0, picture: 0 };
  const body = sections.map((section) => {
    const id = escapedXml(section.id);
    const blocks = writtenBlocks(section).map((block) => blockHtml(block, counts));
    return `<section id="${id}" aria-labelledby="${id}-title">\n<h2 id="${id}-title">${escapedXml(section.title)}</h2>\n${blocks.join('\n')}\n</section>`;
  });
  const contents = sections.map(
    ({ id, title: heading }) => `<li><a href="#${escapedXml(id)}">${escapedXml(heading)}</a></li>`,
  );
  return `<!DOCTYPE html>
<html lang="${language}">
<head>
<meta charset="utf-8">
<meta name="viewport" content="width=device-width, initial-scale=1">
<meta name="generator" content="${escapedXml(generator)}">
<title>${escapedXml(title)}</title>
<style>
${STYLE}
</style>
</head>
<body>
<main>
<h1>${escapedXml(title)}</h1>
<nav aria-label="Contents">
<ol>
${contents.join('\n')}
</ol>
</nav>
${body.join('\n')}
<footer><p>${escapedXml(generator)}</p></footer>
</main>
</body>
</html>
`;
}

const STYLE = `:root { color: #2a2522; background: #fffdf7; font: 16px/1.5 "Source Sans 3", "Source Sans Pro", sans-serif; }
main { max-width: 46rem; margin: 2rem auto; padding: 0 1.5rem; }
h1, h2, h3 { font-family: Bitter, Georgia, serif; line-height: 1.25; break-after: avoid; }
h2 { margin-top: 2.2rem; border-bottom: 1px solid #d9cfbd; }
nav ol { columns: 2; }
a { color: #8f3b1d; }
table { border-collapse: collapse; width: 100%; margin: 0.8rem 0; font-size: 0.94em; }
th { text-align: left; font-weight: 600; border-bottom: 1px solid #8a7f72; }
th, td { padding: 0.25rem 0.8rem 0.25rem 0; vertical-align: top; }
td { border-bottom: 1px solid #e8dfce; }
th.number, td.number { text-align: right; }
caption, figcaption { text-align: left; caption-side: bottom; color: #5d564e; font-size: 0.92em; padding-top: 0.3rem; }
figure { margin: 1rem 0; break-inside: avoid; }
figure svg { max-width: 100%; height: auto; }
code, pre { font-family: "IBM Plex Mono", monospace; font-size: 0.88em; }
pre { background: #f5f0e6; padding: 0.7rem 0.9rem; white-space: pre-wrap; break-inside: avoid; }
math { margin: 0.3rem 0; }
.faint, footer { color: #5d564e; }
@page { margin: 20mm 18mm; }
@media print { :root { background: none; font-size: 11pt; } main { max-width: none; margin: 0; padding: 0; } nav { display: none; } tr { break-inside: avoid; } }`;

function blockHtml(block: Block, counts: { table: number; picture: number }): string {
  switch (block.is) {
    case 'heading':
      return `<h3>${escapedXml(block.text)}</h3>`;
    case 'paragraph':
      return `<p>${lineHtml(block.words)}</p>`;
    case 'list': {
      const tag = block.isOrdered ? 'ol' : 'ul';
      return `<${tag}>\n${block.items.map((item) => `<li>${lineHtml(item)}</li>`).join('\n')}\n</${tag}>`;
    }
    case 'table':
      return tableHtml(block, ++counts.table);
    case 'listing':
      return `<pre><code>${escapedXml(block.text)}</code></pre>`;
    case 'formulas':
      return block.formulas
        .map((each) => `<p><math display="block">${mathHtml(mathOfAssignment(each))}</math></p>`)
        .join('\n');
    case 'picture':
      return `<figure>\n${block.svg}\n<figcaption><b>Figure ${++counts.picture}.</b> ${block.caption ? lineHtml(block.caption) : ''}</figcaption>\n</figure>`;
    case 'place':
      return `<p><b>${escapedXml(block.heading)}.</b> ${lineHtml(placeWords(block))}</p>`;
  }
}

function tableHtml({ head, rows, numeric = [], caption = [] }: TableBlock, place: number): string {
  const kind = (column: number): string => (numeric.includes(column) ? ' class="number"' : '');
  const cells = (row: Line): string => row.map((cell, i) => `<td${kind(i)}>${lineHtml([cell])}</td>`).join('');
  return `<table>
<caption><b>Table ${place}.</b> ${lineHtml(caption)}</caption>
<thead><tr>${head.map((name, i) => `<th scope="col"${kind(i)}>${escapedXml(name)}</th>`).join('')}</tr></thead>
<tbody>
${rows.map((row) => `<tr>${cells(row)}</tr>`).join('\n')}
</tbody>
</table>`;
}

function lineHtml(line: Line): string {
  return line
    .map((words) => {
      if (typeof words === 'string') return escapedXml(words);
      switch (words.is) {
        case 'strong':
          return `<b>${escapedXml(words.text)}</b>`;
        case 'code':
          return `<code>${escapedXml(words.text)}</code>`;
        case 'faint':
          return `<span class="faint">${escapedXml(words.text)}</span>`;
      }
    })
    .join('');
}

function mathHtml({ tag, children }: MathNode): string {
  return `<${tag}${tag === 'mo' ? ' stretchy="false"' : ''}>${children.map((child) => (typeof child === 'string' ? escapedXml(child) : mathHtml(child))).join('')}</${tag}>`;
}
