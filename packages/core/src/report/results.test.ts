import { describe, expect, it } from 'vitest';
import type { Bands } from '../studies/statistics/bands.ts';
import type { Diagnostic } from '../diagnostics.ts';
import type { CheckOutcome } from '../studies/checks.ts';
import { checksSection } from './checks.ts';
import { reportHtml } from './html.ts';
import { filledWords, hasQuotes, quotables, withQuotes } from './quotes.ts';
import type { StudyTold } from './results.ts';
import { studySection } from './results.ts';
import type { Block } from './document.ts';

const column = (...values: number[]): Float64Array => Float64Array.from(values);
const bands = (runs: number, endedEarly = 0): Bands => ({
  steps: Int32Array.from([0, 1, 2]),
  low90: column(0, 1, 2),
  low50: column(1, 2, 3),
  median: column(2, 3, NaN),
  high50: column(3, 4, 5),
  high90: column(4, 5, 6),
  runs,
  endedEarly,
});
const series = (name: string, more = {}) => ({ name, unitLabel: '', yesNo: false, timeUnit: undefined, ...more });
const PLAN: StudyTold['plan'] = {
  title: 'Pen',
  parameters: [],
  measures: [{ ...series('voles', { about: 'voles <all>' }), body: undefined as never }],
  summaries: [
    { ...series('peak', { unitLabel: 'days' }), value: undefined as never },
    { ...series('died_out', { yesNo: true }), value: undefined as never },
  ],
};
const estimate = (value: number, low: number, high: number, runs = 6) => ({ value, low, high, runs, yes: 0, never: 0 });
const TOLD: StudyTold = {
  id: 'a',
  name: 'Six seeds',
  plan: PLAN,
  stepLength: 1,
  of: 'text 01234567, seeds 1 to 6',
  runs: 6,
  failed: 0,
  missing: 0,
  fans: [],
  times: [],
};

function table(blocks: readonly Block[], place = 0): Extract<Block, { is: 'table' }> {
  return blocks.filter((block) => block.is === 'table')[place]!;
}

