import { describe, expect, it } from 'vitest';
import { checkModel } from '../src/language/checker.ts';
import { Journeys } from '../src/maps/journeys.ts';
import type { LineOfRun, Walker } from '../src/maps/journeys.ts';
import { lanesOf } from '../src/maps/lanes.ts';
import { laneOf } from './map-models.ts';
import { planOf, rowsInBoth } from './models.ts';

/** Vehicles that run by a timetable, and journeys with them, on a lane of 1000 m that can be followed by hand; the map has 30 m of room around it. */

const LANE = laneOf(100);
const CLOCK = 'clock\n  step 1 minute\n  end after 60 steps\n';

const table = (...rows: string[]): string => `data "ferries.csv"\n${rows.map((row) => `  ${row}\n`).join('')}`;

const TRIPS = table(
  'trip,stop,arrives,leaves',
  'early,m100,0:02,0:04',
  'early,m500,0:06,0:07:30',
  'late,m900,0:20,0:20',
  'early,m900,0:09:30,',
  'late,m100,0:24,',
);

const FERRIES = 'agent Ferry\n  seats 2\nline Ferries by Ferry\n  timetable from "ferries.csv"\n';

function rowsOf(parts: string, steps: number, clock = CLOCK): number[][] {
  const rows = rowsInBoth(`model Case\n${clock}${LANE}\n${parts}\n`, steps);
  return rows.map((row) => row.map((value) => Math.round(value * 1e6) / 1e6));
}

const ALONG = 'measure along = (sum of (it.x - 30 m) over Ferry) / 1 m\nmeasure ferries = count Ferry\n';

describe('vehicles with a timetable', () => {
  it('appear when their trip begins, are at each stop in time, and are gone after the last', () => {
    const [along, count] = rowsOf(`${TRIPS}${FERRIES}order\n  Ferries in turn\n${ALONG}`, 30);
    // Rows are taken at the ends of steps: row t is what is at minute t.
    expect(along!.slice(0, 13)).toEqual([0, 0, 100, 100, 100, 300, 500, 500, 600, 800, 900, 0, 0]);
    expect(along!.slice(20, 27)).toEqual([900, 700, 500, 300, 100, 0, 0]);
    expect(count!.slice(0, 13)).toEqual([0, 0, 1, 1, 1, 1, 1, 1, 1, 1, 1, 0, 0]);
  });

  it('run on every day, also those that begin before midnight or after it', () => {
    const [days] = rowsOf(
      `${table('trip,stop,leaves', 'a,m0,23:50', 'a,m500,24:10', 'b,m0,25:00', 'b,m500,25:20')}${FERRIES}order\n  Ferries in turn\nmeasure ferries = count Ferry\n`,
      432,
      'clock\n  step 10 minutes\n  end after 3 days\n',
    );
    const seen = days!.flatMap((value, step) => (value > 0 ? [step * 10] : []));
    expect(seen).toEqual([
      ...[60, 70, 80],
      ...[1430, 1440, 1450],
      ...[1500, 1510, 1520],
      ...[2870, 2880, 2890],
      ...[2940, 2950, 2960],
      ...[4310, 4320],
    ]);
  });

  it('run on the days of the week that their table names, from the first day on', () => {
    const trips = table(
      'trip,stop,leaves,days',
      'work,m0,8:00,Mon-Fri',
      'work,m500,8:20,',
      'fair,m0,12:00,Sat Wed',
      'fair,m500,12:20',
      'night,m0,25:00,friday',
      'night,m500,25:20',
      'all,m0,20:00,daily',
      'all,m500,20:20',
    );
    // 2031-05-15 is a Thursday.
    const [ferries] = rowsOf(
      `${trips}${FERRIES}order\n  Ferries in turn\nmeasure ferries = count Ferry\n`,
      48 * 14,
      'clock\n  step 30 minutes from 2031-05-15\n  end after 14 days\n',
    );
    const at = (days: readonly number[], hour: number): number[] => days.map((day) => day * 24 + hour);
    const hours = [
      ...at([0, 1, 4, 5, 6, 7, 8, 11, 12, 13], 8),
      ...at([2, 6, 9, 13], 12),
      ...at([2, 9], 1),
      ...at([...Array(14).keys()], 20),
    ];
    // Each is there at two rows, and sets out at the first.
    const seen = ferries!.flatMap((value, step) => (value > 0 && ferries![step - 1] === 0 ? [step / 2] : []));
    expect(seen).toEqual(hours.sort((a, b) => a - b));
  });

  it('are taken on the days on which they run, and not waited for on others', () => {
    const trips = table('trip,stop,leaves,days', 'a,m0,8:00,Sat', 'a,m900,8:30,Sat');
    const [there] = rowsOf(
      `${trips}${FERRIES}agent Vole
  start 1 at (30 m, 0 m)
  has took = 0 minutes
  behaviour look
    took = time to place named "m900" at 1 km per hour or by Ferries
order
  look in turn
  Ferries in turn
measure took in minutes = max of it.took over Vole
`,
      96 * 4,
      'clock\n  step 15 minutes from 2031-05-15\n  end after 4 days\n',
    );
    // On foot 54 minutes; with the trip of Saturday 30 minutes, from a quarter to eight on 45.
    const quicker = there!.flatMap((took, row) => (row === 0 || took === 54 ? [] : [[row, took]]));
    const eight = (2 * 24 + 8) * 4;
    expect(quicker).toEqual([
      [eight, 45],
      [eight + 1, 30],
    ]);
  });

  it('are refused where the days are no days, or the clock knows of none', () => {
    const of = (days: string, clock = 'clock\n  step 1 minute from 2031-05-16\n  end after 60 steps\n'): string[] =>
      checkModel(
        `model Case\n${clock}${LANE}\n${table('trip,stop,leaves,days', `a,m0,8:00,${days}`, `a,m500,8:20,${days}`)}${FERRIES}order\n  Ferries in turn\n`,
        new Map(),
      ).diagnostics.flatMap(({ severity, code, message }) => (severity === 'error' ? [`${code} ${message}`] : []));
    expect(of('Sat Sun')).toEqual([]);
    expect(of('Fri-Mon')).toEqual([]);
    expect(of('Someday')[0]).toMatch(/^file\/.*names no days/);
    expect(of('Mo')[0]).toMatch(/names no days/);
    expect(of('Mon--Fri')[0]).toMatch(/names no days/);
    expect(of('Sat', CLOCK)[0]).toMatch(/^vehicle\/line Trips of this timetable run on some days/);
  });

  it('make up for time that a step took from them', () => {
    const [along] = rowsOf(
      `${table('trip,stop,leaves', 'a,m0,0:01', 'a,m100,0:01:20', 'a,m500,0:05')}${FERRIES}order\n  Ferries in turn\n${ALONG}`,
      8,
    );
    expect(along!.slice(0, 7)).toEqual(
      [0, 0, 100, 100 + 400 / 3, 100 + 800 / 3, 500, 0].map((at) => Math.round(at * 1e6) / 1e6),
    );
  });
});

