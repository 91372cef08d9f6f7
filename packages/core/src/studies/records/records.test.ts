import Graph from 'graphology';
import graphml from 'graphology-graphml';
import { describe, expect, it } from 'vitest';
import { keyOfName, RandomStream } from '../../engine/random/stream.ts';
import { compilePlan, loadModel } from '../../load.ts';
import { power } from '../../math.ts';
import { simulate } from '../runner/simulate.ts';
import type { Meetings } from './network.ts';
import { graphmlOf } from '../../graphml.ts';
import { graphOfMeetings, networkOf } from './network.ts';
import { powerLawOf, zeta } from './power-law.ts';
import { answerOfRecord } from './record-answers.ts';
import { agentPairs } from './record-table.ts';

function undirected(count: number, pairs: readonly (readonly [number, number])[]): Meetings {
  return {
    nodes: Array.from({ length: count }, (_, i) => String(i + 1)),
    pairs: pairs.map(([a, b]) => [a - 1, b - 1, 1]),
    directed: false,
  };
}

describe('networks of meetings', () => {
  it('a square with a diagonal and a lone pair has the figures worked out by hand', () => {
    const { figures, degrees, law } = networkOf(
      undirected(6, [
        [1, 2],
        [2, 3],
        [3, 4],
        [4, 1],
        [1, 3],
        [5, 6],
      ]),
      false,
    );
    expect(figures).toMatchObject({ nodes: 6, ties: 6, meetings: 6, components: 2, diameter: 2 });
    expect(figures.density).toBeCloseTo(6 / 15, 12);
    expect(figures.meanDegree).toBe(2);
    expect(figures.largest).toBeCloseTo(4 / 6, 12);
    // 1 and 3 have three neighbours with two ties among them, 2 and 4 two with one, the others none.
    expect(figures.clustering).toBeCloseTo((2 / 3 + 1 + 2 / 3 + 1) / 6, 12);
    // In the square five pairs at 1 and one at 2, beside it one at 1.
    expect(figures.pathLength).toBeCloseTo(8 / 7, 12);
    expect(figures.efficiency).toBeCloseTo((5 + 0.5 + 1) / 15, 12);
    expect(figures.reciprocity).toBeNaN();
    expect([degrees, law]).toEqual([[3, 2, 3, 2, 1, 1], undefined]);
  });

  it('two cliques with one tie between them are two communities', () => {
    const clique = (from: number): [number, number][] =>
      [0, 1, 2, 3, 4].flatMap((a) =>
        [0, 1, 2, 3, 4].filter((b) => b > a).map((b): [number, number] => [from + a, from + b]),
      );
    const { figures, picture } = networkOf(undirected(10, [...clique(1), ...clique(6), [1, 6]]), true);
    expect(figures.communities).toBe(2);
    // Q = inside / all - sum of squares of the shares of degrees: 20 / 21 - 2 / 4.
    expect(figures.modularity).toBeCloseTo(20 / 21 - 0.5, 10);
    const groups = picture!.nodes.map(({ community }) => community);
    expect(new Set(groups.slice(0, 5)).size).toBe(1);
    expect(groups[0]).not.toBe(groups[9]);
    for (const { x, y } of picture!.nodes) expect(x >= 0 && x <= 1 && y >= 0 && y <= 1).toBe(true);
    // The same each time, in picture and communities.
    expect(networkOf(undirected(10, [...clique(1), ...clique(6), [1, 6]]), true).picture).toEqual(picture);
  });

  it('of directed ones tell how many ties go both ways; nobody and one alone are no trouble', () => {
    const meetings: Meetings = {
      nodes: ['a', 'b', 'c'],
      pairs: [
        [0, 1, 3],
        [1, 0, 1],
        [1, 2, 2],
      ],
      directed: true,
    };
    const { figures } = networkOf(meetings, false);
    expect(figures.reciprocity).toBeCloseTo(2 / 3, 12);
    expect(figures).toMatchObject({ ties: 3, meetings: 6, density: 0.5 });
    expect(networkOf({ nodes: [], pairs: [], directed: false }, true).figures).toMatchObject({ nodes: 0, ties: 0 });
    const self = networkOf({ nodes: ['a'], pairs: [[0, 0, 2]], directed: false }, true);
    expect(self.figures).toMatchObject({ nodes: 1, components: 1, meetings: 2 });
    expect(self.figures.pathLength).toBeNaN();
  });

  it('are read from GraphML by another program as they were', () => {
    const meetings: Meetings = { nodes: ['Vole <1>', 'Hen & "2"'], pairs: [[0, 1, 4]], directed: true };
    const read = graphml.parse(Graph, graphmlOf(graphOfMeetings(meetings), ['made-up --- data']));
    expect(read.nodes()).toEqual(['Vole <1>', 'Hen & "2"']);
    expect(read.isDirected(read.edges()[0])).toBe(true);
    expect(read.getEdgeAttribute(read.edges()[0], 'meetings')).toBe(4);
  });
});

