import { readdirSync, readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { CONSTRUCT_MODELS } from '../../test/construct-models.ts';
import { EXAMPLE_MAPS } from '../../test/example-maps.ts';
import { generateModel } from '../../test/model-generator.ts';
import { loadModel } from '../load.ts';
import type { Block, Report, Section } from './document.ts';
import { tableOf, waitingPlaces, writtenBlocks } from './document.ts';
import { reportHtml } from './html.ts';
import { reportMarkdown } from './markdown.ts';
import { modelSections } from './model-report.ts';
import { repeatSection } from './repeat.ts';

const FACTS = { language: 'en', generator: 'Vole Parade, engine version 3' } as const;

/** A model in which everything happens that a report tells of; names are hostile to HTML, Markdown and TeX. */
const TEXT = `model Pen <& friends>
  Voles in a pen.
  Learning: none; they forget.

clock
  step 1 day from 2031-03-01
  end after 10 days
parameter constructor = 0.2, from 0 to 1 "share of *grass* | a day"
parameter slow = 2 per day, from 0 to 9
space Pen: grid 9 by 9, walled
field grass on Pen
  start uniform(0, 1)
  grow 0.1 per day * grass * (1 - grass)
message Call
  has level = 1
agent Vole
  start 5 anywhere
  has energy = normal(1, 0.2)
  has friend: Vole = nobody
  states life
    Young
      after 3 days: Grown
    Grown
      on Call as call when call.level > 0.5: Young
  behaviour forage
    let eaten = min(constructor * grass, 0.5)
    grass -= eaten
    energy = (energy + eaten) ^ 2 / 3
    if any Vole within 2 where it.energy > 1
      send Call to all Vole within 3
    friend = Vole within 3 with most it.energy
    if energy < 0
      remove self
interaction meet: a Vole, b Vole
  within 2
  where b.life is Young
  rate slow
  b.energy += 0.1
network Ties ties Vole to Vole: random, mean degree 2
order
  life all at once
  forage in turn
  meet in turn
timeline
  every 2 days: slow = 1 per day
measure voles = count Vole "voles & all"
summary most = max of voles
check Somebody is there
  with slow = 0 per day, over 2 seeds for 5 days
  expect voles > 0 in every run
`;

function sectionsOf(text: string): Section[] {
  const { loaded, diagnostics } = loadModel(text, EXAMPLE_MAPS);
  expect(diagnostics.filter(({ severity }) => severity === 'error')).toEqual([]);
  return modelSections(loaded!, text);
}

function told(block: Block | undefined): string {
  const line = (words: readonly (string | { readonly text: string })[]): string =>
    words.map((word) => (typeof word === 'string' ? word : word.text)).join('');
  if (!block) return 'nothing';
  switch (block.is) {
    case 'paragraph':
      return line(block.words);
    case 'list':
      return block.items.map(line).join('\n');
    case 'table':
      return block.rows.map((row) => row.map((cell) => line([cell])).join(' | ')).join('\n');
    case 'heading':
    case 'listing':
      return block.text;
    case 'picture':
      return block.told;
    case 'place':
      return block.answer;
    case 'formulas':
      return JSON.stringify(block.formulas);
  }
}

/** What stands under a heading of a section. */
function under(sections: readonly Section[], id: string, heading?: string): string {
  const { blocks } = sections.find((section) => section.id === id)!;
  const from =
    heading === undefined ? 0 : blocks.findIndex((block) => block.is === 'heading' && block.text === heading) + 1;
  const rest = blocks.slice(from);
  const to = heading === undefined ? -1 : rest.findIndex((block) => block.is === 'heading');
  return (to < 0 ? rest : rest.slice(0, to)).map(told).join('\n');
}

describe('a model told in the standard order', () => {
  it('tells how long the cells of a grid are that is measured in lengths', () => {
    const moor = `model Moor\nspace Pen: grid 9 by 9, cells of 5 m, walled\nagent Vole\n  start 3 anywhere\nmeasure voles = count Vole\n`;
    const words = sectionsOf(moor)
      .flatMap(({ blocks }) => blocks.map(told))
      .join('\n');
    expect(words).toContain('Pen is a grid of 9 by 9 cells, each 5 m wide, with walls at its edges.');
  });

  const sections = sectionsOf(TEXT);

  it('has every part of the standard, in its order', () => {
    expect(sections.map(({ title }) => title)).toEqual([
      'Purpose and patterns',
      'Entities, state variables, scales',
      'Process overview and scheduling',
      'Design concepts',
      'Initialisation',
      'Input data',
      'Parameters',
      'Submodels',
    ]);
    const concepts = sections[3]!.blocks.flatMap((block) => (block.is === 'heading' ? [block.text] : []));
    expect(concepts).toEqual([
      'Basic principles',
      'Emergence',
      'Adaptation',
      'Objectives',
      'Learning',
      'Prediction',
      'Sensing',
      'Interaction',
      'Stochasticity',
      'Collectives',
      'Observation',
    ]);
  });

  it('tells attributes, states, fields and scales with their first values', () => {
    const vole = under(sections, 'entities', 'Vole');
    expect(vole).toContain('energy | number | normal(1, 0.2)');
    expect(vole).toContain('friend | a Vole or nobody | nobody');
    expect(vole).toContain('Young | After 3 days to Grown');
    expect(vole).toContain('Grown | On Call when call.level > 0.5 to Young');
    expect(under(sections, 'entities', 'Surroundings')).toContain('Grows by 0.1 per day * grass * (1 - grass)');
    expect(under(sections, 'entities', 'Scales')).toBe(
      'A step is 1 day long; runs begin on 1 March 2031. A run ends after 10 days.',
    );
  });

  it('tells the order of a step as a list and as a picture, in the same order', () => {
    const order = under(sections, 'process');
    expect(order).toContain('life (Vole), all at once.\nforage (Vole), in turn.\nmeet (two of Vole), in turn.');
    expect(order).toContain(
      'A step: timeline, then life (Vole, all at once), then forage (Vole, in turn), then meet (two of Vole, in turn), then grass (every cell), then measures.',
    );
  });

  it('reads off the text what rules sense, decide by, strive for, change and draw', () => {
    expect(under(sections, 'concepts', 'Sensing')).toContain('forage: Vole within 2 where it.energy > 1');
    expect(under(sections, 'concepts', 'Sensing')).toContain('meet: Vole within 2, life of Vole and energy of Vole.');
    expect(under(sections, 'concepts', 'Adaptation')).toContain('meet: life of Vole.');
    expect(under(sections, 'concepts', 'Objectives')).toContain('Vole within 3 with most it.energy');
    expect(under(sections, 'concepts', 'Interaction')).toContain('it changes energy of Vole');
    expect(under(sections, 'concepts', 'Interaction')).toContain('forage: send Call.');
    const draws = under(sections, 'concepts', 'Stochasticity');
    for (const drawn of [
      'energy of Vole, by normal(1, 0.2)',
      'the ties of Ties',
      'grass, by uniform(0, 1)',
      'meet: rate slow',
    ])
      expect(draws).toContain(drawn);
    expect(under(sections, 'concepts', 'Learning')).toBe('none; they forget.');
  });

  it('tells each rule by its sentence, its formulas and its text with all its lines', () => {
    const forage = under(sections, 'submodels', 'forage');
    expect(forage).toContain('Each Vole does this, in turn, in every step.');
    expect(forage).toContain('It changes energy, friend and grass. Those who act send Call and remove themselves.');
    expect(forage).toContain('behaviour forage\n  let eaten = min(constructor * grass, 0.5)\n  grass -= eaten\n');
    // What is done under a condition only is set in no formula.
    const { blocks } = sectionsOf(
      TEXT.replace('    if energy < 0\n      remove self', '    if energy < 0\n      energy = energy * 77 + 1'),
    ).at(-1)!;
    expect(JSON.stringify(blocks.filter(({ is }) => is === 'formulas'))).not.toContain('77');
    expect(forage.trimEnd()).toMatch(/if energy < 0\n {4}remove self$/);
    expect(under(sections, 'submodels', 'meet')).toContain('Each Vole (the a) meets Vole (the b), in turn, within 2');
    expect(under(sections, 'input')).toContain('every 2 days: slow = 1 per day');
    expect(under(sections, 'parameters')).toContain('constructor | 0.2 |  | 0 to 1 | share of *grass* | a day');
  });

  it('waits for what only the modeler knows, and no more once it is said', () => {
    const waiting = (text: string): string[] =>
      waitingPlaces({ title: '', sections: sectionsOf(text) }).map(({ heading }) => heading);
    expect(waiting(TEXT)).toEqual(['Left out', 'Principles', 'Emergence', 'Prediction', 'Sources']);
    expect(waiting(TEXT.replace('  Learning:', '  Sources: Made up.\n  Emergence: Herds.\n  Learning:'))).toEqual([
      'Left out',
      'Principles',
      'Prediction',
    ]);
    expect(waiting(TEXT.replace('  Voles in a pen.\n', ''))).toContain('Purpose');
  });

  it('says which rules set a state from outside, and takes no level of a chart for what is read off', () => {
    const text = `model Herd
clock
  step 1 day
  end after 9 days
agent Vole
  start 3
  has age = 0
  states life
    start Young
    Young
    Old
  behaviour grow
    if age > 3
      life = Old
measure old = count Vole where it.life is Old
chart Ages: old, level 3 / 2
`;
    const of = sectionsOf(text);
    const [states] = of
      .find(({ id }) => id === 'entities')!
      .blocks.filter((block) => block.is === 'table' && block.head[0] === 'state of life');
    expect(states?.is === 'table' && states.caption).toEqual([
      'States of life.',
      ' Besides, ',
      { is: 'code', text: 'grow' },
      ' sets it.',
    ]);
    expect(under(of, 'concepts', 'Emergence')).toBe('Read off the whole, and set by no rule: old.\n');
    expect(under(of, 'concepts', 'Observation')).toBe('old | count Vole where it.life is Old');
  });

  it('leaves out empty places, headings over nothing and columns of nothing', () => {
    const concepts = writtenBlocks(sections[3]!).flatMap((block) => (block.is === 'heading' ? [block.text] : []));
    expect(concepts).not.toContain('Basic principles');
    expect(concepts).not.toContain('Prediction');
    expect(concepts).toContain('Learning');
    expect(tableOf({ is: 'table', head: ['a', 'b', 'c'], rows: [['1', '', '3']], numeric: [2] })).toMatchObject({
      head: ['a', 'c'],
      rows: [['1', '3']],
      numeric: [1],
    });
  });
});

/** All that is told of a model has words. */
function expectWords(name: string, text: string): void {
  const report = { title: name, sections: sectionsOf(text) };
  expect(reportHtml(report, FACTS), name).not.toMatch(/undefined|NaN|\[object|null/);
  expect(reportMarkdown(report, FACTS).text, name).not.toMatch(/undefined|NaN|\[object|null/);
}

describe('a report that is written', () => {
  const report: Report = { title: 'Pen <& friends>', sections: [...sectionsOf(TEXT), repeatSection(TEXT, '3')] };

  it('as HTML: one file with everything inside, and nothing of the model taken for a tag', () => {
    const html = reportHtml(report, FACTS);
    expect(html).toContain('<title>Pen &lt;&amp; friends&gt;</title>');
    expect(html).not.toMatch(/<(?:script|link|img)\b|https?:\/\/(?!www\.w3\.org)/);
    expect(html).toContain('voles &amp; all');
    expect(html).toContain('<mfrac><msup><mrow><mo stretchy="false">(</mo>');
    expect(html).toContain('<b>Table 1.</b> Attributes of Vole.');
    const ids = [...html.matchAll(/ id="([^"]+)"/g)].map(([, id]) => id);
    expect(new Set(ids).size).toBe(ids.length);
    for (const [, target] of html.matchAll(/href="#([^"]+)"/g)) expect(ids).toContain(target);
  });

  it('as Markdown: cells and words with nothing taken for a sign, formulas in TeX, figures beside it', () => {
    const { text, figures } = reportMarkdown(report, FACTS);
    expect([...figures.keys()]).toEqual(['figure-1.svg']);
    expect(text).toContain('![A step: timeline');
    expect(text).toContain('share of \\*grass\\* \\| a day');
    expect(text).toContain(
      '$$\\mathit{energy} \\leftarrow \\frac{{\\left(\\mathit{energy} + \\mathit{eaten}\\right)}^{2}}{3}$$',
    );
    const rows = text.split('\n').filter((line) => line.startsWith('|'));
    expect(rows.length).toBeGreaterThan(20);
    const tables = text.split('\n\n').filter((part) => part.startsWith('| '));
    for (const table of tables) {
      const widths = table
        .split('\n')
        .filter((row) => row.startsWith('|'))
        .map((row) => row.replace(/\\\|/g, '').split('|').length);
      expect(new Set(widths).size).toBe(1);
    }
  });

  it('of every example, complete, without a number or a name that has no words', () => {
    const folder = new URL('../../../../examples/', import.meta.url);
    const examples = readdirSync(folder).filter((name) => name.endsWith('.vole'));
    expect(examples.length).toBe(8);
    for (const name of examples) {
      const text = readFileSync(new URL(name, folder), 'utf8');
      expectWords(name, text);
      expect(waitingPlaces({ title: name, sections: sectionsOf(text) })).toEqual([]);
    }
  });

  it('of every construct, and of generated models', () => {
    expect(CONSTRUCT_MODELS.length).toBeGreaterThan(15);
    for (const [name, text] of CONSTRUCT_MODELS) expectWords(name, text);
    for (let seed = 1; seed <= 30; seed++) expectWords(`generated ${seed}`, generateModel(seed));
  });
});
