import type { ChildProcess } from 'node:child_process';
import { spawn } from 'node:child_process';
import { readFileSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import type { Browser, BrowserContext, Locator, Page } from '@playwright/test';
import { test as base, expect } from '@playwright/test';
import { fitCamera, toPicture } from '../packages/web/src/drawing/camera.ts';
import type { ProjectRow } from '../packages/web/src/storage/schema.ts';
import { BESIDE_CARDS } from '../packages/web/src/watch/card-room.ts';

export { expect } from '@playwright/test';

/** The real application, as `npm start` serves it, in a real browser. */

const ROOT = fileURLToPath(new URL('..', import.meta.url));
export interface Stage {
  readonly browser: Browser;
  readonly url: string;
  /** A new visitor: a browser profile with nothing stored. */
  readonly visitor: () => Promise<{ context: BrowserContext; page: Page; problems: string[] }>;
}

/** Tests of the page: each has the application served for its worker, and opens visitors as it needs them. */
export const test = base.extend<object, { readonly stage: Stage }>({
  stage: [
    async ({ browser }, use) => {
      const server = spawn(process.execPath, ['packages/server/dist/server.mjs'], {
        cwd: ROOT,
        env: { ...process.env, PORT: '0', CI: '1' },
        stdio: ['ignore', 'pipe', 'inherit'],
      });
      const url = await addressOf(server);
      await use({
        browser,
        url,
        visitor: async () => {
          const context = await browser.newContext({ viewport: { width: 1280, height: 800 }, acceptDownloads: true });
          const page = await context.newPage();
          return { context, page, problems: watchProblems(page) };
        },
      });
      server.kill();
    },
    { scope: 'worker' },
  ],
});

/** Everything a page complains about; tests end by expecting none. */
export function watchProblems(page: Page): string[] {
  const problems: string[] = [];
  page.on('pageerror', (error) => problems.push(error.message));
  page.on('console', (message) => {
    if (message.type() === 'error') problems.push(message.text());
  });
  return problems;
}

function addressOf(server: ChildProcess): Promise<string> {
  return new Promise((resolve, reject) => {
    let said = '';
    const timer = setTimeout(() => reject(new Error(`The server did not start: ${said}`)), 120_000);
    server.stdout!.on('data', (data: Buffer) => {
      said += data.toString();
      const address = /http:\/\/localhost:\d+/.exec(said)?.[0];
      if (!address) return;
      clearTimeout(timer);
      resolve(address);
    });
  });
}

/** Goes to a view by the path of six, and waits until it is the one on show: until then what is asked for may be found in the one before. */
export async function goTo(page: Page, view: 'Build' | 'Watch' | 'Repeat' | 'Vary' | 'Match' | 'Tell'): Promise<void> {
  const step = page.getByRole('navigation', { name: 'The six views' }).getByRole('button', { name: view });
  await step.click();
  await expect(step).toHaveAttribute('aria-current', 'page');
}

/** Step of the run on show, read where the modeler reads it. */
export async function stepOf(page: Page): Promise<number> {
  const text = await page.getByTestId('now').innerText();
  return Number(/step (\d+) of/.exec(text)![1]);
}

/** Has the run rest at a step, also one that came to its end meanwhile, on a machine that is slow. */
export async function runTo(page: Page, step: number): Promise<void> {
  await page.getByLabel('Step, date or condition to run to').fill(String(step));
  await page.keyboard.press('Enter');
  await expect.poll(() => stepOf(page)).toBe(step);
  // One that was running may have passed by there before it heard of it.
  await settled(page);
  await expect.poll(() => stepOf(page)).toBe(step);
}

/** Has the run rest at its start, beyond which it has not been. */
export async function beginAnew(page: Page): Promise<void> {
  await runTo(page, 0);
  await page.getByRole('button', { name: 'Start again' }).click();
  await expect.poll(() => stepOf(page)).toBe(0);
}

/** The picture of a paused run at a step, once it is drawn. */
export async function pictureAt(page: Page, step: number): Promise<string> {
  const canvas = page.locator(`main canvas[data-step="${step}"]`).first();
  await settled(page);
  return canvas.evaluate((element) => (element as HTMLCanvasElement).toDataURL());
}

/** Puts a text into the model editor, as pasting over everything does. */
export async function writeModel(page: Page, text: string): Promise<void> {
  await page.getByLabel('Model text').click();
  await page.keyboard.press('Control+A');
  await page.keyboard.insertText(text);
}

/** Writes another word into a sentence. */
export async function editWord(page: Page, label: string, value: string): Promise<void> {
  const word = page.getByLabel(label, { exact: true });
  await word.fill(value);
  await word.press('Enter');
}

/** Waits until what was written is stored. */
async function isSaved(page: Page): Promise<void> {
  await page.waitForFunction(() => document.querySelector('header [role=status]')?.textContent?.startsWith('saved'));
}

/** Loads the page anew, once what was written is stored: before, the browser asks the modeler whether to lose it. */
export async function reload(page: Page): Promise<void> {
  await isSaved(page);
  await page.reload();
}

export async function modelText(page: Page): Promise<string> {
  await isSaved(page);
  return (await storedProject(page)).text;
}

/** The open project as it is stored. What is kept with it besides name and text is not in the word “saved”. */
export async function storedProject(page: Page): Promise<ProjectRow> {
  return page.evaluate(
    () =>
      new Promise<ProjectRow>((resolve, reject) => {
        const id = location.pathname.split('/')[2]!;
        const open = indexedDB.open('vole-parade');
        open.onerror = () => reject(new Error('no storage'));
        open.onsuccess = () => {
          const get = open.result.transaction('projects').objectStore('projects').get(id);
          get.onsuccess = () => {
            open.result.close();
            resolve(get.result as ProjectRow);
          };
        };
      }),
  );
}

/** Waits until completion, search and repairs are there in the editor, which can be written in before. */
async function editorKnows(page: Page): Promise<void> {
  await page.locator('[aria-busy=false] > .cm-editor').waitFor();
}

/** A visitor with the demo, or with an example or a new project. */
export async function openProject(
  stage: Stage,
  project?: string,
): Promise<{ page: Page; close: () => Promise<void>; problems: string[] }> {
  const { context, page, problems } = await stage.visitor();
  await page.goto(stage.url);
  await page.getByTestId('now').waitFor();
  if (project) {
    await page.goto(`${stage.url}/projects`);
    await page
      .getByRole('button', { name: new RegExp(`^${project}`) })
      .first()
      .click();
    await page.getByTestId('now').waitFor();
  }
  await editorKnows(page);
  return { page, problems, close: () => context.close() };
}

/** Puts a part of the shelf into the text. */
export async function putIn(page: Page, purpose: string, name: RegExp): Promise<void> {
  await page.getByRole('radio', { name: purpose, exact: true }).click();
  await page.getByRole('button', { name }).click();
  await page.getByRole('img', { name: /^A small run/ }).waitFor();
  await page.getByRole('button', { name: 'Put it into the text' }).click();
}

/** How many there are, by the key; not a number while the key does not tell. */
export async function countIn(page: Page, name: RegExp): Promise<number> {
  const cells = await page.getByTestId('key').getByRole('row', { name }).getByRole('cell').allInnerTexts();
  return cells[2] === undefined ? NaN : Number(cells[2].replace(/\D/g, ''));
}

/** Where a place of a space lies on the page in Watch while the whole of it is shown. */
export async function spotOf(
  page: Page,
  space: { readonly width: number; readonly height: number },
  x: number,
  y: number,
): Promise<{ x: number; y: number }> {
  const picture = (await page.getByRole('img', { name: /^The space of the run, live/ }).boundingBox())!;
  const spot = toPicture(fitCamera(space, picture, BESIDE_CARDS), picture, x, y);
  return { x: picture.x + spot.x, y: picture.y + spot.y };
}

/** Drags the pointer from one place of a space to another, by small pieces. */
export async function paintLine(
  page: Page,
  space: { readonly width: number; readonly height: number },
  from: readonly [number, number],
  to: readonly [number, number],
): Promise<void> {
  const [start, end] = [await spotOf(page, space, ...from), await spotOf(page, space, ...to)];
  await page.mouse.move(start.x, start.y);
  await page.mouse.down();
  await page.mouse.move(end.x, end.y, { steps: 15 });
  await page.mouse.up();
}

/** A file that is saved when a button is pressed, of what a part of the page shows. */
export async function saved(
  page: Page,
  from: Page | Locator,
  name: string,
): Promise<{ readonly name: string; readonly path: string; readonly text: string; readonly bytes: Buffer }> {
  const [download] = await Promise.all([
    page.waitForEvent('download'),
    from.getByRole('button', { name, exact: true }).click(),
  ]);
  const path = await download.path();
  const bytes = readFileSync(path);
  return { name: download.suggestedFilename(), path, text: bytes.toString('utf8'), bytes };
}

/** The files of what is called so: of a table or a figure. */
export function filesOf(page: Page, title: string): Locator {
  return page.getByRole('group', { name: `${title}, as files` });
}

/** Waits until nothing moves on the page any more: letters are there, nothing glides, and what was asked for is drawn. */
export async function settled(page: Page): Promise<void> {
  await page.evaluate(async () => {
    await document.fonts.ready;
    await Promise.all(document.getAnimations().map((animation) => animation.finished.catch(() => undefined)));
    for (let i = 0; i < 2; i++) await new Promise((done) => requestAnimationFrame(done));
  });
}
