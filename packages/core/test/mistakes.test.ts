import { describe, expect, it } from 'vitest';
import { applyEdits } from '../src/diagnostics.ts';
import { checkModel } from '../src/language/checker.ts';

/**
 * Small wrong models as newcomers write them: each says what is wrong, at which piece of the text, and, where it can, how to mend it. The first
 * repair is applied, and the mistake must be gone.
 */

interface Mistake {
  readonly name: string;
  /** Lines of the behaviour of a Vole, or parts at the margin. */
  readonly lines?: string;
  readonly parts?: string;
  readonly code: string;
  readonly piece: string;
  readonly says: RegExp;
  /** The repair is offered, and mends it. */
  readonly mends?: boolean;
}

const BASE = `model Wrong
clock
  step 1 day
  end after 30 days
parameter sight = 5 m, from 1 to 20
tally bites
message Alarm
  has level = 1
space Meadow: grid 20 by 20
zone Pond on Meadow
  circle 3 around (5, 5)
field grass on Meadow
  start uniform(0, 1)
  grow 0.1 per day * (1 - grass)
network Kin ties Vole to Vole: ring, 4 neighbours
  has warmth = 1
agent Owl
  start 2 anywhere
  has wingspan = 2
agent Vole
  start 20 anywhere
  has energy = 1
  has mother: Vole = nobody
  has friends: last 3 Vole
  states life
    Young
      after 20 days: Old
    Old
  on Alarm as call
    energy += call.level
`;