describe('journeys by a timetable', () => {
  const VOLE = (start: string, pace: string): string => `agent Vole
  start 3 at place named "${start}"
  has expected = 0 minutes
  states s
    Out
      on arrival: There
    There
  behaviour go when s is Out
    expected = time to place named "m1000" at ${pace} or by Ferries
    travel to place named "m1000" at ${pace} or by Ferries
`;
  const MEASURES = `order
  Ferries in turn
  go in turn
  s in turn
measure expected = (max of it.expected over Vole) / 1 minute
measure waits = count Vole where it.waiting
measure rides = count Vole where it.vehicle is not nobody
measure there = count Vole where it.s is There
`;

  it('walk to the stop, wait for the trip, ride, and walk on', () => {
    const [expected, waits, rides, there] = rowsOf(`${TRIPS}${FERRIES}${VOLE('m0', '50 m per minute')}${MEASURES}`, 30);
    // 2 minutes to the stop, there at 0:09:30, 2 minutes on foot.
    expect(expected![1]).toBe(11.5);
    expect(waits!.slice(0, 7)).toEqual([0, 0, 1, 1, 1, 1, 0]);
    expect(rides!.slice(1, 12)).toEqual([0, 2, 2, 2, 2, 2, 2, 2, 2, 0, 0]);
    expect(there!.findIndex((value) => value === 2)).toBe(12);
    // The third found no seat, and walks.
    expect(there!.findIndex((value) => value === 3)).toBe(23);
  });

  it('are on foot where no trip is in time', () => {
    const [expected, waits, rides, there] = rowsOf(`${TRIPS}${FERRIES}${VOLE('m0', '20 m per minute')}${MEASURES}`, 55);
    expect(expected![1]).toBe(50);
    expect(Math.max(...waits!, ...rides!)).toBe(0);
    expect(there!.at(-1)).toBe(3);
  });

  /** Earliest arrivals by a search forward in time, over places at which trips stop and lines that run every so often. */
  function earliest(
    lines: readonly LineOfRun[],
    terms: readonly number[],
    from: number,
    goal: number,
    start: number,
    pace: number,
    day: number,
  ): number {
    const foot = (a: number, b: number): number => Math.abs(a - b) / pace;
    const stops = lines.flatMap((line) => [...line.x]);
    const places = [from, goal, ...stops];
    const at = places.map((_, i) => (i === 0 ? start : Infinity));
    const reach = (i: number, time: number): boolean => {
      if (!(time < at[i]! - 1e-9)) return false;
      at[i] = time;
      return true;
    };
    const placesAt = (x: number): number[] => places.flatMap((place, i) => (place === x ? [i] : []));
    for (let changes = true; changes;) {
      changes = false;
      places.forEach((a, i) => places.forEach((b, j) => (changes = reach(j, at[i]! + foot(a, b)) || changes)));
      lines.forEach(({ x, trip }, l) => {
        for (let i = 0; i < x.length - 1; i++) {
          const here = Math.min(...placesAt(x[i]!).map((p) => at[p]!));
          if (trip)
            for (let d = -1; d < 5; d++) {
              if (trip.leaves[i]! + d * day < here - 1e-9) continue;
              for (let j = i + 1; j < x.length; j++)
                for (const p of placesAt(x[j]!)) changes = reach(p, trip.arrives[j]! + d * day) || changes;
            }
          else {
            const [headway, speed, stay] = terms.slice(3 * l, 3 * l + 3) as [number, number, number];
            let time = here + headway / 2;
            for (let j = i + 1; j < x.length; j++) {
              time += Math.abs(x[j]! - x[j - 1]!) / speed + (j > i + 1 ? stay : 0);
              for (const p of placesAt(x[j]!)) changes = reach(p, time) || changes;
            }
          }
        }
      });
    }
    return at[1]!;
  }

  it('are expected to take what a search forward in time finds, with lines of both sorts', () => {
    const { spaces } = planOf(`model Case\n${CLOCK}${LANE}\nagent Vole\n  start 1 anywhere\nmeasure n = count Vole\n`);
    const lanes = lanesOf(spaces[0]!.lanes!);
    let seed = 12345;
    const draw = (most: number): number => (seed = (seed * 1103515245 + 12345) % 2147483648) % most;
    const day = 200;
    let ridden = 0;
    for (let round = 0; round < 150; round++) {
      const place = (): number => 30 + 10 * draw(101);
      const headways = Array.from({ length: draw(3) }, (): LineOfRun => {
        const x = Float64Array.from({ length: 2 + draw(3) }, place);
        return { x, y: x.map(() => 30), ways: '' };
      });
      const trips = Array.from({ length: 1 + draw(6) }, (): LineOfRun => {
        const x = Float64Array.from({ length: 2 + draw(4) }, place);
        let time = draw(day);
        const times = [...x].map(() => [(time += 1 + draw(20)), (time += draw(4))] as const);
        const [arrives, leaves] = [0, 1].map((which) => Float64Array.from(times, (pair) => pair[which]!));
        return { x, y: x.map(() => 30), ways: '', trip: { arrives: arrives!, leaves: leaves!, trips: 1 } };
      });
      const lines = [...headways, ...trips];
      const terms = headways.flatMap(() => [2 + draw(30), 20 + draw(80), draw(3)]);
      const walker: Walker = {
        pace: 4 + draw(20),
        quickest: false,
        ways: '',
        lines: headways.map((_, i) => i),
        trips: [[headways.length, lines.length]],
      };
      const journeys = new Journeys(lanes, lines, day);
      for (let ask = 0; ask < 6; ask++) {
        const [from, goal, now] = [place(), place(), draw(500)];
        const found = journeys.ask('time', from, 30, now, goal, 30, walker, terms);
        const wanted = earliest(lines, terms, from, goal, now, walker.pace, day) - now;
        expect(Math.abs(found - wanted), `round ${round}: ${found} for ${wanted}`).toBeLessThan(1e-6);
        const legs = journeys.legs(from, 30, now, goal, 30, walker, terms);
        const told = legs.reduce((sum, leg) => sum + leg.time + (leg.is === 'ride' ? leg.wait : 0), 0);
        expect(Math.abs(told - found), `round ${round}: ${JSON.stringify(legs)} for ${found}`).toBeLessThan(1e-6);
        if (legs.length > 0) expect(legs.at(-1)).toMatchObject({ x: goal, y: 30 });
        if (journeys.ask('rides', from, 30, now, goal, 30, walker, terms) > 0) ridden++;
      }
    }
    expect(ridden).toBeGreaterThan(100);
  });

  it('go on in a vehicle as long as that is as quick as what a timetable offers beside', () => {
    const trips = table(
      'trip,stop,leaves',
      ...['a,m0,0:02', 'a,m500,0:07', 'a,m1000,0:20'],
      ...['b,m500,0:10', 'b,m1000,0:13'],
      ...['c,m500,0:08', 'c,m1000,0:30'],
    );
    const [, , rides, there] = rowsOf(`${trips}${FERRIES}${VOLE('m0', '10 m per minute')}${MEASURES}`, 40);
    // Two of three find seats; they change at m500 and arrive with b.
    expect(rides!.slice(0, 14)).toEqual([0, 0, 2, 2, 2, 2, 2, 0, 0, 0, 2, 2, 2, 0]);
    expect(there!.findIndex((value) => value === 2)).toBe(13);
  });
});

