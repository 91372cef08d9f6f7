import * as laws from '../engine/random/laws.ts';
import type { RandomStream } from '../engine/random/stream.ts';
import type { Law } from '../plan/plan.ts';

/** A draw from a law: one word of the stream for a chance, two for every other law. */
export function drawLaw(law: Law, args: readonly number[], stream: RandomStream): number {
  const [p = 0, q = 0, r = 0] = args;
  const a = stream.word();
  if (law === 'chance') return p !== p ? NaN : laws.drawChance(p, a);
  const b = stream.word();
  switch (law) {
    case 'unit':
      return laws.drawUnit(a, b);
    case 'uniform':
      return laws.drawUniform(p, q, a, b);
    case 'normal':
      return laws.drawNormal(p, q, a, b);
    case 'lognormal':
      return laws.drawLognormal(p, q, a, b);
    case 'exponential':
      return laws.drawExponential(p, a, b);
    case 'gamma':
      return laws.drawGamma(p, q, a, b);
    case 'beta':
      return laws.drawBeta(p, q, a, b);
    case 'weibull':
      return laws.drawWeibull(p, q, a, b);
    case 'triangular':
      return laws.drawTriangular(p, q, r, a, b);
    case 'poisson':
      return laws.drawPoisson(p, a, b);
    case 'binomial':
      return laws.drawBinomial(p, q, a, b);
    case 'whole':
      return laws.drawWhole(p, q, a, b);
  }
}
