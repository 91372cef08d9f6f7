import { describe, expect, it } from 'vitest';
import { compilePlan, loadModel, rowHeader, Run, simulate, summaryHeader } from '../src/index.ts';
import { compiledRun, interpretedRun, planOf } from './models.ts';

/**
 * What the constructs mean that join agents or shape their surroundings, on models small enough to follow by hand. Every case runs in
 * both engines; the expected rows come from docs/language.md and the grammar, not from a run.
 */

interface Case {
  readonly name: string;
  readonly parts: string;
  readonly clock?: string;
  readonly files?: Readonly<Record<string, string>>;
  /** Values of each measure, row by row. */
  readonly rows: readonly (readonly number[])[];
  readonly refused?: number;
}

function check(c: Case): void {
  const plan = planOf(
    `model Case\n${c.clock ?? 'clock\n  end after 30 steps'}\n${c.parts}\n`,
    new Map(Object.entries(c.files ?? {})),
  );
  for (const make of [compiledRun, interpretedRun]) {
    const { run, executable } = make(plan, 1, undefined, undefined);
    run.runTo(c.rows[0]!.length - 1);
    expect(plan.measures.map((_, m) => Array.from({ length: run.rowCount }, (_, row) => run.valueAt(row, m)))).toEqual(
      c.rows,
    );
    if (c.refused !== undefined) expect(executable.context.refused).toBe(c.refused);
  }
}

function cases(title: string, list: readonly Case[]): void {
  describe(title, () => {
    for (const c of list) it(c.name, () => check(c));
  });
}

const PLANE = 'space S: plane 10 by 10, walled';
const GRID = 'space S: grid 5 by 5, 8 neighbours, walled';

cases('messages', [
  {
    name: 'are delivered before the next rule; what is sent while delivering travels one tie a step',
    parts:
      'message Hey\nagent A\n  start 5\n  has told = 0\n  on Hey\n    told += 1\n    send Hey to all A tied by N where it.told is 0\n  behaviour begin\n    if number is 1 and told is 0\n      send Hey to self\n  behaviour look\n    told = told\nnetwork N ties A to A: from "ties.csv"\norder\n  begin in fixed order\n  look in fixed order\nmeasure told = count A where it.told > 0',
    files: { 'ties.csv': 'from,to\n1,2\n2,3\n3,4\n4,5\n' },
    rows: [[0, 1, 2, 3, 4, 5]],
  },
  {
    name: 'after a delay arrive in the first step whose end is not before it',
    parts:
      'message Hey\nagent A\n  start 1\n  has told = 0\n  on Hey\n    told = 1\n  behaviour begin\n    if now < 1 steps\n      send Hey to self after 2.5 steps\norder\n  begin in turn\nmeasure told = sum of it.told over A',
    rows: [[0, 0, 0, 0, 1, 1]],
  },
  {
    name: 'move a machine only by the message it names, with its condition; the sender is known',
    parts:
      'message Go\n  has power = 1\nmessage Stop\nagent A\n  start 2\n  has from_: A = nobody\n  states mode\n    Rest\n      on Go as call when call.power > 2: Run\n        from_ = call.sender\n    Run\n      on Stop: Rest\n  behaviour call\n    if number is 1 and now is 0\n      send Go to all A\n    if number is 1 and now is 1 steps\n      send Go(power = 3) to all A\n    if number is 2 and now is 2 steps\n      send Stop to self\norder\n  call in fixed order\nmeasure running = count A where it.mode is Run\nmeasure known = count A where it.from_ is not nobody',
    rows: [
      [0, 0, 1, 0],
      [0, 0, 1, 1],
    ],
  },
]);

