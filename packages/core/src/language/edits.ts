import { treeOf } from './parser.ts';
import type { AgentPart } from './syntax.ts';
import { partsOf } from './syntax.ts';

/**
 * Changes of a model's text that views make: small edits of the text as it stands, comments and layout kept, so that undo takes them back
 * and the text stays the one truth.
 */

/** What is put into a model together; what is there already under its name is left alone. */
export interface Addition {
  /** The kind that attributes, states, reactions and behaviours go to. */
  readonly kind?: string;
  /** Whole lines: `has energy = 1`. */
  readonly attributes?: readonly string[];
  /** Blocks without their indentation, each beginning with its header: `states life`, `behaviour eat`, `on Alarm`. */
  readonly blocks?: readonly string[];
  /** A behaviour by which the kind moves, for one that does not move yet. */
  readonly going?: string;
  readonly parameters?: readonly string[];
  /** Parts at the margin: `interaction ...`, `field ...`, `network ...`. */
  readonly parts?: readonly string[];
  /** Lines for the order, if the text has one. */
  readonly order?: readonly string[];
  readonly timeline?: readonly string[];
}

const INDENT = '  ';

/** The lines of a block: its header and all that follow deeper, without blank lines at the end. Line numbers from 0. */
function blockEnd(lines: readonly string[], header: number): number {
  const depth = indentOf(lines[header]!);
  let end = header;
  for (let i = header + 1; i < lines.length; i++) {
    if (lines[i]!.trim() === '') continue;
    if (indentOf(lines[i]!) <= depth) break;
    end = i;
  }
  return end;
}

function indentOf(line: string): number {
  return line.length - line.trimStart().length;
}

function indented(block: string, depth: string): string[] {
  return block.split('\n').map((line) => (line.trim() === '' ? '' : depth + line));
}

function headerOf(block: string): string {
  return block.split('\n')[0]!.trim();
}

/** The name that a line or block declares: the word after its first. */
function declared(header: string): string {
  return /^\S+\s+([\p{L}_][\p{L}\p{N}_]*)/u.exec(header)?.[1]?.toLowerCase() ?? '';
}

class Lines {
  constructor(readonly lines: string[]) {}

  static of(text: string): Lines {
    return new Lines(text.replace(/\n+$/, '').split('\n'));
  }

  lineAt(offset: number, text: string): number {
    return text.slice(0, offset).split('\n').length - 1;
  }

  findHeader(test: (line: string) => boolean): number {
    return this.lines.findIndex((line) => indentOf(line) === 0 && test(line.trim()));
  }

  insertAfter(line: number, added: readonly string[]): void {
    this.lines.splice(line + 1, 0, ...added);
  }

  get text(): string {
    return `${this.lines.join('\n')}\n`;
  }
}

/** Puts an addition into a text, each piece where its like stands. Behaviours and interactions whose name is taken get another one. */
export function addToModel(text: string, addition: Addition): string {
  const lines = Lines.of(text);
  const renamed = new Map<string, string>();
  for (const parameter of addition.parameters ?? []) addParameter(lines, parameter);
  addToKind(lines, addition, renamed);
  for (const part of addition.parts ?? []) addPart(lines, part, renamed);
  const order = lines.findHeader((line) => line === 'order');
  const ordered = new Set(
    order < 0
      ? []
      : lines.lines.slice(order + 1, blockEnd(lines.lines, order) + 1).map((line) => line.trim().split(/[\s,]/)[0]),
  );
  const going =
    addition.going && lines.lines.some((line) => line.trim() === headerOf(addition.going!))
      ? [`${declared(headerOf(addition.going))} in turn`]
      : [];
  addLines(
    lines,
    'order',
    [...(addition.order ?? []), ...going]
      .map((line) => withNames(line, renamed))
      .filter((line) => !ordered.has(line.split(' ')[0])),
    false,
  );
  addLines(lines, 'timeline', addition.timeline ?? [], true);
  return lines.text;
}

