import type { CheckedModel } from '../../language/checked.ts';
import { parse } from '../../language/parser.ts';
import { constantOf } from '../../language/scales.ts';
import { partsOf } from '../../language/syntax.ts';
import { sameDimension, TIME } from '../../language/types.ts';

/** A length of time in steps of the model: `7 days`, `30 steps`, or a bare number of steps; or what is wrong with it. */
export function stepsOf(
  text: string,
  { scales, clock }: Pick<CheckedModel, 'scales' | 'clock'>,
): { readonly steps: number } | { readonly problem: string; readonly hint: string } {
  const bare = /^(\d+)(?: steps?)?$/i.exec(text);
  const read = bare ? undefined : partsOf(parse(`parameter value = ${text}`).tree, 'parameter')[0];
  const constant = read && constantOf(read.value, scales);
  const isTime = constant?.dim && sameDimension(constant.dim, TIME);
  const steps = bare ? Number(bare[1]) : isTime ? constant.value / clock.stepLength : NaN;
  const whole = Math.round(steps);
  if (whole >= 1 && Math.abs(whole - steps) < 1e-6 * whole) return { steps: whole };
  return {
    problem: Number.isNaN(steps)
      ? `“${text}” is no length of time.`
      : `“${text}” is ${Number(steps.toPrecision(6))} steps of the model; whole steps are wanted.`,
    hint: 'Write “7 days” or “10 steps”.',
  };
}
