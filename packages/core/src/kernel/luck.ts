import type { F64, I32, Local, Statement, Test } from './kernel.ts';
import { compare, compareWhole, i32, number, product, put, whole, words as of } from './kernel.ts';
import type { Sheet } from './sheet.ts';

/** Keyed luck in kernel form: the same words as `engine/random/stream.ts` gives. */

/** The key that a rule has in a step; given to a kernel that draws. */
export const KEYS = [i32('key0'), i32('key1')] as const;
const [S0, S1, T] = [i32('s0'), i32('s1'), i32('t')];
const WORD = i32('w1');
export const LUCK_LOCALS: readonly Local[] = [S0, S1, T, WORD];

/** What a stream of words is kept in, two locals, and one in which it is worked out. */
export type Stream = readonly [Local<'i32'>, Local<'i32'>, Local<'i32'>];
const OF_AGENT: Stream = [S0, S1, T];
/** In which a law goes on from the two words that it is given. */
const OF_LAW: Stream = [i32('l0'), i32('l1'), i32('lt')];

function turned(word: I32, by: number): I32 {
  return of('bits', of('shl', word, whole(by)), of('shr', word, whole(32 - by)));
}

/** Mixes what a local holds. */
function mixInto(local: Local<'i32'>): Statement[] {
  const folded = (by: number): I32 => of('xor', local, of('shr', local, whole(by)));
  return [
    put(local, of('imul', folded(16), whole(0x85ebca6b | 0))),
    put(local, of('imul', folded(13), whole(0xc2b2ae35 | 0))),
    put(local, folded(16)),
  ];
}

/** Begins the stream of one agent, or cell, by its number. */
export function beginLuck(number: I32): Statement[] {
  const next = of('add', number, whole(1));
  return [
    put(S0, of('add', KEYS[0], of('imul', number, whole(0x9e3779b1 | 0)))),
    ...mixInto(S0),
    put(S1, of('xor', KEYS[1], of('imul', next, whole(0x85ebca77 | 0)))),
    ...mixInto(S1),
    put(S1, of('bits', S1, whole(1))),
  ];
}

/** Begins the stream of a law, as `begin` of engine/random/laws.ts does, and gives what draws its next word. */
export function lawLuck(sheet: Sheet, a: I32, b: I32): () => Local<'i32'> {
  const [s0, s1] = OF_LAW;
  sheet.use(...OF_LAW);
  sheet.add(
    put(s0, of('xor', a, whole(0x5bd1e995))),
    ...mixInto(s0),
    put(s1, of('add', b, whole(0x3c6ef372))),
    ...mixInto(s1),
    put(s1, of('bits', s1, whole(1))),
  );
  return () => {
    const { statements, word } = drawWord(sheet.i32(), OF_LAW);
    sheet.add(...statements);
    return word;
  };
}

/** Draws the next word. @param into the local that it is put into */
export function drawWord(
  into: Local<'i32'> = WORD,
  [s0, s1, t]: Stream = OF_AGENT,
): {
  readonly statements: readonly Statement[];
  readonly word: Local<'i32'>;
} {
  return {
    statements: [
      put(t, of('imul', s0, whole(0x9e3779bb | 0))),
      put(into, of('imul', turned(t, 5), whole(5))),
      put(s1, of('xor', s1, s0)),
      put(s0, of('xor', of('xor', turned(s0, 26), s1), of('shl', s1, whole(9)))),
      put(s1, turned(s1, 13)),
    ],
    word: into,
  };
}

/** Up to so many the product with a word is exact as a number too. */
const MOST_EXACT = 2097152;
/** A word times this is a number from 0 to below 1: the same bits as divided by 2^32. */
const TWO_M32 = number(1 / 4294967296);

/** A whole number from 0 below another, from a word. */
export function drawnBelow(sheet: Sheet, word: Local<'i32'>, many: I32): Local<'i32'> {
  const kept = sheet.keptWhole(many);
  const drawn = sheet.i32();
  const asNumber = product(product({ is: 'unsigned', word }, { is: 'of i32', value: kept }), TWO_M32);
  sheet.when(
    compareWhole(kept, '<=', whole(MOST_EXACT)),
    () => sheet.add(put(drawn, of('high', word, kept))),
    () => sheet.add(put(drawn, { is: 'truncated', value: asNumber })),
  );
  return drawn;
}

/** Whether a word of luck falls within a chance. */
export function isWithin(word: Local<'i32'>, chance: F64): Test {
  const parts = chance.is === 'f64' ? Math.ceil(chance.value * 4294967296) : NaN;
  if (parts >= 0 && parts < 4294967296) return { is: 'below', word, than: whole(parts | 0) };
  return compare({ is: 'unsigned', word }, '<', product(chance, number(4294967296)));
}
