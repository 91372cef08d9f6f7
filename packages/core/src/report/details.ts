import type { CheckedModel, OrderEntry, RuleSymbol } from '../language/checked.ts';
import type { Prose } from '../language/prose.ts';
import type * as Ast from '../language/syntax.ts';
import type { ParameterPlan, Plan } from '../plan/plan.ts';
import { rulesArithmetic } from './arithmetic.ts';
import type { Block, Line, Section, Words } from './document.ts';
import { capital, code, listed, paragraph, tableOf } from './document.ts';
import { listing, wording } from './model-words.ts';
import { shownNumber } from './numbers.ts';
import { place } from './overview.ts';
import type { RuleReading } from './reading.ts';

/** The last part of the standard: how a run begins, what it is given, and each rule. */
export function details(
  model: CheckedModel,
  plan: Plan,
  text: string,
  prose: Prose,
  readings: ReadonlyMap<RuleSymbol, RuleReading>,
): Section[] {
  return [initialisation(model), inputData(model, text), parameters(plan, prose), submodels(model, text, readings)];
}

function initialisation(model: CheckedModel): Section {
  const items = model.kinds.flatMap(({ part, name, machines }): Line[] => [
    ...part.starts.map((start): Line => [`${name}: `, code(startWords(model, start)), '.']),
    ...(part.starts.length === 0 ? [[`${name}: none at the start.`]] : []),
    ...machines.map((machine): Line => {
      const shares = machine.part.start.map(({ span }) => wording(model, span)).join(', ');
      return [`${name}, `, code(machine.name), ': ', shares ? code(shares) : `all ${machine.states[0]!.name}`, '.'];
    }),
  ]);
  return {
    id: 'initialisation',
    title: 'Initialisation',
    blocks: [
      paragraph('A run begins with'),
      { is: 'list', isOrdered: false, items },
      paragraph(
        'First values of attributes, fields and variables, and how networks are made, stand with the entities above.',
      ),
    ],
  };
}

function startWords(model: CheckedModel, { count, placing, facing }: Ast.StartLine): string {
  const many =
    'file' in count
      ? `a row of ${count.file.name} each`
      : count.is === 'every cell'
        ? `one on every cell${count.where ? ` where ${wording(model, count.where.span)}` : ''}`
        : wording(model, count.span);
  return [many, placing && wording(model, placing.span), facing && `facing ${wording(model, facing.span)}`]
    .filter((words) => typeof words === 'string' && words !== '')
    .join(' ');
}

function inputData(model: CheckedModel, text: string): Section {
  const files = new Set<string>();
  const collect = (node: unknown): void => {
    if (Array.isArray(node)) node.forEach(collect);
    else if (typeof node === 'object' && node !== null) {
      const { file, startFile } = node as { file?: Ast.FileName; startFile?: Ast.FileName };
      for (const each of [file, startFile]) if (each && typeof each.name === 'string') files.add(each.name);
      Object.values(node).forEach(collect);
    }
  };
  collect(model.tree.parts);
  const timeline = model.tree.parts.flatMap((part) => (part.is === 'timeline' ? part.lines : []));
  return {
    id: 'input',
    title: 'Input data',
    blocks: [
      files.size > 0
        ? paragraph('The model reads ', ...listed([...files].map(code)), '.')
        : paragraph('The model reads no files.'),
      ...(timeline.length > 0
        ? [
            paragraph('From outside, by its timeline, comes:'),
            {
              is: 'list' as const,
              isOrdered: false,
              items: timeline.map(({ span }): Line => [code(listing(text, span).replace(/\s+/g, ' '))]),
            },
          ]
        : []),
    ],
  };
}

function parameterValue({ type, options, unitFactor }: ParameterPlan, value: number): string {
  if (type === 'yes or no') return value ? 'yes' : 'no';
  return options ? options[value]! : shownNumber(value / unitFactor, 6);
}

function parameters({ parameters: all }: Plan, prose: Prose): Section {
  const rows = all.map((each): Line => [
    code(each.name),
    parameterValue(each, each.value),
    each.unitLabel,
    each.min === undefined
      ? each.options
        ? each.options.join(', ')
        : ''
      : `${parameterValue(each, each.min)} to ${parameterValue(each, each.max!)}`,
    each.about ?? '',
  ]);
  return {
    id: 'parameters',
    title: 'Parameters',
    blocks:
      rows.length === 0
        ? [paragraph('The model has no parameters.')]
        : [
            tableOf({
              is: 'table',
              head: ['parameter', 'value', 'unit', 'range', 'what it is'],
              rows,
              numeric: [1],
              caption: ['Parameters with their usual values; studies say what they change.'],
            }),
            place(prose, 'Sources'),
          ],
  };
}

