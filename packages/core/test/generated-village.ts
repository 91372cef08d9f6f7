import { VILLAGE } from './map-models.ts';

/** What random models are made with: draws from a stream of its own, so that the rest of a model stays as it was. */
export interface Draws {
  chance(p: number): boolean;
  pick<T>(items: readonly T[]): T;
  number(low: number, high: number): string;
}

/** Parts of a generated model, with the lines of the order and the outputs that go with them. */
export interface GeneratedParts {
  readonly parts: readonly string[];
  readonly order: readonly string[];
  readonly outputs: readonly string[];
}

export const NOTHING: GeneratedParts = { parts: [], order: [], outputs: [] };

/**
 * A village of lanes in some models: villagers who travel on foot and with carts, lines that run every so often or by a timetable, arrivals, zones from the map.
 * Those of the rest of the model meet them through luck and messages only.
 */
export function generatedVillage(draws: Draws, unit: string): GeneratedParts {
  if (!draws.chance(0.35)) return NOTHING;
  const { pick, number } = draws;
  // A step is one step, a day or 0.1 h: a village is crossed in a few of them.
  const per = { days: 'day', h: 'h', steps: 'step' }[unit]!;
  const speed = (low: number, high: number): string =>
    `${number(unit === 'h' ? low * 10 : low, unit === 'h' ? high * 10 : high)} m per ${per}`;
  const after = (steps: number): string => `${unit === 'h' ? (steps * 0.1).toFixed(1) : steps} ${unit}`;
  const hasTimetable = unit === 'h' && draws.chance(0.4);
  const place = (): string =>
    pick([
      'place named "Mill"',
      'place named "Parade ground"',
      '(100 m, 60 m)',
      'home',
      'somewhere in zone Green',
      'somewhere',
    ]);
  const goal = pick(['place named "Mill"', 'place named "Parade ground"', 'home']);
  const way = pick(['', '', ' by the quickest way', ' on ways lane road']);
  const lines = pick([' or by Carts', ' or by Carts', '']);
  const line = hasTimetable
    ? ['line Carts by K', '  timetable from "carts.csv"']
    : [
        `line Carts by K${pick([', both ways', ''])}`,
        '  stops place named "Mill", (180 m, 120 m), place named "Parade ground"',
        `  at ${speed(60, 120)}`,
        `  every ${after(pick([2, 3]))}${pick(['', `\n  dwell ${after(1)}`])}`,
      ];
  const timetable = `data "carts.csv"\n  trip,x,y,leaves\n  a,120,60,0:12\n  a,180,120,0:36\n  b,240,255,0:24\n  b,120,60,0:48`;
  const acts = [
    `travel to ${goal} at ${speed(30, 90)}${way}${lines}\n    else\n      n += 1`,
    `if time to ${goal} at ${speed(20, 60)}${lines} < ${after(6)}\n      n += 1`,
    'n += count W within 40 m along the lanes',
    'n += count W ahead within 60 m along the lanes',
    `with v = nearest W within 80 m\n      move toward v by ${number(1, 9)} m`,
    'if way to home > 100 m\n      n += 1',
    `if chance(0.1)\n      move to ${place()}`,
    'if chance(0.05)\n      remove self',
    'if chance(0.1)\n      home = here',
    'with a = random A\n      a.n += 1',
    'log "at", place, n',
  ].filter((_, i) => i === 0 || draws.chance(0.5));
  return {
    parts: [
      VILLAGE,
      'space Village: map from "village.geojson", in metres',
      'zone Green on Village\n  areas of green',
      ...(hasTimetable ? [timetable] : []),
      `agent K on Village\n  seats ${pick(['2', 'q', '0'])}`,
      line.join('\n'),
      [
        'agent W on Village',
        `  start 9 ${pick(['anywhere', 'in zone Green', 'within 40 m of place named "Mill"'])}`,
        '  has home = here',
        '  has n = 0',
        '  states W_day',
        '    W_Out',
        `      on arrival${pick(['', ' when n < 8', ' chance 60 %'])}: W_There`,
        '        n += 1',
        '    W_There',
        `      after ${after(2)}: W_Out`,
        `  behaviour W_go${pick(['', ' when W_day is W_Out'])}`,
        ...acts.map((act) => `    ${act}`),
      ].join('\n'),
    ],
    order: [
      `  W_go ${pick(['in turn', 'in fixed order'])}`,
      `  W_day ${pick(['in turn', 'all at once'])}`,
      '  Carts in turn',
    ],
    outputs: [
      'measure there = count W where it.W_day is W_There',
      'measure steps_ = sum of it.n over W',
      'measure green = count W in zone Green',
      'measure carts = count K',
      'measure riding = sum of (riders of it) over K',
      'record W: n when W_day is W_There',
    ],
  };
}
