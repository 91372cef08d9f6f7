import type { Span } from '../diagnostics.ts';
import { MOST_ITEMS } from './limits.ts';
import { error, insert, listed, replace } from './message-parts.ts';

/** The wording of every message on reading a text, in one place. Detection passes facts. */

export const textTooLong = (span: Span, length: number, most: number) =>
  error(
    'text/too-long',
    span,
    `This text has ${length.toLocaleString('en-GB')} characters; at most ${most.toLocaleString('en-GB')} are read.`,
    {
      hint: 'A model of this size is most likely another kind of file. Nothing was changed; choose the .vole file of the model.',
    },
  );
export const wrongIndent = (span: Span) =>
  error('layout/indent', span, 'This line begins at a column that no line above it has opened.', {
    hint: 'Put it under the line it belongs to, or level with the lines beside it.',
  });
export const strayCharacter = (span: Span, piece: string) =>
  error('text/character', span, `“${piece}” has no meaning here.`, {
    hint: piece === ';' ? 'A line is a statement; no semicolon is needed.' : 'Remove it, or put text in quotes.',
    fixes: [{ label: 'Remove it', edits: [{ span, text: '' }] }],
  });
export const tooDeep = (span: Span) =>
  error('text/too-deep', span, 'The brackets or blocks go too deep here.', {
    hint: 'Give a part of it a name with “let” and use the name.',
  });
export const chainTooLong = (span: Span, most: number) =>
  error('text/too-deep', span, `This chain has more than ${most} links.`, {
    hint: 'Give a part of it a name of its own, with “let” in a rule, “define” or a measure elsewhere, and use the name.',
  });
export const tooManyBranches = (span: Span, most: number) =>
  error('text/too-deep', span, `More than ${most} times “else” follows on one “if”.`, {
    hint: 'Split them over several rules or routines.',
  });
export const badTime = (span: Span, text: string) =>
  error('text/time', span, `“${text}” is no time of day.`, { hint: 'Times run from 00:00 to 24:00.' });
export const hugeNumber = (span: Span, text: string) =>
  error('text/number', span, `“${text}” is more than a number can hold.`, {
    hint: 'Numbers go up to 1e308; none that is counted or measured comes near it.',
  });
export const openString = (span: Span, close: string) =>
  error('text/open-quote', span, 'This quote is not closed on its line.', {
    fixes: [insert(span.end, close, `Close it with ${close}`)],
  });
export const deeperLine = (line: Span) =>
  error('layout/deeper', line, 'This line stands deeper than the line above it, which takes no lines under it.', {
    hint: 'Put it level with the line above.',
  });
/** @param above where the line above ends, before any note of the modeler */
export const sentenceBelow = (sentence: Span, text: string, above: number) =>
  error('layout/deeper', sentence, 'A sentence stands at the end of the line that it is about, not below it.', {
    fixes: [
      {
        label: 'Put it there',
        edits: [
          { span: { start: above, end: above }, text: ` ${text}` },
          { span: sentence, text: '' },
        ],
      },
    ],
  });
/** @param after where the word before ends: a sign that is missing belongs there, also if what was found instead stands on another line */
export const missingWord = (span: Span, word: string, meaning: string, found: string, after = span.start) =>
  error('syntax/missing', span, `“${word}” is missing before ${found}: ${meaning}.`, {
    fixes: [':', ')', 'of'].includes(word) ? [insert(after, word === 'of' ? ' of' : word, `Add “${word}”`)] : [],
  });
export const missingName = (span: Span, meaning: string, found: string) =>
  error('syntax/name', span, `A name is missing before ${found}: ${meaning}.`);
/** @param isNew whether a name is given here; where one is used, something else is missing or too much */
export const reservedName = (span: Span, text: string, isNew: boolean) =>
  error('syntax/reserved', span, `“${text}” is a word of the language and cannot be a name.`, {
    fixes: isNew ? [replace(span, `${text}_`)] : [],
  });
