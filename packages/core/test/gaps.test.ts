import { describe, expect, it } from 'vitest';
import { checkModel } from '../src/language/checker.ts';
import { formatModel } from '../src/language/format.ts';
import { loadModel } from '../src/load.ts';
import { Run } from '../src/engine/run.ts';
import { compilePlan } from '../src/load.ts';
import { summariesOf } from '../src/runs/summarise.ts';
import { compiledRun, interpretedRun, planOf, rowsInBoth } from './models.ts';

/** Things that a modeler writes without thinking: each means what it says, in both engines. */

const errors = (text: string): string[] =>
  checkModel(text).diagnostics.flatMap(({ severity, code }) => (severity === 'error' ? [code] : []));

describe('the hour and the day of the week', () => {
  const model = (condition: string): string => `model Hours
clock
  step 30 minutes from 2031-05-16
  end after 3 days
variable open = 0
behaviour look
  open = if ${condition} then 1 else 0
order
  look
measure open_ = open
measure h = hour
`;

  it.each([
    ['hour >= 07:30 and hour < 09:00', [7.5, 8, 8.5]],
    ['07:30 <= hour and 08:30 > hour', [7.5, 8]],
    ['hour is 12:00 or hour is one of 06:00, 22:30', [6, 12, 22.5]],
  ])('are held against times: %s', (condition, wanted) => {
    const [open] = rowsInBoth(model(condition), 48);
    // A row is taken at the end of a step; the rule looked at its beginning.
    expect(open!.slice(1, 49).flatMap((value, i) => (value > 0 ? [i / 2] : []))).toEqual(wanted);
  });

  it('are held against names of weekdays, from a Friday on', () => {
    for (const [condition, days] of [
      ['weekday is one of Saturday, Sunday', [1, 2]],
      ['weekday is friday', [0]],
      ['weekday is not Saturday', [0, 2]],
    ] as const) {
      const [open] = rowsInBoth(model(condition), 144);
      const found = [0, 1, 2].filter((day) => open!.slice(1 + 48 * day, 49 + 48 * day).every((value) => value === 1));
      expect(found, condition).toEqual(days);
    }
  });

  it('are no words elsewhere, and names of the text come first', () => {
    expect(errors(model('month is Saturday'))).toEqual(['name/unknown']);
    expect(errors(model('weekday < 07:30'))).toContain('type/unit-mismatch');
    const own = model('weekday is Saturday').replace('variable open', 'variable Saturday = 5\nvariable open');
    const [open] = rowsInBoth(own, 96);
    expect(open!.slice(1, 49).every((value) => value === 1)).toBe(true);
    expect(open!.slice(49, 97).every((value) => value === 0)).toBe(true);
  });
});

describe('summaries of conditions', () => {
  const model = `model Wave
clock
  step 1 h
  end after 10 h
variable level = 0
behaviour rise
  level = if now < 3 h or now >= 6 h then now / 1 h else 0 - now / 1 h
order
  rise
measure height = level
summary above  = share of steps where height > 1
summary times_ = times height > 1 becomes true
summary late   = time of max of height in days
summary late2 in days = time of max of height
`;

  it('say in which share of the steps something holds, how often it begins, and when in a unit', () => {
    const { loaded, diagnostics } = loadModel(model);
    expect(diagnostics.filter(({ severity }) => severity === 'error')).toEqual([]);
    const { run } = compiledRun(loaded!.plan);
    run.runTo();
    // Rows: 0 at the start, then 0, 1, 2, -3, -4, -5, 6, 7, 8, 9.
    const [above, times, late, late2] = summariesOf(loaded!.plan, run);
    expect(above).toBeCloseTo(5 / 11, 12);
    expect(times).toBe(2);
    expect(late).toBeCloseTo(10 / 24, 12);
    expect(late2).toBe(late);
  });

  it('leave “times” and “share” as names', () => {
    expect(errors(`${model.replaceAll('level', 'times')}`)).toEqual([]);
    expect(errors(`${model}summary s = times height > 1\n`)).toEqual(['syntax/rest']);
  });
});