cases('ties', [
  {
    name: 'of a ring, a lattice on cells, groups and a file',
    parts: `${GRID}\nagent A\n  start on every cell\nagent B\n  start 9 nowhere\nnetwork R ties B to B: ring, 4 neighbours\nnetwork L ties A to A: lattice\nnetwork G ties B to B: groups of 3\nnetwork F ties B to B, directed: from "f.csv"\n  has weight = 0\nmeasure r = count ties by R\nmeasure l = count ties by L\nmeasure g = count ties by G\nmeasure parts = components of G\nmeasure closed = clustering of G\nmeasure f = sum of it.weight over ties by F`,
    files: { 'f.csv': 'from,to,weight\n1,2,0.5\n2,1,2\n2,1,9\n' },
    rows: [[18], [2 * 5 * 4 + 2 * 16], [9], [3], [1], [2.5]],
  },
  {
    name: 'are made once, not to oneself, cut by hand and with whoever goes',
    parts:
      'agent A\n  start 4\n  behaviour a\n    if number is 1\n      tie to first A where it.number > 1 by N\n      tie to self by N\n      with v = first A where it.number is 2\n        tie to v by N\n        v.asks = 1\n  has asks = 0\n  behaviour b\n    if number is 3 and now is 1 steps\n      with v = first A where it.number is 1\n        join v by N\n    if number is 2 and now is 2 steps\n      remove self\nnetwork N ties A to A: none\norder\n  a in fixed order\n  b in fixed order\nmeasure n = count ties by N\nmeasure asks = sum of it.asks over A',
    rows: [
      [0, 1, 3, 1],
      [0, 1, 1, 0],
    ],
  },
  {
    name: 'all at once are read as before the rule',
    parts:
      'agent A\n  start 3\n  has seen = 0\n  behaviour a\n    seen = count A tied by N\n    with v = random A\n      tie to v by N\nnetwork N ties A to A: none\norder\n  a all at once\nmeasure seen = sum of it.seen over A',
    rows: [[0, 0]],
  },
]);

cases('cells, zones and obstacles', [
  {
    name: 'a blinker of three cells turns each step',
    parts: `${GRID}\nfield life on S\n  start from "life.asc"\n  becomes 1 when (count cells next to here where (life at it) is 1) is 3\n  becomes 0 when (count cells next to here where (life at it) is 1) is not 2\nmeasure n = sum of life\nmeasure row = count cells where (life at it) is 1 and it.y is 2\norder\n  life`,
    files: {
      'life.asc':
        'ncols 5\nnrows 5\nxllcorner 0\nyllcorner 0\ncellsize 1\n0 0 0 0 0\n0 0 0 0 0\n0 1 1 1 0\n0 0 0 0 0\n0 0 0 0 0\n',
    },
    rows: [
      [3, 3, 3, 3],
      [3, 1, 3, 1],
    ],
  },
  {
    name: 'within counts the own cell, next to does not; squares and crosses reach to each side',
    parts: `${GRID}\nagent A\n  start 1 at (2, 2)\n  has a = 0\n  has b = 0\n  has c = 0\n  has d = 0\n  has e = 0\n  behaviour go\n    a = count cells within 1\n    b = count cells next to here\n    c = count cells in a square of 1\n    d = count cells in a cross of 2\n    e = count empty cells within 1\norder\n  go in turn\nshow A: dot\n${['a', 'b', 'c', 'd', 'e'].map((m) => `measure m${m} = sum of it.${m} over A`).join('\n')}`,
    rows: [
      [0, 5],
      [0, 8],
      [0, 9],
      [0, 9],
      [0, 4],
    ],
  },
  {
    name: 'first takes cells from the top left, row by row',
    parts: `${GRID}\nagent A\n  start 1 at (2, 2)\n  behaviour go\n    move to first cells within 1\norder\n  go in turn\nmeasure x = sum of it.x over A\nmeasure y = sum of it.y over A`,
    rows: [
      [2, 2, 2, 1],
      [2, 3, 4, 4],
    ],
  },
  {
    name: 'a way ends before an obstacle, on a plane and along cells',
    parts: `${GRID}\nobstacle Wall on S\n  line (3, 0) to (3, 4)\nagent A\n  start 1 at (0, 2), facing 90 deg\n  behaviour go\n    move by 4\norder\n  go in turn\nmeasure x = sum of it.x over A\nmeasure free = count A in zone Wall`,
    rows: [
      [0, 2, 2],
      [0, 0, 0],
    ],
  },
  {
    name: 'nobody starts on an obstacle, all start in their zone',
    parts: `${PLANE}\nzone Home on S\n  box (1, 1) to (4, 4)\nobstacle Rock on S\n  circle 3 around (7, 7)\nagent A\n  start 40 anywhere\n  start 20 in zone Home\nmeasure on_rock = count A in zone Rock\nmeasure home = count A where it.number > 40 and it.place is in zone Home`,
    rows: [[0], [20]],
  },
  {
    name: 'hexagons have six neighbours, all one apart',
    parts:
      'space S: grid 6 by 6, 6 neighbours, walled\nagent A\n  start on every cell\n  has near = 0\n  has far = 0\n  behaviour go\n    near = count A next to here\n    far = count A within 1\norder\n  go in turn\nmeasure most = max of it.near over A\nmeasure least = min of it.near over A\nmeasure same = count A where it.near is it.far',
    rows: [
      [0, 6],
      [0, 2],
      [36, 36],
    ],
  },
  {
    name: 'of two that want one empty cell all at once one gets it',
    parts:
      'space S: grid 3 by 1, walled, one agent a cell\nagent A\n  start 1 at (0, 0)\n  start 1 at (2, 0)\n  behaviour go\n    move to (1, 0)\norder\n  go all at once\nmeasure middle = count A where it.x is 1',
    rows: [[0, 1, 1]],
    refused: 2,
  },
]);

