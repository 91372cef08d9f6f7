import { describe, expect, it } from 'vitest';
import type { KindFrame } from '../simulation/protocol.ts';
import { zoomAt } from './camera.ts';
import { glyphOf } from './glyphs.ts';
import type { KindLook, Rgb } from '@vole/core';
import { hasHeading, scaleColours } from '@vole/core';
import type { Picture } from './raster.ts';
import { clear, drawAgents, drawField, drawTies, drawZone, pickAgent, unitLength } from './raster.ts';

const SIDE = 40;
const SPACE = { width: 10, height: 10 };
const GROUND: Rgb = [250, 240, 230];
const INK: Rgb = [1, 2, 3];

/** An empty picture of four pixels a unit of length. */
function stage() {
  const picture: Picture = { width: SIDE, height: SIDE, pixels: new Uint8ClampedArray(SIDE * SIDE * 4) };
  clear(picture, GROUND);
  const at = (x: number, y: number): number[] => [...picture.pixels.slice((y * SIDE + x) * 4, (y * SIDE + x) * 4 + 3)];
  const inked = (): number =>
    Array.from({ length: SIDE * SIDE }, (_, i) => (picture.pixels[i * 4] === INK[0] ? 1 : 0)).reduce<number>(
      (sum, is) => sum + is,
      0,
    );
  const changed = (): number =>
    Array.from({ length: SIDE * SIDE }, (_, i) => (picture.pixels[i * 4] !== GROUND[0] ? 1 : 0)).reduce<number>(
      (sum, is) => sum + is,
      0,
    );
  return { picture, camera: { centreX: 5, centreY: 5, scale: 4 }, at, inked, changed };
}

function kindFrame(places: readonly (readonly [number, number])[], more: Partial<KindFrame> = {}): KindFrame {
  return {
    count: places.length,
    numbers: Int32Array.from(places, (_, i) => i + 1),
    x: Float32Array.from(places, ([x]) => x),
    y: Float32Array.from(places, ([, y]) => y),
    direction: new Float32Array(places.length),
    sizes: new Float32Array(0),
    colours: new Float32Array(0),
    riders: new Int32Array(0),
    ...more,
  };
}
const look = (shape: string): KindLook => ({ shape, colours: [], classes: undefined, scale: undefined, shown: true });

