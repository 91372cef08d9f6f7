import { RandomStream } from '../src/engine/random/stream.ts';
import type { Draws } from './generated-village.ts';
import { generatedVillage, NOTHING } from './generated-village.ts';
import { generatedWords } from './generated-words.ts';

/**
 * Random models from a seed, made so that they pass the checker: every construct that both engines must agree on turns up in many
 * combinations. The text depends on the seed alone.
 */
export function generateModel(seed: number): string {
  return new Generator(seed).model();
}

/** What a field may become of what lies around a cell. */
const BECOMING = [
  '',
  '',
  '',
  '\n  becomes (mean of (f at it) over cells within 1.5) when f < 0.9',
  '\n  becomes f / 2 + (sum of (f at it - f) over cells in a cross of 1 where f at it > 0.2) / 4',
  '\n  becomes median of (f at it * f) over cells in a square of 1',
  '\n  becomes (max of (f at it) over cells within 2) / 2 when (count cells in a square of 1 where f at it > f) > 2 and chance(p)',
];

class Generator {
  private readonly luck: RandomStream;
  private names = 0;
  private readonly space: 'plane' | 'grid' | 'none';
  private readonly single: boolean;
  /** A space beside the first, in some models: those on it meet the others through a network, messages and luck only. */
  private readonly second: string;
  /** Vehicles and who rides in them, in some models; cells of one agent have no room for both. */
  private readonly rides: boolean;
  /** Whether kinds have to say on which of several spaces they live. */
  private several = false;

  constructor(private readonly seed: number) {
    this.luck = RandomStream.of(seed, 0, 0x1234567);
    this.space = this.pick(['plane', 'plane', 'grid', 'none']);
    this.single = this.space === 'grid' && this.chance(0.5);
    this.second =
      this.space !== 'none' && this.chance(0.4)
        ? this.pick(['plane 12 by 9, wrapping', 'grid 7 by 6, 6 neighbours, walled', 'grid 8 by 8, one agent a cell'])
        : '';
    this.rides = !this.single && this.chance(0.4);
  }

  /** Draws that leave those of the rest as they are. */
  private draws(): Draws {
    const luck = RandomStream.of(this.seed, 0, 0x7654321);
    const unit = (): number => luck.word() / 4294967296;
    return {
      chance: (p) => unit() < p,
      pick: (items) => items[Math.floor(unit() * items.length)]!,
      number: (low, high) => (low + unit() * (high - low)).toFixed(2),
    };
  }

  private unit(): number {
    return this.luck.word() / 4294967296;
  }
  private chance(p: number): boolean {
    return this.unit() < p;
  }
  private pick<T>(items: readonly T[]): T {
    return items[Math.floor(this.unit() * items.length)]!;
  }
  private number(low: number, high: number): string {
    return (low + this.unit() * (high - low)).toFixed(2);
  }
  private name(prefix: string): string {
    return `${prefix}${++this.names}`;
  }

