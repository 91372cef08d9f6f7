import type { Insets } from '../drawing/camera.ts';

/** Widths of the columns of cards at the left and at the right, and what lies round them, in pixels. */
export const LEFT = 276;
export const RIGHT = 330;
export const MARGIN = 28;
/** Height of the row of buttons under the space. */
const BUTTONS = 56;

/** What of the picture is kept free of the space: beside the cards, or under them. */
export const BESIDE_CARDS: Insets = { left: 0, right: 0, top: 8, bottom: BUTTONS };
export const UNDER_CARDS: Insets = { left: LEFT + MARGIN, right: RIGHT + MARGIN, top: 8, bottom: BUTTONS };