describe('moving and turning somebody else', () => {
  const model = (body: string, more = ''): string => `model Push
clock
  end after 5 steps
space Field: plane 100 by 100
agent Post
  start 1 at (10, 20), facing 90 deg
agent Vole
  start 2 at (50, 50), facing 0 deg
  has post: Post = nobody
  has mate: Vole = nobody
  behaviour push when number is 1
${body
  .split('\n')
  .map((line) => `    ${line}`)
  .join('\n')}
${more}order
  push in turn
measure x = sum of it.x over Post
measure y = sum of it.y over Post
measure facing = sum of it.direction over Post
measure mates = sum of it.x over Vole
measure present = count Post where it.place is not nowhere
`;
  const after = (body: string): number[] => rowsInBoth(model(body), 1).map((row) => Math.round(row[1]! * 1e6) / 1e6);

  it.each([
    ['with v = first Post\n  move v to (30, 40)', [30, 40, 90]],
    ['with v = first Post\n  move v by 5', [15, 20, 90]],
    ['with v = first Post\n  turn v to 180 deg\n  move v by 5', [10, 15, 180]],
    ['with v = first Post\n  turn v by -45 deg', [10, 20, 45]],
    ['with v = first Post\n  turn v to here', [10, 20, 53.130102]],
    ['with v = first Post\n  move v toward self by 10', [18, 26, 53.130102]],
    ['with v = first Post\n  move v toward (10, 22) by 10', [10, 22, 0]],
    ['with v = first Post\n  move v to here', [50, 50, 90]],
    ['for each v in Post\n  move v to (v.x + 1, v.y)', [11, 20, 90]],
  ])('%s', (body, wanted) => {
    const [x, y, facing] = after(body);
    expect([x, y, facing]).toEqual(wanted);
  });

  it('lets somebody vanish', () => {
    expect(after('with v = first Post\n  move v to nowhere')[4]).toBe(0);
  });

  it('does nothing with somebody who is nobody, and needs no block for it', () => {
    const untouched = [10, 20, 90, 100, 1];
    for (const line of [
      'move toward post by 5',
      'turn to post',
      'move to mate',
      'move post to (1, 1)',
      'turn post by 9 deg',
      'move post toward self by 3',
      'move toward mate by 1',
      'remove post',
    ])
      expect(after(line), line).toEqual(untouched);
    // Somebody who is there is gone to.
    expect(after('post = first Post\nmove toward post by 5\nmove to post')[3]).toBe(60);
  });

  it('is refused all at once, off space, and along lanes', () => {
    const body = 'with v = first Post\n  move v by 5';
    expect(errors(model(body).replace('push in turn', 'push all at once'))).toEqual(['order/turns']);
    expect(errors(model('move x to here'))).toContain('type/expected');
    expect(errors(model('move nobody_here to here'))).toContain('name/unknown');
  });
});

describe('fields', () => {
  const model = (line: string): string => `model Smear
clock
  end after 3 steps
space Field: plane 20 by 10
field smear on Field, cells of 2
  start 3
field other on Field
  start 1
agent Vole
  start 1 at (5, 5)
  behaviour mark
    smear += 10
behaviour clean every 2 steps
  ${line}
order
  mark in turn
  clean
measure total = sum of smear
`;

  it('are set everywhere at once where nobody asks', () => {
    // 50 cells of 3, and 10 more in one of them.
    expect(rowsInBoth(model('smear = 0'), 3)[0]).toEqual([150, 160, 170, 0]);
    expect(rowsInBoth(model('smear += 1'), 3)[0]).toEqual([150, 160, 170, 230]);
    expect(rowsInBoth(model('smear *= 0.5'), 3)[0]).toEqual([150, 160, 170, 90]);
    const drawn = rowsInBoth(
      model('smear = uniform(0, 1)').replace('sum of smear', 'max of smear - min of smear'),
      3,
    )[0];
    expect(drawn![3], 'one value for all').toBe(0);
    expect(errors(model('smear = smear + 1'))).toEqual(['name/field-place']);
    expect(errors(model('smear = yes'))).toEqual(['type/expected']);
  });
});

