import { readdirSync, readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { applyEdits, DIAGNOSTIC_CODES } from '../src/diagnostics.ts';
import { checkModel } from '../src/language/checker.ts';

/** Every code of a finding is brought about by some test; those that no other test names are brought about here. */

const CORE = new URL('../', import.meta.url);
const HEAD = 'model Wrong\nclock\n  step 1 day\n  end after 9 days\n';
const PLANE = `${HEAD}space Meadow: plane 20 m by 20 m, wrapping\n`;
const VOLE = `${PLANE}agent Vole\n  start 3 anywhere\n`;

interface Case {
  readonly name: string;
  readonly text: string;
  readonly code: string;
  readonly piece: string;
  readonly says: RegExp;
  /** The first repair is applied, and the finding is gone. */
  readonly mends?: boolean;
}

const CASES: readonly Case[] = [
  {
    name: 'a word at the margin that begins no part',
    text: `${HEAD}vole Fred\n`,
    code: 'syntax/part',
    piece: 'vole',
    says: /“vole” does not begin a part/,
  },
  {
    name: 'a line that does not belong under its part',
    text: `${HEAD.replace('  step', '  pace 3\n  step')}`,
    code: 'syntax/line',
    piece: 'pace',
    says: /“pace” does not begin a line under “clock”.*step/,
  },
  {
    name: 'a part without a name',
    text: `${HEAD}parameter = 3\n`,
    code: 'syntax/name',
    piece: '=',
    says: /A name is missing before “=”/,
  },
  {
    name: 'a behaviour at the margin that acts for an agent',
    text: `${VOLE}has age = 1\n`,
    code: 'layout/under-agent',
    piece: 'has',
    says: /“has” belongs under an agent/,
    mends: true,
  },
  {
    name: 'a value that is left out',
    text: `${HEAD}parameter pace =\n`,
    code: 'syntax/value',
    piece: '',
    says: /A value is missing before/,
  },
  {
    name: 'a unit that is left out',
    text: `${HEAD}parameter pace = 3 per 4\nmeasure m = pace\n`,
    code: 'syntax/unit',
    piece: '',
    says: /A unit is missing/,
  },
  {
    name: 'a number of neighbours that no cell has',
    text: `${HEAD}space Meadow: grid 9 by 9, 5 neighbours\n`,
    code: 'syntax/neighbours',
    piece: '5',
    says: /4, 6 or 8 neighbours/,
    mends: true,
  },
  {
    name: 'a list that is too long',
    text: `${VOLE}  has friends: last 900 Vole\n`,
    code: 'syntax/list',
    piece: '900',
    says: /A list keeps from 1 to 64/,
    mends: true,
  },
  {
    name: 'half a partner',
    text: `${VOLE}interaction meet: a Vole, b Vole\n  random 0.5 tied by Kin\nnetwork Kin ties Vole to Vole: none\norder\n  meet in turn\n`,
    code: 'syntax/partners',
    piece: '0.5',
    says: /Partners are counted in whole numbers from 1/,
    mends: true,
  },
  {
    name: 'a file without its quotes',
    text: `${VOLE}network Kin ties Vole to Vole: from kin\n`,
    code: 'syntax/file',
    piece: 'kin',
    says: /The name of a file is missing before “kin”.*quotes/,
  },
  {
    name: 'a time of day that is left out',
    text: `${HEAD}timeline\n  every day at noon: end run\n`,
    code: 'syntax/time',
    piece: 'noon',
    says: /A time of day is missing before “noon”/,
  },
  {
    name: 'a time of day that is none',
    text: `${HEAD}timeline\n  every day at 25:00: end run\n`,
    code: 'text/time',
    piece: '25:00',
    says: /“25:00” is no time of day/,
  },
  {
    name: 'a unit that is many of another, without their number',
    text: `${HEAD}unit crate = many sack\n`,
    code: 'syntax/number',
    piece: '',
    says: /A number is missing before “many”/,
  },
  {
    name: 'a list without its length',
    text: `${VOLE}  has friends: last few Vole\n`,
    code: 'syntax/number',
    piece: '',
    says: /A number is missing before “few”/,
  },
  {
    name: 'a check without its number of seeds',
    text: `${HEAD}measure m = 1\ncheck Fine\n  over some seeds for 3 days\n  expect m > 0\n`,
    code: 'syntax/number',
    piece: '',
    says: /A number is missing before “some”/,
  },
  {
    name: 'an interaction that does not say who meets whom',
    text: `${VOLE}interaction meet: a Vole, b Vole\n  chance 10 %\n  remove b\n`,
    code: 'syntax/partner',
    piece: 'chance',
    says: /begins with who meets whom/,
  },
  {
    name: 'a kind that does not say on which of several spaces it lives',
    text: `${PLANE}space Burrow: plane 5 m by 5 m, walled\nagent Vole\n  start 3 anywhere\n`,
    code: 'model/which-space',
    piece: 'Vole',
    says: /several spaces, and Vole does not say/,
    mends: true,
  },
  {
    name: 'cells of a plane that has none',
    text: `${VOLE}  behaviour look\n    with c = random cell within 3 m\n      move to c\n`,
    code: 'query/cells',
    piece: 'cell',
    says: /This plane has no cells/,
    mends: true,
  },
  {
    name: 'a reach for the ties of a network',
    text: `${VOLE}  has n = 0\n  behaviour look\n    n = count ties by Kin within 3 m\nnetwork Kin ties Vole to Vole: none\n`,
    code: 'query/reach',
    piece: 'within 3 m',
    says: /“within 3 m” does not go with/,
  },
  {
    name: 'the sender of a message that two kinds send',
    text: `${VOLE}  has seen: Vole = nobody\n  on Call as c\n    seen = c.sender\n  behaviour shout\n    send Call to all Vole\nagent Owl\n  start 1 anywhere\n  behaviour hoot\n    send Call to all Vole\nmessage Call\n`,
    code: 'name/sender',
    piece: 'sender',
    says: /several kinds send “Call”/,
  },
  {
    name: 'a message that nobody hears',
    text: `${VOLE}  behaviour shout\n    send Call to all Vole\nmessage Call\n`,
    code: 'doubt/unheard',
    piece: 'Call',
    says: /“Call” is never heard/,
  },
  {
    name: 'two rules without an order',
    text: `${VOLE}  behaviour one\n    move by 1 m\n  behaviour two\n    move by 2 m\n`,
    code: 'order/none',
    piece: 'one',
    says: /no declared order/,
    mends: true,
  },
  {
    name: 'a chance whose parameter may leave 0 to 1',
    text: `${VOLE}  behaviour go\n    if chance(luck)\n      move by 1 m\nparameter luck = 0.5, from 0 to 2\nmeasure m = luck\n`,
    code: 'type/chance-bounds',
    piece: 'luck',
    says: /let this chance leave 0 to 1/,
  },
  {
    name: 'a text where a value should stand',
    text: `${HEAD}variable name = "Fred"\nmeasure m = 1\n`,
    code: 'type/text',
    piece: '"Fred"',
    says: /no value.*log/,
  },
  {
    name: 'a sum of 1,300 terms',
    text: `${HEAD}measure m = ${Array(1300).fill('1').join(' + ')}\n`,
    code: 'text/too-deep',
    piece: '1',
    says: /more than 250 links/,
  },
  {
    name: 'an endless row of else',
    text: `${VOLE}  behaviour go\n    if x > 9 m\n      move by 1 m\n${'    else if x > 8 m\n      move by 2 m\n'.repeat(300)}`,
    code: 'text/too-deep',
    piece: 'if',
    says: /More than 250 times/,
  },
  {
    name: 'a tie that should point at somebody',
    text: `${VOLE}network Kin ties Vole to Vole: none\n  has who: Vole = nobody\n`,
    code: 'type/expected',
    piece: 'nobody',
    says: /A number, yes or no, or a choice is expected/,
  },
  {
    name: 'a number that none can hold',
    text: `${HEAD}measure m = 1e309\n`,
    code: 'text/number',
    piece: '1e309',
    says: /more than a number can hold/,
  },
  {
    name: 'a measure that is computed from itself by way of another',
    text: `${HEAD}measure a = b + 1\nmeasure b = a + 1\n`,
    code: 'name/circle',
    piece: 'a',
    says: /computed from itself/,
  },
  {
    name: 'a period shorter than a step',
    text: `${VOLE}  behaviour go every 1 h\n    move by 1 m\n`,
    code: 'type/period',
    piece: '1 h',
    says: /shorter than a step of 1 day/,
  },
  {
    name: 'a period that may become shorter than a step',
    text: `${VOLE}  behaviour go every often\n    move by 1 m\nparameter often = 2 days, from 0.1 to 9\n`,
    code: 'doubt/period',
    piece: 'often',
    says: /“often” can be less than a step/,
  },
  {
    name: 'a stretch within one step',
    text: `${HEAD}parameter p = 1\ntimeline\n  from 6 h to 12 h: p = 2\nmeasure m = p\n`,
    code: 'doubt/period',
    piece: '',
    says: /never holds/,
  },
  {
    name: 'a wrapping grid of hexagons with odd rows',
    text: `${HEAD}space S: grid 8 by 7, 6 neighbours, wrapping\n`,
    code: 'model/odd-rows',
    piece: '7',
    says: /even number of rows, not 7/,
    mends: true,
  },
  {
    name: 'ways by a part of a cell',
    text: `${HEAD}space S: grid 8 by 8\nagent Vole\n  start 3 anywhere\n  behaviour go\n    move by 0.4\n`,
    code: 'doubt/grid-way',
    piece: 'move by 0.4',
    says: /middle of a cell.*14\.1/,
  },
  {
    name: 'a product that is gathered without brackets',
    text: `${VOLE}measure m = sum of it.x * it.y over Vole\n`,
    code: 'syntax/gather-brackets',
    piece: 'it.x * it.y',
    says: /brackets/,
    mends: true,
  },
  {
    name: 'a count of rows',
    text: `${HEAD}measure n = 1\nsummary s = count of n > 3\n`,
    code: 'syntax/count-of',
    piece: 'count of',
    says: /asks for agents.*sum of \(if n > 3/,
  },
  {
    name: 'more states than a machine holds',
    text: `${VOLE}  states life\n${Array.from({ length: 300 }, (_, i) => `    S${i}\n`).join('')}`,
    code: 'model/too-many',
    piece: 'life',
    says: /300 states; at most 250/,
  },
  {
    name: 'a step without length',
    text: 'model Wrong\nclock\n  step 0 days\n  end after 9 days\n',
    code: 'type/positive',
    piece: '0 days',
    says: /A step must be greater than zero/,
  },
];

describe('findings', () => {
  it.each(CASES.map((c) => [c.name, c] as const))(
    'say what is wrong with %s',
    (_, { text, code, piece, says, mends }) => {
      const { diagnostics } = checkModel(text);
      expect(diagnostics.map((d) => d.code)).toContain(code);
      const found = diagnostics.find((d) => d.code === code)!;
      if (piece) expect(text.slice(found.span.start, found.span.end)).toBe(piece);
      expect(`${found.message} ${found.hint ?? ''}`).toMatch(says);
      if (!mends) return;
      const mended = checkModel(applyEdits(text, found.fixes![0]!.edits)).diagnostics;
      expect(mended.filter((d) => d.code === code || d.severity === 'error').map((d) => d.message)).toEqual([]);
    },
  );

  it('have codes that a test names, each', () => {
    const tests = readdirSync(CORE, { recursive: true, encoding: 'utf8' })
      .filter((name) => name.endsWith('.test.ts') && !name.startsWith('node_modules'))
      .map((name) => readFileSync(new URL(name, CORE), 'utf8'))
      .join('\n');
    expect(DIAGNOSTIC_CODES.filter((code) => !tests.includes(`'${code}'`) && !code.startsWith('file/'))).toEqual([]);
  });

  it('have codes that the reference explains by their first part', () => {
    const reference = readFileSync(new URL('../../../docs/language.md', import.meta.url), 'utf8');
    for (const group of new Set(DIAGNOSTIC_CODES.map((code) => code.split('/')[0]!)))
      expect([group, new RegExp(`\`${group}/`).test(reference)]).toEqual([group, true]);
  });
});