export const underscoredName = (span: Span, text: string, isNew: boolean) => {
  const plain = text.replace(/^_+/, '');
  return error('syntax/reserved', span, `A name begins with no more than one “_”, not like “${text}”.`, {
    fixes: isNew && /^[A-Za-z]/.test(plain) ? [replace(span, plain)] : [],
  });
};
export const missingValue = (span: Span, found: string) =>
  error('syntax/value', span, `A value is missing before ${found}.`, {
    hint: 'A number, a name, a query or a bracket belongs here.',
  });
export const missingUnit = (span: Span, meaning: string, found: string) =>
  error('syntax/unit', span, `A unit is missing before ${found}: ${meaning}.`, {
    hint: 'Units are s, minutes, h, days, weeks, years, steps, mm, cm, m, km, deg.',
  });
export const missingDate = (span: Span, found: string) =>
  error('syntax/date', span, `A date is missing before ${found}.`, { hint: 'Dates read year-month-day: 2031-03-01.' });
export const missingMonthDay = (span: Span, found: string) =>
  error('syntax/date', span, `A day of the year is missing before ${found}.`, {
    hint: 'Days of the year read month-day: 10-01 is the first of October.',
  });
export const noSuchDay = (span: Span, text: string) =>
  error('syntax/date', span, `There is no day “${text}”.`, {
    hint: /^\d{4}-/.test(text) ? 'Dates read year-month-day: 2031-03-01.' : 'Month first, then day: 10-01.',
  });
export const missingNumber = (span: Span, found: string) =>
  error('syntax/number', span, `A number is missing before ${found}.`);
export const numberTwice = (span: Span, value: number) =>
  error('syntax/number', span, `${value} stands for a second word.`, { hint: 'Each number stands for one word.' });
export const missingFile = (span: Span, found: string) =>
  error('syntax/file', span, `The name of a file is missing before ${found}.`, {
    hint: 'Names of files stand in quotes: from "burrows.csv".',
  });
export const missingTime = (span: Span, found: string) =>
  error('syntax/time', span, `A time of day is missing before ${found}.`, { hint: 'Times of day read 07:30.' });
export const listSize = (span: Span) =>
  error('syntax/list', span, `A list keeps from 1 to ${MOST_ITEMS}.`, { fixes: [replace(span, '3')] });
export const partnerCount = (span: Span, count: number) =>
  error('syntax/partners', span, 'Partners are counted in whole numbers from 1.', {
    fixes: [replace(span, String(Math.max(1, Math.round(count))))],
  });
export const unknownMaker = (span: Span, found: string) =>
  error('syntax/network', span, `${found} makes no network.`, {
    hint: 'Networks: none; from "file"; ring, 4 neighbours; lattice; random, mean degree 4; preferential, 2 ties each; small world, 6 neighbours, rewired 10 %; blocks by attribute, 20 % inside, 1 % across; near one another within 5 m; groups of 4.',
  });
export const unexpectedRest = (span: Span, found: string) =>
  error('syntax/rest', span, `The line is complete before ${found}.`, {
    hint: 'One statement stands on a line; begin a new line, or remove the rest.',
  });
export const chanceWithoutBrackets = (span: Span, rest: Span) =>
  error('syntax/rest', { start: span.start, end: rest.end }, 'A draw in an expression has its chance in brackets.', {
    hint: '“if chance(20 %)”; without brackets “chance” stands in lines of its own, under interactions and states.',
    fixes: [
      {
        label: 'Put it in brackets',
        edits: [
          { span: { start: span.end, end: rest.start }, text: '(' },
          { span: { start: rest.end, end: rest.end }, text: ')' },
        ],
      },
    ],
  });
export const notGathered = (span: Span, word: string) =>
  error('syntax/rest', span, `“${word} of” is no way to gather values.`, {
    hint: 'There are “mean of”, “geometric mean of”, “sum of”, “min of”, “max of”, “median of”, “sd of”, “quantile 90 % of”, “share of”, “count”; others are put together from these.',
  });
export const missingBlock = (span: Span, what: string) =>
  error('syntax/empty-block', span, `${what.charAt(0).toUpperCase()}${what.slice(1)} needs lines under it.`, {
    hint: 'Write them below, two blanks deeper than this line.',
  });