function addParameter(lines: Lines, parameter: string): void {
  const name = declared(parameter);
  const isThere = lines.lines.some(
    (line) => indentOf(line) === 0 && /^(parameter|variable|field)\s/.test(line) && declared(line) === name,
  );
  if (isThere) return;
  const last = lines.lines.findLastIndex((line) => line.startsWith('parameter '));
  if (last >= 0) {
    lines.insertAfter(last, [parameter]);
    return;
  }
  const clock = lines.findHeader((line) => line === 'clock' || line.startsWith('clock '));
  lines.insertAfter(clock >= 0 ? blockEnd(lines.lines, clock) : blockEnd(lines.lines, 0), [parameter]);
}

function freeName(name: string, taken: ReadonlySet<string>): string {
  let free = name;
  for (let i = 2; taken.has(free); i++) free = `${name}_${i}`;
  return free;
}

function addToKind(
  lines: Lines,
  { kind, attributes = [], blocks = [], going }: Addition,
  renamed: Map<string, string>,
): void {
  if (kind === undefined) return;
  const key = kind.toLowerCase();
  const header = lines.findHeader((line) => line.startsWith('agent ') && declared(line) === key);
  if (header < 0) return;
  const own = (): string[] => lines.lines.slice(header + 1, blockEnd(lines.lines, header) + 1);
  const depth = own().find((line) => line.trim() !== '');
  const indent = depth ? ' '.repeat(indentOf(depth)) : INDENT;
  for (const attribute of attributes) {
    if (own().some((line) => /^\s+(has|derive)\s/.test(line) && declared(line.trim()) === declared(attribute)))
      continue;
    const inside = own();
    const after = inside.findLastIndex(
      (line) => /^\s+(has|start|derive)\s/.test(line) && indentOf(line) === indent.length,
    );
    lines.insertAfter(header + 1 + after, [indent + attribute]);
  }
  const moves = own().some((line) => /^\s+move\s/.test(line));
  for (const block of going && !moves ? [...blocks, going] : blocks) {
    const head = headerOf(block);
    const word = head.split(' ')[0]!;
    // Behaviours are told apart in the order by their names, of whichever kind they are.
    const among = word === 'behaviour' ? lines.lines : own();
    const taken = new Set(
      among.filter((line) => line.trim().startsWith(`${word} `)).map((line) => declared(line.trim())),
    );
    const name = declared(head);
    if (taken.has(name)) {
      if (word !== 'behaviour') continue;
      renamed.set(name, freeName(name, taken));
    }
    lines.insertAfter(blockEnd(lines.lines, header), indented(withNames(block, renamed), indent));
  }
}

function withNames(text: string, renamed: ReadonlyMap<string, string>): string {
  const [first, ...rest] = text.split('\n') as [string, ...string[]];
  let head = first;
  for (const [from, to] of renamed) head = head.replace(new RegExp(`\\b${from}\\b`, 'u'), to);
  return [head, ...rest].join('\n');
}

/** Parts go where the ones of their kind end, else before what looks at the model: order, timeline, measures. */
function addPart(lines: Lines, given: string, renamed: Map<string, string>): void {
  const head = headerOf(given);
  const word = head.split(' ')[0]!;
  const taken = new Set(lines.lines.filter((line) => line.startsWith(`${word} `)).map(declared));
  const name = declared(head);
  if (taken.has(name)) {
    if (word !== 'interaction') return;
    renamed.set(name, freeName(name, taken));
  }
  const part = withNames(given, renamed);
  const like = lines.lines.findLastIndex((line) => indentOf(line) === 0 && line.startsWith(`${word} `));
  if (like >= 0) {
    lines.insertAfter(blockEnd(lines.lines, like), part.split('\n'));
    return;
  }
  const looks =
    word === 'timeline'
      ? /^(measure|summary|record|chart|show|check)\b/
      : /^(order|timeline|measure|summary|record|chart|show|check)\b/;
  const later = lines.lines.findIndex((line) => looks.test(line));
  lines.lines.splice(later < 0 ? lines.lines.length : later, 0, ...part.split('\n'));
}

