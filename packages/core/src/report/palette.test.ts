import { readFileSync } from 'node:fs';
import { loadModel } from '../load.ts';
import { describe, expect, it } from 'vitest';
import type { Rgb, Theme } from './palette.ts';
import {
  CLASS_COLOURS,
  classColour,
  colourOf,
  coloursOfField,
  looksOf,
  optionOfLevel,
  rgbOf,
  scaleColours,
  scaleOfField,
} from './palette.ts';

const MEADOW = readFileSync(new URL('../../../../examples/meadow-year.vole', import.meta.url), 'utf8');
const plan = loadModel(MEADOW).loaded!.plan;
const THEMES: readonly Theme[] = ['paper', 'dusk'];

const linear = (c: number): number => (c / 255 <= 0.04045 ? c / 255 / 12.92 : ((c / 255 + 0.055) / 1.055) ** 2.4);
const brightness = ([r, g, b]: Rgb): number => 0.2126 * linear(r) + 0.7152 * linear(g) + 0.0722 * linear(b);
const contrast = (a: Rgb, b: Rgb): number => {
  const [high, low] = [brightness(a), brightness(b)].sort((x, y) => y - x) as [number, number];
  return (high + 0.05) / (low + 0.05);
};

/** How somebody without the red or green cones sees a colour. Source: Viénot, Brettel, Mollon, Digital video colourmaps for checking the legibility of displays by dichromats (1999). */
const SEEN: Record<string, readonly (readonly [number, number, number])[]> = {
  'without red': [
    [0.11238, 0.88762, 0],
    [0.11238, 0.88762, 0],
    [0.00401, -0.00401, 1],
  ],
  'without green': [
    [0.29275, 0.70725, 0],
    [0.29275, 0.70725, 0],
    [-0.02234, 0.02234, 1],
  ],
};
function seenAs(colour: Rgb, eyes: string): Rgb {
  const light = colour.map(linear);
  return SEEN[eyes]!.map((row) => {
    const value = Math.max(
      0,
      Math.min(
        1,
        row.reduce((sum, weight, i) => sum + weight * light[i]!, 0),
      ),
    );
    return 255 * (value <= 0.0031308 ? value * 12.92 : 1.055 * value ** (1 / 2.4) - 0.055);
  }) as unknown as Rgb;
}
/** Distance of two colours as they are seen, in CIE L*a*b*; 2.3 can just be told apart. */
function apart(a: Rgb, b: Rgb): number {
  const lab = (c: Rgb): number[] => {
    const [r, g, v] = c.map(linear) as [number, number, number];
    const f = (t: number): number => (t > 0.008856 ? Math.cbrt(t) : 7.787 * t + 16 / 116);
    const [x, y, z] = [
      f((0.4124 * r + 0.3576 * g + 0.1805 * v) / 0.9505),
      f(0.2126 * r + 0.7152 * g + 0.0722 * v),
      f((0.0193 * r + 0.1192 * g + 0.9505 * v) / 1.089),
    ];
    return [116 * y - 16, 500 * (x - y), 200 * (y - z)];
  };
  const [p, q] = [lab(a), lab(b)];
  return Math.hypot(...p.map((value, i) => value - q[i]!));
}

