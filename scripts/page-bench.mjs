// Measures the page in the browser of the tests: `npm run bench -- page`. Agents turn, move and change between two states, as fast as the worker can, in Watch; then a map of 200,000 lanes is dropped, walked on, and dragged.
/* global requestAnimationFrame, DataTransfer, DragEvent -- in the page */
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

const ON_MAP = `model Streets
clock
  step 10 s
  end after 100000 steps
space Village: map from "streets.geojson", in metres
agent Vole
  start 2000 anywhere
  has goal = (whole(0, 9) * 1 km, 6 km)
  behaviour go
    travel to goal at 80 m per minute
order
  go in turn
measure voles = count Vole
show Vole: dot
`;

/** Drops a made-up map of streets at right angles, 40 m apart, of so many each way; in the page. */
const dropStreets = (side) => {
  const features = [];
  for (let i = 0; i < side; i++)
    for (const isRow of [true, false]) {
      const coordinates = Array.from({ length: side }, (_, j) => (isRow ? [j * 40, i * 40] : [i * 40, j * 40]));
      features.push({
        type: 'Feature',
        properties: { kind: i % 8 === 0 ? 'road' : 'lane' },
        geometry: { type: 'LineString', coordinates },
      });
    }
  const data = new DataTransfer();
  data.items.add(new File([JSON.stringify({ type: 'FeatureCollection', features })], 'streets.geojson'));
  document
    .querySelector('main')
    .dispatchEvent(new DragEvent('drop', { dataTransfer: data, bubbles: true, cancelable: true }));
};

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

/** Writes a text in place of that of the demo. */
async function pageWith(text) {
  const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
  await page.goto(url);
  await page.getByTestId('now').waitFor();
  await page.getByLabel('Model text').click();
  await page.keyboard.press('Control+A');
  await page.keyboard.insertText(text);
  return page;
}

function told({ rounds, median, longest, long }) {
  const worst = long.length > 0 ? `, the longest ${Math.max(...long)} ms` : '';
  return `the page comes round ${(rounds / (MEASURED / 1000)).toFixed(0)} times a second   median gap ${median.toFixed(0)} ms, longest ${longest.toFixed(0)} ms   ${long.length} tasks over 50 ms${worst}`;
}

async function watch(page) {
  await page.getByRole('radio', { name: 'all it can' }).click();
  await page.getByRole('navigation', { name: 'The six views' }).getByRole('button', { name: 'Watch' }).click();
}

async function mapOfStreets() {
  const page = await pageWith(ON_MAP);
  await page.getByText(/to mend/).waitFor();
  const start = Date.now();
  await page.evaluate(dropStreets, 317);
  await page.getByText('The text is right.').waitFor({ timeout: 120_000 });
  console.log(`200,344 lanes dropped: read, kept and running after ${((Date.now() - start) / 1000).toFixed(1)} s`);
  await watch(page);
  await page.waitForTimeout(WARMING);
  console.log(`map   2,000 travellers, the whole in the picture   ${told(await page.evaluate(measure, MEASURED))}`);
  for (let i = 0; i < 8; i++) await page.getByRole('button', { name: 'Closer' }).click();
  const dragged = page.evaluate(measure, MEASURED);
  await page.mouse.move(640, 350);
  await page.mouse.down();
  for (let end = Date.now() + MEASURED, i = 0; Date.now() < end; i++)
    await page.mouse.move(640 + 150 * Math.sin(i / 9), 350 + 120 * Math.cos(i / 7));
  await page.mouse.up();
  console.log(`map   close by, dragged about   ${told(await dragged)}`);
  await page.close();
}

try {
  for (const agents of [1000, 100_000, 1_000_000]) {
    const page = await pageWith(modelOf(agents));
    await watch(page);
    await page.waitForTimeout(WARMING);
    const stepOf = async () => Number(/step (\d+) of/.exec(await page.getByTestId('now').innerText())[1]);
    const before = await stepOf();
    const found = await page.evaluate(measure, MEASURED);
    const steps = ((await stepOf()) - before) / (MEASURED / 1000);
    console.log(
      `${agents.toLocaleString('en-GB').padStart(9)} agents   ${steps.toFixed(0)} steps a second   ${told(found)}`,
    );
    await page.close();
  }
  await mapOfStreets();
} finally {
  await browser.close();
  server.kill();
}
