import { describe, expect, it } from 'vitest';
import { RandomStream } from '../random/stream.ts';
import { Network } from './network.ts';

/** A network against a plain list of ties, through many random changes. */

interface PlainTie {
  a: number;
  b: number;
  serial: number;
  value: number;
}

class PlainNetwork {
  ties: PlainTie[] = [];
  next = 0;

  constructor(
    readonly isOneSided: boolean,
    readonly withinOneKind: boolean,
  ) {}

  between(a: number, b: number): PlainTie | undefined {
    return this.ties.find((tie) => (tie.a === a && tie.b === b) || (this.isOneSided && tie.a === b && tie.b === a));
  }

  add(a: number, b: number, value: number): void {
    if ((this.withinOneKind && a === b) || this.between(a, b)) return;
    this.ties.push({ a, b, serial: this.next++, value });
  }
}

function rowsOf(network: Network, side: number, agents: number): number[][] {
  const rows = network.rows[side]!;
  return Array.from({ length: agents }, (_, agent) =>
    Array.from({ length: rows.length[agent] ?? 0 }, (_t, i) => rows.other[rows.start[agent]! + i]!),
  );
}

describe.each([
  ['within a kind', 0, 0, false],
  ['within a kind, directed', 0, 0, true],
  ['between two kinds', 0, 1, false],
  ['between two kinds, directed', 0, 1, true],
])('a network %s', (_, from, to, directed) => {
  it('keeps its rows sorted and its ties true through tying, cutting, isolating and closing of holes', () => {
    const luck = RandomStream.of(17, from * 2 + to, directed ? 1 : 0);
    const below = (n: number): number => Math.floor((luck.word() / 4294967296) * n);
    const network = new Network(from, to, directed, 1);
    const plain = new PlainNetwork(network.isOneSided, from === to);
    const agents = 40;
    network.ensureAgents(agents, agents);
    for (let i = 0; i < 4000; i++) {
      const [a, b] = [below(agents), below(agents)];
      const what = below(100);
      if (what < 55) {
        const tie = network.add(a, b);
        plain.add(a, b, i);
        if (tie >= 0) network.columns[0]![tie] = i;
      } else if (what < 90) {
        network.remove(network.between(a, b));
        plain.ties = plain.ties.filter((tie) => tie !== plain.between(a, b));
      } else if (what < 94) {
        network.isolate(from, a);
        plain.ties = plain.ties.filter((tie) => tie.a !== a && !(from === to && tie.b === a));
      } else if (what < 97) network.renumber(undefined, undefined, agents);
      else expect(network.between(a, b) >= 0).toBe(plain.between(a, b) !== undefined);
    }
    const listed = network.list.map((tie) => ({
      a: network.a[tie],
      b: network.b[tie],
      serial: network.serial[tie],
      value: network.columns[0]![tie],
    }));
    expect(listed.sort((p, q) => p.serial! - q.serial!)).toEqual(plain.ties.sort((p, q) => p.serial - q.serial));
    expect(network.living).toBe(plain.ties.length);
    const near = (agent: number, side: number): number[] => {
      const others = plain.ties.flatMap((tie) => {
        if (network.isOneSided) return tie.a === agent ? [tie.b] : tie.b === agent ? [tie.a] : [];
        return side === 0 ? (tie.a === agent ? [tie.b] : []) : tie.b === agent ? [tie.a] : [];
      });
      return others.sort((p, q) => p - q);
    };
    network.rows.forEach((_row, side) =>
      expect(rowsOf(network, side, agents)).toEqual(Array.from({ length: agents }, (_a, agent) => near(agent, side))),
    );
  });

  it('takes up an agent with very many ties, whatever their order', () => {
    const others = Array.from({ length: 300 }, (_, i) => 1 + ((i * 127) % 300));
    const network = new Network(from, to, directed, 0);
    network.fill(new Int32Array(300), Int32Array.from(others), 301);
    expect(rowsOf(network, 0, 1)).toEqual([[...others].sort((p, q) => p - q)]);
    expect(others.map((other) => network.between(0, other))).toEqual(others.map((_, tie) => tie));
  });

  it('gives agents their new slots after the removed were closed up', () => {
    const network = new Network(from, to, directed, 0);
    network.fill(Int32Array.from([0, 2, 4]), Int32Array.from([1, 3, 5]), 6);
    network.isolate(from, 2);
    if (from !== to) network.isolate(to, 3);
    // Slot 2 is gone: those behind it move up by one.
    const map = Int32Array.from([0, 1, -1, 2, 3, 4]);
    network.renumber(map, from === to ? map : undefined, 6);
    const ends = network.list.map((tie) => [network.a[tie], network.b[tie]]);
    expect(ends).toEqual(
      from === to
        ? [
            [0, 1],
            [3, 4],
          ]
        : [
            [0, 1],
            [3, 5],
          ],
    );
  });
});