describe('loops and names', () => {
  it('are left also from within an “if”', () => {
    const model = (body: string): string => `model Loop
clock
  end after 2 steps
agent Vole
  start 1
  has tries = 0
  behaviour try
    repeat at most 9 times
      tries += 1
${body}
order
  try in turn
measure tries = sum of it.tries over Vole
`;
    expect(rowsInBoth(model('      if tries > 3\n        until tries > 4'), 1)[0]).toEqual([0, 5]);
    expect(
      rowsInBoth(model('      if tries > 3\n        tries += 1\n      else\n        until tries is 2'), 1)[0],
    ).toEqual([0, 2]);
    expect(errors(model('      for each v in Vole\n        until tries > 4'))).toEqual(['syntax/until']);
  });

  it('may be Over, Near and From', () => {
    const text = `model Names
clock
  end after 3 steps
agent Vole
  start 5
  states spot
    Near
      chance 1: Over
    Over
      chance 1: From
    From
order
  spot in turn
measure near = count Vole where it.spot is Near
measure over_ = count Vole where it.spot is Over
measure all_ = sum of (if it.spot is one of Over, From then 1 else 0) over Vole where it.spot is not Near
`;
    expect(rowsInBoth(text, 2)).toEqual([
      [5, 0, 0],
      [0, 5, 0],
      [0, 5, 5],
    ]);
  });
});

describe('values of the whole model', () => {
  const model = (derives: string, rule = 'let seen = crowd'): string => `model Crowd
clock
  end after 3 steps
space Field: grid 9 by 9
${derives}
agent Vole
  start 4 at (4, 4)
  has energy = number
  behaviour look
    ${rule}
    energy += 1
order
  look in turn
measure m = crowd
measure energy = sum of it.energy over Vole
`;

  it('are the same whoever reads them, the asker included', () => {
    const derives = 'derive crowd = count Vole\nderive wealth = mean of it.energy over Vole';
    const [crowd, energy] = rowsInBoth(model(derives, 'energy += crowd + 0 * wealth'), 2);
    expect(crowd).toEqual([4, 4, 4]);
    // Each of four adds 4 and 1 in a step.
    expect(energy).toEqual([10, 30, 50]);
  });

  it('are read anew by everyone in turn', () => {
    const derives = 'derive crowd = count Vole where it.energy > 4';
    const counted = model(derives, 'energy += crowd').replace('  look in turn', '  look in fixed order');
    // 1, 2, 3, 4: nobody above 4; each adds 1, so that the last is at 5. Then 2 + 1 + 1, 3 + 1 + 1, 4 + 2 + 1, 5 + 3 + 1.
    expect(rowsInBoth(counted, 2)).toEqual([
      [0, 1, 3],
      [10, 14, 25],
    ]);
  });

  it.each([
    ['derive crowd = other\nderive other = crowd', 'let seen = 1', 'name/circle'],
    ['derive crowd = chance(0.5)', 'let seen = 1', 'type/draw'],
    ['derive crowd = energy', 'let seen = 1', 'name/measure'],
    ['derive crowd = count Vole', 'crowd = 3', 'name/cannot-set'],
    ['derive crowd = count Vole\nvariable crowd = 1', 'let seen = 1', 'name/taken'],
    ['derive crowd = count Vole', 'let crowd = 1', 'name/taken'],
  ])('%s, then %s: %s', (derives, rule, code) => {
    expect(errors(model(derives, rule))).toContain(code);
  });
});

describe('formulas of somebody else', () => {
  const model = (value: string): string => `model Deals
clock
  end after 2 steps
define worth(x) = x * energy
agent Vole
  start 2
  has energy = 10 * number
  has friend: Vole = nobody
  has gained = 0
  define gain(effort, cost) = effort * energy - cost * number
  behaviour deal
    with v = first Vole
      gained = ${value}
order
  deal in fixed order
measure of_one = sum of it.gained over Vole where it.number is 1
measure of_two = sum of it.gained over Vole where it.number is 2
`;

  it.each([
    ['v.gain(2, 1)', [38, 19]],
    ['v.gain(2, cost = 1) - gain(2, 1)', [19, -19]],
    ['v.gain(v.energy, gain(1, 0))', [20 * 20 - 10 * 2, 10 * 10 - 20 * 1]],
    ['v.worth(2)', [40, 20]],
    ['v.worth(v.worth(1))', [400, 100]],
  ])('%s', (value, [first, second]) => {
    expect(rowsInBoth(model(value), 1).map((rows) => rows[1])).toEqual([first, second]);
  });

  it.each([
    ['friend.gain(1, 1)', 'type/maybe-nobody'],
    ['v.win(1, 1)', 'name/function'],
    ['v.gain(1)', 'type/arguments'],
    ['energy.gain(1, 1)', 'name/not-agent'],
    ['v.normal(0, 1)', 'name/function'],
    ['nobody_there.gain(1, 1)', 'name/unknown'],
  ])('%s is %s', (value, code) => {
    expect(errors(model(value))).toContain(code);
  });
});

