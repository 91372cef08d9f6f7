import { expect, goTo, modelText, openProject, test } from './stage.ts';

/** The manual: beside the work, searched, reached from words and from results, its listings opened and run; nothing is fetched for it. */

test('is searched, reached from the word under the cursor and from a result, and its recipes open as projects with their studies', async ({
  stage,
}) => {
  const { page, problems, close } = await openProject(stage);
  const manual = page.getByRole('dialog', { name: 'Manual' });
  await page.getByRole('button', { name: 'Help' }).click();
  await page.getByRole('button', { name: 'Open the manual' }).click();
  await expect(manual.getByRole('article', { name: 'A tour of ten minutes' })).toBeVisible();

  await manual.getByRole('button', { name: 'Close' }).click();
  // From a word of the language in the text.
  await page.locator('.cm-content').getByText('clock', { exact: true }).click();
  await page.keyboard.press('F1');
  await expect(manual.getByRole('article', { name: 'The model language' })).toBeVisible();
  await expect(manual.locator('.manual-sought')).toBeInViewport();
  await expect(manual.locator('.manual-sought')).toContainText('clock');
  await page.keyboard.press('Escape');
  await expect(manual).toHaveCount(0);
  // Once it was opened it needs no network, and the run beside it goes on.
  await page.context().setOffline(true);
  await page.getByRole('button', { name: 'Help' }).click();
  await page.getByRole('button', { name: 'Open the manual' }).click();
  await manual.getByLabel('Search the manual').fill('threshold');
  await manual.getByRole('button', { name: 'Where is the threshold?' }).click();
  const recipe = manual.locator('[data-section="recipes#where-is-the-threshold"]');
  await expect(recipe).toBeInViewport();
  await manual.getByLabel('Search the manual').fill('zzzqqq');
  await expect(manual.getByRole('status')).toHaveText('Nothing is found for “zzzqqq”. Try other words.');
  await manual.getByRole('button', { name: 'Close' }).click();
  await expect(manual).toHaveCount(0);

  await page.context().setOffline(false);

  // From the heading of a result.
  await goTo(page, 'Repeat');
  await page.getByLabel('Number of seeds').fill('3');
  await page.getByLabel('Number of seeds').press('Enter');
  await page.getByRole('button', { name: /^Run/ }).first().click();
  await expect(page.getByTestId('repeat-progress')).toHaveText('3 of 3 done');
  await page
    .getByRole('region', { name: /over Meadow year/ })
    .getByRole('button', { name: 'What this means' })
    .click();
  await expect(manual.locator('[data-section="statistics#bands-over-runs"]')).toBeInViewport();

  // A recipe is a project of its own, with its study ready in Vary; what was open stays as it was.
  const before = page.url();
  await manual.getByLabel('Search the manual').fill('how long does it last');
  await manual.getByRole('button', { name: 'How long does it last?' }).click();
  await manual
    .locator('[data-section="recipes#how-long-does-it-last"]')
    .getByRole('button', { name: 'open with its study' })
    .click();
  await page.waitForURL(/\/vary$/);
  expect(page.url()).not.toBe(before);
  await page.keyboard.press('Escape');
  await expect(page.getByLabel('Name of the project')).toHaveValue('Last ones in the pen');
  await expect(page.getByRole('textbox', { name: 'Text of the study' })).toHaveValue(
    /vary founders {2}2, 4, 8, 16, 32/,
  );
  await goTo(page, 'Build');
  await expect.poll(() => modelText(page)).toContain('end when count Vole is 0');
  await expect(page.getByText('The text is right.')).toBeVisible();
  expect(problems).toEqual([]);
  await close();
});