  model(): string {
    const clock = this.pick([
      'clock\n  end after 12 steps',
      'clock\n  step 1 day from 2031-02-25\n  end after 12 days',
      'clock\n  step 0.1 h from 2031-02-28 23:24\n  end after 1.2 h\n  end when count A is 0',
    ]);
    const unit = clock.includes('day') ? 'days' : clock.includes(' h') ? 'h' : 'steps';
    const edge = this.pick(['wrapping', 'walled', 'reflecting']);
    const space =
      this.space === 'plane'
        ? `space S: plane 20 by 15, ${edge}`
        : this.space === 'grid'
          ? `space S: grid 9 by 8, ${this.pick(['4 neighbours', '8 neighbours', '6 neighbours'])}, ${edge}${this.single ? ', one agent a cell' : ''}`
          : '';
    const field =
      this.space === 'none'
        ? ''
        : `field f on S${this.space === 'plane' ? `, cells of ${this.pick(['1', '2.5', '4'])}` : ''}${this.seed % 3 === 0 ? ', single precision' : ''}\n  start uniform(0, 1)\n  grow 0.1 * f * (1 - f)${this.pick(['', '\n  spread 30 %', '\n  fade 0.05', '\n  spread p\n  fade 0.1 * p'])}${this.pick(BECOMING)}\n  keep 0 to 1`;
    const draws = this.draws();
    const words = generatedWords(draws, this.space);
    const village = this.space === 'none' ? NOTHING : generatedVillage(draws, unit);
    this.several = [...words.parts, ...village.parts].some((part) => part.startsWith('space ')) || this.second !== '';
    const parts = [
      `model Generated ${this.seed}`,
      clock,
      'parameter p = 0.3, from 0 to 1\nparameter q = 2, whole from 0 to 9\nparameter on = yes\nvariable price = p * 2\nvariable deals = 0',
      space,
      field,
      this.space === 'none' ? '' : 'zone Z on S\n  box (1, 1) to (5, 4)',
      `network N ties A to B: ${this.pick(['random, mean degree 2', 'none', ...(this.space === 'none' ? [] : ['near one another within 2'])])}\n  has weight = uniform(0, 1)`,
      'message Call\n  has level = 1',
      ...(this.second ? this.burrow(unit) : []),
      ...(this.rides ? this.vehicles() : []),
      `tally deals_made${this.pick(['', ', kept'])}`,
      'routine pay(amount)\n  deals += amount\n  add amount to deals_made',
      ...village.parts,
      ...words.parts,
      `${this.kind('A', 'B', unit)}\n${words.ofA}`.trimEnd(),
      this.kind('B', 'A', unit),
      this.interaction('i1', 'A', this.pick(['A', 'B'])),
      `${this.order()}\n${[...words.order, ...village.order].join('\n')}`.trimEnd(),
      this.timeline(unit),
      `measure a = count A\nmeasure b = count B\nmeasure s = sum of it.e over A\nmeasure m = mean of it.e over B where it.w is not Low\nmeasure inflow = entered A_Two\nmeasure ties_ = count ties by N\nmeasure weight_ = sum of it.weight over ties by N\nmeasure ways = mean path of N\nmeasure reach = efficiency of N\nmeasure paid = sum of deals_made\nsummary top = max of a${this.second ? '\nmeasure d = count D\nmeasure hunger = mean of it.e over D\nrecord D: e every 2 steps' : ''}${this.rides ? '\nmeasure aboard = sum of (riders of it) over V\nmeasure free = sum of (seats left of it) over V\nmeasure rest = count R where it.vehicle is nobody\nrecord R: e, n every 2 steps' : ''}\nrecord A: e, n every 3 steps\nrecord B: heard every 1 step`,
      ...words.outputs,
      ...village.outputs,
    ];
    return `${parts.filter(Boolean).join('\n\n')}\n`;
  }

  private atOnce: Record<string, boolean> = {};

  private mode(rule: string): string {
    const at = this.atOnce[rule] ?? false;
    return at ? 'all at once' : this.pick(['in turn', 'in fixed order']);
  }

  private order(): string {
    const lines = ['A_go', 'B_go', 'A_more', 'B_more', 'i1'].map((rule) => `  ${rule} ${this.mode(rule)}`);
    if (this.chance(0.3)) lines.push('  A_life, B_life in turn');
    else lines.push('  A_life in turn', '  B_life in turn');
    if (this.space !== 'none' && this.chance(0.5)) lines.splice(2, 0, '  f');
    if (this.second) lines.splice(Math.floor(this.unit() * lines.length), 0, `  D_go ${this.mode('D_go')}`);
    if (this.rides) {
      const rules = ['V_go', 'R_go'].map((rule) => `  ${rule} ${this.pick(['in turn', 'in fixed order'])}`);
      lines.splice(
        Math.floor(this.unit() * lines.length),
        0,
        ...rules,
        `  R_ride ${this.pick(['in turn', 'all at once'])}`,
      );
    }
    return `order\n${lines.join('\n')}`;
  }

  private kind(kind: string, other: string, unit: string): string {
    const place =
      this.space === 'none' ? '' : this.pick([' anywhere', this.single ? ' one to a cell' : ' within 3 of (5, 5)']);
    return [
      `agent ${kind}${this.several ? ' on S' : ''}`,
      `  start ${10 + Math.floor(this.unit() * 12)}${place}`,
      `  has e = ${this.pick(['normal(1, 0.3)', 'uniform(0, 2)', 'gamma(mean = 1, shape = 2)', 'lognormal(1, 0.5)', '1'])}`,
      '  has n = 3',
      '  has w = pick(30 % Low, rest High)',
      '  has flag = chance(0.5)',
      `  derive rich = e + 0.1 * n${this.space === 'none' ? '' : ` + 0.05 * (count ${kind} within 2) + f`}`,
      '  derive richer = 2 * rich',
      '  has heard = 0',
      `  has seen: last 3 ${other}`,
      `  on Call as c${this.pick(['', ' when e > 0.3'])}\n    heard += c.level${this.pick(['', '\n    if c.level > 0.2\n      send Call(level = c.level / 3) to random A'])}`,
      this.states(kind, unit),
      this.behaviour(`${kind}_go`, kind, other, unit),
      this.behaviour(`${kind}_more`, kind, other, unit),
    ].join('\n');
  }

