import { readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { LiveRun } from './live-run.ts';
import type { Frame, WatchReply } from './protocol.ts';

const MEADOW = readFileSync(new URL('../../../../examples/meadow-year.vole', import.meta.url), 'utf8');

/** A live run with a page that draws at once, and a clock that stands still but for `pass`. */
function stage() {
  const replies: WatchReply[] = [];
  let time = 0;
  const live = new LiveRun((message) => replies.push(structuredClone(message)), () => time);
  const settle = (): void => {
    for (let i = 0; i < 5000; i++) {
      time += 0.01;
      live.receive({ is: 'frame drawn' });
      if (live.work() === undefined) break;
    }
    live.receive({ is: 'frame drawn' });
    live.work();
  };
  const frame = (): Frame => {
    const frames = replies.filter((reply) => reply.is === 'frame');
    return frames[frames.length - 1]!.frame;
  };
  const goTo = (step: number): Frame => {
    live.receive({ is: 'go to', step });
    settle();
    return frame();
  };
  const load = (text: string, version = 1): Extract<WatchReply, { is: 'checked' }> => {
    live.receive({ is: 'load', text, version, seed: 1, parameters: {} });
    settle();
    const checks = replies.filter((reply) => reply.is === 'checked');
    return checks[checks.length - 1]!;
  };
  return { live, replies, settle, frame, goTo, load };
}

const picture = (frame: Frame): string => JSON.stringify([frame.step, frame.kinds.map((kind) => [[...kind.numbers], [...kind.x], [...kind.colours]]), frame.fields.map((f) => [...f.levels])]);

describe('the live run', () => {
  it('shows any step again exactly, back and forward', () => {
    const { load, goTo } = stage();
    load(MEADOW);
    const there = [20, 57, 90].map((step) => picture(goTo(step)));
    expect([20, 57, 90].map((step) => picture(goTo(step)))).toEqual(there);
    expect(picture(goTo(57))).toBe(there[1]);
    expect(goTo(57).furthest).toBe(90);
  });

  it('keeps acts by hand when it goes back and on, and forgets what came after a new one', () => {
    const { live, load, goTo, settle, frame, replies } = stage();
    load(MEADOW);
    goTo(30);
    live.receive({ is: 'set parameter', name: 'strike', value: 0.9 });
    settle();
    const after = picture(goTo(60));
    goTo(10);
    expect(picture(goTo(60))).toBe(after);
    const acts = replies.filter((reply) => reply.is === 'frame').at(-1)!.acts;
    expect(acts).toMatchObject([{ step: 30, name: 'strike', from: 0.2, to: 0.9 }]);
    goTo(20);
    live.receive({ is: 'set parameter', name: 'strike', value: 0 });
    settle();
    expect(frame().furthest).toBe(20);
    expect(picture(goTo(60))).not.toBe(after);
  });

  it('starts anew when the meaning changes, not for a comment, and keeps the last good run on show', () => {
    const { load, goTo, frame } = stage();
    expect(load(MEADOW)).toMatchObject({ restarted: true });
    goTo(12);
    expect(load(`${MEADOW}# a remark\n`, 2)).toMatchObject({ restarted: false, diagnostics: [] });
    expect(frame().step).toBe(12);
    const wrong = load(MEADOW.replace('bite * appetite', 'bight * appetite'), 3);
    expect(wrong.plan).toBeUndefined();
    expect(wrong.diagnostics.map((d) => d.code)).toContain('name/unknown');
    expect(frame().step).toBe(12);
    expect(load(MEADOW.replace('= 300, whole', '= 200, whole'), 4)).toMatchObject({ restarted: true });
    expect(frame().kinds[0]!.count).toBe(200);
  });

  it('opens an agent with its states and what is left of their time', () => {
    const { live, load, goTo, settle, frame } = stage();
    load(MEADOW);
    goTo(5);
    live.receive({ is: 'open agent', kind: 0, number: 3 });
    settle();
    expect(frame().agent).toMatchObject({ kind: 0, number: 3, gone: false });
    live.receive({ is: 'open agent', kind: 0, number: 999999 });
    settle();
    expect(frame().agent!.gone).toBe(true);
  });

  it('says when a run stops by itself, and lives on', () => {
    const { load, replies, goTo } = stage();
    load('model F\nclock\n  end after 9 steps\nagent A\n  start 1\n  has k = 3\n  behaviour go\n    k -= 1\n    let z = 1 / k\n    k += 0 * z\nmeasure m = sum of it.k over A\n');
    goTo(8);
    expect(replies.filter((reply) => reply.is === 'failed')).toMatchObject([{ step: 3, diagnostic: { code: 'run/not-finite' } }]);
    expect(goTo(1).step).toBe(1);
  });
});
