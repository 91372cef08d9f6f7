import type { MathComponent, Paragraph, ParagraphChild, Table } from 'docx';
import type { Block, Line, Report, TableBlock } from './document.ts';
import { placeWords, writtenBlocks } from './document.ts';
import type { ReportFacts } from './html.ts';
import type { MathNode } from './mathml.ts';
import { mathOfAssignment } from './mathml.ts';

type Docx = typeof import('docx');

/** Makes a PNG of a picture, as many pixels wide as is asked for. */
export type Rasterise = (svg: string, width: number, height: number) => Promise<Uint8Array>;

/** Widest a picture is on the page, in pixels of 1/96 inch. */
const WIDEST = 600;
/** Pixels of a PNG for one of the page. */
const SHARPNESS = 2;

/** A report as DOCX, with headings, tables, formulas and pictures that word processors know. Places that wait are left out. */
export async function reportDocx(
  { title, sections }: Report,
  { generator }: ReportFacts,
  rasterise: Rasterise,
): Promise<ArrayBuffer> {
  const docx = await import('docx');
  const writer = new Writer(docx, rasterise);
  const children: (Paragraph | Table)[] = [new docx.Paragraph({ text: title, heading: docx.HeadingLevel.TITLE })];
  for (const section of sections) {
    children.push(new docx.Paragraph({ text: section.title, heading: docx.HeadingLevel.HEADING_1 }));
    for (const block of writtenBlocks(section)) children.push(...(await writer.block(block)));
  }
  children.push(new docx.Paragraph({ children: [new docx.TextRun({ text: generator, italics: true })] }));
  const document = new docx.Document({
    title,
    creator: generator,
    styles: { default: { document: { run: { font: 'Source Sans 3', size: 22 } } } },
    numbering: {
      config: [
        {
          reference: 'steps',
          levels: [
            {
              level: 0,
              format: docx.LevelFormat.DECIMAL,
              text: '%1.',
              alignment: docx.AlignmentType.START,
              style: { paragraph: { indent: { left: 480, hanging: 360 } } },
            },
          ],
        },
      ],
    },
    sections: [{ children }],
  });
  return docx.Packer.toArrayBuffer(document);
}

class Writer {
  private tables = 0;
  private pictures = 0;
  private lists = 0;

  constructor(
    private readonly docx: Docx,
    private readonly rasterise: Rasterise,
  ) {}

  async block(block: Block): Promise<(Paragraph | Table)[]> {
    const { Paragraph, HeadingLevel } = this.docx;
    switch (block.is) {
      case 'heading':
        return [new Paragraph({ text: block.text, heading: HeadingLevel.HEADING_2 })];
      case 'paragraph':
        return [this.paragraph(block.words)];
      case 'list': {
        const instance = ++this.lists;
        return block.items.map(
          (item) =>
            new Paragraph({
              children: this.line(item),
              ...(block.isOrdered
                ? { numbering: { reference: 'steps', level: 0, instance } }
                : { bullet: { level: 0 } }),
            }),
        );
      }
      case 'table':
        return [this.table(block), this.caption(`Table ${++this.tables}. `, block.caption ?? [])];
      case 'listing':
        return block.text.split('\n').map((text) => this.paragraph([{ is: 'code', text }], 0));
      case 'formulas':
        return block.formulas.map(
          (each) =>
            new Paragraph({
              children: [new this.docx.Math({ children: this.math(mathOfAssignment(each)) })],
              spacing: { after: 80 },
            }),
        );
      case 'picture':
        return this.picture(block);
      case 'place':
        return [this.paragraph([{ is: 'strong', text: `${block.heading}. ` }, ...placeWords(block)])];
    }
  }

  private async picture(block: Extract<Block, { is: 'picture' }>): Promise<Paragraph[]> {
    const { Paragraph, ImageRun } = this.docx;
    const scale = Math.min(1, WIDEST / block.width);
    const png = await this.rasterise(block.svg, SHARPNESS * block.width, SHARPNESS * block.height);
    const image = new ImageRun({
      type: 'png',
      data: png,
      transformation: { width: Math.round(scale * block.width), height: Math.round(scale * block.height) },
      altText: { name: `Figure ${this.pictures + 1}`, title: `Figure ${this.pictures + 1}`, description: block.told },
    });
    return [
      new Paragraph({ children: [image], keepNext: true }),
      this.caption(`Figure ${++this.pictures}. `, block.caption ?? []),
    ];
  }

  private table({ head, rows, numeric = [] }: TableBlock): Table {
    const { Table, TableRow, TableCell, Paragraph, TextRun, AlignmentType, WidthType } = this.docx;
    const cell = (children: ParagraphChild[], column: number): InstanceType<Docx['TableCell']> =>
      new TableCell({
        children: [
          new Paragraph({ children, alignment: numeric.includes(column) ? AlignmentType.END : AlignmentType.START }),
        ],
        margins: { left: 80, right: 80, top: 40, bottom: 40 },
      });
    return new Table({
      width: { size: 100, type: WidthType.PERCENTAGE },
      rows: [
        new TableRow({
          tableHeader: true,
          children: head.map((name, i) => cell([new TextRun({ text: name, bold: true })], i)),
        }),
        ...rows.map(
          (row) => new TableRow({ cantSplit: true, children: row.map((words, i) => cell(this.line([words]), i)) }),
        ),
      ],
    });
  }

  private caption(begin: string, words: Line): Paragraph {
    return this.paragraph([{ is: 'strong', text: begin }, ...words], 240);
  }

  private paragraph(words: Line, after = 120): Paragraph {
    return new this.docx.Paragraph({ children: this.line(words), spacing: { after } });
  }

  private line(line: Line): ParagraphChild[] {
    const { TextRun } = this.docx;
    return line.map((words) => {
      if (typeof words === 'string') return new TextRun(words);
      switch (words.is) {
        case 'strong':
          return new TextRun({ text: words.text, bold: true });
        case 'code':
          return new TextRun({ text: words.text, font: 'IBM Plex Mono', size: 19 });
        case 'faint':
          return new TextRun({ text: words.text, color: '5D564E' });
      }
    });
  }

  private math({ tag, children }: MathNode): MathComponent[] {
    const { MathRun, MathFraction, MathSuperScript, MathSubScript } = this.docx;
    const of = (child: MathNode | string | undefined): MathComponent[] =>
      child === undefined ? [] : typeof child === 'string' ? [new MathRun(child)] : this.math(child);
    const [first, second] = children;
    switch (tag) {
      case 'mfrac':
        return [new MathFraction({ numerator: of(first), denominator: of(second) })];
      case 'msup':
        return [new MathSuperScript({ children: of(first), superScript: of(second) })];
      case 'msub':
        return [new MathSubScript({ children: of(first), subScript: of(second) })];
      default:
        return children.flatMap(of);
    }
  }
}
