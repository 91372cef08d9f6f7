import { treeOf } from '@vole/core';
import type { FeedTrips } from '@vole/core/feed';
import { vehicleKinds, withNewLine } from '@vole/core/stop-edits';

/** What a transit feed gives the text, and what is said of it. */

/** The text with a line that runs by a timetable, if it has none by it yet. */
export function textWithFeed(text: string, space: string, table: string): string {
  if (treeOf(text).parts.some((part) => part.is === 'line' && part.timetable?.name === table)) return text;
  return withNewLine(text, space, vehicleKinds(text)[0], [`timetable from "${table}"`]);
}

export function feedWords({ date, isOfWeek, trips, stops, routes, leftOut }: FeedTrips): string {
  const named = `${routes.slice(0, 5).join(', ')}${routes.length > 5 ? ` and ${routes.length - 5} more` : ''}`;
  const dropped = leftOut > 0 ? ` ${leftOut} are left out: without two stops that have a place and a time.` : '';
  return `${trips.toLocaleString('en-GB')} trips of ${isOfWeek ? 'the week of ' : ''}${date} at ${stops.toLocaleString('en-GB')} stops, on routes ${named}.${dropped}`;
}
