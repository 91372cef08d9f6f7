/** A formula as it is set in type: names, numbers, and how they stand to one another. */
export type Formula =
  | { readonly is: 'number'; readonly text: string }
  /** Of a parameter, or of how many agents are in a state; `stage` where a duration is a row of stages. */
  | { readonly is: 'name'; readonly text: string; readonly stage?: string }
  /** The mean of an attribute over all agents of a kind. */
  | { readonly is: 'mean'; readonly text: string }
  | { readonly is: 'product'; readonly factors: readonly Formula[] }
  | { readonly is: 'sum'; readonly terms: readonly { readonly isLess: boolean; readonly of: Formula }[] }
  | { readonly is: 'fraction'; readonly top: Formula; readonly bottom: Formula }
  | { readonly is: 'power'; readonly base: Formula; readonly exponent: Formula }
  | { readonly is: 'function'; readonly name: string; readonly args: readonly Formula[] }
  /** 1 where it holds, else 0. */
  | { readonly is: 'condition'; readonly words: readonly (string | Formula)[] };

export const ONE: Formula = { is: 'number', text: '1' };

export function numberFormula(value: number): Formula {
  return { is: 'number', text: String(Number(value.toPrecision(6))) };
}

/** A product without the factors that are one. */
export function productOf(factors: readonly Formula[]): Formula {
  const flat = factors.flatMap((factor) => (factor.is === 'product' ? factor.factors : [factor]));
  const told = flat.filter((factor) => !(factor.is === 'number' && factor.text === '1'));
  return told.length === 0 ? ONE : told.length === 1 ? told[0]! : { is: 'product', factors: told };
}

export function fractionOf(top: Formula, bottom: Formula): Formula {
  return bottom.is === 'number' && bottom.text === '1' ? top : { is: 'fraction', top, bottom };
}

/** One less a share. */
export function rest(share: Formula): Formula {
  return {
    is: 'sum',
    terms: [
      { isLess: false, of: ONE },
      { isLess: true, of: share },
    ],
  };
}