cases('agents as values, lists, nowhere', [
  {
    name: 'a list keeps the latest, each once, the oldest first',
    parts:
      'agent A\n  start 4\n  has met: last 2 A\n  has sum_ = 0\n  behaviour go\n    if number is 1\n      for each v in A where it.number > 1\n        add v to met\n      with w = first A where it.number is 3\n        add w to met\n      with f = first met\n        sum_ = f.number * 10 + count met\norder\n  go in turn\nmeasure s = sum of it.sum_ over A',
    rows: [[0, 42]],
  },
  {
    name: 'what points at one who has gone reads nobody',
    parts:
      'agent A\n  start 2\n  has other: A = nobody\n  behaviour go\n    if number is 1\n      other = first A where it.number is 2\n    else if now > 0 steps\n      remove self\norder\n  go in fixed order\nmeasure known = count A where it.other is not nobody',
    rows: [[0, 1, 0]],
  },
  {
    name: 'who is nowhere is counted but met by nobody',
    parts: `${PLANE}\nagent A\n  start 2 at (5, 5)\n  start 3 nowhere\n  has near = 0\n  behaviour go\n    near = count A within 20\n    with v = random A where it.number > 2\n      near = 99\norder\n  go in turn\nmeasure all = count A\nmeasure near = sum of it.near over A\nmeasure away = count A where it.place is nowhere`,
    rows: [
      [5, 5],
      [0, 2],
      [3, 3],
    ],
  },
  {
    name: 'the middle of places and of directions',
    parts: `space S: plane 10 by 10, wrapping\nagent A\n  start 1 at (9, 5), facing 350 deg\n  start 1 at (1, 5), facing 30 deg\n  start 1 at (0, 5), facing 0 deg\n  has mx = 0\n  has turn_ = 0 deg\n  behaviour go\n    if number is 3\n      let middle = mean of it.place over A\n      mx = middle.x\n      turn_ = mean of it.direction over A\norder\n  go in turn\nmeasure mx = round(sum of it.mx over A)\nmeasure turn_ = round((sum of it.turn_ over A) / 1 deg)`,
    rows: [
      [0, 0],
      [0, 10],
    ],
  },
]);

