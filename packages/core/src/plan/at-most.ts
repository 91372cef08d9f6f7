import type * as P from './plan.ts';

/** Rounds of the text more than these count as any number. */
const MOST_ROUNDS = 64;

/** So much, and so much more for each agent there is of some kinds; absent where nobody can tell. */
export type Amount = { readonly fixed: number; readonly perAgent: ReadonlyMap<number, number> } | undefined;

export const NOTHING = { fixed: 0, perAgent: new Map<number, number>() } as const;

/** How much of something statements do in one go at most. @param own how much a statement does of it, those inside it left out */
export function atMost(statements: readonly P.Statement[], own: (s: P.Statement) => number): Amount {
  return statements.reduce<Amount>((all, s) => {
    const inside = bodiesIn(s).reduce<Amount>((sum, body) => together(sum, atMost(body, own)), NOTHING);
    return together(together(all, { ...NOTHING, fixed: own(s) }), repeated(inside, s));
  }, NOTHING);
}

function together(one: Amount, other: Amount): Amount {
  if (!one || !other) return undefined;
  const perAgent = new Map(one.perAgent);
  for (const [kind, many] of other.perAgent) perAgent.set(kind, (perAgent.get(kind) ?? 0) + many);
  return { fixed: one.fixed + other.fixed, perAgent };
}

/** What a body does that a statement goes through as often as it may. */
function repeated(inside: Amount, s: P.Statement): Amount {
  if (!inside || isNothing(inside)) return inside;
  const { fixed, perAgent } = inside;
  if (s.op === 'repeat') {
    const { count } = s;
    if (count.op !== 'number' || !(count.value <= MOST_ROUNDS)) return undefined;
    const times = Math.max(0, Math.ceil(count.value));
    return { fixed: fixed * times, perAgent: new Map([...perAgent].map(([kind, many]) => [kind, many * times])) };
  }
  if (s.op !== 'each') return inside;
  if (perAgent.size > 0 || s.query.over.is !== 'agents') return undefined;
  return { fixed: 0, perAgent: new Map([[s.query.kind, fixed]]) };
}

function isNothing({ fixed, perAgent }: NonNullable<Amount>): boolean {
  return fixed === 0 && perAgent.size === 0;
}

/** The statements inside a statement. */
function bodiesIn(s: P.Statement): readonly (readonly P.Statement[])[] {
  switch (s.op) {
    case 'if':
      return [s.then, s.else];
    case 'switch':
      return s.cases;
    case 'pick':
      return [s.found, s.nobody];
    case 'create':
      return [s.found];
    case 'repeat':
    case 'each':
      return [s.body];
    default:
      return [];
  }
}
