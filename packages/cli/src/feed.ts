import { readdirSync, statSync } from 'node:fs';
import { join } from 'node:path';
import { Command, Option } from 'commander';
import { MapProblem } from '@vole/core';
import type { FeedTrips, FeedWish } from '@vole/core/feed';
import { feedOfZip, isFeedFile, tripsOfFeed } from '@vole/core/feed';
import { counted } from './counted.ts';
import { Output, readBytes, readText } from './files.ts';
import { UsageError } from './usage-error.ts';

interface FeedOptions {
  readonly date?: string;
  readonly routes?: readonly string[];
  readonly out?: string;
  readonly force?: boolean;
  readonly week?: boolean;
}

export function feedCommand(): Command {
  return new Command('feed')
    .description('Makes the timetable of a line from a transit feed in the open form GTFS.')
    .argument('<feed>', 'a zip or a folder with stops.txt, routes.txt, trips.txt, stop_times.txt')
    .option(
      '--date <day>',
      'the day, as 2031-05-16; without it the first on which most trips run, or of the first week in which most do',
    )
    .option('--week', 'the trips of the week in which the day lies, with the days on which each runs')
    .addOption(new Option('--routes <names>', 'some routes only, with commas between them').argParser(namesOf))
    .option('--out <file>', 'the table, a .csv file; without it standard output')
    .option('--force', 'write over a file that is there')
    .addHelpText(
      'after',
      '\nExamples:\n  vole feed village.zip --out trips.csv\n  vole feed feed-folder --date 2031-05-16 --routes 1,2 --out trips.csv\n\nA model reads it on a map with “line Trams by Tram”, and under it “timetable from "trips.csv"”.',
    )
    .action((path: string, options: FeedOptions) => {
      const found = tripsAt(path, options);
      if (options.out === undefined) process.stdout.write(`${found.table}\n`);
      else {
        const output = new Output(options.out, { inputs: [path], force: options.force === true });
        output.write(`${found.table}\n`);
        output.finish();
      }
      process.stderr.write(`${toldOf(found)}\n`);
    });
}

function namesOf(text: string): string[] {
  return text
    .split(',')
    .map((name) => name.trim())
    .filter(Boolean);
}

function tripsAt(path: string, wish: FeedWish): FeedTrips {
  try {
    return tripsOfFeed(filesAt(path), wish);
  } catch (error) {
    if (error instanceof MapProblem) throw new UsageError(`${path}: ${error.message} ${error.hint}`);
    throw error;
  }
}

function filesAt(path: string): ReadonlyMap<string, string> {
  if (!statSync(path, { throwIfNoEntry: false })?.isDirectory()) return feedOfZip(readBytes(path));
  return new Map(
    readdirSync(path)
      .filter((name) => isFeedFile(name))
      .map((name) => [name, readText(join(path, name))]),
  );
}

function toldOf({ date, isOfWeek, trips, stops, routes, leftOut }: FeedTrips): string {
  const named = `${routes.slice(0, 8).join(', ')}${routes.length > 8 ? ' ...' : ''}`;
  return [
    `${counted(trips, 'trip')} of ${isOfWeek ? 'the week of ' : ''}${date} at ${counted(stops, 'stop')}, on ${counted(routes.length, 'route')}: ${named}.`,
    ...(leftOut > 0 ? [`${counted(leftOut, 'trip')} left out: without two stops that have a place and a time.`] : []),
  ].join('\n');
}
