/** What kernels of turns and those who call them have to agree on. Apart from what makes them, so that it can come later. */

/** How a kernel says why it ends: of which kind a failure is, or that there is no room for those who may be born, or what may be noted, in the turn to come. */
export const TROUBLES = ['value', 'count', 'rounds', 'nobody', 'ceiling', 'room', 'notes'] as const;
export type Trouble = (typeof TROUBLES)[number];

/** Where the numbers of the coming and going of a kind lie: slots in use, living, the next number, how many slots there are, and those who will be there once the rule is over. */
export const LIFE = { used: 0, living: 1, next: 2, room: 3, unborn: 4 } as const;

/** What is done to others all at once is noted: how many notes there are, for how many there is room, then from `first` on of each the column, the target, how it is written, and the value. */
export const NOTES = { many: 0, room: 1, first: 2 } as const;
export const NOTE_NUMBERS = 4;

/** What one number is made of a tally, as it is asked for by its place here. */
export const TALLIED = ['count', 'sum', 'mean', 'geometric mean', 'min', 'max', 'median', 'sd', 'quantile'] as const;

/** Of each level of blocks in which the living of a kind are counted, the binary logarithm of how many slots a block has. */
export const LIVING_BITS = [6, 12] as const;

/** The name of the kernel that puts turns in a drawn order. */
export const SHUFFLING = 'shuffle';

/** The name of the kernel that begins to keep up who of a kind is in which bucket. */
export function keepingName(kind: number): string {
  return `keep${kind}`;
}

/** The name of the kernel that sorts the agents of a kind by bucket. */
export function indexName(kind: number): string {
  return `index${kind}`;
}
