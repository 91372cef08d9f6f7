import type { Diagnostic, DiagnosticCode, Fix, Span } from '../diagnostics.ts';
import { withArticle } from './types.ts';

/** The wording of every message of the language, in one place. Detection passes facts. */

interface More {
  readonly hint?: string;
  readonly fixes?: readonly Fix[];
}

function error(code: DiagnosticCode, span: Span, message: string, more: More = {}): Diagnostic {
  return { severity: 'error', code, span, message, ...more };
}

function warning(code: DiagnosticCode, span: Span, message: string, more: More = {}): Diagnostic {
  return { severity: 'warning', code, span, message, ...more };
}

function replace(span: Span, text: string, label = `Write “${text}”`): Fix {
  return { label, edits: [{ span, text }] };
}

function insert(at: number, text: string, label: string): Fix {
  return { label, edits: [{ span: { start: at, end: at }, text }] };
}

function listed(words: readonly string[]): string {
  return words.map((word) => `“${word}”`).join(', ');
}

// Reading the text

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
export const unforeseen = (span: Span, what: string) =>
  error('internal/unforeseen', span, `This is our mistake, not yours: something here was not foreseen (${what}).`, {
    hint: 'Your text is kept as it stands. Write the marked piece in another way, and tell us of it with the text.',
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
  error('syntax/date', span, `There is no day “${text}”.`, { hint: 'Month first, then day: 10-01.' });
export const missingNumber = (span: Span, found: string) =>
  error('syntax/number', span, `A number is missing before ${found}.`);
export const unknownUnit = (span: Span, name: string) =>
  error('name/unit', span, `There is no unit “${name}”.`, {
    hint: 'A unit is declared with “unit sack”, or as a multiple: “unit cart = 40 sack”.',
  });
export const missingFile = (span: Span, found: string) =>
  error('syntax/file', span, `The name of a file is missing before ${found}.`, {
    hint: 'Names of files stand in quotes: from "burrows.csv".',
  });
export const missingTime = (span: Span, found: string) =>
  error('syntax/time', span, `A time of day is missing before ${found}.`, { hint: 'Times of day read 07:30.' });
export const listSize = (span: Span) =>
  error('syntax/list', span, 'A list keeps from 1 to 64.', { fixes: [replace(span, '3')] });
export const unknownMaker = (span: Span, found: string) =>
  error('syntax/network', span, `${found} makes no network.`, {
    hint: 'Networks: none; from "file"; ring, 4 neighbours; lattice; random, mean degree 4; preferential, 2 ties each; small world, 6 neighbours, rewired 10 %; blocks by attribute, 20 % inside, 1 % across; near one another within 5 m; groups of 4.',
  });
export const unexpectedRest = (span: Span, found: string) =>
  error('syntax/rest', span, `The line is complete before ${found}.`, {
    hint: 'One statement stands on a line; begin a new line, or remove the rest.',
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
export const notYet = (span: Span, what: string) =>
  error('language/not-yet', span, `${what} is part of the language but not of this version.`, {
    hint: 'See docs/language.md for what this version reads.',
  });
export const belongsUnderAgent = (span: Span, word: string) =>
  error('layout/under-agent', span, `“${word}” belongs under an agent, two blanks deeper.`, {
    fixes: [insert(span.start, '  ', 'Indent the line')],
  });
export const unknownPart = (span: Span, found: string, near: string | undefined) =>
  error('syntax/part', span, `${found} does not begin a part of a model.`, {
    hint: 'Parts begin with model, clock, unit, data, parameter, variable, tally, define, routine, behaviour, space, zone, obstacle, network, field, message, agent, interaction, order, timeline, measure, summary, record, chart, show or check.',
    fixes: near ? [replace(span, near)] : [],
  });
export const unknownLine = (span: Span, found: string, under: string, known: readonly string[]) =>
  error('syntax/line', span, `${found} does not begin a line under “${under}”.`, {
    hint: `Lines there begin with ${listed(known)}.`,
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

// Names

export const noModelTitle = (span: Span) =>
  error('model/no-title', span, 'A model begins with its title.', {
    fixes: [insert(0, 'model My model\n\n', 'Add “model My model”')],
  });
export const onlyOne = (span: Span, what: string) =>
  error('model/twice', span, `A model has one ${what}; this is a second one.`, { hint: 'Join the two.' });
export const takenName = (span: Span, name: string, by: string) =>
  error('name/taken', span, `“${name}” is already the name of ${by}.`, { fixes: [replace(span, `${name}_2`)] });
export const unknownName = (
  span: Span,
  name: string,
  near: string | undefined,
  declareAt: number | undefined,
  about?: string,
) =>
  error('name/unknown', span, `“${name}” is not known here.${about ? ` ${about}` : ''}`, {
    hint: near
      ? `Is “${near}” meant? Or make it a parameter.`
      : 'Make it a parameter, or give it a value with “let” before this line.',
    fixes: [
      ...(near ? [replace(span, near)] : []),
      ...(declareAt === undefined
        ? []
        : [insert(declareAt, `parameter ${name} = 1, from 0 to 10\n`, `Make ${name} a parameter`)]),
    ],
  });
export const unknownKind = (span: Span, name: string, near: string | undefined) =>
  error('name/kind', span, `There is no kind “${name}”.`, {
    hint: 'A kind is declared with “agent Name”.',
    fixes: near ? [replace(span, near)] : [],
  });
export const unknownAttribute = (
  span: Span,
  name: string,
  kind: string,
  near: string | undefined,
  owners: readonly string[],
  first?: Fix,
) =>
  error(
    'name/attribute',
    span,
    `${kind} has no attribute “${name}”.${owners.length ? ` ${owners.join(' and ')} ${owners.length > 1 ? 'have' : 'has'} one.` : ''}`,
    {
      hint: near ? `Is “${near}” meant?` : `Add “has ${name} = ...” under “agent ${kind}”, or ask another agent.`,
      fixes: [...(near ? [replace(span, near)] : []), ...(first ? [first] : [])],
    },
  );
export const unknownState = (
  span: Span,
  name: string,
  machine: string,
  states: readonly string[],
  near: string | undefined,
) =>
  error('name/state', span, `“${machine}” has no state “${name}”.`, {
    hint: `Its states are ${listed(states)}.`,
    fixes: near ? [replace(span, near)] : [],
  });
export const unknownChoice = (span: Span, name: string, choices: readonly string[], near: string | undefined) =>
  error('name/choice', span, `“${name}” is not one of the choices ${listed(choices)}.`, {
    fixes: near ? [replace(span, near)] : [],
  });
export const unknownRule = (span: Span, name: string, rules: readonly string[], near: string | undefined) =>
  error('name/rule', span, `There is no rule “${name}”.`, {
    hint: `Rules are behaviours, interactions, state machines and fields: ${listed(rules)}.`,
    fixes: near ? [replace(span, near)] : [],
  });
export const ambiguousRule = (span: Span, name: string, full: readonly string[]) =>
  error('name/rule', span, `Several rules are named “${name}”.`, { fixes: full.map((text) => replace(span, text)) });
export const unknownFunction = (span: Span, name: string, near: string | undefined) =>
  error('name/function', span, `There is no function “${name}”.`, { fixes: near ? [replace(span, near)] : [] });
export const groupIsNoValue = (span: Span, name: string, members: readonly string[]) =>
  error(
    'type/group',
    span,
    `“${name}” is a state with states inside, and no agent is in it alone; a value is one of ${members.join(', ')}.`,
    { fixes: members.map((member) => replace(span, member)) },
  );
export const unknownSpace = (span: Span, name: string, known: readonly string[]) =>
  error('name/space', span, `There is no space “${name}”.`, { fixes: known.map((space) => replace(span, space)) });
export const whichSpace = (name: Span, kind: string, spaces: readonly string[]) =>
  error('model/which-space', name, `The model has several spaces, and ${kind} does not say on which it lives.`, {
    fixes: spaces.map((space) => insert(name.end, ` on ${space}`, `Write “on ${space}”`)),
  });
export const otherSpace = (span: Span, what: string, found: string, wanted: string) =>
  error('type/other-space', span, `“${what}” lies on ${found}, but what is asked here lies on ${wanted}.`, {
    hint: 'Spaces have no places, ways or distances in common; ties and messages go from one to another.',
  });
export const unknownLook = (
  span: Span,
  name: string,
  what: string,
  known: readonly string[],
  near: string | undefined,
) =>
  error('name/look', span, `“${name}” is no ${what}.`, {
    hint: `Known: ${known.join(', ')}.`,
    fixes: near ? [replace(span, near)] : [],
  });
export const unknownShown = (span: Span, name: string, near: string | undefined) =>
  error('name/shown', span, `“${name}” is neither a kind nor a field.`, { fixes: near ? [replace(span, near)] : [] });
export const fieldSetNowhere = (span: Span, name: string) =>
  error('name/field-place', span, `“${name}” is a field; it is set where somebody stands, and here is nobody.`, {
    hint: `Set it at a place, “${name} at (x, y) = ...”, or in all cells: “for each c in cells”, and under it “${name} at c = ...”.`,
  });
export const fieldNeedsPlace = (span: Span, name: string) =>
  error('name/field-place', span, `“${name}” is a field; it is read where somebody stands, and here is nobody.`, {
    hint: `Use “mean of ${name}” for the whole space, or “${name} at (x, y)”.`,
    fixes: [replace(span, `mean of ${name}`)],
  });
/** @param centre words that ask round the candidate instead, where there is one */
export const noSelf = (span: Span, what: string, centre?: string) =>
  error(
    'name/no-self',
    span,
    `${what} needs an agent whose turn it is, and here is none.`,
    centre
      ? {
          hint: `Say round whom it is asked: “${centre.trim()}”.`,
          fixes: [insert(span.end, centre, `Add “${centre.trim()}”`)],
        }
      : {},
  );
export const measureInRule = (span: Span, name: string) =>
  error('name/measure', span, `“${name}” is a measure; rules of agents cannot read measures.`, {
    hint: 'Ask the agents themselves with “count”, “mean of ... over ...” and the like.',
  });
export const summaryOutside = (span: Span, name: string) =>
  error('name/summary', span, `“${name}” is a summary of a whole run; only checks can read it.`, {
    hint: 'A summary is known when the run is over. Ask the measures themselves.',
  });
export const notAgent = (span: Span, name: string) =>
  error('name/not-agent', span, `“${name}” is no agent, so nothing follows after its dot.`);

// Types and units

export const wrongType = (span: Span, expected: string, found: string, more: More = {}) =>
  error('type/expected', span, `${expected} is expected here, but this is ${found}.`, more);
export const textAsValue = (span: Span) =>
  error('type/text', span, 'A text in quotes is no value.', {
    hint: 'Text stands in “log”, behind a declaration as its sentence, and in names of files.',
  });
export const wrongDimension = (span: Span, left: string, right: string) =>
  error('type/unit-mismatch', span, `These two do not fit together: one is ${left}, the other ${right}.`, {
    hint: 'Give both the same kind of unit.',
  });
export const notComparable = (span: Span, left: string, right: string) =>
  error('type/compare', span, `${left} cannot be compared with ${right}.`);
/** A piece of text with a unit behind it, which can stand after a number or a closing bracket only. */
function withUnit(text: string, unit: string): string {
  return /^[\d.]+(?:e[+-]?\d+)?$/i.test(text) || /^\([^()]*\)$/.test(text) ? `${text} ${unit}` : `(${text}) ${unit}`;
}

export const rateWithoutTime = (span: Span, text: string) =>
  error('type/rate', span, 'A rate is an amount per time.', {
    hint: 'Say per which time, or use “chance” for a chance in each step.',
    fixes: [replace(span, `${/^[\w.]+$/.test(text) ? text : `(${text})`} per step`)],
  });
export const timeWithoutUnit = (span: Span, text: string) =>
  error('type/time', span, 'A length of time needs its unit.', {
    fixes: [replace(span, withUnit(text, 'steps')), replace(span, withUnit(text, 'days'))],
  });
export const angleWithoutUnit = (span: Span, text: string) =>
  error('type/angle', span, 'An angle needs its unit.', { fixes: [replace(span, withUnit(text, 'deg'))] });
export const lengthWithoutUnit = (span: Span, text: string, unit: string) =>
  error('type/length', span, 'A distance in this space needs its unit.', {
    fixes: [replace(span, withUnit(text, unit))],
  });
export const chanceOutside = (span: Span, text: string, percent: boolean) =>
  error('type/chance', span, `A chance lies between 0 and 1; ${text} does not.`, {
    fixes: percent ? [replace(span, `${text} %`)] : [],
  });
export const chanceBounds = (span: Span, name: string) =>
  warning('type/chance-bounds', span, `The bounds of “${name}” let this chance leave 0 to 1.`, {
    hint: `Give “${name}” bounds “from 0 to 1”.`,
  });
export const needsWhole = (span: Span, text: string) =>
  error('type/whole', span, 'A whole number is needed here.', { fixes: [replace(span, `round(${text})`)] });
export const stepUnitOnly = (span: Span) =>
  error('type/no-clock', span, 'As long as no clock says how long a step is, the only unit of time is steps.', {
    hint: 'Write “step 1 day” under “clock”, or count in steps.',
    fixes: [replace(span, 'steps')],
  });
export const unitAfterName = (span: Span, name: string, unit: string) =>
  error('type/unit-after-name', span, `A unit stands after a number, not after the name “${name}”.`, {
    fixes: [replace(span, `${name} * 1 ${unit}`)],
  });
export const drawNotAllowed = (span: Span, where: string) =>
  error('type/draw', span, `${where} may not draw luck.`, {
    hint: 'Draw in a rule, in “start” or in “has”, and keep the value in an attribute.',
  });
export const argumentCount = (span: Span, name: string, form: string) =>
  error('type/arguments', span, `“${name}” is written ${form}.`);
export const maybeNobody = (span: Span, text: string, whole: Span, wholeText: string) =>
  error('type/maybe-nobody', span, `“${text}” may be nobody here.`, {
    hint: `Open a block with “with v = ${text}” and use v in it, or write “${text} is not nobody and ...” before it.`,
    fixes: whole.end > span.end ? [replace(whole, `(if ${text} is not nobody then ${wholeText} else 0)`)] : [],
  });
export const manySenders = (span: Span, message: string, kinds: number) =>
  error(
    'name/sender',
    span,
    kinds === 0
      ? `Nobody sends “${message}”, so it has no sender.`
      : `Agents of several kinds send “${message}”, so its sender has no one kind.`,
    {
      hint: 'Give the message an attribute for who sends it: “has from: Vole = nobody”.',
    },
  );
export const noReach = (span: Span, text: string) =>
  error('query/reach', span, `“${text}” does not go with what is asked for here.`, {
    hint: 'Reaches in space go with agents and cells, “tied by” with agents.',
  });
/** @param size of a cell that is proposed, with the unit of the space */
export const noCells = (span: Span, at: number, size: string) =>
  error('query/cells', span, 'This plane has no cells.', {
    hint: `Give it cells, on which rules can then ask: “cells of ${size}”.`,
    fixes: [insert(at, `, cells of ${size}`, `Add “cells of ${size}” to the space`)],
  });
export const unknownNetwork = (span: Span, name: string, near: string | undefined) =>
  error('name/network', span, `There is no network “${name}”.`, {
    hint: 'A network is declared with “network Tunnels ties Vole to Vole: ring, 4 neighbours”.',
    fixes: near ? [replace(span, near)] : [],
  });
export const unknownZone = (span: Span, name: string, near: string | undefined) =>
  error('name/zone', span, `There is no zone “${name}”.`, {
    hint: 'A zone is declared with “zone Village on Meadow” and its shapes under it.',
    fixes: near ? [replace(span, near)] : [],
  });
export const unknownMessage = (span: Span, name: string, near: string | undefined) =>
  error('name/message', span, `There is no message “${name}”.`, {
    hint: 'A message is declared with “message Alarm” and its attributes under it.',
    fixes: near ? [replace(span, near)] : [],
  });
export const unknownRoutine = (span: Span, name: string, near: string | undefined) =>
  error('name/routine', span, `There is no routine “${name}”.`, {
    hint: 'A routine is declared with “routine name(inputs)” and statements under it.',
    fixes: near ? [replace(span, near)] : [],
  });
export const unknownTarget = (span: Span, name: string, near: string | undefined) =>
  error('name/tally', span, `“${name}” is neither a tally nor a list.`, {
    hint: 'Values are added to a “tally” of the model or a list of an agent (“has friends: last 3 Vole”).',
    fixes: near ? [replace(span, near)] : [],
  });
export const notTied = (span: Span, kind: string, network: string, from: string, to: string) =>
  error('query/tied', span, `“${network}” ties ${from} to ${to}; ${withArticle(kind)} cannot be asked for by it here.`);
export const flowInRule = (span: Span, which: string) =>
  error('name/measure', span, `“${which}” counts over a whole step; rules cannot read it.`, {
    hint: 'Put it in a measure, or ask the agents with “count”.',
  });
export const untilOutside = (span: Span) =>
  error('syntax/until', span, '“until” stands directly under “repeat at most ... times”.');
export const neverHeard = (span: Span, name: string) =>
  warning('doubt/unheard', span, `The message “${name}” is never heard.`, {
    hint: 'Add “on Name” under a kind, or a transition “on Name: State”.',
  });
export const neverSent = (span: Span, name: string) =>
  warning('doubt/never', span, `This never happens: nobody sends “${name}”.`);
export const missingData = (span: Span, name: string, known: readonly string[]) =>
  error('file/missing', span, `The file “${name}” is not there.`, {
    hint: known.length
      ? `Files beside this model: ${listed(known)}.`
      : `Put its lines into the model, indented under “data "${name}"”; on the command line it may lie beside the model file.`,
  });
export const badData = (span: Span, name: string, line: number, what: string) =>
  error('file/content', span, `“${name}”, line ${line}: ${what}`);
export const whereWithoutIt = (span: Span) =>
  error('query/no-it', span, 'This condition never looks at the candidate.', {
    hint: 'The candidate of a query is “it”: “where it.age > 3 days”.',
  });
export const wherePartWithoutIt = (
  part: Span,
  query: Span,
  text: { before: string; part: string; join: string },
  inside: string,
) =>
  error('query/part-no-it', part, `This part of the condition never looks at the candidate “it”.`, {
    hint: 'Brackets show what is meant.',
    fixes: [
      {
        label: 'It is a condition of its own',
        edits: [{ span: query, text: `(${text.before}) ${text.join} ${text.part}` }],
      },
      { label: 'It belongs to the query', edits: [{ span: query, text: inside }] },
    ],
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
export const periodTooShort = (span: Span, what: string, text: string, step: string) =>
  error('type/period', span, `${what} of ${text} is shorter than a step of ${step}, in which it can come only once.`, {
    hint: 'Make the step of the clock shorter, or the period as long as a step.',
  });
export const periodMayBeShort = (span: Span, name: string, step: string) =>
  warning('doubt/period', span, `“${name}” can be less than a step of ${step}, in which this comes only once.`, {
    hint: 'Give the parameter bounds that begin at a step.',
  });
export const emptyPeriod = (span: Span, step: string) =>
  warning('doubt/period', span, `Both ends lie in one step of ${step}, so this never holds.`, {
    hint: 'A line acts in the step in which its time lies; make the period longer or the step shorter.',
  });
export const tooMany = (span: Span, whose: string, what: string, count: number, most: number) =>
  error(
    'model/too-many',
    span,
    `${whose} has ${count.toLocaleString('en-GB')} ${what}; at most ${most.toLocaleString('en-GB')} fit.`,
    { hint: 'Put what belongs together into lists, networks or fields, or into several kinds.' },
  );
export const oddRows = (span: Span, rows: number) =>
  error(
    'model/odd-rows',
    span,
    `A wrapping grid of 6 neighbours needs an even number of rows, not ${rows}: every other row is shifted by half a cell.`,
    { fixes: [replace(span, String(rows + 1))] },
  );
export const roundedWay = (span: Span) =>
  warning(
    'doubt/grid-way',
    span,
    'On a grid every way ends in the middle of a cell, so turns and ways that do not lead to one are rounded each time.',
    {
      hint: 'Ten “move by 1” at 30 deg end 14.1 cells away at 45 deg, and “move by 0.4” never leaves the cell. Use a plane, or “move to random cell next to here”.',
    },
  );
export const overWithoutIt = (span: Span) =>
  error('query/over-no-it', span, 'What is gathered never looks at the candidate.', {
    hint: 'Read the candidate with “it”: “mean of it.energy over Vole”.',
  });
export const notConstant = (span: Span) =>
  error('type/constant', span, 'A fixed number is needed here.', { hint: 'Numbers with units, and + - * / of them.' });
export const notPositive = (span: Span, what: string) =>
  error('type/positive', span, `${what} must be greater than zero.`);
export const outOfBounds = (span: Span, name: string, bounds: string) =>
  error('type/bounds', span, `The usual value of “${name}” lies outside its bounds ${bounds}.`);
export const emptyBounds = (span: Span) => error('type/bounds', span, 'The first bound must be below the second.');
export const circle = (span: Span, name: string) =>
  error('name/circle', span, `“${name}” is computed from itself, so it has no value.`, {
    hint: 'Keep the earlier value in an attribute (“has”), and set that in a rule.',
  });
export const cannotSet = (span: Span, what: string) => error('name/cannot-set', span, `${what} cannot be set here.`);
export const noSpace = (span: Span, what: string) =>
  error('model/no-space', span, `${what} needs a space, and the model has none.`, {
    hint: 'Add “space Meadow: plane 100 m by 100 m, wrapping”.',
  });
export const noPlace = (span: Span, kind: string) =>
  error('model/no-place', span, `Where does the new ${kind} stand?`, {
    fixes: [insert(span.end, ' here', 'Write “here”'), insert(span.end, ' anywhere', 'Write “anywhere”')],
  });
export const noEnd = (span: Span) =>
  error('model/no-end', span, 'The clock does not say after which time a run ends.', {
    hint: 'Add a line “end after ...”: every run needs a limit.',
    fixes: [insert(span.end, '\n  end after 365 steps', 'Add “end after 365 steps”')],
  });
export const unorderedRule = (span: Span, name: string, orderEnd: number | undefined) =>
  error('order/missing', span, `“${name}” has no place in the order.`, {
    hint: 'Every behaviour and interaction stands in the order.',
    fixes:
      orderEnd === undefined ? [] : [insert(orderEnd, `\n  ${name} in turn`, `Add “${name} in turn” to the order`)],
  });
export const unorderedMachine = (span: Span, name: string, orderEnd: number) =>
  warning('order/machine', span, `The state machine “${name}” has no place in the order; it comes last, in turn.`, {
    fixes: [insert(orderEnd, `\n  ${name} in turn`, `Add “${name} in turn” to the order`)],
  });
export const noOrder = (span: Span, proposal: string, at: number) =>
  warning('order/none', span, 'The rules have no declared order; they run in the order of the text, in turn.', {
    hint: 'Results can depend on the order; an “order” part says that it was chosen.',
    fixes: [insert(at, `\n${proposal}\n`, 'Add the order')],
  });
export const ruleTwice = (span: Span, name: string) =>
  error('order/twice', span, `“${name}” stands in the order twice.`);
export const modeMissing = (span: Span) =>
  error('order/mode', span, 'Say how the agents take their turns.', {
    fixes: [insert(span.end, ' in turn', 'Write “in turn”'), insert(span.end, ' all at once', 'Write “all at once”')],
  });
export const modeOnField = (span: Span) =>
  error('order/mode', span, 'A field acts once; it has no mode.', {
    hint: 'Remove the mode, and keep fields on lines of their own.',
  });
export const mixedGroup = (span: Span) =>
  error('order/mode', span, 'Rules that share a turn run in turn or in fixed order; all at once nobody has a turn.', {
    hint: 'Give each rule a line of its own.',
  });
export const mixingRate = (span: Span) =>
  error('syntax/mixing', span, 'A rate does not go with “mixing”, whose meetings are counted already.', {
    hint: 'Say with which “chance” a meeting has its effect.',
  });
export const unknownRecorded = (span: Span, name: string, near: string | undefined) =>
  error('name/record', span, `“${name}” is neither a kind nor an interaction.`, {
    hint: 'A record keeps the agents of a kind, or the meetings of an interaction.',
    fixes: near ? [replace(span, near)] : [],
  });
export const unusedColumn = (span: Span, file: string, column: string, kind: string) =>
  warning('file/column', span, `The column “${column}” of “${file}” is no attribute of ${kind}; it is not used.`);

// Doubts

/** @param line the whole line that declares it, if it is one that can go by itself */
export const neverUsed = (span: Span, what: string, name: string, line?: Span) =>
  warning('doubt/unused', span, `The ${what} “${name}” is never read.`, {
    hint: 'Use it or remove it.',
    fixes: line ? [{ label: `Remove “${name}”`, edits: [{ span: line, text: '' }] }] : [],
  });
export const neverReached = (span: Span, name: string) =>
  warning('doubt/unreachable', span, `The state “${name}” is never reached.`, {
    hint: 'No transition leads to it and nobody starts in it.',
  });
export const neverShown = (span: Span, kind: string, at: number) =>
  warning('doubt/not-shown', span, `“${kind}” is never drawn.`, {
    fixes: [insert(at, `\nshow ${kind}: dot\n`, `Add “show ${kind}: dot”`)],
  });
export const neverStarted = (span: Span, kind: string, lineEnd: number, place: string) =>
  warning('doubt/nobody', span, `No ${kind} is there at the start, and none is ever created.`, {
    fixes: [insert(lineEnd, `\n  start 100${place}`, `Add “start 100${place}”`)],
  });
export const stacked = (span: Span, kind: string, placing: Span) =>
  warning('doubt/stacked', span, `All ${kind}s start on one point.`, {
    hint: 'Use “anywhere” or “within 5 m of” a place.',
    fixes: [replace(placing, 'anywhere')],
  });
export const noMeasure = (span: Span, kind: string | undefined, at: number) =>
  warning('doubt/no-measure', span, 'The model measures nothing, so there is nothing to chart or compare.', {
    hint: 'Add for example “measure voles = count Vole”.',
    fixes: kind
      ? [
          insert(
            at,
            `\nmeasure all_${kind.toLowerCase()} = count ${kind}\n`,
            `Add “measure all_${kind.toLowerCase()} = count ${kind}”`,
          ),
        ]
      : [],
  });
export const certainChance = (span: Span) =>
  warning('doubt/never', span, 'This can never happen: its chance or rate is 0.');
