import type { Space } from '../forms/form.ts';
import type { Maker, Pairs } from '../engine/spaces/network-makers.ts';
import { BelowNone, MOST_TIES, TooManyTies } from '../engine/spaces/network-makers.ts';
import { failSize } from './failures.ts';
import type { NetworkPlan, Site, AskedBody, ValueBody } from './plan.ts';

interface Places {
  readonly x: ArrayLike<number>;
  readonly y: ArrayLike<number>;
}

/** How a network of this run is made: the plan's maker with its values for these parameters. */
export function makerOf(
  maker: Exclude<NetworkPlan['maker'], { is: 'file' }>,
  space: Space | undefined,
  value: (body: AskedBody) => number,
  from: Places,
  to: Places,
  ofEach: (body: ValueBody) => ArrayLike<number>,
): Maker {
  switch (maker.is) {
    case 'none':
      return { is: 'none' };
    case 'lattice':
      return { is: 'lattice', x: from.x, y: from.y, space };
    case 'small world':
      return { is: 'small world', size: value(maker.size), rewired: value(maker.rewired) };
    case 'blocks':
      return { is: 'blocks', by: ofEach(maker.by), inside: value(maker.inside), across: value(maker.across) };
    case 'groups':
      return { is: 'groups', size: Math.max(1, value(maker.size)), fits: maker.where && ofEach(maker.where) };
    case 'near':
      return { is: 'near', distance: value(maker.size), space: space!, ax: from.x, ay: from.y, bx: to.x, by: to.y };
    default:
      return { is: maker.is, size: value(maker.size) };
  }
}

/** The ties of a network, whose making begins at a place in the text: more of them than fit are refused there, and fewer than none. */
export function pairsOf(network: NetworkPlan, site: Site, make: () => Pairs): Pairs {
  try {
    return make();
  } catch (error) {
    if (error instanceof BelowNone)
      return failSize(
        site.span,
        `The network “${network.name}” cannot be made with ${error.size}.`,
        'Give it a number from 0 on.',
      );
    if (!(error instanceof TooManyTies)) throw error;
    return failSize(
      site.span,
      `The network “${network.name}” would have more than ${MOST_TIES.toLocaleString('en-GB')} ties.`,
      'Give each agent fewer ties, or start fewer agents.',
    );
  }
}

/** The ties of a file, whose ends are numbers of agents from 1 on; a pair that is there already and ties of one to itself are left out. */
export function filePairs(
  maker: Extract<NetworkPlan['maker'], { is: 'file' }>,
  network: NetworkPlan,
  from: number,
  to: number,
  site: Site,
): Pairs {
  const a: number[] = [];
  const b: number[] = [];
  const rows: number[] = [];
  const sameKind = network.from === network.to;
  const seen = new Set<number>();
  maker.a.forEach((first, row) => {
    const second = maker.b[row]!;
    for (const [number, count] of [
      [first, from],
      [second, to],
    ] as const) {
      if (number < 1 || number > count)
        failSize(
          site.span,
          `A tie of the file joins agent ${number}, but there are ${count}.`,
          'Agents are numbered from 1 on, in the order in which they start.',
        );
    }
    const key = sameKind && !network.directed && second < first ? second * (to + 1) + first : first * (to + 1) + second;
    if ((sameKind && first === second) || seen.has(key)) return;
    seen.add(key);
    a.push(first - 1);
    b.push(second - 1);
    rows.push(row);
  });
  return { a, b, rows };
}
