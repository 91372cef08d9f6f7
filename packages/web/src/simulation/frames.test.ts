import type { GeneratedRun } from '@vole/core';
import { colourOf, compilePlan, loadModel, looksOf, Run } from '@vole/core';
import { beforeAll, describe, expect, it } from 'vitest';
import { countLayers, fieldFrame, kindFrame, openedAgent, placeOf, tableFrame, tiesFrame } from './frames.ts';
import { layerColours, layersOf, stateColours } from './layers.ts';
import { draftOf } from './network-draft.ts';
import { loadForces } from './network-layout.ts';

const TEXT = `model Frames
clock
  end after 9 steps
space Field: plane 20 by 10, wrapping
field grass on Field, cells of 10
  start 3
  keep 0 to 8
agent Vole
  start 6 anywhere
  has weight = number
  has coat = brown of brown, grey
  states life
    start 2 of Adult, rest Pup
    Pup
      after 4 steps: Adult
    Adult
  behaviour thin_out
    if number is 2
      remove self
agent Owl
  start 2 at (3, 4)
network Web ties Vole to Vole: ring, 2 neighbours
network Hunts ties Owl to Vole, directed: none
order
  thin_out in fixed order
  life in turn
measure m = count Vole
show Vole: leaf, size weight / 2, colour by life
show Owl: wing
`;

function started(text = TEXT): {
  executable: GeneratedRun;
  run: Run;
  plan: NonNullable<ReturnType<typeof loadModel>['loaded']>['plan'];
} {
  const { plan } = loadModel(text).loaded!;
  const executable = compilePlan(plan).executable();
  return {
    plan,
    executable,
    run: new Run(
      executable,
      plan.parameters.map((p) => p.value),
      3,
    ),
  };
}

describe('what the page is handed of a run', () => {
  it('counts the states by which a kind is coloured, else the kinds', () => {
    const { plan, executable } = started();
    expect(layersOf(plan).map((layer) => layer.name)).toEqual(['Pup', 'Adult']);
    expect(countLayers(executable, layersOf(plan))).toEqual([4, 2]);
    const plain = started(TEXT.replace(', colour by life', ''));
    expect(layersOf(plain.plan).map((layer) => layer.name)).toEqual(['Vole', 'Owl']);
    expect(countLayers(plain.executable, layersOf(plain.plan))).toEqual([6, 2]);
  });

  it('has each layer in the colour that its agents have in the picture, whichever kind stands first', () => {
    const { plan } = started(
      TEXT.replace('agent Vole', 'agent Ferry\n  start 1 anywhere\nagent Vole') + 'show Ferry: square\n',
    );
    const [ferry, vole] = looksOf(plan, 'paper');
    expect(layerColours(plan, 'paper')).toEqual(vole!.colours);
    expect(vole!.colours).not.toContain(ferry!.colours[0]);
    expect(stateColours(plan, 1, 0, 'paper')).toEqual(vole!.colours);
    const plain = started(TEXT.replace(', colour by life', ', colour plum'));
    expect(stateColours(plain.plan, 0, 0, 'paper')).toHaveLength(2);
    expect(layerColours(plain.plan, 'paper')[0]).toBe(colourOf('plum', 'paper'));
  });

  it('has how many ride in each vehicle, and no lines from riders to it', () => {
    const { executable, run, plan } = started(
      'model Ride\nclock\n  end after 9 steps\nspace Field: plane 20 by 10\nagent Cart\n  start 3 anywhere\n  seats number\nagent Vole\n  start 9 anywhere\n  behaviour ride\n    board first Cart where seats left of it > 0\norder\n  ride in turn\nmeasure m = count Vole\n',
    );
    run.next();
    expect([...kindFrame(executable, 0, undefined).riders]).toEqual([1, 2, 3]);
    expect(kindFrame(executable, 1, undefined).riders).toHaveLength(0);
    expect(plan.networks.map(({ name }) => name)).toEqual(['Vole aboard Cart']);
    expect(tiesFrame(executable, 0, undefined)).toHaveLength(0);
    expect(kindFrame(executable, 0, undefined).direction).toHaveLength(0);
    const cart = openedAgent(executable, { kind: 0, number: 3 }, undefined);
    expect(cart.ties.map(({ count }) => count)).toEqual([3]);
  });

  it('has the living alone, with numbers, places, sizes and classes in one order', () => {
    const { executable, run } = started();
    run.next();
    const frame = kindFrame(executable, 0, undefined);
    expect([frame.count, [...frame.numbers], [...frame.sizes]]).toEqual([5, [1, 3, 4, 5, 6], [0.5, 1.5, 2, 2.5, 3]]);
    const voles = executable.state.populations[0]!;
    expect([...frame.colours]).toEqual([...frame.numbers].map((number) => voles.states[0]![voles.slotOf(number)]!));
    expect(new Set(frame.colours)).toEqual(new Set([0, 1]));
    frame.numbers.forEach((number, i) =>
      expect(placeOf(executable, { kind: 0, number }, undefined)).toEqual([
        {
          kind: 0,
          number,
          x: executable.state.populations[0]!.x[executable.state.populations[0]!.slotOf(number)]!,
          y: expect.closeTo(frame.y[i]!, 4) as number,
        },
      ]),
    );
    expect(frame.direction).toEqual(
      Float32Array.from(frame.numbers, (number) => voles.direction[voles.slotOf(number)]!),
    );
    const owls = kindFrame(executable, 1, undefined);
    expect([owls.sizes.length, owls.colours.length, [...owls.x], [...owls.y]]).toEqual([0, 0, [3, 3], [4, 4]]);
  });

  it('has fields as 256 levels between the bounds they keep to, or between least and most', () => {
    const { executable } = started();
    expect(fieldFrame(executable.state.fields[0]!, { low: 0, high: 6 })).toEqual({
      columns: 2,
      rows: 1,
      levels: Uint8Array.of(128, 128),
      low: 0,
      high: 6,
      isCut: false,
      mean: 3,
    });
    executable.state.fields[0]!.values.set([1, 5]);
    expect(fieldFrame(executable.state.fields[0]!, undefined)).toMatchObject({
      levels: Uint8Array.of(0, 255),
      low: 1,
      high: 5,
      mean: 3,
    });
    expect([...fieldFrame(executable.state.fields[0]!, { low: 2, high: 3 }).levels]).toEqual([0, 255]);
    executable.state.fields[0]!.values.set([NaN, 2.5]);
    expect([...fieldFrame(executable.state.fields[0]!, { low: 0, high: 255 }).levels]).toEqual([0, 3]);
    executable.state.fields[0]!.values.fill(7);
    expect([...fieldFrame(executable.state.fields[0]!, undefined).levels]).toEqual([0, 0]);
  });

  it('lists all agents of a kind with attributes, states and places', () => {
    const { executable, run } = started();
    run.next();
    const table = tableFrame(executable, 0)!;
    expect([[...table.numbers], [...table.columns[0]!], table.columns.length]).toEqual([
      [1, 3, 4, 5, 6],
      [1, 3, 4, 5, 6],
      2 + 1 + 2,
    ]);
    expect(tableFrame(executable, 7)).toBeUndefined();
  });

  it('opens an agent with what is left of its state, and with whom it is tied', () => {
    const { executable, run } = started();
    const pup = [...executable.state.populations[0]!.states[0]!].findIndex((state) => state === 0) + 1;
    const opened = openedAgent(executable, { kind: 0, number: pup }, undefined);
    expect(opened.states).toEqual([{ state: 0, due: 4 }]);
    expect(opened.attributes).toEqual([pup, 0]);
    expect(opened.ties.map(({ network, count }) => [network, count])).toEqual([
      [0, 2],
      [1, 0],
    ]);
    run.next();
    expect(openedAgent(executable, { kind: 0, number: 2 }, undefined)).toMatchObject({
      gone: true,
      attributes: [],
      ties: [],
    });
    expect(placeOf(executable, { kind: 0, number: 2 }, undefined)).toEqual([]);
  });

  it('has the ends of the ties that are there', () => {
    const { executable, run } = started();
    const { x, y } = executable.state.populations[0]!;
    const ends = tiesFrame(executable, 0, undefined);
    expect(ends).toHaveLength(6 * 4);
    for (let i = 0; i < ends.length; i += 4)
      for (const [at, column] of [
        [0, x],
        [1, y],
        [2, x],
        [3, y],
      ] as const)
        expect(Array.from(column.subarray(0, 6), Math.fround)).toContain(ends[i + at]);
    expect(tiesFrame(executable, 1, undefined)).toHaveLength(0);
    run.next();
    expect(tiesFrame(executable, 0, undefined)).toHaveLength(4 * 4);
  });
});