cases('tallies, formulas, loops', [
  {
    name: 'a tally is emptied every step unless it is kept',
    parts:
      'tally now_\ntally all_, kept\nagent A\n  start 3\n  behaviour go\n    add number to now_\n    add number to all_\norder\n  go all at once\nmeasure n = count now_\nmeasure sum_ = sum of now_\nmeasure all_n = count all_\nmeasure g = round((geometric mean of now_) ^ 3)',
    rows: [
      [0, 3, 3],
      [0, 6, 6],
      [0, 3, 6],
      [NaN, 6, 6],
    ],
  },
  {
    name: 'formulas, routines and until',
    parts:
      'parameter k = 2, from 0 to 9\ndefine half(x) = x / k\ndefine both(x, y) = half(x) + half(y) + level\nagent A\n  start 1\n  has level = 1\n  routine grow(by_)\n    level += by_\n    if level < 4\n      do more(by_)\n  routine more(v)\n    level += v * 2\n  behaviour go\n    do grow(both(2, 4))\n    repeat at most 9 times\n      level += 1\n      until level >= 20\norder\n  go in turn\nmeasure l = sum of it.level over A',
    rows: [[1, 14, 32]],
  },
]);

cases('states', [
  {
    name: 'inside states: the group is entered once, its way out is shared',
    parts:
      'agent A\n  start 1\n  has note_ = 0\n  states life\n    Egg\n      after 1 steps: Alive\n    Alive\n      enter\n        note_ += 100\n      leave\n        note_ += 1000\n      after 3 steps: Gone\n      Young\n        after 1 steps: Old\n      Old\n        enter\n          note_ += 1\n    Gone\norder\n  life in turn\nmeasure alive = count A where it.life is Alive\nmeasure came = entered Alive\nmeasure went = left Alive\nmeasure note_ = sum of it.note_ over A',
    rows: [
      [0, 1, 1, 1, 0, 0],
      [0, 1, 0, 0, 0, 0],
      [0, 0, 0, 0, 1, 0],
      [0, 100, 101, 101, 1101, 1101],
    ],
  },
  {
    name: 'of others set all at once: one of the rivals is taken, leave and enter run once',
    parts:
      'agent A\n  start 3\n  has note_ = 0\n  states life\n    Calm\n      leave\n        note_ += 1\n    Stirred\n      enter\n        note_ += 10\n  behaviour go\n    with v = first A where it.number is 1\n      v.life = Stirred\n    if number is 1\n      note_ += 0\norder\n  go all at once\nmeasure stirred = count A where it.life is Stirred\nmeasure note_ = sum of it.note_ over A',
    rows: [
      [0, 1, 1],
      [0, 11, 11],
    ],
  },
  {
    name: 'the time in a state counts from its beginning',
    parts:
      'agent A\n  start 1\n  states life\n    One\n      after 2 steps: Two\n    Two\nmeasure t = sum of ((time in it.life) / 1 steps) over A\norder\n  life in turn',
    rows: [[0, 1, 0, 1, 2, 3]],
  },
]);

