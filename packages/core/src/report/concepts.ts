import type { CheckedModel, RuleSymbol } from '../language/checked.ts';
import { FUNCTIONS } from '../language/functions.ts';
import type { Prose } from '../language/prose.ts';
import type * as Ast from '../language/syntax.ts';
import type { Block, Line, Section, Words } from './document.ts';
import { code, listed, paragraph, tableOf } from './document.ts';
import { wording } from './model-words.ts';
import { place } from './overview.ts';
import type { RuleReading } from './reading.ts';

/** The design concepts of the standard: what the text tells of each, and places for the rest. */
export function concepts(model: CheckedModel, prose: Prose, readings: ReadonlyMap<RuleSymbol, RuleReading>): Section {
  /** A line for each rule in which something is found. */
  const byRule = (of: (reading: RuleReading) => readonly Words[]): Line[] =>
    [...readings].flatMap(([rule, reading]) => {
      const words = of(reading);
      return words.length > 0 ? [[code(rule.name), ': ', ...words, '.']] : [];
    });
  const told = (begin: string, lines: readonly Line[], otherwise: string): Block[] =>
    lines.length > 0 ? [paragraph(begin), { is: 'list', isOrdered: false, items: lines }] : [paragraph(otherwise)];
  const names = (of: ReadonlySet<string>): readonly Words[] => listed([...of].map(code));

  const decisions = byRule(({ decides }) => names(decides));
  const seeks = byRule(({ seeks: of }) => names(of));
  const senses = [...readings].flatMap(([rule, { fields, others, asks, shared }]): Line[] => {
    const of = new Set([...asks, ...others, ...fields, ...shared]);
    if (rule.is === 'field') of.delete(rule.field.name);
    return of.size > 0 ? [[code(rule.name), ': ', ...names(of), '.']] : [];
  });
  const draws = byRule(({ draws: of }) => names(of));
  const parts: readonly (readonly [string, readonly Block[]])[] = [
    ['Basic principles', [place(prose, 'Principles')]],
    ['Emergence', [...emergence(model), place(prose, 'Emergence')]],
    [
      'Adaptation',
      [
        ...told('What is done depends on', decisions, 'What agents do does not depend on what they meet.'),
        place(prose, 'Adaptation', true),
      ],
    ],
    [
      'Objectives',
      [
        ...told('The best of several is sought, by', seeks, 'No rule looks for the best of several.'),
        place(prose, 'Objectives', true),
      ],
    ],
    ['Learning', [place(prose, 'Learning')]],
    ['Prediction', [place(prose, 'Prediction')]],
    ['Sensing', told('Besides own attributes, rules read', senses, 'Agents know of nothing but themselves.')],
    ['Interaction', interaction(model, readings)],
    [
      'Stochasticity',
      [
        ...told('Drawn are', [...atStart(model), ...draws], 'Nothing is drawn: all runs are the same.'),
        paragraph(
          'All draws of a run follow from its seed, keyed by step, rule and agent, so that scenarios with one seed share their luck as far as their stories agree.',
        ),
      ],
    ],
    ['Collectives', collectives(model)],
    ['Observation', observation(model)],
  ];
  return {
    id: 'concepts',
    title: 'Design concepts',
    blocks: parts.flatMap(([text, blocks]): Block[] => [{ is: 'heading', text }, ...blocks]),
  };
}

/** The measures that are read off a run; levels that charts draw are for comparison only. */
export function measuresRead({ measures, charts }: CheckedModel): CheckedModel['measures'] {
  const levels = new Set(charts.flatMap((chart) => chart.levels));
  return measures.filter((measure) => !levels.has(measure));
}

function emergence(model: CheckedModel): Block[] {
  const measures = measuresRead(model);
  if (measures.length === 0) return [];
  return [
    paragraph('Read off the whole, and set by no rule: ', ...listed(measures.map(({ name }) => code(name))), '.'),
  ];
}

