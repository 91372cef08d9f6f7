import { describe, expect, it } from 'vitest';
import { Run } from '../src/engine/run.ts';
import { checkModel } from '../src/language/checker.ts';
import { compiledRun, interpretedRun, planOf, rowsInBoth } from './models.ts';

/** Grids whose cells have a length: the text measures in lengths, and the run is that of the same grid in cells. */

const errors = (text: string): string[] =>
  checkModel(text).diagnostics.flatMap(({ severity, code }) => (severity === 'error' ? [code] : []));

/** A model on a grid: in cells, or in lengths of so many metres to a cell. */
function moor(options: string, metres: number | undefined, top = 6): string {
  const length = (cells: number): string => (metres === undefined ? `${cells}` : `${cells * metres} m`);
  const one = length(1);
  // Rows of hexagons lie closer than columns are wide.
  const high = options.includes('6 neighbours') && metres !== undefined ? 0.8660254037844386 : 1;
  const place = (column: number, row: number): string => {
    const shift = high === 1 ? 0 : (row % 2) / 2;
    return `(${length(column + shift)}, ${length(row * high)})`;
  };
  return `model Moor
clock
  step 1 day
  end after 40 days
space Moor: grid 14 by 10${metres === undefined ? '' : `, cells of ${metres} m`}, ${options}
field heat on Moor
  start 1
  spread 0.2 per day
zone Bog on Moor
  circle ${length(2)} around ${place(9, 5)}
  box ${place(1, 2)} to ${place(4, top)}
network Near ties Vole to Vole: near one another within ${length(2)}
agent Vole
  start 25 anywhere
  start 3 within ${length(2)} of ${place(6, 4)}
  start 1 at ${place(3, 5)}
  has home = here
  has gap = ${length(0)}
  has met = 0
  derive in_bog = here is in zone Bog
  behaviour roam
    turn by uniform(-90, 90) deg
    if count Vole within ${length(2)} >= 2
      move by ${length(2)}
    else
      move toward home by ${one}
    met += count Vole in a square of 1
    heat += 1
    with v = nearest Vole within ${length(3)}
      gap += distance(v) + distance(here, home)
    if chance(0.1)
      move to ahead(${length(2)}, 60 deg)
    if chance(0.05)
      move to ${place(12, 8)}
      home = here
measure voles = count Vole
measure boggy = count Vole where it.met > 20
measure inside = count Vole where it.in_bog
measure met = sum of it.met over Vole
measure ties = clustering of Near
measure gap = sum of (it.gap / ${one}) over Vole
measure at_x = sum of (it.x / ${one}) over Vole
measure at_y = sum of (it.home.y / ${one}) over Vole
measure warm = mean of heat
`;
}

/** Everything that takes or gives a length or a place, on such a grid. */
function everything(options: string, metres: number | undefined): string {
  const l = (cells: number): string => (metres === undefined ? `${cells}` : `${cells * metres} m`);
  return `model M
clock
  step 1 day
  end after 30 days
parameter reach = ${l(2)}
space Moor: grid 14 by 10${metres === undefined ? '' : `, cells of ${metres} m`}, ${options}
field heat on Moor
  start 1
obstacle Wall on Moor
  line (${l(7)}, ${l(2)}) to (${l(7)}, ${l(6)})
  cells (${l(1)}, ${l(8)}), (${l(2)}, ${l(8)})
message Call
  has level = 1
agent Vole
  start 25 anywhere
  start 3 on a circle of ${l(2)} around (${l(6)}, ${l(5)})
  start 2 next to (${l(3)}, ${l(3)})
  has met = 0
  has heard = 0
  has mid = here
  has list_: last 3 places
  on Call as c
    heard += c.level
  define far(p) = distance(p)
  behaviour roam
    turn by uniform(-90, 90) deg
    move by reach
    met += count cells within reach where heat > 0.5
    met += count cells in a cross of 2
    send Call to all Vole within reach
    with c = cells within ${l(3)} with least heat
      heat at c += 0.3
      move toward c by ${l(1)}
    if any Vole within ${l(4)}
      mid = mean of it.place over Vole within ${l(4)}
    add here to list_
    if far(mid) > ${l(1)}
      met += 1
    heat at ahead(${l(2)}, 45 deg) += 1
    if x > ${l(9)} and y < ${l(4)}
      turn to (${l(0)}, ${l(0)})
interaction meet: a Vole, b Vole
  nearest within ${l(2)}
  chance 40 %
  a.met += 1
  b.met += 2
measure met = sum of it.met over Vole
measure heard = sum of it.heard over Vole
measure hot = max of heat
measure x_ = sum of (it.x / ${l(1)}) over Vole
measure pairs = count Vole where any Vole within ${l(1)} of it
measure mid = sum of (it.mid.x / ${l(1)}) over Vole
`;
}