cases('tables, rasters, days', [
  {
    name: 'agents start from a table, with what its columns say',
    parts: `${PLANE}\nagent A\n  start from "voles.csv"\n  has energy = 5\n  has coat = pick(brown, grey)\n  has mother: A = nobody\n  states life\n    Young\n    Old\nmeasure e = sum of it.energy over A\nmeasure grey = count A where it.coat is grey\nmeasure old = count A where it.life is Old\nmeasure x = sum of it.x over A\nmeasure known = count A where it.mother is not nobody`,
    files: { 'voles.csv': 'x,y,energy,coat,life,mother\n1,2,3,grey,Old,2\n4,5,6,brown,Young,\n' },
    rows: [[9], [1], [1], [5], [1]],
  },
  {
    name: 'a field starts from a raster whose first row is the top',
    parts: `${GRID}\nfield f on S\n  start from "f.asc"\nmeasure top = sum of (f at it) over cells where it.y is 4\nmeasure all = sum of f`,
    files: { 'f.asc': `ncols 5\nnrows 5\nnodata_value -9\n1 1 1 1 -9\n${'0 0 0 0 2\n'.repeat(4)}` },
    rows: [[4], [12]],
  },
  {
    name: 'a field of single precision rounds what goes into its cells',
    parts: `${GRID}\nfield f on S, single precision\n  start 0.1\nfield g on S, single precision\n  start 16777216\nfield h on S\n  start 0.1\nagent A\n  start 1 at (2, 2)\n  behaviour go\n    g += 1\n    f += h\nmeasure most = max of f\nmeasure stays = max of g\nmeasure least = min of f\nmeasure double = max of h`,
    // By hand: the nearest of 24 bits to 0.1, and to that and 0.1.
    rows: [
      [0.10000000149011612, 0.20000000298023224],
      [16777216, 16777216],
      [0.10000000149011612, 0.10000000149011612],
      [0.1, 0.1],
    ],
  },
  {
    name: 'a question for cells within one has the cells of the field that it asks for itself',
    // By hand: 6 is the least within reach, 8 the least of those beside whose cell of damp a damp one lies, at a column of cells from 5 to 10.
    parts: `space S: plane 20 by 20, walled\nfield scent on S, cells of 2\n  start x + y\nfield damp on S, cells of 5\n  start if x > 10 then 1 else 0\nagent A\n  start 1 at (5, 9)\n  has all = 0\n  has beside = 0\n  has near = 0\n  behaviour look\n    all = min of scent over cells within 6 of here\n    beside = min of scent over cells within 6 of here where (count cells next to it where damp > 0.5) > 0\n    near = count cells within 6 of here where (scent at it) > 10 and (count cells within 3 of it where damp > 0.5) > 0\nmeasure all = sum of it.all over A\nmeasure beside = sum of it.beside over A\nmeasure near = sum of it.near over A`,
    rows: [
      [0, 6],
      [0, 8],
      [0, 1],
    ],
  },
  {
    name: 'a field of choices starts from a raster of words, or of numbers that stand for them',
    parts: `${GRID}\nfield ground on S\n  start from "land.asc" of 2 ash, 7 moss, 3 ash\nfield sky on S\n  start from "sky.asc" of clear, grey\nmeasure moss = count cells where (ground at it) is moss\nmeasure ash = count cells where (ground at it) is ash and it.y is 4\nmeasure grey = count cells where (sky at it) is grey and it.y is 0`,
    files: {
      'land.asc': `ncols 5\nnrows 5\nnodata_value -9\n7 2 3 7 -9\n${'2 2 7 2 3\n'.repeat(4)}`,
      'sky.asc': `ncols 5\nnrows 5\n${'clear clear clear grey clear\n'.repeat(4)}Grey clear grey clear clear\n`,
    },
    rows: [[6], [3], [2]],
  },
  {
    name: 'every day and every weekday, at their times',
    clock: 'clock\n  step 6 h from 2031-03-01\n  end after 9 days',
    parts:
      'variable morning = 0\nvariable mondays = 0\ntimeline\n  every day at 07:00: morning += 1\n  every monday at 12:00: mondays += 1\nmeasure m = morning\nmeasure w = mondays',
    // 2031-03-01 is a Saturday; 07:00 lies in the second step of a day.
    rows: [
      [0, 0, 1, 1, 1, 1, 2, 2, 2, 2, 3, 3, 3],
      [0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 1, 1],
    ],
  },
]);

