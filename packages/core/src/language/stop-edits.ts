import { addToModel } from './edits.ts';
import { treeOf } from './parser.ts';
import type { LinePart } from './syntax.ts';
import { partsOf } from './syntax.ts';

/** Changes of the stops of a line that are made by hand on a map: the rest of the text stays as it is. */

/** What is done to the stops of a line: a place as the text writes it, stops counted from 0. */
export type StopChange =
  | { readonly is: 'add'; readonly place: string }
  | { readonly is: 'move'; readonly stop: number; readonly place: string }
  | { readonly is: 'remove'; readonly stop: number };

/** What stands under a line that is begun by hand. @param places of its stops as the text writes them, two or more */
export function lineThrough(places: readonly string[]): string[] {
  return [`stops ${places.join(', ')}`, 'every 10 minutes', 'at 12 km per h'];
}

/** Lines whose stops stand in the text, in its order. */
export function linesWithStops(text: string): { readonly name: string; readonly stops: number }[] {
  return partsOf(treeOf(text), 'line').flatMap(({ name, stops }) =>
    stops.length > 0 ? [{ name: name.text, stops: stops.length }] : [],
  );
}

/** Kinds of the text that have seats. */
export function vehicleKinds(text: string): string[] {
  return partsOf(treeOf(text), 'agent').flatMap(({ name, seats }) => (seats ? [name.text] : []));
}

function lineNamed(text: string, name: string): LinePart | undefined {
  return partsOf(treeOf(text), 'line').find((part) => part.name.key === name.toLowerCase());
}

/** The text with other stops of a line; as it was where the line has none in it, or would be left with fewer than two. */
export function withStops(text: string, line: string, change: StopChange): string {
  const stops = lineNamed(text, line)?.stops ?? [];
  const put = (from: number, to: number, piece: string): string => text.slice(0, from) + piece + text.slice(to);
  if (change.is === 'add') {
    const last = stops.at(-1);
    return last ? put(last.span.end, last.span.end, `, ${change.place}`) : text;
  }
  const stop = stops[change.stop];
  if (!stop) return text;
  if (change.is === 'move') return put(stop.span.start, stop.span.end, change.place);
  if (stops.length <= 2) return text;
  const [before, after] = [stops[change.stop - 1], stops[change.stop + 1]];
  return before ? put(before.span.end, stop.span.end, '') : put(stop.span.start, after!.span.start, '');
}

/**
 * The text with a new line, and vehicles for it if it has none.
 * @param kind of its vehicles; one of the text, or a new one
 * @param body what stands under it
 */
export function withNewLine(text: string, space: string, kind: string | undefined, body: readonly string[]): string {
  const tree = treeOf(text);
  const taken = new Set(tree.parts.flatMap((part) => ('name' in part ? [part.name.key] : [])));
  const free = (wanted: string): string => {
    let name = wanted;
    for (let i = 2; taken.has(name.toLowerCase()); i++) name = `${wanted}_${i}`;
    return name;
  };
  const vehicle = kind ?? free('Cart');
  const name = free(`${vehicle}_line`);
  const isAlone = partsOf(tree, 'space').length < 2;
  return addToModel(text, {
    parts: [
      ...(kind === undefined ? [`agent ${vehicle}${isAlone ? '' : ` on ${space}`}\n  seats 20`] : []),
      [`line ${name} by ${vehicle}`, ...body].join('\n  '),
      ...(kind === undefined ? [`show ${vehicle}: square, size 2`] : []),
    ],
    order: [`${name} in turn`],
  });
}
