import { describe, expect, it } from 'vitest';
import { ModelError } from '../src/diagnostics.ts';
import { compilePlan, loadModel, Run } from '../src/index.ts';

/** Every form of value in every place where a value can stand: each text is answered with findings or runs, and nothing unforeseen happens. */

const VALUES = [
  '1',
  'yes',
  'nobody',
  'here',
  'somewhere',
  'nowhere',
  '(1, 2)',
  '3 m',
  'pick(a, b)',
  'normal(1, 2)',
  'weekday',
  'now',
  '2031-03-01',
  '"x"',
  '07:30',
  'random Vole',
  'Vole',
  'cells',
  'count Vole',
  'self',
  'it',
  'mother',
  'life',
  'Young',
  'first Vole',
  'tie',
  'time in life',
  'time in Vole.life',
  'entered Young',
  'mean of here over Vole',
  'last of m',
  'ever m',
  'm',
  'first time m',
  'period of m',
  'growth rate of m over first 2 days',
  'spells of m > 2',
  'mean peak of m while m > 2',
  'max of m',
  'list',
  'first list',
  'count list',
  'T',
  'Pond',
  'here is in zone Pond',
  'grass',
  'grass at here',
  'date',
  'kept',
  'sum of it.age over Vole',
  'rate',
  'components of T',
  'mean path of T',
  'tie to self by T',
  'ahead(3)',
  'x',
  'direction',
  'place',
  'mother.mother',
  'friend is nobody',
  '-nobody',
  'not here',
  'nobody + 1',
  'if yes then nobody else self',
  'if yes then here else nowhere',
  'share of Vole where it.age > 1',
  'ties by T',
  'sum of it.w over ties by T',
  'min(here, here)',
  'distance(here, nobody)',
  'bearing(nobody)',
  'abs(life)',
  'm at 3',
  'mean of m over last 3',
  'r',
  'f',
  '1e309',
  '0 / 0',
];
/** Places among the lines of a kind, and at the margin. */
const OF_A_KIND: readonly ((v: string) => string)[] = [
  (v) => `has q = ${v}`,
  (v) => `has q: Vole = ${v}`,
  (v) => `derive q = ${v}`,
  (v) => `has q: last 3 Vole\n  behaviour b\n    add ${v} to q`,
  ...[
    'let q = V',
    'age = V',
    'mother = V',
    'life = V',
    'with q = V\n      age = 1',
    'if V\n      age = 1',
    'turn to V',
    'turn by V',
    'move to V',
    'move by V',
    'move toward V by 1',
    'create V Vole here',
    'create 1 Vole at V',
    'remove V',
    'send Hush(V) to self',
    'send Hush(1) to V',
    'add V to list',
    'add V to tal',
    'log V',
    'tie V by T',
    'untie V by T',
    'join V by T',
    'repeat at most V times\n      age = 1',
    'for each q in V\n      age = 1',
    'grass = V',
    'grass at V = 1',
    'age = count Vole within V',
    'age = count Vole where V',
    'with q = Vole within 3 with most V\n      age = 1',
    'age = sum of V over Vole',
    'age = f(V)',
    'do r(V)',
    'let q = not V',
    'let q = V is V',
    'let q = V is one of V, V',
    'let q = V + V',
    'let q = if yes then V else V',
  ].map((line) => (v: string) => `behaviour b\n    ${line.replaceAll('V', () => v).replaceAll(`${v}ole`, 'Vole')}`),
  (v) => `behaviour b every ${v}\n    age = 1`,
  (v) => `behaviour b when ${v}\n    age = 1`,
];
const AT_THE_MARGIN: readonly ((v: string) => string)[] = [
  (v) => `measure q = ${v}`,
  (v) => `summary q = ${v}`,
  (v) => `variable q = ${v}`,
  (v) => `parameter q = ${v}`,
  (v) => `chart C: ${v}`,
  (v) => `record Vole: ${v}`,
  (v) => `record meet: ${v}`,
  (v) => `field q on S\n  start ${v}`,
  (v) => `field q on S\n  start 1\n  grow ${v}`,
  (v) => `field q on S\n  start 1\n  becomes ${v} when yes`,
  (v) => `network Q ties Vole to Vole: ring, ${v} neighbours`,
  (v) => `network Q ties Vole to Vole: none\n  has u = ${v}`,
  (v) => `network Q ties Vole to Vole: none\n  has u: Vole = ${v}`,
  (v) => `network Q ties Vole to Vole: blocks by ${v}, 1 inside, 0 across`,
  (v) => `network Q ties Vole to Vole: groups of 3 where ${v}`,
  (v) => `message Q\n  has u = ${v}`,
  (v) => `message Q\n  has u: Vole = ${v}`,
  (v) => `zone Q on S\n  circle ${v} around (1, 1)`,
  (v) => `zone Q on S\n  box ${v} to (2, 2)`,
  (v) => `timeline\n  at ${v}: rate = 1`,
  (v) => `timeline\n  when ${v}: rate = 1`,
  (v) => `timeline\n  at 3 steps: rate = ${v}`,
  (v) => `timeline\n  every ${v}: rate = 2`,
  (v) => `timeline\n  while ${v}: rate = 2`,
  (v) => `define g(a) = ${v}\nmeasure q = g(1)`,
  (v) => `check C\n  over 2 seeds\n  expect ${v}`,
  (v) => `check C\n  over 2 seeds\n  expect 1 from ${v} to 3`,
  (v) => `check C\n  with rate = ${v}, over 2 seeds\n  expect yes`,
  (v) => `check C\n  over 2 seeds for ${v}\n  expect yes`,
  (v) => `clock\n  end after ${v}`,
  (v) => `clock\n  end after 3 steps\n  end when ${v}`,
  (v) => `clock\n  step ${v}\n  end after 3 steps`,
  (v) => `space Q: plane ${v} by 3`,
  (v) => `interaction i: a Vole, b Vole\n  within ${v}\n  where ${v}\n  a.age = 1`,
  (v) => `interaction i: a Vole, b Vole\n  random anyone\n  chance ${v}\n  a.age = ${v}`,
  (v) => `interaction i: a Vole, b Vole\n  mixing ${v}\n  a.age = 1`,
  (v) => `show Vole: dot, size ${v}, colour by ${v}`,
  (v) => `agent Owl\n  start ${v} anywhere`,
  (v) => `agent Owl\n  start 1 at ${v}`,
  (v) => `agent Owl\n  start 1 anywhere, facing ${v}`,
  (v) => `agent Owl\n  start on every cell where ${v}`,
  (v) => `agent Owl\n  start 1 within ${v} of (1, 1)`,
  (v) =>
    `agent Owl\n  start 1 nowhere\n  states s\n    start ${v} of B, rest A\n    A\n      after ${v}: B\n      rate ${v}: B\n      when ${v}: B\n    B`,
];