function addLines(lines: Lines, word: string, added: readonly string[], create: boolean): void {
  if (added.length === 0) return;
  const header = lines.findHeader((line) => line === word);
  if (header >= 0) {
    lines.insertAfter(
      blockEnd(lines.lines, header),
      added.flatMap((line) => indented(line, INDENT)),
    );
    return;
  }
  if (create) addPart(lines, `${word}\n${added.flatMap((line) => indented(line, INDENT)).join('\n')}`, new Map());
}

/** Moves a part at the margin, with what stands under it, before another one; both by where they start. */
export function movePart(text: string, from: number, before: number | undefined): string {
  const lines = Lines.of(text);
  const first = lines.lineAt(from, text);
  const last = blockEnd(lines.lines, first);
  let to = before === undefined ? lines.lines.length : lines.lineAt(before, text);
  if (to > first && to <= last + 1) return text;
  // Blank lines under a part go with it, so that groups stay apart.
  let end = last;
  while (lines.lines[end + 1]?.trim() === '') end++;
  const moved = lines.lines.splice(first, end - first + 1);
  if (to > first) to -= moved.length;
  lines.lines.splice(to, 0, ...moved);
  return lines.text;
}

// States

function agentNamed(text: string, kind: string): AgentPart | undefined {
  return partsOf(treeOf(text), 'agent').find((part) => part.name.key === kind.toLowerCase());
}

/** Adds a state at the end of a machine. */
export function addState(text: string, kind: string, machine: string, state: string): string {
  const part = agentNamed(text, kind)?.states.find((m) => m.name.key === machine.toLowerCase());
  if (!part) return text;
  const lines = Lines.of(text);
  const header = lines.lineAt(part.span.start, text);
  lines.insertAfter(blockEnd(lines.lines, header), [' '.repeat(indentOf(lines.lines[header]!) + 2) + state]);
  return lines.text;
}

/** Adds a transition under a state: `chance 0.1: Old`. */
export function addTransition(text: string, kind: string, machine: string, state: string, line: string): string {
  const found = agentNamed(text, kind)
    ?.states.find((m) => m.name.key === machine.toLowerCase())
    ?.states.find((s) => s.name.key === state.toLowerCase());
  if (!found) return text;
  const lines = Lines.of(text);
  const header = lines.lineAt(found.span.start, text);
  lines.insertAfter(blockEnd(lines.lines, header), [' '.repeat(indentOf(lines.lines[header]!) + 2) + line]);
  return lines.text;
}

/** Takes out the line at a place with all that stands under it. */
export function removeBlock(text: string, start: number): string {
  const lines = Lines.of(text);
  const first = lines.lineAt(start, text);
  lines.lines.splice(first, blockEnd(lines.lines, first) - first + 1);
  return lines.text;
}

/** Puts another line in the place of one, at its depth; what stands under it stays. */
export function replaceLine(text: string, start: number, line: string): string {
  const lines = Lines.of(text);
  const at = lines.lineAt(start, text);
  lines.lines[at] = ' '.repeat(indentOf(lines.lines[at]!)) + line;
  return lines.text;
}

/** Writes the shapes of a zone or obstacle anew, as lines like `box (1 m, 2 m) to (3 m, 4 m)`. */
export function redrawZone(text: string, name: string, shapes: readonly string[]): string {
  const part = treeOf(text).parts.find(
    (other) => (other.is === 'zone' || other.is === 'obstacle') && other.name.key === name.toLowerCase(),
  );
  if (!part) return text;
  const lines = Lines.of(text);
  const header = lines.lineAt(part.span.start, text);
  lines.lines.splice(header + 1, blockEnd(lines.lines, header) - header, ...shapes.map((shape) => INDENT + shape));
  return lines.text;
}
