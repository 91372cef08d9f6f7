import type { Page } from '@playwright/test';
import { compilePlan, loadModel, Run } from '@vole/core';
import type { Stage } from './stage.ts';
import {
  beginAnew,
  countIn,
  expect,
  filesOf,
  goTo,
  modelText,
  openProject,
  reload,
  runTo,
  saved,
  spotOf,
  stepOf,
  storedProject,
  test,
  writeModel,
} from './stage.ts';

/** What is done by hand and read off while a run is watched, in a pen in which everybody stands where one knows. */

const PEN = `model Pen
space Pen: plane 10 by 10, walled
message Call
agent Vole
  start 1 at (4, 5)
  start 1 at (5, 5)
  start 1 at (6, 5)
  has age = number
  states mood
    Calm
      on Call: Loud
    Loud
      after 3 steps: Calm
  behaviour grow
    age += 1
network Kin ties Vole to Vole: ring, 2 neighbours
order
  grow in turn
  mood in turn
measure voles = count Vole
measure loud = count Vole where it.mood is Loud
measure oldest = max of it.age over Vole
chart Ages: oldest, loud, voles
show Vole: dot, size 3, colour by mood
`;

/** The pen in Watch, paused at its beginning. */
async function pen(stage: Stage): Promise<{ page: Page; problems: string[]; close: () => Promise<void> }> {
  const opened = await openProject(stage, 'New project');
  const { page } = opened;
  await writeModel(page, PEN);
  await expect.poll(() => countIn(page, /Calm/)).toBe(3);
  await goTo(page, 'Watch');
  await beginAnew(page);
  return opened;
}

/** The run begun anew and at rest at a step, beyond which it has not been. */
async function begunAnewUpTo(page: Page, step: number): Promise<void> {
  await beginAnew(page);
  await runTo(page, step);
}

const clickAt = async (page: Page, x: number, y: number): Promise<void> => {
  const spot = await spotOf(page, { width: 10, height: 10 }, x, y);
  await page.mouse.click(spot.x, spot.y);
};
const tool = (page: Page, words: string) => page.getByLabel('What a click does').selectOption(words);
const done = (page: Page) => page.getByRole('list', { name: 'Done by hand' });

