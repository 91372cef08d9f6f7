import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import type { Stage } from './stage.ts';
import {
  beginAnew,
  countIn,
  expect,
  goTo,
  modelText,
  openProject,
  paintLine,
  putIn,
  reload,
  runTo,
  saved,
  settled,
  stepOf,
  storedProject,
  test,
  writeModel,
} from './stage.ts';

/** Longer tasks in Build and Watch, done as a person does them, and what programs that read pages aloud find. */

const AXE = readFileSync(createRequire(import.meta.url).resolve('axe-core/axe.min.js'), 'utf8');

const CHECKED = `model Checked
clock
  end after 5 steps
parameter pieces = 1, from 0 to 9
agent A
  start 3
  has part = 1
  behaviour divide
    part = part / pieces
measure many = count A
check Nobody goes
  over 4 seeds
  expect last of many is 3 in every run
check All go
  over 4 seeds
  expect last of many is 0 in every run
check Somebody divides
  with pieces = 0, over 1 seeds
  expect last of many is 3 in every run
`;

test.describe('Build', () => {
  test('builds animals that move, eat, breed and die from the shelf alone, without typing', async ({ stage }) => {
    const { page, problems, close } = await openProject(stage, 'New project');
    await page.getByRole('tab', { name: 'Shelf' }).click();
    await putIn(page, 'Eating', /^Graze/);
    await putIn(page, 'Breeding', /^Breed when fed/);
    await putIn(page, 'Dying', /^Starve/);
    await putIn(page, 'Dying', /^Die of age/);
    await expect.poll(() => page.getByTestId('findings').innerText()).not.toContain('to mend');
    const text = await modelText(page);
    for (const piece of [
      'behaviour roam',
      'behaviour graze',
      'behaviour breed',
      'behaviour starve',
      'field grass on Field',
      'has energy',
      'has lifetime',
    ])
      expect(text).toContain(piece);
    await page.getByRole('tab', { name: 'The run' }).click();
    await runTo(page, 60);
    expect(await countIn(page, /Vole/)).not.toBe(200);
    // Each part is one step of undo.
    await page.getByLabel('Model text').click();
    await page.keyboard.press('Control+z');
    await expect.poll(() => modelText(page)).not.toContain('has lifetime');
    expect(await modelText(page)).toContain('behaviour starve');
    expect(problems).toEqual([]);
    await close();
  });

  test('draws the states with their counts, and changes the text through the picture', async ({ stage }) => {
    const { page, problems, close } = await openProject(stage);
    await page.getByRole('tab', { name: 'States' }).click();
    await expect.poll(() => page.getByRole('button', { name: /^State Adult, \d+ in it/ }).count()).toBe(1);
    await page.getByRole('button', { name: /^State Adult/ }).click();
    const name = page.getByLabel('Name of the state');
    await name.fill('Grown');
    await name.press('Enter');
    await expect.poll(() => modelText(page)).toContain('after 21 days: Grown');
    expect(await modelText(page)).not.toContain('Adult');
    await page.getByRole('button', { name: 'add a state' }).click();
    await expect.poll(() => modelText(page)).toMatch(/^ {4}State1$/m);
    await page.getByRole('button', { name: /^State Grown/ }).focus();
    await page.keyboard.press('Enter');
    await page.getByLabel('Trigger of a new arrow').fill('chance 0.001');
    await page.getByLabel('State the new arrow leads to').selectOption('State1');
    await page.getByRole('button', { name: 'add the arrow' }).click();
    await page.getByRole('tabpanel').locator('svg text', { hasText: 'chance 0.001' }).click();
    await page.getByLabel('What moves it on, and where to').fill('chance 0.002: State1');
    await page.keyboard.press('Enter');
    await expect.poll(() => modelText(page)).toContain('chance 0.002: State1');
    await page.getByRole('button', { name: /^State State1/ }).click();
    await page.getByRole('button', { name: 'remove State1' }).click();
    await expect.poll(() => modelText(page)).not.toContain('State1');
    await expect(page.getByTestId('findings')).not.toContainText('to mend', { useInnerText: true });
    expect(problems).toEqual([]);
    await close();
  });

  test('answers the plan in the prose, explains names, and brings back a version', async ({ stage }) => {
    const { page, problems, close } = await openProject(stage);
    await page.getByRole('tab', { name: 'Plan' }).click();
    await page.getByRole('textbox', { name: /^Purpose/ }).fill('What does hunting do to the year of the voles?');
    await page.keyboard.press('Tab');
    await expect.poll(() => modelText(page)).toContain('  Purpose: What does hunting do to the year of the voles?\n');
    await page.locator('.cm-content').getByText('strike', { exact: true }).first().hover();
    await page.locator('.vole-hover').getByText('parameter, a number').waitFor();
    await page.getByRole('button', { name: 'versions' }).click();
    await page.getByLabel('Keep the text as it is under the name').fill('with a purpose');
    await page.getByRole('button', { name: 'Keep it' }).click();
    await page.getByRole('button', { name: /^with a purpose/ }).waitFor();
    await page.getByRole('list', { name: 'Earlier versions' }).getByRole('button').last().click();
    await page.getByText('Purpose: What does hunting').last().waitFor();
    await page.getByRole('button', { name: 'Restore this version' }).click();
    await expect.poll(() => modelText(page)).not.toContain('Purpose:');
    // A part goes elsewhere by the keyboard, with what stands under it.
    await page.getByRole('navigation', { name: 'Outline' }).getByRole('button', { name: 'grass, field' }).focus();
    await page.keyboard.press('Alt+ArrowUp');
    await expect
      .poll(async () => (await modelText(page)).indexOf('field grass'))
      .toBeLessThan((await modelText(page)).indexOf('space Meadow'));
    expect(problems).toEqual([]);
    await close();
  });

  test('runs the checks of the model, says which hold and which do not, and that they are of an earlier text once it has changed', async ({
    stage,
  }) => {
    const { page, problems, close } = await openProject(stage, 'New project');
    await writeModel(page, CHECKED);
    await page.getByRole('tab', { name: 'Checks' }).click();
    await expect.poll(() => page.getByTestId('checks-progress').innerText()).toBe('3 checks, 9 runs');
    await page.getByRole('button', { name: 'Run the checks' }).click();
    const outcomes = page.getByRole('list', { name: 'Checks' }).locator('> li');
    await expect
      .poll(() => outcomes.allInnerTexts())
      .toEqual([
        expect.stringMatching(/^holds Nobody goes, over 4 seeds\s+last of many is 3: 4 of 4 runs$/),
        expect.stringMatching(
          /^does not hold All go, over 4 seeds\s+last of many is 0: 0 of 4 runs; not with seed 1, 2, 3, 4\s+seed 1 at step \d+\s/,
        ),
        expect.stringMatching(/^does not hold Somebody divides, over 1 seed\s+The run with seed 1 stopped: /),
      ]);
    await page.getByRole('button', { name: 'Run the checks' }).waitFor();
    // They are there again after a reload, without being run.
    await expect.poll(async () => (await storedProject(page)).checks?.outcomes.length).toBe(3);
    await reload(page);
    await page.getByRole('tab', { name: 'Checks' }).click();
    await expect(outcomes).toHaveText([
      /^holds Nobody goes/,
      /^does not hold All go/,
      /^does not hold Somebody divides/,
    ]);
    // A run that failed opens where it did.
    await page.getByRole('button', { name: /^seed 2 at step/ }).click();
    await page.waitForURL(/\/watch$/);
    await goTo(page, 'Build');
    await writeModel(page, CHECKED.replace('start 3', 'start 5'));
    await page.getByRole('tab', { name: 'Checks' }).click();
    await page.getByText('What follows is of an earlier text.').waitFor();
    // One more is begun by a click, and the text has it.
    await page.getByRole('button', { name: 'conservation', exact: true }).click();
    await expect.poll(() => page.getByTestId('checks-progress').innerText()).toBe('4 checks, 14 runs');
    await expect.poll(() => modelText(page)).toContain('check Nobody is lost or made');
    expect(problems).toEqual([]);
    await close();
  });

  test('plots a formula of the model and draws a distribution, and says what is wrong with one', async ({ stage }) => {
    const { page, problems, close } = await openProject(stage, 'Dusk');
    await page.getByRole('tab', { name: 'Formula' }).click();
    await page.getByLabel('Expression to plot').fill('1 - exp(-a * x)');
    await page.getByLabel('Input along the axis').selectOption('x');
    await page.getByLabel('Input of the curves').selectOption('a');
    await page.getByLabel('Values of the curves').fill('0.5, 1');
    await page.getByText('a 0.5', { exact: true }).first().waitFor();
    const panel = page.getByRole('tabpanel');
    await expect(panel.getByRole('row').last()).toContainText(/a 1\s+0\s+0\.865\s+0\.982/, { useInnerText: true });
    await page.getByLabel('Expression to plot').fill('exp(');
    await panel.getByRole('alert').waitFor();
    await page.getByRole('tab', { name: 'Draws' }).click();
    await page.getByLabel('Expression to draw').fill('gamma(mean = 20, shape = 4)');
    await expect.poll(async () => Number(/mean ([\d.]+)/.exec(await panel.innerText())?.[1])).toBeCloseTo(20, 0);
    expect(problems).toEqual([]);
    await close();
  });
});

