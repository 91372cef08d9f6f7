import { describe, expect, it } from 'vitest';
import { laneOf } from '../../test/map-models.ts';
import { checkModel } from './checker.ts';
import { lineThrough, linesWithStops, vehicleKinds, withNewLine, withStops } from './stop-edits.ts';

const START = `model Piers
clock
  step 1 minute
  end after 9 steps
${laneOf(100)}
agent Ferry
  seats 4
`;
const LINE = `line Ferries by Ferry   "to and fro"
  stops place named "m0", (230 m, 30 m),  place named "m900"   # from west to east
  every 10 minutes
  at 12 km per h
`;
const END = 'order\n  Ferries in turn\nmeasure n = count Ferry\n';
const stopsOf = (text: string): string => /stops (.*)/.exec(text)![1]!;

describe('stops by hand', () => {
  const text = START + LINE + END;

  it('are added at the end, moved and taken out, and nothing else is touched', () => {
    const added = withStops(text, 'ferries', { is: 'add', place: 'place named "m1000"' });
    expect(stopsOf(added)).toBe(
      'place named "m0", (230 m, 30 m),  place named "m900", place named "m1000"   # from west to east',
    );
    expect(added.replace(', place named "m1000"', '')).toBe(text);
    const moved = withStops(text, 'Ferries', { is: 'move', stop: 1, place: '(99 m, 30 m)' });
    expect(stopsOf(moved)).toContain('place named "m0", (99 m, 30 m),  place named "m900"');
    expect(stopsOf(withStops(text, 'Ferries', { is: 'remove', stop: 0 }))).toMatch(
      /^\(230 m, 30 m\), {2}place named "m900" {3}#/,
    );
    expect(stopsOf(withStops(text, 'Ferries', { is: 'remove', stop: 1 }))).toMatch(
      /^place named "m0", {2}place named "m900"/,
    );
    expect(stopsOf(withStops(text, 'Ferries', { is: 'remove', stop: 2 }))).toMatch(
      /^place named "m0", \(230 m, 30 m\) {3}#/,
    );
  });

  it('are never fewer than two, and none where the line is not there or has them from a table', () => {
    const two = withStops(text, 'Ferries', { is: 'remove', stop: 0 });
    expect(withStops(two, 'Ferries', { is: 'remove', stop: 0 })).toBe(two);
    expect(withStops(text, 'Carts', { is: 'add', place: 'x' })).toBe(text);
    expect(withStops(text, 'Ferries', { is: 'move', stop: 3, place: 'x' })).toBe(text);
    const ofTable = text.replace(/stops .*/, 'stops from "piers.csv"');
    expect(withStops(ofTable, 'Ferries', { is: 'add', place: 'x' })).toBe(ofTable);
    expect(linesWithStops(ofTable)).toEqual([]);
    expect(linesWithStops(text)).toEqual([{ name: 'Ferries', stops: 3 }]);
    expect(vehicleKinds(`${text}agent Hen\n  start 1 anywhere\n`)).toEqual(['Ferry']);
  });

  it('begin a line that can be run, with vehicles of their own or others', () => {
    const places = ['place named "m0"', '(530 m, 30 m)'];
    for (const [before, kind, name] of [
      [START + LINE + END, 'Ferry', 'Ferry_line'],
      [START + LINE + END, undefined, 'Cart_line'],
      [
        `${START.slice(0, START.indexOf('agent'))}agent Cart\n  start 1 anywhere\nmeasure n = count Cart\n`,
        undefined,
        'Cart_2_line',
      ],
    ] as const) {
      const text = withNewLine(before, 'Lane', kind, lineThrough(places));
      expect(linesWithStops(text)).toContainEqual({ name, stops: 2 });
      expect(checkModel(text).diagnostics.filter(({ severity }) => severity === 'error')).toEqual([]);
    }
  });
});
