import { readFileSync } from 'node:fs';
import type { Locator, Page } from '@playwright/test';
import { expect, goTo, modelText, reload, stepOf, test, watchProblems, writeModel } from './stage.ts';

const SMALL =
  'model Small\nclock\n  end after 400 steps\nspace S: plane 50 by 50, wrapping\nagent A\n  start 40 anywhere\n  behaviour go\n    turn by normal(0 deg, 30 deg)\n    move by 1\nmeasure n = count A\nshow A: leaf\n';

const projectsOf = (page: Page): Locator => page.getByRole('list', { name: 'Your projects' }).getByRole('listitem');

test.describe('keeping', () => {
  test('new, rename, duplicate, delete and undo; everything survives a reload', async ({ stage }) => {
    const { context, page, problems } = await stage.visitor();
    await page.goto(`${stage.url}/projects`);
    await page.getByRole('button', { name: 'New project' }).click();
    await page.waitForURL(/\/build$/);
    await expect.poll(() => stepOf(page)).toBeGreaterThan(2);
    await writeModel(page, SMALL);
    expect(await modelText(page)).toBe(SMALL);
    await reload(page);
    await expect.poll(() => page.locator('.cm-content').innerText()).toContain('model Small');
    await page.getByRole('link', { name: 'all projects' }).click();
    await page.getByRole('button', { name: 'rename' }).click();
    await page.getByLabel('New name').fill('First voles');
    await page.getByLabel('New name').press('Enter');
    await page.getByRole('link', { name: 'First voles' }).waitFor();
    await page.getByRole('button', { name: 'duplicate' }).click();
    await page.getByRole('link', { name: 'First voles, copy' }).waitFor();
    await projectsOf(page).filter({ hasText: 'copy' }).getByRole('button', { name: 'delete' }).click();
    await expect.poll(() => projectsOf(page).count()).toBe(1);
    await page.getByRole('button', { name: 'Undo' }).click();
    await expect.poll(() => projectsOf(page).count()).toBe(2);
    expect(problems).toEqual([]);
    await context.close();
  });

  test('each example opens as a copy that runs', async ({ stage }) => {
    const { context, page, problems } = await stage.visitor();
    await page.goto(`${stage.url}/projects`);
    const examples = page.getByRole('region', { name: 'Examples' }).getByRole('listitem');
    const number = 7;
    await expect(examples).toHaveCount(number);
    for (let i = 0; i < number; i++) {
      await page.goto(`${stage.url}/projects`);
      await examples.nth(i).getByRole('button').click();
      await page.waitForURL(/\/build$/);
      await expect.poll(() => stepOf(page)).toBeGreaterThan(2);
    }
    await page.goto(`${stage.url}/projects`);
    await expect.poll(() => projectsOf(page).count()).toBe(number);
    expect(problems).toEqual([]);
    await context.close();
  });

  test('a view that stops gives the text in a plain editor and as a file, and the front door does not open into it', async ({
    stage,
  }) => {
    const { context, page } = await stage.visitor();
    await page.addInitScript(() => {
      const { getContext } = HTMLCanvasElement.prototype;
      HTMLCanvasElement.prototype.getContext = function (this: HTMLCanvasElement, ...given: unknown[]) {
        if (location.pathname.endsWith('/watch')) throw new Error('broken on purpose');
        return Reflect.apply(getContext, this, given);
      } as typeof getContext;
    });
    await page.goto(`${stage.url}/projects`);
    await page.getByRole('button', { name: 'New project' }).click();
    await page.waitForURL(/\/build$/);
    await writeModel(page, SMALL);
    await page.getByRole('button', { name: 'Watch' }).click();
    await page.getByRole('heading', { name: 'This view stopped' }).waitFor();
    await expect(page.locator('main')).toContainText('broken on purpose', { useInnerText: true });
    const editor = page.getByLabel('Model text, in a plain editor');
    await expect(editor).toHaveValue(SMALL);
    const [file] = await Promise.all([
      page.waitForEvent('download'),
      page.getByRole('button', { name: 'Text as a file' }).click(),
    ]);
    expect(readFileSync(await file.path(), 'utf8')).toBe(SMALL);
    await page.goto(stage.url);
    await page.waitForURL(/\/projects$/);
    await page.goBack();
    await editor.fill(SMALL.replace('start 40', 'start 41'));
    await page.getByRole('button', { name: 'Open it again' }).click();
    await page.waitForURL(/\/build$/);
    await expect.poll(() => page.locator('.cm-content').innerText()).toContain('start 41');
    await context.close();
  });

  test('two tabs with one project: both texts stay, the modeler chooses', async ({ stage }) => {
    const { context, page, problems } = await stage.visitor();
    await page.goto(stage.url);
    await page.getByTestId('now').waitFor();
    await writeModel(page, SMALL);
    await modelText(page);
    const second = await context.newPage();
    const more = watchProblems(second);
    await second.goto(page.url());
    await second.getByTestId('now').waitFor();
    // The second tab writes; the first takes it over, as it has nothing unsaved.
    await writeModel(second, SMALL.replace('start 40', 'start 41'));
    await expect.poll(() => page.locator('.cm-content').innerText()).toContain('start 41');
    // Both write before either hears of the other.
    await page.evaluate(() => {
      BroadcastChannel.prototype.postMessage = () => undefined;
    });
    await writeModel(page, SMALL.replace('start 40', 'start 42'));
    await modelText(page);
    await writeModel(second, SMALL.replace('start 40', 'start 43'));
    await second.getByText('Another tab saved this project').waitFor();
    await expect(second.locator('.cm-content')).toContainText('start 43', { useInnerText: true });
    await second.getByRole('button', { name: 'Keep mine as a copy' }).click();
    await second.waitForURL((url) => url.href !== page.url());
    await expect.poll(() => second.locator('.cm-content').innerText()).toContain('start 43');
    expect(await modelText(page)).toContain('start 42');
    expect([...problems, ...more]).toEqual([]);
    await context.close();
  });

  test('a study that was broken off by closing the page goes on later', async ({ stage }) => {
    const { context, page } = await stage.visitor();
    await page.goto(stage.url);
    await page.getByTestId('now').waitFor();
    const word = page.getByLabel('Number of seeds');
    await goTo(page, 'Repeat');
    await word.fill('600');
    await word.press('Enter');
    await page.getByRole('button', { name: 'Run 600 seeds' }).click();
    await expect
      .poll(async () => Number((await page.getByTestId('repeat-progress').innerText()).split(' ')[0]))
      .toBeGreaterThan(4);
    await reload(page);
    await page.getByTestId('repeat-progress').waitFor();
    const kept = Number((await page.getByTestId('repeat-progress').innerText()).split(' ')[0]);
    expect(kept).toBeGreaterThan(4);
    expect(kept).toBeLessThan(600);
    await page.getByRole('button', { name: 'Go on' }).click();
    await page.getByRole('button', { name: 'Cancel' }).click();
    await page.getByRole('button', { name: 'Go on' }).waitFor();
    expect(Number((await page.getByTestId('repeat-progress').innerText()).split(' ')[0])).toBeGreaterThanOrEqual(kept);
    await context.close();
  });
});

