import type * as P from '../plan/plan.ts';

/** What all bodies that become kernels share, of cells and of turns. */

/** Thrown where a body asks for more than kernels can do. */
export class NeedsMore extends Error {}

/** What is made, or nothing where more is needed for it. */
export function unlessMore<T>(make: () => T): T | undefined {
  try {
    return make();
  } catch (error) {
    if (error instanceof NeedsMore) return undefined;
    throw error;
  }
}

/** Comparisons of the plan in the words of the kernel form. */
export const COMPARED: Readonly<Partial<Record<P.BinaryFunction, '<' | '<=' | '>' | '>=' | '==' | '!='>>> = {
  '<': '<',
  '<=': '<=',
  '>': '>',
  '>=': '>=',
  is: '==',
  'is not': '!=',
};
