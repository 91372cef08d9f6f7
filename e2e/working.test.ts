import {
  beginAnew,
  countIn,
  expect,
  goTo,
  modelText,
  openProject,
  pictureAt,
  reload,
  runTo,
  stepOf,
  test,
  writeModel,
} from './stage.ts';

/** Smaller tasks of a working day, done as a person does them: with mouse and keyboard. */

test.describe('Build', () => {
  test('the outline goes to a part, the editor completes names, undo takes back, the layout is put right', async ({
    stage,
  }) => {
    const { page, problems, close } = await openProject(stage);
    await page.getByRole('navigation', { name: 'Outline' }).getByRole('button', { name: 'soar' }).click();
    await expect.poll(() => page.locator('.cm-activeLine').innerText()).toContain('behaviour soar');
    const before = await modelText(page);
    await page.keyboard.press('End');
    await page.keyboard.press('Enter');
    await page.keyboard.type('let reach = kest');
    await page.locator('.cm-tooltip-autocomplete').getByText('kestrels').click();
    await expect.poll(() => page.locator('.cm-activeLine').innerText()).toContain('let reach = kestrels');
    // There is nothing before the beginning, so once too often does no harm.
    for (let i = 0; i < 12; i++) await page.keyboard.press('Control+z');
    await expect.poll(() => modelText(page)).toBe(before);
    await page.getByRole('button', { name: 'put in usual layout' }).click();
    await expect.poll(() => modelText(page)).toContain('parameter bite = 0.15, from 0 to 1 "share');
    await expect(page.getByTestId('findings')).toHaveText('The text is right.', { useInnerText: true });
    expect(problems).toEqual([]);
    await close();
  });

  test('a change of a number shows in the run, which begins anew', async ({ stage }) => {
    const { page, close } = await openProject(stage);
    const text = await modelText(page);
    await runTo(page, 60);
    await writeModel(page, text.replace('founders = 300', 'founders = 1234'));
    await expect.poll(() => stepOf(page)).toBe(0);
    const voles = async () => {
      const counts = await Promise.all([/Pup Vole/, /Adult Vole/, /Nesting Vole/].map((state) => countIn(page, state)));
      return counts.reduce((sum, count) => sum + count, 0);
    };
    await expect.poll(voles).toBe(1234);
    await close();
  });

  test('an error under the pointer says what is wrong and offers its repair', async ({ stage }) => {
    const { page, close } = await openProject(stage);
    await writeModel(page, 'model M\nclock\n  end after 9 steps\nparameter bite = 1, from 0 to 2\nmeasure m = bitte\n');
    await page.locator('.cm-lintRange-error').first().waitFor();
    await page.locator('.cm-lintRange-error').first().hover();
    await page.locator('.cm-tooltip-lint').getByText('“bitte” is not known here').waitFor();
    await page.locator('.cm-tooltip-lint .cm-diagnosticAction', { hasText: 'Write “bite”' }).click();
    await expect.poll(() => modelText(page)).toContain('measure m = bite');
    await close();
  });
});