  /** The second space with its field, zone, network and kind. */
  private burrow(unit: string): string[] {
    const single = this.second.endsWith('a cell');
    this.atOnce['D_go'] = !single && this.chance(0.3);
    const acts = [
      'turn by normal(0 deg, 50 deg)\n    move by 1.3',
      'e += 0.1 * g\n    g *= 0.9',
      'with a = random A\n      a.n += 1',
      'with a = first A tied by M\n      a.e += 0.05 * e',
      'send Call(level = 0.4) to random A',
      `e += 0.02 * count D ${this.pick(['within 2', 'in zone Y', this.second.startsWith('grid') ? 'next to here' : 'within 4'])}`,
      'if e > 1.5 and count D < 30\n      create 1 D anywhere as d\n        e = 0.5\n      e = 0.5',
      'with d = nearest D within 3\n      d.e += 0.1',
    ].filter(() => this.chance(0.6));
    return [
      `space T: ${this.second}`,
      `field g on T${this.second.startsWith('plane') ? ', cells of 1.5' : ''}\n  start 0.5\n  grow 0.1 * (1 - g)\n  keep 0 to 1`,
      'zone Y on T\n  box (0, 0) to (4, 3)',
      'network M ties A to D: random, mean degree 1',
      [
        'agent D on T',
        `  start 8 ${single ? 'one to a cell' : 'anywhere'}`,
        '  has e = uniform(0, 1)',
        '  has heard = 0',
        '  on Call as c\n    heard += c.level',
        `  behaviour D_go${this.chance(0.2) ? ` every 2 ${unit === 'h' ? 'h' : unit}` : ''}\n    ${['e *= 0.98', ...acts].join('\n    ')}`,
      ].join('\n'),
    ];
  }

  /** A kind of vehicles and a kind that rides in them: they take on and set down, board and alight, come and go. */
  private vehicles(): string[] {
    const placed = this.space !== 'none';
    const on = this.several ? ' on S' : '';
    const start = placed ? ' anywhere' : '';
    const near = placed ? ' within 4' : '';
    const drives = [
      'with a = random A\n      a.n += riders of self',
      `take on random R${near} where it.vehicle is nobody\n    else\n      load -= 1`,
      `repeat at most 3 times\n      until seats left of self is 0\n      take on R${near} where it.vehicle is nobody with most it.e`,
      'set down first R aboard self',
      'for each r in R aboard\n      r.e += 0.01 * load\n      load += 1',
      'if chance(0.1)\n      remove self',
      `if chance(0.2) and count V < 9\n      create 1 V${placed ? ' here' : ''}`,
      ...(placed ? ['move to somewhere', 'move toward nearest A by 2'] : []),
    ].filter(() => this.chance(0.6));
    const rides = [
      `board ${this.pick(['random', 'first'])} V${near}${this.pick(['', ' where seats left of it > 0'])}\n    else\n      n += 1`,
      'if chance(0.3)\n      alight',
      'e += 0.1 * (count R aboard) - 0.05 * e',
      'with v = vehicle\n      v.load += 0.1\n      n += riders of v + count R aboard v',
      'if any V carrying self\n      e *= 0.9',
      `if chance(0.1)\n      ${this.pick(['remove self', `create 1 R${placed ? ' here' : ''}`])}`,
    ].filter(() => this.chance(0.75));
    const moves = placed ? '\n    if vehicle is nobody\n      turn by normal(0 deg, 50 deg)\n      move by 1.1' : '';
    return [
      `agent V${on}\n  start 4${start}\n  seats ${this.pick(['2', '1 + mod(number, 3)', 'q / 2', '0'])}\n  has load = 0\n  behaviour V_go${placed ? '\n    turn by uniform(-60 deg, 60 deg)\n    move by 1.4' : ''}\n    ${['load *= 0.9', ...drives].join('\n    ')}`,
      `agent R${on}\n  start 12${start}\n  has e = uniform(0, 1)\n  has n = 0\n  states R_ride\n    R_Off\n      when vehicle is not nobody: R_On\n    R_On\n      when vehicle is nobody: R_Off\n  behaviour R_go${moves}\n    ${['e *= 0.98', ...rides].join('\n    ')}\n    board first V where it.load < 0`,
    ];
  }

