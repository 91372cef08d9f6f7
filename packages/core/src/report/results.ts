import type { Plan, SeriesPlan } from '../plan/plan.ts';
import type {
  AgreementAnswer,
  DifferencesAnswer,
  ObservationAnswer,
  OutcomesAnswer,
  PointAnswer,
  PosteriorAnswer,
} from '../studies/answers/questions.ts';
import type { Sensitivity } from '../studies/answers/sensitivity.ts';
import { unitOfParameter } from '../studies/results/table.ts';
import type { Estimate } from '../studies/statistics/intervals.ts';
import type { Block, Line, Section } from './document.ts';
import { capital, paragraph, tableOf } from './document.ts';
import type { NamedBands, ResultTime } from './fan-picture.ts';
import { fanPicture } from './fan-picture.ts';
import { indexPicture } from './index-picture.ts';
import { shownNumber, shownPercent } from './numbers.ts';
import { posteriorBlock } from './posterior-picture.ts';
import { sensitivitySentences } from './sensitivity-words.ts';
import { categoriesOf } from './value-words.ts';

/** A study as a report tells of it: what it is of, and what was asked of its results. */
export interface StudyTold {
  readonly id: string;
  readonly name: string;
  /** What the modeler says of it. */
  readonly notes?: string;
  readonly plan: Pick<Plan, 'title' | 'measures' | 'summaries' | 'parameters'>;
  /** Length of a step in the unit of the clock. */
  readonly stepLength: number;
  /** Text, values, seeds and engine, in a few words. */
  readonly of: string;
  /** What has moved on since, if anything. */
  readonly stale?: string;
  readonly runs: number;
  /** Runs that stopped before their end, which are in no number. */
  readonly failed: number;
  /** Runs that are still missing. */
  readonly missing: number;
  /** Courses of measures by their places. */
  readonly fans: readonly {
    readonly measure: number;
    readonly points: readonly NamedBands[];
    /** The mean-field reference, a value at each kept step, where there is one. */
    readonly reference?: readonly number[];
  }[];
  readonly times: readonly ResultTime[];
  /** Of a study of one point. */
  readonly outcomes?: OutcomesAnswer;
  /** Of a study of several points, and how they are called. */
  readonly points?: {
    readonly called: string;
    readonly names: readonly string[];
    /** What each sets, where its name does not say it. */
    readonly settings?: readonly string[];
    readonly answers: readonly PointAnswer[];
    readonly all: number;
  };
  /** How other points differ from the first one, seed by seed. */
  readonly differences?: readonly DifferencesAnswer[];
  /** Of a sampled design, one a summary. */
  readonly sensitivities?: readonly Sensitivity[];
  readonly posterior?: PosteriorAnswer;
  readonly agreement?: AgreementAnswer;
  /** How the search was done, as a paragraph, and what the data tell, in sentences. */
  readonly search?: { readonly paragraph: string; readonly sentences: readonly string[] };
}

/** What came out of a study: what it is of, its figures and tables, each saying of how many runs it is. */
export function studySection(told: StudyTold): Section {
  const { id, name, notes, of, runs, failed, missing, stale, fans, plan } = told;
  const counts = [
    `${runs} ${runs === 1 ? 'run' : 'runs'}`,
    ...(failed > 0 ? [`${failed} more stopped before their end and are in no number`] : []),
    ...(missing > 0 ? [`${missing} more are not done yet`] : []),
  ].join('; ');
  return {
    id: `study-${id}`,
    title: name,
    blocks: [
      ...(notes ? [paragraph(notes)] : []),
      paragraph(`${counts}. ${capital(of)}.`),
      ...(stale ? [paragraph(`Mind: ${stale}. These runs are of the model as it was.`)] : []),
      ...(runs === 0 ? [] : fans.map((each) => fan(told, each))),
      ...(told.outcomes && runs > 0 ? outcomes(plan.summaries, told.outcomes) : []),
      ...(told.points && runs > 0 ? pointTable(plan.summaries, told.points) : []),
      ...(told.differences && told.points && runs > 0
        ? differenceTable(plan.summaries, told.points, told.differences)
        : []),
      ...(told.sensitivities ?? []).flatMap((each, s) => indices(told, each, plan.summaries[s]!)),
      ...(told.search ? [paragraph(told.search.paragraph)] : []),
      ...(told.posterior ? posterior(told, told.posterior) : []),
      ...(told.search && told.search.sentences.length > 0 ? [sentences(told.search.sentences)] : []),
      ...(told.agreement ? [...agreementFans(told, told.agreement), ...scores(told.agreement)] : []),
    ],
  };
}

