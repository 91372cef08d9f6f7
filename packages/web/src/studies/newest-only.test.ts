import { expect, it } from 'vitest';
import { NewestOnly } from './newest-only.ts';

it('one task is done at a time, and of those that come meanwhile only the newest', async () => {
  const tasks = new NewestOnly();
  const began: string[] = [];
  const finish = new Map<string, () => void>();
  const task = (name: string) => () => {
    began.push(name);
    return new Promise<void>((resolve) => finish.set(name, resolve));
  };
  const settled = (): Promise<void> => new Promise((resolve) => setImmediate(resolve));
  for (const name of ['a', 'b', 'c']) tasks.do(task(name));
  expect(began).toEqual(['a']);
  finish.get('a')!();
  await settled();
  expect(began).toEqual(['a', 'c']);
  tasks.do(task('d'));
  tasks.clear();
  finish.get('c')!();
  await settled();
  expect(began).toEqual(['a', 'c']);
  tasks.do(task('e'));
  expect(began).toEqual(['a', 'c', 'e']);
});