test.describe('Watch', () => {
  test('paints a wall, sees that nobody gets through, takes it back, and runs again with it', async ({ stage }) => {
    const { page, problems, close } = await openProject(stage, 'Hedgerows');
    await goTo(page, 'Watch');
    await beginAnew(page);
    const before = await stepOf(page);
    await page.getByLabel('What a click does').selectOption('and drag paint NearHedge');
    await paintLine(page, { width: 120, height: 80 }, [40, 49], [40, 63]);
    await page.getByRole('list', { name: 'Done by hand' }).getByText('painted NearHedge').first().waitFor();
    await page.getByLabel('Step, date or condition to run to').fill('middle > 0 or now > 240 minutes');
    await page.keyboard.press('Enter');
    await expect.poll(() => stepOf(page)).toBeGreaterThan(before + 200);
    const closedAt = await stepOf(page);
    const acts = page.getByRole('button', { name: 'Take back: painted NearHedge' });
    while (await acts.count()) {
      const count = await acts.count();
      await acts.first().click();
      await expect.poll(() => acts.count()).toBe(count - 1);
    }
    await page.getByRole('button', { name: 'Start again' }).click();
    await expect.poll(() => stepOf(page)).toBe(0);
    await page.getByLabel('Step, date or condition to run to').fill('middle > 0 or now > 240 minutes');
    await page.keyboard.press('Enter');
    await expect.poll(() => stepOf(page)).toBeGreaterThan(0);
    await page.getByRole('button', { name: 'Play' }).waitFor();
    expect(await stepOf(page)).toBeLessThan(closedAt);
    expect(problems).toEqual([]);
    await close();
  });

  test('adds a wall while the run goes on, paints it, and writes what was painted into the text', async ({ stage }) => {
    const { page, problems, close } = await openProject(stage);
    await goTo(page, 'Watch');
    await runTo(page, 6);
    await page.getByRole('button', { name: 'add a wall to paint' }).click();
    await expect
      .poll(() => page.getByLabel('What a click does').locator('option:checked').innerText())
      .toBe('and drag paint Wall');
    await paintLine(page, { width: 120, height: 120 }, [40, 60], [70, 60]);
    await page.getByRole('list', { name: 'Done by hand' }).getByText('painted Wall').first().waitFor();
    await page.getByRole('button', { name: 'write Wall into the text' }).click();
    await expect.poll(() => page.getByRole('list', { name: 'Done by hand' }).count()).toBe(0);
    expect(await stepOf(page)).toBe(6);
    await goTo(page, 'Build');
    await page.getByText('Wall, obstacle').click();
    await expect
      .poll(() => page.locator('.cm-content').innerText())
      .toMatch(/obstacle Wall on Meadow +"painted by hand"\n +box \([\d.]+ m, [\d.]+ m\) to \([\d.]+ m, [\d.]+ m\)/);
    await page.getByText('The text is right.').waitFor();
    expect(problems).toEqual([]);
    await close();
  });

  test('opens an agent from the table, says why it did what it did, and sets it by hand', async ({ stage }) => {
    const { page, problems, close } = await openProject(stage);
    await goTo(page, 'Watch');
    await runTo(page, 60);
    await page.getByRole('button', { name: 'table', exact: true }).click();
    await page.getByLabel('Which agents').fill('life is Adult and energy > 1');
    await page.getByRole('button', { name: 'energy', exact: true }).click();
    const first = page
      .getByRole('region', { name: 'Rows' })
      .getByRole('button', { name: /^Open Vole/ })
      .first();
    const number = (await first.innerText()).trim();
    await first.click();
    await page.getByLabel('Column to draw', { exact: true }).selectOption('energy');
    await page.getByRole('figure', { name: /^energy of/ }).waitFor();
    await page.getByRole('region', { name: 'Table of agents' }).getByRole('button', { name: 'close' }).click();
    await page
      .getByRole('region', { name: `Vole ${number}` })
      .getByRole('button', { name: 'what it did, and why' })
      .click();
    const story = page.getByTestId('story');
    await expect.poll(() => story.innerText()).toContain('forage');
    await expect(story).toContainText(/normal\(0 deg, 40 deg\) drew -?[\d.\u2212]+/, { useInnerText: true });
    await expect(story).toContainText('energy < 0 or age > 600 days: no', { useInnerText: true });
    const energy = page.getByRole('textbox', { name: 'energy' });
    await energy.fill('-5');
    await energy.press('Enter');
    await page.getByRole('list', { name: 'Done by hand' }).getByText(`Vole ${number}: energy`).waitFor();
    for (let i = 0; i < 2; i++) await page.getByRole('button', { name: 'One step' }).click();
    await page.getByText('It is not there at this step').waitFor();
    expect(problems).toEqual([]);
    await close();
  });

  test('goes back, branches with another value, and compares both runs step by step', async ({ stage }) => {
    const { page, problems, close } = await openProject(stage);
    await goTo(page, 'Watch');
    await runTo(page, 200);
    const plain = await countIn(page, /Adult Vole/);
    await page.getByRole('button', { name: 'compare with this run' }).click();
    await page.getByText(/compared with, seed 1/).waitFor();
    await runTo(page, 100);
    await page.getByRole('slider', { name: 'strike' }).focus();
    for (let i = 0; i < 30; i++) await page.keyboard.press('ArrowRight');
    await runTo(page, 200);
    expect(await countIn(page, /Adult Vole/)).toBeLessThan(plain);
    await page.getByLabel('difference').first().check();
    const population = page.getByRole('figure', { name: 'Population' });
    await expect.poll(() => population.innerText()).toMatch(/voles \u2212\d+/);
    await page.getByText(/compared with, seed 1, 17 September 2031/).waitFor();
    await page.getByRole('button', { name: 'end the comparison' }).click();
    await expect.poll(() => page.getByText(/compared with, seed/).count()).toBe(0);
    expect(problems).toEqual([]);
    await close();
  });

  test('saves a picture and a film of the run', async ({ stage }) => {
    const { page, problems, close } = await openProject(stage);
    await goTo(page, 'Watch');
    const picture = page.waitForEvent('download');
    await page.getByRole('button', { name: 'picture' }).click();
    expect((await picture).suggestedFilename()).toMatch(/^meadow-year-step-\d+\.png$/);
    for (const form of ['WebM', 'MP4']) {
      // It rests until it is filmed, so that it does not end before there is a film of it.
      await runTo(page, 0);
      await page.getByRole('button', { name: 'film', exact: true }).click();
      await page.getByRole('menuitem', { name: `as ${form}` }).click();
      await page.getByRole('button', { name: 'stop and save film' }).waitFor();
      await page.getByRole('button', { name: 'Play' }).click();
      await expect.poll(() => stepOf(page)).toBeGreaterThan(30);
      const film = await saved(page, page, 'stop and save film');
      expect(film.name).toBe(`meadow-year.${form.toLowerCase()}`);
      const played = await playedFilm(stage, form, film.bytes);
      expect(played.seconds).toBeGreaterThan(0.5);
      expect(played.seconds).toBeLessThan(60);
      expect(played.width).toBeGreaterThan(400);
    }
    // Who goes elsewhere while a film is made gets what there is of it.
    await page.getByRole('button', { name: 'film', exact: true }).click();
    await page.getByRole('menuitem', { name: 'as WebM' }).click();
    await page.getByRole('button', { name: 'stop and save film' }).waitFor();
    const left = page.waitForEvent('download');
    await goTo(page, 'Build');
    expect((await left).suggestedFilename()).toBe('meadow-year.webm');
    await goTo(page, 'Watch');
    await expect(page.getByRole('button', { name: 'film', exact: true })).toBeVisible();
    expect(problems).toEqual([]);
    await close();
  });
});