describe('fields that are kept below another field', () => {
  const model = (lines: string, order = 'bite in turn\n  grass, roof'): string => `model Roofs
clock
  end after 3 steps
space Field: grid 3 by 1
field grass on Field
  start 5
  ${lines}
field roof on Field
  start x
  grow 1
agent Vole
  start 1 at (0, 0)
  behaviour bite
    grass at (1, 0) += 7
order
  ${order}
measure there = 0
`;
  const sums = (text: string): (readonly number[])[] =>
    [0, 1, 2].map(
      (x) =>
        rowsInBoth(
          text.replace('measure there = 0', `measure there = sum of grass at it over cells where it.x is ${x}`),
          2,
        )[0]!,
    );

  it('at the start, in what is written and in what grows', () => {
    // The roof is 0, 1, 2, then 1, 2, 3: it grows after what is written, and with the grass, which sees it as it was.
    expect(sums(model('grow 10\n  keep 0 to roof'))).toEqual([
      [0, 0, 1],
      [1, 1, 2],
      [2, 2, 3],
    ]);
  });

  it('all at once as well, and at their place in the order, though nothing else changes them', () => {
    expect(sums(model('keep roof - 1 to roof', 'bite all at once\n  roof'))).toEqual([
      [0, 0, 1],
      [1, 1, 2],
      [2, 2, 3],
    ]);
  });

  it('and below a number that the timeline moves', () => {
    const [first] = sums(`${model('keep 0 to most')}\nparameter most = 4\ntimeline\n  at 1 step: most = 3\n`);
    expect(first).toEqual([4, 4, 3]);
  });

  it.each([
    ['keep 0 to grass', 'name/circle'],
    ['keep 0 to uniform(0, 1)', 'type/draw'],
    ['keep 0 to energy', 'name/unknown'],
    ['keep 0 to here', 'type/expected'],
  ])('%s is %s', (lines, code) => {
    expect(errors(model(lines))).toContain(code);
  });
});

