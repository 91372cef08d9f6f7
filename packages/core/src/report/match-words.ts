import type { PosteriorAnswer } from '../studies/answers/questions.ts';
import type { AgreementScores, ScoreName } from '../studies/match/agreement.ts';
import { shownNumber, shownPercent } from './numbers.ts';

/** What the numbers of a match say, in words. */

type Found = NonNullable<PosteriorAnswer['found']>;

/** Name of each score, and what it means. */
export const SCORE_WORDS: Readonly<Record<ScoreName, { readonly name: string; readonly means: string }>> = {
  inside50: {
    name: 'inside the 50 % band',
    means:
      'Half of the observations should lie there. Far fewer: the runs are too sure of themselves; far more: they spread too widely.',
  },
  inside90: { name: 'inside the 90 % band', means: 'Nine in ten of the observations should lie there.' },
  rankedProbabilityScore: {
    name: 'ranked probability score',
    means:
      'Mean distance of the observations from the runs as a whole, in their unit; it rewards being near and being rightly sure. Less is better.',
  },
  rootMeanSquareError: {
    name: 'root mean square error',
    means: 'Of the median of the runs, in the unit of the observations; large misses count more. Less is better.',
  },
  meanAbsoluteError: { name: 'mean absolute error', means: 'Mean miss of the median. Less is better.' },
  normalisedError: {
    name: 'normalised error',
    means: 'Root mean square error as a share of the mean size of what was observed.',
  },
  bias: { name: 'bias', means: 'Mean of median less observed: above 0 the model gives more.' },
  skillAgainstMean: {
    name: 'skill against the mean',
    means:
      'How much better than always saying the mean of the data that are used: 100 % is perfect, 0 no better, below 0 worse.',
  },
  skillAgainstLast: {
    name: 'skill against the value before',
    means: 'How much better than saying that nothing changes since the observation before.',
  },
};

/** Order in which scores are shown. */
export const SHOWN_SCORES: readonly ScoreName[] = [
  'inside50',
  'inside90',
  'rankedProbabilityScore',
  'skillAgainstMean',
  'skillAgainstLast',
  'rootMeanSquareError',
  'meanAbsoluteError',
  'normalisedError',
  'bias',
];

const SHARES: readonly ScoreName[] = [
  'inside50',
  'inside90',
  'normalisedError',
  'skillAgainstMean',
  'skillAgainstLast',
];

/** A score and its interval over seeds. */
export function scoreCells(
  scores: AgreementScores,
  score: ScoreName,
): { readonly value: string; readonly interval: string } {
  const { value, low, high } = scores[score];
  const word = (x: number): string => scoreNumber(score, x);
  const interval = Number.isFinite(low) && Number.isFinite(high) ? `${word(low)} to ${word(high)}` : '';
  if (Number.isNaN(value)) return { value: 'none', interval: '' };
  if (score === 'inside50' || score === 'inside90')
    return { value: `${Math.round(value * scores.points)} of ${scores.points}`, interval };
  return { value: word(value), interval };
}

/** A value of a score with its sign and unit. */
export function scoreNumber(score: ScoreName, value: number): string {
  if (SHARES.includes(score)) return value < 0 ? `\u2212${shownPercent(-value)}` : shownPercent(value);
  return `${score === 'bias' && value > 0 ? '+' : ''}${shownNumber(value)}`;
}

/** An unknown whose range narrows by less is hardly told of by the data; by more, it is fixed. */
const HARDLY = 0.25;
const FIXED = 0.5;
/** From this correlation on two unknowns are known together rather than each. */
const TOGETHER = 0.5;
/** Draws worth fewer independent ones than these say little of the ends of a range, of which a twentieth lie beyond each. */
const FEW_DRAWS = 50;

/** A sentence, told apart from others by what it is of. */
export interface Sentence {
  readonly key: string;
  readonly text: string;
}

/** What the data tell of the unknowns, and what they cannot tell. @param units of the unknowns */
export function posteriorSentences(
  { findings, pairs, posterior: { left, effective } }: Found,
  units: readonly string[],
  data: string,
): Sentence[] {
  const inUnit = (value: string, unknown: number): string => `${value}${units[unknown] ? ` ${units[unknown]}` : ''}`;
  const sentences: Sentence[] = findings.map(({ parameter, low, high, narrowing, end }, unknown) => {
    const range = inUnit(`${shownNumber(low)} to ${shownNumber(high)}`, unknown);
    if (left !== undefined)
      return {
        key: parameter,
        text:
          narrowing < HARDLY
            ? `${data} rule out little of ${parameter}.`
            : `Of ${parameter}, nine tenths of what is left lie in ${range}, ${shownPercent(narrowing)} narrower than before.`,
      };
    const text =
      narrowing < HARDLY
        ? `${data} say little about ${parameter}: its range ${narrowing > 0.005 ? `narrows by only ${shownPercent(narrowing)}` : 'does not narrow'} (${range}).`
        : narrowing < FIXED
          ? `${data} tell something of ${parameter}: ${range}, which is ${shownPercent(narrowing)} narrower than before.`
          : `${data} fix ${parameter}: ${range}, ${shownPercent(narrowing)} narrower than before.`;
    const cut = end
      ? ` It heaps at the ${end === 'low' ? 'lower' : 'upper'} end of what was thought possible: think of a wider range.`
      : '';
    return { key: parameter, text: text + cut };
  });
  for (const { first, second, correlation } of pairs) {
    if (Math.abs(correlation) < TOGETHER) continue;
    const [a, b] = [findings[first]!.parameter, findings[second]!.parameter];
    sentences.push({
      key: `${a} ${b}`,
      text: `${a} and ${b} are known mostly together: a higher ${a} with a ${correlation < 0 ? 'lower' : 'higher'} ${b} agrees as well (correlation ${shownNumber(correlation, 2)}).`,
    });
  }
  if (left !== undefined)
    sentences.unshift({
      key: 'left',
      text: `${shownPercent(left)} of what was thought possible is not ruled out by ${data.toLowerCase()}. Nothing is said of what in it is likelier.`,
    });
  else if (effective < FEW_DRAWS)
    sentences.unshift({
      key: 'few',
      text: `The draws are worth only ${Math.round(effective)} independent ones: take more runs before you rely on these ranges.`,
    });
  return sentences;
}