describe('a study told', () => {
  it('says how many runs it has, how many stopped or are missing, and what has moved on', () => {
    const words = (told: Partial<StudyTold>): unknown => studySection({ ...TOLD, ...told }).blocks;
    expect(words({})).toEqual([{ is: 'paragraph', words: ['6 runs. Text 01234567, seeds 1 to 6.'] }]);
    expect(
      JSON.stringify(words({ runs: 1, failed: 2, missing: 3, stale: 'the text has changed since', notes: 'Why?' })),
    ).toMatch(
      /Why\?.*1 run; 2 more stopped before their end and are in no number; 3 more are not done yet.*Mind: the text has changed since/,
    );
  });

  it('draws nothing and tells no number while no run is done', () => {
    const blocks = studySection({
      ...TOLD,
      runs: 0,
      fans: [{ measure: 0, points: [{ name: 'a', bands: bands(0), colour: '#000' }] }],
      outcomes: { runs: 0, summaries: [] },
    }).blocks;
    expect(blocks.map(({ is }) => is)).toEqual(['paragraph']);
  });

  it('draws medians and bands with the number of runs, and leaves gaps where there is no value', () => {
    const fans = [{ measure: 0, points: [{ name: 'a', bands: bands(6, 2), colour: '#123456' }] }];
    const picture = studySection({
      ...TOLD,
      fans,
      times: [
        { step: 0, label: 'now' },
        { step: 0, label: 'over it' },
      ],
    }).blocks[1]!;
    expect(picture).toMatchObject({
      is: 'picture',
      told: 'voles, voles <all>: median and bands over 6 runs.',
    });
    const { svg, caption } = picture as Extract<Block, { is: 'picture' }>;
    expect(JSON.stringify(caption)).toContain('Runs that ended early keep their last value (2).');
    expect(svg).toContain('voles &lt;all&gt;');
    expect(svg).not.toMatch(/NaN|undefined/);
    // Marks that would lie on one another are left out.
    expect(svg).toContain('>now</text>');
    expect(svg).not.toContain('over it');
  });

  it('tells means and shares with their intervals, what never was, heaps, and one run for what it is', () => {
    const found = (runs: number) => ({
      runs,
      summaries: [
        { ...estimate(12.34, 11, 13.5), never: 1, atEnd: 0, heaps: { low: 2, high: 3, between: 10 } },
        { ...estimate(0.5, 0.2, 0.8), atEnd: 0 },
      ],
    });
    const { head, rows, caption } = table(studySection({ ...TOLD, outcomes: found(6) }).blocks);
    expect(head).toEqual(['summary', 'in', 'mean or share', 'never', 'what it is']);
    expect(rows[0]).toEqual([
      { is: 'code', text: 'peak' },
      'days',
      '12.3 (11 to 13.5)',
      '1 of 6',
      'two heaps, of 2 and 3 runs, parted at 10',
    ]);
    expect(rows[1]!.slice(1, 4)).toEqual(['', '50 % (20 % to 80 %)', '']);
    expect(JSON.stringify(caption)).toContain('of 6 runs');
    const alone = {
      runs: 1,
      summaries: [
        { ...estimate(3, -Infinity, Infinity, 1), atEnd: 0 },
        { ...estimate(NaN, NaN, NaN, 0), atEnd: 0 },
      ],
    };
    const [peak, died] = table(studySection({ ...TOLD, runs: 1, outcomes: alone }).blocks).rows;
    expect(peak).toContain('3 (no interval of one run)');
    expect(died).toContain('none');
  });

  it('tells points by their names with differences from the first, signed, and how many are not shown', () => {
    const answers = [0, 1].map((i) => ({
      id: String(i),
      values: [],
      runs: 6,
      estimates: [estimate(i, 0, 2), estimate(0, 0, 0.3)],
    }));
    const difference = { difference: estimate(-1.5, -2, 0.5), ahead: estimate(0, 0, 0), same: 0, never: 0, gain: 1 };
    const { blocks } = studySection({
      ...TOLD,
      points: { called: 'scenario', names: ['nothing', 'two weeks'], settings: ['', 'quiet yes'], answers, all: 5 },
      differences: [{ place: 1, summaries: [difference, { ...difference, difference: estimate(0.12, 0, 0.2) }] }],
    });
    expect(table(blocks).head).toEqual(['scenario', 'with', 'runs', 'peak [days]', 'died_out']);
    expect(table(blocks).rows[1]).toEqual(['two weeks', 'quiet yes', '6', '1 (0 to 2)', '0 % (0 % to 30 %)']);
    expect(JSON.stringify(table(blocks).caption)).toContain('3 more points are not shown');
    expect(table(blocks, 1).head).toEqual(['less “nothing”', 'two weeks']);
    expect(table(blocks, 1).rows).toEqual([
      ['peak [days]', '−1.5 (−2 to +0.5)'],
      ['died_out', '+12 points (0 points to +20 points)'],
    ]);
  });

  it('calls no posterior what only was not ruled out, and says what a best point does not tell', () => {
    const posterior = {
      parameters: ['p'],
      draws: [[1]],
      weights: [1],
      effective: 1,
      isAdjusted: false,
      best: [1],
      method: 'history matching' as const,
      tolerance: NaN,
      rounds: 2,
      accepted: 0.1,
      left: 0.1,
    };
    const findings = [{ parameter: 'p', median: 1, low: 0, high: 2, priorLow: 0, priorHigh: 9, narrowing: 0.7 }];
    const bins = [{ edges: [0, 4.5, 9], posterior: [1, 0], prior: [0.5, 0.5] }];
    const found = { posterior, findings, bins, pairs: [] };
    const told = (of: object): string =>
      JSON.stringify(studySection({ ...TOLD, posterior: { runs: 700, mostRuns: 900, isDone: true, ...of } }).blocks);
    expect(told({ found })).toMatch(
      /nine tenths of what is left.*10 % of what was thought possible, of 700 runs\. It is no posterior/,
    );
    expect(told({ found })).not.toContain('credible');
    const { left, ...other } = posterior;
    expect(left).toBe(0.1);
    expect(told({ isDone: false, found: { ...found, posterior: { ...other, method: 'rejection' } } })).toMatch(
      /90 % credible interval.*Posterior by rejection: 1 draws, worth 1 independent ones, of 700 runs, so far/,
    );
    expect(told({ best: { parameters: ['p'], values: [1.23456], reach: 0.1, generations: 4 } })).toMatch(
      /1\.235.*nothing is said of how well it is known/,
    );
    expect(told({ problem: 'too few runs' })).toContain('Nothing was found: too few runs');
  });
});