const MISTAKES: readonly Mistake[] = [
  {
    name: 'bounds of a field that pass one another',
    parts: 'field dung on Meadow\n  start 0.5\n  keep 2 / 2 to 0\n',
    code: 'type/bounds',
    piece: '2 / 2 to 0',
    says: /first bound lies above the second/,
    mends: true,
  },
  {
    name: 'a share without its “of”',
    parts: 'measure tired = share Vole where it.energy < 1\n',
    code: 'syntax/missing',
    piece: 'Vole',
    says: /“of” is missing before “Vole”/,
    mends: true,
  },
  {
    name: 'the last of a course without its “of”',
    parts: 'measure fit = count Vole\nsummary at_end = last fit\n',
    code: 'syntax/missing',
    piece: 'fit',
    says: /“last of” needs its “of”/,
    mends: true,
  },
  {
    name: 'a sentence below its parameter',
    parts: 'parameter hunger = 1\n  "How much it eats."\n',
    code: 'layout/deeper',
    piece: '"How much it eats."',
    says: /stands at the end of the line that it is about/,
    mends: true,
  },
  {
    name: 'a candidate forgotten in a condition',
    lines: 'energy += count Vole within 3 where energy > 1',
    code: 'query/no-it',
    piece: 'energy > 1',
    says: /never looks at the candidate/,
  },
  {
    name: 'an attribute of one who may be nobody',
    lines: 'energy = mother.energy',
    code: 'type/maybe-nobody',
    piece: 'mother',
    says: /may be nobody/,
    mends: true,
  },
  {
    name: 'an attribute of another kind',
    lines: 'energy += wingspan',
    code: 'name/unknown',
    piece: 'wingspan',
    says: /Owl has it/,
  },
  {
    name: 'an attribute of another kind by name',
    lines: 'with o = nearest Owl\n      o.energy = 1',
    code: 'name/attribute',
    piece: 'energy',
    says: /Owl has no attribute “energy”\. Vole have? one|Vole has one/,
  },
  {
    name: 'a network misspelt',
    lines: 'energy += count Vole tied by Kim',
    code: 'name/network',
    piece: 'Kim',
    says: /no network “Kim”/,
    mends: true,
  },
  {
    name: 'a kind that is not tied',
    lines: 'energy += count Owl tied by Kin',
    code: 'query/tied',
    piece: 'Kin',
    says: /ties Vole to Vole/,
  },
  {
    name: 'a message misspelt',
    lines: 'send Alarn to all Vole',
    code: 'name/message',
    piece: 'Alarn',
    says: /no message “Alarn”/,
    mends: true,
  },
  {
    name: 'a message with what it does not hold',
    lines: 'send Alarm(loudness = 3) to all Vole',
    code: 'type/arguments',
    piece: 'loudness = 3',
    says: /level = \.\.\./,
  },
  {
    name: 'a message to no agents',
    lines: 'send Alarm to all cells within 2',
    code: 'type/expected',
    piece: 'cells within 2',
    says: /Agents/,
  },
  {
    name: 'a zone misspelt',
    lines: 'if here is in zone Pont\n      energy = 2',
    code: 'name/zone',
    piece: 'Pont',
    says: /no zone/,
    mends: true,
  },
  {
    name: 'a routine that is not there',
    lines: 'do feed(2)',
    code: 'name/routine',
    piece: 'feed',
    says: /no routine “feed”/,
  },
  {
    name: 'adding to what is no list',
    lines: 'add 3 to energy',
    code: 'name/tally',
    piece: 'energy',
    says: /neither a tally nor a list/,
  },
  {
    name: 'adding the wrong thing to a list',
    lines: 'add energy to friends',
    code: 'type/expected',
    piece: 'energy',
    says: /A Vole is expected/,
  },
  {
    name: 'setting a list',
    lines: 'friends = 3',
    code: 'name/cannot-set',
    piece: 'friends',
    says: /use “add \.\.\. to”/,
  },
  {
    name: 'reading a tally bare',
    lines: 'energy += bites',
    code: 'type/expected',
    piece: 'bites',
    says: /the tally bites/,
  },
  {
    name: 'until without a loop',
    lines: 'until energy > 2',
    code: 'syntax/until',
    piece: 'until energy > 2',
    says: /repeat at most/,
  },
  {
    name: 'a loop without a limit',
    lines: 'repeat\n      energy += 1',
    code: 'syntax/missing',
    piece: 't',
    says: /every loop has a limit/,
  },
  {
    name: 'a state that does not exist',
    lines: 'life = Olde',
    code: 'name/state',
    piece: 'Olde',
    says: /no state “Olde”/,
    mends: true,
  },
  {
    name: 'an agent compared with a number',
    lines: 'if mother is 3\n      energy = 2',
    code: 'type/compare',
    piece: 'mother is 3',
    says: /cannot be compared/,
  },
  {
    name: 'a value that points at nobody of no kind',
    parts:
      'agent Shrew\n  start 3 anywhere\n  has friend = nobody\nmeasure s = count Shrew where it.friend is nobody\nshow Shrew: dot\n',
    code: 'type/expected',
    piece: 'nobody',
    says: /A kind for an attribute/,
  },
  {
    name: 'a rate with mixing',
    parts: 'interaction meet: a Vole, b Vole\n  mixing 3\n  rate 0.1 per day\n  b.energy += 1\n',
    code: 'syntax/mixing',
    piece: '0.1 per day',
    says: /does not go with “mixing”/,
  },
  {
    name: 'a network nobody knows how to make',
    parts: 'network Web ties Vole to Vole: star\n',
    code: 'syntax/network',
    piece: 'star',
    says: /makes no network/,
  },
  {
    name: 'a ring between two kinds',
    parts: 'network Web ties Vole to Owl: ring, 4 neighbours\n',
    code: 'type/expected',
    piece: 'ring, 4 neighbours',
    says: /within one kind/,
  },
  {
    name: 'a file that is not there',
    parts: 'network Web ties Vole to Vole: from "web.csv"\n',
    code: 'file/missing',
    piece: '"web.csv"',
    says: /not there/,
  },
  {
    name: 'a table with a word for a number',
    parts:
      'data "s.csv"\n  x,y,k\n  1,2,three\nagent Shrew\n  start from "s.csv"\n  has k = 1\nmeasure s = sum of it.k over Shrew\nshow Shrew: dot\n',
    code: 'file/content',
    piece: '"s.csv"',
    says: /line 2: “three” is no number for k/,
  },
  {
    name: 'a formula that uses itself',
    parts: 'define f(x) = f(x) + 1\nmeasure m = f(2)\n',
    code: 'name/circle',
    piece: 'f(x)',
    says: /computed from itself/,
  },
  {
    name: 'a formula with too few inputs',
    parts: 'define f(x, y) = x + y\nmeasure m = f(2)\n',
    code: 'type/arguments',
    piece: 'f(2)',
    says: /f\(x, y\)/,
  },
  {
    name: 'luck in a formula',
    parts: 'define f(x) = x + normal(0, 1)\nmeasure m = f(2)\n',
    code: 'type/draw',
    piece: 'normal(0, 1)',
    says: /may not draw/,
  },
  {
    name: 'a unit nobody declared',
    parts: 'unit cart = 40 sack\n',
    code: 'name/unit',
    piece: 'sack',
    says: /no unit “sack”/,
  },
  {
    name: 'amounts of two units added',
    parts: 'unit sack\nunit crown\nvariable purse = 3 crown\nmeasure m = purse + 2 sack\n',
    code: 'type/unit-mismatch',
    piece: 'purse + 2 sack',
    says: /do not fit together/,
  },
  {
    name: 'shared turns all at once',
    parts: 'order\n  live, life all at once\n',
    code: 'order/mode',
    piece: 'live, life all at once',
    says: /share a turn/,
  },
  {
    name: 'a summary read by a measure',
    parts: 'measure v = count Vole\nsummary top = max of v\nmeasure m = top + 1\n',
    code: 'name/summary',
    piece: 'top',
    says: /only checks can read it/,
  },
  {
    name: 'a record of what is no kind',
    parts: 'record Voles: energy\n',
    code: 'name/record',
    piece: 'Voles',
    says: /neither a kind nor an interaction/,
    mends: true,
  },
  {
    name: 'riding in what has no seats',
    lines: 'board nearest Kestrel within 3',
    parts: 'agent Kestrel\n  start 3 anywhere\n',
    code: 'vehicle/seats',
    piece: 'board nearest Kestrel within 3',
    says: /“Kestrel” has no seats/,
    mends: true,
  },
  {
    name: 'a state with states inside as a value',
    parts:
      'agent Shrew\n  start 3 anywhere\n  states s\n    Up\n      High\n      Low\n    Down\n  behaviour go\n    s = if chance(0.5) then Up else Down\n',
    code: 'type/group',
    piece: 'Up',
    says: /states inside.*one of High, Low/,
    mends: true,
  },
  {
    name: 'a state with states inside counted out exactly',
    parts:
      'agent Shrew\n  start 3 anywhere\n  states s\n    start 2 of Up, rest Down\n    Up\n      High\n      Low\n    Down\n',
    code: 'type/group',
    piece: 'Up',
    says: /states inside/,
    mends: true,
  },
  {
    name: 'a word set in a check where a length belongs',
    parts:
      'measure crowd = count Vole\ncheck Odd\n  with sight = yes, over 3 seeds for 5 days\n  expect max of crowd > 0 in every run\n',
    code: 'type/expected',
    piece: 'yes',
    says: /length/,
  },
];