test.describe('by hand', () => {
  test('agents are placed, moved, changed, told and removed by clicks; each act is listed, done again and taken back', async ({
    stage,
  }) => {
    const { page, problems, close } = await pen(stage);
    await tool(page, 'makes a Vole Loud');
    await clickAt(page, 4, 5);
    await expect.poll(() => countIn(page, /Loud/)).toBe(1);
    await tool(page, 'sends Call to an agent');
    await clickAt(page, 5, 5);
    await done(page).getByText('sent Call to Vole 2').waitFor();
    await page.getByRole('button', { name: 'One step' }).click();
    await expect.poll(() => countIn(page, /Loud/)).toBe(2);
    await tool(page, 'places a Vole');
    await clickAt(page, 5, 4);
    await expect.poll(() => countIn(page, /Calm/)).toBe(2);
    await tool(page, 'removes an agent');
    await clickAt(page, 6, 5);
    await done(page).getByText('removed Vole 3').waitFor();
    await tool(page, 'opens an agent');
    await clickAt(page, 5, 4);
    await page.getByRole('region', { name: 'Vole 4' }).getByText('5, 4').waitFor();
    await tool(page, 'moves the opened agent here');
    await clickAt(page, 6, 6);
    await page.getByRole('region', { name: 'Vole 4' }).getByText('6, 6').waitFor();
    const acts = await done(page).getByRole('listitem').allInnerTexts();
    expect(acts.map((words) => words.replace(/\s+/g, ' ').replace(/ take back.*/, ''))).toEqual([
      '0 steps made Vole 1 Loud',
      '0 steps sent Call to Vole 2',
      '1 steps placed a Vole',
      '1 steps removed Vole 3',
      '1 steps moved Vole 4',
    ]);
    const later = async (): Promise<number[]> => {
      await runTo(page, 6);
      return [await countIn(page, /Calm/), await countIn(page, /Loud/)];
    };
    const there = await later();
    await runTo(page, 2);
    await page.getByRole('button', { name: 'run again with these acts' }).click();
    expect(await later()).toEqual(there);
    await page.getByRole('button', { name: 'Take back: removed Vole 3' }).click();
    await expect
      .poll(async () => (await countIn(page, /Calm/)) + (await countIn(page, /Loud/)))
      .toBe(there[0]! + there[1]! + 1);
    expect(problems).toEqual([]);
    await close();
  });

  test('what log lines write is listed; words narrow it, a click goes to the step, another opens the agent', async ({
    stage,
  }) => {
    const { page, problems, close } = await pen(stage);
    await goTo(page, 'Build');
    await writeModel(page, PEN.replace('    age += 1\n', '    age += 1\n    log "older", age\n'));
    await goTo(page, 'Watch');
    await beginAnew(page);
    await runTo(page, 5);
    const log = page.getByRole('region', { name: 'Log', exact: true });
    await expect(log.getByText('15 notes')).toBeVisible();
    await log.getByLabel('Words of the notes').fill('vole 2 older');
    const rows = log.getByRole('region', { name: 'Notes' }).getByRole('row');
    // The newest first, under the heading.
    await expect(rows).toHaveText([/step/, /5Vole 2older 7/, /4Vole 2older 6/, /3Vole 2/, /2Vole 2/, /1Vole 2older 3/]);
    await rows.nth(4).getByRole('button', { name: '2', exact: true }).click();
    await expect.poll(() => stepOf(page)).toBe(2);
    await expect(rows).toHaveCount(6);
    await rows.nth(1).getByRole('button', { name: 'Vole 2' }).click();
    await page.getByRole('region', { name: 'Vole 2' }).getByLabel('age').waitFor();
    expect(problems).toEqual([]);
    await close();
  });

  test('an agent is followed, leaves a trail, names those it is tied to, and layers go and come', async ({ stage }) => {
    const { page, problems, close } = await pen(stage);
    const picture = page.getByRole('img', { name: /^The space of the run/ });
    const looks = (): Promise<string> => picture.evaluate((canvas: HTMLCanvasElement) => canvas.toDataURL());
    /** The picture once it changes no more: what was done last may still be on its way to it. */
    const settledLooks = async (): Promise<string> => {
      let before = '';
      await expect
        .poll(async () => {
          const now = await looks();
          const isSame = now === before;
          before = now;
          return isSame;
        })
        .toBe(true);
      return before;
    };
    await clickAt(page, 5, 5);
    const card = page.getByRole('region', { name: 'Vole 2' });
    await card
      .getByRole('list', { name: 'Ties' })
      .getByText(/^Kin 2:/)
      .waitFor();
    await page.getByRole('button', { name: 'table', exact: true }).click();
    await page.getByLabel('Which agents').fill('number > 1');
    await page.getByRole('button', { name: 'trails of these' }).click();
    await expect.poll(() => card.getByLabel('keep its trail').isChecked()).toBe(true);
    await page.getByRole('button', { name: 'no trails' }).click();
    await expect.poll(() => card.getByLabel('keep its trail').isChecked()).toBe(false);
    await page.getByRole('region', { name: 'Table of agents' }).getByRole('button', { name: 'close' }).click();
    await card.getByLabel('keep its trail').check();
    await tool(page, 'moves the opened agent here');
    await clickAt(page, 5, 6);
    await card.getByText('5, 6').waitFor();
    await page.getByRole('button', { name: 'Layers' }).click();
    const all = await settledLooks();
    await page.getByRole('region', { name: 'Layers' }).getByLabel('Kin').uncheck();
    await expect.poll(looks).not.toBe(all);
    const untied = await settledLooks();
    await page.getByRole('region', { name: 'Layers' }).getByLabel('Vole').uncheck();
    await expect.poll(looks).not.toBe(untied);
    for (const name of ['Kin', 'Vole']) await page.getByRole('region', { name: 'Layers' }).getByLabel(name).check();
    await expect.poll(looks).toBe(all);
    await card.getByLabel('follow it').check();
    await expect.poll(looks).not.toBe(all);
    await card.getByRole('list', { name: 'Ties' }).getByRole('button', { name: 'Vole 1' }).click();
    await page.getByRole('region', { name: 'Vole 1' }).waitFor();
    expect(problems).toEqual([]);
    await close();
  });

  test('a rule is switched off and on again', async ({ stage }) => {
    const { page, problems, close } = await pen(stage);
    await page.getByRole('button', { name: 'Rules' }).click();
    await page.getByRole('region', { name: 'Rules' }).getByLabel(/grow/).click();
    await done(page).getByText('Vole.grow off').waitFor();
    const oldest = page.getByRole('figure', { name: 'Ages' }).getByText(/^oldest [\d.]+$/);
    for (let i = 0; i < 3; i++) await page.getByRole('button', { name: 'One step' }).click();
    await expect.poll(() => stepOf(page)).toBe(3);
    await expect.poll(() => oldest.innerText()).toBe('oldest 3');
    await page.getByRole('region', { name: 'Rules' }).getByLabel(/grow/).click();
    await done(page).getByText('Vole.grow on').waitFor();
    for (let i = 0; i < 2; i++) await page.getByRole('button', { name: 'One step' }).click();
    await expect.poll(() => oldest.innerText()).toBe('oldest 5');
    expect(problems).toEqual([]);
    await close();
  });
});

