import { describe, expect, it } from 'vitest';
import { checkModel } from '../src/language/checker.ts';
import { loadModel } from '../src/load.ts';
import { Journeys } from '../src/maps/journeys.ts';
import { lanesOf } from '../src/maps/lanes.ts';
import { carryOver } from '../src/runs/carry-over.ts';
import { compilePlan, formatModel } from '../src/index.ts';
import type { GeneratedRun } from '../src/index.ts';
import { compiledRun, planOf, rowsInBoth } from './models.ts';
import { laneOf } from './map-models.ts';

/** Vehicles that run on lines, and journeys with them, on a lane of 1000 m that can be followed by hand. */

const CLOCK = 'clock\n  step 1 minute\n  end after 60 steps\n';

/** One lane from west to east, with names every 100 m: `m0` to `m1000`. */
const LANE = laneOf(100);

const FERRIES = `agent Ferry
  seats 2
line Ferries by Ferry
  stops place named "m100", place named "m500", place named "m900"
  every 6 minutes
  at 200 m per minute
  dwell 1 minute
`;

/** Rows of measures by step, in both engines; the map has 30 m of room around it. */
function rowsOf(parts: string, steps: number): number[][] {
  const rows = rowsInBoth(`model Case\n${CLOCK}${LANE}\n${parts}\n`, steps);
  return rows.map((row) => row.map((value) => Math.round(value * 1e6) / 1e6));
}

describe('vehicles of a line', () => {
  const along = 'measure along = (sum of (it.x - 30 m) over Ferry) / 1 m\nmeasure ferries = count Ferry\n';

  it('set out every headway, run from stop to stop, stand at each, and are gone after the last', () => {
    const [places, count] = rowsOf(`${FERRIES}order\n  Ferries in turn\n${along}`, 18);
    // The first is there in step 7, stands for a minute, takes two to the next stop, and stands again.
    expect(places!.slice(0, 14)).toEqual([0, 0, 0, 0, 0, 0, 0, 100, 300, 500, 500, 700, 900, 1000]);
    expect(count!.slice(6, 16)).toEqual([0, 1, 1, 1, 1, 1, 1, 2, 1, 1]);
  });

  it('run from either end, on a line that runs both ways', () => {
    const [places, count] = rowsOf(
      `${FERRIES.replace('by Ferry\n', 'by Ferry, both ways\n')}order\n  Ferries in turn\n${along}`,
      12,
    );
    expect(places!.slice(6)).toEqual([0, 1000, 1000, 1000, 1000, 1000, 1000]);
    expect(count!.slice(6)).toEqual([0, 2, 2, 2, 2, 2, 2]);
  });

  it.each([
    ['x,y', '130,30', '530,30', '930,30'],
    ['name', 'm100', 'M500 ', 'm900'],
    ['line,stop', 'Carts,m0\n  ferries,m100', 'Ferries,m500', 'FERRIES,m900'],
  ])('take their stops from a table, with columns %s', (head, ...rows) => {
    const table = `data "piers.csv"\n  ${head}\n${rows.map((row) => `  ${row}\n`).join('')}`;
    const [places] = rowsOf(
      `${table}${FERRIES.replace(/stops .*/, 'stops from "piers.csv"')}order\n  Ferries in turn\n${along}`,
      13,
    );
    expect(places).toEqual([0, 0, 0, 0, 0, 0, 0, 100, 300, 500, 500, 700, 900, 1000]);
  });

  it('are at each stop to the end of the step at least, however short they stay', () => {
    const [places] = rowsOf(
      `${FERRIES.replace('dwell 1 minute', 'dwell 1 s').replace('200 m per', '350 m per')}order\n  Ferries in turn\n${along}`,
      11,
    );
    expect(places!.slice(7)).toEqual([100, 450, 500, 850, 900]);
  });

  it('are heard of by their machines, set all down at the end, and take up a headway that changes', () => {
    const [called, count] = rowsOf(
      `${FERRIES.replace('every 6 minutes', 'every headway').replace('  seats 2\n', '  seats 2\n  states s\n    On\n      on arrival: On\n        add 1 to calls\n')}parameter headway = 30 minutes, from 1 to 60
tally calls, kept
agent Vole
  start 2 at place named "m100"
  behaviour ride when x < 200 m
    board first Ferry within 1 m
order
  Ferries in turn
  s in turn
  ride in turn
timeline
  at 3 minutes: headway = 5 minutes
measure called = count calls
measure aboard = count Vole where it.vehicle is not nobody`,
      12,
    );
    expect(called!.at(-1)).toBe(2);
    expect(count!.slice(5)).toEqual([0, 2, 2, 2, 2, 2, 0, 0]);
  });
});