export const chainedComparison = (span: Span) =>
  error('syntax/chain', span, 'Comparisons are not chained.', {
    hint: 'Join two with “and”, or put the first in brackets: “(count Vole where ...) is 0”.',
  });
export const equalsInExpression = (span: Span) =>
  error('syntax/equals', span, '“=” sets a value; to compare, write “is”.', { fixes: [replace(span, 'is')] });
export const signAfterDistance = (sign: Span) =>
  error('syntax/distance-sign', sign, 'After a distance a sign can be read in two ways.', {
    hint: 'Put brackets round the whole query, or round the distance: “(count Vole within r) + 1” or “within (r + 1)”.',
  });
export const seatsTwice = (span: Span) =>
  error('syntax/line', span, 'The seats of a kind are said once.', { hint: 'Leave one of the two lines out.' });
export const belongsUnderAgent = (span: Span, word: string) =>
  error('layout/under-agent', span, `“${word}” belongs under an agent, two blanks deeper.`, {
    fixes: [insert(span.start, '  ', 'Indent the line')],
  });
export const unknownPart = (span: Span, found: string, near: string | undefined) =>
  error('syntax/part', span, `${found} does not begin a part of a model.`, {
    hint: 'Parts begin with model, clock, unit, data, parameter, variable, tally, define, derive, routine, behaviour, space, zone, obstacle, network, line, field, message, agent, interaction, order, timeline, measure, summary, record, chart, show, check, scenario or study.',
    fixes: near ? [replace(span, near)] : [],
  });
export const unknownLine = (span: Span, found: string, under: string, known: readonly string[]) =>
  error('syntax/line', span, `${found} does not begin a line under “${under}”.`, {
    hint: `Lines there begin with ${listed(known)}.`,
  });
export const unknownOption = (span: Span, found: string, part: string, known: readonly string[], near?: string) =>
  error('syntax/line', span, `“${found}” is nothing that a ${part} can be given after a comma.`, {
    hint: `There may stand ${listed(known)}.`,
    fixes: near ? [replace(span, near)] : [],
  });
export const nothingAfterComma = (span: Span, known: readonly string[]) =>
  error('syntax/line', span, 'Nothing follows the comma.', { hint: `There may stand ${listed(known)}.` });
export const optionTwice = (span: Span, found: string) =>
  error('syntax/line', span, `What “${found}” says was said before.`, {
    hint: 'Leave one of the two out.',
    fixes: [replace(span, '', 'Remove it')],
  });
export const unknownStatement = (span: Span, found: string, near: string | undefined) =>
  error('syntax/statement', span, `${found} does not begin a statement.`, {
    hint: 'Statements: name = value, let, if, with, for each, repeat at most, turn, move, create, remove, add, send, tie, untie, join, do, log, end run.',
    fixes: near ? [replace(span, near)] : [],
  });
export const wrongNeighbours = (span: Span) =>
  error('syntax/neighbours', span, 'A cell has 4, 6 or 8 neighbours.', {
    fixes: [replace(span, '8'), replace(span, '4'), replace(span, '6')],
  });
export const missingPartner = (span: Span) =>
  error('syntax/partner', span, 'An interaction begins with who meets whom.', {
    hint: 'For example “within 6 m”, “here”, “next to”, “nearest within 6 m”, “tied by Tunnels”, “anyone” or “mixing 6 per day”.',
  });
export const unitAfterName = (span: Span, name: string, unit: string) =>
  error('type/unit-after-name', span, `A unit stands after a number, not after the name “${name}”.`, {
    fixes: [replace(span, `${name} * 1 ${unit}`)],
  });
export const gatherNeedsBrackets = (span: Span, fn: string, text: string) =>
  error('syntax/gather-brackets', span, `What “${fn} of” gathers is one value or stands in brackets.`, {
    hint: `Write “${fn} of (${text}) over ...”.`,
    fixes: [replace(span, `(${text})`, 'Put it in brackets')],
  });
export const countOf = (span: Span) =>
  error('syntax/count-of', span, '“count” asks for agents, cells or ties: “count Vole where ...”.', {
    hint: 'To count the rows of a run in which something holds, write “sum of (if n > 3 then 1 else 0)” in a summary.',
  });
