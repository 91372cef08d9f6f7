import { spawnSync } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import type { Page } from '@playwright/test';
import type { Stage } from './stage.ts';
import { editWord, expect, filesOf, goTo, reload, saved, test, writeModel } from './stage.ts';

const VOLE = fileURLToPath(new URL('../packages/cli/bin/vole.mjs', import.meta.url));

/** Voles that a spring lets increase and that are counted with traps: quick to run, and told of by both unknowns. */
const MODEL = `model Spring
clock
  step 1 day from 2031-03-01
  end after 40 days
parameter litters = 0.05, from 0 to 0.2
parameter catch_rate = 0.5, from 0.1 to 0.9
agent Vole
  start 60
  behaviour breed
    if chance(litters)
      create 1 Vole
measure voles = count Vole
summary most = max of voles
`;
/** Made with litters of 0.06 and a catch rate of 0.4; no cell is a real count. */
const COUNTS = `# made up for this test
day;caught;weather
05.03.2031;28,5;wet
10.03.2031;38;dry
15.03.2031;;dry
20.03.2031;66;wet
25.03.2031;91;dry
31.03.2031;132;dry
05.04.2031;177;wet
`;

/** Match of a project with the model above and no table. */
async function matchPage(stage: Stage) {
  const visitor = await stage.visitor();
  const { page } = visitor;
  await page.goto(stage.url);
  await page.getByTestId('now').waitFor();
  await writeModel(page, MODEL);
  await goTo(page, 'Match');
  await page.getByRole('region', { name: 'Tables' }).getByRole('button', { name: 'remove' }).click();
  await page.getByRole('button', { name: 'as text', exact: true }).click();
  await page.getByLabel('Text of the match').fill('');
  await page.getByRole('button', { name: 'as a sentence', exact: true }).click();
  return visitor;
}

async function importCounts(page: Page): Promise<void> {
  await page
    .getByLabel('Observed data as CSV')
    .setInputFiles({ name: 'counts.csv', mimeType: 'text/csv', buffer: Buffer.from(COUNTS) });
}