describe('journeys with lines', () => {
  const VOLE = `agent Vole
  start 3 at place named "m0"
  has expected = 0 minutes
  states s
    Out
      on arrival: There
    There
  behaviour go when s is Out
    expected = time to place named "m1000" at 50 m per minute or by Ferries
    travel to place named "m1000" at 50 m per minute or by Ferries
`;
  const ORDER = 'order\n  Ferries in turn\n  go in turn\n  s in turn\n';

  it('walk to a stop, wait, take a vehicle with a seat, alight, and walk on', () => {
    const [waiting, riding, there, expected] = rowsOf(
      `${FERRIES}${VOLE}${ORDER}measure waits = count Vole where it.waiting
measure rides = count Vole where it.vehicle is not nobody
measure there = count Vole where it.s is There
measure expected = (max of it.expected over Vole) / 1 minute`,
      22,
    );
    // 2 minutes to the stop, at the most 3 of waiting, 2 and 1 and 2 aboard, 2 on foot.
    expect(expected![1]).toBe(12);
    expect(waiting!.slice(0, 9)).toEqual([0, 0, 3, 3, 3, 3, 3, 1, 1]);
    expect(riding!.slice(6, 15)).toEqual([0, 2, 2, 2, 2, 2, 0, 1, 1]);
    expect(there!.slice(12, 16)).toEqual([0, 0, 2, 2]);
    expect(there!.at(-1)).toBe(3);
  });

  it('are waited for no longer once another vehicle has taken one on', () => {
    const [waits, riding] = rowsOf(
      `${FERRIES.replace('every 6 minutes', 'every 20 minutes')}agent Cart
  start 1 at place named "m100"
  seats 3
  behaviour pick_up when now >= 5 minutes
    repeat at most 3 times
      take on first Vole within 1 m where it.waiting
${VOLE.replaceAll('50 m per minute', '20 m per minute').replace('when s is Out', 'when s is Out and not any Cart carrying self')}order
  Ferries in turn
  go in turn
  s in turn
  pick_up in turn
measure waits = count Vole where it.waiting
measure riding = count Vole where any Cart carrying it`,
      8,
    );
    expect(waits!.slice(4)).toEqual([0, 3, 0, 0, 0]);
    expect(riding!.slice(4)).toEqual([0, 0, 3, 3, 3]);
  });

  it('go on foot where that is quicker, and where nothing runs', () => {
    const [slow, riding] = rowsOf(
      `${FERRIES.replace('every 6 minutes', 'every 60 minutes')}${VOLE}${ORDER}measure along = (mean of it.x over Vole) / 1 m - 30\nmeasure rides = count Vole where it.vehicle is not nobody`,
      20,
    );
    expect(slow!.slice(0, 5)).toEqual([0, 50, 100, 150, 200]);
    expect(slow!.at(-1)).toBe(1000);
    expect(Math.max(...riding!)).toBe(0);
  });

  it('take what comes first to a stop, if it is quicker than to wait on', () => {
    const [ferry, cart] = rowsOf(
      `${FERRIES}agent Cart
  seats 9
line Carts by Cart
  stops place named "m100", place named "m900"
  every 3 minutes
  at 60 m per minute
${VOLE.replaceAll('or by Ferries', 'or by Ferries, Carts')}order
  Ferries in turn
  Carts in turn
  go in turn
  s in turn
measure ferry = count Vole where any Ferry carrying it
measure cart = count Vole where any Cart carrying it`,
      9,
    );
    // The cart comes first but takes 13 minutes: they wait for the ferry.
    expect(cart!.slice(0, 9)).toEqual(new Array(9).fill(0));
    expect(ferry!.slice(7, 9)).toEqual([2, 2]);
  });

  it.each([
    ['every 6 minutes', 'every 0 minutes'],
    ['every 6 minutes', 'every (0 - 6) * 1 minute'],
    ['at 200 m per minute', 'at 0 m per minute'],
    ['at 200 m per minute', 'at (0 - 200) * 1 m per minute'],
  ])('are made on foot where a line does not run: %s becomes %s', (said, becomes) => {
    const [along, riding] = rowsOf(
      `${FERRIES.replace(said, becomes)}${VOLE}${ORDER}measure along = (mean of it.x over Vole) / 1 m - 30\nmeasure rides = count Vole where it.vehicle is not nobody or it.waiting`,
      21,
    );
    expect(along!.at(-1)).toBe(1000);
    expect(Math.max(...riding!)).toBe(0);
  });

  it.each(['', ' by the quickest way'])('lead nobody anywhere who does not go%s', (way) => {
    for (const pace of ['0 m per minute', '(0 - 5) * 1 m per minute']) {
      const [along] = rowsOf(
        `${FERRIES}agent Vole\n  start 3 at place named "m300"\n  behaviour go\n    travel to place named "m1000" at ${pace}${way} or by Ferries\n    travel to place named "m0" at ${pace}${way}\norder\n  Ferries in turn\n  go in turn\nmeasure along = (mean of it.x over Vole) / 1 m - 30`,
        9,
      );
      expect(along).toEqual(new Array(10).fill(300));
    }
  });

  /** An own search over places, on foot and aboard, edge by edge until nothing gets better. */
  it('are expected to take the least time that any chain of walks, waits and rides takes', () => {
    const plan = planOf(
      `model Case\n${CLOCK}${LANE}\nagent Vole\n  start 1 anywhere\n  behaviour go\n    turn by 1 deg\norder\n  go in turn\n`,
    );
    const lanes = lanesOf(plan.spaces[0]!.lanes!);
    let state = 5;
    const draw = (): number => (state = (Math.imul(state, 1664525) + 1013904223) >>> 0) / 4294967296;
    const place = (): [number, number] => {
      const at = lanes.index.snap(30 + draw() * 1000, 30);
      return [at.x, at.y];
    };
    for (let round = 0; round < 60; round++) {
      const lines = Array.from({ length: 1 + Math.floor(draw() * 3) }, () => {
        const stops = Array.from({ length: 2 + Math.floor(draw() * 4) }, place);
        return { x: Float64Array.from(stops, ([x]) => x), y: Float64Array.from(stops, ([, y]) => y), ways: '' };
      });
      const walker = { pace: 20 + draw() * 60, quickest: false, ways: '', lines: lines.map((_, l) => l), trips: [] };
      const terms = lines.flatMap(() => [1 + draw() * 20, 50 + draw() * 400, draw() * 2]);
      const [from, goal] = [place(), place()];
      const walk = (a: readonly number[], b: readonly number[]): number =>
        lanes.wayLength(a[0]!, a[1]!, b[0]!, b[1]!, 0, '') / walker.pace;
      // Nodes: the start, the goal, then each stop ashore and each stop aboard.
      const stops = lines.flatMap(({ x, y }, l) => Array.from(x, (_, i) => ({ l, i, at: [x[i]!, y[i]!] })));
      const ashore = [{ at: from }, { at: goal }, ...stops];
      const edges: [number, number, number][] = [];
      ashore.forEach((a, i) => ashore.forEach((b, j) => edges.push([i, j, walk(a.at, b.at)])));
      stops.forEach(({ l, i }, s) => {
        const [headway, speed, stay] = terms.slice(3 * l, 3 * l + 3) as [number, number, number];
        const aboard = ashore.length + s;
        const next = stops[s + 1]?.l === l ? stops[s + 1] : undefined;
        if (!next) return;
        edges.push([2 + s, aboard, headway / 2]);
        const ride = lanes.wayLength(stops[s]!.at[0]!, stops[s]!.at[1]!, next.at[0]!, next.at[1]!, 0, '') / speed;
        edges.push([aboard, 2 + s + 1, ride]);
        if (stops[s + 2]?.l === l) edges.push([aboard, aboard + 1, ride + stay]);
        expect(i).toBeLessThan(lines[l]!.x.length - 1);
      });
      const least = new Float64Array(ashore.length + stops.length).fill(Infinity);
      least[1] = 0;
      for (let better = true; better;) {
        better = false;
        for (const [a, b, cost] of edges)
          if (least[b]! + cost < least[a]! - 1e-12) {
            least[a] = least[b]! + cost;
            better = true;
          }
      }
      const journeys = new Journeys(lanes, lines, 1440);
      const found = journeys.ask('time', from[0], from[1], 0, goal[0], goal[1], walker, terms);
      expect(Math.abs(found - least[0]!)).toBeLessThan(1e-6);
      const legs = journeys.legs(from[0], from[1], 0, goal[0], goal[1], walker, terms);
      const told = legs.reduce((sum, leg) => sum + leg.time + (leg.is === 'ride' ? leg.wait : 0), 0);
      expect(Math.abs(told - found)).toBeLessThan(1e-6);
    }
  });
});

