import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { planOf } from '../../test/models.ts';
import { Run } from '../engine/run.ts';
import { checkModel } from '../language/checker.ts';
import { compilePlan } from '../load.ts';
import { writeZone } from './write-zone.ts';

const SPACES: readonly (readonly [string, string])[] = [
  ['a grid', 'grid 7 by 5, walled'],
  ['a wrapping grid', 'grid 6 by 6, wrapping'],
  ['a plane with cells', 'plane 12 by 8, walled, cells of 1'],
  ['a wrapping plane with cells', 'plane 12 by 8, wrapping, cells of 1'],
  ['a reflecting plane', 'plane 9 by 9, reflecting, cells of 1.5'],
  ['a plane whose last cells are cut', 'plane 10 by 7, walled, cells of 3'],
  ['a wrapping plane whose last cells are cut', 'plane 10 by 7, wrapping, cells of 3'],
  ['a plane in metres', 'plane 2 km by 1 km, walled, cells of 125 m'],
  ['a grid in lengths', 'grid 7 by 5, walled, cells of 0.3 m'],
  ['a grid of hexagons in lengths', 'grid 6 by 6, 6 neighbours, wrapping, cells of 0.7 m'],
  ['a plane with fine cells that have no short number', 'plane 1 by 1, walled, cells of 0.1428571428'],
];
const textOn = (space: string): string => {
  const circle = / k?m\b/.test(space) ? '0.1 m around (0 m, 0 m)' : '0.1 around (0, 0)';
  return `model Painted\nspace Field: ${space}\nzone Pond on Field   "by hand"\n  circle ${circle}\nagent Vole\n  start 3 anywhere\n`;
};

function zoneIn(text: string) {
  const executable = compilePlan(planOf(text)).executable();
  new Run(executable, [], 1);
  const { raster, inside } = executable.state.zones.masks[0]!;
  return { ...raster, inside, size: executable.state.grounds[0]!.space };
}

describe('a painted zone that is written into the text', () => {
  it.each(SPACES)('on %s has the same cells when it is loaded', (_, space) => {
    const text = textOn(space);
    const { columns, rows, cell, size } = zoneIn(text);
    const full = new Uint8Array(columns * rows).fill(1);
    const masks = fc.array(fc.integer({ min: 0, max: 1 }), { minLength: full.length, maxLength: full.length });
    fc.assert(
      fc.property(masks, (mask) => {
        const written = writeZone(text, planOf(text), 0, { columns, rows, cell, inside: Uint8Array.from(mask) }, size);
        expect([...zoneIn(written).inside]).toEqual(mask);
      }),
      { numRuns: 60, seed: 7, examples: [[[...full]], [[...full.fill(0)]]] },
    );
  });

  it('keeps its name, its sentence and all that stands around it', () => {
    const text = textOn('grid 7 by 5, walled');
    const { columns, rows, cell, size } = zoneIn(text);
    const inside = new Uint8Array(columns * rows);
    inside[1 * columns + 2] = inside[1 * columns + 3] = 1;
    const written = writeZone(text, planOf(text), 0, { columns, rows, cell, inside }, size);
    expect(written).toBe(text.replace('circle 0.1 around (0, 0)', 'box (2, 1) to (3, 1)'));
    expect(checkModel(written).diagnostics).toEqual([]);
  });
});
