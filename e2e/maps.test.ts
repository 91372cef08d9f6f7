import { readFileSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import type { Page } from '@playwright/test';
import { strToU8, zipSync } from 'fflate';
import {
  countIn,
  expect,
  goTo,
  modelText,
  openProject,
  pictureAt,
  reload,
  runTo,
  saved,
  stepOf,
  test,
  writeModel,
} from './stage.ts';

/** Maps beside a model: brought in, kept, drawn, walked on, taken along. */

const MAP = readFileSync(fileURLToPath(new URL('../examples/hollowmere.osm', import.meta.url)), 'utf8');

const WALK = `model Walk
clock
  step 1 minute
  end after 60 minutes
space Hollowmere: map from "hollowmere.osm"
agent Vole
  start 40 within 60 m of place named "Mill"
  states errand
    Out
      on arrival: There
    There
  behaviour walk when errand is Out
    travel to place named "Green" at 3 km per h
order
  walk in turn
  errand in turn
measure there = count Vole where it.errand is There
show Vole: leaf, colour by errand
`;

async function drop(page: Page, name: string, text: string | Uint8Array): Promise<void> {
  await page.evaluate(
    ([file, content]) => {
      const data = new DataTransfer();
      data.items.add(new File([typeof content === 'string' ? content : Uint8Array.from(content)], file));
      document
        .querySelector('main')!
        .dispatchEvent(new DragEvent('drop', { dataTransfer: data, bubbles: true, cancelable: true }));
    },
    [name, typeof text === 'string' ? text : [...text]] as const,
  );
}

/** Takes the project along as a bundle and opens that as another project. */
async function openOwnBundle(page: Page, url: string): Promise<void> {
  await goTo(page, 'Tell');
  const bundle = await saved(page, page, 'Bundle');
  await page.goto(`${url}/projects`);
  await page
    .getByLabel('Bundle or model file')
    .setInputFiles({ name: bundle.name, mimeType: 'application/zip', buffer: bundle.bytes });
  await page.getByTestId('now').waitFor();
  await expect(page.getByTestId('findings')).toHaveText('The text is right.');
}

test('a map that is dropped becomes a space, is told, drawn and walked on, and is there after a reload', async ({
  stage,
}) => {
  const { page, problems, close } = await openProject(stage, 'New project');
  await drop(page, 'hollowmere.osm', MAP);
  const told = page.getByText(/hollowmere\.osm: 290 lanes of 23\.8 km \(residential/);
  await expect(told).toContainText('1 small part that hangs together with nothing else is left out (0.22 %)');
  await expect(told).toContainText('5 named places: Mill, Reeds, Bridge, Elder, Green');
  await expect.poll(() => modelText(page)).toContain('space Hollowmere: map from "hollowmere.osm"');

  await writeModel(page, WALK);
  await expect(page.getByTestId('findings')).toHaveText('The text is right.');
  await goTo(page, 'Watch');
  await expect.poll(() => countIn(page, /There/)).toBe(40);
  await expect(page.getByRole('heading', { name: 'Lanes' })).toBeVisible();

  await reload(page);
  await page.getByTestId('now').waitFor();
  await goTo(page, 'Build');
  await expect(page.getByTestId('findings')).toHaveText('The text is right.');
  expect(problems).toEqual([]);
  await close();
});

test('a map that is replaced makes runs and windows of before say so, and lets no run be added to them', async ({
  stage,
}) => {
  const { page, problems, close } = await openProject(stage, 'New project');
  await drop(page, 'hollowmere.osm', MAP);
  await expect.poll(() => modelText(page)).toContain('map from "hollowmere.osm"');
  await writeModel(page, WALK);
  await expect(page.getByTestId('findings')).toHaveText('The text is right.');
  const second = await page.context().newPage();
  await second.goto(page.url());
  await expect(second.getByTestId('findings')).toHaveText('The text is right.');

  await goTo(page, 'Repeat');
  await page.getByRole('button', { name: /^Run/ }).click();
  await expect(page.getByTestId('repeat-progress')).toHaveText('40 of 40 done');
  await expect(page.getByText(/beside the model has changed since/)).toBeHidden();

  // The mill lies elsewhere now.
  const moved = MAP.replace('v="Mill"', 'v="Old mill"')
    .replace('v="Green"', 'v="Mill"')
    .replace('v="Elder"', 'v="Green"');
  await drop(second, 'hollowmere.osm', moved);
  await expect(page.getByText(/“hollowmere\.osm” came from another window/)).toBeVisible();
  await expect(page.getByText(/“hollowmere\.osm” beside the model has changed since; these runs/)).toBeVisible();
  await page.getByRole('button', { name: 'run it again with the file of now' }).click();
  await expect(page.getByTestId('repeat-progress')).toHaveText('40 of 40 done');
  await expect(page.getByText(/beside the model has changed since/)).toBeHidden();
  expect(problems).toEqual([]);
  await close();
});

test('a file that is no map, or a broken one, is refused with its reason, and nothing is changed', async ({
  stage,
}) => {
  const { page, close } = await openProject(stage, 'New project');
  const before = await modelText(page);
  await drop(page, 'cut.osm', MAP.slice(0, 2000));
  await expect(
    page.getByText(/“cut\.osm” could not be taken: This XML cannot be read.*Nothing was changed/),
  ).toBeVisible();
  await drop(page, 'empty.geojson', '{"type":"FeatureCollection","features":[]}');
  await expect(
    page.getByText(/“empty\.geojson” could not be taken: The map has no ways.*Nothing was changed/),
  ).toBeVisible();
  expect(await modelText(page)).toBe(before);

  // A text that names a map which is not there says so, and offers to choose the file.
  await writeModel(page, WALK);
  await expect(page.getByTestId('findings')).toHaveText('1 to mend');
  const [chooser] = await Promise.all([
    page.waitForEvent('filechooser'),
    page.getByRole('button', { name: 'choose the file' }).click(),
  ]);
  await chooser.setFiles({ name: 'hollowmere.osm', mimeType: 'text/xml', buffer: Buffer.from(MAP) });
  await expect(page.getByTestId('findings')).toHaveText('The text is right.');
  await close();
});

test('Parade day runs on its map, the same in a copy and out of a bundle', async ({ stage }) => {
  const { page, problems, close } = await openProject(stage, 'Parade day');
  await goTo(page, 'Watch');
  const atStep40 = async (): Promise<readonly [string, number]> => {
    // Going to a step ends playing, wherever the run has come to.
    await runTo(page, 40);
    const picture = await pictureAt(page, 40);
    return [picture, await countIn(page, /Aboard/)];
  };
  const [picture, aboard] = await atStep40();
  expect(aboard).toBeGreaterThan(0);

  await openOwnBundle(page, stage.url);
  await goTo(page, 'Watch');
  expect(await atStep40()).toEqual([picture, aboard]);
  expect(problems).toEqual([]);
  await close();
});

test('who rides in a vehicle is seen from either side by a click', async ({ stage }) => {
  const { page, problems, close } = await openProject(stage, 'Parade day');
  await goTo(page, 'Watch');
  await runTo(page, 70);
  expect(await countIn(page, /Aboard/)).toBeGreaterThan(0);
  await page.getByRole('button', { name: 'table', exact: true }).click();
  // The row after the heads of the columns: the ferry that has been there longest.
  const rows = page.getByRole('row').filter({ has: page.getByRole('button') });
  await expect(page.getByRole('columnheader', { name: 'riders' })).toBeVisible();
  await rows.nth(1).getByRole('button').click();
  await expect(page.getByLabel('Ties')).toContainText(/Vole aboard \d+: Vole \d+/);
  const title = await page.getByRole('heading', { name: /^Ferry \d+/ }).innerText();
  const ferry = /^Ferry \d+/.exec(title)![0];
  await page
    .getByLabel('Ties')
    .getByRole('button', { name: /^Vole \d+$/ })
    .first()
    .click();
  await expect(page.getByLabel('Ties')).toHaveText(`Rides in 1: ${ferry}`);
  await expect(page.getByTestId('agent')).toContainText('Aboard');
  expect(problems).toEqual([]);
  await close();
});

test('lines are drawn, begun and changed by clicks on the map, and a traveller tells its journey', async ({
  stage,
}) => {
  const { page, problems, close } = await openProject(stage, 'Parade day');
  await goTo(page, 'Watch');
  await runTo(page, 40);
  const lines = page.getByRole('list', { name: 'Lines' });
  await expect(lines).toContainText('Ferries 5 stops');
  const box = (await page.locator('main canvas').first().boundingBox())!;
  const clickMap = (right: number, down: number): Promise<void> =>
    page.mouse.click(box.x + right * box.width, box.y + down * box.height);

  await lines.getByRole('button', { name: 'A click begins a new line' }).click();
  await clickMap(0.4, 0.4);
  await expect(page.getByRole('status').filter({ hasText: /It begins at \(\d+ m, \d+ m\)/ })).toBeVisible();
  await clickMap(0.7, 0.6);
  await expect(lines).toContainText('Ferry_line 2 stops');
  await lines.getByRole('button', { name: 'A click adds a stop to Ferry_line' }).click();
  await clickMap(0.5, 0.3);
  await expect(lines).toContainText('Ferry_line 3 stops');
  await lines.getByRole('button', { name: 'A click takes a stop out of Ferry_line' }).click();
  await clickMap(0.7, 0.6);
  await expect(lines).toContainText('Ferry_line 2 stops');
  await clickMap(0.7, 0.6);
  await expect(page.getByText('Ferry_line needs two stops or more.')).toBeVisible();
  await expect(lines).toContainText('Ferry_line 2 stops');
  // The run went on with the line that is there now.
  expect(await stepOf(page)).toBe(40);
  await goTo(page, 'Build');
  await expect(page.getByTestId('findings')).toHaveText('The text is right.');
  expect(await modelText(page)).toMatch(
    /line Ferry_line by Ferry\n {2}stops \(\d+ m, \d+ m\), \(\d+ m, \d+ m\)\n {2}every 10 minutes/,
  );

  await goTo(page, 'Watch');
  await page.getByRole('button', { name: 'table', exact: true }).click();
  await page.getByLabel('Kind in the table').selectOption('Vole');
  await page.getByLabel('Which agents').fill('errand is Waiting');
  const rows = page.getByRole('region', { name: 'Rows' }).getByRole('row').filter({ hasText: 'Waiting' });
  await rows.first().getByRole('button').click();
  await expect(page.getByRole('list', { name: 'Its journey' })).toContainText(/by Ferries to \w+, [\d.]+ minutes/);
  expect(problems).toEqual([]);
  await close();
});

test('a transit feed and a table that the text names are dropped, kept, and come out of a bundle', async ({
  stage,
}) => {
  const { page, problems, close } = await openProject(stage, 'New project');
  const feed = zipSync(
    Object.fromEntries(
      Object.entries({
        'stops.txt': 'stop_id,stop_name,stop_lat,stop_lon\n1,Mill,0,0.001\n2,Green,0,0.006\n',
        'routes.txt': 'route_id,route_short_name\nr,Carts\n',
        'trips.txt': 'route_id,service_id,trip_id\nr,all,a\nr,all,b\n',
        'stop_times.txt':
          'trip_id,arrival_time,departure_time,stop_id,stop_sequence\na,00:02:00,00:02:00,1,1\na,00:06:00,00:06:00,2,2\nb,00:20:00,00:20:00,2,1\nb,00:25:00,00:25:00,1,2\n',
        'calendar_dates.txt': 'service_id,date,exception_type\nall,20310516,1\n',
      }).map(([name, text]) => [name, strToU8(text)]),
    ),
  );
  await drop(page, 'carts.zip', feed);
  await expect(
    page.getByText(/“carts\.zip” could not be taken: Its vehicles need a map.*Nothing was changed/),
  ).toBeVisible();
  await drop(
    page,
    'lane.geojson',
    '{"type":"Feature","properties":{"kind":"lane"},"geometry":{"type":"LineString","coordinates":[[0,0],[0.01,0]]}}',
  );
  await expect.poll(() => modelText(page)).toContain('space Lane: map from "lane.geojson"');
  await drop(page, 'carts.zip', feed);
  await expect(page.getByText('carts.zip: 2 trips of 2031-05-16 at 2 stops, on routes Carts.')).toBeVisible();
  await expect.poll(() => modelText(page)).toContain('line Cart_line by Cart\n  timetable from "carts.csv"');

  await drop(page, 'voles.csv', 'lon,lat\n0.001,0\n0.002,0\n0.003,0\n');
  await expect(
    page.getByText(/“voles\.csv” could not be taken: it is no map.*the text does not name it/),
  ).toBeVisible();
  await writeModel(
    page,
    `model Carts
clock
  step 1 minute
  end after 30 minutes
space Lane: map from "lane.geojson"
agent Cart
  seats 20
line Cart_line by Cart
  timetable from "carts.csv"
agent Vole
  start from "voles.csv"
  behaviour go
    travel to (700 m, 0 m) at 2 km per h or by Cart_line
order
  Cart_line in turn
  go in turn
measure carts = count Cart
show Cart: square
show Vole: leaf
`,
  );
  await expect(page.getByTestId('findings')).toHaveText('1 to mend');
  await drop(page, 'voles.csv', 'lon,lat\n0.001,0\n0.002,0\n0.003,0\n');
  await expect(page.getByTestId('findings')).toHaveText('The text is right.');

  await reload(page);
  await page.getByTestId('now').waitFor();
  await goTo(page, 'Build');
  await expect(page.getByTestId('findings')).toHaveText('The text is right.');
  await openOwnBundle(page, stage.url);
  await goTo(page, 'Watch');
  await runTo(page, 3);
  await expect.poll(() => countIn(page, /Cart/)).toBe(1);
  expect(await countIn(page, /Vole/)).toBe(3);
  expect(problems).toEqual([]);
  await close();
});
