import { readFileSync } from 'node:fs';
import { loadModel } from '@vole/core';
import { describe, expect, it } from 'vitest';
import { shownBytes, shownNumber, shownSeconds } from './charts/numbers.ts';
import { outlineOf } from './build/outline.ts';
import { fitCamera, panBy, toPicture, toWorld, zoomAt } from './drawing/camera.ts';
import { looksOf, scaleColours } from './drawing/palette.ts';
import { drawAgents, drawField, pickAgent } from './drawing/raster.ts';
import { guessMapping, readCsv } from './match/read-csv.ts';
import { stepWords, timeTicks } from './ribbon/time-axis.ts';
import { sliderRange } from './watch/ValueList.tsx';

const MEADOW = readFileSync(new URL('../../../examples/meadow-year.vole', import.meta.url), 'utf8');
const COUNTS = readFileSync(new URL('../../../examples/meadow-year-trap-counts.csv', import.meta.url), 'utf8');
const plan = loadModel(MEADOW).loaded!.plan;

describe('numbers for people', () => {
  it('have sensible digits', () => {
    expect([0.123456, 12.3456, 1234.5, 1234567, -3, 0.00001234, NaN].map((v) => shownNumber(v))).toEqual(['0.123', '12.3', '1235', '1\u2009234\u2009567', '\u22123', '1.23e-5', 'none']);
    expect([shownSeconds(0.2), shownSeconds(50), shownSeconds(200), shownBytes(1500), shownBytes(2e6)]).toEqual(['under 1 s', '50 s', '3 min', '2 kB', '2.0 MB']);
  });
});

describe('camera', () => {
  const picture = { width: 800, height: 600 };
  const camera = fitCamera({ width: 100, height: 50 }, picture);
  it('shows the whole space, y up', () => {
    expect(toPicture(camera, picture, 50, 25)).toEqual({ x: 400, y: 300 });
    expect(toPicture(camera, picture, 50, 50).y).toBeLessThan(300);
  });
  it('keeps the point under the pointer when zooming, and comes back when panned back', () => {
    const before = toWorld(camera, picture, 120, 90);
    const zoomed = zoomAt(camera, picture, 120, 90, 3, camera.scale);
    const after = toWorld(zoomed, picture, 120, 90);
    expect(after.x).toBeCloseTo(before.x, 9);
    expect(after.y).toBeCloseTo(before.y, 9);
    expect(panBy(panBy(zoomed, 13, -7), -13, 7).centreX).toBeCloseTo(zoomed.centreX, 9);
  });
});

describe('drawing', () => {
  const picture = { width: 40, height: 40, pixels: new Uint8ClampedArray(40 * 40 * 4) };
  const camera = fitCamera({ width: 10, height: 10 }, picture, true);
  const at = (x: number, y: number): number[] => [...picture.pixels.slice((y * 40 + x) * 4, (y * 40 + x) * 4 + 3)];
  it('paints fields row by row from below', () => {
    const scale = scaleColours(['straw', 'moss'], 'paper', true);
    drawField(picture, camera, { width: 10, height: 10 }, { columns: 2, rows: 2, levels: Uint8Array.of(0, 64, 128, 255), low: 0, high: 1, mean: 0.5 }, scale, false);
    expect([at(5, 35), at(35, 35), at(5, 5), at(35, 5)]).toEqual([scale[0], scale[64], scale[128], scale[255]]);
  });
  it('stamps agents in their colour, also over the edge, and picks the nearest', () => {
    const kind = { count: 2, numbers: Int32Array.of(7, 9), x: Float32Array.of(5, 0), y: Float32Array.of(5, 0), direction: Float32Array.of(0, 90), sizes: new Float32Array(0), colours: new Float32Array(0) };
    const look = looksOf(plan, 'paper')[1]!;
    drawAgents(picture, camera, kind, { look: { ...look, shape: 'square' }, colours: [[1, 2, 3]] }, 8);
    expect(at(20, 20)).toEqual([1, 2, 3]);
    expect(at(0, 39)).toEqual([1, 2, 3]);
    expect(pickAgent([kind], camera, picture, 21, 21, 10)).toEqual({ kind: 0, number: 7 });
    expect(pickAgent([kind], camera, picture, 35, 5, 5)).toBeUndefined();
  });
  it('gives classes colours in the order of declaration and shown kinds their own', () => {
    const [voles, kestrels] = looksOf(plan, 'paper');
    expect(voles!.classes).toEqual(['Pup', 'Adult', 'Nesting']);
    expect(new Set([...voles!.colours, ...kestrels!.colours]).size).toBe(4);
  });
});