describe('figures of a study', () => {
  const pictures = (told: Partial<StudyTold>): Extract<Block, { is: 'picture' }>[] =>
    studySection({ ...TOLD, ...told }).blocks.filter((block) => block.is === 'picture');
  const NAMED = { name: 'a', colour: '#123456' };

  it('draw a mean-field reference dashed, and say what it is', () => {
    const fans = [{ measure: 0, points: [{ ...NAMED, bands: bands(6) }], reference: [2, 3, 4] }];
    const [picture] = pictures({ fans });
    expect(picture!.svg.match(/stroke-dasharray/g)).toHaveLength(1);
    expect(JSON.stringify(picture!.caption)).toContain('Dashed: the mean-field reference');
    expect(pictures({ fans: [{ measure: 0, points: fans[0]!.points }] })[0]!.svg).not.toContain('dasharray');
  });

  it('keep the highest and lowest of a long course', () => {
    const steps = Int32Array.from({ length: 9000 }, (_, i) => i);
    const flat = (peak: number): Float64Array => Float64Array.from(steps, (step) => (step === 4321 ? peak : 1));
    const long = {
      ...bands(6),
      steps,
      low90: flat(1),
      low50: flat(1),
      median: flat(90),
      high50: flat(95),
      high90: flat(100),
    };
    const [picture] = pictures({ fans: [{ measure: 0, points: [{ ...NAMED, bands: long }] }] });
    const line = /<path d="([^"]+)" fill="none" stroke="#123456"/.exec(picture!.svg)![1]!;
    const heights = [...line.matchAll(/[ML,]\s*[\d.]+[ ,]([\d.]+)/g)].map(([, y]) => Number(y));
    expect(heights.length).toBeLessThan(2000);
    // The peak of 90 on an axis to 100: a tenth of the drawn height below its upper edge at 14.
    expect(Math.min(...heights)).toBeCloseTo(14 + 0.1 * (280 - 26 - 14), 0);
  });

  it('draw what was observed: with its error, hollow where it is held out, over what the runs would have shown', () => {
    const observation = { low90: 0, low50: 0, median: 0, high50: 0, high90: 0 };
    const agreement = {
      runs: 6,
      all: 6,
      series: [
        {
          name: 'counts',
          expression: 'voles',
          observations: [
            { ...observation, time: 2, value: 3, error: 0.5, isHeldOut: false },
            { ...observation, time: 4, value: 5, error: 0, isHeldOut: true },
          ],
          fan: {
            times: [0, 2, 4],
            low90: [0, 1, 2],
            low50: [1, 2, 3],
            median: [2, 3, 4],
            high50: [3, 4, 5],
            high90: [4, 5, 6],
          },
          patterns: [],
          distributions: [],
        },
      ],
    };
    const [picture] = pictures({ stepLength: 2, agreement });
    const dots = [...picture!.svg.matchAll(/<circle cx="([\d.]+)"[^>]*fill="(#\w+)"/g)].map(([, x, fill]) => [x, fill]);
    // Steps 1 and 2 of 2, from 58 to 628.
    expect(dots).toEqual([
      ['343.0', '#2a2522'],
      ['628.0', '#fffdf7'],
    ]);
    expect(JSON.stringify(picture!.caption)).toMatch(
      /2 observations, of which 1 hollow ones are held out, lines nine tenths/,
    );
  });

  it('draw the indices of factors with their intervals, those that matter most first, and tell them in words', () => {
    const index = (factor: string, value: number) => ({
      factor,
      index: 'first index' as const,
      value,
      low: value - 0.1,
      high: value + 0.1,
    });
    const sensitivities = [{ indices: [index('bite & tear', 0.2), index('strike', 0.7)], luck: 0.1, points: 64 }];
    const { blocks } = studySection({ ...TOLD, sensitivities });
    const [picture] = pictures({ sensitivities });
    const names = [...picture!.svg.matchAll(/font-weight="600"[^>]*>([^<]+)</g)].map(([, name]) => name);
    expect(names).toEqual(['strike', 'bite &amp; tear']);
    expect(picture!.told).toContain('strike 0.7, bite & tear 0.2');
    expect(JSON.stringify(blocks)).toContain('strike alone explains 70 % (60 to 80)');
    expect(JSON.stringify(picture!.caption)).toContain('over 64 points');
    expect(pictures({ sensitivities: [{ indices: [], luck: NaN, points: 0 }] })).toEqual([]);
  });

  it('draw a posterior: each unknown over its prior, and each pair', () => {
    const finding = { median: 1, low: 0, high: 2, priorLow: 0, priorHigh: 9, narrowing: 0.7 };
    const bins = { edges: [0, 2, 4], posterior: [0.75, 0.25], prior: [0.5, 0.5] };
    const found = {
      posterior: {
        parameters: ['p', '<q>'],
        draws: [
          [1, 3],
          [2, 1],
        ],
        weights: [0.25, 0.75],
        effective: 2,
        isAdjusted: false,
        best: [1, 3],
        method: 'rejection' as const,
        tolerance: 1,
        rounds: 1,
        accepted: 0.1,
      },
      findings: [
        { parameter: 'p', ...finding },
        { parameter: '<q>', ...finding },
      ],
      bins: [bins, bins],
      pairs: [{ first: 0, second: 1, correlation: -1 }],
    };
    const [picture] = pictures({ posterior: { runs: 9, mostRuns: 9, isDone: true, found } });
    expect([...picture!.svg.matchAll(/data-unknown="([^"]+)"/g)].map(([, name]) => name)).toEqual(['p', '&lt;q&gt;']);
    // One box of 235; the heavier draw is the darker one.
    expect(
      [...picture!.svg.matchAll(/<circle cx="([^"]+)" cy="([^"]+)"[^>]*opacity="([^"]+)"/g)].map(([, ...at]) => at),
    ).toEqual([
      ['58.75', '58.75', '0.32'],
      ['117.5', '176.25', '0.72'],
    ]);
  });
});

