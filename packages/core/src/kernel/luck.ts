import type { F64, I32, Local, Statement, Test } from './kernel.ts';
import { compare, i32, number, product, put, whole, words as of } from './kernel.ts';

/** Keyed luck in kernel form: the same words as `engine/random/stream.ts` gives. */

/** The key that a rule has in a step; given to a kernel that draws. */
export const KEYS = [i32('key0'), i32('key1')] as const;
const [S0, S1, T] = [i32('s0'), i32('s1'), i32('t')];
const WORD = i32('w1');
export const LUCK_LOCALS: readonly Local[] = [S0, S1, T, WORD];

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

/** Draws the next word. @param into the local that it is put into */
export function drawWord(into: Local<'i32'> = WORD): {
  readonly statements: readonly Statement[];
  readonly word: Local<'i32'>;
} {
  return {
    statements: [
      put(T, of('imul', S0, whole(0x9e3779bb | 0))),
      put(into, of('imul', turned(T, 5), whole(5))),
      put(S1, of('xor', S1, S0)),
      put(S0, of('xor', of('xor', turned(S0, 26), S1), of('shl', S1, whole(9)))),
      put(S1, turned(S1, 13)),
    ],
    word: into,
  };
}

/** Whether a word of luck falls within a chance. */
export function isWithin(word: Local<'i32'>, chance: F64): Test {
  const parts = chance.is === 'f64' ? Math.ceil(chance.value * 4294967296) : NaN;
  if (parts >= 0 && parts < 4294967296) return { is: 'below', word, than: whole(parts | 0) };
  return compare({ is: 'unsigned', word }, '<', product(chance, number(4294967296)));
}
