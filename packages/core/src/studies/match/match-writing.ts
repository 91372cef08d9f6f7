import type { ObservedMapping } from './observed-mapping.ts';

/** Writes lines of the text of a match. */

/** A name as it stands in a line: in quotes where it is more than one plain word. */
export function quotedName(name: string): string {
  return /^[\p{L}_][\p{L}\p{N}_]*$/u.test(name) && !/^(and|in|is)$/i.test(name) ? name : `"${name}"`;
}

/** The match that a table stood for before matches had a text. @param table the name of its file */
export function matchOfMapping(table: string, { timeColumn, timeIs, columns }: ObservedMapping): string {
  const ties = columns.flatMap(({ column, measure }) =>
    measure === '' ? [] : [`  ${measure} from column ${quotedName(column)}`],
  );
  return [
    `match ${table.replace(/\.\w+$/, '')}`,
    `observed "${table}"`,
    `  time is ${timeIs} in column ${quotedName(timeColumn)}`,
    ...ties,
    '',
  ].join('\n');
}