  private states(kind: string, unit: string): string {
    const start = this.pick([
      '',
      `    start 60 % ${kind}_One, rest ${kind}_Two\n`,
      `    start 3 of ${kind}_Three, rest ${kind}_One\n`,
    ]);
    const rate = unit === 'days' ? '0.2 per day' : unit === 'h' ? '2 per h' : '0.2 per step';
    return `  states ${kind}_life\n${start}    ${kind}_One
      after ${this.pick([`gamma(mean = 3 ${unit}, shape = 2)`, `2 ${unit}`, `uniform(0 ${unit}, 4 ${unit})`])}: ${kind}_Two
      rate ${rate} when e > 0.8: ${kind}_Three
      rate ${rate}: 40 % ${kind}_Two, rest ${kind}_One
    ${kind}_Two
      leave
        n += 1
      chance p when flag: ${kind}_One
        e *= 0.9
      when n > 6: ${kind}_Three
    ${kind}_Three
      enter
        e += 0.25
      after 1.5 ${unit}: ${kind}_One`;
  }

  private behaviour(rule: string, kind: string, other: string, unit: string): string {
    const atOnce = this.chance(0.35);
    this.atOnce[rule] = atOnce;
    const every = this.chance(0.2) ? ` every 2 ${unit}` : '';
    const when = this.chance(0.3) ? ` when ${this.condition(kind)}` : '';
    const lines = Array.from({ length: 2 + Math.floor(this.unit() * 3) }, () =>
      this.statement(kind, other, atOnce, 2, unit),
    );
    return `  behaviour ${rule}${every}${when}\n${lines.join('\n')}`;
  }

  private statement(kind: string, other: string, atOnce: boolean, depth: number, unit: string): string {
    const pad = '  '.repeat(depth);
    const moves = this.space !== 'none' && !(this.single && atOnce);
    const local = this.name('v');
    const choices: (() => string)[] = [
      () => `${pad}e ${this.pick(['+=', '-=', '*='])} ${this.value(kind)}`,
      () => `${pad}price ${this.pick(['= 0.5 + e / 10', '*= 0.99', '+= 0.01'])}\n${pad}deals += 1`,
      () => `${pad}let ${local} = ${this.value(kind)}\n${pad}e = (e + ${local}) / 2`,
      () => `${pad}if ${this.condition(kind)}\n${pad}  n += 1\n${pad}else\n${pad}  flag = not flag`,
      () =>
        `${pad}with ${local} = ${this.picker(other)}\n${pad}  ${local}.e ${this.pick(['+=', '=', '*='])} 0.5 + e / 8\n${pad}else\n${pad}  w = Low`,
      () => `${pad}for each ${local} in ${this.query(other)}\n${pad}  ${local}.n += 1\n${pad}  e += 0.01 * ${local}.e`,
      () =>
        `${pad}send Call(level = ${this.pick(['0.5', 'clip(e, 0, 1)', 'uniform(0, 1)'])}) to ${this.pick([`all ${this.query(other)}`, this.picker(other)])}${this.pick(['', ` after ${unit === 'h' ? '0.2 h' : `2 ${unit}`}`])}`,
      () => `${pad}for each ${local} in ties by N\n${pad}  ${local}.weight *= 0.9`,
      () => `${pad}with ${local} = ${this.picker(other)}\n${pad}  tie to ${local} by N\n${pad}    weight = e`,
      () => `${pad}with ${local} = first ${other} tied by N\n${pad}  untie from ${local} by N`,
      () => `${pad}with ${local} = ${this.picker(other)}\n${pad}  add ${local} to seen`,
      () => `${pad}for each ${local} in seen\n${pad}  e += 0.01 * ${local}.e`,
      () => `${pad}add e to deals_made`,
      ...(this.second
        ? [
            () =>
              `${pad}with ${local} = ${kind === 'A' ? 'first D tied by M' : 'random D where it.e > 0.2'}\n${pad}  ${local}.e += 0.1`,
            () => `${pad}send Call(level = 0.3) to random D`,
          ]
        : []),
      () => `${pad}log "paid", e, n, self, n > 2${this.space === 'none' ? '' : ', place'}`,
      ...(atOnce ? [] : [() => `${pad}do pay(0.1 * n)`]),
      () => `${pad}${kind}_life = ${kind}_${this.pick(['One', 'Two', 'Three'])}`,
      () =>
        `${pad}if e > 2.5 and count ${kind} < 60\n${pad}  create ${this.pick(['1', '2', 'poisson(1)'])} ${kind}${this.space === 'none' ? '' : this.pick([' here', ' anywhere', ' within 2 of here'])} as ${local}\n${pad}    e = e / 2\n${pad}    ${kind}_life = ${kind}_Two\n${pad}  e = 1`,
      () => `${pad}if e < 0.05\n${pad}  remove self`,
      ...(atOnce ? [] : [() => `${pad}if chance(0.05)\n${pad}  remove ${this.picker(other)}`]),
      ...(moves
        ? [
            () => `${pad}turn by normal(0 deg, 50 deg)\n${pad}move by ${this.number(0.5, 3)}`,
            () => `${pad}turn by uniform(-90 deg, 90 deg)\n${pad}move by ${this.number(1, 8)}`,
            () => `${pad}move to ${this.pick([this.picker(other), 'somewhere', 'ahead(2, 30 deg)', '(3, 4)'])}`,
            () =>
              `${pad}with ${local} = ${this.picker(other)}\n${pad}  turn to ${local}\n${pad}  move toward ${local} by 1.2`,
          ]
        : []),
      ...(this.space === 'none'
        ? []
        : [
            () => `${pad}let ${local} = 0.2 * f\n${pad}f -= ${local}\n${pad}e += ${local}`,
            () => `${pad}f at ahead(2) += 0.1`,
          ]),
    ];
    return this.pick(choices)();
  }