describe('numbers in sentences of the modeler', () => {
  const one: StudyTold = {
    ...TOLD,
    outcomes: {
      runs: 6,
      summaries: [
        { ...estimate(812.4, 790, 834), atEnd: 0 },
        { ...estimate(0.25, 0.1, 0.5), atEnd: 0 },
      ],
    },
  };
  const two: StudyTold = {
    ...TOLD,
    id: 'b',
    name: 'Dry, wet in turn',
    stale: 'the text has changed since',
    points: {
      called: 'scenario',
      names: ['Dry', 'Wet'],
      answers: [
        { id: 'x', values: [], runs: 3, estimates: [estimate(1, 0, 2), estimate(0, 0, 0.4)] },
        { id: 'y', values: [], runs: 3, estimates: [estimate(NaN, NaN, NaN, 0), estimate(1, 0.6, 1)] },
      ],
      all: 2,
    },
    differences: [
      { place: 1, summaries: [{ difference: estimate(-3, -5, -1) }, { difference: estimate(0.5, 0.2, 0.8) }] },
    ] as unknown as NonNullable<StudyTold['differences']>,
  };
  const read = (text: string, studies: readonly StudyTold[] = [one, two]): string =>
    filledWords(text, quotables(studies))
      .map((word) => (typeof word === 'string' ? word : `<${word.is}>${word.text}`))
      .join('');

  it('follow their study: means, shares, intervals, runs, points, differences', () => {
    expect(
      read('At most {mean of peak in Six seeds} ({interval of peak in six  seeds}) of {runs in Six seeds} runs.'),
    ).toBe('At most 812 days (790 to 834 days) of 6 runs.');
    expect(read('{share of died_out in Six seeds}')).toBe('25 %');
    expect(read('{interval of died_out in Six seeds}')).toBe('10 % to 50 %');
    const fresh = { ...two, stale: undefined as unknown as string };
    delete (fresh as { stale?: string }).stale;
    expect(read('{mean of peak in Dry, wet in turn, Dry}', [fresh])).toBe('1 days');
    expect(read('{mean of peak in Dry, wet in turn, Wet}, {interval of peak in Dry, wet in turn, Wet}', [fresh])).toBe(
      'none, unknown',
    );
    expect(read('{difference of peak in Dry, wet in turn, Wet}', [fresh])).toBe('−3 (−5 to −1)');
  });

  it('are marked where the study has moved on, and told where there is no such number', () => {
    expect(read('{runs in Dry, wet in turn}')).toBe('6<faint> (but the text has changed since)');
    for (const quote of ['mean of peak in Nowhere', 'mean of __proto__ in Six seeds', 'constructor', 'x'.repeat(300)])
      expect(read(`{${quote}}`)).toBe(`<strong>[there is no number “${quote}”]`);
    expect(read('No { braces or } or {} here')).toContain('there is no number “braces or”');
    expect(hasQuotes('{} and {\n}')).toBe(false);
  });

  it('are filled in paragraphs and places of a report, whose own words stay as they are', () => {
    const place: Block = {
      is: 'place',
      heading: 'Emergence',
      asks: '',
      answer: 'herds of {runs in Six seeds}',
      waits: false,
    };
    const report = withQuotes(
      {
        title: 'Pen',
        sections: [
          {
            id: 'a',
            title: 'A',
            blocks: [{ is: 'paragraph', words: ['{runs in Six seeds}', { is: 'code', text: '{x}' }] }, place],
          },
        ],
      },
      [one],
    );
    const [first, second] = report.sections[0]!.blocks;
    expect(first).toEqual({ is: 'paragraph', words: ['6', { is: 'code', text: '{x}' }] });
    expect(second).toMatchObject({ answer: 'herds of {runs in Six seeds}', reads: ['herds of ', '6'] });
    expect(reportHtml(report, { language: 'en', generator: 'x' })).toContain('<b>Emergence.</b> Herds of 6</p>');
  });
});

describe('the checks of a report', () => {
  const outcome: CheckOutcome = {
    title: 'Nobody is lost',
    holds: true,
    seeds: 5,
    parameters: [],
    expectations: [
      { text: 'last of n is 3', found: '5 of 5 runs', holds: true, against: [] },
    ] as unknown as CheckOutcome['expectations'],
  };
  it('say how many held, what was seen, and which run stopped', () => {
    const broken: CheckOutcome = {
      ...outcome,
      title: 'All go',
      holds: false,
      failure: { seed: 2, diagnostic: { message: 'There are too many.' } as Diagnostic },
    };
    const { blocks } = checksSection([outcome, broken]);
    expect(blocks[0]).toMatchObject({ words: [expect.stringContaining('1 held and 1 did not') as string] });
    expect(table(blocks).rows).toEqual([
      ['Nobody is lost', '5', 'yes', 'last of n is 3: 5 of 5 runs'],
      ['All go', '5', { is: 'strong', text: 'no' }, 'the run with seed 2 stopped: There are too many.'],
    ]);
  });
});