test.describe('Watch', () => {
  test('plays, pauses and steps by keyboard; the pace is a word; the ribbon is dragged with the mouse', async ({
    stage,
  }) => {
    const { page, problems, close } = await openProject(stage);
    await goTo(page, 'Watch');
    await runTo(page, 90);
    // At this pace it is still playing when it is paused, however late that is.
    await page.getByRole('radio', { name: '1', exact: true }).click();
    await page.getByRole('button', { name: 'Play' }).click();
    await expect.poll(() => stepOf(page)).toBeGreaterThan(90);
    await page
      .locator('main')
      .first()
      .click({ position: { x: 640, y: 20 } });
    await page.keyboard.press('Space');
    await page.getByRole('button', { name: 'Play' }).waitFor();
    const paused = await stepOf(page);
    await page.keyboard.press('.');
    await expect.poll(() => stepOf(page)).toBe(paused + 1);
    const ribbon = (await page.getByRole('slider', { name: /Reading line/ }).boundingBox())!;
    await page.mouse.move(ribbon.x + ribbon.width * 0.2, ribbon.y + 30);
    await page.mouse.down();
    await page.mouse.move(ribbon.x + ribbon.width * 0.1, ribbon.y + 30, { steps: 5 });
    await page.mouse.up();
    await expect.poll(() => stepOf(page)).toBe(73);
    await page.getByRole('radio', { name: 'all it can' }).click();
    await page.getByRole('button', { name: 'Play' }).click();
    await expect.poll(() => page.getByTestId('now').innerText()).toMatch(/step 730 of 730.*ended/);
    expect(problems).toEqual([]);
    await close();
  });

  test('zooms to the pointer, pans and fits; another seed is another run, the same seed the same', async ({
    stage,
  }) => {
    const { page, close } = await openProject(stage);
    await goTo(page, 'Watch');
    await beginAnew(page);
    const picture = (): Promise<string> => pictureAt(page, 0);
    const fitted = await picture();
    await page.getByRole('img', { name: /space of the run/ }).hover({ position: { x: 600, y: 300 } });
    await page.mouse.wheel(0, -600);
    await expect.poll(picture).not.toBe(fitted);
    const close_up = await picture();
    await page.mouse.down();
    await page.mouse.move(700, 420, { steps: 4 });
    await page.mouse.up();
    await expect.poll(picture).not.toBe(close_up);
    await page.getByRole('button', { name: 'whole' }).click();
    await expect.poll(picture).toBe(fitted);
    await page.getByRole('button', { name: 'another seed' }).click();
    await expect.poll(() => page.getByTestId('now').innerText()).toContain('seed 2');
    await expect.poll(picture).not.toBe(fitted);
    for (const wrong of ['1e400', '-1', '3.5', '9007199254740993', 'abc']) {
      await page.getByLabel('Seed', { exact: true }).fill(wrong);
      await page.getByLabel('Seed', { exact: true }).press('Enter');
      await page.getByText(`from 0 to 9,007,199,254,740,991, not “${wrong}”`).waitFor();
    }
    await expect(page.getByTestId('now')).toContainText('seed 2', { useInnerText: true });
    await page.getByLabel('Seed', { exact: true }).fill('1');
    await page.getByLabel('Seed', { exact: true }).press('Enter');
    await expect.poll(() => page.getByTestId('now').innerText()).toContain('seed 1');
    await expect.poll(picture).toBe(fitted);
    await close();
  });

  test('a switch by hand is noted on the ribbon, and the run can be started again with it', async ({ stage }) => {
    const { page, close } = await openProject(stage);
    await goTo(page, 'Watch');
    // In summer, when the timeline lets them breed, however far the run has come meanwhile.
    await runTo(page, 130);
    await page.getByRole('switch', { name: 'breeding' }).click();
    await page.getByText(/by hand: breeding yes to no/).waitFor();
    await page.getByRole('button', { name: 'start again with these values' }).click();
    await expect.poll(() => stepOf(page)).toBeLessThan(60);
    await close();
  });
});