describe('variables that a table gives', () => {
  const model = (rows: string, line = 'variable rain from "rain.csv"', rule = 'seen = rain'): string => `model Rain
clock
  step 1 day from 2031-05-16
  end after 5 days
data "rain.csv"
${rows
  .split('\n')
  .map((row) => `  ${row}`)
  .join('\n')}
${line}
variable seen = 0
behaviour look
  ${rule}
order
  look
measure at_end = rain
measure acted = seen
`;

  it('hold from each row to the next; those before the start count', () => {
    const rows = 'date,rain\n2031-05-12,9\n2031-05-15,1\n2031-05-17,2\n2031-05-18,\n2031-05-19,3';
    // A row of the run is taken at the end of a step, with the value that has held through it.
    expect(rowsInBoth(model(rows), 5)).toEqual([
      [1, 1, 2, 2, 3, 3],
      [0, 1, 2, 2, 3, 3],
    ]);
  });

  it.each([
    ['step,rain\n0,1\n2,5', [1, 1, 1, 5, 5, 5]],
    ['hour,rain\n0,1\n12,7\n48,5', [1, 1, 7, 5, 5, 5]],
    ['time,rain,other\n0,1,8\n4,5,9', [1, 1, 1, 1, 1, 5]],
    ['Week;how much\n-1;3\n1;5', [3, 3, 3, 3, 3, 3]],
    ['date,rain\n16.05.2031,1\n19.05.2031,4', [1, 1, 1, 1, 4, 4]],
  ])('with times as in %s', (rows, wanted) => {
    expect(rowsInBoth(model(rows), 5)[0]).toEqual(wanted);
  });

  it('are of a unit, or of words', () => {
    const inMetres = 'space Field: plane 10 m by 10 m\nvariable rain from "rain.csv", column wet in mm';
    expect(rowsInBoth(model('step,wet,dry\n0,2000,1', inMetres, 'seen = rain / 1 m'), 2)[1]).toEqual([0, 2, 2]);
    const words = 'variable rain from "rain.csv" of dry, wet';
    const rule = 'seen = if rain is wet then 1 else 2';
    const text = model('step,rain\n0,dry\n1,WET', words, rule).replace('at_end = rain', 'at_end = seen');
    expect(rowsInBoth(text, 3)[1]).toEqual([0, 2, 1, 1]);
  });

  it.each([
    ['step,rain\n1,1', 'file/content', 'after the start'],
    ['step,rain\n0,much', 'file/content', '“much” is no value'],
    ['step,rain\n0,1\n0,2', 'file/content', 'in the order of time'],
    ['step,rain\n0,1\n2,1\n1,1', 'file/content', 'in the order of time'],
    ['step,wet,dry\n0,1,2', 'file/content', 'no column “rain”'],
    ['rain\n1', 'file/content', 'a column of times'],
    ['date,rain\n03/04/2031,1\n05/06/2031,2', 'file/content', 'the day or the month'],
    ['date,rain\n2031-02-30,1', 'file/content', 'no date'],
    ['date,rain\n,1', 'file/content', 'no date'],
    ['step,rain\nNaN,1', 'file/content', 'no time'],
    ['step,rain\n0,NA', 'file/content', 'no values'],
    ['step,rain', 'file/content', 'no values'],
  ])('%s is refused', (rows, code, what) => {
    const { diagnostics } = checkModel(model(rows));
    expect(diagnostics.map((d) => d.code)).toContain(code);
    expect(diagnostics.map((d) => d.message).join()).toContain(what);
  });

  it('are not set, want their file, and may end too soon', () => {
    const good = 'step,rain\n0,1\n4,2';
    expect(errors(model(good, undefined, 'rain = 2'))).toContain('name/cannot-set');
    expect(errors(model(good, 'variable rain from "other.csv"'))).toContain('file/missing');
    const codes = (rows: string): string[] => checkModel(model(rows)).diagnostics.map((d) => d.code);
    expect(codes(good)).toEqual([]);
    expect(codes('step,rain\n0,1\n1,2\n2,1')).toEqual(['doubt/series-ends']);
    // A year and a day of yearly rows.
    expect(codes('date,rain\n2030-05-16,1\n2031-05-16,2')).toEqual([]);
  });
});

describe('records', () => {
  const model = (records: string): string => `model Market
clock
  end after 2 steps
space Field: grid 2 by 2
field grass on Field
  start x + 10 * y
  grow 1
agent Vole
  start 1 at (0, 0)
  start 1 at (1, 1)
  has purse = 10 * number
interaction barter: a Vole, b Vole
  within 3
  where a.number is 1
  let price = b.purse / 2
  let dealt = price > 5
  b.purse -= price
${records}
order
  barter in turn
measure m = sum of it.purse over Vole
`;
  const recorded = (records: string): number[][] => {
    const plan = planOf(model(records));
    const [compiled, interpreted] = [compiledRun, interpretedRun].map((make) => {
      const { executable } = make(plan);
      executable.recording = true;
      new Run(executable, [], 1).runTo();
      return executable.records.map(({ data }) => [...data]);
    });
    expect(interpreted).toEqual(compiled);
    return compiled!;
  };

  it('hold what a meeting has named, and what is left when it is over', () => {
    // The second vole has 20; it gives 10, then 5, which is no deal.
    const [atEnd, asTheyMeet] = recorded('record barter: price, b.purse when dealt\nrecord barter: b.purse');
    expect(atEnd).toEqual([1, 1, 2, 10, 10]);
    expect(asTheyMeet).toEqual([1, 1, 2, 20, 2, 1, 2, 10]);
    // A name of the meeting alone, too, makes it be read at the end.
    expect(recorded('record barter: price, b.purse')[0]).toEqual([1, 1, 2, 10, 10, 2, 1, 2, 5, 5]);
  });

  it('hold agents that fit, and the cells of fields', () => {
    const [rich, cells] = recorded('record Vole: purse when purse > 9\nrecord grass every 2 steps');
    expect(rich).toEqual([0, 1, 10, 0, 2, 20, 1, 1, 10, 1, 2, 10, 2, 1, 10]);
    expect(cells).toEqual([
      ...[0, 0, 0, 0, 0, 1, 0, 1, 0, 0, 1, 10, 0, 1, 1, 11],
      ...[2, 0, 0, 2, 2, 1, 0, 3, 2, 0, 1, 12, 2, 1, 1, 13],
    ]);
  });

  it.each([
    ['record grass: grass every 2 steps', 'type/expected'],
    ['record grass when grass > 1', 'type/expected'],
    ['record Vole: purse when purse', 'type/expected'],
    ['record barter: cost when dealt', 'name/unknown'],
    ['record Vole: price', 'name/unknown'],
  ])('%s is %s', (records, code) => {
    expect(errors(model(records))).toContain(code);
  });
});

