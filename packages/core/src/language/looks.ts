/** Shapes and colours that `show` knows; the web package gives them their forms and values. */
export const LOOK_SHAPES = ['leaf', 'wing', 'dot', 'ring', 'drop', 'diamond', 'square', 'cross'] as const;
export const LOOK_COLOURS = ['russet', 'ochre', 'plum', 'slate', 'moss', 'teal', 'rose', 'stone', 'ink'] as const;
export const LOOK_SCALE_ENDS = ['straw', 'paper', ...LOOK_COLOURS] as const;

export type LookShape = (typeof LOOK_SHAPES)[number];
export type LookColour = (typeof LOOK_COLOURS)[number];
export type LookScaleEnd = (typeof LOOK_SCALE_ENDS)[number];

export function isShape(word: string): word is LookShape {
  return (LOOK_SHAPES as readonly string[]).includes(word);
}

export function isColour(word: string): word is LookColour {
  return (LOOK_COLOURS as readonly string[]).includes(word);
}