describe('power laws', () => {
  it('zeta has its known values', () => {
    expect(zeta(2, 1)).toBeCloseTo(Math.PI ** 2 / 6, 10);
    expect(zeta(4, 1)).toBeCloseTo(Math.PI ** 4 / 90, 10);
    expect(zeta(2, 3)).toBeCloseTo(Math.PI ** 2 / 6 - 1.25, 10);
    expect(zeta(1.01, 1)).toBeCloseTo(100.577943338, 5);
  });

  it('a law is found again in values drawn from it, and not in others', () => {
    const luck = RandomStream.of(1, 0, keyOfName('test'));
    const unit = (): number => (luck.word() + 0.5) / 4294967296;
    // Rounded down from a continuous law of exponent 2.5, which is the discrete one from about 5 on.
    const drawn = Array.from({ length: 2000 }, () => Math.floor(4.5 * power(unit(), -1 / 1.5) + 0.5));
    const law = powerLawOf(drawn)!;
    expect(Math.abs(law.exponent - 2.5)).toBeLessThan(0.12);
    expect(law.p).toBeGreaterThan(0.1);
    const even = powerLawOf(Array.from({ length: 2000 }, () => 1 + Math.floor(20 * unit())))!;
    expect(even.count < 600 || even.p < 0.1).toBe(true);
    expect(powerLawOf(Array.from({ length: 40 }, (_, i) => i + 1))).toBeUndefined();
    expect(powerLawOf(Array.from({ length: 100 }, () => 3))).toBeUndefined();
  });
});

describe('answers about a record', () => {
  const { plan } = loadModel(`model Pairs
clock
  end after 6 steps
agent Vole
  start 8
  has warmth = 0
  behaviour warm
    warmth = warmth + number
interaction nudge: a Vole, b Vole
  mixing 1 per step
  b.warmth = b.warmth
order
  warm in turn
  nudge in turn
measure voles = count Vole
record Vole: warmth every 2 steps
record nudge: b.warmth
`).loaded!;
  const outcome = simulate(compilePlan(plan), { parameters: [], seed: 3, every: 1, records: true })!;
  if (!('result' in outcome)) throw new Error('failed');
  const [ofVoles, ofNudges] = outcome.result.records!;

  it('of agents: rows in any order, their values over time and at a step', () => {
    const all = answerOfRecord(plan, 0, ofVoles!, { is: 'rows', from: 0, count: 99 });
    expect(all.count).toBe(32);
    expect(all.rows[8]).toEqual([2, 1, 2]);
    const down = answerOfRecord(plan, 0, ofVoles!, {
      is: 'rows',
      sort: { column: 1, down: true },
      from: 0,
      count: 2,
    });
    expect(down.rows.map((row) => row[2])).toEqual([48, 42]);
    const course = answerOfRecord(plan, 0, ofVoles!, { is: 'over time', column: 1 })!;
    expect([...course.steps]).toEqual([0, 2, 4, 6]);
    // Of 1 to 8 times the step the median is 4.5 times it.
    expect([...course.median]).toEqual([0, 9, 18, 27]);
    expect(answerOfRecord(plan, 0, ofVoles!, { is: 'values', column: 1, step: 5 })).toEqual({
      step: 4,
      values: [4, 8, 12, 16, 20, 24, 28, 32],
    });
    expect(agentPairs(plan, plan.records[0]!)).toEqual([]);
  });

  it('of meetings: a network of any stretch, its GraphML and the rows of the command line', () => {
    const [pair] = agentPairs(plan, plan.records[1]!);
    expect(pair).toEqual({ first: 0, second: 1 });
    const wish = { pair: pair!, directed: false, fromStep: 0, toStep: 99 };
    const whole = answerOfRecord(plan, 1, ofNudges!, { is: 'network', picture: false, ...wish });
    expect(whole.figures.meetings).toBe(ofNudges!.data.length / ofNudges!.width);
    const first = answerOfRecord(plan, 1, ofNudges!, { is: 'network', picture: false, ...wish, toStep: 1 });
    const inFirst = Array.from({ length: whole.figures.meetings }, (_, row) => ofNudges!.data[row * ofNudges!.width]);
    expect(first.figures.meetings).toBe(inFirst.filter((step) => step === 1).length);
    expect(answerOfRecord(plan, 1, ofNudges!, { is: 'graphml', about: [], ...wish })).toContain(
      'edgedefault="undirected"',
    );
    const csv = answerOfRecord(plan, 1, ofNudges!, { is: 'csv', seed: 3 }).trim().split('\n');
    expect(csv[0]).toMatch(/^run,seed,step,a,b,/);
    expect(csv.length).toBe(whole.figures.meetings + 1);
    const nothing = answerOfRecord(
      plan,
      1,
      { width: 4, data: new Float64Array(0) },
      { is: 'network', picture: true, ...wish },
    );
    expect(nothing.figures.nodes).toBe(0);
  });
});
