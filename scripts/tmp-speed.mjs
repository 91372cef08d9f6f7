import { browser, server, url } from './served.mjs';
const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
await page.addInitScript(() => {
  window.__long = [];
  new PerformanceObserver((l) => {
    for (const e of l.getEntries()) window.__long.push(e.duration);
  }).observe({ entryTypes: ['longtask'] });
});
await page.goto(url);
await page.getByTestId('now').waitFor();
const nav = page.getByRole('navigation', { name: 'The six views' });
const done = (id) =>
  page
    .getByTestId(id)
    .filter({ hasText: /^(\d+) of \1 done/ })
    .waitFor({ timeout: 400000 });

await nav.getByRole('button', { name: 'Vary' }).click();
await page.getByRole('button', { name: /^as text/ }).click();
await page
  .getByRole('textbox', { name: 'Text of the study' })
  .fill('study S\nvary strike 0.05 to 0.5 per day\nvary bite 0.08 to 0.25\nrandom 900\n1 seeds each\n');
await page.getByRole('button', { name: /^Run 900/ }).click();
let t = performance.now();
await page.getByTestId('vary-progress').waitFor();
await done('vary-progress');
console.log('vary', Math.round(performance.now() - t), await page.getByTestId('vary-progress').innerText());
await nav.getByRole('button', { name: 'Match' }).click();
await page.getByRole('button', { name: 'as text', exact: true }).click();
const area = page.getByLabel('Text of the match');
await area.fill((await area.inputValue()).replace(/by .*/, 'by rejection, 100 draws, at most 900 runs'));
await page.getByRole('button', { name: 'Search', exact: true }).click();
t = performance.now();
await page.getByTestId('match-progress').waitFor();
await done('match-progress');
console.log(
  'search by rejection',
  Math.round(performance.now() - t),
  await page.getByTestId('match-progress').innerText(),
);

await nav.getByRole('button', { name: 'Vary' }).click();
await page.getByRole('textbox', { name: 'Text of the study' }).fill('study S2\nvary strike 0.05 to 0.5 per day\nvary bite 0.08 to 0.25\nrandom 900\n1 seeds each\n');
await page.getByRole('button', { name: /^Run 900/ }).click();
t = performance.now();
await page.waitForTimeout(3000);
await done('vary-progress');
console.log('vary again', Math.round(performance.now() - t));
browser.close();
server.kill();
process.exit();