function interaction(model: CheckedModel, readings: ReadonlyMap<RuleSymbol, RuleReading>): Block[] {
  const items: Line[] = [];
  for (const [rule, { otherChanges, sharedChanges, acts, fields }] of readings) {
    if (rule.is === 'interaction')
      items.push([
        code(rule.name),
        `: ${rule.part.roles[0].kind.text} meets ${rule.part.roles[1].kind.text}, `,
        code(wording(model, rule.part.partner.span)),
        ...(otherChanges.size > 0 ? ['; it changes ', ...listed([...otherChanges].map(code))] : []),
        '.',
      ]);
    else {
      const sent = [...acts].filter((act) => /^(send|tie|untie) /.test(act));
      const deeds: Words[] = [
        ...(otherChanges.size > 0 ? ['changes ', ...listed([...otherChanges].map(code))] : []),
        ...(sent.length > 0 ? [`${otherChanges.size > 0 ? '; ' : ''}${sent.join(', ')}`] : []),
      ];
      if (deeds.length > 0) items.push([code(rule.name), ': ', ...deeds, '.']);
      // What one takes from a field is missing for the next.
      const shared = [...sharedChanges].filter((name) => fields.has(name));
      if (shared.length > 0 && rule.is === 'behaviour')
        items.push([
          code(rule.name),
          ': agents meet by way of ',
          ...listed(shared.map(code)),
          ', which they change for one another.',
        ]);
    }
  }
  return items.length > 0
    ? [{ is: 'list', isOrdered: false, items }]
    : [paragraph('Agents do not act on one another.')];
}

/** What is drawn before the first step. */
function atStart(whole: CheckedModel): Line[] {
  const { kinds, fields, networks } = whole;
  const places = kinds.filter(({ part }) => part.starts.some(({ placing }) => !placing || placing.is !== 'at'));
  const drawn = kinds.flatMap((kind) =>
    kind.attributes.flatMap(({ name, line }) =>
      isDrawn(line.value) ? [`${name} of ${kind.name}, by ${wording(whole, line.value.span)}`] : [],
    ),
  );
  const made = networks.filter(({ part }) => !['none', 'from', 'lattice', 'near'].includes(part.maker.is));
  const begun = fields.filter(({ part }) => part.start && isDrawn(part.start));
  const words: Line = listed([
    ...(places.length > 0 && whole.spaces.length > 0 ? [`places of ${places.map(({ name }) => name).join(', ')}`] : []),
    ...made.map(({ name }) => `the ties of ${name}`),
    ...drawn,
    ...begun.map(({ name, part }) => `${name}, by ${wording(whole, part.start!.span)}`),
  ]);
  return words.length > 0 ? [['at the start: ', ...words, '.']] : [];
}

function isDrawn(value: Ast.Expr): boolean {
  return value.is === 'call' && (FUNCTIONS.get(value.name.key)?.draws === true || value.name.key === 'pick');
}

function collectives({ networks, kinds }: CheckedModel): Block[] {
  const groups = kinds.flatMap(({ machines }) =>
    machines.flatMap((machine) => machine.groups.map(({ name }) => code(name))),
  );
  if (networks.length === 0 && groups.length === 0)
    return [paragraph('None: agents are bound into no groups or networks.')];
  return [
    ...(networks.length > 0
      ? [paragraph('Agents are bound by ', ...listed(networks.map(({ name }) => code(name))), '.')]
      : []),
    ...(groups.length > 0 ? [paragraph('States are taken together as ', ...listed(groups), '.')] : []),
  ];
}

function observation(model: CheckedModel): Block[] {
  const row = ({ name, part }: CheckedModel['measures'][number]): Line => [
    code(name),
    part.unit?.text ?? '',
    code(wording(model, part.value.span)),
    part.about ?? '',
  ];
  const table = (kind: string, all: CheckedModel['measures'], caption: string): Block[] => {
    if (all.length === 0) return [];
    return [
      tableOf({
        is: 'table',
        head: [kind, 'in', 'read as', 'what it is'],
        rows: all.map(row),
        caption: [caption],
      }),
    ];
  };
  return [
    ...table('measure', measuresRead(model), 'Measures, taken at the start and after every step.'),
    ...table('summary', model.summaries, 'Summaries, one value a run.'),
    ...(model.records.length > 0
      ? [
          paragraph(
            'Of each agent, meeting or cell is recorded: ',
            ...listed(model.records.map(({ part }) => code(part.name.text))),
            '.',
          ),
        ]
      : []),
  ];
}