describe('a grid measured in lengths', () => {
  it.each(['8 neighbours, walled', '4 neighbours, wrapping', '8 neighbours, reflecting, one agent a cell'])(
    'gives and takes all lengths and places so: %s',
    (options) => {
      const cells = rowsInBoth(everything(options, undefined), 30);
      for (const metres of [4, 0.25]) expect(rowsInBoth(everything(options, metres), 30)).toEqual(cells);
    },
  );

  it.each(['4 neighbours, walled', '8 neighbours, wrapping', '8 neighbours, reflecting'])(
    'runs as the same grid in cells: %s',
    (options) => {
      const cells = rowsInBoth(moor(options, undefined), 40);
      // Lengths of a power of two lose nothing in dividing.
      expect(rowsInBoth(moor(options, 4), 40)).toEqual(cells);
    },
  );

  it('of hexagons has the places of their middles', () => {
    const cells = rowsInBoth(moor('6 neighbours, wrapping', undefined), 40);
    const lengths = rowsInBoth(moor('6 neighbours, wrapping', 4), 40);
    const names = planOf(moor('6 neighbours, wrapping', 4)).measures.map(({ name }) => name);
    for (const name of ['voles', 'boggy', 'met', 'ties', 'warm']) {
      const at = names.indexOf(name);
      expect(lengths[at], name).toEqual(cells[at]);
    }
    // Rows are 0.866 of a column high: what lies in row 8 is 6.93 columns up.
    const [x, y] = ['at_x', 'at_y'].map((name) => names.indexOf(name));
    lengths[y!]!.forEach((up, row) => expect(up).toBeCloseTo(cells[y!]![row]! * 0.8660254037844386, 9));
    expect(lengths[x!]).not.toEqual(cells[x!]);
  });

  it('finds what is just as far as is asked for, whatever dividing makes of the length', () => {
    const model = (cell: string, reach: string): string => `model Reach
clock
  step 1 day
  end after 1 day
space Moor: grid 30 by 30, cells of ${cell}
agent Vole
  start 1 at (0 m, 0 m)
  start 1 at (${reach}, 0 m)
measure near = count Vole where any Vole within ${reach} of it
measure far in km = max of it.x over Vole
`;
    for (let cells = 1; cells < 30; cells++)
      for (const cell of [0.1, 0.3, 0.7, 1.1, 5, 30]) {
        const reach = Number((cells * cell).toPrecision(6));
        const [near, far] = rowsInBoth(model(`${cell} m`, `${reach} m`), 1);
        expect(near![0], `${cells} cells of ${cell} m`).toBe(2);
        expect(far![0]).toBeCloseTo(reach / 1000, 9);
      }
  });

  it('tells places in lengths in logs and records of fields', () => {
    const text = `model Told
clock
  step 1 day
  end after 1 day
space Moor: grid 4 by 3, cells of 5 m
field heat on Moor
  start x / 1 m + y / 1 m
agent Vole
  start 1 at (10 m, 5 m)
  behaviour tell
    log "at", place, x
record heat
`;
    for (const make of [compiledRun, interpretedRun]) {
      const { executable } = make(planOf(text));
      executable.recording = true;
      new Run(executable, [], 1).runTo();
      expect(executable.context.notes.map(({ text }) => text)).toEqual(['at 10, 5 m 10 m']);
      expect([...executable.records[0]!.data].slice(4, 12)).toEqual([0, 5, 0, 5, 0, 10, 0, 10]);
    }
  });

  it('says what is wrong with its cells and sizes', () => {
    const of = (size: string): string[] => errors(moor('walled', 4).replace('14 by 10, cells of 4 m', size));
    expect(of('14 by 10, cells of 0 m')).toContain('type/positive');
    expect(of('14 by 10, cells of voles')).toContain('type/constant');
    expect(of('56 m by 40 m, cells of 4 m')).toEqual(['type/expected', 'type/expected']);
    expect(of('14.5 by 10, cells of 4 m')).toContain('type/whole');
    expect(of('14 by 10, cells of 3 days')).toContain('type/expected');
    expect(errors(moor('walled', 4).replace('move by 8 m', 'move by 2'))).toEqual(['type/length']);
  });
});
