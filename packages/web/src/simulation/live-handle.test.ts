import { afterEach, describe, expect, it, vi } from 'vitest';
import { live } from './live-handle.ts';
import type { WatchReply } from './protocol.ts';

/** A worker that is told what to answer. */
class Told {
  static last: Told;
  onmessage: ((event: { readonly data: WatchReply }) => void) | undefined;
  onerror: unknown;
  constructor() {
    Told.last = this;
  }
  postMessage(): void {
    // What it is sent does not matter here.
  }
  terminate(): void {
    // Nor does its end.
  }
  answer(data: unknown): void {
    this.onmessage?.({ data: data as WatchReply });
  }
}

describe('the run on show', () => {
  afterEach(() => {
    live.forget();
    vi.unstubAllGlobals();
  });

  it('never has a plan beside the frame of another one, also where a text is checked twice before its first frame', () => {
    vi.stubGlobal('Worker', Told);
    vi.stubGlobal('requestAnimationFrame', () => 0);
    const frame = {
      fromRow: 0,
      rows: new Float64Array(0),
      layers: new Float32Array(0),
      furthest: 0,
      notes: [],
      fromNote: 0,
    };
    const plan = (name: string): object => ({ title: name, measures: [], kinds: [] });
    const shown = (name: string): object => ({ plan: plan(name), layerNames: [] });
    const title = (): string | undefined => live.current.plan?.title;
    live.load('first', 1, {}, 0);
    Told.last.answer({
      is: 'checked',
      version: 1,
      diagnostics: [],
      hasPlan: true,
      restarted: true,
      shown: shown('first'),
    });
    Told.last.answer({ is: 'frame', frame: { ...frame, step: 1 }, marks: [], acts: [] });
    expect(title()).toBe('first');
    live.load('second', 1, {}, 0);
    Told.last.answer({
      is: 'checked',
      version: 2,
      diagnostics: [],
      hasPlan: true,
      restarted: true,
      shown: shown('second'),
    });
    expect(title()).toBe('first');
    live.load('second, with a remark', 1, {}, 0);
    Told.last.answer({
      is: 'checked',
      version: 3,
      diagnostics: [],
      hasPlan: true,
      restarted: false,
      shown: shown('second'),
    });
    expect(title()).toBe('first');
    Told.last.answer({ is: 'frame', frame: { ...frame, step: 0 }, marks: [], acts: [] });
    expect([title(), live.current.frame?.step]).toEqual(['second', 0]);
  });
});
