// Measures the page in the browser of the tests: `npm run bench -- page`. Agents turn, move and change between two states, as fast as the worker can, in Watch.
/* global requestAnimationFrame -- in the page */
import { browser, server, url } from './served.mjs';

const WARMING = 6000;
const MEASURED = 8000;
const modelOf = (agents) => `model Crowd
clock
  end after 1000000 steps
space Field: plane 2000 m by 2000 m, wrapping
agent Vole
  start ${agents} anywhere
  states mood
    Calm
      chance 0.1: Loud
    Loud
      chance 0.1: Calm
  behaviour roam
    turn by uniform(-30, 30) deg
    move by 1 m
order
  roam in turn
  mood in turn
measure calm = count Vole where it.mood is Calm
show Vole: dot, colour by mood
`;

/** How often the page comes round, its longest gaps, and its tasks of more than 50 ms. */
const measure = (ms) =>
  new Promise((resolve) => {
    const gaps = [];
    const long = [];
    const observer = new PerformanceObserver((list) =>
      long.push(...list.getEntries().map((entry) => Math.round(entry.duration))),
    );
    observer.observe({ entryTypes: ['longtask'] });
    let last = performance.now();
    const end = last + ms;
    const tick = () => {
      const now = performance.now();
      gaps.push(now - last);
      last = now;
      if (now < end) requestAnimationFrame(tick);
      else {
        observer.disconnect();
        gaps.sort((a, b) => a - b);
        resolve({ rounds: gaps.length, median: gaps[gaps.length >> 1], longest: gaps.at(-1), long });
      }
    };
    requestAnimationFrame(tick);
  });

try {
  for (const agents of [1000, 100_000, 1_000_000]) {
    const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
    await page.goto(url);
    await page.getByTestId('now').waitFor();
    await page.getByLabel('Model text').click();
    await page.keyboard.press('Control+A');
    await page.keyboard.insertText(modelOf(agents));
    await page.getByRole('radio', { name: 'all it can' }).click();
    await page.getByRole('navigation', { name: 'The six views' }).getByRole('button', { name: 'Watch' }).click();
    await page.waitForTimeout(WARMING);
    const stepOf = async () => Number(/step (\d+) of/.exec(await page.getByTestId('now').innerText())[1]);
    const before = await stepOf();
    const { rounds, median, longest, long } = await page.evaluate(measure, MEASURED);
    const steps = ((await stepOf()) - before) / (MEASURED / 1000);
    const worst = long.length > 0 ? `, the longest ${Math.max(...long)} ms` : '';
    console.log(
      `${agents.toLocaleString('en-GB').padStart(9)} agents   ${steps.toFixed(0)} steps a second   the page comes round ${(rounds / (MEASURED / 1000)).toFixed(0)} times a second   median gap ${median.toFixed(0)} ms, longest ${longest.toFixed(0)} ms   ${long.length} tasks over 50 ms${worst}`,
    );
    await page.close();
  }
} finally {
  await browser.close();
  server.kill();
}
