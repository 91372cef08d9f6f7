import { describe, expect, it } from 'vitest';
import { loadModel } from '@vole/core';
import { feedWords, textWithFeed } from './feed-text.ts';

const TEXT = `model Streets
clock
  step 1 minute
  end after 60 steps
data "lane.geojson"
  {"type":"Feature","properties":{"kind":"lane"},"geometry":{"type":"LineString","coordinates":[[0,0],[0.01,0]]}}
space Lane: map from "lane.geojson"
agent Vole
  start 4 anywhere
  behaviour go
    turn by 1 deg
order
  go in turn
measure n = count Vole
`;
const TABLE = 'trip,lon,lat,leaves\na,0,0,0:05\na,0.005,0,0:09\n';

describe('a feed that is taken', () => {
  it('gives the text vehicles, a line and its place in the order, once', () => {
    const text = textWithFeed(TEXT, 'Lane', 'trips.csv');
    const { loaded, diagnostics } = loadModel(text, new Map([['trips.csv', TABLE]]));
    expect(diagnostics.filter(({ severity }) => severity === 'error')).toEqual([]);
    expect(loaded!.plan.lines.map(({ name, trip }) => [name, trip?.leaves])).toEqual([['Cart_line', [5, 9]]]);
    expect(textWithFeed(text, 'Lane', 'trips.csv')).toBe(text);
    // A second feed takes the vehicles that there are.
    expect(textWithFeed(text, 'Lane', 'more.csv')).toContain('line Cart_line_2 by Cart\n  timetable from "more.csv"');
  });

  it('is told with its day, routes and what was left out', () => {
    const told = {
      table: '',
      date: '2031-05-16',
      isOfWeek: false,
      trips: 1200,
      stops: 31,
      routes: ['1', '2'],
      leftOut: 0,
    };
    expect(feedWords(told)).toBe('1,200 trips of 2031-05-16 at 31 stops, on routes 1, 2.');
    expect(feedWords({ ...told, isOfWeek: true })).toMatch(/^1,200 trips of the week of 2031-05-16 at/);
    expect(feedWords({ ...told, routes: ['a', 'b', 'c', 'd', 'e', 'f', 'g'], leftOut: 3 })).toMatch(
      /routes a, b, c, d, e and 2 more\. 3 are left out/,
    );
  });
});
