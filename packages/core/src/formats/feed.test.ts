import { strToU8, zipSync } from 'fflate';
import { describe, expect, it } from 'vitest';
import { feedOfZip, tripsOfFeed } from './feed.ts';

/** A feed of two piers and a mill, made up. */
const FEED: Readonly<Record<string, string>> = {
  'stops.txt': `\uFEFFstop_id,stop_name,stop_lat,stop_lon
p1,"Mill, east",0.001,0.002
p2,Green,0.003,0.004
p3,Parade,0.005,0.006
p4,Nowhere,,
`,
  'routes.txt': 'route_id,route_short_name,route_long_name\nr1,1,Ferries\nr2,,Night carts\n',
  'trips.txt': `route_id,service_id,trip_id
r1,week,a
r1,week,b
r2,week,n
r1,sunday,s
r1,week,short
r1,week,often
`,
  'stop_times.txt': `trip_id,arrival_time,departure_time,stop_id,stop_sequence
a,07:10:00,07:10:00,p3,20
a,07:00:00,07:01:00,p1,3
a,,,p2,10
b,8:00:00,,p1,1
b,8:05:30,8:06:00,p2,2
b,8:07:00,8:07:00,p4,3
n,24:10:00,24:10:00,p1,1
n,25:20:00,25:20:00,p2,2
s,10:00:00,10:00:00,p1,1
s,10:05:00,10:05:00,p2,2
short,10:00:00,10:00:00,p1,1
short,10:05:00,10:05:00,p4,2
often,06:00:00,06:00:00,p1,1
often,06:04:00,06:05:00,p2,2
`,
  'calendar.txt': `service_id,monday,tuesday,wednesday,thursday,friday,saturday,sunday,start_date,end_date
week,1,1,1,1,1,0,0,20310512,20310530
sunday,0,0,0,0,0,0,1,20310512,20310530
`,
  'calendar_dates.txt': 'service_id,date,exception_type\nweek,20310512,2\nsunday,20310514,1\n',
  'frequencies.txt': 'trip_id,start_time,end_time,headway_secs\noften,09:00:00,09:30:00,600\n',
};

const feed = (changes: Readonly<Record<string, string | undefined>> = {}): ReadonlyMap<string, string> =>
  new Map(
    Object.entries({ ...FEED, ...changes }).flatMap(([name, text]) => (text === undefined ? [] : [[name, text]])),
  );

const rowsOf = (trip: string, table: string): string[] =>
  table.split('\n').flatMap((line) => (line.startsWith(`${trip},`) ? [line.slice(trip.length + 1)] : []));

describe('a transit feed', () => {
  it('gives the trips of the first of the days on which most run', () => {
    const found = tripsOfFeed(feed());
    // Monday the 12th is left out; on Wednesday the 14th the Sunday trip runs too.
    expect(found).toMatchObject({ date: '2031-05-14', trips: 7, stops: 3, leftOut: 1, routes: ['1', 'Night carts'] });
    expect(found.table.split('\n')[0]).toBe('trip,route,stop,lon,lat,arrives,leaves');
  });

  it('gives the trips of a week with the days on which each runs', () => {
    // Of the weeks the first in which most trips run.
    expect(tripsOfFeed(feed(), { week: true })).toMatchObject({ date: '2031-05-19', trips: 7 });
    const found = tripsOfFeed(feed(), { week: true, date: '2031-05-14' });
    // The week from Monday the 12th, which is left out, to Sunday the 18th; the Sunday trip runs on Wednesday too.
    expect(found).toMatchObject({ date: '2031-05-14', trips: 7 });
    expect(found.table.split('\n')[0]).toBe('trip,route,stop,lon,lat,arrives,leaves,days');
    expect(rowsOf('a', found.table)[0]).toMatch(/07:00:00,07:01:00,tue wed thu fri$/);
    expect(rowsOf('s', found.table)[0]).toMatch(/,wed sun$/);
    expect(tripsOfFeed(feed(), { week: true, date: '2031-05-24' }).table).toContain(',mon tue wed thu fri');
    expect(() => tripsOfFeed(feed(), { week: true, date: '2032-05-24' })).toThrow(
      'No trip of this feed runs in the week of',
    );
  });

  it('puts stops in their order, and times that are left out between those that stand', () => {
    const { table } = tripsOfFeed(feed(), { date: '2031-05-13' });
    expect(rowsOf('a', table)).toEqual([
      '1,"Mill, east",0.002,0.001,07:00:00,07:01:00',
      '1,Green,0.004,0.003,07:05:30,07:05:30',
      '1,Parade,0.006,0.005,07:10:00,07:10:00',
    ]);
    expect(rowsOf('b', table)).toEqual([
      '1,"Mill, east",0.002,0.001,08:00:00,08:00:00',
      '1,Green,0.004,0.003,08:05:30,08:06:00',
    ]);
    expect(rowsOf('n', table)[1]).toBe('Night carts,Green,0.004,0.003,25:20:00,25:20:00');
    expect(rowsOf('s', table)).toEqual([]);
  });

  it('runs a trip again and again where it has a headway', () => {
    const { table } = tripsOfFeed(feed());
    expect(table.match(/^often [^,]*/gm)).toEqual(
      ['09:00:00', '09:10:00', '09:20:00'].flatMap((time) => [`often ${time}`, `often ${time}`]),
    );
    expect(rowsOf('often 09:10:00', table)[1]).toBe('1,Green,0.004,0.003,09:14:00,09:15:00');
  });

  it('gives some routes only, by name or id', () => {
    expect(tripsOfFeed(feed(), { routes: ['r2'] })).toMatchObject({ trips: 1, routes: ['Night carts'] });
    expect(tripsOfFeed(feed(), { routes: ['1'], date: '2031-05-18' })).toMatchObject({ trips: 1, routes: ['1'] });
  });

  it('is read from a zip, also where its tables lie in a folder', () => {
    const files = Object.fromEntries(Object.entries(FEED).map(([name, text]) => [`feed/${name}`, strToU8(text)]));
    const zipped = zipSync({ ...files, 'feed/shapes.txt': strToU8('shape_id\n') });
    expect(tripsOfFeed(feedOfZip(zipped))).toEqual(tripsOfFeed(feed()));
    expect(() => feedOfZip(zipped.slice(0, 90))).toThrow(/no zip that can be read/);
    expect(() => tripsOfFeed(feedOfZip(zipSync({ 'a.txt': strToU8('a') })))).toThrow(/no stops\.txt/);
  });

  it.each([
    ['a table is missing', { 'stop_times.txt': undefined }, {}, /no stop_times\.txt/],
    ['a column is missing', { 'trips.txt': 'route_id,trip_id\n' }, {}, /trips\.txt has no column “service_id”/],
    [
      'a cell is not closed',
      { 'routes.txt': 'route_id,route_short_name\nr1,1\nr2,"2\nr3,3\n' },
      {},
      /routes\.txt has a cell whose quotation marks do not fit, in row 3,/,
    ],
    ['a route is unknown', {}, { routes: ['7'] }, /no route “7”/],
    ['a day is none', {}, { date: '2031-02-30' }, /“2031-02-30” is no date/],
    ['nothing runs on a day', {}, { date: '2031-05-17' }, /No trip of this feed runs on 2031-05-17/],
    ['no day is named', { 'calendar.txt': undefined, 'calendar_dates.txt': undefined }, {}, /says of no day/],
  ])('says that %s', (_, changes, wish, message) => {
    expect(() => tripsOfFeed(feed(changes), wish)).toThrow(message);
  });
});
