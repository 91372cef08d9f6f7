import { spawnSync } from 'node:child_process';
import { readFileSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import extract from 'png-chunks-extract';
import {
  beginAnew,
  editWord,
  expect,
  filesOf,
  goTo,
  modelText,
  reload,
  saved,
  settled,
  stepOf,
  test,
  writeModel,
} from './stage.ts';

const VOLE = fileURLToPath(new URL('../packages/cli/bin/vole.mjs', import.meta.url));
const MEADOW = fileURLToPath(new URL('../examples/meadow-year.vole', import.meta.url));
const SEEDS = 6;

test('walks the whole path: Build, Watch, Repeat, Vary, Match, Tell, and the bundle on another machine', async ({
  stage,
}) => {
  const { context, page, problems } = await stage.visitor();
  await page.goto(stage.url);

  // Build: the demo is alive, and says it is right.
  await page.getByTestId('now').waitFor();
  await expect.poll(() => stepOf(page)).toBeGreaterThan(5);
  await expect(page.getByTestId('findings')).toHaveText('The text is right.', { useInnerText: true });
  await expect(page.getByTestId('key')).toContainText(/Adult Vole\s+\d+/, { useInnerText: true });

  // A mistake keeps the last good run, is listed where it is, and is mended by a click.
  const text = readFileSync(MEADOW, 'utf8');
  await writeModel(page, text.replace('bite * appetite', 'bitte * appetite'));
  await expect.poll(() => page.getByTestId('findings').innerText()).toContain('1 to mend');
  await page.getByText('this is the last one that was right').waitFor();
  await page.getByRole('button', { name: 'Write “bite”' }).first().click();
  await expect.poll(() => page.getByTestId('findings').innerText()).toBe('The text is right.');
  expect(await modelText(page)).toBe(text);

  // Watch: to a step by the keyboard on the ribbon, back exactly, a value by hand, an agent.
  await goTo(page, 'Watch');
  await beginAnew(page);
  const ribbon = page.getByRole('slider', { name: /Reading line/ });
  for (let i = 0; i < 2; i++) await ribbon.press('PageUp');
  await expect.poll(() => stepOf(page)).toBe(60);
  const key = (): Promise<string> => page.getByTestId('key').innerText();
  const at60 = await key();
  await ribbon.press('PageDown');
  await expect.poll(() => stepOf(page)).toBe(30);
  await ribbon.press('PageUp');
  await expect.poll(() => stepOf(page)).toBe(60);
  await expect.poll(key).toBe(at60);
  await page.getByRole('slider', { name: 'strike' }).press('End');
  await page.getByText('strike changed by hand').waitFor();
  await ribbon.press('PageUp');
  await expect.poll(() => stepOf(page)).toBe(90);
  const canvas = page.getByRole('img', { name: /space of the run/ });
  const box = (await canvas.boundingBox())!;
  for (let i = 0; i < 200 && (await page.getByTestId('agent').count()) === 0; i++) {
    await page.mouse.click(box.x + 330 + ((i * 37) % 540), box.y + 80 + ((i * 53) % 440));
    await settled(page);
  }
  await expect(page.getByTestId('agent')).toContainText(/place/, { useInnerText: true });
  await page.getByRole('button', { name: 'as in the text' }).click();

  // Repeat: runs in workers; the fan; a click opens that run in Watch.
  await goTo(page, 'Repeat');
  await editWord(page, 'Number of seeds', String(SEEDS));
  await page.getByRole('button', { name: `Run ${SEEDS} seeds` }).click();
  await expect.poll(() => page.getByTestId('repeat-progress').innerText()).toBe(`${SEEDS} of ${SEEDS} done`);
  await expect(page.getByRole('region', { name: 'What came out' })).toContainText(
    new RegExp(`died_out\\s+0 of ${SEEDS}`),
    { useInnerText: true },
  );
  const plot = (await page.getByTestId('fan-plot').boundingBox())!;
  await page.mouse.click(plot.x + plot.width / 2, plot.y + plot.height / 2);
  await page.waitForURL(/\/watch$/);
  await expect.poll(() => stepOf(page)).toBeGreaterThan(330);
  await expect(page.getByTestId('now')).toContainText(/seed [1-6]/, { useInnerText: true });

  // The same rows on the command line, to the last digit.
  await goTo(page, 'Tell');
  const rows = await saved(page, filesOf(page, 'Meadow year repeat rows'), 'CSV');
  const cli = spawnSync(process.execPath, [VOLE, 'run', MEADOW, '--seeds', `1..${SEEDS}`], {
    encoding: 'utf8',
    maxBuffer: 1e8,
  });
  const [marks, table] = [
    /^(?:#.*\n)+/.exec(rows.bytes.toString())![0],
    rows.bytes.toString().replace(/^(?:#.*\n)+/, ''),
  ];
  expect(marks).toMatch(
    new RegExp(
      `^# model: Meadow year, text [0-9a-f]{8}\\n# values: those of the text\\n# seeds 1 to ${SEEDS}, engine version \\d+ of Vole Parade\\n$`,
    ),
  );
  expect(table).toBe(cli.stdout);

  // It is all there after a reload.
  await reload(page);
  await goTo(page, 'Repeat');
  await expect.poll(() => page.getByTestId('repeat-progress').innerText()).toBe(`${SEEDS} of ${SEEDS} done`);

  // Vary: values and number of runs before starting; curve and tidy table after.
  await goTo(page, 'Vary');
  await page.getByLabel('Parameter 1').selectOption('strike');
  await editWord(page, 'Values 1', '0 to 0.4 by 0.2');
  await editWord(page, 'Seeds each', '2');
  await expect(page.getByTestId('vary-size')).toContainText('strike: 0, 0.2, 0.4.', { useInnerText: true });
  await page.getByRole('button', { name: 'Run 6 runs' }).click();
  await expect.poll(() => page.getByTestId('vary-progress').innerText()).toBe('6 of 6 done');
  const sweep = await saved(page, filesOf(page, 'Meadow year summaries'), 'CSV');
  const sweepLines = sweep.bytes
    .toString()
    .trim()
    .split('\n')
    .filter((line) => !line.startsWith('#'));
  expect(sweepLines[0]).toMatch(/^run,seed,strike \[per day\],steps,peak/);
  expect(sweepLines.slice(1).map((line) => line.split(',').slice(0, 3).join(','))).toEqual([
    '1,1,0',
    '2,2,0',
    '3,1,0.2',
    '4,2,0.2',
    '5,1,0.4',
    '6,2,0.4',
  ]);

  // Match: the demo's counts are there; another file can be imported.
  await goTo(page, 'Match');
  await expect.poll(() => page.getByTestId('observed-point').count()).toBe(23);
  const scores = page.getByRole('region', { name: 'How well does it agree' });
  await expect(scores).toContainText(/inside the 90 % band\s+\d+ of 14/, { useInnerText: true });
  await page.getByRole('region', { name: 'Tables' }).getByRole('button', { name: 'remove' }).click();
  await page
    .getByLabel('Observed data as CSV')
    .setInputFiles({ name: 'mine.csv', mimeType: 'text/csv', buffer: Buffer.from('day,voles\n10,300\n40,350\n70,\n') });
  await page.getByRole('dialog', { name: 'mine.csv' }).getByRole('button', { name: 'Take it' }).click();
  await expect.poll(() => scores.innerText()).toMatch(/inside the 90 % band\s+\d of 2/);

  // Tell: chart as PNG and SVG, model text, bundle.
  await goTo(page, 'Repeat');
  const fan = filesOf(page, 'voles over Meadow year');
  const svg = await saved(page, fan, 'SVG');
  expect(svg.bytes.toString()).toMatch(/^<svg[\s\S]*voles over Meadow year[\s\S]*<\/svg>$/);
  expect(svg.bytes.toString()).not.toContain('var(--');
  // The fonts of the page are in it, and it is as wide as was asked for.
  expect(svg.text).toMatch(
    /@font-face\{font-family:"Source Sans 3 Variable";font-weight:[^;]+;src:url\(data:font\/woff2/,
  );
  expect(svg.text).toMatch(/^<svg [^>]*width="160mm"/);
  await page.getByRole('region', { name: 'voles over Meadow year' }).getByRole('button', { name: '160 mm' }).click();
  await page.getByLabel('millimetres wide').fill('84');
  await page.getByLabel('dots per inch, of a PNG').fill('600');
  await page.keyboard.press('Escape');
  const png = await saved(page, fan, 'PNG');
  const chunks = extract(png.bytes);
  const head = new DataView(Uint8Array.from(chunks[0]!.data).buffer);
  expect([chunks[0]!.name, head.getUint32(0)]).toEqual(['IHDR', Math.round((84 / 25.4) * 600)]);
  expect(chunks.map((chunk) => chunk.name)).toEqual(expect.arrayContaining(['pHYs', 'iTXt']));
  await goTo(page, 'Tell');
  const model = await saved(page, page, 'model text');
  expect(model.bytes.toString()).toBe(text);
  const bundle = await saved(page, page, 'Bundle');
  // In a terminal: every number of it again, to the bit.
  const verified = spawnSync(process.execPath, [VOLE, 'verify', bundle.path], { encoding: 'utf8' });
  expect(verified.stdout).toMatch(
    /^same .*every number the same to the bit\nsame .*every number the same to the bit\n$/,
  );
  expect(verified.status).toBe(0);

  // On another machine: the same project, and it reruns to the same numbers.
  const other = await stage.visitor();
  await other.page.goto(`${stage.url}/projects`);
  await other.page
    .getByLabel('Bundle or model file')
    .setInputFiles({ name: bundle.name, mimeType: 'application/zip', buffer: bundle.bytes });
  await other.page.waitForURL(/\/build$/);
  expect(await modelText(other.page)).toBe(text);
  await goTo(other.page, 'Tell');
  await expect(other.page.getByRole('region', { name: 'Rerun' })).toContainText(
    /Repeat: \d+ runs came with the bundle/,
  );
  await expect(other.page.getByTestId('rerun-repeat')).toHaveCount(0);
  for (const kind of ['repeat', 'vary']) {
    await other.page.getByRole('button', { name: 'Run them here' }).first().click();
    await expect.poll(() => other.page.getByTestId(`rerun-${kind}`).innerText()).toContain('to the bit');
  }
  await goTo(other.page, 'Match');
  await expect.poll(() => other.page.getByTestId('observed-point').count()).toBe(2);
  expect([...problems, ...other.problems]).toEqual([]);
  await Promise.all([context.close(), other.context.close()]);
});
