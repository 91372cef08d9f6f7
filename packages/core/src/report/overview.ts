import { clockWords } from './time-axis.ts';
import { MONTHS } from '../calendar/civil.ts';
import type {
  AttributeSymbol,
  CheckedModel,
  FieldSymbol,
  KindSymbol,
  MachineSymbol,
  OrderEntry,
  RuleSymbol,
  SpaceSymbol,
} from '../language/checked.ts';
import type { MapSource } from '../language/syntax.ts';
import type { Prose, ProseHeading } from '../language/prose.ts';
import { PLAN_QUESTIONS, REPORT_QUESTIONS } from '../language/prose.ts';
import type { Block, Line, Section, TableBlock, Words } from './document.ts';
import { capital, code, listed, paragraph, strong, tableOf } from './document.ts';
import { about, ruleActors, typeWords, wording } from './model-words.ts';
import { shownNumber } from './numbers.ts';
import { orderPicture } from './order-picture.ts';
import type { RuleReading } from './reading.ts';

type Readings = ReadonlyMap<RuleSymbol, RuleReading>;

/** The first part of the standard: what a model is for, what it is made of, what happens in a step. */
export function overview(model: CheckedModel, prose: Prose, readings: Readings): Section[] {
  return [purpose(model, prose), entities(model, readings), processes(model)];
}

/** A place for words of the modeler; it waits if nothing else is told in its stead. */
export function place({ answers }: Prose, heading: ProseHeading, isTold = false): Block {
  const { asks } = [...PLAN_QUESTIONS, ...REPORT_QUESTIONS].find((question) => question.heading === heading)!;
  const answer = answers[heading];
  return { is: 'place', heading, asks, answer, waits: answer === '' && !isTold };
}

function purpose(model: CheckedModel, prose: Prose): Section {
  return {
    id: 'purpose',
    title: 'Purpose and patterns',
    blocks: [
      ...(prose.opening ? [paragraph(prose.opening)] : []),
      place(prose, 'Purpose', prose.opening !== ''),
      place(
        prose,
        'Pattern',
        model.tree.parts.some((part) => part.is === 'check'),
      ),
      place(prose, 'Left out'),
      ...checked(model),
    ],
  };
}

function checked({ tree }: CheckedModel): Block[] {
  const checks = tree.parts.flatMap((part) => (part.is === 'check' ? [part.title] : []));
  if (checks.length === 0) return [];
  return [
    paragraph('The model is held to simple cases whose outcome is known beforehand:'),
    { is: 'list', isOrdered: false, items: checks.map((title) => [title]) },
  ];
}

function entities(model: CheckedModel, readings: Readings): Section {
  const { kinds, spaces, fields, networks, zones, variables, derives, messages, tallies } = model;
  const named = (words: string, all: readonly { readonly name: string }[]): Line[] =>
    all.length > 0 ? [[`${words}: `, ...listed(all.map(({ name }) => code(name))), '.']] : [];
  return {
    id: 'entities',
    title: 'Entities, state variables, scales',
    blocks: [
      ...kinds.flatMap((kind) => kindBlocks(model, kind, readings)),
      { is: 'heading', text: 'Surroundings' },
      ...(spaces.length === 0 ? [paragraph('The model has no space: nobody stands anywhere.')] : []),
      ...spaces.map((space) => paragraph(strong(space.name), ` is ${spaceWords(model, space)}.`)),
      ...(fields.length > 0 ? [fieldTable(model, fields)] : []),
      ...networks.map((network) =>
        paragraph(
          strong(network.name),
          ` is a network ${network.directed ? 'with directed ties ' : ''}of `,
          network.from === network.to ? network.from.name : `${network.from.name} and ${network.to.name}`,
          ': ',
          code(wording(model, network.part.maker.span)),
          '.',
        ),
      ),
      ...(variables.length + derives.length > 0 ? [variableTable(model)] : []),
      ...[...named('Zones', zones), ...named('Messages', messages), ...named('Values gathered in a step', tallies)].map(
        (words): Block => ({ is: 'paragraph', words }),
      ),
      { is: 'heading', text: 'Scales' },
      paragraph(...scales(model)),
    ],
  };
}