test('counts are imported with a preview, tied to an expression, calibrated with pause and reload, and answered for', async ({
  stage,
}) => {
  const { context, page, problems } = await matchPage(stage);

  // The preview tells what the columns hold, and asks for what it cannot know.
  await importCounts(page);
  const preview = page.getByRole('dialog', { name: 'counts.csv' });
  await expect(preview).toContainText('made up for this test');
  await expect(preview.getByLabel('Column day is')).toHaveValue('time');
  await expect(preview.getByRole('status')).toContainText('of which measure they are: voles');
  const take = preview.getByRole('button', { name: 'Take it' });
  await expect(take).toBeDisabled();
  await preview.getByLabel('Column weather is').selectOption('not used');
  await preview.getByLabel('Column caught is compared with').fill('voles * catch_rate');
  await preview.getByLabel('Values were observed').selectOption('mean over the interval');
  await editWord(page, 'Error of observing', '10 %');
  await expect(preview.getByTestId('preview-read')).toContainText('voles * catch_rate: 6 values, 1 gap');
  await take.click();
  await expect(page.getByRole('region', { name: 'Comparison' })).toContainText('caught of counts.csv', {
    useInnerText: true,
  });

  // Scores against the runs of Repeat, the last two counts held out.
  await goTo(page, 'Repeat');
  await page.getByRole('button', { name: /^Run/ }).first().click();
  await expect(page.getByTestId('repeat-progress')).toHaveText(/^(\d+) of \1 done$/);

  // The well-mixed limit lies dashed over the fan: 60 voles that increase by litters a day.
  await page.getByLabel('mean-field reference').check();
  await expect(page.getByTestId('mean-field-line')).toBeVisible();
  await page.getByRole('button', { name: 'its equations' }).click();
  const reference = page.getByRole('dialog', { name: 'Mean-field reference' });
  await expect(reference.getByTestId('equations').locator('mfrac').first()).toBeVisible();
  await expect(reference.getByTestId('reasons')).toContainText('There are 60 agents at first');
  await reference.getByRole('button', { name: 'Close' }).click();
  const fan = page.getByRole('region', { name: 'voles over Spring' });
  await fan.getByRole('button', { name: 'as table' }).click();
  const atEnd = fan.locator('tbody tr').last().locator('td').last();
  await expect.poll(async () => Number(await atEnd.innerText())).toBeCloseTo(60 * Math.exp(0.05 * 40), 2);
  await goTo(page, 'Match');
  await page.getByLabel('mean-field reference').check();
  await expect(page.getByTestId('mean-field-line')).toBeVisible();
  await editWord(page, 'Held out from', '2031-03-28');
  await expect.poll(() => page.getByTestId('observed-point').count()).toBe(6);
  await expect(page.getByTestId('held-out')).toBeVisible();
  const scores = page.getByRole('region', { name: 'How well does it agree' });
  await expect(scores).toContainText(/inside the 90 % band\s*\d of 4[^]*?\d of 2/, { useInnerText: true });
  for (const [form, seen] of [
    ['residuals', 'plotted-point'],
    ['observed against simulated', 'plotted-point'],
    ['at a date', 'at-date'],
  ] as const) {
    await page.getByRole('button', { name: form, exact: true }).click();
    await expect(page.getByTestId(seen).first()).toBeVisible();
  }
  await page.getByRole('button', { name: 'over time', exact: true }).click();

  // A click opens the nearest run in Watch, at that time.
  const plot = (await page.getByTestId('match-plot').boundingBox())!;
  await page.mouse.click(plot.x + plot.width / 4, plot.y + plot.height / 2);
  await page.waitForURL(/\/watch$/);
  await expect(page.getByTestId('now')).toContainText('step 10 of', { useInnerText: true });
  await goTo(page, 'Match');

  // Two parameters are sought; the search is paused, the page closed, and gone on with.
  await page.getByLabel('Find another parameter').selectOption('litters');
  await page.getByLabel('Find another parameter').selectOption('catch_rate');
  await editWord(page, 'Draws', '60 draws');
  // Long enough that it is still under way when it is paused, on a quick machine too.
  await editWord(page, 'Runs at most', '3000 runs');
  await page.getByRole('button', { name: 'Search', exact: true }).click();
  await expect(page.getByTestId('search-state')).toBeVisible();
  await page.getByRole('button', { name: 'Pause' }).click();
  const goOn = page.getByRole('button', { name: 'Go on', exact: true });
  await goOn.waitFor();
  await reload(page);
  await goOn.waitFor();
  await expect(page.getByTestId('search-state')).toContainText('so far', { useInnerText: true });
  await goOn.click();
  await expect(page.getByTestId('match-progress')).toHaveText(/^(\d+) of \1 done$/);
  await expect(page.getByTestId('search-state')).not.toContainText('so far', { useInnerText: true });

  // The answer: posteriors, words, what is predicted over what is held out.
  await expect(page.locator('[data-unknown="litters"]')).toBeVisible();
  await expect(page.getByTestId('in-words')).toContainText(/observations .*litters/, { useInnerText: true });
  await expect(page.getByTestId('held-out')).toBeVisible();
  await expect(scores).toContainText(/inside the 90 % band\s*\d of 4[^]*?\d of 2/, { useInnerText: true });
  await page.getByRole('button', { name: 'as a paragraph for a paper' }).click();
  await expect(page.getByLabel('Paragraph for a paper')).toHaveValue(/litters \(0 to 0\.2\).*90 % credible interval/s);

  // The same numbers as on the command line.
  const { text: posterior } = await saved(page, filesOf(page, 'counts posterior'), 'CSV');
  const rows = posterior.replace(/^(?:#.*\n)+/, '');
  await page.getByRole('button', { name: 'as text', exact: true }).click();
  const text = await page.getByLabel('Text of the match').inputValue();
  expect(rows.trim()).toBe(onTheCommandLine(text).trim());

  // Draws become scenarios, which open in Watch.
  await page.getByRole('button', { name: 'save as scenarios' }).click();
  await goTo(page, 'Watch');
  await page.getByLabel('Scenario', { exact: true }).selectOption('Best of counts');
  await expect(page.getByLabel('Scenario', { exact: true })).toHaveValue('Best of counts');

  // A bundle takes the search along; it is read again in a terminal, and told of.
  await goTo(page, 'Tell');
  const bundle = await saved(page, page, 'Bundle');
  expect(toldInTerminal(bundle.bytes)).toMatch(
    /## counts\n[\s\S]*The posterior medians are litters .*and catch\\_rate 0/,
  );
  expect(problems).toEqual([]);
  await context.close();
});

/** The report of a bundle by the command line. */
function toldInTerminal(bundle: Buffer): string {
  const folder = mkdtempSync(join(tmpdir(), 'vole-e2e-'));
  try {
    writeFileSync(join(folder, 'spring.voleparade'), bundle);
    const told = [VOLE, 'report', join(folder, 'spring.voleparade'), '--out', join(folder, 'spring.md')];
    const { status, stderr } = spawnSync(process.execPath, told, { encoding: 'utf8' });
    expect({ status, stderr: status === 0 ? '' : stderr }).toEqual({ status: 0, stderr: '' });
    return readFileSync(join(folder, 'spring.md'), 'utf8');
  } finally {
    rmSync(folder, { recursive: true, force: true });
  }
}

/** The posterior of a match by the command line. */
function onTheCommandLine(text: string): string {
  const folder = mkdtempSync(join(tmpdir(), 'vole-e2e-'));
  try {
    writeFileSync(join(folder, 'spring.vole'), MODEL);
    writeFileSync(join(folder, 'counts.csv'), COUNTS);
    writeFileSync(join(folder, 'spring.match'), text);
    const { status, stderr } = spawnSync(
      process.execPath,
      [VOLE, 'match', join(folder, 'spring.match'), '--out', join(folder, 'out')],
      { encoding: 'utf8' },
    );
    expect({ status, stderr: status === 0 ? '' : stderr }).toEqual({ status: 0, stderr: '' });
    return readFileSync(join(folder, 'out', 'posterior.csv'), 'utf8');
  } finally {
    rmSync(folder, { recursive: true, force: true });
  }
}

test('studies of a project are ranked together, and one is taken out again', async ({ stage }) => {
  const { context, page, problems } = await matchPage(stage);
  await importCounts(page);
  const preview = page.getByRole('dialog', { name: 'counts.csv' });
  await preview.getByLabel('Column weather is').selectOption('not used');
  await preview.getByLabel('Column caught is compared with').fill('voles * catch_rate');
  await preview.getByRole('button', { name: 'Take it' }).click();
  await goTo(page, 'Repeat');
  for (const seeds of ['12', '8']) {
    await editWord(page, 'Number of seeds', seeds);
    await page.getByRole('button', { name: `Run ${seeds} seeds` }).click();
    await expect(page.getByTestId('repeat-progress')).toHaveText(`${seeds} of ${seeds} done`);
  }
  await goTo(page, 'Match');
  const ranking = page.getByRole('region', { name: 'Ranking' });
  const rows = ranking.locator('tbody tr');
  await expect(rows).toHaveText([/8 runs.*best/]);
  await ranking.getByLabel('Another study in the ranking').selectOption({ index: 1 });
  // The same seeds from 1 on, so that eight are common to both.
  await expect(rows).toHaveCount(2);
  await expect(rows.filter({ hasText: '12 runs' })).toBeVisible();
  await expect(rows.filter({ hasText: 'no common seeds' })).toHaveCount(0);
  await ranking.getByRole('button', { name: 'without it' }).click();
  await expect(rows).toHaveCount(1);
  expect(problems).toEqual([]);
  await context.close();
});

test('a table is pasted and dropped; a text with mistakes is mended by a click and loses nothing', async ({
  stage,
}) => {
  const { context, page, problems } = await matchPage(stage);
  await page.evaluate(() => {
    const data = new DataTransfer();
    data.setData('text/plain', 'days\tvoles\n3\t70\n9\t80\n');
    document.querySelector('main')!.dispatchEvent(new ClipboardEvent('paste', { clipboardData: data, bubbles: true }));
  });
  await page.getByRole('dialog', { name: 'pasted.csv' }).getByRole('button', { name: 'Take it' }).click();
  const drop = (table: string): Promise<void> =>
    page.evaluate((csv) => {
      const data = new DataTransfer();
      data.items.add(new File([csv], 'dropped.csv', { type: 'text/csv' }));
      document.querySelector('main')!.dispatchEvent(new DragEvent('drop', { dataTransfer: data, bubbles: true }));
    }, table);
  // What is wrong with a table is brought into view, also where the tables stand below what is seen.
  await page.setViewportSize({ width: 1280, height: 440 });
  await drop('day,voles,note\n1,2,"two\n3,4,four\n');
  await expect(page.getByRole('alert').filter({ hasText: '“dropped.csv” was not taken. Line 2' })).toBeInViewport();
  await page.setViewportSize({ width: 1280, height: 800 });
  await drop('day,constructor\n1,2\n');
  await page.getByRole('dialog', { name: 'dropped.csv' }).getByRole('button', { name: 'Leave it' }).click();
  await page.getByRole('button', { name: 'as text', exact: true }).click();
  const text = page.getByLabel('Text of the match');
  await expect(text).toHaveValue(/observed "pasted.csv"\n {2}time is days in column days\n {2}voles from column voles/);
  const whole = await text.inputValue();
  await text.fill(`${whole}find liters 0 to 0.1\nby rejection, 20 draws, at most 100 runs\n`);
  await page.getByRole('button', { name: 'Write “litters”' }).click();
  await expect(text).toHaveValue(/find litters 0 to 0.1/);
  await expect(page.getByRole('button', { name: 'Search', exact: true })).toBeVisible();
  await reload(page);
  await page.getByRole('button', { name: 'as text', exact: true }).click();
  await expect(text).toHaveValue(/find litters 0 to 0.1/);
  expect(problems).toEqual([]);
  await context.close();
});