cases('edges of time', [
  {
    name: 'a measure reads its own row, also one that stands further down, and a window takes empty rows for nothing',
    parts:
      'agent A\n  start 2\n  has n = 0\n  behaviour grow\n    n += 1\n    if n is 3\n      remove self\nmeasure twice = 2 * m\nmeasure m = mean of it.n over A\nmeasure w = mean of m over last 3 steps\nmeasure t = now / (1 step)\norder\n  grow in turn',
    rows: [
      [0, 2, 4, NaN, NaN],
      [0, 1, 2, NaN, NaN],
      [0, 0.5, 1, 1.5, 2],
      [0, 1, 2, 3, 4],
    ],
  },
  {
    name: 'a period holds from the step in which it begins up to that in which it ends',
    clock: 'clock\n  step 3 h\n  end after 30 h',
    parts: 'parameter p = 0\ntimeline\n  from 5 h to 10 h: p = 1\nmeasure m = p',
    rows: [[0, 0, 1, 1, 0, 0]],
  },
  {
    name: 'what comes every 5 h in steps of 3 h comes as often as it says',
    clock: 'clock\n  step 3 h\n  end after 30 h',
    parts:
      'agent A\n  start 1\n  has n = 0\n  behaviour count_up every 5 h\n    n += 1\nmeasure m = sum of it.n over A\norder\n  count_up in turn',
    rows: [[0, 0, 1, 1, 2, 2, 3, 4, 4, 5, 5]],
  },
]);

cases('measures in a unit of their own', [
  {
    name: 'hold its numbers in their rows, and are read by others as what they are',
    clock: 'clock\n  step 1 day\n  end after 3 days',
    parts:
      'measure gone in hours = now\nmeasure half in hours = gone / 2\nmeasure late = gone > 30 hours\nmeasure middle in hours = mean of gone over last 2 days\nmeasure plain = now',
    rows: [
      [0, 24, 48, 72],
      [0, 12, 24, 36],
      [0, 0, 1, 1],
      [0, 12, 36, 60],
      [0, 1, 2, 3],
    ],
  },
]);

describe('a summary in a unit of its own', () => {
  it('is given in it, and so headed', () => {
    const plan = planOf(
      'model U\nclock\n  step 1 day\n  end after 14 days\nmeasure gone in hours = now\nmeasure flag = now >= 7 days\nsummary turn in weeks = first time flag\nsummary most = max of gone\n',
    );
    expect([summaryHeader(plan), rowHeader(plan)].map(String)).toEqual([
      'run,seed,steps,turn [weeks],most [days]',
      'run,seed,step,time [days],gone [hours],flag',
    ]);
    const outcome = simulate(compilePlan(plan), { parameters: [], seed: 1, every: 1 }) as {
      result: { summaries: Float64Array };
    };
    expect([...outcome.result.summaries]).toEqual([1, 14]);
  });
  it.each([
    ['measure m in hours = 3', 'hours'],
    ['measure m in km = now', 'km'],
    ['measure m in hours = yes', 'hours'],
  ])('refuses “%s”', (line, piece) => {
    const text = `model U\nclock\n  step 1 day\n  end after 14 days\n${line}\n`;
    const wrong = loadModel(text).diagnostics.filter((d) => d.severity === 'error');
    expect(wrong.map((d) => [d.code, text.slice(d.span.start, d.span.end)])).toEqual([['type/expected', piece]]);
  });
});

cases('edges of space', [
  {
    name: 'whoever is asked round is not among those near them',
    parts:
      `${PLANE}\nagent A\n  start 3 at (1, 1)\n  start 1 at (2, 1)\n  start 1 at (9, 9)\nagent B\n  start 1 at (1, 1)\n  has seen = 0\n  behaviour look\n    seen = sum of (count A within 1 of it) over A\nmeasure crowded = count A where (count A within 1 of it) > 2\nmeasure pairs = sum of (count A within 1 of it) over A\nmeasure near_b = count A within 1 of first B\nmeasure seen = sum of it.seen over B\norder\n  look in turn`.replace(
        'count A within 1 of first B',
        'sum of (count A within 1 of it) over B',
      ),
    rows: [
      [4, 4],
      [12, 12],
      [4, 4],
      [0, 12],
    ],
  },
  {
    name: 'the lines of a field can read the place of their cell',
    parts:
      'space S: plane 4 by 4, walled, cells of 1\nfield slope on S\n  start x + 10 * y\nagent A\n  start 1 at (0.5, 3.5)\nmeasure high = max of (slope at it) over cells\nmeasure mean_slope = mean of slope',
    rows: [[38.5], [22]],
  },
]);