function fan(told: StudyTold, { measure, points, reference }: StudyTold['fans'][number]): Block {
  const { name, about, unitLabel } = told.plan.measures[measure]!;
  const unit = unitLabel ? ` [${unitLabel}]` : '';
  const each = points.map(({ bands }) => bands.runs);
  const [least, most] = [Math.min(...each), Math.max(...each)];
  const runs = `${least === most ? least : `${least} to ${most}`} ${most === 1 ? 'run' : 'runs'}${points.length > 1 ? ' each' : ''}`;
  const ended = Math.max(...points.map(({ bands }) => bands.endedEarly));
  const words = about ? `${unit}, ${about}` : unit;
  const kept =
    ended > 0 ? ` Runs that ended early keep their last value (${points.length > 1 ? 'up to ' : ''}${ended}).` : '';
  const limit = reference ? ' Dashed: the mean-field reference, in which all meet all.' : '';
  return fanPicture({
    fans: points,
    times: told.times,
    reference,
    told: `${name}${words}${points.length > 1 ? ` of ${points.map((point) => point.name).join(', ')}` : ''}: median and bands over ${runs}.`,
    caption: [
      { is: 'code', text: name },
      `${words}: median, bands with 50 % and 90 % of ${runs}.${kept}${limit} Model “${told.plan.title}”, ${told.of}.`,
    ],
  });
}

/** What was observed, over what would have been observed of the runs. */
function agreementFans(told: StudyTold, { series, runs }: AgreementAnswer): Block[] {
  return series.map(({ name, observations, fan: found }) => {
    const steps = Int32Array.from(found.times, (time) => Math.round(time / told.stepLength));
    const [low90, low50, median, high50, high90] = [
      found.low90,
      found.low50,
      found.median,
      found.high50,
      found.high90,
    ].map((values) => Float64Array.from(values)) as [
      Float64Array,
      Float64Array,
      Float64Array,
      Float64Array,
      Float64Array,
    ];
    const bands = { steps, low90, low50, median, high50, high90, runs, endedEarly: 0 };
    const heldOut = observations.filter(({ isHeldOut }) => isHeldOut).length;
    const hasErrors = observations.some(({ error }) => error > 0);
    return fanPicture({
      fans: [{ name, bands, colour: '#5f7040' }],
      times: told.times,
      observed: observations.map((each) => {
        const [low, high] = errorBar(each);
        return { step: each.time / told.stepLength, value: each.value, low, high, isHeldOut: each.isHeldOut };
      }),
      told: `${name}: ${observations.length} observations over the median and bands of what would have been observed of ${runs} runs.`,
      caption: [
        `${name}: dots, ${observations.length} observations${heldOut > 0 ? `, of which ${heldOut} hollow ones are held out` : ''}${hasErrors ? ', lines nine tenths of the error of observing' : ''}; median and bands with 50 % and 90 % of what would have been observed of ${runs} runs. Model “${told.plan.title}”, ${told.of}.`,
      ],
    });
  });
}

/** Standard deviations to either side of a value that hold nine tenths of a normal law. */
const NINE_TENTHS = 1.6449;

/** Ends of the bar that shows the error of observing: nine tenths of it. */
export function errorBar({ value, error }: ObservationAnswer): [number, number] {
  return [value - NINE_TENTHS * error, value + NINE_TENTHS * error];
}

/** How the factors act on a summary: bars, and the same in words. */
function indices(told: StudyTold, sensitivity: Sensitivity, { name }: SeriesPlan): Block[] {
  const picture = indexPicture(sensitivity, name, `Model “${told.plan.title}”, ${told.of}.`);
  return picture ? [picture, sentences(sensitivitySentences(sensitivity, name))] : [];
}

