// Measures the page in the browser of the tests: `npm run bench -- page`. Agents turn, move and change between two states, then a million of them follow trails, as fast as the worker can, in Watch; then a map of 200,000 lanes is dropped, walked on, and dragged. `page trails` measures that alone, so do others by their names.
/* global requestAnimationFrame, DataTransfer, DragEvent, Worker -- in the page */
import { readFileSync } from 'node:fs';
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

/** The yardstick of trails, without an end that comes soon, and shown. */
const TRAILS =
  readFileSync(new URL('../packages/core/bench/yardsticks/trails.vole', import.meta.url), 'utf8').replace(
    'end after 8 steps',
    'end after 1000000 steps',
  ) + 'show f: straw to russet\nshow Vole: dot\n';
const CROWDS = [
  ['1,000 agents', modelOf(1000)],
  ['100,000 agents', modelOf(100_000)],
  ['1,000,000 agents', modelOf(1_000_000)],
  ['1,000,000 on trails', TRAILS],
];

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

/** How often the page comes round, its longest gaps, its tasks of more than 50 ms, and how many pictures of the run are drawn. */
const measure = (ms) =>
  new Promise((resolve) => {
    const gaps = [];
    const long = [];
    const drawnBefore = globalThis.drawn;
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
        resolve({
          rounds: gaps.length,
          median: gaps[gaps.length >> 1],
          longest: gaps.at(-1),
          long,
          pictures: globalThis.drawn - drawnBefore,
        });
      }
    };
    requestAnimationFrame(tick);
  });

/** Counts what the page tells its worker that it has drawn; in the page. */
const countPictures = () => {
  const { postMessage } = Worker.prototype;
  globalThis.drawn = 0;
  Worker.prototype.postMessage = function (message, ...rest) {
    if (message?.is === 'frame drawn') globalThis.drawn++;
    return postMessage.call(this, message, ...rest);
  };
};

/** Writes a text in place of that of the demo. */
async function pageWith(text) {
  const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
  await page.addInitScript(countPictures);
  await page.goto(url);
  await page.getByTestId('now').waitFor();
  await page.getByLabel('Model text').click();
  await page.keyboard.press('Control+A');
  await page.keyboard.insertText(text);
  return page;
}

function told({ rounds, median, longest, long, pictures }) {
  const worst = long.length > 0 ? `, the longest ${Math.max(...long)} ms` : '';
  return `${(pictures / (MEASURED / 1000)).toFixed(0)} pictures a second   the page comes round ${(rounds / (MEASURED / 1000)).toFixed(0)} times a second   median gap ${median.toFixed(0)} ms, longest ${longest.toFixed(0)} ms   ${long.length} tasks over 50 ms${worst}`;
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
  const wanted = process.argv.slice(3);
  const isWanted = (name) => wanted.length === 0 || wanted.some((word) => name.includes(word));
  for (const [name, text] of CROWDS.filter(([name]) => isWanted(name))) {
    const page = await pageWith(text);
    await watch(page);
    await page.waitForTimeout(WARMING);
    const stepOf = async () => Number(/step (\d+) of/.exec(await page.getByTestId('now').innerText())[1]);
    const before = await stepOf();
    const found = await page.evaluate(measure, MEASURED);
    const steps = ((await stepOf()) - before) / (MEASURED / 1000);
    console.log(`${name.padStart(19)}   ${steps.toFixed(1)} steps a second   ${told(found)}`);
    await page.close();
  }
  if (isWanted('map')) await mapOfStreets();
} finally {
  await browser.close();
  server.kill();
}
