import type { Draws, GeneratedParts } from './generated-village.ts';

/** With what A gets of it. */
interface GeneratedWords extends GeneratedParts {
  readonly ofA: string;
}

const NONE: GeneratedWords = { parts: [], order: [], outputs: [], ofA: '' };

/**
 * What turns up in some models beside their agents: values of the whole model, formulas of somebody else, a field of words and one that another bounds, cells by a field, a grid in lengths,
 * measures by group, records on a condition.
 */
export function generatedWords(draws: Draws, space: 'plane' | 'grid' | 'none'): GeneratedWords {
  if (!draws.chance(0.6)) return NONE;
  const { pick, number } = draws;
  const placed = space !== 'none';
  const cells = space === 'plane' ? `, cells of ${pick(['2', '3'])}` : '';
  const reach = space === 'grid' ? pick(['next to here', 'within 2']) : 'within 3';
  const acts = [
    'e += 0.01 * crowd',
    'with a = random A where it.gain(0.1) > 0.5\n      e += 0.05 * a.gain(p)',
    ...(placed
      ? [
          'if ground is Bare\n      ground = Grown\n    else\n      e += 0.02',
          `e += 0.1 * (max of f over cells ${reach})`,
          'kept += 0.3 * e',
          `n += count cells ${reach} where ground is Grown`,
          'with a = random A where it.e > 0.4\n      move a toward self by 0.5\n      turn a by 20 deg',
        ]
      : []),
  ].filter(() => draws.chance(0.6));
  const grid = `space L: grid 8 by 6, cells of ${pick(['2 m', '0.5 m'])}, ${pick(['4 neighbours, walled', '8 neighbours, wrapping', '6 neighbours, walled', '8 neighbours, one agent a cell'])}`;
  const hasGrid = placed && draws.chance(0.4);
  const inCells = (count: number): string => `${(grid.includes('2 m') ? 2 : 0.5) * count} m`;
  return {
    parts: [
      `derive crowd = count A + 0.5 * count B${placed ? ' + mean of f' : ''}`,
      ...(placed
        ? [
            `field ground on S${cells}\n  start if chance(0.5) then Bare else Grown\n  becomes Grown when f > ${number(0.3, 0.8)}\n  becomes Bare when chance(0.05)`,
            `field kept on S${cells}\n  start 0.2\n  grow 0.05\n  keep 0 to f`,
          ]
        : []),
      ...(hasGrid
        ? [
            grid,
            `zone Nook on L\n  circle ${inCells(2)} around (${inCells(3)}, ${inCells(2)})`,
            [
              'agent L_ on L',
              `  start 7 ${grid.includes('one agent') ? 'one to a cell' : 'anywhere'}`,
              '  has far = 0 m',
              '  has n = 0',
              '  behaviour L_go',
              '    turn by uniform(-80 deg, 80 deg)',
              `    move by ${inCells(pick([1, 2]))}`,
              `    n += (count L_ within ${inCells(2)}) + count L_ in a square of 1`,
              `    with v = nearest L_ within ${inCells(3)}`,
              '      far += distance(v) + x',
              '      move toward v by 1 m',
            ].join('\n'),
          ]
        : []),
      [
        `agent G${placed ? ' on S' : ''}`,
        `  start 3${placed ? ' nowhere' : ''}`,
        '  has k = 0',
        '  behaviour G_go',
        '    k += crowd / 100',
      ].join('\n'),
    ],
    order: [
      '  A_new in turn',
      '  G_go in turn',
      ...(hasGrid ? [`  L_go ${grid.includes('one agent') ? 'in turn' : pick(['in turn', 'all at once'])}`] : []),
    ],
    outputs: [
      'measure lives by A_life = count A',
      'measure wealth by w = mean of it.e over A',
      'measure old_ = lives.A_Two + 0',
      'measure all_ = crowd',
      ...(placed
        ? [
            'measure overgrown = share of cells on S where ground is Grown',
            'measure keeps = mean of kept',
            'record f every 4 steps',
          ]
        : []),
      ...(hasGrid ? ['measure far = sum of it.far over L_', 'measure nook = count L_ in zone Nook'] : []),
      'record G: k when crowd > 20',
    ],
    ofA: `  define gain(x) = e * x + 0.1 * n\n  behaviour A_new\n    e += gain(0.01)\n${acts.map((act) => `    ${act}\n`).join('')}`,
  };
}