const modelWith = (ofKind: string, margin: string): string => `model T
space S: plane 10 by 10, cells of 1
zone Pond on S
  box (1, 1) to (3, 3)
parameter rate = 1
tally tal
field grass on S
  start 1
define f(a) = a
routine r(a)
  log 1
message Hush
  has w = 0
agent Vole
  start 5 anywhere
  has age = 1
  has mother: Vole = nobody
  has friend: Vole = nobody
  has list: last 3 numbers
  states life
    Young
      after 3 steps: Old
    Old
  ${ofKind}
network T ties Vole to Vole: ring, 2 neighbours
  has w = 1
interaction meet: a Vole, b Vole
  random anyone
  a.age = 1
measure m = count Vole
${margin}
`;

describe('any value in any place', () => {
  it('is refused with a finding, or runs', () => {
    const unforeseen: string[] = [];
    let ran = 0;
    const places = [
      ...OF_A_KIND.map((place) => (v: string) => modelWith(place(v), '')),
      ...AT_THE_MARGIN.map((place) => (v: string) => modelWith('', place(v))),
    ];
    for (const value of VALUES) {
      for (const place of places) {
        const text = place(value);
        const { loaded, diagnostics } = loadModel(text);
        unforeseen.push(
          ...diagnostics
            .filter((d) => d.code.startsWith('internal/'))
            .map((d) => `${d.message} ${text.slice(d.span.start, d.span.end)}`),
        );
        if (!loaded) continue;
        ran++;
        try {
          new Run(
            compilePlan(loaded.plan).executable(),
            loaded.plan.parameters.map((p) => p.value),
            1,
          ).runTo(4);
        } catch (error) {
          if (!(error instanceof ModelError)) unforeseen.push(`${String(error)} in the run: ${value}`);
        }
      }
    }
    expect(unforeseen).toEqual([]);
    expect(ran).toBeGreaterThan(700);
  }, 300_000);
});