describe('a run that begins in the middle of a day', () => {
  const at = (hours: number, rows: readonly string[]): string =>
    table(...rows.map((row) => row.replace(/\b0:/g, `${hours}:`)));
  const TRIP = [
    'trip,stop,arrives,leaves',
    'a,m100,0:00,0:04',
    'a,m500,0:06,0:07',
    'a,m900,0:10,',
    'b,m100,0:20,0:20',
    'b,m900,0:24,',
  ];

  it('has the trips from then on, at the times of their day, those that begin with it among them', () => {
    const [first, ...rest] = TRIP;
    const parts = `${FERRIES}order\n  Ferries in turn\n${ALONG}`;
    const clock = (from: string): string => `clock\n  step 1 minute from 2031-05-05${from}\n  end after 60 steps\n`;
    const wanted = rowsOf(`${at(0, TRIP)}${parts}`, 40, clock(''));
    expect(wanted[1]!.slice(0, 3)).toEqual([0, 1, 1]);
    expect(rowsOf(`${at(7, TRIP)}${parts}`, 40, clock(' 07:00'))).toEqual(wanted);
    // One that set out before is not there, the others are.
    const later = rowsOf(`${at(7, [first!, ...rest])}${parts}`, 30, clock(' 07:10'));
    expect(later[1]!.slice(0, 16)).toEqual([0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 1, 1, 1, 1, 1, 0]);
  });

  it('has the hours, the days and the dates of tables from then on', () => {
    const parts = `data "rain.csv"
  date,rain
  2031-05-05,1
  2031-05-06,2
variable rain from "rain.csv"
variable bell = 0
agent Vole
  start 1 anywhere
timeline
  at 07:30: bell = 1
  every day at 06:00: bell = 2
  every tuesday at 00:00: bell = 3
measure bells = bell
measure rained = rain
measure hours = hour
`;
    const clock = 'clock\n  step 30 minutes from 2031-05-05 06:00\n  end after 30 h\n';
    const [bell, rain, hour] = rowsOf(parts, 50, clock);
    // A row tells what holds at the end of its step: that of 07:30 to 08:00 is the fourth.
    expect(bell!.slice(0, 6)).toEqual([0, 2, 2, 2, 1, 1]);
    expect(bell!.findIndex((value) => value === 3)).toBe(37);
    expect(bell![49]).toBe(2);
    expect(rain!.slice(35, 38)).toEqual([1, 1, 2]);
    expect([hour![0], hour![3], hour![36]]).toEqual([6, 7.5, 0]);
  });

  it('expects of journeys what one does that began at midnight', () => {
    const { spaces } = planOf(`model Case\n${CLOCK}${LANE}\nagent Vole\n  start 1 anywhere\nmeasure n = count Vole\n`);
    const lanes = lanesOf(spaces[0]!.lanes!);
    const lines: LineOfRun[] = ['2:00', '8:00', '23:50'].map((time) => {
      const [hours, minutes] = time.split(':').map(Number) as [number, number];
      const leaves = hours * 60 + minutes;
      const times = Float64Array.from([leaves, leaves + 9]);
      return {
        x: Float64Array.from([40, 900]),
        y: Float64Array.from([30, 30]),
        ways: '',
        trip: { arrives: times, leaves: times, trips: 3 },
      };
    });
    const walker: Walker = { pace: 5, quickest: false, ways: '', lines: [], trips: [[0, 3]] };
    const [whole, begun] = [new Journeys(lanes, lines, 1440), new Journeys(lanes, lines, 1440, 450)];
    let rides = 0;
    for (let now = 450; now < 3000; now += 37) {
      const ask = (journeys: Journeys, time: number): unknown => [
        journeys.ask('time', 35, 30, time, 950, 30, walker, []),
        journeys.ask('rides', 35, 30, time, 950, 30, walker, []),
        journeys.legs(35, 30, time, 950, 30, walker, []).map((leg) => [leg.is, leg.x, leg.time.toFixed(6)]),
        journeys.rideTime(1, 0, time + 3, time, time, 950, 30, walker, []),
      ];
      const wanted = ask(whole, now) as number[];
      expect(ask(begun, now - 450)).toEqual(wanted);
      rides += wanted[1]!;
    }
    expect(rides).toBeGreaterThan(15);
  });
});