function sentences(texts: readonly string[]): Block {
  return { is: 'list', isOrdered: false, items: texts.map((text): Line => [text]) };
}

/** A mean or share with its interval, and how many runs have none. */
function estimateWords({ yesNo }: SeriesPlan, { value, low, high, runs }: Estimate): string {
  if (runs === 0 || Number.isNaN(value)) return 'none';
  if (yesNo) return `${shownPercent(value)} (${shownPercent(low)} to ${shownPercent(high)})`;
  return Number.isFinite(low) && Number.isFinite(high)
    ? `${shownNumber(value)} (${shownNumber(low)} to ${shownNumber(high)})`
    : `${shownNumber(value)} (no interval of one run)`;
}

const METHODS =
  'Means with Student’s 90 % interval; of what is yes or no the share of runs with Wilson’s 90 % interval';

function outcomes(summaries: readonly SeriesPlan[], { runs, summaries: found }: OutcomesAnswer): Block[] {
  if (summaries.length === 0) return [];
  return [
    tableOf({
      is: 'table',
      head: ['summary', 'in', 'mean or share', 'never', 'what it is'],
      rows: summaries.map((summary, i): Line => {
        const estimate = found[i]!;
        return [
          { is: 'code', text: summary.name },
          summary.unitLabel,
          estimateWords(summary, estimate),
          estimate.never > 0 ? `${estimate.never} of ${runs}` : '',
          `${summary.about ?? ''}${estimate.heaps ? `${summary.about ? '; ' : ''}two heaps, of ${estimate.heaps.low} and ${estimate.heaps.high} runs, parted at ${shownNumber(estimate.heaps.between)}` : ''}`,
        ];
      }),
      numeric: [2],
      caption: [`${METHODS}, of ${runs} ${runs === 1 ? 'run' : 'runs'}.`],
    }),
  ];
}

function pointTable(
  summaries: readonly SeriesPlan[],
  { called, names, settings, answers, all }: NonNullable<StudyTold['points']>,
): Block[] {
  if (summaries.length === 0) return [];
  const left = all - answers.length;
  return [
    tableOf({
      is: 'table',
      head: [
        called,
        'with',
        'runs',
        ...summaries.map(({ name, unitLabel }) => (unitLabel ? `${name} [${unitLabel}]` : name)),
      ],
      rows: answers.map((point, i): Line => [
        names[i]!,
        settings?.[i] ?? '',
        String(point.runs),
        ...summaries.map((summary, s) => estimateWords(summary, point.estimates[s]!)),
      ]),
      numeric: [2, ...summaries.map((_, i) => i + 3)],
      caption: [`${METHODS}.${left > 0 ? ` ${left} more points are not shown.` : ''}`],
    }),
  ];
}

function differenceTable(
  summaries: readonly SeriesPlan[],
  { names }: NonNullable<StudyTold['points']>,
  differences: readonly DifferencesAnswer[],
): Block[] {
  if (differences.length === 0 || summaries.length === 0) return [];
  const pairs = differences.map(({ summaries: [first] }) => first!.difference.runs);
  const [least, most] = [Math.min(...pairs), Math.max(...pairs)];
  return [
    tableOf({
      is: 'table',
      head: [`less “${names[0]!}”`, ...differences.map(({ place }) => names[place]!)],
      rows: summaries.map((summary, s): Line => [
        `${summary.name}${summary.unitLabel ? ` [${summary.unitLabel}]` : ''}`,
        ...differences.map(({ summaries: found }) => signedNumber(summary, found[s]!.difference)),
      ]),
      numeric: differences.map((_, i) => i + 1),
      caption: [
        `Differences between runs with the same seed: mean with Student’s 90 % interval of ${least === most ? least : `${least} to ${most}`} pairs.`,
      ],
    }),
  ];
}