describe('a picture', () => {
  it('is cleared to its ground, opaque', () => {
    const { picture, at } = stage();
    expect([at(0, 0), at(39, 39), picture.pixels[3]]).toEqual([[...GROUND], [...GROUND], 255]);
  });

  it('shows fields row by row from below, on grids with cells around whole numbers', () => {
    const scale = scaleColours(['straw', 'moss'], 'paper', true);
    const { picture, camera, at } = stage();
    drawField(
      picture,
      camera,
      SPACE,
      { columns: 2, rows: 2, levels: Uint8Array.of(0, 64, 128, 255), low: 0, high: 1, isCut: false, mean: 0.5 },
      scale,
      { isGrid: false, asCells: true, wraps: false },
    );
    expect([at(5, 35), at(35, 35), at(5, 5), at(35, 5)]).toEqual([scale[0], scale[64], scale[128], scale[255]]);
    const grid = stage();
    drawField(
      grid.picture,
      { centreX: 0, centreY: 0, scale: 10 },
      { width: 2, height: 1 },
      { columns: 2, rows: 1, levels: Uint8Array.of(0, 255), low: 0, high: 1, isCut: false, mean: 0.5 },
      scale,
      { isGrid: true, asCells: true, wraps: false },
    );
    expect([grid.at(16, 20), grid.at(24, 20), grid.at(26, 20), grid.at(34, 20)]).toEqual([
      scale[0],
      scale[0],
      scale[255],
      scale[255],
    ]);
    expect([grid.at(14, 20), grid.at(36, 20), grid.at(20, 14), grid.at(20, 26)]).toEqual([
      [...GROUND],
      [...GROUND],
      [...GROUND],
      [...GROUND],
    ]);
  });

  it('shows fields on a plane softly: the level of a cell in its middle, halfway between two the level between, round the edge where the space wraps', () => {
    const grey = Array.from({ length: 256 }, (_, i): Rgb => [i, i, i]);
    const level = (picture: Picture, x: number, y: number): number => picture.pixels[(y * SIDE + x) * 4]!;
    const drawn = (wraps: boolean): Picture => {
      const { picture, camera } = stage();
      drawField(
        picture,
        camera,
        SPACE,
        { columns: 2, rows: 1, levels: Uint8Array.of(40, 200), low: 0, high: 1, isCut: false, mean: 0.5 },
        grey,
        { isGrid: false, asCells: false, wraps },
      );
      return picture;
    };
    const walled = drawn(false);
    // Middles of the cells lie at 10 and 30; a pixel's middle is half a pixel further.
    expect([level(walled, 2, 20), level(walled, 37, 20)]).toEqual([40, 200]);
    expect([level(walled, 10, 20), level(walled, 20, 5)]).toEqual([44, 124]);
    const row = Array.from({ length: SIDE }, (_, x) => level(walled, x, 9));
    expect(row.every((value, i) => i === 0 || value >= row[i - 1]!)).toBe(true);
    const round = drawn(true);
    expect([level(round, 0, 20), level(round, 39, 20)]).toEqual([116, 124]);
  });

  it('shows obstacles solid and zones as a hatching, in their cells alone', () => {
    const inside = Uint8Array.of(1, 0, 0, 0);
    const zone = { columns: 2, rows: 2, cell: 5, inside };
    const [solid, hatched] = [stage(), stage()];
    drawZone(solid.picture, solid.camera, zone, INK, true, { isGrid: false });
    drawZone(hatched.picture, hatched.camera, zone, INK, false, { isGrid: false });
    expect(solid.changed()).toBe(400);
    for (const { at } of [solid, hatched])
      expect([at(5, 35)[0]! < GROUND[0], at(35, 35), at(5, 5)]).toEqual([true, [...GROUND], [...GROUND]]);
    expect(new Set(Array.from({ length: 20 }, (_, i) => solid.at(i, 30).join())).size).toBe(1);
    expect(new Set(Array.from({ length: 20 }, (_, i) => hatched.at(i, 30).join())).size).toBe(2);
  });

  it('shows ties between their ends, the short way round a wrapping space, and cuts those that leave it', () => {
    const straight = stage();
    drawTies(straight.picture, straight.camera, Float32Array.of(2, 5, 8, 5), undefined, INK);
    expect([straight.at(20, 20)[0]! < GROUND[0], straight.at(3, 20)[0], straight.at(20, 10)[0]]).toEqual([
      true,
      GROUND[0],
      GROUND[0],
    ]);
    const wrapped = stage();
    drawTies(wrapped.picture, wrapped.camera, Float32Array.of(1, 5, 9, 5), SPACE, INK);
    expect([wrapped.at(20, 20)[0], wrapped.at(1, 20)[0]! < GROUND[0]]).toEqual([GROUND[0], true]);
    const far = stage();
    drawTies(far.picture, far.camera, Float32Array.of(5, 5, 1e7, 5, 5, 5, NaN, 5), undefined, INK);
    expect(far.changed()).toBe(0);
  });

  it('shows more ties in one place denser, and few ties stronger than many', () => {
    const [one, two, many] = [stage(), stage(), stage()];
    drawTies(one.picture, one.camera, Float32Array.of(2, 5, 8, 5), undefined, INK);
    for (let i = 0; i < 2; i++) drawTies(two.picture, two.camera, Float32Array.of(2, 5, 8, 5), undefined, INK);
    drawTies(
      many.picture,
      many.camera,
      Float32Array.from({ length: 40_000 }, (_, i) => (i < 4 ? [2, 5, 8, 5][i]! : 1)),
      undefined,
      INK,
    );
    expect(two.at(20, 20)[0]).toBeLessThan(one.at(20, 20)[0]!);
    expect(many.at(20, 20)[0]).toBeGreaterThan(one.at(20, 20)[0]!);
  });
});

describe('a dense network', () => {
  it('is a tone on the ground and no blot', () => {
    const dense = stage();
    const places = Float32Array.from({ length: 80_000 }, (_, i) => 10 * ((Math.abs(Math.sin(i)) * 9973) % 1));
    drawTies(dense.picture, dense.camera, places, undefined, INK);
    const mean = dense.picture.pixels.reduce((sum, value, i) => (i % 4 === 0 ? sum + value : sum), 0) / (SIDE * SIDE);
    expect(mean).toBeGreaterThan(GROUND[0] * 0.5);
    expect(mean).toBeLessThan(GROUND[0] * 0.95);
  });
});