  private query(kind: string): string {
    const reach =
      this.space === 'none'
        ? ''
        : this.space === 'grid'
          ? this.pick([' within 2', ' next to here', ' here', '', ' in zone Z'])
          : this.pick([' within 3', ` within ${this.number(1, 9)}`, '', ' in zone Z']);
    return `${kind}${reach}${this.chance(0.5) ? ` where ${this.pick(['it.e > 0.7', 'it.rich > 1', 'it.w is Low', 'it.flag and it.n < 8', 'it.e < e', `it.${kind}_life is not ${kind}_One`])}` : ''}`;
  }

  private picker(kind: string): string {
    const how = this.space === 'none' ? this.pick(['random', 'first']) : this.pick(['random', 'nearest', 'first']);
    if (this.chance(0.2))
      return `${kind} ${this.space === 'none' ? 'where it.n > 0' : 'within 5'} with ${this.pick(['most', 'least'])} it.n`;
    return `${how} ${this.query(kind)}`;
  }

  private value(kind: string): string {
    return this.pick([
      () => this.number(0, 0.6),
      () => 'normal(0.1, 0.05)',
      () => `0.1 * count ${this.query(kind)}`,
      () => 'if on then p else 0.1',
      () => 'clip(e, 0, 1) * p',
      () => 'exp(-e * e)',
      () => `0.02 * sum of it.e over ${kind}`,
      () => 'whole(0, 3) / 4',
      () => 'sqrt(abs(e)) - mod(e, 0.5)',
      () => 'beta(2, 3)',
      () => 'sin(30 deg) * 0.3',
      () => '0.01 * richer',
      () => '0.1 * price',
    ])();
  }

  private condition(kind: string): string {
    return this.pick([
      () => 'e > 0.6',
      () => 'flag and not (w is Low)',
      () => 'chance(p)',
      () => `any ${this.query(kind)}`,
      () => `flag or (count ${this.query(kind)}) > 2`,
      () => 'n is one of 3, 4, 5',
      () => `${kind}_life is ${kind}_Two`,
    ])();
  }

  private interaction(name: string, first: string, second: string): string {
    if (this.space === 'none') return this.noSpaceRule(name);
    const atOnce = this.chance(0.4);
    this.atOnce[name] = atOnce;
    const partner = this.pick([
      'within 2.5',
      'within 4',
      'nearest within 5',
      this.space === 'grid' ? 'next to here' : 'random within 6',
    ]);
    const where = this.chance(0.5) ? '\n  where y.e > 0.3 or x.flag' : '';
    const luck = this.pick(['\n  chance p', '\n  chance 40 %', '']);
    return `interaction ${name}: x ${first}, y ${second}\n  ${partner}${where}${luck}\n  y.e ${this.pick(['+=', '*='])} 0.9\n  x.n += 1${this.chance(0.4) ? '\n  if y.e < 0.2\n    remove y' : ''}`;
  }

  /** Without a space nobody is near; the order still needs its rule. */
  private noSpaceRule(name: string): string {
    this.atOnce[name] = false;
    return `agent C\n  start 4\n  has k = 1\n  behaviour ${name}\n    k += 1\n    with a = random A\n      a.n += k`;
  }

  private timeline(unit: string): string {
    return `timeline
  at 3 ${unit === 'h' ? '* 0.1 h' : unit}: p = 0.6
  from ${unit === 'h' ? '0.4 h to 0.7 h' : `4 ${unit} to 7 ${unit}`}: on = no
  every ${unit === 'h' ? '0.5 h' : `5 ${unit}`}: q = 4
  whenever count A > 14
    p = 0.2
    create 2 B${this.space === 'none' ? '' : ' anywhere'}
  while count B > 20: p = 0.9`;
  }
}