describe('colours', () => {
  it.each(THEMES)('of states and kinds stand out on the ground of the theme %s', (theme) => {
    const ground = rgbOf(colourOf('paper', theme));
    for (const name of CLASS_COLOURS)
      expect([name, contrast(rgbOf(colourOf(name, theme)), ground) >= 2.3]).toEqual([name, true]);
  });

  it.each(THEMES.flatMap((theme) => ['with all cones', ...Object.keys(SEEN)].map((eyes) => [theme, eyes] as const)))(
    'that follow each other, and the first four, are told apart in the theme %s by eyes %s',
    (theme, eyes) => {
      const colours = CLASS_COLOURS.map((name) =>
        eyes === 'with all cones' ? rgbOf(colourOf(name, theme)) : seenAs(rgbOf(colourOf(name, theme)), eyes),
      );
      for (let i = 0; i < colours.length; i++) {
        for (let j = i + 1; j < Math.max(i + 2, 4) && j < colours.length; j++)
          expect([CLASS_COLOURS[i], CLASS_COLOURS[j], apart(colours[i]!, colours[j]!) > 12]).toEqual([
            CLASS_COLOURS[i],
            CLASS_COLOURS[j],
            true,
          ]);
      }
    },
  );

  it.each([
    ['straw', 'moss'],
    ['paper', 'slate'],
    ['paper', 'russet'],
    ['slate', 'ochre'],
  ] as const)('of the scale from %s to %s go evenly from one end to the other, as they are seen', (low, high) => {
    for (const theme of THEMES) {
      const scale = scaleColours([low, high], theme, true);
      expect(scale).toHaveLength(256);
      const eighths = Array.from({ length: 9 }, (_, i) => scale[Math.round((i * 255) / 8)]!);
      const steps = eighths.slice(1).map((colour, i) => apart(colour, eighths[i]!));
      expect(Math.min(...steps)).toBeGreaterThan(1);
      expect(Math.max(...steps) / Math.min(...steps)).toBeLessThan(2);
    }
  });

  it('of fields are those of the text, else each field has its own', () => {
    const { fields, ...rest } = loadModel(
      'model F\nspace S: plane 9 by 9, wrapping\nfield a on S, cells of 1\nfield b on S, cells of 1\nfield c on S, cells of 1\nfield d on S, cells of 1\nshow b: paper to plum\n',
    ).loaded!.plan;
    expect(fields.map((_, field) => scaleOfField({ fields, ...rest }, field))).toEqual([
      ['straw', 'moss'],
      ['paper', 'plum'],
      ['paper', 'slate'],
      ['paper', 'russet'],
    ]);
  });

  it('of words are those of the text, else classes stay apart; yes and no are the ends of a scale', () => {
    const words = loadModel(
      'model F\nspace S: plane 9 by 9, wrapping\nfield a on S, cells of 1\n  start bare of bare, wet, dry\nfield b on S, cells of 1\n  start yes\nagent Vole\n  start 1 anywhere\n  states life\n    Young\n      after 2 steps: Old\n    Old\norder\n  life in turn\nshow a: dry russet\nshow Vole: dot, colour by life, Old slate\n',
    ).loaded!.plan;
    const colours = coloursOfField(words, 0, 'paper');
    const [bare, wet, dry] = [0, 128, 255].map((level) => colours[level]!);
    expect([0, 128, 255].map((level) => optionOfLevel(level, 3))).toEqual([0, 1, 2]);
    expect(dry).toEqual(scaleColours(['straw', 'russet'], 'paper', true)[255]);
    expect(Math.min(apart(bare!, wet!), apart(wet!, dry!), apart(bare!, dry!))).toBeGreaterThan(10);
    const yesNo = coloursOfField(words, 1, 'paper');
    const scale = scaleColours(scaleOfField(words, 1), 'paper', true);
    expect([yesNo[0], yesNo[127], yesNo[128], yesNo[255]]).toEqual([scale[0], scale[0], scale[255], scale[255]]);
    expect(looksOf(words, 'paper')[0]!.colours).toEqual([classColour(0, 'paper'), colourOf('slate', 'paper')]);
  });

  it('go round when there are more classes than colours, and a name that is none is grey', () => {
    expect(classColour(CLASS_COLOURS.length, 'paper')).toBe(classColour(0, 'paper'));
    expect(colourOf('nonsense', 'paper')).toBe(colourOf('stone', 'paper'));
  });
});

describe('looks', () => {
  it('give classes colours in the order of declaration and shown kinds their own', () => {
    const [voles, kestrels] = looksOf(plan, 'paper');
    expect(voles!.classes).toEqual(['Pup', 'Adult', 'Nesting']);
    expect(new Set([...voles!.colours, ...kestrels!.colours]).size).toBe(4);
  });

  it('follow what the text says, and draw nobody who is not shown beside others', () => {
    const looks = (shows: string): ReturnType<typeof looksOf> =>
      looksOf(
        loadModel(
          `model L\nspace S: plane 9 by 9, wrapping\nagent A\n  start 1 anywhere\n  has age = 1\nagent B\n  start 1 anywhere\nmeasure a = sum of it.age over A\n${shows}`,
        ).loaded!.plan,
        'paper',
      );
    expect(looks('').map(({ shape, shown, colours }) => [shape, shown, colours])).toEqual([
      ['dot', true, [classColour(0, 'paper')]],
      ['dot', true, [classColour(1, 'paper')]],
    ]);
    const [a, b] = looks('show A: wing, colour slate\n');
    expect([a!.shape, a!.colours, b!.shown]).toEqual(['wing', [colourOf('slate', 'paper')], false]);
    expect(looks('show A: ring, colour by age, straw to plum\n')[0]).toMatchObject({
      shape: 'ring',
      scale: ['straw', 'plum'],
    });
    expect(looks('show A: ring, colour by age\n')[0]!.scale).toEqual(['straw', 'russet']);
  });
});