test.describe('charts', () => {
  test('are read in other forms and scales, with a guide, a peak that leads to its step, closer by a drag, and as files', async ({
    stage,
  }) => {
    const { page, problems, close } = await openProject(stage);
    await goTo(page, 'Watch');
    await begunAnewUpTo(page, 120);
    const chart = page.getByRole('figure', { name: 'Population' });
    await chart.getByText('more of this chart').click();
    const value = async (name: string): Promise<number> =>
      Number(
        new RegExp(`${name} ([\\d\\u2009.\\u2212]+)`)
          .exec(await chart.innerText())![1]!
          .replace(/\u2009/g, '')
          .replace('\u2212', '-'),
      );
    const plain = await value('voles');
    await chart.getByLabel('Form of Population').selectOption('share');
    await expect.poll(() => value('voles')).toBeLessThanOrEqual(1);
    expect((await value('voles')) + (await value('nests'))).toBeCloseTo(1, 2);
    await chart.getByLabel('Form of Population').selectOption('change per step');
    await expect.poll(() => value('voles')).toBeLessThan(plain / 2);
    await chart.getByLabel('Form of Population').selectOption('as measured');
    await expect.poll(() => value('voles')).toBe(plain);

    const axis = (): Promise<string[]> => chart.locator('svg text').allTextContents();
    const linear = await axis();
    await chart.getByLabel('logarithmic scale').check();
    await expect.poll(axis).not.toEqual(linear);
    await chart.getByLabel('logarithmic scale').uncheck();
    await chart.getByLabel('line at level').fill('2000');
    await expect
      .poll(async () =>
        Math.max(...(await axis()).map((label) => Number(label.replace(/\u2009/g, ''))).filter(Number.isFinite)),
      )
      .toBeGreaterThanOrEqual(2000);
    // How a chart is read is kept with the project.
    await expect.poll(async () => (await storedProject(page)).readings?.[0]?.guide).toBe('2000');
    await reload(page);
    await chart.getByText('more of this chart').click();
    await expect(chart.getByLabel('line at level')).toHaveValue('2000');
    await begunAnewUpTo(page, 120);
    await chart.getByLabel('line at level').fill('');

    const drawing = (await chart.locator('.recharts-surface').first().boundingBox())!;
    await page.mouse.move(drawing.x + drawing.width * 0.5, drawing.y + 50);
    await chart
      .locator('.recharts-tooltip-wrapper')
      .getByText(/voles : /)
      .waitFor();
    await page.mouse.down();
    await page.mouse.move(drawing.x + drawing.width * 0.7, drawing.y + 50, { steps: 5 });
    await page.mouse.up();
    await chart.getByRole('button', { name: 'whole run' }).click();
    await chart.getByRole('button', { name: 'whole run' }).waitFor({ state: 'detached' });
    expect(await stepOf(page)).toBe(120);

    const csv = await saved(page, chart, 'CSV');
    const [marks, table] = [/^(?:#.*\n)+/.exec(csv.text)![0], csv.text.replace(/^(?:#.*\n)+/, '')];
    expect(marks).toMatch(/model: Meadow year, text [0-9a-f]{8}\n.*\n# seed 1, one run/);
    const lines = table.trim().split('\n');
    expect([csv.name, lines[0], lines.length]).toEqual(['population.csv', 'step,time [days],voles,nests', 122]);
    expect(Number(lines[121]!.split(',')[2])).toBe(plain);
    const svg = await saved(page, chart, 'SVG');
    expect([svg.name, svg.text.slice(0, 4)]).toEqual(['population.svg', '<svg']);
    expect(svg.text).toMatch(/>Population<[\s\S]*as measured; text/);
    expect(svg.text).not.toContain('var(--');
    const png = await saved(page, chart, 'PNG');
    expect([png.name, [...png.bytes.subarray(0, 4)]]).toEqual(['population.png', [0x89, 0x50, 0x4e, 0x47]]);

    // The ribbon leaves too: who there was at each step, as it is drawn and as numbers.
    await page.getByRole('region', { name: 'Ribbon' }).getByRole('button', { name: 'files' }).click();
    const ribbon = filesOf(page, 'Meadow year, who there was');
    const counts = (await saved(page, ribbon, 'CSV')).text
      .replace(/^(?:#.*\n)+/, '')
      .trim()
      .split('\n');
    expect([counts.length, counts[0]]).toEqual([122, expect.stringMatching(/^step,time \[days\],Pup,Adult/)]);
    expect(counts[121]!.split(',')).toContain(String(await countIn(page, /Adult Vole/)));
    const drawn = await saved(page, ribbon, 'SVG');
    expect(drawn.text).toMatch(/who there was<[\s\S]*from the foot upwards: [\s\S]*<path/);

    const peak = chart.getByRole('listitem').filter({ hasText: 'nests is highest' }).getByRole('button');
    const date = await peak.innerText();
    await peak.click();
    await expect.poll(() => page.getByTestId('now').innerText()).toContain(date);
    expect(problems).toEqual([]);
    await close();
  });
});

test.describe('the text', () => {
  test('is folded, searched and replaced in, and taken back through all of it', async ({ stage }) => {
    const { page, problems, close } = await openProject(stage, 'New project');
    await writeModel(page, PEN);
    await expect.poll(() => modelText(page)).toBe(PEN);
    const lines = page.locator('.cm-line');
    const all = await lines.count();
    await page.locator('.cm-foldGutter').getByTitle('Fold line').nth(1).click();
    await expect.poll(() => lines.count()).toBeLessThan(all - 2);
    await page.locator('.cm-foldPlaceholder').click();
    await expect.poll(() => lines.count()).toBe(all);
    await page.keyboard.press('Control+f');
    await page.locator('.cm-search input[name=search]').fill('grow');
    await page.locator('.cm-search input[name=replace]').fill('ripen');
    await page.locator('.cm-search button[name=replaceAll]').click();
    await expect.poll(() => modelText(page)).toContain('behaviour ripen');
    expect(await modelText(page)).not.toContain('grow');
    await page.keyboard.press('Escape');
    await page.getByLabel('Model text').focus();
    for (let i = 0; i < 12; i++) await page.keyboard.press('Control+z');
    await expect.poll(() => modelText(page)).toMatch(/^model New model/);
    for (let i = 0; i < 12; i++) await page.keyboard.press('Control+y');
    await expect.poll(() => modelText(page)).toContain('behaviour ripen');
    expect(problems).toEqual([]);
    await close();
  });

  test('has its parts moved by dragging them in the outline', async ({ stage }) => {
    const { page, problems, close } = await openProject(stage, 'New project');
    await writeModel(page, PEN);
    await expect.poll(() => modelText(page)).toBe(PEN);
    const outline = page.getByRole('navigation', { name: 'Outline' });
    await outline
      .getByRole('listitem')
      .filter({ hasText: /^Kin/ })
      .dragTo(outline.getByRole('listitem').filter({ hasText: /^Vole/ }).first());
    await expect
      .poll(async () => (await modelText(page)).indexOf('network Kin'))
      .toBeLessThan(PEN.indexOf('agent Vole') + 60);
    const text = await modelText(page);
    expect(text.indexOf('network Kin')).toBeLessThan(text.indexOf('agent Vole'));
    expect(text.split('\n').sort()).toEqual(PEN.split('\n').sort());
    await expect(page.getByTestId('findings')).not.toContainText('to mend', { useInnerText: true });
    expect(problems).toEqual([]);
    await close();
  });
});

test.describe('those who want less motion', () => {
  test('see no transitions, and a run that plays as well', async ({ stage }) => {
    const { context, page, problems } = await stage.visitor();
    await page.emulateMedia({ reducedMotion: 'reduce' });
    await page.goto(stage.url);
    await page.getByTestId('now').waitFor();
    expect(
      await page.evaluate(
        () =>
          [...document.querySelectorAll('*')].filter((element) =>
            getComputedStyle(element)
              .transitionDuration.split(', ')
              .some((time) => parseFloat(time) > 0),
          ).length,
      ),
    ).toBe(0);
    await expect.poll(() => stepOf(page)).toBeGreaterThan(3);
    expect(problems).toEqual([]);
    await context.close();
  });
});

test('Charts of the text: a distribution as it is now, and a measure against another', async ({ stage }) => {
  const { page, problems, close } = await openProject(stage);
  await goTo(page, 'Build');
  await writeModel(
    page,
    `model Charts
clock
  end after 3 steps
agent Vole
  start 6
  has weight = 10 * number
  behaviour grow
    weight += 1
order
  grow in turn
measure heavy = sum of it.weight over Vole
measure heavier = 2 * heavy
chart Weights: distribution of it.weight over Vole where it.weight > 20
chart Twice: heavier against heavy
`,
  );
  await goTo(page, 'Watch');
  await page.getByLabel('Step, date or condition to run to').fill('3');
  await page.keyboard.press('Enter');
  await expect(page.getByTestId('now')).toContainText('step 3 of 3');
  // 13, 23, 33, 43, 53, 63: five of them are above 20.
  const bars = page.getByRole('figure', { name: /^5 of 6 Vole/ });
  await expect(bars).toContainText('mean 43');
  const path = page.getByRole('figure', { name: 'Twice' });
  await expect(path.locator('.recharts-scatter-symbol')).toHaveCount(4);
  await path.locator('.recharts-scatter-symbol').first().click();
  await expect(page.getByTestId('now')).toContainText('step 0 of 3');
  await expect(page.getByRole('figure', { name: /^4 of 6 Vole/ })).toContainText('mean 45');
  expect(problems).toEqual([]);
  await close();
});

test('A large run has help from another thread, and comes to what it comes to without', async ({ stage }) => {
  const { page, problems, close } = await openProject(stage);
  const text = `model Crowd
clock
  end after 30 steps
space Field: plane 600 m by 600 m, wrapping
agent Vole
  start 60000 anywhere
  states mood
    start 100 of Loud, rest Calm
    Calm
    Loud
  behaviour roam
    turn by uniform(-30, 30) deg
    move by 1 m
interaction wake: a Vole, b Vole
  mixing 2
  where a.mood is Loud and b.mood is Calm
  chance 0.1
  b.mood = Loud
order
  roam all at once
  wake all at once
measure calm = count Vole where it.mood is Calm
show Vole: dot, colour by mood
`;
  await goTo(page, 'Build');
  await writeModel(page, text);
  await goTo(page, 'Watch');
  await page.getByLabel('Step, date or condition to run to').fill('30');
  await page.keyboard.press('Enter');
  await expect(page.getByTestId('now')).toContainText('step 30 of 30');
  const hasHelp = page.workers().some((worker) => worker.url().includes('helping.worker'));
  expect(hasHelp).toBe(await page.evaluate(() => navigator.hardwareConcurrency > 1));
  const { plan } = loadModel(text).loaded!;
  const run = new Run(compilePlan(plan).executable(), [], 1);
  run.runTo(30);
  const calm = run.valueAt(run.rowCount - 1, 0);
  await expect.poll(() => countIn(page, /Calm Vole/)).toBe(calm);
  expect(problems).toEqual([]);
  await close();
});