describe('fields of words', () => {
  const model = (lines: string, rule = 'ground = ash', shows = ''): string => `model Ground
clock
  end after 3 steps
parameter full = 3
space Moor: grid 3 by 1
field ground on Moor
  ${lines}
agent Vole
  start 1 at (1, 0)
  has heart = 2
  behaviour tread
    ${rule}
order
  tread in turn
  ground
measure at_vole = sum of (if ground at it is ash then 1 else 0) over cells where it.x is 1
${shows}
`;
  const optionsOf = (text: string) => planOf(text).fields[0]!.options;

  it('have their words from where they start, become others and are written to', () => {
    expect(optionsOf(model('start bare\n  becomes heather when ground is bare'))).toEqual(['bare', 'heather', 'ash']);
    expect(optionsOf(model('start pick(bare, Heather)', 'ground at (0, 0) = if full > 2 then ash else bare'))).toEqual([
      'bare',
      'Heather',
      'ash',
    ]);
    expect(
      optionsOf(model('start bare of bare, heather', 'ground = heather', 'measure n = 1').replace(/measure at.*/, '')),
    ).toEqual(['bare', 'heather']);
    expect(rowsInBoth(model('start bare'), 2)[0]).toEqual([0, 1, 1]);
  });

  it('are no fields of words where a name stands for something else', () => {
    expect(
      optionsOf(model('start full\n  becomes full + x when x > 1', 'ground = heart').replace(/measure at.*/, '')),
    ).toBeUndefined();
    expect(optionsOf(model('start x', 'ground = heart').replace(/measure at.*/, ''))).toBeUndefined();
  });

  it.each([
    ['start bare of bare, heather', 'ground = ash', 'name/choice'],
    ['start bare\n  becomes ash when x > 3', 'ground = 3', 'type/expected'],
    ['start bare\n  becomes ash when x > 3', 'ground += 1', 'type/expected'],
    ['start bare\n  grow 1', 'ground = ash', 'type/expected'],
    ['start fulll', 'ground = full', 'name/unknown'],
  ])('%s, then %s is %s', (lines, rule, code) => {
    expect(errors(model(lines, rule))).toContain(code);
  });

  it('have colours for their words', () => {
    const shown = (shows: string) => model('start bare\n  becomes heather when x > 3', 'ground = ash', shows);
    expect(planOf(shown('show ground: ash stone, Bare straw')).fields[0]!.optionColours).toEqual([
      'straw',
      undefined,
      'stone',
    ]);
    expect(errors(shown('show ground: mud stone'))).toEqual(['name/choice']);
    expect(errors(shown('show ground: ash grey'))).toEqual(['name/look']);
    expect(errors(shown('show Vole: dot, ash stone'))).toEqual(['type/expected']);
    expect(errors(shown('show Vole: dot, colour by heart, ash stone'))).toEqual(['type/expected']);
  });

  it('doubt a word that stands alone and looks like another', () => {
    const codes = (rule: string) => checkModel(model('start burning\n  becomes ash when x > 3', rule)).diagnostics;
    expect(codes('ground = burnign').map(({ code }) => code)).toContain('doubt/word');
    expect(codes('ground = burning').map(({ code }) => code)).not.toContain('doubt/word');
  });
});