function submodels(model: CheckedModel, text: string, readings: ReadonlyMap<RuleSymbol, RuleReading>): Section {
  const blocks = model.order.flatMap(({ rules, mode }) =>
    rules.flatMap((rule): Block[] => {
      const formulas = rulesArithmetic(model, rule);
      return [
        { is: 'heading', text: rule.name },
        paragraph(...ruleSentence(model, rule, mode)),
        ...doings(readings.get(rule)!),
        ...(formulas.length > 0 ? [{ is: 'formulas' as const, formulas }] : []),
        { is: 'listing', text: listing(text, ruleSpan(rule)) },
      ];
    }),
  );
  const formulas = model.tree.parts.filter((part) => part.is === 'define' || part.is === 'routine');
  return {
    id: 'submodels',
    title: 'Submodels',
    blocks: [
      ...blocks,
      ...formulas.flatMap((part): Block[] => [
        { is: 'heading', text: part.name.text },
        paragraph(
          part.about ? `${capital(part.about)}.` : `A ${part.is === 'define' ? 'formula' : 'routine'} that rules use.`,
        ),
        { is: 'listing', text: listing(text, part.span) },
      ]),
    ],
  };
}

function ruleSpan(rule: RuleSymbol): Ast.BehaviourPart['span'] {
  switch (rule.is) {
    case 'machine':
      return rule.machine.part.span;
    case 'line':
      return rule.line.part.span;
    case 'field':
      return rule.field.part.span;
    default:
      return rule.part.span;
  }
}

/** Who does it, when, and with whom. */
function ruleSentence(model: CheckedModel, rule: RuleSymbol, mode: OrderEntry['mode']): Words[] {
  switch (rule.is) {
    case 'behaviour':
    case 'surroundings': {
      const { every, when, about } = rule.part;
      const who = rule.is === 'behaviour' ? `Each ${rule.kind.name} does this, ${mode},` : 'The surroundings do this';
      return [
        ...(about ? [`${capital(about)}. `] : []),
        `${who} ${every ? `every ${wording(model, every.span)}` : 'in every step'}`,
        ...(when ? [' when ', code(wording(model, when.span))] : []),
        '.',
      ];
    }
    case 'line': {
      const { part } = rule.line;
      return [
        ...(part.about ? [`${capital(part.about)}. `] : []),
        `Each ${rule.kind.name} of the line goes from stop to stop, ${mode}`,
        ...(part.every ? [', one setting out every ', code(wording(model, part.every.span))] : []),
        ...(part.bothWays ? [' from either end'] : []),
        ...(part.timetable ? [', by the timetable in ', code(part.timetable.name)] : []),
        '.',
      ];
    }
    case 'machine':
      return [
        ...(rule.machine.part.about ? [`${capital(rule.machine.part.about)}. `] : []),
        `It takes each ${rule.kind.name} from state to state, ${mode}: `,
        ...listed(rule.machine.states.map(({ name }) => code(name))),
        '.',
      ];
    case 'interaction': {
      const [first, second] = rule.part.roles;
      const { where, luck, about, oncePerPair } = rule.part;
      return [
        ...(about ? [`${capital(about)}. `] : []),
        `Each ${first.kind.text} (the ${first.name.text}) meets ${second.kind.text} (the ${second.name.text}), ${mode}, `,
        code(wording(model, rule.part.partner.span)),
        ...(oncePerPair ? [', each pair once'] : []),
        ...(where ? [', where ', code(wording(model, where.span))] : []),
        ...(luck ? [`; it happens by ${luck.is} `, code(wording(model, luck.value.span))] : []),
        '.',
      ];
    }
    case 'field':
      return [`Every cell of ${rule.field.space?.name ?? 'the space'} changes by itself, all at once.`];
  }
}

function doings({
  own,
  others,
  fields,
  asks,
  shared,
  parameters: given,
  draws,
  ownChanges,
  otherChanges,
  sharedChanges,
  acts,
}: RuleReading): Block[] {
  const all = (...sets: readonly ReadonlySet<string>[]): readonly Words[] =>
    listed([...new Set(sets.flatMap((set) => [...set]))].map(code));
  const sentences: Line[] = [
    sentence('It reads ', all(own, fields, others, asks, shared, given)),
    sentence('It changes ', all(ownChanges, otherChanges, sharedChanges)),
    sentence('Those who act ', listed([...acts])),
    sentence('Drawn is ', all(draws)),
  ].filter((line) => line.length > 0);
  return sentences.length > 0 ? [paragraph(...sentences.flatMap((line, i) => (i > 0 ? [' ', ...line] : line)))] : [];
}

function sentence(begin: string, words: readonly Words[]): Line {
  return words.length > 0 ? [begin, ...words, '.'] : [];
}