describe('an edited text with lines', () => {
  const whole = (more: string): string =>
    `model Edited\n${CLOCK}${LANE}\n${FERRIES}${more}order\n  Ferries in turn\nmeasure along = (sum of it.x over Ferry) / 1 m - 30\n`;

  it('goes on with its vehicles where they are, also beside another line, and lets those of a line that is gone stand', () => {
    const from = loadModel(whole('')).loaded!;
    const started = compiledRun(from.plan);
    started.run.runTo(8);
    expect(started.run.valueAt(8, 0)).toBe(300);
    const after = (text: string): number => {
      const next = loadModel(text).loaded!;
      const before = { plan: from.plan, executable: started.executable as GeneratedRun, run: started.run };
      const carried = carryOver(before, next, compilePlan(next.plan));
      if (typeof carried === 'string') throw new Error(carried);
      carried.run.next();
      return carried.run.valueAt(9, 0);
    };
    const carts =
      'agent Cart\n  seats 2\nline Carts by Cart\n  stops place named "m0", place named "m100"\n  every 50 minutes\n  at 9 m per minute\n';
    expect(after(whole('').replace('agent Ferry', 'agent Ferry\n  has size = 1'))).toBe(500);
    // The other line stands before it now.
    expect(
      after(whole('').replace('agent Ferry', `${carts}agent Ferry`).replace('order\n', 'order\n  Carts in turn\n')),
    ).toBe(500);
    expect(after(whole('').replaceAll('Ferries', 'Boats'))).toBe(300);
  });
});

