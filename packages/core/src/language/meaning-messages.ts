import type { Fix, Span } from '../diagnostics.ts';
import type { More } from './message-parts.ts';
import { error, insert, listed, replace, warning } from './message-parts.ts';
import { withArticle } from './types.ts';

/** The wording of every message on what a text means, in one place. Detection passes facts. */

export { noSuchDay, tooDeep } from './reading-messages.ts';

export const unforeseen = (span: Span, what: string) =>
  error('internal/unforeseen', span, `This is our mistake, not yours: something here was not foreseen (${what}).`, {
    hint: 'Your text is kept as it stands. Write the marked piece in another way, and tell us of it with the text.',
  });
export const unknownUnit = (span: Span, name: string) =>
  error('name/unit', span, `There is no unit “${name}”.`, {
    hint: 'A unit is declared with “unit sack”, or as a multiple: “unit cart = 40 sack”.',
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
/** @param span of “any” where one of those who are asked about is meant */
export const randomOfAny = (span: Span): Fix => replace(span, 'random', 'Pick one of them: “random”');
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
export const sizeInCells = (span: Span, cells: number) =>
  error('type/expected', span, 'The size of a grid whose cells have a length is a number of cells, not a length.', {
    hint: `So many cells are as long as that: ${cells}.`,
    fixes: cells > 0 ? [replace(span, String(cells))] : [],
  });
export const stepUnitOnly = (span: Span) =>
  error('type/no-clock', span, 'As long as no clock says how long a step is, the only unit of time is steps.', {
    hint: 'Write “step 1 day” under “clock”, or count in steps.',
    fixes: [replace(span, 'steps')],
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
/** @param at where a line of the kind can begin */
export const noSeats = (span: Span, kind: string, at: number) =>
  error('vehicle/seats', span, `“${kind}” has no seats, so nobody rides in it.`, {
    hint: 'A kind is one of vehicles if it says how many ride in it: “seats 12”.',
    fixes: [insert(at, '\n  seats 12', `Give ${kind} seats`)],
  });
export const neverBoards = (span: Span, rider: string, vehicle = 'anything') =>
  error('vehicle/never', span, `No ${rider} ever boards ${vehicle}.`, {
    hint: 'It rides after “board v”, or “take on w” by the vehicle.',
  });
export const lineNeeds = (span: Span, what: string, line: string) =>
  error('vehicle/line', span, `This line does not say ${what}.`, {
    hint: `For example “${line}”.`,
    fixes: [insert(span.end, `\n  ${line}`, `Add “${line}”`)],
  });
export const needsNoMore = (span: Span, what: string) =>
  error('vehicle/line', span, `This line has a timetable, which says ${what} already.`, {
    hint: 'A line has “stops”, “every”, “at” and “dwell”, or it has a “timetable”.',
  });
export const daysWithoutCalendar = (span: Span) =>
  error(
    'vehicle/line',
    span,
    'Trips of this timetable run on some days of the week, and the clock of this model knows of none.',
    {
      hint: 'Write the day with which a run begins: “step 1 minute from 2031-05-16”.',
    },
  );
export const needsTimeOfDay = (span: Span) =>
  error('vehicle/line', span, 'A timetable holds times of day, and the clock of this model has no unit of time.', {
    hint: 'For example “clock”, and under it “step 1 minute”.',
  });
export const stopsInOneStep = (span: Span, name: string, trip: string) =>
  warning('doubt/period', span, `“${name}”: trip “${trip}” comes from a stop to the next in less than a step.`, {
    hint: 'A vehicle is at each stop to the end of a step, and would be late; make the step shorter.',
  });
export const unknownLine = (span: Span, name: string, near: string | undefined) =>
  error('name/line', span, `There is no line “${name}”.`, {
    hint: 'A line is declared with “line Ferries by Ferry”, its stops under it.',
    fixes: near ? [replace(span, near)] : [],
  });
export const nobodyBoards = (span: Span, vehicle: string) =>
  warning('doubt/never', span, `“${vehicle}” has seats, and nobody ever boards it.`, {
    hint: 'Who is to ride says “board v”, or the vehicle “take on w”.',
  });
export const severalVehicles = (span: Span, rider: string, vehicles: readonly string[]) =>
  error('vehicle/several', span, `${rider} rides in vehicles of several kinds: ${vehicles.join(', ')}.`, {
    hint: `Say of which: “first ${vehicles[0]!} carrying self”, “${rider} aboard v”.`,
  });
export const ridesInItself = (span: Span, kind: string, way: readonly string[]) =>
  error(
    'vehicle/circle',
    span,
    way.length > 1
      ? `${kind} would ride in what rides in it: ${[...way, kind].join(' in ')}.`
      : `“${kind}” cannot ride in what is a ${kind} itself.`,
    { hint: 'Let vehicles that carry others be of a kind of their own, which boards nothing.' },
  );
export const oneACellAboard = (span: Span, space: string) =>
  error('type/expected', span, `Who rides stands where its vehicle stands, and “${space}” has one agent a cell.`, {
    hint: 'Leave “one agent per cell” out, and let rules keep who walks apart.',
  });
export const needsTurns = (span: Span, text: string, line: Span, lineText: string) =>
  error('order/turns', span, `“${text}” is done by one after the other, and this rule runs all at once.`, {
    hint: 'Seats are taken one by one, and riders go where their vehicle has gone.',
    fixes: [replace(line, lineText.replace(/all\s+at\s+once/i, 'in turn'))],
  });
export const flowInRule = (span: Span, which: string) =>
  error('name/measure', span, `“${which}” counts over a whole step; rules cannot read it.`, {
    hint: 'Put it in a measure, or ask the agents with “count”.',
  });
export const untilOutside = (span: Span) =>
  error('syntax/until', span, '“until” stands under “repeat at most ... times”, directly or under “if”.');
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
      : `Drop it on the page, or put it beside the model file; a short one may stand in the model, its lines indented under “data "${name}"”.`,
  });
export const missingMap = (span: Span, name: string, known: readonly string[]) =>
  error('file/missing', span, `The map “${name}” is not there.`, {
    hint: known.length
      ? `Files beside this model: ${listed(known)}.`
      : 'Drop the file on the page, or put it beside the model file. A small one in GeoJSON may stand in the text under “data”.',
  });
export const mapAsData = (span: Span, name: string) =>
  error('file/content', span, `“${name}” is a map, no table.`, {
    hint: 'A map is read by a space: “space Village: map from "hollowmere.osm"”.',
  });
export const badMap = (span: Span, name: string, problem: string, hint: string, line?: number) =>
  error('file/content', span, `“${name}”${line === undefined ? '' : `, line ${line}`}: ${problem}`, { hint });
export const unknownOfMap = (
  span: Span,
  what: string,
  name: string,
  known: readonly string[],
  near: string | undefined,
) =>
  error('name/of-map', span, `The map has no ${what} “${name}”.`, {
    hint: known.length
      ? `It has: ${listed(known.slice(0, 12))}${known.length > 12 ? ' and others' : ''}.`
      : 'It has none.',
    fixes: near ? [replace(span, what === 'place' ? `"${near}"` : near)] : [],
  });
export const recordOfField = (span: Span, name: string) =>
  error('type/expected', span, `A record of the field “${name}” holds the value of every cell, and nothing else.`, {
    hint: `Write “record ${name} every 10 steps”; what else there is of cells is a field of its own.`,
  });
export const noWordsShown = (span: Span, name: string) =>
  error('type/expected', span, `What is shown of “${name}” has no words that could have colours.`, {
    hint: 'Words are those of a field of choices, or of “colour by” a state machine or choice: “show ground: bare straw, heather moss”, “show Vole: leaf, colour by life, Old russet”.',
  });
export const wordOnce = (span: Span, word: string, field: string, near: string) =>
  warning('doubt/word', span, `“${word}” is a word of the field “${field}” of its own, and stands here alone.`, {
    hint: `If it is no slip of “${near}”, say all words: “start ... of a, b, c”.`,
    fixes: [replace(span, near)],
  });
export const notGrouped = (span: Span, name: string) =>
  error(
    'type/expected',
    span,
    `“by ${name}” needs a state machine or a choice of the agents that the measure asks for.`,
    {
      hint: 'A measure by group reads “measure voles by life = count Vole”.',
    },
  );
export const measureByGroup = (span: Span, name: string, groups: readonly string[]) =>
  error('name/measure', span, `“${name}” has a value for each group: ${listed(groups)}.`, {
    fixes: groups.slice(0, 3).map((group) => replace(span, group)),
  });
export const distributionOf = (span: Span) =>
  error(
    'type/expected',
    span,
    'A chart of a distribution shows what all agents of a kind have, or those of them that fit.',
    {
      hint: 'Write “chart Weights: distribution of it.weight over Vole where it.life is Old”.',
    },
  );
export const seriesEnds = (span: Span, name: string, line: number) =>
  warning(
    'doubt/series-ends',
    span,
    `“${name}” ends, on line ${line}, before the run does; its last value then holds on.`,
    {
      hint: 'End the clock sooner, or add rows to the table.',
    },
  );
export const farFromLanes = (span: Span, name: string, line: number, metres: number) =>
  warning(
    'doubt/far-from-lanes',
    span,
    `“${name}”, line ${line}: this place lies ${Math.round(metres)} m from the nearest lane, to which it is brought; of all it lies farthest.`,
    { hint: 'Places are in the unit of the map from its lower left corner, or “lon” and “lat” in degrees.' },
  );
export const needsMap = (span: Span, what: string, form: string) =>
  error('type/expected', span, `${what} needs a map, and this is ${form}.`, {
    hint: 'Ways go along the lanes of a map: “space Village: map from "hollowmere.osm"”. Elsewhere say “move toward P by D”.',
  });
export const onLanesOnly = (span: Span, what: string, hint: string) =>
  error('type/expected', span, `${what} has no meaning on a map, where agents go along lanes.`, { hint });
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
export const crossedBounds = (from: Span, to: Span, fromText: string, toText: string) =>
  error('type/bounds', { start: from.start, end: to.end }, 'The first bound lies above the second.', {
    hint: 'Nothing lies between them.',
    fixes: [
      {
        label: 'Let them change places',
        edits: [
          { span: from, text: toText },
          { span: to, text: fromText },
        ],
      },
    ],
  });
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
