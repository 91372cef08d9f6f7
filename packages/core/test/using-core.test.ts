import { readFileSync } from 'node:fs';
import { expect, it } from 'vitest';
import { endByRate } from './using-core.ts';

const TEXT = `model Burrow
clock
  step 1 day
  end after 5 days
parameter rate = 1, from 0 to 4
agent Vole
  start 10
  has age = 0
  behaviour breed
    if chance(rate / 10)
      create 1 Vole
order
  breed in turn
measure voles = count Vole
summary last = last of voles
`;

it('the example of docs/core.md is the one that is run here, and gives numbers', async () => {
  const page = readFileSync(new URL('../../../docs/core.md', import.meta.url), 'utf8');
  const [, shown] = /```ts\n([\s\S]*?)```/.exec(page)!;
  expect(shown).toBe(readFileSync(new URL('using-core.ts', import.meta.url), 'utf8'));
  const [none, one, two] = await endByRate(TEXT);
  expect(none).toBe('rate=0: 10 (10.0 to 10.0), 20 runs');
  const mean = (line: string): number => Number(/: ([\d.]+) /.exec(line)![1]);
  // 10 voles of whom each has another with chance 0.1 or 0.2 a day, for 5 days.
  expect(Math.abs(mean(one!) - 10 * 1.1 ** 5)).toBeLessThan(4);
  expect(Math.abs(mean(two!) - 10 * 1.2 ** 5)).toBeLessThan(6);
});
