const listed = (words: string): readonly string[] => words.split(' ');

/** The words of the language by the place at which they stand: for the lexer, the parser, messages, completion and colours alike. */
export const WORDS = {
  /** Open a part at the left margin. */
  parts: listed(
    'model clock unit data parameter variable tally define derive routine behaviour space zone obstacle network line field message agent ' +
      'interaction order timeline measure summary record chart show check scenario study',
  ),
  /** Open a line of an agent. */
  agent: listed('start has derive seats states behaviour on define routine'),
  /** Open a line of a state. */
  states: listed('after rate chance when on enter leave start split'),
  /** Open a statement. */
  statements: listed(
    'turn move travel let if with for create remove send tie untie join add repeat until do log board alight',
  ),
  /** Begin a value, or join two. */
  values: listed(
    'count any share nearest random first sum mean min max median sd quantile is and or not if then else yes no here self it nobody somewhere within now step',
  ),
  /** What every agent has. */
  own: listed('x y direction number place'),
  /** Cannot be the name of anything. */
  reserved: listed(
    'and or not is if then else yes no it self nobody nowhere here somewhere where with within of per at in to by count any ' +
      'share random nearest first sum mean min max median sd quantile weighted tied next cell cells',
  ),
  /** Stand inside lines. */
  inside: listed(
    'leave let else each in turn by to toward end run where of here anywhere at from every year on until fixed all once per one keep grow spread fade becomes cells whole step rest ' +
      'wrapping walled reflecting plane grid neighbours size colour with expect seeds last time facing note around circle box line next tied ties network somewhere nowhere empty ' +
      'arrival quickest aboard carrying stops dwell timetable both ' +
      'none ring lattice random groups near preferential blocks directed degree times most least weighted mixing anyone within over always ever while',
  ),
  /** Stand inside lines too, but are more often names, and so have no colour. */
  plain: listed(
    'a across against ahead along another area areas as clustering column down component components day diameter distribution efficiency entered geometric growth inside lanes left level longest map metres named numbers parts path peak period places precision rate riders runs set single small spell spells steps take the true way ways world',
  ),
} as const;

/** As they are written in the timeline, and held against `weekday`. */
export const WEEKDAYS: readonly string[] = listed('monday tuesday wednesday thursday friday saturday sunday');

/** The words that open a part at the left margin. */
export const PART_WORDS: ReadonlySet<string> = new Set(WORDS.parts);

const RESERVED: ReadonlySet<string> = new Set(WORDS.reserved);

export function isReserved(word: string): boolean {
  return RESERVED.has(word);
}
