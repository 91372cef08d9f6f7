import { describe, it } from 'vitest';
import { expectSameKernel, modelOf } from '../../test/kernel-models.ts';

/** Laws and functions of numbers in kernels beside the interpreter, of numbers of the text and of ones that are worked out, also where they are called. */

const LAWS: readonly string[] = [
  'gamma(mean = 2, shape = 3)',
  'gamma(mean = 2, shape = 0.5)',
  'gamma(mean = 0, shape = 1)',
  'gamma(mean = number / 8, shape = number / 10)',
  'gamma(mean = 3, shape = food + 0.01)',
  'gamma(mean = food, shape = 1e300)',
  'poisson(3)',
  'poisson(0)',
  'poisson(30)',
  'poisson(31)',
  'poisson(number * 1.5)',
  'poisson(number / 1e9)',
  'binomial(10, 0.3)',
  'binomial(40, 0.5)',
  'binomial(41, 0.5)',
  'binomial(0, 0.5)',
  'binomial(number * 2, number / 50)',
  'binomial(5, 0) + binomial(5, 1)',
  'exponential(2)',
  'exponential(0)',
  'exponential(food)',
  'lognormal(3, 1)',
  'lognormal(3, 0)',
  'lognormal(food + 0.01, hunger)',
  'lognormal(1e-300, 1e-290)',
  'weibull(2, number / 10) + beta(2, number) + triangular(0, food, 8)',
  'normal(number, food)',
];

/** Of numbers from very small ones to very large ones. */
const WIDE = '(food - 2) * 10 ^ (number * 15 - 300)';
const FUNCTIONS: readonly string[] = [
  `log(abs(${WIDE}) + 1e-310)`,
  'log(1 + food) - log(food + 1e-9)',
  'log(number / 20)',
  'sin((food - 2) * 10 ^ (number - 25) * 1 deg) + 2 * cos((food - 2) * 10 ^ (number - 25) * 1 deg)',
  'sin((number - 20) * 45 deg) - 2 * cos((number - 20) * 45 deg)',
  'tan(number * 7.3 deg)',
  `swing(direction, ${WIDE} * 1 deg) / 1 deg`,
  '(swing(number * 90 deg, 180 deg) + swing(food * 100 deg, food * -200 deg)) / 1 deg',
  'food ^ 2 + (food - 2) ^ 3 + food ^ 7',
  '(food - 2) ^ 64',
  '(food + 1) ^ -1 + (food + 1) ^ -6',
  'food ^ 0 + food ^ 0.5 + food ^ 1',
  'food ^ 0.3 + food ^ 2.5',
  '0 ^ food + (food + 0.1) ^ -2.5 + (food + 1.1) ^ 65',
  'food ^ (number / 10)',
];

describe('turns that are kernels', () => {
  it.each(LAWS)('draw from %s', (law) => {
    expectSameKernel(modelOf('plane 30 by 20, wrapping', `hunger = ${law}\nfood = uniform(0, 4)`), 3);
  });

  it.each(FUNCTIONS)('work out %s', (value) => {
    expectSameKernel(modelOf('plane 30 by 20, wrapping', `hunger = ${value}\nfood = uniform(0, 4)`), 4);
  });

  it.each(['0.4', '1e-7', 'food', '(food - 1) * 1e3'])('know what happens at a rate of %s', (rate) => {
    const model = modelOf('plane 30 by 20, wrapping', 'food = uniform(0, 4)');
    expectSameKernel(model.replace('chance 0.4: Calm', `rate ${rate} per minute: Calm`), 5);
  });
});
