// Makes the pictures of the views in docs/screenshots from the demo: `npm run pictures`. They are looked at before they are committed.
import { join } from 'node:path';
import { root } from './prepare.mjs';
import { browser, server, url } from './served.mjs';

const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
const picture = (name) => page.screenshot({ path: join(root, 'docs/screenshots', `${name}.png`) });
const go = (view) =>
  page.getByRole('navigation', { name: 'The six views' }).getByRole('button', { name: view }).click();
const until = (id, text) =>
  page.waitForFunction(
    ([i, t]) => document.querySelector(`[data-testid="${i}"]`)?.textContent?.includes(t),
    [id, text],
    { timeout: 120_000 },
  );

try {
  await page.goto(url);
  await page.getByTestId('now').waitFor();
  await page.waitForTimeout(3200);
  await page.getByRole('navigation', { name: 'Outline' }).getByRole('button', { name: 'forage' }).click();
  await page.waitForTimeout(300);
  await picture('build');
  await page.getByRole('tab', { name: 'States' }).click();
  await page.waitForTimeout(600);
  await page.getByRole('button', { name: /^State Nesting/ }).click();
  await page.waitForTimeout(3500);
  await picture('states');
  await page.getByRole('tab', { name: 'Shelf' }).click();
  await page.getByRole('radio', { name: 'Together' }).click();
  await page.getByRole('button', { name: /^Go the way others go/ }).click();
  await page.waitForTimeout(2500);
  await picture('shelf');
  await page.getByRole('tab', { name: 'The run' }).click();
  await go('Watch');
  await page.waitForTimeout(1500);
  // On a slow machine the run has come to its end by now.
  await page.getByRole('button', { name: 'Start again' }).click();
  await page.getByRole('button', { name: 'Pause' }).click();
  const ribbon = page.getByRole('slider', { name: /Reading line/ });
  await page.waitForTimeout(300);
  for (let i = 0; i < 18; i++) await ribbon.press('PageUp');
  await page.waitForTimeout(2500);
  for (let i = 0; i < 5; i++) await ribbon.press('PageDown');
  await page.waitForTimeout(1500);
  for (let i = 0; i < 60 && (await page.getByTestId('agent').count()) === 0; i++) {
    await page.mouse.click(360 + ((i * 37) % 500), 120 + ((i * 53) % 420));
    await page.waitForTimeout(80);
  }
  await page.waitForTimeout(600);
  await picture('watch');
  await page.getByRole('button', { name: 'what it did, and why' }).click();
  await page.getByTestId('story').waitFor();
  await page.waitForTimeout(500);
  await picture('why');
  await page.getByRole('button', { name: 'close', exact: true }).click();
  await page.getByRole('button', { name: 'compare with this run' }).click();
  await page.waitForTimeout(1200);
  await page.getByLabel('Step, date or condition to run to').fill('100');
  await page.keyboard.press('Enter');
  await page.waitForTimeout(1500);
  await page.getByRole('slider', { name: 'strike' }).focus();
  for (let i = 0; i < 25; i++) await page.keyboard.press('ArrowRight');
  await page.getByLabel('Step, date or condition to run to').fill('230');
  await page.keyboard.press('Enter');
  await page.waitForTimeout(3500);
  await picture('beside');
  await page.getByRole('button', { name: 'end the comparison' }).click();
  await page.getByRole('button', { name: 'as in the text' }).click();
  await go('Repeat');
  await page.getByRole('button', { name: 'Run 40 seeds' }).click();
  await until('repeat-progress', '40 of 40');
  await page.waitForTimeout(500);
  await picture('repeat');
  await go('Vary');
  await page.getByLabel('Parameter 1').selectOption('strike');
  await page.getByLabel('Values 1').fill('5 values from 0 to 0.4');
  await page.getByLabel('Values 1').press('Enter');
  await page.getByRole('button', { name: 'and a second parameter' }).click();
  await page.getByLabel('Parameter 2').selectOption('kestrels');
  await page.getByLabel('Values 2').fill('2, 6, 12');
  await page.getByLabel('Values 2').press('Enter');
  await page.getByRole('button', { name: 'Run 150 runs' }).click();
  await until('vary-progress', '150 of 150');
  await page.getByRole('row').nth(10).click();
  await page.waitForTimeout(500);
  await picture('vary');
  await page.getByRole('combobox', { name: 'As', exact: true }).selectOption('a map');
  await page.waitForTimeout(300);
  await picture('vary-map');
  await page.getByRole('button', { name: /^as text/ }).click();
  const text = page.getByRole('textbox', { name: 'Text of the study' });
  await text.fill(`study What matters
  vary kestrels  0 to 16
  vary strike    0.05 to 0.4 per day
  vary bite      0.05 to 0.3
  sobol indices of 64
  3 seeds each
  end after 1 year
  keep every 7 days
  outcome crash: low_cover < 20 %
`);
  const run = page.getByRole('button', { name: /^Run [0-9,]+ runs$/ });
  await page.waitForTimeout(500);
  const total = /[0-9]+/.exec((await run.innerText()).replace(',', ''))[0];
  await run.click();
  await until('vary-progress', `${total} of ${total}`);
  await page.waitForTimeout(1500);
  await picture('vary-what-matters');
  await text.fill(`study Three meadows
  20 seeds each
  keep every 7 days

scenario As it is

scenario Many kestrels
  kestrels = 12

scenario Poor strikers
  strike = 0.1 per day
`);
  await page.getByRole('button', { name: 'Run 60 runs' }).click();
  await until('vary-progress', '60 of 60');
  await page.waitForTimeout(1500);
  await picture('vary-scenarios');
  await go('Match');
  await page.getByTestId('observed-point').first().waitFor();
  await page.getByRole('region', { name: 'Ranking' }).getByText('best', { exact: true }).waitFor();
  await page.waitForTimeout(600);
  await picture('match');
  await page.getByRole('button', { name: 'Search', exact: true }).click();
  await page
    .getByTestId('match-progress')
    .filter({ hasText: /^(\d+) of \1 done$/ })
    .waitFor({ timeout: 400_000 });
  await page.waitForTimeout(2500);
  await picture('match-fit');
  await go('Tell');
  await page.getByRole('region', { name: 'Report' }).getByRole('button', { name: 'Three meadows' }).click();
  await page.waitForTimeout(600);
  await picture('tell');
  await go('Match');
  await page.getByRole('button', { name: /Find anything/ }).click();
  await page.getByPlaceholder(/^Find an action/).fill('dusk');
  await page.keyboard.press('Enter');
  await page.waitForTimeout(400);
  await picture('match-dusk');
  const other = await browser.newPage({ viewport: { width: 1280, height: 800 } });
  await other.goto(`${url}/projects`);
  await other
    .getByRole('button', { name: /^Alarm relay/ })
    .first()
    .click();
  await other.getByRole('tab', { name: 'Networks' }).click();
  await other.getByTestId('network-facts').waitFor();
  await other.waitForTimeout(1500);
  await other.screenshot({ path: join(root, 'docs/screenshots', 'networks.png') });
  const recorded = await browser.newPage({ viewport: { width: 1280, height: 800 } });
  await recorded.goto(`${url}/projects`);
  await recorded
    .getByRole('button', { name: /^Grooming circle/ })
    .first()
    .click();
  await recorded.getByRole('button', { name: 'Repeat' }).click();
  await recorded.getByRole('checkbox', { name: /keep what is recorded/ }).check();
  await recorded.getByTestId('pilot').waitFor();
  await recorded.getByRole('button', { name: 'Run 40 seeds' }).click();
  await recorded.getByText('40 of 40 done').waitFor();
  await recorded.getByRole('button', { name: /^what was recorded/ }).click();
  await recorded.getByRole('combobox', { name: 'Record', exact: true }).selectOption('groomed');
  await recorded.getByRole('button', { name: 'over all 40 runs' }).click();
  await recorded.getByText('40 of 40 worked out').waitFor();
  await recorded.screenshot({ path: join(root, 'docs/screenshots', 'repeat-network.png') });
  const mixed = await browser.newPage({ viewport: { width: 1280, height: 800 } });
  await mixed.goto(`${url}/projects`);
  await mixed
    .getByRole('button', { name: /^Whistle craze/ })
    .first()
    .click();
  await mixed.getByRole('button', { name: 'Repeat' }).click();
  await mixed.getByTestId('pilot').waitFor();
  await mixed.getByRole('button', { name: 'Run 40 seeds' }).click();
  await mixed.getByText('40 of 40 done').waitFor();
  await mixed.getByLabel('mean-field reference').check();
  await mixed.getByTestId('mean-field-line').waitFor();
  await mixed.getByRole('button', { name: 'its equations' }).click();
  await mixed.getByTestId('equations').waitFor();
  await mixed.waitForTimeout(500);
  await mixed.screenshot({ path: join(root, 'docs/screenshots', 'repeat-mean-field.png') });
  const streets = await browser.newPage({ viewport: { width: 1280, height: 800 } });
  await streets.goto(`${url}/projects`);
  await streets
    .getByRole('button', { name: /^Parade day/ })
    .first()
    .click();
  await streets.getByRole('button', { name: 'Watch' }).click();
  await streets.getByLabel('Step, date or condition to run to').fill('64');
  await streets.keyboard.press('Enter');
  await streets.waitForFunction(() => /step 64 of/.test(document.querySelector('[data-testid="now"]')?.textContent));
  await streets.waitForTimeout(4000);
  await streets.screenshot({ path: join(root, 'docs/screenshots', 'streets.png') });
} finally {
  await browser.close();
  server.kill();
}
