/** The most that a list of an agent keeps. */
export const MOST_ITEMS = 64;