describe('measures by group', () => {
  const model = (measure: string, more = ''): string => `model Groups
clock
  end after 3 steps
agent Vole
  start 6
  has coat = brown of brown, grey
  has tall = number > 4
  has weight = 10 * number
  states life
    Young
      when number > 2: Old
    Old
  behaviour turn_grey
    coat = if number is 1 then grey else brown
    with v = random Vole
      if v.weight < 0
        weight = v.weight
order
  turn_grey in turn
  life in turn
${measure}
${more}
`;

  it.each([
    ['measure n by life = count Vole', ['n.Young', 'n.Old'], [2, 4]],
    ['measure n by coat = count Vole where it.tall', ['n.brown', 'n.grey'], [2, 0]],
    ['measure n by tall = mean of it.weight over Vole', ['n.no', 'n.yes'], [25, 55]],
    ['measure n by LIFE = count Vole', ['n.Young', 'n.Old'], [2, 4]],
    // Somebody in a rule may have the name of a measure.
    ['measure v by life = count Vole', ['v.Young', 'v.Old'], [2, 4]],
    ['measure n by coat = share of Vole where it.tall', ['n.brown', 'n.grey'], [2 / 5, 0]],
    ['measure n by life = (sum of it.weight over Vole) / count Vole', ['n.Young', 'n.Old'], [15, 45]],
  ])('%s', (measure, names, wanted) => {
    const text = model(measure);
    expect(planOf(text).measures.map(({ name }) => name)).toEqual(names);
    expect(rowsInBoth(text, 1).map((rows) => rows[1])).toEqual(wanted);
  });

  it('stand for themselves in charts, and one by one in whatever reads measures', () => {
    const more =
      'measure old = n.Old + 1\nsummary most = max of n.OLD\nchart All: n\nchart One: n.young, old, n.Old / 2';
    const { measures, charts } = planOf(model('measure n by life = count Vole', more));
    const named = charts.map((chart) => chart.measures.map((m) => measures[m]!.name));
    expect(named).toEqual([
      ['n.Young', 'n.Old'],
      ['n.Young', 'old', 'n.Old / 2'],
    ]);
    expect(rowsInBoth(model('measure n by life = count Vole', more), 1)[2]).toEqual([1, 5]);
  });

  it.each([
    ['measure n by weight = count Vole', '', 'type/expected'],
    ['measure n by mood = count Vole', '', 'type/expected'],
    ['measure n by life = 3', '', 'type/expected'],
    ['measure n by life = count Vole', 'measure m = n', 'name/measure'],
    ['measure n by life = count Vole', 'measure m = n.Younger', 'name/choice'],
    ['measure n by life = count Vole', 'chart All: n.Younger', 'name/choice'],
    ['measure n by life = count Vole', 'measure n = 3', 'name/taken'],
    ['measure n by life = count Voles', '', 'name/kind'],
  ])('%s with %s is %s, once', (measure, more, code) => {
    expect(errors(model(measure, more))).toEqual([code]);
  });
});

describe('charts', () => {
  const model = (chart: string): string => `model Charts
clock
  end after 3 steps
space Field: plane 9 by 9
agent Vole
  start 6 anywhere
  has weight = 10 * number
  has coat = brown of brown, grey
  behaviour grow
    weight += 1
    coat = if number > 4 then grey else brown
order
  grow in turn
measure heavy = count Vole where it.weight > 30
measure whole = count Vole
chart Shown: ${chart}
`;

  it('of a distribution hold what agents that fit have at a step', () => {
    const shown = (chart: string, most = 100): number[] => [...distribution(chart, most).values];
    const distribution = (chart: string, most: number) => {
      const executable = compilePlan(planOf(model(chart))).executable();
      new Run(executable, [], 1).next();
      return executable.distributionOf(0, most);
    };
    expect(shown('distribution of it.weight over Vole')).toEqual([11, 21, 31, 41, 51, 61]);
    expect(shown('distribution of (100 / (it.weight - 11)) over Vole where it.weight > 40')).toEqual(
      [41, 51, 61].map((weight) => 100 / (weight - 11)),
    );
    expect(shown('distribution of it.weight over Vole where it.weight > 900')).toEqual([]);
    // Of more than are wanted every so manyth is looked at.
    expect(shown('distribution of it.weight over Vole', 3)).toEqual([11, 31, 51]);
    expect(distribution('distribution of it.weight over Vole', 3).of).toBe(3);
    // What is beyond all numbers stops no run that is only looked at.
    expect(shown('distribution of (1 / (it.weight - 31)) over Vole')).toHaveLength(5);
    expect(shown('heavy')).toEqual([]);
  });

  it('of measures against another name it', () => {
    const { charts, measures } = planOf(model('heavy, whole / 2 against whole'));
    const [{ measures: shown, against }] = charts as [(typeof charts)[number]];
    expect([...shown, against!].map((m) => measures[m]!.name)).toEqual(['heavy', 'whole / 2', 'whole']);
  });

  it.each([
    ['distribution of it.weight over Vole within 3 of (0, 0)', 'type/expected'],
    ['distribution of it.weight', 'type/expected'],
    ['distribution of it.coat over Vole', 'type/expected'],
    ['distribution of uniform(0, it.weight) over Vole', 'type/draw'],
    ['distribution of it.weight over Voles', 'name/kind'],
    ['heavy against wole', 'name/unknown'],
    ['heavy against', 'syntax/value'],
  ])('%s is %s', (chart, code) => {
    expect(errors(model(chart))).toContain(code);
  });
});