test.describe('bad input is said clearly, and nothing is lost', () => {
  test('files that are no bundle, no model, or too large', async ({ stage }) => {
    const { context, page, problems } = await stage.visitor();
    await page.goto(stage.url);
    await page.getByTestId('now').waitFor();
    await page.goto(`${stage.url}/projects`);
    const chooser = page.getByLabel('Bundle or model file');
    const files: [string, Buffer, RegExp][] = [
      [
        'half.voleparade',
        Buffer.from([0x50, 0x4b, 3, 4, 20, 0, 0, 0, 8, 0, 1, 2, 3]),
        /cut off, damaged, or of another kind/,
      ],
      ['large.vole', Buffer.alloc(5_000_000, 'x '), /5\.0 MB|5,000,000 characters/],
      ['picture.vole', Buffer.from([0x89, 0x50, 0x4e, 0x47, 0xff, 0xfe, 0x80]), /not a text/],
    ];
    for (const [name, buffer, said] of files) {
      await chooser.setInputFiles({ name, mimeType: 'application/octet-stream', buffer });
      await expect.poll(() => page.getByRole('alert').innerText()).toMatch(said);
    }
    await expect(projectsOf(page)).toHaveCount(1);
    expect(problems).toEqual([]);
    await context.close();
  });

  test('a bundle that was cut in half adds nothing', async ({ stage }) => {
    const { context, page } = await stage.visitor();
    await page.goto(stage.url);
    await page.getByTestId('now').waitFor();
    await goTo(page, 'Tell');
    const [download] = await Promise.all([
      page.waitForEvent('download'),
      page.getByRole('button', { name: 'Bundle' }).click(),
    ]);
    const whole = readFileSync(await download.path());
    await page.goto(`${stage.url}/projects`);
    await page.getByLabel('Bundle or model file').setInputFiles({
      name: 'half.voleparade',
      mimeType: 'application/zip',
      buffer: whole.subarray(0, whole.length / 2),
    });
    await expect.poll(() => page.getByRole('alert').innerText()).toMatch(/cut off, damaged.*nothing was changed here/);
    await expect(projectsOf(page)).toHaveCount(1);
    await page
      .getByLabel('Bundle or model file')
      .setInputFiles({ name: 'whole.voleparade', mimeType: 'application/zip', buffer: whole });
    await page.waitForURL(/\/build$/);
    await context.close();
  });

  test('storage that is full is said, the text stays on the page, and is saved when there is room again', async ({
    stage,
  }) => {
    const { context, page } = await stage.visitor();
    await page.goto(stage.url);
    await page.getByTestId('now').waitFor();
    await modelText(page);
    await page.evaluate(() => {
      const put = IDBObjectStore.prototype.put;
      (window as unknown as { restore: () => void }).restore = () => (IDBObjectStore.prototype.put = put);
      IDBObjectStore.prototype.put = () => {
        throw new DOMException('full', 'QuotaExceededError');
      };
    });
    await writeModel(page, SMALL);
    await expect.poll(() => page.getByRole('alert').first().innerText()).toMatch(/no room left.*still on this page/);
    await page.getByText('not stored', { exact: true }).waitFor();
    await page.evaluate(() => (window as unknown as { restore: () => void }).restore());
    await writeModel(page, SMALL.replace('start 40', 'start 44'));
    await expect.poll(() => modelText(page)).toContain('start 44');
    await expect(page.getByRole('alert')).toHaveCount(0);
    await context.close();
  });

  test('a step without end in sight does not keep a new text from running', async ({ stage }) => {
    const { context, page } = await stage.visitor();
    await page.goto(stage.url);
    await page.getByTestId('now').waitFor();
    await writeModel(
      page,
      SMALL.replace('start 40', 'start 60000').replace(
        '    move by 1',
        '    let n_near = count A where it.x > x\n    move by n_near / 60000',
      ),
    );
    await page.getByRole('button', { name: 'Stop it' }).waitFor();
    await writeModel(page, SMALL);
    await expect.poll(() => page.getByTestId('key').innerText()).toMatch(/A\s+40/);
    await expect.poll(() => stepOf(page)).toBeGreaterThan(3);
    await context.close();
  });

  test('observed data with missing columns, and words where numbers should be', async ({ stage }) => {
    const { context, page } = await stage.visitor();
    await page.goto(stage.url);
    await page.getByTestId('now').waitFor();
    await goTo(page, 'Match');
    const chooser = page.getByLabel('Observed data as CSV');
    const counts = page.getByRole('region', { name: 'Tables' }).getByText('meadow-year-trap-counts.csv');
    await counts.waitFor();
    await chooser.setInputFiles({ name: 'one.csv', mimeType: 'text/csv', buffer: Buffer.from('voles\n3\n4\n') });
    await expect
      .poll(() => page.getByRole('alert').first().innerText())
      .toMatch(/one\.csv.*one column only.*What was here before is kept/);
    await counts.waitFor();
    await chooser.setInputFiles({
      name: 'words.csv',
      mimeType: 'text/csv',
      buffer: Buffer.from('date,voles\n2031-04-01,many\nsoon,5\n'),
    });
    const preview = page.getByRole('dialog', { name: 'words.csv' });
    const wrong = preview.getByRole('alert');
    await expect(wrong).toContainText(/Line 2, column “voles”: “many” is no number/, { useInnerText: true });
    await expect(wrong).toContainText(/Line 3, column “date”: “soon” is no date/, { useInnerText: true });
    await expect(preview.getByRole('button', { name: 'Take it' })).toBeDisabled();
    await preview.getByRole('button', { name: 'Leave it' }).click();
    await expect(preview).toBeHidden();
    await counts.waitFor();
    await context.close();
  });

  test('an endless population stops with its reason while the page stays alive', async ({ stage }) => {
    const { context, page, problems } = await stage.visitor();
    await page.goto(stage.url);
    await page.getByTestId('now').waitFor();
    await writeModel(
      page,
      'model Endless\nclock\n  end after 100 steps\nagent A\n  start 2000\n  behaviour split\n    create 9 A\nmeasure n = count A\n',
    );
    await page.getByText(/there would be more than 2,000,000 agents/).waitFor();
    await writeModel(page, SMALL);
    await expect.poll(() => stepOf(page)).toBeGreaterThan(3);
    expect(problems).toEqual([]);
    await context.close();
  });

  test('twenty thousand agents run while the page goes on doing what it is asked', async ({ stage }) => {
    const { context, page, problems } = await stage.visitor();
    await page.goto(stage.url);
    await page.getByTestId('now').waitFor();
    // It goes on for longer than anybody looks.
    const long = SMALL.replace(/end after \d+ steps/, 'end after 1000000 steps');
    await writeModel(page, long.replace('start 40', 'start 20000').replace('50 by 50', '500 by 500'));
    await expect.poll(() => page.getByTestId('key').innerText()).toMatch(/A\s+20/);
    await goTo(page, 'Watch');
    const from = await stepOf(page);
    await goTo(page, 'Build');
    await page.getByLabel('Model text').waitFor();
    await goTo(page, 'Watch');
    await page.getByRole('button', { name: 'Closer' }).click();
    await expect.poll(() => stepOf(page)).toBeGreaterThan(from);
    await page.getByRole('button', { name: 'Pause' }).click();
    await page.getByRole('button', { name: 'Play' }).waitFor();
    expect(problems).toEqual([]);
    await context.close();
  });
});