function textOf({ lines = 'energy += 0.1', parts = '' }: Mistake): string {
  return `${BASE}  behaviour live\n    ${lines}\n${parts}show Vole: leaf\nshow Owl: wing\nmeasure n = count Vole where it.life is Old or it.energy > 3\n`;
}

describe('mistakes of newcomers', () => {
  it.each(MISTAKES.map((mistake) => [mistake.name, mistake] as const))('%s', (_, mistake) => {
    const text = textOf(mistake);
    const { diagnostics } = checkModel(text);
    expect(diagnostics.map((d) => d.code)).toContain(mistake.code);
    const found = diagnostics.find((d) => d.code === mistake.code)!;
    expect(text.slice(found.span.start, found.span.end)).toBe(mistake.piece);
    expect(`${found.message} ${found.hint ?? ''}`).toMatch(mistake.says);
    if (!mistake.mends) return;
    const mended = applyEdits(text, found.fixes![0]!.edits);
    expect(checkModel(mended).diagnostics.filter((d) => d.code === mistake.code)).toEqual([]);
  });

  it('are one mistake each: nothing else is reported besides', () => {
    const noisy = MISTAKES.map(
      (mistake) =>
        [mistake.name, checkModel(textOf(mistake)).diagnostics.filter((d) => d.severity === 'error').length] as const,
    ).filter(([, count]) => count > 1);
    expect(noisy).toEqual([]);
  });

  it.each<[string, string, string, RegExp, boolean]>([
    ['a parameter that nobody reads', 'parameter spare = 1\n', 'doubt/unused', /parameter “spare” is never read/, true],
    ['a variable that nobody reads', 'variable spare = 1\n', 'doubt/unused', /variable “spare”/, true],
    ['a tally that nobody reads', 'tally spare\n', 'doubt/unused', /tally “spare”/, true],
    [
      'an attribute that nobody reads',
      'agent Shrew\n  start 3 anywhere\n  has spare = 1\nmeasure s = count Shrew\nshow Shrew: dot\n',
      'doubt/unused',
      /attribute “spare”/,
      true,
    ],
    [
      'a kind that is never there',
      'agent Shrew\n  has age = 0\nmeasure s = sum of it.age over Shrew\nshow Shrew: dot\n',
      'doubt/nobody',
      /No Shrew is there at the start/,
      true,
    ],
    [
      'all on one point',
      'agent Shrew\n  start 30 at (3, 3)\nmeasure s = count Shrew\nshow Shrew: dot\n',
      'doubt/stacked',
      /All Shrews start on one point/,
      true,
    ],
    [
      'a kind that is never drawn',
      'agent Shrew\n  start 3 anywhere\nmeasure s = count Shrew\n',
      'doubt/not-shown',
      /“Shrew” is never drawn/,
      true,
    ],
    [
      'a state that nothing leads to',
      'agent Shrew\n  start 3 anywhere\n  states s\n    Still\n    Gone\nmeasure s = count Shrew where it.s is Gone\nshow Shrew: dot\n',
      'doubt/unreachable',
      /state “Gone” is never reached/,
      false,
    ],
    [
      'a transition that cannot fire',
      'agent Shrew\n  start 3 anywhere\n  states s\n    Still\n      chance 0: Gone\n    Gone\nmeasure s = count Shrew where it.s is Gone\nshow Shrew: dot\n',
      'doubt/never',
      /its chance or rate is 0/,
      false,
    ],
  ])('doubts %s', (_, parts, code, says, mends) => {
    const text = textOf({ name: '', parts, code, piece: '', says });
    const isIt = (d: { code: string; message: string }): boolean => d.code === code && says.test(d.message);
    const found = checkModel(text).diagnostics.find(isIt)!;
    expect(
      checkModel(text)
        .diagnostics.map((d) => d.message)
        .join('\n'),
    ).toMatch(says);
    expect(found.severity).toBe('warning');
    expect(text.slice(found.span.start, found.span.end).length).toBeGreaterThan(0);
    if (!mends) return;
    const mended = checkModel(applyEdits(text, found.fixes![0]!.edits)).diagnostics;
    expect(mended.filter((d) => isIt(d) || d.severity === 'error')).toEqual([]);
  });

  it('doubts a model that measures nothing as soon as there is something to compare', () => {
    const bare = 'model Bare\nagent Vole\n  start 3\n  has age = 0\n  behaviour wait\n    age += 2 + age\n';
    expect(checkModel(bare).diagnostics).toEqual([]);
    const text = `parameter pace = 2\n${bare.replace('age += 2', 'age += pace')}`;
    const { diagnostics } = checkModel(text);
    expect(diagnostics.map((d) => d.code)).toEqual(['doubt/no-measure']);
    expect(checkModel(applyEdits(text, diagnostics[0]!.fixes![0]!.edits)).diagnostics).toEqual([]);
  });

  it('offers to remove what is never read only where nothing else names it', () => {
    const fixesOf = (more: string): number[] =>
      checkModel(`model Spare\nparameter spare = 1, from 0 to 3\nvariable idle = 2\nmeasure m = 1\n${more}`)
        .diagnostics.filter((d) => d.code === 'doubt/unused')
        .map((d) => d.fixes!.length);
    expect(fixesOf('')).toEqual([1, 1]);
    expect(fixesOf('check Fine\n  with spare = 2, over 2 seeds for 3 steps\n  expect m > 0\n')).toEqual([0, 1]);
    expect(fixesOf('timeline\n  at 3 steps: idle = 3\n')).toEqual([1]);
  });

  it('raises no doubts about what stands in lines that could not be read', () => {
    const text =
      'model Unread\nparameter pace = 2\nagent Vole\n  start 3 stps\n  has age = 0\n  behaviour go\n    age += pace )\nmeasure m = mean of it.age over Vole\n';
    expect(checkModel(text).diagnostics.map((d) => [d.severity, text.slice(d.span.start, d.span.end)])).toEqual([
      ['error', 'stps'],
      ['error', ')'],
    ]);
  });

  it('closes a bracket where it was left open, also when the next line was read on', () => {
    const text =
      'model Open\nparameter a = 1\nparameter b = 2\nagent Vole\n  start 1\n  has age = 0\n  behaviour go\n    let one = 2 * (a + b\n    let two = one\n    age += two\nmeasure m = mean of it.age over Vole\n';
    const found = checkModel(text).diagnostics.find((d) => d.code === 'syntax/missing')!;
    const mended = applyEdits(text, found.fixes![0]!.edits);
    expect(mended).toContain('2 * (a + b)\n');
    expect(checkModel(mended).diagnostics).toEqual([]);
  });

  it('doubts a point on which several stand, not several points or one who stands alone', () => {
    const codes = (starts: string): string[] =>
      checkModel(`model Points\nspace Field: plane 9 by 9, wrapping\nagent Vole\n${starts}`).diagnostics.map(
        (d) => d.code,
      );
    expect(codes('  start 5 at (1, 2)\n')).toEqual(['doubt/stacked']);
    expect(codes('  start 1 at (1, 2)\n  start 1 at (1,2)\n')).toEqual(['doubt/stacked']);
    for (const starts of [
      '  start 1 at (1, 2)\n',
      '  start 1 at (1, 2)\n  start 1 at (3, 2)\n',
      '  start 5 at (1, 2)\n  start 4 anywhere\n',
    ])
      expect(codes(starts)).toEqual([]);
  });

  it('doubts a kind that is not drawn only where another one is', () => {
    const kinds =
      'model Two\nspace Field: plane 9 by 9, wrapping\nagent Vole\n  start 3 anywhere\nagent Owl\n  start 1 anywhere\n';
    expect(checkModel(kinds).diagnostics).toEqual([]);
    expect(checkModel(`${kinds}show Owl: wing\n`).diagnostics.map((d) => d.message)).toEqual([
      '“Vole” is never drawn.',
    ]);
  });

  it('doubts what is never heard, sent or used', () => {
    const text = `model Doubts\nclock\n  end after 9 steps\nmessage Lost\nmessage Never\ntally idle\ndefine spare(x) = x\nnetwork Web ties Vole to Vole: none\nagent Vole\n  start 3\n  states s\n    Rest\n      on Never: Up\n    Up\n  behaviour call\n    send Lost to all Vole\nmeasure n = count Vole\n`;
    const codes = checkModel(text).diagnostics.map((d) => d.message);
    for (const piece of [
      '“Lost” is never heard',
      'nobody sends “Never”',
      'tally “idle”',
      'formula “spare”',
      'network “Web”',
    ])
      expect(
        codes.some((message) => message.includes(piece)),
        piece,
      ).toBe(true);
  });

  it('a rate per day under a clock that says nothing of days is told so, at the unit', () => {
    const text = 'model T\nclock\n  end after 5 steps\nparameter urge = 2 * 0.2 per day\nmeasure m = urge\n';
    const [found] = checkModel(text).diagnostics.filter(({ severity }) => severity === 'error');
    expect([found!.code, text.slice(found!.span.start, found!.span.end)]).toEqual(['type/no-clock', 'day']);
    expect(found!.hint).toContain('“step 1 day” under “clock”');
    expect(checkModel(applyEdits(text, found!.fixes![0]!.edits)).diagnostics.map(({ code }) => code)).not.toContain(
      'type/no-clock',
    );
    expect(checkModel(text.replace('clock', 'clock\n  step 1 day')).diagnostics).toEqual([]);
  });
});