/** How far a search has come, and what its draws are worth. */
export function searchWords({ posterior: found }: Found): string {
  const { method, rounds, accepted, draws, effective, tolerance, left } = found;
  const furthest = `none further off than ${shownNumber(tolerance)} standard deviations`;
  switch (method) {
    case 'synthetic likelihood':
      return `${counted(rounds, 'move')} of each chain, ${shownPercent(accepted)} of them taken; ${draws.length} draws, worth ${Math.round(effective)} independent ones`;
    case 'history matching':
      return `${shownPercent(left ?? 1)} of what was thought possible is left after ${counted(rounds, 'wave')}; ${draws.length} draws spread over it`;
    default:
      return `${rounds > 0 ? `${counted(rounds, 'round')}, accepted at last ${shownPercent(accepted)}; ` : ''}${draws.length} draws, worth ${Math.round(effective)} with equal weights; ${furthest}`;
  }
}

function counted(count: number, word: string): string {
  return `${count} ${count === 1 ? word : `${word}s`}`;
}

/** What a paragraph for a paper says besides what was found. */
export interface PaperFacts {
  readonly model: string;
  readonly engine: string;
  readonly runs: number;
  /** Runs by whose spread distances were measured. */
  readonly pilots: number;
  readonly priors: readonly string[];
  readonly series: readonly string[];
  readonly heldOut: string | undefined;
  readonly units: readonly string[];
}

const METHOD_SOURCES: Readonly<Record<string, string>> = {
  rejection: 'rejection (approximate Bayesian computation)',
  'sequential monte carlo':
    'sequential Monte Carlo (approximate Bayesian computation; tolerances as in Del Moral et al. 2012, kernel as in Filippi et al. 2013)',
  'synthetic likelihood':
    'synthetic likelihood (Wood 2010; estimated without bias, Price et al. 2018) with Metropolis moves of six chains',
  'history matching':
    'history matching in waves with Gaussian process emulators (Vernon et al. 2010; implausible from three standard deviations on)',
};

/** A paragraph that a modeler could put in a paper, with all numbers. */
export function paperParagraph({ posterior, findings }: Found, facts: PaperFacts): string {
  const { rounds, accepted, effective, isAdjusted, draws, method, left } = posterior;
  const runs = facts.runs.toLocaleString('en-GB');
  const priors = findings.map(({ parameter }, i) => `${parameter} (${facts.priors[i]})`);
  const found = findings.map(
    ({ parameter, median, low, high }, i) =>
      `${parameter} ${shownNumber(median)}${facts.units[i] ? ` ${facts.units[i]}` : ''} (${left === undefined ? '90 % credible interval' : 'nine tenths'} ${shownNumber(low)} to ${shownNumber(high)})`,
  );
  const after =
    rounds > 0 ? ` after ${counted(rounds, 'round')} (acceptance in the last ${shownPercent(accepted)})` : '';
  const told: Readonly<Record<typeof method, readonly string[]>> = {
    rejection: byDistance(),
    'sequential monte carlo': byDistance(),
    'best point': [],
    'synthetic likelihood': [
      `${runs} runs gave ${draws.length} draws of the posterior (acceptance ${shownPercent(accepted)}), worth ${Math.round(effective)} independent ones.`,
      `The posterior medians are ${listed(found)}.`,
    ],
    'history matching': [
      `${runs} runs in ${counted(rounds, 'wave')} left ${shownPercent(left ?? 1)} of the prior space not ruled out.`,
      `There, the medians are ${listed(found)}; they are no probabilities.`,
    ],
  };
  function byDistance(): string[] {
    return [
      `Distances were weighted sums of squared differences in standard deviations of ${facts.pilots} pilot runs at the medians of the priors, with the error of observing drawn for every run.`,
      `${runs} runs gave ${draws.length} draws of the posterior${after}, worth ${Math.round(effective)} with equal weights${isAdjusted ? ', after local linear regression adjustment (Beaumont et al. 2002)' : ''}.`,
      `The posterior medians are ${listed(found)}.`,
    ];
  }
  return [
    `We calibrated ${listed(priors)} of the model “${facts.model}” to ${listed(facts.series)}${facts.heldOut ? `, holding out what was observed ${facts.heldOut}` : ''}, by ${METHOD_SOURCES[method] ?? method}.`,
    ...told[method],
    `Computed with Vole Parade, engine version ${facts.engine}.`,
  ].join(' ');
}
function listed(words: readonly string[]): string {
  return words.length < 2 ? (words[0] ?? '') : `${words.slice(0, -1).join(', ')} and ${words.at(-1)!}`;
}
