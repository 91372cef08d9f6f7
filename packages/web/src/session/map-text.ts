import type { LaneNetwork } from '@vole/core';
import { addToModel, applyEdits, treeOf } from '@vole/core';

/** What a map gives the text, and what is said of it. */

/** The text with a space of a map, if it has none of it yet. Who lived on the only space before goes on living there, which is said from now on. */
export function textWithMap(text: string, fileName: string): string {
  const { parts } = treeOf(text);
  if (parts.some((part) => part.is === 'space' && part.map?.file.name === fileName)) return text;
  const taken = new Set(parts.flatMap((part) => ('name' in part ? [part.name.key] : [])));
  const base = /^\p{L}[\p{L}\p{N}_]*/u.exec(fileName)?.[0] ?? 'Map';
  const wanted = base.charAt(0).toUpperCase() + base.slice(1);
  let name = wanted;
  for (let i = 2; taken.has(name.toLowerCase()); i++) name = `${wanted}_${i}`;
  const spaces = parts.filter((part) => part.is === 'space');
  const settled = applyEdits(
    text,
    parts.flatMap((part) => {
      if (spaces.length !== 1 || part.is !== 'agent' || part.space) return [];
      const { end } = part.name.span;
      return [{ span: { start: end, end }, text: ` on ${spaces[0]!.name.text}` }];
    }),
  );
  return addToModel(settled, { parts: [`space ${name}: map from "${fileName}"`] });
}

/** What was found in a map, in a few sentences. */
export function foundWords({ told, places, areas }: LaneNetwork): string {
  const { leftOut } = told;
  const named = areas.flatMap((area) => area.name ?? []);
  const share = leftOut.metres / (leftOut.metres + told.metres);
  return [
    `${counted(told.lanes, 'lane')} of ${kilometres(told.metres)} km (${told.kinds
      .slice(0, 5)
      .map(([kind]) => kind)
      .join(', ')}${told.kinds.length > 5 ? ' ...' : ''}).`,
    leftOut.lanes > 0 &&
      `${counted(leftOut.parts, 'small part')} that hang${leftOut.parts === 1 ? 's' : ''} together with nothing else ${leftOut.parts === 1 ? 'is' : 'are'} left out (${(100 * share).toPrecision(2)} %).`,
    told.otherKinds.length > 0 && `Not taken: ${told.otherKinds.slice(0, 5).join(', ')}.`,
    told.missing > 0 &&
      `${counted(told.missing, 'point')} that ways name ${told.missing === 1 ? 'is' : 'are'} not in the file.`,
    places.length > 0 && `${counted(places.length, 'named place')}: ${listed(places.map(({ name }) => name))}.`,
    named.length > 0 && `${counted(named.length, 'named area')}: ${listed(named)}.`,
  ]
    .filter(Boolean)
    .join(' ');
}

function listed(names: readonly string[]): string {
  return names.length > 5 ? `${names.slice(0, 4).join(', ')} and ${names.length - 4} more` : names.join(', ');
}

/** Three digits of a length. */
function kilometres(metres: number): string {
  return Number((metres / 1000).toPrecision(3)).toLocaleString('en-GB');
}

function counted(n: number, word: string): string {
  return `${n.toLocaleString('en-GB')} ${word}${n === 1 ? '' : 's'}`;
}