function kindBlocks(model: CheckedModel, kind: KindSymbol, readings: Readings): Block[] {
  const boards = model.ridings.filter((riding) => riding.from === kind);
  const rows = [
    ...kind.attributes.map((attribute) => attributeRow(model, attribute)),
    ...kind.derives.map(({ name, type, line }): Line => [
      code(name),
      typeWords(type),
      ['always ', wording(model, line.value.span)].join(''),
      about(line),
    ]),
  ];
  return [
    { is: 'heading', text: kind.name },
    paragraph(
      `Agents of the kind ${kind.name}${kind.space ? ` live in ${kind.space.name}; each has a place and a direction` : ''}.`,
      ...(kind.part.about ? [` They stand for ${kind.part.about}.`] : []),
      ...(kind.seats ? [` They are vehicles with `, code(wording(model, kind.seats.span)), ' seats.'] : []),
      ...boards.map(({ to }) => ` They ride in agents of the kind ${to.name}.`),
      ...(rows.length === 0 && kind.machines.length === 0 ? [' They have no attributes.'] : []),
    ),
    ...(rows.length > 0
      ? [
          tableOf({
            is: 'table',
            head: ['attribute', 'in', 'at first', 'what it is'],
            rows,
            caption: [`Attributes of ${kind.name}.`],
          }),
        ]
      : []),
    ...kind.machines.map((machine) => machineTable(model, machine, settersOf(kind, machine, readings))),
  ];
}

function attributeRow(model: CheckedModel, { name, type, unit, line }: AttributeSymbol): Line {
  const first = line.list ? `empty; the last ${line.list.size}` : code(wording(model, line.value.span));
  return [code(name), typeWords(type, unit), first, about(line)];
}

/** Rules that set the state of a machine from outside. */
function settersOf(kind: KindSymbol, { name }: MachineSymbol, readings: Readings): Words[] {
  return [...readings].flatMap(([rule, { ownChanges, otherChanges }]) => {
    const setsOwn = rule.is === 'behaviour' && rule.kind === kind && ownChanges.has(name);
    return setsOwn || otherChanges.has(`${name} of ${kind.name}`) ? [code(rule.name)] : [];
  });
}

function machineTable(model: CheckedModel, { name, states }: MachineSymbol, setters: readonly Words[]): TableBlock {
  const rows = states.map((state): Line => {
    const leads = state.part.transitions.map(({ trigger, value, message, targets, when }) => {
      const how = trigger === 'on' ? `on ${message?.text ?? 'a message'}` : `${trigger} ${wording(model, value.span)}`;
      const where = targets.map((target) => target.state.text).join(' or ');
      return `${how}${when ? ` when ${wording(model, when.span)}` : ''} to ${where}`;
    });
    const inside = state.groups.map((group) => group.name).join(', ');
    return [
      code(state.name),
      inside,
      leads.length > 0 ? capital(leads.join('; ')) : 'Nothing by itself.',
      about(state.part),
    ];
  });
  return tableOf({
    is: 'table',
    head: [`state of ${name}`, 'within', 'what it leads to', 'what it is'],
    rows,
    caption: [
      `States of ${name}.`,
      ...(setters.length > 0 ? [' Besides, ', ...listed(setters), setters.length > 1 ? ' set it.' : ' sets it.'] : []),
    ],
  });
}

function spaceWords(
  model: CheckedModel,
  { part, edge, neighbours, oneAgentACell, cellLength, lanes }: CheckedModel['spaces'][number],
): string {
  const form = neighbours === 6 ? 'a grid of hexagons' : `a ${part.form}`;
  if (part.map) return mapWords(part.map, lanes);
  const sides = [part.width, part.height].map((side) => side && wording(model, side.span)).join(' by ');
  const size = cellLength === undefined ? sides : `${sides} cells, each ${wording(model, part.cell!.span)} wide`;
  const edges = {
    wrapping: 'whose opposite edges meet',
    walled: 'with walls at its edges',
    reflecting: 'whose edges throw back what comes to them',
  };
  return `${form} of ${size}, ${edges[edge]}${oneAgentACell ? ', with at most one agent on a cell' : ''}`;
}

function mapWords({ file, ways }: MapSource, lanes: SpaceSymbol['lanes']): string {
  const { lanes: count, metres, leftOut } = lanes!.told;
  const taken = ways ? `, of the ways ${ways.map((way) => way.text).join(', ')}` : '';
  const left =
    leftOut.lanes > 0
      ? `; ${leftOut.parts === 1 ? 'a smaller part' : `${leftOut.parts} smaller parts`} with ${leftOut.lanes === 1 ? 'one lane' : `${leftOut.lanes} lanes`} left out`
      : '';
  return `the lanes of the map ${file.name}${taken}: ${count} lanes of ${shownNumber(metres / 1000)} km in all, on which agents stand and along which they travel${left}`;
}