/** A film in a page of its own, without the application: how long it is, and how wide. */
async function playedFilm(
  stage: Stage,
  form: string,
  bytes: Buffer,
): Promise<{ readonly seconds: number; readonly width: number }> {
  const page = await stage.browser.newPage();
  await page.setContent('<video muted></video>');
  const played = await page.evaluate(
    async (source) => {
      const video = document.querySelector('video')!;
      await new Promise((resolve, reject) => {
        video.onloadeddata = resolve;
        video.onerror = () => reject(new Error(video.error?.message));
        video.src = source;
      });
      return { seconds: video.duration, width: video.videoWidth };
    },
    `data:video/${form.toLowerCase()};base64,${bytes.toString('base64')}`,
  );
  await page.close();
  return played;
}

test.describe('every view, for those who do not see it or do not point at it', () => {
  for (const theme of ['paper', 'dusk'])
    test(`has no serious finding, in the theme ${theme}`, async ({ stage }) => {
      const { page, close } = await openProject(stage);
      if (theme === 'dusk') {
        await page.keyboard.press('Control+k');
        await page.getByPlaceholder('Find an action').fill('dusk');
        await page.keyboard.press('Enter');
      }
      const findings: string[] = [];
      const look = async (where: string): Promise<void> => {
        await page.getByRole('main').waitFor();
        await settled(page);
        await page.evaluate(AXE);
        const serious = await page.evaluate(async () => {
          const { axe } = window as unknown as {
            axe: { run: () => Promise<{ violations: { id: string; impact: string; nodes: { html: string }[] }[] }> };
          };
          const { violations } = await axe.run();
          return violations
            .filter((v) => v.impact === 'serious' || v.impact === 'critical')
            .map(
              (v) =>
                `${v.id}: ${v.nodes
                  .slice(0, 3)
                  .map((node) => node.html.slice(0, 160))
                  .join(' | ')}`,
            );
        });
        findings.push(...serious.map((found) => `${where}: ${found}`));
      };
      for (const tab of ['The run', 'States', 'Formula', 'Draws', 'Networks', 'Shelf']) {
        await page.getByRole('tab', { name: tab }).click();
        await look(`Build, ${tab}`);
      }
      for (const view of ['Watch', 'Repeat', 'Vary', 'Match', 'Tell'] as const) {
        await goTo(page, view);
        await look(view);
      }
      await page.goto(`${stage.url}/projects`);
      await look('Projects');
      expect(findings).toEqual([]);
      await close();
    });
});
