import { MOST_REPEATED } from '../math.ts';
import { exponential } from './exponential.ts';
import type { F64 } from './kernel.ts';
import { called, compare, number, ofOne, product, quotient } from './kernel.ts';
import { logarithm } from './logarithm.ts';
import type { Sheet } from './sheet.ts';

/** x^y in kernel form, as `power` of math.ts has it, to the bit; called where the text does not say what y is. */
export function powerOf(sheet: Sheet, x: F64, y: F64): F64 {
  if (y.is !== 'f64') return called('power', x, y);
  const exponent = y.value;
  if (exponent === 0) return number(1);
  const base = sheet.kept(x);
  if (exponent === 0.5) return ofOne('sqrt', base);
  if (Math.floor(exponent) === exponent && Math.abs(exponent) <= MOST_REPEATED) {
    const multiplied = repeated(sheet, base, Math.abs(exponent));
    return exponent < 0 ? quotient(number(1), multiplied) : multiplied;
  }
  return sheet.choose(
    compare(base, '==', number(0)),
    () => number(exponent > 0 ? 0 : Infinity),
    () => exponential(sheet, product(y, logarithm(sheet, base))),
  );
}

/** By squares, from the last bit of the exponent on. */
function repeated(sheet: Sheet, base: F64, exponent: number): F64 {
  let square = base;
  let result: F64 | undefined;
  for (let n = exponent; ; square = sheet.kept(product(square, square))) {
    if (n % 2 === 1) result = result ? sheet.kept(product(result, square)) : square;
    n = Math.floor(n / 2);
    if (n === 0) return result!;
  }
}