describe('agents', () => {
  it('are stamped in their colour, also over the edge; the nearest is picked', () => {
    const { picture, camera, at } = stage();
    const kind = kindFrame(
      [
        [5, 5],
        [0, 0],
      ],
      { numbers: Int32Array.of(7, 9) },
    );
    drawAgents(picture, camera, kind, { look: look('square'), colours: [INK] }, 8);
    expect([at(20, 20), at(0, 39)]).toEqual([[...INK], [...INK]]);
    expect(pickAgent([kind], camera, picture, 21, 21, 10)).toEqual({ kind: 0, number: 7 });
    expect(pickAgent([undefined, kind], camera, picture, 2, 38, 10)).toEqual({ kind: 1, number: 9 });
    expect(pickAgent([kind], camera, picture, 35, 5, 5)).toBeUndefined();
  });

  it('have the colour of their class, or of their value on a scale', () => {
    const classes = stage();
    drawAgents(
      classes.picture,
      classes.camera,
      kindFrame(
        [
          [2.5, 5],
          [7.5, 5],
        ],
        { colours: Float32Array.of(1, 0) },
      ),
      { look: look('square'), colours: [INK, [9, 9, 9]] },
      6,
    );
    expect([classes.at(10, 20), classes.at(30, 20)]).toEqual([[9, 9, 9], [...INK]]);
    const colours = scaleColours(['straw', 'plum'], 'paper', false);
    const scaled = stage();
    drawAgents(
      scaled.picture,
      scaled.camera,
      kindFrame(
        [
          [2.5, 5],
          [7.5, 5],
        ],
        { colours: Float32Array.of(3, 99) },
      ),
      { look: look('square'), colours: [], scale: { colours, low: 3, high: 8 } },
      6,
    );
    expect([scaled.at(10, 20), scaled.at(30, 20)]).toEqual([colours[0], colours[255]]);
  });

  it('have their sizes; small ones are points, those of no size too', () => {
    const { picture, camera, at } = stage();
    drawAgents(
      picture,
      camera,
      kindFrame(
        [
          [2.5, 5],
          [7.5, 5],
        ],
        { sizes: Float32Array.of(3, 0.2) },
      ),
      { look: look('square'), colours: [INK] },
      5,
    );
    expect([at(13, 20), at(30, 20), at(33, 20)]).toEqual([[...INK], [...INK], [...GROUND]]);
  });

  it('that are many are points of two pixels or, of very many, of one', () => {
    const few = stage();
    drawAgents(few.picture, few.camera, kindFrame([[5, 5]]), { look: look('leaf'), colours: [INK] }, 1);
    expect(few.inked()).toBe(4);
    const many = stage();
    drawAgents(
      many.picture,
      many.camera,
      kindFrame(Array.from({ length: 200_000 }, () => [5, 5] as const)),
      { look: look('leaf'), colours: [INK] },
      1,
    );
    expect(many.inked()).toBe(1);
    const lost = stage();
    drawAgents(
      lost.picture,
      lost.camera,
      kindFrame([
        [NaN, NaN],
        [-3, 5],
        [99, 99],
      ]),
      { look: look('leaf'), colours: [INK] },
      1,
    );
    expect(lost.changed()).toBe(0);
  });

  it('can be drawn from one place of the frame to another, which together is the whole', () => {
    const places = Array.from({ length: 30 }, (_, i) => [(i * 7) % 10, (i * 3) % 10] as const);
    const frame = kindFrame(places, { direction: Float32Array.from(places, (_, i) => i * 13) });
    const [whole, pieces] = [stage(), stage()];
    drawAgents(whole.picture, whole.camera, frame, { look: look('leaf'), colours: [INK] }, 6);
    for (let from = 0; from < 30; from += 7)
      drawAgents(
        pieces.picture,
        pieces.camera,
        frame,
        { look: look('leaf'), colours: [INK] },
        6,
        from,
        Math.min(30, from + 7),
      );
    expect(pieces.picture.pixels).toEqual(whole.picture.pixels);
  });

  it('grow slower than the zoom, and not into a blot where they are crowded', () => {
    const { picture, camera } = stage();
    const near = zoomAt(camera, picture, 20, 20, 4, camera.scale);
    const [far, close] = [unitLength(camera, camera.scale, picture), unitLength(near, camera.scale, picture)];
    expect(close / far).toBeCloseTo(2, 9);
    expect(unitLength(camera, camera.scale, picture, 0.1)).toBeLessThan(far);
  });
});

describe('shapes', () => {
  const shapes = ['leaf', 'wing', 'dot', 'ring', 'drop', 'diamond', 'square', 'cross'];
  const cover = (shape: string, heading: number): number[] => [...glyphOf(shape, 24, heading).mask];

  it('differ from each other, and lie within their square', () => {
    const masks = shapes.map((shape) => cover(shape, 0).join());
    expect(new Set(masks).size).toBe(shapes.length);
    for (const shape of shapes) {
      const { size, mask } = glyphOf(shape, 24, 0);
      expect(mask.reduce((sum, value) => sum + value, 0) / 255).toBeGreaterThan(60);
      for (let i = 0; i < size; i++)
        expect(
          [mask[i], mask[(size - 1) * size + i], mask[i * size], mask[i * size + size - 1]].some(
            (value) => value! > 200,
          ),
        ).toBe(false);
    }
  });

  it('turn with the heading if they have one: what points up points right at 90 degrees', () => {
    for (const shape of shapes) {
      const [up, right] = [cover(shape, 0), cover(shape, 90)];
      const { size } = glyphOf(shape, 24, 0);
      const turned = up.map((_, i) => up[(size - 1 - (i % size)) * size + Math.floor(i / size)]!);
      const off = turned.reduce((sum, value, i) => sum + Math.abs(value - right[i]!), 0) / 255;
      if (hasHeading(shape)) expect([shape, off < 12]).toEqual([shape, true]);
      else expect(right).toEqual(up);
    }
  });

  it('come at least three and at most 96 pixels long, and a name that is none is a dot', () => {
    expect([glyphOf('leaf', 0.2, 0).size, glyphOf('leaf', 500, 0).size]).toEqual([5, 98]);
    expect(cover('nonsense', 0)).toEqual(cover('dot', 0));
    expect(glyphOf('leaf', 24, 365)).toBe(glyphOf('leaf', 24, 5));
  });
});