describe('lines that cannot be', () => {
  const text = (line: string, more = ''): string =>
    `model B\n${CLOCK}${LANE}\nspace Yard: plane 9 m by 9 m\nagent Ferry on Lane\n  seats 2\nagent Hen on Yard\n  start 1 anywhere\nagent Vole on Lane\n  start 1 anywhere\n  behaviour go\n    travel to place named "m0" at 1 m per minute or by Ferries\n${line}order\n  Ferries in turn\n  go in turn\n${more}measure n = count Vole\n`;
  const right = FERRIES.slice(FERRIES.indexOf('line '));

  it.each([
    ['without stops', right.replace(/ {2}stops.*\n/, ''), 'vehicle/line', 'line Ferries by Ferry', /two stops or more/],
    ['without a headway', right.replace(/ {2}every.*\n/, ''), 'vehicle/line', 'line Ferries by Ferry', /how often/],
    ['without a speed', right.replace(/ {2}at .*\n/, ''), 'vehicle/line', 'line Ferries by Ferry', /how fast/],
    ['of a kind that is not there', right.replace('by Ferry', 'by Fery'), 'name/kind', 'Fery', /Fery/],
    ['on a plane', right.replace('by Ferry', 'by Hen'), 'type/expected', 'line Ferries by Hen', /needs a map/],
    ['twice', right + right, 'name/taken', 'Ferries', /already the name of a line/],
    ['at a place that the map does not have', right.replace('m500', 'm501'), 'name/of-map', '"m501"', /m501/],
    ['with a speed that is none', right.replace('200 m per minute', '200 m'), 'type/expected', '200 m', /speed/],
    ['with a line that is unknown', right.replace('stops', 'stop'), 'syntax/line', 'stop', /under “line”/],
  ] as const)('%s', (_, line, code, piece, says) => {
    const whole = text(line);
    const found = checkModel(whole).diagnostics.filter((d) => d.code === code);
    expect(found.map((d) => whole.slice(d.span.start, d.span.end))).toContain(piece);
    expect(found.map((d) => d.message).join(' ')).toMatch(says);
  });

  it('are told where they are taken, and how they have to run', () => {
    const unknown = text(right).replace('or by Ferries', 'or by Feries');
    const [found] = checkModel(unknown).diagnostics.filter((d) => d.code === 'name/line');
    expect(found!.fixes![0]!.edits[0]!.text).toBe('Ferries');
    const atOnce = text(right).replace('Ferries in turn', 'Ferries all at once');
    expect(checkModel(atOnce).diagnostics.map((d) => d.code)).toContain('order/turns');
    const travelling = text(right).replace('go in turn', 'go all at once');
    expect(checkModel(travelling).diagnostics.map((d) => d.code)).toContain('order/turns');
    const unordered = text(right).replace('  Ferries in turn\n', '');
    expect(checkModel(unordered).diagnostics.map((d) => d.code)).toContain('order/missing');
    const set = text(right).replace('or by Ferries\n', 'or by Ferries\n    waiting = yes\n');
    expect(checkModel(set).diagnostics.map((d) => d.code)).toContain('name/cannot-set');
  });

  it.each([
    ['name\n  m100\n', /line 1: Ferries has 1 stop here, and needs two or more/],
    ['name\n  m100\n  Nowhere\n', /line 3: the map has no place “Nowhere”/],
    ['colour\n  red\n  blue\n', /columns x and y, lon and lat, or name are needed/],
    ['x,y\n  1,2\n  one,2\n', /line 3: “one” is no .* for x/],
    ['line,name\n  Trams,m0\n  Trams,m100\n', /Ferries has 0 stops here/],
  ])('with a table of stops that is wrong: %j', (table, says) => {
    const whole = `${text(right.replace(/stops .*/, 'stops from "piers.csv"'))}data "piers.csv"\n  ${table}`;
    const found = checkModel(whole).diagnostics.filter((d) => d.code === 'file/content');
    expect(found.map((d) => d.message).join(' ')).toMatch(says);
    const missing = text(right.replace(/stops .*/, 'stops from "piers.csv"'));
    expect(checkModel(missing).diagnostics.map((d) => d.code)).toContain('file/missing');
  });

  it('keep their layout', () => {
    const formatted = formatModel(text(right.replace('stops ', 'stops    ').replace('by Ferry', 'by   Ferry')));
    expect(formatted).toContain('\nline Ferries by Ferry\n  stops place named "m100", place named "m500",');
  });
});