describe('tables that the text holds', () => {
  it('keep their head in the usual layout, whatever it names', () => {
    const text = `model Weighed

data "voles.csv"
  Weight, age
  3, 4

agent Vole
  start from "voles.csv"
  has weight = 0
  has age = 0
`;
    const { loaded } = loadModel(text);
    expect(formatModel(text, loaded!.checked.uses)).toBe(text);
  });
});

describe('cells that are asked for by a field', () => {
  const model = (space: string, cells: string, measure = ''): string => `model Scents
clock
  step 1 day
  end after 3 days
space Moor: ${space}
field scent on Moor${cells}
  start uniform(0, 1)
agent Vole
  start 20 anywhere
  has best = 0
  has at_it = 0
  has first_ = 0
  has second_ = 0
  has near = 0
  has next_ = 0
  behaviour smell
    move to somewhere
    best = max of scent over cells next to here
    at_it = max of (scent at it) over cells next to here
    near = count cells within 20 m next to here where scent > 0.2
    next_ = count cells next to here where scent at it > 0.2
    with c = cells within 20 m with most scent
      first_ = scent at c
    with c = cells within 20 m with most scent at it
      second_ = scent at c
measure best = sum of it.best over Vole
measure at_it = sum of it.at_it over Vole
measure near = sum of it.near over Vole
measure next_ = sum of it.next_ over Vole
measure first_ = sum of it.first_ over Vole
measure second_ = sum of it.second_ over Vole
measure top = max of scent over cells
measure top_of_all = max of scent
measure many = count cells where scent > 0.5
measure many_at = count cells where scent at it > 0.5
${measure}
`;

  it.each([
    ['grid 14 by 9, cells of 5 m', ''],
    ['plane 60 m by 44 m, wrapping, cells of 5 m', ', cells of 5 m'],
    ['plane 60 m by 44 m, wrapping', ', cells of 5 m'],
    ['plane 60 m by 44 m, walled', ', cells of 7 m'],
  ])('are read as theirs without “at it”: %s%s', (space, cells) => {
    const rows = rowsInBoth(model(space, cells), 3);
    for (let i = 0; i < rows.length; i += 2) expect(rows[i]).toEqual(rows[i + 1]);
    expect(Math.min(...rows.map((row) => row[3]!))).toBeGreaterThan(0);
  });

  it('are those of the one field that is meant', () => {
    const plane = (measure: string): string[] =>
      errors(
        model('plane 60 m by 44 m', ', cells of 5 m', `field heather on Moor, cells of 3 m\n  start 1\n${measure}`),
      );
    expect(plane('measure m = mean of heather over cells where scent at it > 0.5')).toEqual([]);
    expect(plane('measure m = max of (scent + heather) over cells')).toEqual(['query/cells']);
    expect(plane('measure m = count empty cells where scent at it > 0.5')).toEqual(['query/cells']);
    expect(plane('measure m = count cells where x > 3 m')).toContain('query/cells');
    // Where the candidate has a name, a bare field is still that of the asker, of whom there is none here.
    expect(plane('measure m = count cells where scent at it > scent')).toContain('name/field-place');
    const [heather] = rowsInBoth(
      model(
        'plane 60 m by 44 m',
        ', cells of 5 m',
        `field heather on Moor, cells of 3 m\n  start x / 1 m\nmeasure h = max of heather over cells`,
      ),
      1,
    ).slice(-1);
    expect(heather![1]).toBe(58.5);
  });
});