/** A difference with its sign and interval. */
export function signedNumber({ yesNo }: SeriesPlan, { value, low, high, runs }: Estimate): string {
  if (runs === 0 || Number.isNaN(value)) return 'none';
  const word = (x: number): string => {
    if (!Number.isFinite(x)) return 'unknown';
    const size = yesNo ? `${Math.round(100 * Math.abs(x))} points` : shownNumber(Math.abs(x));
    return `${x < 0 ? '−' : x > 0 ? '+' : ''}${size}`;
  };
  return `${word(value)} (${word(low)} to ${word(high)})`;
}

function posterior(told: StudyTold, { found, best, problem, runs, isDone }: PosteriorAnswer): Block[] {
  const soFar = isDone ? '' : ', so far';
  if (problem) return [paragraph(`Nothing was found: ${problem}`)];
  if (best)
    return [
      tableOf({
        is: 'table',
        head: ['unknown', 'in', 'best point'],
        rows: best.parameters.map((name, i): Line => [
          { is: 'code', text: name },
          unitOfParameter(told.plan, name),
          shownNumber(best.values[i]!, 4),
        ]),
        numeric: [2],
        caption: [
          `The place at which runs lie nearest to what was observed, of ${runs} runs${soFar}; nothing is said of how well it is known.`,
        ],
      }),
    ];
  if (!found) return [];
  const { left, method, draws, effective } = found.posterior;
  const isRegion = left !== undefined;
  return [
    tableOf({
      is: 'table',
      head: [
        'unknown',
        'in',
        'median',
        isRegion ? 'nine tenths of what is left' : '90 % credible interval',
        'prior, nine tenths',
        'narrower by',
      ],
      rows: found.findings.map((each): Line => [
        { is: 'code', text: each.parameter },
        unitOfParameter(told.plan, each.parameter),
        shownNumber(each.median),
        `${shownNumber(each.low)} to ${shownNumber(each.high)}`,
        `${shownNumber(each.priorLow)} to ${shownNumber(each.priorHigh)}`,
        shownPercent(Math.max(0, each.narrowing)),
      ]),
      numeric: [2, 5],
      caption: [
        isRegion
          ? `What is not ruled out by ${method}: ${shownPercent(left)} of what was thought possible, of ${runs} runs${soFar}. It is no posterior.`
          : `Posterior by ${method}: ${draws.length} draws, worth ${Math.round(effective)} independent ones, of ${runs} runs${soFar}.`,
      ],
    }),
    posteriorBlock(
      found,
      {
        units: found.findings.map(({ parameter }) => unitOfParameter(told.plan, parameter)),
        words: found.findings.map(({ parameter }) => categoriesOf(told.plan, parameter)),
      },
      [
        `${isRegion ? 'What is not ruled out' : 'The posterior'}: on the diagonal each unknown (bars) over what was thought possible (dashed), with its median and nine tenths; below it the draws of each pair, heavier ones darker. Model “${told.plan.title}”, ${told.of}.`,
      ],
    ),
  ];
}

function scores({ series, runs }: AgreementAnswer): Block[] {
  const parts = series.flatMap(({ name, used, heldOut }) => [
    ...(used ? [{ name, part: 'used', found: used }] : []),
    ...(heldOut ? [{ name, part: 'held out', found: heldOut }] : []),
  ]);
  if (parts.length === 0) return [];
  const skill = (value: number): string =>
    Number.isNaN(value) ? 'none' : value < 0 ? `−${shownPercent(-value)}` : shownPercent(value);
  return [
    tableOf({
      is: 'table',
      head: [
        'series',
        'observations',
        'inside the 90 % band',
        'bias',
        'root mean square error',
        'skill against the mean',
      ],
      rows: parts.map(({ name, part, found }): Line => [
        name,
        `${found.points} ${part}`,
        `${Math.round(found.inside90.value * found.points)} of ${found.points}`,
        shownNumber(found.bias.value),
        shownNumber(found.rootMeanSquareError.value),
        skill(found.skillAgainstMean.value),
      ]),
      numeric: [2, 3, 4, 5],
      caption: [
        `Agreement with what was observed, of ${runs} runs with the error of observing; skill is that of the ranked probability score.`,
      ],
    }),
  ];
}
