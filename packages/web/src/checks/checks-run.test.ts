import type { CheckOutcome } from '@vole/core';
import { beforeEach, describe, expect, it, vi } from 'vitest';
import type { ChecksReply } from './checks-run.ts';
import { ChecksRun } from './checks-run.ts';

/** Stands in for the worker: keeps what it is told, and answers when the test says so. */
class Helper {
  static last: Helper;
  onmessage?: (event: { data: ChecksReply }) => void;
  onerror?: (event: { message: string }) => void;
  told: unknown[] = [];
  isEnded = false;
  constructor() {
    Helper.last = this;
  }
  postMessage(message: unknown): void {
    this.told.push(message);
  }
  terminate(): void {
    this.isEnded = true;
  }
  say(data: ChecksReply): void {
    this.onmessage!({ data });
  }
}

const outcome = (title: string): CheckOutcome => ({
  title,
  holds: true,
  seeds: 1,
  parameters: [],
  expectations: [],
});

describe('the checks of a model in the page', () => {
  let run: ChecksRun;
  const keep = vi.fn();
  beforeEach(() => {
    vi.stubGlobal('Worker', Helper);
    keep.mockClear();
    run = new ChecksRun(keep);
  });

  it('are told one by one, and their worker goes when they are done', () => {
    const heard = vi.fn();
    run.subscribe(heard);
    run.start('p', 'model A');
    const helper = Helper.last;
    expect(helper.told).toEqual(['model A']);
    helper.say({ is: 'outcome', outcome: outcome('one') });
    expect(run.current).toMatchObject({ text: 'model A', isRunning: true, outcomes: [{ title: 'one' }] });
    helper.say({ is: 'done' });
    expect(run.current).toMatchObject({ isRunning: false, problem: undefined, outcomes: [{ title: 'one' }] });
    expect(helper.isEnded).toBe(true);
    expect(heard).toHaveBeenCalledTimes(3);
    expect(keep.mock.calls).toEqual([[run.current]]);
  });

  it('begun anew forget what the earlier worker still says', () => {
    run.start('p', 'model A');
    const first = Helper.last;
    run.start('p', 'model B');
    expect(first.isEnded).toBe(true);
    first.say({ is: 'outcome', outcome: outcome('late') });
    expect(run.current).toEqual({ projectId: 'p', text: 'model B', isRunning: true, outcomes: [] });
  });

  it.each<[string, () => void, RegExp]>([
    ['stopped by hand', () => run.stop(), /Stopped/],
    ['of a text with errors', () => Helper.last.say({ is: 'refused' }), /errors/],
    ['whose worker breaks', () => Helper.last.onerror!({ message: 'out of memory' }), /out of memory/],
  ])('%s say so and keep what was found', (_, happens, said) => {
    run.start('p', 'model A');
    Helper.last.say({ is: 'outcome', outcome: outcome('one') });
    happens();
    expect(run.current).toMatchObject({ isRunning: false, outcomes: [{ title: 'one' }] });
    expect(run.current!.problem).toMatch(said);
    expect(keep).not.toHaveBeenCalled();
    expect(Helper.last.isEnded).toBe(true);
  });
});
