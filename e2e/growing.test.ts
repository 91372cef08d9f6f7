import { readFileSync } from 'node:fs';
import type { Page } from '@playwright/test';
import {
  beginAnew,
  countIn,
  expect,
  goTo,
  modelText,
  openProject,
  putIn,
  runTo,
  settled,
  stepOf,
  test,
  writeModel,
} from './stage.ts';

/** Models that grow while they run: two kinds from nothing, text taken up by those who are there, names, networks, several spaces, charts. */

async function cursorAfter(page: Page, part: string, words: string): Promise<void> {
  await page
    .getByRole('navigation', { name: 'Outline' })
    .getByRole('button', { name: new RegExp(`^${part}`) })
    .first()
    .click();
  await page.locator('.cm-line', { hasText: words }).first().click();
  await page.keyboard.press('End');
}

test.describe('a model', () => {
  test('of two kinds is built from nothing: the shelf, a second kind typed, a repair, and the hunt between them', async ({
    stage,
  }) => {
    const { page, problems, close } = await openProject(stage, 'New project');
    await page.getByRole('tab', { name: 'Shelf' }).click();
    await putIn(page, 'Eating', /^Graze/);
    await putIn(page, 'Breeding', /^Breed when fed/);
    await putIn(page, 'Dying', /^Starve/);
    // The second kind is typed under the first part that stands at the margin again.
    await page.getByLabel('Model text').click();
    await page.keyboard.press('Control+End');
    await page.keyboard.insertText('\nagent Owl\n  start 4 anywhere\nshow Vole: leaf\n');
    await page.getByRole('button', { name: 'Add “show Owl: dot”' }).first().click();
    await expect.poll(() => modelText(page)).toMatch(/show Owl/);
    await page.getByRole('radio', { name: 'Moving', exact: true }).click();
    await page.getByRole('button', { name: /^Wander/ }).click();
    await page.getByRole('tabpanel').getByRole('combobox').first().selectOption('Owl');
    await page.getByRole('button', { name: 'Put it into the text' }).click();
    await page.getByRole('radio', { name: 'Eating', exact: true }).click();
    await page.getByRole('button', { name: /^Hunt/ }).click();
    const kinds = page.getByRole('tabpanel').getByRole('combobox');
    await kinds.nth(0).selectOption('Owl');
    await kinds.nth(1).selectOption('Vole');
    await page.getByRole('button', { name: 'Put it into the text' }).click();
    await expect.poll(() => page.getByTestId('findings').innerText()).not.toContain('to mend');
    const text = await modelText(page);
    for (const piece of ['agent Vole', 'agent Owl', 'behaviour graze', 'behaviour breed', 'hunt'])
      expect(text).toContain(piece);
    await page.getByRole('tab', { name: 'The run' }).click();
    await runTo(page, 60);
    expect(await countIn(page, /Owl/)).toBeGreaterThan(0);
    expect(problems).toEqual([]);
    await close();
  });

  test('that is edited while it runs goes on with who is there, says what began anew, and starts anew when told to', async ({
    stage,
  }) => {
    const { page, problems, close } = await openProject(stage);
    const step = 25;
    await runTo(page, step);
    const voles = await countIn(page, /Adult/);
    await page.getByLabel('When the text changes').selectOption('on');
    await cursorAfter(page, 'Kestrel', 'start kestrels anywhere');
    await page.keyboard.insertText('\n  has hunger = uniform(2, 3)');
    await page.getByRole('tab', { name: 'The run' }).click();
    await page.getByTestId('went-on').getByText(`From step ${step} on`).waitFor();
    await expect(page.getByTestId('went-on')).toContainText(
      /Carried over: \d+ Vole, \d+ Kestrel.*Anew: hunger of Kestrel \(first values\)/,
      { useInnerText: true },
    );
    expect(await stepOf(page)).toBe(step);
    expect(await countIn(page, /Adult/)).toBe(voles);
    // The ribbon goes back beyond the edit, to the run as it was, and forward into the new text again.
    const ribbon = page.getByRole('slider', { name: /Reading line/ });
    await ribbon.press('ArrowLeft');
    await page.getByText(`The text as it was before step ${step}`).waitFor();
    await expect.poll(() => stepOf(page)).toBe(step - 1);
    await page.getByTestId('went-on').waitFor({ state: 'detached' });
    await ribbon.press('ArrowRight');
    await page.getByTestId('went-on').waitFor();
    await expect.poll(() => countIn(page, /Adult/)).toBe(voles);
    await page.getByText('The text as it was before').waitFor({ state: 'detached' });
    // Kept beside, the run goes back and forth with the one on show.
    await goTo(page, 'Watch');
    await page.getByRole('button', { name: 'compare with this run' }).click();
    const beside = page.getByText(/^compared with, seed 1, /);
    const shownDate = await page.getByTestId('now').locator('b').innerText();
    const now = `compared with, seed 1, ${shownDate}`;
    await expect.poll(() => beside.innerText()).toBe(now);
    await ribbon.press('ArrowLeft');
    await expect.poll(() => beside.innerText()).not.toBe(now);
    await page.getByText(`The text as it was before step ${step}`).waitFor();
    await ribbon.press('ArrowRight');
    await expect.poll(() => beside.innerText()).toBe(now);
    await page.getByRole('button', { name: 'end the comparison' }).click();
    await goTo(page, 'Build');
    await page.getByLabel('When the text changes').selectOption('anew');
    await cursorAfter(page, 'Kestrel', 'has hunger');
    await page.keyboard.press('Backspace');
    await page.keyboard.type(')');
    await page.keyboard.press('ArrowLeft');
    await page.keyboard.type('.5');
    await expect.poll(() => stepOf(page)).toBeLessThan(step);
    await page.getByRole('tab', { name: 'The run' }).click();
    await expect(page.getByTestId('went-on')).toHaveCount(0);
    expect(problems).toEqual([]);
    await close();
  });

  test('has its names completed in scope and changed everywhere, each as one step of undo', async ({ stage }) => {
    const { page, problems, close } = await openProject(stage);
    const before = await modelText(page);
    await cursorAfter(page, 'forage', 'move by 1.5 m');
    await page.keyboard.press('Enter');
    await page.keyboard.type('if life is ', { delay: 20 });
    const offers = page.locator('.cm-tooltip-autocomplete .cm-completionLabel');
    await expect.poll(() => offers.allInnerTexts()).toEqual(['Pup', 'Adult', 'Nesting']);
    await offers.getByText('Adult').click();
    await expect.poll(() => modelText(page)).toContain('if life is Adult');
    // There is nothing before the beginning, so once too often does no harm.
    for (let i = 0; i < 12; i++) await page.keyboard.press('Control+z');
    await expect.poll(() => modelText(page)).toBe(before);
    await cursorAfter(page, 'Vole', 'has energy');
    await page.locator('.cm-line', { hasText: 'has energy' }).getByText('energy').click();
    await page.getByRole('button', { name: 'rename energy' }).click();
    const form = page.getByRole('form', { name: 'Rename everywhere' });
    await form.getByLabel('New name').fill('sex');
    await form.getByRole('alert').getByText('cannot be the name').waitFor();
    await form.getByLabel('New name').fill('vigour');
    await form.getByRole('button', { name: 'rename', exact: true }).click();
    await expect.poll(() => modelText(page)).toContain('vigour += eaten');
    expect(await modelText(page)).not.toMatch(/\benergy\b/);
    await expect(page.getByTestId('findings')).not.toContainText('to mend');
    await page.getByLabel('Model text').focus();
    await page.keyboard.press('Control+z');
    await expect.poll(() => modelText(page)).toContain('energy += eaten');
    await cursorAfter(page, 'life: Pup, Adult, Nesting', 'after 21 days');
    await page.locator('.cm-line', { hasText: 'after 21 days' }).getByText('after').hover();
    await page
      .locator('.vole-hover')
      .getByText(/^States: /)
      .waitFor();
    expect(problems).toEqual([]);
    await close();
  });

  test('shows its networks as drafts, before any step', async ({ stage }) => {
    const { page, problems, close } = await openProject(stage, 'Alarm relay');
    await page.getByRole('tab', { name: 'Networks' }).click();
    const facts = page.getByTestId('network-facts');
    await facts.waitFor();
    const first = await facts.innerText();
    expect(first).toMatch(/Vole\s+400\s+ties\s+\d+\s+components\s+\d+/);
    await page.getByRole('img', { name: /^The network drawn/ }).waitFor();
    await page.getByRole('button', { name: 'draw it anew' }).click();
    await expect.poll(() => facts.innerText()).not.toBe(first);
    expect(problems).toEqual([]);
    await close();
  });

  test('with several spaces shows one at a time, with its own kinds and tools', async ({ stage }) => {
    const { page, problems, close } = await openProject(stage, 'New project');
    const reference = readFileSync(new URL('../docs/language.md', import.meta.url), 'utf8');
    await writeModel(page, /```vole\n(model Burrow and meadow[\s\S]*?)```/.exec(reference)![1]!);
    await expect.poll(() => page.getByTestId('findings').innerText()).toBe('The text is right.');
    await goTo(page, 'Watch');
    const tools = async (): Promise<string[]> =>
      (await page.getByLabel('What a click does').getByRole('option').allInnerTexts()).filter((words) =>
        words.startsWith('places'),
      );
    await expect.poll(tools).toEqual(['places a Forager']);
    await page.getByLabel('Space on show').selectOption('Burrow');
    await expect.poll(tools).toEqual(['places a Nurse']);
    // Whoever is opened from the table is brought into the picture.
    await page.getByRole('button', { name: 'Table' }).click();
    await page.getByRole('table').last().getByRole('button').last().click();
    await expect.poll(() => page.getByLabel('Space on show').inputValue()).toBe('0');
    await page.getByTestId('agent').getByText('on Meadow').waitFor();
    expect(problems).toEqual([]);
    await close();
  });

  test('has charts that are read as tables and with lines joined', async ({ stage }) => {
    const { page, problems, close } = await openProject(stage);
    await goTo(page, 'Watch');
    await beginAnew(page);
    await runTo(page, 20);
    const chart = page.getByRole('figure', { name: 'Population' });
    await chart.getByText('more of this chart').click();
    await chart.getByLabel('voles').check();
    await chart.getByLabel('nests').check();
    await chart.getByText(/^voles \+ nests \d/).waitFor();
    await chart.getByRole('button', { name: 'table' }).click();
    const [newest] = await chart
      .getByRole('region', { name: 'The chart as a table' })
      .getByRole('row')
      .nth(1)
      .allInnerTexts();
    expect(Number(newest!.split(/\s+/)[0])).toBe(await stepOf(page));
    // By its step, as the table begins with another row as soon as the run is back there.
    const wanted = Number(newest!.split(/\s+/)[0]) - 4;
    await chart
      .getByRole('region')
      .getByRole('button', { name: String(wanted), exact: true })
      .click();
    await expect.poll(() => stepOf(page)).toBe(wanted);
    expect(problems).toEqual([]);
    await close();
  });

  test('is run under two policies on the same luck, side by side, with one view', async ({ stage }) => {
    const { page, problems, close } = await openProject(stage);
    await goTo(page, 'Watch');
    await runTo(page, 60);
    await page.getByRole('button', { name: 'compare with this run' }).click();
    await page.getByText(/compared with, seed 1/).waitFor();
    await page.getByRole('switch', { name: 'breeding' }).click();
    await runTo(page, 150);
    await page.getByText(/compared with, seed 1, 29 July 2031/).waitFor();
    // Without new litters nobody nests any more; the kept run, on the same luck, still has nests.
    expect(await countIn(page, /Nesting/)).toBe(0);
    const nests = page.getByRole('figure', { name: 'Population' });
    await page.getByLabel('difference').first().check();
    await expect.poll(() => nests.innerText()).toMatch(/nests \u2212\d/);
    // What is brought closer in one picture is brought closer in the other.
    const pictures = page.locator('main canvas[data-step="150"]');
    await expect(pictures).toHaveCount(2);
    const seen = (): Promise<string[]> =>
      pictures.evaluateAll((all) => all.map((canvas) => (canvas as HTMLCanvasElement).toDataURL()));
    const before = await seen();
    await page.getByRole('button', { name: 'Closer' }).click();
    await expect.poll(async () => (await seen()).map((picture, i) => picture !== before[i])).toEqual([true, true]);
    await page.getByRole('button', { name: 'whole' }).click();
    await expect.poll(seen).toEqual(before);
    expect(problems).toEqual([]);
    await close();
  });

  for (const width of [1024, 1280, 1920, 2560])
    test(`fits a window ${width} wide, in every view`, async ({ stage }) => {
      const { page, problems, close } = await openProject(stage);
      await page.setViewportSize({ width, height: 800 });
      for (const view of ['Build', 'Watch', 'Repeat', 'Vary', 'Match', 'Tell'] as const) {
        await goTo(page, view);
        await settled(page);
        const { over, tall } = await page.evaluate(() => ({
          over: document.documentElement.scrollWidth - innerWidth,
          tall: [...document.querySelectorAll('.btn, .btn-strong')].filter(
            (button) => button.getBoundingClientRect().height > 44,
          ).length,
        }));
        expect({ view, over, tall }).toEqual({ view, over: 0, tall: 0 });
      }
      expect(problems).toEqual([]);
      await close();
    });
});
