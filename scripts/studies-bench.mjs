// Measures large studies in the browser of the tests, as a part of `npm run bench -- studies`.
import { readFileSync } from 'node:fs';
import { browser, server, url } from './served.mjs';

const MODEL = readFileSync(new URL('../packages/core/bench/much-measured.vole', import.meta.url), 'utf8');
const LARGE = `study Large
  vary pull 200 values from 0 to 1
  50 seeds each
`;
const LONG = `study Long
  vary pull 200 values from 0 to 1
  5000 seeds each
  end after 2 steps
  keep every 2 steps
`;
const LIMIT = 1_200_000;

/** A page with the model, in Vary. @param cores as many as the page is told that there are */
async function opened(cores) {
  const context = await browser.newContext({ viewport: { width: 1280, height: 800 } });
  context.setDefaultTimeout(LIMIT);
  await context.addInitScript((count) => {
    Object.defineProperty(navigator, 'hardwareConcurrency', { value: count });
    globalThis.longTasks = [];
    new PerformanceObserver((list) =>
      globalThis.longTasks.push(...list.getEntries().map(({ duration }) => Math.round(duration))),
    ).observe({ entryTypes: ['longtask'] });
  }, cores);
  const page = await context.newPage();
  await page.goto(url);
  await page.getByTestId('now').waitFor();
  await page.getByLabel('Model text').click();
  await page.keyboard.press('Control+A');
  await page.keyboard.insertText(MODEL);
  await page.getByRole('navigation', { name: 'The six views' }).getByRole('button', { name: 'Vary' }).click();
  await page.getByRole('button', { name: /^as text/ }).click();
  return { context, page };
}

/** Runs a study to its end. @returns seconds it took */
async function ran(page, text, runs) {
  await page.getByRole('textbox', { name: 'Text of the study' }).fill(text);
  await page.evaluate(() => void (globalThis.longTasks.length = 0));
  const from = performance.now();
  await page.getByRole('button', { name: `Run ${runs.toLocaleString('en-GB')} runs` }).click();
  await page.getByText(`${runs} of ${runs} done`).waitFor();
  return (performance.now() - from) / 1000;
}

const tasks = async (page) => {
  const long = await page.evaluate(() => globalThis.longTasks);
  return `${long.length} tasks of the page over 50 ms, the longest ${Math.max(0, ...long)} ms`;
};

/** The most memory that the process of the page has had, with all its workers. */
async function memory() {
  const session = await browser.newBrowserCDPSession();
  const { processInfo } = await session.send('SystemInfo.getProcessInfo');
  const sizes = processInfo
    .filter(({ type }) => type === 'renderer')
    .map(({ id }) => Number(/VmHWM:\s+(\d+)/.exec(readFileSync(`/proc/${id}/status`, 'utf8'))?.[1] ?? 0));
  return `${(Math.max(...sizes) / 1024).toFixed(0)} MB`;
}

/** Milliseconds until something is seen. */
async function until(act, seen) {
  const from = performance.now();
  await act();
  await seen.waitFor();
  return `${(performance.now() - from).toFixed(0)} ms`;
}

try {
  for (const cores of [1, 2]) {
    const { context, page } = await opened(cores);
    const seconds = await ran(page, LARGE, 10_000);
    console.log(
      `10,000 runs, 10 measures, 200 rows, ${cores} ${cores === 1 ? 'worker' : 'workers'}: ${(10_000 / seconds).toFixed(0)} runs a second; ${await tasks(page)}; at most ${await memory()}`,
    );
    if (cores === 2) {
      const summary = page.getByRole('combobox', { name: 'Summary' });
      for (const name of ['s4', 's7'])
        console.log(
          `another summary: ${await until(() => summary.selectOption(name), page.getByRole('heading', { name: `${name} against pull` }))}`,
        );
      const each = page.getByRole('combobox', { name: 'A row for' });
      console.log(
        `a row for every run: ${await until(() => each.selectOption('every run'), page.getByText('10,000 runs', { exact: true }))}`,
      );
      console.log(
        `opened again: ${await until(() => page.reload(), page.getByRole('heading', { name: 's0 against pull' }))} until its curves are there; at most ${await memory()}`,
      );
    }
    await context.close();
  }
  const { context, page } = await opened(2);
  const seconds = await ran(page, LONG, 1_000_000);
  console.log(
    `1,000,000 short runs, 2 workers: ${(1e6 / seconds).toFixed(0)} runs a second; ${await tasks(page)}; at most ${await memory()}`,
  );
  const each = page.getByRole('combobox', { name: 'A row for' });
  const count = page.getByText('1,000,000 runs', { exact: true });
  console.log(`their table: ${await until(() => each.selectOption('every run'), count)}`);
  const sorted = page.locator('th[aria-sort="ascending"]', { hasText: 's3' });
  console.log(`sorted: ${await until(() => page.getByRole('button', { name: 's3', exact: true }).click(), sorted)}`);
  console.log(
    `filtered: ${await until(() => page.getByRole('textbox', { name: 'Filter' }).fill('pull < 0.1'), page.getByText(/^100,000 of 1,000,000 runs$/))}; at most ${await memory()}`,
  );
  await context.close();
} finally {
  await browser.close();
  server.kill();
}
