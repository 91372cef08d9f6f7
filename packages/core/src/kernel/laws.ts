import { exp, log } from '../math.ts';
import { LAWS } from '../plan/functions.ts';
import type { Law } from '../plan/functions.ts';
import { MOST_MULTIPLIED, MOST_TRIALS, NORMAL_LAYERS, TWO_M53 } from '../engine/random/laws.ts';
import { exponential } from './exponential.ts';
import type { F64, I32, Local, Numbers, Test } from './kernel.ts';
import {
  both,
  choose,
  compare,
  difference,
  ENDLESS,
  load,
  number,
  ofOne,
  plus,
  product,
  put,
  quotient,
  set,
  sum,
  whole,
  words,
} from './kernel.ts';
import { logarithm } from './logarithm.ts';
import { lawLuck } from './luck.ts';
import type { Sheet } from './sheet.ts';

/** Draws from laws in kernel form, as engine/random/laws.ts has them, to the bit. */

/**
 * What a law gives for two words of luck. What is seldom needed is called, and so are laws that are more than a few operations in any case.
 * @param tables `TABLES`, asked for where they are needed
 */
export function drawnFrom(
  sheet: Sheet,
  tables: () => Numbers,
  law: Exclude<Law, 'chance'>,
  args: readonly F64[],
  a: I32,
  b: I32,
): F64 {
  const [from, to] = args.map((arg) => sheet.kept(arg)) as [F64, F64];
  const called: F64 = { is: 'call', fn: LAWS[law].code, given: [...args, unsigned(a), unsigned(b)] };
  switch (law) {
    case 'unit':
      return unit(a, b);
    case 'uniform':
      return sum(from, product(difference(to, from), unit(a, b)));
    case 'whole': {
      const many = sum(difference(to, from), number(1));
      const drawn = sum(from, ofOne('floor', product(unit(a, b), many)));
      return choose(compare(to, '>=', from), drawn, number(NaN));
    }
    case 'normal': {
      const { z, isInside } = standardNormal(sheet, tables, a, b);
      return choose(both(isInside, compare(to, '>=', number(0))), sum(from, product(to, z)), called);
    }
    case 'exponential': {
      const drawn = product({ is: 'minus', value: from }, logarithm(sheet, difference(number(1), unit(a, b))));
      return choose(compare(from, '>=', number(0)), drawn, number(NaN));
    }
    case 'lognormal':
      return mostly(sheet, called, (give) => lognormal(sheet, tables, { mean: from, sd: to }, [a, b], give));
    case 'gamma':
      return mostly(sheet, called, (give) => gamma(sheet, tables, { mean: from, shape: to }, [a, b], give));
    case 'poisson':
      return mostly(sheet, called, (give) => poisson(sheet, from, [a, b], give));
    case 'binomial':
      return mostly(sheet, called, (give) => binomial(sheet, { trials: from, chance: to }, [a, b], give));
    default:
      return called;
  }
}

function unit(a: I32, b: I32): F64 {
  const high = product(unsigned(words('shr', a, whole(5))), number(67108864));
  return product(sum(high, unsigned(words('shr', b, whole(6)))), number(TWO_M53));
}

function unsigned(word: I32): F64 {
  return { is: 'unsigned', word };
}

/** A standard normal number, and whether one look at its layer is enough for it, as it mostly is. */
function standardNormal(
  sheet: Sheet,
  tables: () => Numbers,
  a: I32,
  b: I32,
): { readonly z: F64; readonly isInside: Test } {
  const column = tables();
  const layer = sheet.keptWhole(words('mask', a, whole(NORMAL_LAYERS - 1)));
  const high = product(unsigned(words('shr', a, whole(7))), number(268435456));
  const parts = sum(high, unsigned(words('shr', b, whole(4))));
  const u = sheet.kept(difference(product(parts, number(2.220446049250313e-16)), number(1)));
  return {
    z: product(u, load(column, layer)),
    isInside: compare(ofOne('abs', u), '<', load(column, plus(layer, whole(NORMAL_LAYERS + 1)))),
  };
}

type Give = (value: F64) => void;
type Words = readonly [I32, I32];

/** What is given where it is written, else what is called. */
function mostly(sheet: Sheet, called: F64, write: (give: Give) => void): F64 {
  const drawn = sheet.f64();
  const name = `drawn${drawn.name}`;
  const { list } = sheet.apart(() => {
    write((value) => sheet.add(set(drawn, value), { is: 'leave', block: name }));
    sheet.add(set(drawn, called));
  });
  sheet.add({ is: 'block', name, body: list });
  return drawn;
}

/** What is made of numbers, worked out here where they are those of the text. */
function madeOf(sheet: Sheet, of: readonly F64[], now: (...of: number[]) => number, then: (...of: F64[]) => F64): F64 {
  const known = of.flatMap((one) => (one.is === 'f64' ? [one.value] : []));
  return known.length === of.length ? number(now(...known)) : sheet.kept(then(...of));
}

