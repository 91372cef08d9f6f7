// @ts-expect-error It comes without types.
import untyped from 'jstat';

interface Laws {
  readonly studentt: { inv(level: number, freedom: number): number };
  readonly normal: {
    inv(level: number, mean: number, sd: number): number;
    cdf(value: number, mean: number, sd: number): number;
  };
}
const laws = untyped as Laws;

/** Quantile of Student's t. @param freedom degrees of freedom, at least 1 */
export function studentQuantile(level: number, freedom: number): number {
  return laws.studentt.inv(level, freedom);
}

/** Quantile of the normal law with mean 0 and standard deviation 1. */
export function normalQuantile(level: number): number {
  return laws.normal.inv(level, 0, 1);
}

/** Level of a value in the normal law with mean 0 and standard deviation 1: its distribution function. */
export function normalLevel(value: number): number {
  return laws.normal.cdf(value, 0, 1);
}