test.describe('the cards over the space', () => {
  test('are dragged by their headings, folded by a click, moved by keys, found again after a reload, and put back', async ({
    stage,
  }) => {
    const { page, problems, close } = await openProject(stage);
    await goTo(page, 'Watch');
    const card = (name: string) => page.getByRole('region', { name, exact: true });
    const heading = (name: string) => card(name).getByRole('button', { name, exact: true });
    const placeOf = async (name: string): Promise<{ x: number; y: number }> => {
      const { x, y } = (await card(name).boundingBox())!;
      return { x, y };
    };
    const home = await placeOf('Key');
    const below = await placeOf('Values');
    const held = (await heading('Key').boundingBox())!;
    await page.mouse.move(held.x + 12, held.y + 8);
    await page.mouse.down();
    await page.mouse.move(held.x + 200, held.y + 60, { steps: 5 });
    await page.mouse.move(held.x + 412, held.y + 108, { steps: 5 });
    await page.mouse.up();
    const dropped = await placeOf('Key');
    expect([dropped.x - home.x, dropped.y - home.y]).toEqual([400, 100]);
    await heading('Key').locator('xpath=self::*[@aria-expanded="true"]').waitFor();
    // What stood below moves up into the room that is left.
    expect((await placeOf('Values')).y).toBeLessThan(below.y);
    await heading('Key').click();
    await heading('Key').locator('xpath=self::*[@aria-expanded="false"]').waitFor();
    await heading('Click').focus();
    const before = await placeOf('Click');
    await page.keyboard.press('Shift+ArrowRight');
    expect((await placeOf('Click')).x).toBeGreaterThan(before.x);
    await page.keyboard.press('Home');
    expect(await placeOf('Click')).toEqual(before);
    await reload(page);
    await heading('Key').locator('xpath=self::*[@aria-expanded="false"]').waitFor();
    expect(await placeOf('Key')).toEqual(dropped);
    await page.keyboard.press('Control+k');
    await page.getByPlaceholder('Find an action').fill('cards');
    await page.keyboard.press('Enter');
    await expect.poll(() => placeOf('Key')).toEqual(home);
    expect(problems).toEqual([]);
    await close();
  });
});

/** Bytes of scripts and styles of the first view, as they come over the wire. */
const MOST_AT_FIRST = 400_000;

