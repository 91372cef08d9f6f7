import { spawnSync } from 'node:child_process';
import { copyFileSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import type { Page } from '@playwright/test';
import Graph from 'graphology';
import graphml from 'graphology-graphml';
import type { Stage } from './stage.ts';
import { expect, filesOf, goTo, reload, saved, stepOf, test } from './stage.ts';

const VOLE = fileURLToPath(new URL('../packages/cli/bin/vole.mjs', import.meta.url));
const EXAMPLES = fileURLToPath(new URL('../examples/', import.meta.url));

/** Vary of the demo, with a study written as a text. */
async function studyPage(stage: Stage, text: string) {
  const visitor = await stage.visitor();
  await visitor.page.goto(stage.url);
  await visitor.page.getByTestId('now').waitFor();
  await goTo(visitor.page, 'Vary');
  await visitor.page.getByRole('button', { name: /^as text/ }).click();
  await write(visitor.page, text);
  return visitor;
}

async function write(page: Page, text: string): Promise<void> {
  await page.getByRole('textbox', { name: 'Text of the study' }).fill(text);
}

async function run(page: Page, total: number): Promise<void> {
  await page.getByRole('button', { name: `Run ${total} runs` }).click();
  await expect.poll(() => page.getByTestId('vary-progress').innerText()).toBe(`${total} of ${total} done`);
}

/** A table as rows by heading; remarks are left out. */
function rowsOf(csv: string): Record<string, string>[] {
  const [head, ...lines] = csv
    .trim()
    .split('\n')
    .filter((line) => !line.startsWith('#'));
  return lines.map((line) => Object.fromEntries(line.split(',').map((cell, i) => [head!.split(',')[i]!, cell])));
}

async function summariesOf(page: Page): Promise<Record<string, string>[]> {
  return rowsOf((await saved(page, filesOf(page, 'Meadow year summaries'), 'CSV')).text);
}

/** The same study on the command line. */
function onTheCommandLine(text: string, ...tables: readonly string[]): Record<string, string>[][] {
  const folder = mkdtempSync(join(tmpdir(), 'vole-e2e-'));
  try {
    for (const file of ['meadow-year.vole', 'meadow-year-trap-counts.csv'])
      copyFileSync(join(EXAMPLES, file), join(folder, file));
    writeFileSync(join(folder, 'meadow-year.study'), text);
    const { status, stderr } = spawnSync(
      process.execPath,
      [VOLE, 'study', join(folder, 'meadow-year.study'), '--out', join(folder, 'out')],
      { encoding: 'utf8' },
    );
    if (status !== 0) throw new Error(stderr);
    return tables.map((table) => rowsOf(readFileSync(join(folder, 'out', table), 'utf8')));
  } finally {
    rmSync(folder, { recursive: true });
  }
}

test('a study that is written as a text, broken off by a reload and gone on with, has the numbers of the command line', async ({
  stage,
}) => {
  const text = `study What matters
  vary kestrels  0 to 16
  vary strike    0.05 to 0.4 per day
  elementary effects, 8 paths
  3 seeds each
  end after 250 days
  keep every 10 days
  outcome crash: (min of voles) < 250
`;
  const { context, page, problems } = await studyPage(stage, text.replace('kestrels', 'kestrel'));
  // A slip is told with its line, and mended by a click.
  await expect(page.getByRole('alert')).toContainText('line 2: The model has no parameter “kestrel”.');
  await expect(page.getByRole('button', { name: 'Run', exact: true })).toBeDisabled();
  await page.getByRole('button', { name: 'Write “kestrels”' }).click();
  const total = Number(/, (\d+) runs/.exec(await page.getByTestId('study-size').innerText())![1]);
  await page.getByRole('button', { name: `Run ${total} runs` }).click();
  await expect
    .poll(async () => Number((await page.getByTestId('vary-progress').innerText()).split(' ')[0]))
    .toBeGreaterThan(2);
  await reload(page);
  await page.getByTestId('vary-progress').waitFor();
  if ((await page.getByTestId('vary-progress').innerText()) !== `${total} of ${total} done`)
    await page.getByRole('button', { name: 'Go on' }).click();
  await expect.poll(() => page.getByTestId('vary-progress').innerText()).toBe(`${total} of ${total} done`);
  // The text is still there, and what matters is told in words that name a factor and an interval.
  await expect(page.getByRole('textbox', { name: 'Text of the study' })).toHaveValue(text);
  await expect(page.getByRole('region', { name: 'In words' })).toContainText(
    /Over its whole range, \w+ moves peak by [\d.]+ \([\d.]+ to [\d.]+\)/,
  );
  const here = await summariesOf(page);
  const [there, indices] = onTheCommandLine(text, 'summaries.csv', 'indices.csv') as [
    Record<string, string>[],
    Record<string, string>[],
  ];
  expect(here.length).toBe(total);
  const names = Object.keys(here[0]!).filter((name) => there[0]![name] !== undefined);
  expect(names).toEqual(expect.arrayContaining(['run', 'seed', 'steps', 'peak', 'crash']));
  expect(here.map((row) => names.map((name) => row[name]))).toEqual(there.map((row) => names.map((name) => row[name])));
  // The indices of the page are those of the command line too.
  const chart = page.getByRole('region', { name: 'How much each factor moves peak' });
  await chart.getByRole('button', { name: 'as table' }).click();
  const shown = await chart.locator('tbody tr').allInnerTexts();
  const ofPeak = indices.filter((row) => row['summary'] === 'peak' && row['factor'] !== '');
  expect(shown.slice(0, ofPeak.length).map((line) => line.split('\t').slice(0, 4))).toEqual(
    ofPeak.map((row) => [row['factor'], row['summary'], row['index'], row['value']]),
  );
  expect(problems).toEqual([]);
  await context.close();
});

test('a sweep of two factors is read off its map, down to one run in Watch', async ({ stage }) => {
  const { context, page, problems } = await studyPage(
    stage,
    'study Map\n  vary kestrels 0, 8, 16\n  vary strike 0.1, 0.3\n  leave out kestrels > 12 and strike > 0.2 per day\n  3 seeds each\n  end after 150 days\n',
  );
  await run(page, 15);
  await page.getByRole('combobox', { name: 'As', exact: true }).selectOption('a map');
  const map = page.getByRole('img', { name: 'strike, per day and kestrels' });
  await expect(map.getByRole('button')).toHaveCount(5);
  const cell = map.getByRole('button', { name: /^kestrels 8, strike 0.3 per day: peak \d+, 3 runs$/ });
  const peak = /peak (\d+)/.exec((await cell.getAttribute('aria-label'))!)![1]!;
  await cell.click();
  const table = page.getByRole('region', { name: 'Combinations' });
  await expect(table.locator('tr', { hasText: peak }).first()).toContainText('0.3');
  await table.getByRole('textbox', { name: 'Filter' }).fill('kestrels > 2 and strike < 0.2');
  await expect(page.getByTestId('filtered')).toHaveText('2 of 5 points');
  // Every run in a row of its own, and the points that a value of a factor has.
  const each = table.getByRole('combobox', { name: 'A row for' });
  await each.selectOption('every run');
  await expect(page.getByTestId('filtered')).toHaveText('6 of 15 runs');
  await expect(table.getByRole('button', { name: '3', exact: true })).toHaveCount(2);
  await each.selectOption('each value of strike');
  await table.getByRole('textbox', { name: 'Filter' }).fill('');
  await table.getByRole('button', { name: '0.3', exact: true }).click();
  await expect(page.getByTestId('filtered')).toHaveText('2 of 5 points');
  await table.getByRole('textbox', { name: 'Filter' }).fill('kestrels > 2 and strike < 0.2');
  await table.getByRole('button', { name: '2', exact: true }).click();
  await page.waitForURL(/\/watch$/);
  await expect.poll(() => stepOf(page)).toBe(150);
  await expect(page.getByTestId('now')).toContainText('seed 2');
  await expect(page.getByRole('slider', { name: 'kestrels' })).toHaveValue('8');
  expect(problems).toEqual([]);
  await context.close();
});

test('three scenarios are compared seed by seed, with the differences of the command line', async ({ stage }) => {
  const text =
    'study Three meadows\n  6 seeds each\n  end after 200 days\n  keep every 10 days\n\nscenario As it is\n\nscenario Many kestrels\n  kestrels = 12\n\nscenario Poor strikers\n  strike = 0.1 per day\n';
  const { context, page, problems } = await studyPage(stage, text);
  await run(page, 18);
  const changes = page.getByRole('region', { name: 'What it changes' });
  const [differences] = onTheCommandLine(text, 'differences.csv') as [Record<string, string>[]];
  const found = differences.find(
    (row) => row['summary'] === 'peak' && row['a'] === 'As it is' && row['b'] === 'Many kestrels',
  )!;
  const rounded = (cell: string | undefined): string => String(Math.abs(Number(Number(cell).toPrecision(3))));
  await expect(changes).toContainText(`−${rounded(found['difference'])}`);
  await expect(changes).toContainText(/more in 0 of 6 seeds/);
  await expect(page.getByRole('region', { name: 'voles, less that of “As it is”' })).toContainText('6 pairs');
  // A level that one of them hardly reaches.
  await changes.getByRole('textbox', { name: 'Level' }).fill('4e2');
  await expect(page.getByTestId('crossings')).toHaveText([
    /^As it is\s*first after \d+/,
    /^Many kestrels/,
    /^Poor strikers\s*first after \d+[^;]* in 6 of 6 runs/,
  ]);
  await changes.getByRole('textbox', { name: 'Level' }).fill('four');
  await expect(changes.getByRole('alert')).toHaveText('Write a number.');
  // Another reading, against another one, and one of its runs in Watch.
  await page.getByRole('combobox', { name: 'Form' }).selectOption('change per step');
  await expect(page.getByRole('region', { name: 'voles, change per step, less that of “As it is”' })).toBeVisible();
  await page.getByRole('combobox', { name: 'Form' }).selectOption('as measured');
  await changes.getByLabel('Against').selectOption('Poor strikers');
  await expect(page.getByRole('region', { name: 'voles, less that of “Poor strikers”' })).toBeVisible();
  await changes.getByRole('button', { name: 'Many kestrels' }).click();
  await changes.getByRole('button', { name: '4', exact: true }).click();
  await page.waitForURL(/\/watch$/);
  await expect(page.getByRole('slider', { name: 'kestrels' })).toHaveValue('12');
  expect(problems).toEqual([]);
  await context.close();
});

test('many seeds: a chance is read off, what stands out leads to Watch at its step, and a wrong condition says what can be asked', async ({
  stage,
}) => {
  const { context, page, problems } = await stage.visitor();
  await page.goto(stage.url);
  await page.getByTestId('now').waitFor();
  await goTo(page, 'Repeat');
  const seeds = page.getByLabel('Number of seeds');
  await seeds.fill('12');
  await seeds.press('Enter');
  await page.getByRole('button', { name: 'Run 12 seeds' }).click();
  await expect.poll(() => page.getByTestId('repeat-progress').innerText()).toBe('12 of 12 done');
  const outcomes = page.getByRole('region', { name: 'Outcomes' });
  const ask = async (condition: string): Promise<void> => {
    await outcomes.getByRole('textbox', { name: 'Condition' }).fill(condition);
    await outcomes.getByRole('button', { name: 'Ask' }).click();
  };
  await ask('peak > 0');
  // Wilson (1927): 12 of 12 at 90 % is a chance of 12 / (12 + 1.645^2) and more.
  await expect(outcomes).toContainText(`12 of 12, chance ${(1200 / (12 + 1.6449 ** 2)).toPrecision(2)} to 100 %`);
  await ask('peaks > 0');
  await expect(outcomes.getByRole('alert')).toContainText('It can ask of peak, peak_day');
  await expect(page.getByRole('region', { name: 'Enough seeds' })).toContainText(
    /Known within [\d.]+ % \(90 %\) with 12 seeds/,
  );
  await expect(page.getByRole('region', { name: 'Distribution' })).toContainText('of 12 runs');
  // Both kinds of runs in one chart, each with their number.
  await ask('peak > 1030');
  await outcomes.getByRole('button', { name: 'show both kinds of runs apart' }).click();
  await expect(page.getByText(/^peak > 1030, \d+ runs$/)).toBeVisible();
  await expect(page.getByText(/^not peak > 1030, \d+ runs$/)).toBeVisible();
  await page.getByRole('button', { name: 'all runs together' }).click();
  // One measure over another: a path a run, and that of the medians.
  const over = page.getByRole('combobox', { name: 'Over' });
  await over.selectOption('nests');
  const phase = page.getByRole('region', { name: 'voles over nests in Meadow year' });
  await expect(phase).toContainText('from left to right nests, upwards voles');
  await expect(phase).toContainText('over 12 runs');
  await expect(phase.getByTestId('run-path')).toHaveCount(12);
  await expect(phase.getByTestId('median-path')).toHaveAttribute('d', /^M[\d.]+,[\d.]+L/);
  await phase.getByTestId('phase-plot').hover();
  await expect(phase.getByText(/^seed \d+, .*: [\d.]+, [\d.]+; click: in Watch$/)).toBeVisible();
  await over.selectOption('time');
  // Another study beside this one: over the seeds that both have they are the same.
  await seeds.fill('5');
  await seeds.press('Enter');
  await page.getByRole('button', { name: 'Run 5 seeds' }).click();
  await expect.poll(() => page.getByTestId('repeat-progress').innerText()).toBe('5 of 5 done');
  await page.getByRole('button', { name: 'beside' }).click();
  const differences = page.getByRole('table', { name: 'Differences of both studies' });
  await expect(differences.locator('tr', { hasText: 'peak' }).first()).toHaveText(/^peak\s*0\s*0 to 0\s*5$/);
  await page.getByRole('button', { name: 'show', exact: true }).click();
  await expect(page.getByTestId('repeat-progress')).toHaveText('12 of 12 done');
  const apart = page.getByRole('region', { name: 'Runs that stand apart' });
  await expect(apart).toContainText('the most typical run');
  const row = apart.locator('tr', { hasText: 'the least typical' });
  const seed = await row.locator('td').first().innerText();
  await row.getByRole('button', { name: 'open there' }).click();
  await page.waitForURL(/\/watch$/);
  await expect(page.getByTestId('now')).toContainText(`seed ${seed}`);
  await expect.poll(() => stepOf(page)).toBeGreaterThan(0);
  expect(problems).toEqual([]);
  await context.close();
});

test('what meetings recorded becomes a network: its figures over all runs, its files read by another program', async ({
  stage,
}) => {
  const { context, page, problems } = await stage.visitor();
  await page.goto(stage.url);
  await page.getByTestId('now').waitFor();
  await page.getByRole('link', { name: 'all projects' }).click();
  await page.getByText('Grooming circle').first().click();
  await page.getByTestId('now').waitFor();
  await goTo(page, 'Repeat');
  const seeds = page.getByLabel('Number of seeds');
  await seeds.fill('5');
  await seeds.press('Enter');
  await page.getByRole('checkbox', { name: /keep what is recorded/ }).check();
  // Its size is told before anything starts.
  await expect(page.getByTestId('record-size')).toHaveText(/about [\d.]+ [kM]B a run, [\d.]+ [kM]B in all/);
  await page.getByRole('button', { name: 'Run 5 seeds' }).click();
  await expect.poll(() => page.getByTestId('repeat-progress').innerText()).toBe('5 of 5 done');
  await page.getByRole('button', { name: /^what was recorded/ }).click();
  await page.getByRole('combobox', { name: 'Record', exact: true }).selectOption('groomed');
  await page.getByRole('combobox', { name: 'Seed of the record' }).selectOption('3');
  const figures = page.getByRole('region', { name: 'Figures of the network' });
  const picture = page.getByRole('img', { name: /^Network of \d+ agents and \d+ ties$/ });
  await expect(page.getByRole('heading', { name: 'Who met whom: groomed, seed 3' })).toBeVisible();
  await figures.getByRole('button', { name: 'over all 5 runs' }).click();
  await expect(figures).toContainText('5 of 5 worked out');
  const [, agents, ties] = /Network of (\d+) agents and (\d+) ties/.exec((await picture.getAttribute('aria-label'))!)!;
  const network = graphml.parse(Graph, (await saved(page, page, 'GraphML')).text);
  expect([network.order, network.size]).toEqual([Number(agents), Number(ties)]);
  const whoMet = page.getByRole('region', { name: /^Who met whom/ });
  const { text: svg } = await saved(page, whoMet, 'SVG');
  expect(svg.match(/<circle/g)!.length).toBe(Number(agents));
  expect(svg).toContain('Grooming circle, text');
  await page.getByRole('combobox', { name: 'Form of the record' }).selectOption('table');
  const { text: csv } = await saved(page, page.getByRole('region', { name: /seed \d+$/ }), 'CSV');
  const meetings = csv
    .trim()
    .split('\n')
    .filter((line) => !/^[#r]/.test(line));
  const all = network.mapEdges((_, { meetings }) => Number(meetings)).reduce((sum, times) => sum + times, 0);
  expect(meetings.length).toBe(all);
  expect(problems).toEqual([]);
  await context.close();
});

test('values of Watch become a scenario, to which Watch switches and switches back', async ({ stage }) => {
  const { context, page, problems } = await stage.visitor();
  await page.goto(stage.url);
  await page.getByTestId('now').waitFor();
  await goTo(page, 'Watch');
  const kestrels = page.getByRole('slider', { name: 'kestrels' });
  await expect(kestrels).toHaveValue('6');
  await kestrels.focus();
  for (let i = 0; i < 4; i++) await page.keyboard.press('ArrowRight');
  await page.getByRole('textbox', { name: 'Name of the scenario' }).fill('More kestrels');
  await page.getByRole('button', { name: 'keep these values as a scenario' }).click();
  const choice = page.getByRole('combobox', { name: 'Scenario' });
  await choice.selectOption('As it is');
  await expect(kestrels).toHaveValue('6');
  await choice.selectOption('More kestrels');
  await expect(kestrels).toHaveValue('10');
  // In the run too, not on the slider alone.
  await expect(page.getByRole('region', { name: 'Key' }).locator('tr', { hasText: 'Kestrel' })).toContainText('10');
  // Which one it is is known after another view, and no longer said once a value is changed.
  await goTo(page, 'Repeat');
  await goTo(page, 'Watch');
  await expect(choice).toHaveValue('More kestrels');
  await kestrels.focus();
  await page.keyboard.press('ArrowRight');
  await expect(choice).toHaveValue('set by hand');
  await goTo(page, 'Vary');
  await expect(page.getByRole('textbox', { name: 'Text of the study' })).toHaveValue(
    /scenario As it is\s+scenario More kestrels\s+kestrels = 10/,
  );
  expect(problems).toEqual([]);
  await context.close();
});

test('scenarios and studies of the text are mended where they stand, taken up by Vary and Watch, and written back', async ({
  stage,
}) => {
  const { context, page, problems } = await stage.visitor();
  await page.goto(stage.url);
  await page.getByTestId('now').waitFor();
  await goTo(page, 'Build');
  const findings = page.getByRole('region', { name: 'Findings' });
  const text = page.getByRole('textbox', { name: 'Model text' });
  await text.click();
  await page.keyboard.press('Control+End');
  await page.keyboard.insertText(
    '\n\nscenario Many kestrels\n  kestrel = 12\n\nstudy Who hunts\n  2 seeds each\n  end after 20 days\n\nscenario Few kestrels\n  kestrels = 1\n',
  );
  // The run goes on with the text: what is wrong is of the scenario alone.
  await expect(findings).toContainText('The model has no parameter “kestrel”.');
  await expect(page.getByTestId('findings')).toHaveText('1 to mend');
  await findings.getByRole('button', { name: 'Write “kestrels”' }).click();
  await expect(page.getByTestId('findings')).toHaveText('The text is right.');
  await expect(page.getByRole('navigation', { name: 'Outline' })).toContainText('Who hunts, study');
  await goTo(page, 'Watch');
  const kestrels = page.getByRole('slider', { name: 'kestrels' });
  await page.getByRole('combobox', { name: 'Scenario' }).selectOption('Few kestrels');
  await expect(kestrels).toHaveValue('1');
  await goTo(page, 'Vary');
  await page.getByRole('button', { name: 'Who hunts' }).click();
  await run(page, 4);
  const written = page.getByRole('textbox', { name: 'Text of the study' });
  await expect(written).toHaveValue(
    'study Who hunts\n  2 seeds each\n  end after 20 days\n\nscenario Many kestrels\n  kestrels = 12\n\nscenario Few kestrels\n  kestrels = 1\n',
  );
  await write(page, (await written.inputValue()).replace('2 seeds', '3 seeds').replace('= 12', '= 11'));
  await page.getByRole('button', { name: 'write this one into the text of the model' }).click();
  await goTo(page, 'Build');
  await page.getByRole('navigation', { name: 'Outline' }).getByRole('button', { name: 'Many kestrels' }).click();
  await expect(text).toContainText('kestrels = 11');
  await expect(text).not.toContainText('kestrels = 12');
  await expect(page.getByTestId('findings')).toHaveText('The text is right.');
  // The model is the same: its runs are of the text as it is.
  await goTo(page, 'Vary');
  await expect(page.getByTestId('vary-progress')).toHaveText('4 of 4 done');
  await expect(page.getByText('The text has changed since')).toHaveCount(0);
  expect(problems).toEqual([]);
  await context.close();
});
