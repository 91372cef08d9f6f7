import { spawnSync } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { createRequire } from 'node:module';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { Page } from '@playwright/test';
import { HtmlValidate } from 'html-validate';
import { expect, filesOf, goTo, modelText, openProject, reload, saved, test } from './stage.ts';

/** Tell: the report, told from the text and the studies, filled in where it stands, and read back by other programs. */

const AXE = readFileSync(createRequire(import.meta.url).resolve('axe-core/axe.min.js'), 'utf8');

async function ranRepeat(page: Page, seeds: number): Promise<void> {
  await goTo(page, 'Repeat');
  await page.getByLabel('Number of seeds').fill(String(seeds));
  await page.getByLabel('Number of seeds').press('Enter');
  await page.getByRole('button', { name: /^Run/ }).first().click();
  await expect(page.getByTestId('repeat-progress')).toHaveText(`${seeds} of ${seeds} done`);
}

async function taken(page: Page, form: string): Promise<{ name: string; path: string }> {
  const [download] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('region', { name: 'Take it along' }).getByRole('button', { name: form, exact: true }).click(),
  ]);
  return { name: download.suggestedFilename(), path: await download.path() };
}

test('places of the report are filled in where they stand, are kept in the text, and wait no more', async ({
  stage,
}) => {
  const { page, problems, close } = await openProject(stage);
  await goTo(page, 'Tell');
  const outline = page.getByRole('region', { name: 'Report' });
  const waiting = async (): Promise<number> => {
    const said = /(A|\d+) places? wait/.exec(await outline.innerText().catch(() => ''))?.[1] ?? '0';
    return said === 'A' ? 1 : Number(said);
  };
  await expect
    .poll(() => page.getByRole('article').getByRole('textbox', { name: 'Purpose', exact: true }).count())
    .toBe(1);
  await page
    .getByRole('article')
    .getByRole('textbox', { name: 'Purpose', exact: true })
    .fill('To see whether kestrels\nkeep the meadow green.');
  await page.getByRole('article').getByRole('textbox', { name: 'Purpose', exact: true }).blur();
  await expect.poll(() => modelText(page)).toContain('  Purpose: To see whether kestrels keep the meadow green.\n');
  const before = await waiting();
  const place = page.getByRole('article').getByRole('textbox', { name: 'Learning', exact: true });
  const said = await place.inputValue();
  await place.fill('');
  await place.blur();
  await expect.poll(waiting).toBe(said ? before + 1 : before);
  await outline.getByRole('button', { name: 'see' }).click();
  await expect(page.locator('textarea:focus')).toHaveAttribute('data-waits', 'true');
  await place.fill('None: voles decide at all ages alike.');
  await place.blur();
  await expect.poll(waiting).toBe(said ? before : before - 1);
  await expect.poll(() => modelText(page)).toContain('  Learning: None: voles decide at all ages alike.\n');
  await reload(page);
  await expect(page.getByRole('article').getByRole('textbox', { name: 'Learning', exact: true })).toHaveValue(
    'None: voles decide at all ages alike.',
  );
  expect(problems).toEqual([]);
  await close();
});

test('studies are told with their runs, figures and numbers; the modeler says which, and of what', async ({
  stage,
}) => {
  const { page, problems, close } = await openProject(stage);
  await ranRepeat(page, 6);
  await goTo(page, 'Tell');
  const study = page.getByRole('article').getByRole('region', { name: '6 seeds' });
  await expect(study).toContainText('6 runs.', { useInnerText: true });
  await expect(study).toContainText('seeds 1 to 6', { useInnerText: true });
  await expect(study.getByRole('img')).toHaveCount(2);
  await expect(study.getByRole('figure').first()).toContainText(/voles.*median, bands with 50 % and 90 % of 6 runs/, {
    useInnerText: true,
  });

  // The mean of the table is the mean of the runs.
  const { text: csv } = await saved(page, filesOf(page, 'Meadow year repeat summaries'), 'CSV');
  const [head, ...rows] = csv
    .trim()
    .split('\n')
    .filter((line) => !line.startsWith('#'));
  const column = head!.split(',').indexOf('peak');
  const peaks = rows.map((row) => Number(row.split(',')[column]));
  const mean = peaks.reduce((a, b) => a + b, 0) / peaks.length;
  const cell = study
    .getByRole('row', { name: /^peak / })
    .getByRole('cell')
    .filter({ hasText: / to / });
  const told = Number(/^[\d.]+/.exec((await cell.innerText()).replace(/\s/g, ''))![0]);
  expect(Math.abs(told - mean)).toBeLessThan(1);

  // Another figure, and then nothing of it; both are there after a reload.
  const choices = page.getByRole('region', { name: 'Put in' });
  await choices.getByLabel('nests').check();
  await expect(study.getByRole('img')).toHaveCount(3);
  await reload(page);
  await expect(study.getByRole('img')).toHaveCount(3);
  await choices.getByLabel(/^6 seeds/).uncheck();
  await expect(study).toHaveCount(0);
  await choices.getByLabel(/^6 seeds/).check();
  await expect(study.getByRole('img')).toHaveCount(3);
  expect(problems).toEqual([]);
  await close();
});