describe('the draft of a network', () => {
  beforeAll(loadForces);

  const draft = (maker: string, kinds = 'Vole to Vole', count = 12) => {
    const { plan } = loadModel(
      `model Draft\nagent Vole\n  start ${count}\nagent Owl\n  start 4\nnetwork Web ties ${kinds}: ${maker}\nmeasure m = count Vole\n`,
    ).loaded!;
    const executable = compilePlan(plan).executable();
    new Run(executable, [], 5);
    return draftOf(executable, 0, 5, () => 0);
  };

  it('says degrees, components, clustering and ways of a ring as they are known', () => {
    const ring = draft('ring, 4 neighbours');
    expect([[...ring.degrees], ring.ties, ring.components, ring.largest, ring.seed]).toEqual([
      new Array(12).fill(4),
      24,
      1,
      12,
      5,
    ]);
    expect(ring.clustering).toBeCloseTo(0.5, 12);
    // From each of 12: four at one tie, four at two, three at three.
    expect(ring.pathLength).toBeCloseTo((4 + 8 + 9) / 11, 12);
    expect([ring.x.length, ring.y.length, ring.ends.length]).toEqual([12, 12, 48]);
    for (const value of [...ring.x, ...ring.y]) expect(Number.isFinite(value)).toBe(true);
  });

  it('of groups has so many components, and of none is empty', () => {
    expect(draft('groups of 3')).toMatchObject({ components: 4, largest: 3, clustering: 1, pathLength: 1, ties: 12 });
    expect(draft('none')).toMatchObject({ components: 12, largest: 1, ties: 0 });
  });

  it('between two kinds places both', () => {
    const { x, degrees } = draft('none', 'Owl to Vole');
    expect([x.length, degrees.length]).toEqual([16, 16]);
  });

  it('of very many agents is measured, not drawn', () => {
    const many = draft('ring, 2 neighbours', 'Vole to Vole', 4000);
    expect([many.degrees.length, many.ties, many.x.length, many.ends.length]).toEqual([4000, 4000, 0, 0]);
  });
});