describe('time on axes', () => {
  it('names steps by date, and marks months and years', () => {
    expect(stepWords(plan, 0)).toBe('1 March 2031');
    expect(stepWords(plan, 365)).toBe('29 February 2032');
    const ticks = timeTicks(plan, 730, 13);
    expect(ticks[0]).toEqual({ step: 0, label: 'M', year: '2031' });
    expect(ticks.find((tick) => tick.year === '2032')).toMatchObject({ label: 'J', step: 306 });
  });
  it('uses round times without a calendar', () => {
    const plain = loadModel('model P\nclock\n  end after 9 steps\nparameter p = 1\nmeasure m = p\n').loaded!.plan;
    expect(timeTicks(plain, 1000, 10).map((tick) => tick.label)).toEqual(['0', '100', '200', '300', '400', '500', '600', '700', '800', '900', '1000']);
    expect(stepWords(plain, 4)).toBe('4 steps');
  });
});

describe('outline and values', () => {
  it('lists the parts in the order of the text, with findings where they are', () => {
    const wrong = MEADOW.replace('bite * appetite', 'bight * appetite');
    const lines = outlineOf(wrong, loadModel(wrong).diagnostics);
    expect(lines.map((line) => line.label).slice(0, 8)).toEqual(['Plan: Meadow year', 'clock', 'parameters, 5', 'Meadow, plane', 'grass, field', 'Vole', 'life: Pup, Adult, Nesting', 'forage']);
    expect(lines.filter((line) => line.problems > 0).map((line) => line.label)).toContain('forage');
  });
  it('sliders go over the bounds of the text, in steps that fit', () => {
    expect(sliderRange(plan.parameters.find((p) => p.name === 'kestrels')!)).toEqual({ min: 0, max: 60, step: 1 });
    expect(sliderRange(plan.parameters.find((p) => p.name === 'strike')!)).toEqual({ min: 0, max: 1, step: 0.01 });
  });
});

describe('observed data as CSV', () => {
  it('reads the demo, notes, gap and all', () => {
    const table = readCsv(COUNTS);
    expect(table.header).toEqual(['date', 'voles']);
    expect(table.notes[0]).toContain('Made-up data');
    expect(table.headerLine).toBe(3);
    expect(table.rows).toHaveLength(24);
    expect(guessMapping(table, ['voles', 'nests'], true)).toEqual({ timeColumn: 'date', timeIs: 'date', columns: [{ column: 'voles', measure: 'voles' }] });
  });
  it('guesses times without a calendar, and semicolons', () => {
    const table = readCsv('day;count\n1;5\n2;6\n');
    expect(guessMapping(table, ['voles'], false)).toEqual({ timeColumn: 'day', timeIs: 'time', columns: [{ column: 'count', measure: 'voles' }] });
  });
  const broken: [string, string, RegExp][] = [
    ['nothing', '', /no table/],
    ['one column', 'voles\n3\n', /one column only/],
    ['no names', '1,2\n3,4\n', /names of the columns/],
    ['no rows', 'a,b\n', /no rows/],
    ['a picture', 'PNG\0\0', /no text file/],
  ];
  for (const [name, text, said] of broken) it(`refuses ${name}`, () => expect(() => readCsv(text)).toThrow(said));
});