function fieldTable(model: CheckedModel, fields: readonly FieldSymbol[]): TableBlock {
  return tableOf({
    is: 'table',
    head: ['field', 'on', 'at first', 'how it changes by itself', 'what it is'],
    rows: fields.map(({ name, part, space }) => {
      const changes = [
        part.grow && `grows by ${wording(model, part.grow.span)}`,
        part.spread && `spreads by ${wording(model, part.spread.span)}`,
        part.fade && `fades by ${wording(model, part.fade.span)}`,
        part.becomes.length > 0 &&
          `becomes ${wording(model, part.becomes[0]!.value.span)}${part.becomes.length > 1 ? ' and so on' : ''}`,
        part.keep && `is kept from ${wording(model, part.keep.from.span)} to ${wording(model, part.keep.to.span)}`,
      ].filter((words) => typeof words === 'string');
      return [
        code(name),
        `${space?.name ?? ''}${part.cell ? `, cells of ${wording(model, part.cell.span)}` : ''}${part.isSingle ? ', in single precision' : ''}`,
        part.start ? code(wording(model, part.start.span)) : part.startFile ? `from ${part.startFile.name}` : '0',
        changes.length > 0 ? capital(changes.join(', ')) : 'It does not.',
        about(part),
      ];
    }),
    caption: ['Fields: values of every cell.'],
  });
}

function variableTable(model: CheckedModel): TableBlock {
  return tableOf({
    is: 'table',
    head: ['variable', 'in', 'at first', 'what it is'],
    rows: [
      ...model.variables.map(({ name, type, part }) => [
        code(name),
        typeWords(type),
        code(wording(model, (part.value ?? part.table!).span)),
        about(part),
      ]),
      ...model.derives.map(({ name, type, line }) => [
        code(name),
        typeWords(type),
        `always ${wording(model, line.value.span)}`,
        about(line),
      ]),
    ],
    caption: ['Variables of the whole model, and what is derived.'],
  });
}

function scales(model: CheckedModel): Words[] {
  const { part, start } = model.clock;
  const words: Words[] = [part?.step ? `A step is ${wording(model, part.step.span)} long` : 'Time is counted in steps'];
  if (start) {
    const { seconds = 0 } = start;
    const time = seconds > 0 ? ` at ${clockWords(seconds)}` : '';
    words.push(`; runs begin on ${start.day} ${MONTHS[start.month - 1]!} ${start.year}${time}`);
  }
  const ends = [
    ...(part?.endAfter ? [`after ${wording(model, part.endAfter.span)}`] : []),
    ...(part?.endWhen ?? []).map((when) => `as soon as ${wording(model, when.span)}`),
  ];
  words.push(ends.length > 0 ? `. A run ends ${ends.join(', or ')}.` : '. A run has no end of its own.');
  return words;
}

const MODES: Readonly<Record<OrderEntry['mode'], string>> = {
  'in turn': 'agents act one after another, in an order drawn anew each step, and each sees what those before it did',
  'in fixed order': 'agents act one after another by their numbers, and each sees what those before it did',
  'all at once': 'everybody sees what was there before, and what they change is put together afterwards',
};

function processes(model: CheckedModel): Section {
  const items = model.order.map((entry): Line => {
    const rules = entry.rules.flatMap((rule, i) => [
      ...(i > 0 ? [' with '] : []),
      code(rule.name),
      ` (${ruleActors(rule)})`,
    ]);
    return isOfCells(entry) ? [...rules, '.'] : [...rules, `, ${entry.mode}.`];
  });
  const modes = new Set(model.order.filter((entry) => !isOfCells(entry)).map(({ mode }) => mode));
  const timeline = model.tree.parts.flatMap((part) => (part.is === 'timeline' ? part.lines : []));
  const all: Line[] = [
    ...(timeline.length > 0 ? [['What the timeline says for this step (see Input data).']] : []),
    ...items,
    ['Measures are taken, and it is seen whether the run is over.'],
  ];
  return {
    id: 'process',
    title: 'Process overview and scheduling',
    blocks: [
      paragraph('In each step the following happens, in this order:'),
      { is: 'list', isOrdered: true, items: all },
      ...[...modes].map((mode) => paragraph(strong(capital(mode)), `: ${MODES[mode]}.`)),
      orderPicture(model, timeline.length > 0),
    ],
  };
}

function isOfCells({ rules }: OrderEntry): boolean {
  return rules.every(({ is }) => is === 'field' || is === 'surroundings');
}
