import type { Cell } from '../csv.ts';
import type { Sensitivity } from '../studies/answers/sensitivity.ts';
import { shownNumber } from './numbers.ts';

type Index = Sensitivity['indices'][number];

/** Which indices a chart of them shows, dark and light, and what they are called; by what the answer holds. */
export interface IndexPair {
  readonly dark: Index['index'];
  readonly light?: Index['index'];
  readonly title: (summary: string) => string;
  readonly key: string;
  /** Heading of the manual that explains them. */
  readonly means: string;
}

const PAIRS: readonly IndexPair[] = [
  {
    dark: 'first index',
    light: 'total index',
    title: (summary) => `What matters for ${summary}`,
    key: 'dark: alone (first index); light: with all it acts together with (total index); shares of the variance between points',
    means: 'first-and-total-indices',
  },
  {
    dark: 'size of effects',
    title: (summary) => `How much each factor moves ${summary}`,
    key: 'mean size of the effects (mu*) of a change over the whole range, in the unit of the summary',
    means: 'size-of-effects',
  },
  {
    dark: 'partial rank correlation',
    light: 'rank correlation',
    title: (summary) => `What ${summary} goes with`,
    key: 'dark: partial rank correlation, with what the others explain taken off; light: rank correlation',
    means: 'rank-correlations',
  },
];

/** The pair of indices that an answer is told by. */
export function pairOf({ indices }: Sensitivity): IndexPair | undefined {
  return PAIRS.find(({ dark }) => indices.some(({ index }) => index === dark));
}

/** The indices of one name, the factors that matter most first. */
export function ranked({ indices }: Sensitivity, name: Index['index']): Index[] {
  return indices
    .filter(({ index }) => index === name)
    .sort((a, b) => Math.abs(b.value) - Math.abs(a.value) || a.factor.localeCompare(b.factor));
}

const percent = (share: number): string => `${Math.round(share * 100)}`;
const SHOWN = 3;

/** What the indices of a summary say, in sentences with their intervals. */
export function sensitivitySentences(sensitivity: Sensitivity, summary: string): string[] {
  const { luck } = sensitivity;
  const told = sentenceOf(sensitivity, summary);
  if (!told) return [];
  return [
    told,
    Number.isNaN(luck)
      ? 'With one seed a point, luck cannot be told from what the factors do.'
      : `Of the variance over all runs ${luck > 0 && luck < 0.01 ? 'less than 1' : percent(luck)} % is luck, within points.`,
    ...(isVague(sensitivity) ? ['The intervals are wide; four times as many points would halve them.'] : []),
  ];
}

/** Whether the shares are known so badly that more points are wanted. */
function isVague(sensitivity: Sensitivity): boolean {
  return ranked(sensitivity, 'first index').some(({ low, high }) => high - low > 0.4);
}

function sentenceOf(sensitivity: Sensitivity, summary: string): string | undefined {
  const pair = pairOf(sensitivity);
  if (!pair) return undefined;
  const all = ranked(sensitivity, pair.dark);
  if (all.every(({ value }) => Number.isNaN(value)))
    return `${summary} is the same at all points, so nothing matters for it here.`;
  const top = all.slice(0, SHOWN);
  if (pair.dark === 'first index')
    return `Of what differs between points in ${summary}, ${top
      .map(
        ({ factor, value, low, high }) =>
          `${factor} alone explains ${percent(value)} % (${percent(low)} to ${percent(high)})`,
      )
      .join(', ')}.`;
  if (pair.dark === 'size of effects')
    return `Over its whole range, ${top
      .map(
        ({ factor, value, low, high }) =>
          `${factor} moves ${summary} by ${shownNumber(value)} (${shownNumber(low)} to ${shownNumber(high)})`,
      )
      .join(', ')}.`;
  const seen = all.filter(({ low, high }) => low > 0 || high < 0);
  const unseen = all.filter((index) => !seen.includes(index));
  const interval = ({ value, low, high }: Index): string =>
    `${value.toFixed(2)}, ${low.toFixed(2)} to ${high.toFixed(2)}`;
  return [
    ...seen
      .slice(0, SHOWN)
      .map((index) => `${summary} ${index.value > 0 ? 'rises' : 'falls'} with ${index.factor} (${interval(index)})`),
    ...(unseen.length > 0 ? [`of ${unseen.map(({ factor }) => factor).join(', ')} no effect is seen`] : []),
  ]
    .join('; ')
    .replace(/^./, (first) => first.toUpperCase())
    .concat('.');
}

/** The indices as a table: a row a factor and index. */
export function sensitivityTable({ indices, luck }: Sensitivity, summary: string): Cell[][] {
  return [
    ['factor', 'summary', 'index', 'value', 'low90', 'high90'],
    ...indices.map(({ factor, index, value, low, high }): Cell[] => [factor, summary, index, value, low, high]),
    ['', summary, 'share of luck', luck, NaN, NaN],
  ];
}
