import type { StateArrow, StateGraph, StateNode } from './state-graph.ts';

/** Where the parts of a picture of states lie. Sizes in pixels: it is drawn as large as it is, so that its words can be read. */
const COLUMN = 178;
const ROW = 128;
const MARGIN = 38;
export const NODE = { width: 104, height: 46 } as const;
/** Letters on a line of a label over a level arrow and beside an upright one, and lines of it. */
const LABEL_OVER = 24;
const LABEL_BESIDE = 16;
const LABEL_LINES = 4;

/** Between the lines of a label, and from its curve to the words beside it. */
export const LINE = 14;
const BESIDE = 7;

export interface Point {
  readonly x: number;
  readonly y: number;
}

/** The size of the whole picture. */
export function extentOf({ nodes }: StateGraph): { readonly width: number; readonly height: number } {
  return {
    width: 2 * MARGIN + COLUMN * (Math.max(0, ...nodes.map((node) => node.column)) + 1),
    height: ROW * (Math.max(0, ...nodes.map((node) => node.row)) + 1) + 12,
  };
}

export function centreOf(node: StateNode): Point {
  return { x: MARGIN + node.column * COLUMN + COLUMN / 2, y: node.row * ROW + ROW / 2 + 4 };
}

/** Where a way from the middle of a state towards a point leaves it. */
function edgeTowards(at: Point, to: Point): Point {
  const [dx, dy] = [to.x - at.x, to.y - at.y];
  const share = 1 / Math.max(Math.abs(dx) / (NODE.width / 2 + 4), Math.abs(dy) / (NODE.height / 2 + 4), 1e-9);
  return { x: at.x + dx * share, y: at.y + dy * share };
}

/** Both ends of an arrow, and the point towards which it bends. */
export interface Course {
  readonly start: Point;
  readonly bend: Point;
  readonly end: Point;
}

/** @param nth how many arrows between the same two states come before it */
export function courseOf(from: StateNode | undefined, to: StateNode, nth: number): Course {
  const b = centreOf(to);
  if (!from) {
    const start = {
      x: b.x + (to.column === 0 ? -1 : 1) * (NODE.width / 2 - 14 - nth * 12),
      y: b.y - NODE.height / 2 - 34,
    };
    return { start, bend: start, end: { x: start.x, y: b.y - NODE.height / 2 - 4 } };
  }
  const a = centreOf(from);
  if (from === to)
    return {
      start: { x: a.x - 20, y: a.y - NODE.height / 2 },
      bend: { x: a.x, y: a.y - NODE.height / 2 - 40 - nth * 16 },
      end: { x: a.x + 20, y: a.y - NODE.height / 2 },
    };
  const [dx, dy] = [b.x - a.x, b.y - a.y];
  const length = Math.hypot(dx, dy);
  const bow = 30 + nth * 26;
  const bend = { x: (a.x + b.x) / 2 + (dy / length) * bow, y: (a.y + b.y) / 2 - (dx / length) * bow };
  return { start: edgeTowards(a, bend), bend, end: edgeTowards(b, bend) };
}

/** Words broken into lines that can stand beside an arrow; what is too much is left to its title. */
export function linesOfLabel(words: string, letters: number): string[] {
  const lines: string[] = [];
  for (const word of words.split(/\s+/)) {
    const last = lines[lines.length - 1];
    if (last !== undefined && last.length + word.length < letters) lines[lines.length - 1] = `${last} ${word}`;
    else lines.push(word);
  }
  return lines.length <= LABEL_LINES ? lines : [...lines.slice(0, LABEL_LINES - 1), `${lines[LABEL_LINES - 1]!} …`];
}

/** The words of an arrow: its share and what moves it on. */
export function wordsOf({ share, trigger }: StateArrow): string {
  return [share, trigger].filter(Boolean).join(', ');
}

/** How a label lies at its arrow. */
export interface Label {
  readonly lines: readonly string[];
  readonly anchor: 'start' | 'middle' | 'end';
  readonly x: number;
  /** Of the first line. */
  readonly top: number;
}

/** A label stands on the outer side of its curve; of an upright one beside it. */
export function labelOf(words: string, { start, bend, end }: Course): Label {
  const at = { x: (start.x + 2 * bend.x + end.x) / 4, y: (start.y + 2 * bend.y + end.y) / 4 };
  const middle = { x: (start.x + end.x) / 2, y: (start.y + end.y) / 2 };
  if (Math.abs(end.y - start.y) > Math.abs(end.x - start.x)) {
    const lines = linesOfLabel(words, LABEL_BESIDE);
    const isRight = at.x >= middle.x;
    return {
      lines,
      anchor: isRight ? 'start' : 'end',
      x: at.x + (isRight ? BESIDE : -BESIDE),
      top: at.y - ((lines.length - 1) * LINE) / 2 + 4,
    };
  }
  const lines = linesOfLabel(words, LABEL_OVER);
  const top = at.y < middle.y ? at.y - 6 - (lines.length - 1) * LINE : at.y + 16;
  return { lines, anchor: 'middle', x: at.x, top };
}