test.describe('everywhere', () => {
  test('the first view runs the model with what it needs, and the rest comes after it', async ({ stage }) => {
    const { context, page, problems } = await stage.visitor();
    const asked = () =>
      page.evaluate(() =>
        (performance.getEntriesByType('resource') as PerformanceResourceTiming[])
          .filter(({ name }) => /\.(?:js|css)$/.test(name))
          .map(({ name, encodedBodySize }) => ({ name, bytes: encodedBodySize })),
      );
    // A page that has something to do until the test says otherwise.
    await page.addInitScript(() => {
      const waiting: IdleRequestCallback[] = [];
      window.requestIdleCallback = (then) => waiting.push(then);
      window.addEventListener('nothing-to-do', () => {
        for (const then of waiting.splice(0)) then({ didTimeout: false, timeRemaining: () => 50 });
      });
    });
    await page.goto(stage.url);
    await expect.poll(() => stepOf(page)).toBeGreaterThan(2);
    const first = await asked();
    expect(first.length).toBeGreaterThan(5);
    expect(first.reduce((sum, { bytes }) => sum + bytes, 0)).toBeLessThan(MOST_AT_FIRST);
    const later = ['editor-help', 'study-runner', 'TellView', 'ActionSearch'];
    const loaded = async () => {
      const names = (await asked()).map(({ name }) => name);
      return later.filter((part) => names.some((name) => name.includes(`/${part}-`)));
    };
    expect(await loaded()).toEqual([]);
    await page.evaluate(() => window.dispatchEvent(new Event('nothing-to-do')));
    await expect.poll(loaded).toEqual(later);
    expect(problems).toEqual([]);
    await context.close();
  });

  test('search finds actions, the theme stays after a reload, the ribbon folds, help opens', async ({ stage }) => {
    const { page, problems, close } = await openProject(stage);
    await page.keyboard.press('Control+k');
    await page.getByPlaceholder('Find an action').fill('dusk');
    await page.keyboard.press('Enter');
    await expect.poll(() => page.evaluate(() => document.documentElement.dataset.theme)).toBe('dusk');
    await reload(page);
    await expect.poll(() => page.evaluate(() => document.documentElement.dataset.theme)).toBe('dusk');
    await page.getByRole('button', { name: 'fold', exact: true }).click();
    await page.getByRole('button', { name: 'unfold' }).waitFor();
    await page.getByRole('button', { name: 'Help' }).click();
    await page.getByRole('dialog').getByText('How this works').waitFor();
    await page.keyboard.press('Escape');
    await expect.poll(() => page.getByRole('dialog').count()).toBe(0);
    expect(problems).toEqual([]);
    await close();
  });

  test('printing Tell prints the report alone, and all of it', async ({ stage }) => {
    const { page, problems, close } = await openProject(stage);
    await goTo(page, 'Tell');
    await page.getByRole('article').getByRole('heading', { name: 'Parameters' }).waitFor();
    const before = await page.getByRole('article').innerText();
    await page.emulateMedia({ media: 'print' });
    await expect.poll(() => page.getByRole('navigation', { name: 'The six views' }).isVisible()).toBe(false);
    await expect(page.getByRole('button', { name: 'Bundle' })).toBeHidden();
    const printed = page.getByRole('article');
    expect(before).toContain(await printed.getByRole('table').last().innerText());
    // Nothing round it scrolls or cuts it: the page is as long as the report.
    const [report, whole] = await page.evaluate(() => [
      document.querySelector('article')!.getBoundingClientRect().height,
      document.documentElement.scrollHeight,
    ]);
    expect(report).toBeGreaterThan(300);
    expect(whole).toBeGreaterThanOrEqual(report);
    expect(problems).toEqual([]);
    await close();
  });

  test('a name of a project that is not here is said, with a way out', async ({ stage }) => {
    const { page, close } = await openProject(stage);
    await page.goto(`${stage.url}/project/none/watch`);
    await page.getByText('This project is not in this browser').waitFor();
    await page.getByRole('link', { name: 'All projects' }).click();
    await page.getByRole('link', { name: 'Meadow year' }).waitFor();
    await close();
  });

  test('names that every object knows are names like others, in every view', async ({ stage }) => {
    const { page, problems, close } = await openProject(stage);
    await writeModel(
      page,
      'model constructor\nclock\n  step 1 h\n  end after 30 steps\nparameter constructor = 3, whole from 0 to 9\nparameter toString = 0.5, from 0 to 1\nspace valueOf: plane 30 by 30, wrapping\nagent hasOwnProperty\n  start 20 anywhere\n  has length = 1\n  behaviour go\n    move by toString\n    length += constructor\norder\n  go in turn\nmeasure isPrototypeOf = mean of it.length over hasOwnProperty\nsummary toJSON = last of isPrototypeOf\nshow hasOwnProperty: leaf\nchart toString: isPrototypeOf\n',
    );
    await goTo(page, 'Watch');
    await expect.poll(() => stepOf(page)).toBe(30);
    await goTo(page, 'Repeat');
    await expect.poll(() => page.getByTestId('study-values').innerText()).toBe('With the values of the text.');
    await page.getByRole('button', { name: 'Run 40 seeds' }).click();
    await expect.poll(() => page.getByTestId('repeat-progress').innerText()).toBe('40 of 40 done');
    await page.getByText('toJSON').first().waitFor();
    await goTo(page, 'Vary');
    await page.getByLabel('Parameter 1').selectOption('constructor');
    await page.getByRole('button', { name: /^Run \d+ runs/ }).click();
    await expect.poll(() => page.getByTestId('vary-progress').innerText()).toMatch(/^(\d+) of \1 done/);
    await expect(page.getByRole('region', { name: 'Combinations' })).toContainText(/3\s+91\s/, { useInnerText: true });
    expect(problems).toEqual([]);
    await close();
  });

  test('studies say what they cannot do: wrong values, a text with errors', async ({ stage }) => {
    const { page, close } = await openProject(stage);
    await goTo(page, 'Vary');
    const values = page.getByLabel('Values 1');
    for (const [text, said] of [
      ['0 to 5 by 1', /goes from 0 to 1.*lies outside/],
      ['many', /no number/],
      ['1 to 0 by 0.1', /goes up/],
    ] as const) {
      await values.fill(text);
      await values.press('Enter');
      await expect.poll(() => page.getByRole('alert').innerText()).toMatch(said);
      expect(await page.getByRole('button', { name: /^Run/ }).isDisabled()).toBe(true);
    }
    await goTo(page, 'Build');
    await writeModel(page, 'model M\nclock\n');
    await goTo(page, 'Repeat');
    await page.getByText('The text has errors. Mend them in Build').waitFor();
    await close();
  });
});
