import type { ProseHeading } from '../language/prose.ts';
import type { Formula } from '../mean-field/formula.ts';

/** A report as it is told, before it is written in one of its forms (HTML, Markdown, DOCX, the page). */

/** Words in a line: plain ones, or set apart. */
export type Words = string | { readonly is: 'strong' | 'code' | 'faint'; readonly text: string };
/** Words that stand after one another. */
export type Line = readonly Words[];

/** What is set or added to what, as a typeset formula. */
export interface Assignment {
  readonly left: Formula;
  /** `←` where a rule gives a new value, `=` where something is so at any time. */
  readonly sign: '←' | '=';
  readonly right: Formula;
}

export interface TableBlock {
  readonly is: 'table';
  readonly caption?: Line;
  readonly head: readonly string[];
  readonly rows: readonly Line[];
  /** Columns that are set to the right, by their places. */
  readonly numeric?: readonly number[];
}

/** A piece of a report. */
export type Block =
  | { readonly is: 'heading'; readonly text: string }
  | { readonly is: 'paragraph'; readonly words: Line }
  | { readonly is: 'list'; readonly isOrdered: boolean; readonly items: readonly Line[] }
  | TableBlock
  /** A piece of the model's text. */
  | { readonly is: 'listing'; readonly text: string }
  | { readonly is: 'formulas'; readonly formulas: readonly Assignment[] }
  /** A picture as SVG of its own, and the same in words. */
  | {
      readonly is: 'picture';
      readonly svg: string;
      readonly width: number;
      readonly height: number;
      readonly told: string;
      readonly caption?: Line;
    }
  /** A place for what only the modeler knows, kept in the prose of the model. It waits where nothing is said and nothing else is told there. */
  | {
      readonly is: 'place';
      readonly heading: ProseHeading;
      readonly asks: string;
      readonly answer: string;
      /** The answer with the numbers that it quotes, if it quotes some. */
      readonly reads?: Line;
      readonly waits: boolean;
    };

/** A part of a report under a heading of its own. */
export interface Section {
  /** Also the place to which links lead. */
  readonly id: string;
  readonly title: string;
  readonly blocks: readonly Block[];
}

/** A report: its title, and its parts in their order. */
export interface Report {
  readonly title: string;
  readonly sections: readonly Section[];
}

/** What of a section is written: places without an answer are left out, and headings under which nothing is left. */
export function writtenBlocks({ blocks }: Section): Block[] {
  const told = blocks.filter((block) => block.is !== 'place' || block.answer !== '');
  return told.filter((block, i) => block.is !== 'heading' || (told[i + 1] && told[i + 1]!.is !== 'heading'));
}

/** A table without the columns in which nothing stands. */
export function tableOf(table: TableBlock): TableBlock {
  const kept = table.head.map((_, i) => table.rows.some((row) => row[i] !== undefined && row[i] !== ''));
  const chosen = <T>(cells: readonly T[]): T[] => cells.filter((_, i) => kept[i]);
  const places = table.head.map((_, i) => i).filter((i) => kept[i]);
  return {
    ...table,
    head: chosen(table.head),
    rows: table.rows.map(chosen),
    numeric: (table.numeric ?? []).filter((i) => kept[i]).map((i) => places.indexOf(i)),
  };
}

/** Places of a report that wait for a sentence of the modeler. */
export function waitingPlaces({ sections }: Report): { readonly section: Section; readonly heading: ProseHeading }[] {
  return sections.flatMap((section) =>
    section.blocks.flatMap((block) =>
      block.is === 'place' && block.waits ? [{ section, heading: block.heading }] : [],
    ),
  );
}

/** A paragraph of words. */
export function paragraph(...words: Words[]): Block {
  return { is: 'paragraph', words };
}
export function code(text: string): Words {
  return { is: 'code', text };
}
export function strong(text: string): Words {
  return { is: 'strong', text };
}

/** Items as people list them, with commas and a last word between. */
export function listed(items: readonly Words[], last = 'and'): Words[] {
  return items.flatMap((item, i) => {
    if (i === 0) return [item];
    return [i === items.length - 1 ? ` ${last} ` : ', ', item];
  });
}

/** The answer of a place as it reads, with a capital. */
export function placeWords({ answer, reads = [answer] }: Extract<Block, { is: 'place' }>): Line {
  const [first, ...rest] = reads;
  return typeof first === 'string' ? [capital(first), ...rest] : reads;
}

export function capital(words: string): string {
  return words.charAt(0).toUpperCase() + words.slice(1);
}
