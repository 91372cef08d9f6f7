import type { SeriesPlan } from '../plan/plan.ts';
import type { Estimate } from '../studies/statistics/intervals.ts';
import type { Block, Line, Report, Words } from './document.ts';
import { shownNumber, shownPercent } from './numbers.ts';
import type { StudyTold } from './results.ts';
import { signedNumber } from './results.ts';

/** Numbers in sentences of the modeler that follow their study: `{mean of peak in Forty seeds}`. */

/** A number that can be quoted, by the words between the braces. */
export interface Quotable {
  readonly quote: string;
  readonly value: string;
  /** What of its study has moved on since, if anything. */
  readonly stale?: string;
}

/** All numbers of the studies of a report that sentences can quote. */
export function quotables(studies: readonly StudyTold[]): Quotable[] {
  return studies.flatMap((told) => {
    const { name, runs, plan, stale } = told;
    const found: [string, string][] = [[`runs in ${name}`, String(runs)]];
    const tell = (estimates: readonly Estimate[], where: string): void =>
      plan.summaries.forEach((summary, s) => found.push(...ofSummary(summary, estimates[s]!, where)));
    if (told.outcomes) tell(told.outcomes.summaries, name);
    told.points?.answers.forEach((point, i) => {
      const where = `${name}, ${told.points!.names[i]!}`;
      found.push([`runs in ${where}`, String(point.runs)]);
      tell(point.estimates, where);
    });
    for (const { place, summaries } of told.differences ?? [])
      plan.summaries.forEach((summary, s) =>
        found.push([
          `difference of ${summary.name} in ${name}, ${told.points!.names[place]!}`,
          signedNumber(summary, summaries[s]!.difference),
        ]),
      );
    return found.map(([quote, value]) => ({ quote, value, ...(stale === undefined ? {} : { stale }) }));
  });
}

function ofSummary({ name, yesNo, unitLabel }: SeriesPlan, estimate: Estimate, where: string): [string, string][] {
  const { value, low, high, runs } = estimate;
  const isThere = runs > 0 && !Number.isNaN(value);
  const shown = yesNo ? shownPercent : shownNumber;
  const unit = unitLabel && !yesNo ? ` ${unitLabel}` : '';
  const interval =
    isThere && Number.isFinite(low) && Number.isFinite(high) ? `${shown(low)} to ${shown(high)}${unit}` : 'unknown';
  return [
    [`${yesNo ? 'share' : 'mean'} of ${name} in ${where}`, isThere ? `${shown(value)}${unit}` : 'none'],
    [`interval of ${name} in ${where}`, interval],
  ];
}

const QUOTE = /\{([^{}\n]+)\}/g;

/** Whether a sentence quotes something. */
export function hasQuotes(text: string): boolean {
  return text.search(QUOTE) >= 0;
}

const plain = (words: string): string => words.trim().replace(/\s+/g, ' ').toLowerCase();

/** A sentence with its quotes filled in: those of studies that have moved on are marked, those that are not there are told. */
export function filledWords(text: string, numbers: readonly Quotable[]): Words[] {
  const words: Words[] = [];
  let from = 0;
  for (const match of text.matchAll(QUOTE)) {
    const number = numbers.find(({ quote }) => plain(quote) === plain(match[1]!));
    words.push(text.slice(from, match.index));
    if (!number) words.push({ is: 'strong', text: `[there is no number “${match[1]!.trim()}”]` });
    else words.push(number.value, ...(number.stale ? [{ is: 'faint' as const, text: ` (but ${number.stale})` }] : []));
    from = match.index + match[0].length;
  }
  words.push(text.slice(from));
  return words.filter((word) => word !== '');
}

/** A report with the quotes of all its paragraphs and places filled in. */
export function withQuotes(report: Report, studies: readonly StudyTold[]): Report {
  const numbers = quotables(studies);
  const filled = (line: Line): Words[] =>
    line.flatMap((word): Words[] =>
      typeof word === 'string' && hasQuotes(word) ? filledWords(word, numbers) : [word],
    );
  const blockOf = (block: Block): Block => {
    if (block.is === 'paragraph') return { ...block, words: filled(block.words) };
    if (block.is === 'place' && hasQuotes(block.answer)) return { ...block, reads: filled([block.answer]) };
    return block;
  };
  return {
    ...report,
    sections: report.sections.map((section) => ({ ...section, blocks: section.blocks.map(blockOf) })),
  };
}