test('the report is read back by other programs: HTML by a validator and by axe, DOCX by a word processor', async ({
  stage,
}) => {
  const { page, problems, close } = await openProject(stage);
  await ranRepeat(page, 4);
  await goTo(page, 'Tell');
  await page.getByLabel('Notes').fill('Kestrels keep voles <few> & the grass green.\n\nMore is open.');
  const study = page.getByRole('article').getByRole('region', { name: '4 seeds' });
  await expect(study.getByRole('img')).toHaveCount(2);

  const html = await taken(page, 'HTML');
  expect(html.name).toBe('meadow-year.html');
  const text = readFileSync(html.path, 'utf8');
  const { results } = await new HtmlValidate({ extends: ['html-validate:recommended'] }).validateString(text);
  expect(results.flatMap(({ messages }) => messages.map(({ ruleId, message }) => `${ruleId}: ${message}`))).toEqual([]);
  const other = await stage.visitor();
  await other.page.setContent(text);
  await expect(other.page.getByRole('heading', { name: '4 seeds' })).toBeVisible();
  await expect(other.page.getByText('Kestrels keep voles <few> & the grass green.')).toBeVisible();
  await other.page.evaluate(AXE);
  const found = await other.page.evaluate(async () => {
    const { axe } = window as unknown as {
      axe: { run: () => Promise<{ violations: { id: string; nodes: { html: string }[] }[] }> };
    };
    return (await axe.run()).violations.map(({ id, nodes }) => `${id}: ${nodes[0]?.html.slice(0, 160)}`);
  });
  expect(found).toEqual([]);

  const docx = await taken(page, 'DOCX');
  const folder = mkdtempSync(join(tmpdir(), 'vole-docx-'));
  try {
    const { status } = spawnSync(
      'soffice',
      [
        `-env:UserInstallation=file://${folder}/profile`,
        '--headless',
        '--convert-to',
        'txt:Text',
        '--outdir',
        folder,
        docx.path,
      ],
      { encoding: 'utf8', timeout: 500_000 },
    );
    expect(status).toBe(0);
    const name = docx.path
      .split('/')
      .at(-1)!
      .replace(/\.[^.]*$/, '');
    const read = readFileSync(join(folder, `${name}.txt`), 'utf8');
    for (const part of ['Purpose and patterns', 'Kestrels keep voles <few> & the grass green.', 'of 4 runs', 'forage'])
      expect(read).toContain(part);
  } finally {
    rmSync(folder, { recursive: true, force: true });
  }
  expect([...problems, ...other.problems]).toEqual([]);
  await other.context.close();
  await close();
});

test('numbers in sentences follow their study, checks are told, and a frozen report stays as it is', async ({
  stage,
}) => {
  const { page, problems, close } = await openProject(stage);
  await goTo(page, 'Tell');
  const sheet = page.getByRole('article');
  // Typed before there is anything to tell of: the field stays the same one.
  await page.getByLabel('Notes').pressSequentially('The most voles were');
  await expect(page.getByLabel('Notes')).toHaveValue('The most voles were');
  await ranRepeat(page, 4);
  await goTo(page, 'Tell');
  await page.getByLabel('Quote a number').selectOption('mean of peak in 4 seeds');
  await expect(page.getByLabel('Notes')).toHaveValue('The most voles were {mean of peak in 4 seeds}');
  const reads = sheet.getByRole('group', { name: 'As it reads' });
  await expect(reads).toHaveText(/^The most voles were \d[\d.]*$/);
  const before = await reads.innerText();

  await page.getByRole('button', { name: 'Run the checks' }).click();
  await expect(sheet.getByRole('region', { name: 'Checks' })).toContainText('Nobody hunts, nobody is taken');
  await page.getByRole('button', { name: 'Freeze the report' }).click();
  await expect(page.getByRole('region', { name: 'Frozen or not' })).toContainText('Frozen on');
  await expect(sheet.getByRole('textbox')).toHaveCount(0);
  await expect(sheet.getByRole('region', { name: 'What came out' })).toContainText(before);
  const html = await taken(page, 'HTML');
  expect(readFileSync(html.path, 'utf8')).toContain(before);

  // More seeds: the frozen report keeps its numbers, over a reload too, and says that there are others; thawed, it follows.
  await ranRepeat(page, 8);
  await goTo(page, 'Tell');
  await expect(page.getByTestId('moved-on')).toBeVisible();
  await expect(sheet.getByRole('region', { name: 'What came out' })).toContainText(before);
  await reload(page);
  await expect(sheet.getByRole('region', { name: 'What came out' })).toContainText(before);
  await page.getByRole('button', { name: 'Let it follow again' }).click();
  await expect(page.getByLabel('Notes')).toHaveValue('The most voles were {mean of peak in 4 seeds}');
  await expect(reads).toContainText('The most voles were');
  expect(problems).toEqual([]);
  await close();
});