describe('records', () => {
  const rowsOf = (every: string, days: number): number[] => {
    const plan = planOf(
      `model R\nclock\n  step 1 day\n  end after ${days} days\nagent A\n  start 1\n  has n = 0\n  behaviour grow\n    n += 1\nrecord A: n every ${every}\nmeasure m = count A\n`,
    );
    const [compiled, interpreted] = [compiledRun, interpretedRun].map((make) => {
      const { executable } = make(plan, 1, undefined, undefined);
      executable.recording = true;
      new Run(executable, [], 1).runTo();
      return [...executable.records[0]!.data];
    });
    expect(compiled).toEqual(interpreted);
    return compiled!.filter((_, i) => i % 3 === 0);
  };
  it('are kept at the same times as rows', () => {
    expect(rowsOf('10 days', 30)).toEqual([0, 10, 20, 30]);
    expect(rowsOf('10 days', 10)).toEqual([0, 10]);
    expect(rowsOf('1 day', 3)).toEqual([0, 1, 2, 3]);
    expect(rowsOf('2.5 days', 10)).toEqual([0, 3, 5, 8, 10]);
  });
});

describe('what does not come to an end', () => {
  it.each([
    [
      'a ring with endless neighbours',
      'agent A\n  start 30000\nnetwork T ties A to A: ring, 1000000000000 neighbours',
      /“T” would have more than 10,000,000 ties/,
    ],
    [
      'a small world with endless neighbours',
      'agent A\n  start 30000\nnetwork T ties A to A: small world, 1000000000000 neighbours, rewired 10 %',
      /“T” would have more than 10,000,000 ties/,
    ],
    [
      'newcomers with endless ties',
      'agent A\n  start 30000\nnetwork T ties A to A: preferential, 1000000000000 ties each',
      /“T” would have more than 10,000,000 ties/,
    ],
    [
      'a line far outside the space',
      `${PLANE}\nzone Z on S\n  line (0, 0) to (1e12, 5)\nagent A\n  start 3 anywhere`,
      /A line of “Z” would go through/,
    ],
    [
      'a plane too large for its digits',
      'space S: plane 1e20 by 1e20\nagent A\n  start 3 anywhere\nnetwork T ties A to A: near one another within 0.1',
      /“S” would be/,
    ],
    ['a plane too small for its digits', 'space S: plane 1e-320 by 10\nagent A\n  start 3 anywhere', /“S” would be/],
    [
      'births without end that find no room',
      'space S: grid 5 by 5, one agent a cell\nagent A\n  start 3 anywhere\n  behaviour grow\n    create 4294967296 A anywhere',
      /step 1, A\.grow.*round 20,000,000 times.*how many to create/,
    ],
    [
      'meetings without end',
      'agent A\n  start 3\n  has v = 0\ninteraction meet: a A, b A\n  mixing 1e12\n  a.v += 1',
      /step 1, meet.*round 20,000,000 times.*a number of meetings/,
    ],
    [
      'a loop without end',
      'agent A\n  start 1\n  has v = 0\n  behaviour turn_round\n    repeat at most 1000000000000 times\n      until v > 1',
      /step 1, A\.turn_round.*round 20,000,000 times.*how often to repeat/,
    ],
  ])('%s is refused, with its place', (_, parts, says) => {
    const plan = planOf(`model Endless\nclock\n  end after 2 steps\n${parts}\nmeasure n = count A\n`);
    expect(() => compiledRun(plan, 1, undefined as never, undefined as never).run.runTo(1)).toThrow(says);
  });
});