function nextPositive(next: () => Local<'i32'>): F64 {
  return difference(number(1), unit(next(), next()));
}

function lognormal(
  sheet: Sheet,
  tables: () => Numbers,
  { mean, sd }: { readonly mean: F64; readonly sd: F64 },
  [a, b]: Words,
  give: Give,
): void {
  const { z, isInside } = standardNormal(sheet, tables, a, b);
  const isLaw = both(compare(mean, '>', number(0)), compare(sd, '>=', number(0)));
  sheet.when(both(isLaw, isInside), () => {
    const ratio = madeOf(
      sheet,
      [sd, mean],
      (s, m) => s / m,
      (s, m) => quotient(s, m),
    );
    const variance = madeOf(
      sheet,
      [ratio],
      (known) => log(1 + known * known),
      (kept) => logarithm(sheet, sum(number(1), product(kept, kept))),
    );
    const middle = madeOf(
      sheet,
      [mean, variance],
      (m, v) => log(m) - 0.5 * v,
      (m, v) => difference(logarithm(sheet, m), product(number(0.5), v)),
    );
    give(exponential(sheet, sum(middle, product(ofOne('sqrt', variance), z))));
  });
}

/** Where the first try is taken, and that without a logarithm. */
function gamma(
  sheet: Sheet,
  tables: () => Numbers,
  { mean, shape }: { readonly mean: F64; readonly shape: F64 },
  [a, b]: Words,
  give: Give,
): void {
  sheet.when(both(compare(mean, '>=', number(0)), compare(shape, '>=', number(1))), () => {
    const d = madeOf(
      sheet,
      [shape],
      (s) => s - 1 / 3,
      (s) => difference(s, number(1 / 3)),
    );
    const c = madeOf(
      sheet,
      [d],
      (known) => 1 / Math.sqrt(9 * known),
      (kept) => quotient(number(1), ofOne('sqrt', product(number(9), kept))),
    );
    const scale = madeOf(
      sheet,
      [mean, shape],
      (m, s) => m / s,
      (m, s) => quotient(m, s),
    );
    const next = lawLuck(sheet, a, b);
    const { z, isInside } = standardNormal(sheet, tables, next(), next());
    sheet.when(isInside, () => {
      const kept = sheet.kept(z);
      const v1 = sheet.kept(sum(number(1), product(c, kept)));
      const v = sheet.kept(product(product(v1, v1), v1));
      const u = sheet.kept(nextPositive(next));
      const z2 = sheet.kept(product(kept, kept));
      const isBelow = compare(u, '<', difference(number(1), product(number(0.0331), product(z2, z2))));
      sheet.when(both(compare(v1, '>', number(0)), isBelow), () => give(product(scale, product(d, v))));
    });
  });
}

/** By multiplying up. */
function poisson(sheet: Sheet, mean: F64, [a, b]: Words, give: Give): void {
  sheet.when(both(compare(mean, '>=', number(0)), compare(mean, '<=', number(MOST_MULTIPLIED))), () => {
    const limit = madeOf(
      sheet,
      [mean],
      (known) => exp(-known),
      (kept) => exponential(sheet, { is: 'minus', value: kept }),
    );
    const next = lawLuck(sheet, a, b);
    const [left, count, round] = [sheet.f64(), sheet.i32(), sheet.i32()];
    sheet.add(set(left, number(1)), put(count, whole(0)));
    const { list } = sheet.apart(() => {
      sheet.add(set(left, product(left, nextPositive(next))));
      const isThrough: Test = { is: 'not', test: compare(left, '>', limit) };
      sheet.when(isThrough, () => give({ is: 'of i32', value: count }));
      sheet.add(put(count, plus(count, whole(1))));
    });
    sheet.add({ is: 'loop', index: round, from: whole(0), to: ENDLESS, body: list });
  });
}

/** Trial by trial. */
function binomial(
  sheet: Sheet,
  { trials, chance }: { readonly trials: F64; readonly chance: F64 },
  [a, b]: Words,
  give: Give,
): void {
  const areFew = both(compare(trials, '>=', number(0)), compare(trials, '<=', number(MOST_TRIALS)));
  const areWhole = compare(ofOne('floor', trials), '==', trials);
  const isChance = both(compare(chance, '>=', number(0)), compare(chance, '<=', number(1)));
  sheet.when(both(both(areFew, areWhole), isChance), () => {
    const next = lawLuck(sheet, a, b);
    const [count, trial] = [sheet.i32(), sheet.i32()];
    sheet.add(put(count, whole(0)));
    const { list } = sheet.apart(() => {
      const drawn = unit(next(), next());
      sheet.add(put(count, plus(count, { is: 'holds', test: compare(drawn, '<', chance) })));
    });
    sheet.add({ is: 'loop', index: trial, from: whole(0), to: { is: 'truncated', value: trials }, body: list });
    give({ is: 'of i32', value: count });
  });
}