describe('timetables that cannot be', () => {
  const findings = (rows: string, line = FERRIES): ReturnType<typeof checkModel>['diagnostics'] =>
    checkModel(`model B\n${CLOCK}${LANE}\n${rows}${line}order\n  Ferries in turn\nmeasure n = count Ferry\n`)
      .diagnostics;

  it.each([
    ['without trips', table('stop,leaves', 'm0,0:01', 'm100,0:02'), /column “trip” is needed/],
    ['without times', table('trip,stop', 'a,m0', 'a,m100'), /column “arrives” or “leaves” is needed/],
    ['without places', table('trip,leaves', 'a,0:01', 'a,0:02'), /columns x and y/],
    ['with rows of no trip', table('trip,stop,leaves', 'a,m0,0:01', ',m100,0:02'), /line 3: the trip has no name/],
    ['with a time that is none', table('trip,stop,leaves', 'a,m0,0:01', 'a,m100,0:72'), /line 3: “0:72” is no time/],
    ['with a time that is far', table('trip,stop,leaves', 'a,m0,0:01', 'a,m100,48:00'), /“48:00” is no time/],
    ['with a time that is missing', table('trip,stop,leaves', 'a,m0,0:01', 'a,m100,'), /line 3: a time is missing/],
    ['that go back', table('trip,stop,leaves', 'a,m0,0:05', 'a,m100,0:02'), /line 3: trip “a” arrives before/],
    ['that leave too soon', table('trip,stop,arrives,leaves', 'a,m0,0:05,0:04'), /line 2: it leaves before it arrives/],
    ['of one stop', table('trip,stop,leaves', 'a,m0,0:05'), /line 2: trip “a” has one stop/],
    ['of another line', table('line,trip,stop,leaves', 'Carts,a,m0,0:05'), /no trip of this line/],
    ['at a place that is not there', table('trip,stop,leaves', 'a,m0,0:05', 'a,m7,0:09'), /no place “m7”/],
  ])('%s', (_, rows, message) => {
    const found = findings(rows).filter(({ severity }) => severity === 'error');
    expect(found.map(({ code }) => code)).toEqual(['file/content']);
    expect(found[0]!.message).toMatch(message);
  });

  it('say what a line with a timetable does not need', () => {
    const more = `${FERRIES}  stops place named "m0", place named "m100"\n  every 5 minutes\n  at 9 m per minute\n  dwell 1 minute\n`;
    const found = findings(TRIPS, more).filter(({ severity }) => severity === 'error');
    expect(found.map(({ code }) => code)).toEqual(Array(4).fill('vehicle/line'));
    expect(findings(TRIPS, FERRIES.replace('by Ferry', 'by Ferry, both ways')).map(({ code }) => code)).toContain(
      'vehicle/line',
    );
  });

  it('doubt stops that follow within a step, and refuse a clock without time', () => {
    const close = findings(table('trip,stop,leaves', 'a,m0,0:05', 'a,m100,0:05:30'));
    expect(close.filter(({ code }) => code === 'doubt/period').map(({ message }) => message)[0]).toMatch(/trip “a”/);
    const { diagnostics } = checkModel(
      `model B\nclock\n  end after 9 steps\n${LANE}\n${TRIPS}${FERRIES}order\n  Ferries in turn\nmeasure n = count Ferry\n`,
    );
    expect(diagnostics.find(({ code }) => code === 'vehicle/line')?.message).toMatch(/no unit of time/);
  });
});
