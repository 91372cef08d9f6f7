/** Shapes and colours that `show` knows; the web package gives them their forms and values. */
export const LOOK_SHAPES = ['leaf', 'wing', 'dot', 'ring', 'drop', 'diamond', 'square', 'cross'] as const;
/** The colours that `show` knows, in the order in which they are offered. */
export const LOOK_COLOURS = ['russet', 'ochre', 'plum', 'slate', 'moss', 'teal', 'rose', 'stone', 'ink'] as const;
export const LOOK_SCALE_ENDS = ['straw', 'paper', ...LOOK_COLOURS] as const;

/** A shape that agents are drawn in, by its word. */
export type LookShape = (typeof LOOK_SHAPES)[number];
/** A colour of the language, by its word. */
export type LookColour = (typeof LOOK_COLOURS)[number];
/** One end of a scale of colours. */
export type LookScaleEnd = (typeof LOOK_SCALE_ENDS)[number];

/** Whether a shape looks different when turned. */
export function hasHeading(shape: string): boolean {
  return shape === 'leaf' || shape === 'wing' || shape === 'drop';
}

export function isShape(word: string): word is LookShape {
  return (LOOK_SHAPES as readonly string[]).includes(word);
}

export function isColour(word: string): word is LookColour {
  return (LOOK_COLOURS as readonly string[]).includes(word);
}
