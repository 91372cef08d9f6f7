import { readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import type { HandAct } from '@vole/core';
import { loadModel } from '@vole/core';
import { LiveRun } from './live-run.ts';
import type { Frame, WatchReply } from './protocol.ts';

const MEADOW = readFileSync(new URL('../../../../examples/meadow-year.vole', import.meta.url), 'utf8');

/** A small pen in which everything can be done by hand. */
const PEN = `model Pen
clock
  end after 60 steps
space Field: grid 20 by 20, walled
obstacle Wall on Field
  box (0, 19) to (19, 19)
message Call
agent Vole
  start 30 anywhere
  has energy = 1
  states mood
    Calm
      chance 0.1: Loud
    Loud
      after 3 steps: Calm
  on Call
    energy += 5
  behaviour roam
    move by 1
    turn by uniform(-60 deg, 60 deg)
order
  roam in turn
  mood in turn
measure e = sum of it.energy over Vole
show Vole: leaf
`;
const parameterOf = (name: string): number => loadModel(MEADOW).loaded!.plan.parameters.findIndex((p) => p.name === name);

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
    live.receive({ is: 'act', act: { is: 'set parameter', parameter: parameterOf('strike'), value: 0.9 } });
    settle();
    const after = picture(goTo(60));
    goTo(10);
    expect(picture(goTo(60))).toBe(after);
    const acts = replies.filter((reply) => reply.is === 'frame').at(-1)!.acts;
    expect(acts).toMatchObject([{ step: 30, act: { parameter: parameterOf('strike'), value: 0.9 }, from: 0.2 }]);
    goTo(20);
    live.receive({ is: 'act', act: { is: 'set parameter', parameter: parameterOf('strike'), value: 0 } });
    settle();
    expect(frame().furthest).toBe(20);
    expect(picture(goTo(60))).not.toBe(after);
  });

  it('does every act by hand, goes back and on with them to the same run, takes one back, and runs again with them', () => {
    const { live, load, goTo, settle, frame, replies } = stage();
    load(PEN);
    const plain = picture(goTo(40));
    goTo(10);
    const acts: HandAct[] = [
      { is: 'paint', zone: 0, places: [[10, 10]], radius: 3, inside: true },
      { is: 'place', kind: 0, x: 2, y: 3 },
      { is: 'move', kind: 0, number: 1, x: 18, y: 18 },
      { is: 'remove', kind: 0, number: 2 },
      { is: 'set attribute', kind: 0, number: 3, column: 0, value: 77 },
      { is: 'set state', kind: 0, number: 4, machine: 0, state: 1 },
      { is: 'send', kind: 0, number: 5, message: 0 },
      { is: 'switch', line: 0, on: false },
    ];
    for (const act of acts) live.receive({ is: 'act', act });
    settle();
    const now = frame();
    const voles = now.kinds[0]!;
    expect([voles.count, voles.numbers.includes(2), [...voles.numbers].at(-1)]).toEqual([30, false, 31]);
    expect([voles.x[29], voles.y[29], voles.x[0], voles.y[0]]).toEqual([2, 3, 18, 18]);
    expect(now.off).toEqual([0]);
    expect(now.zones![0]!.inside[10 * 20 + 10]).toBe(1);
    const still = [...goTo(30).kinds[0]!.x];
    expect([...goTo(31).kinds[0]!.x]).toEqual(still);
    live.receive({ is: 'act', act: { is: 'switch', line: 0, on: true } });
    settle();
    const after = picture(goTo(40));
    expect(after).not.toBe(plain);
    goTo(0);
    expect(picture(goTo(40))).toBe(after);
    live.receive({ is: 'restart', seed: 1, parameters: {}, step: 40, acts: replies.filter((reply) => reply.is === 'frame').at(-1)!.acts });
    settle();
    expect(picture(frame())).toBe(after);
    for (let i = acts.length; i >= 0; i--) live.receive({ is: 'forget act', index: i });
    settle();
    expect(picture(frame())).toBe(plain);
    live.receive({ is: 'act', act: { is: 'remove', kind: 0, number: 999 } });
    expect(replies.at(-1)).toEqual({ is: 'refused', why: 'the agent is not there' });
  });

  it('takes the strokes of a brush in one step for one act', () => {
    const { live, load, goTo, settle, replies } = stage();
    load(PEN);
    goTo(5);
    for (let x = 4; x <= 8; x++) live.receive({ is: 'act', act: { is: 'paint', zone: 0, places: [[x, 4]], radius: 0, inside: true } });
    settle();
    const there = picture(goTo(20));
    const last = replies.filter((reply) => reply.is === 'frame').at(-1)!;
    expect(last.acts).toEqual([{ step: 5, act: { is: 'paint', zone: 0, places: [[4, 4], [5, 4], [6, 4], [7, 4], [8, 4]], radius: 0, inside: true }, from: undefined }]);
    goTo(0);
    expect(picture(goTo(20))).toBe(there);
  });

  it('runs until a condition in the model language holds, and says what is wrong with one', () => {
    const { live, load, goTo, settle, frame, replies } = stage();
    load(PEN);
    live.receive({ is: 'run until', condition: '(count Vole where it.mood is Loud) > 6' });
    settle();
    const { step } = frame();
    expect(step).toBeGreaterThan(0);
    expect(step).toBeLessThan(60);
    goTo(0);
    live.receive({ is: 'run until', condition: 'count Vole > 1000' });
    live.receive({ is: 'play', playing: false });
    settle();
    expect(frame()).toMatchObject({ step: 0, playing: false });
    live.receive({ is: 'run until', condition: 'count Voles > 6' });
    expect(replies.at(-1)).toMatchObject({ is: 'refused', why: expect.stringContaining('Voles') as string });
  });

  it('tells what an agent went through in a step, also what others did to it, with its last steps, and changes nothing by it', () => {
    const { live, load, goTo, settle, replies } = stage();
    load(MEADOW);
    goTo(30);
    live.receive({ is: 'act', act: { is: 'set attribute', kind: 0, number: 5, column: 0, value: 3 } });
    const there = picture(goTo(40));
    live.receive({ is: 'open agent', kind: 0, number: 5 });
    live.receive({ is: 'why' });
    settle();
    const { story } = replies.filter((reply) => reply.is === 'story').at(-1)!;
    expect([story.number, story.step, story.history.length]).toEqual([5, 40, 40]);
    expect(story.events.filter((event) => event.is === 'rule').length).toBeGreaterThanOrEqual(3);
    expect(story.events.filter((event) => event.is === 'draw').length).toBeGreaterThanOrEqual(1);
    const energies = story.events.filter((event) => event.is === 'write' && event.column === 0);
    expect(energies.at(-1)).toMatchObject({ value: story.history.at(-1)!.attributes[0] });
    expect(picture(goTo(40))).toBe(there);
    // One that is hunted in this step hears of it.
    const { loaded } = loadModel(MEADOW);
    const hunt = loaded!.plan.rules.findIndex((rule) => rule.name === 'hunt');
    const before = goTo(40).kinds[0]!.numbers;
    const after = new Set(goTo(41).kinds[0]!.numbers);
    const told = [...before].filter((number) => !after.has(number)).map((number) => {
      live.receive({ is: 'open agent', kind: 0, number });
      live.receive({ is: 'why' });
      return replies.filter((reply) => reply.is === 'story').at(-1)!.story.events;
    });
    expect(told.length).toBeGreaterThan(0);
    for (const events of told) expect(events.some((event) => event.is === 'removed')).toBe(true);
    expect(told.some((events) => events.some((event) => event.is === 'rule' && event.rule === hunt))).toBe(true);
  });

  it('says how agents go from state to state and how long they stay', () => {
    const { live, load, goTo } = stage();
    load(PEN);
    live.receive({ is: 'follow states', of: { kind: 0, machine: 0 } });
    const { states } = goTo(40);
    expect(states!.counts.reduce((sum, count) => sum + count, 0)).toBe(30);
    const stays = [...states!.stays[1]!];
    expect(stays.length).toBeGreaterThan(10);
    expect(new Set(stays)).toEqual(new Set([3]));
  });

  it('lays out a network without a space, each agent keeping its place', () => {
    const { load, goTo } = stage();
    load('model Ties\nclock\n  end after 20 steps\nagent Vole\n  start 40\n  has heat = 1\n  behaviour warm\n    heat += 0.1 * (count Vole tied by Kin)\nnetwork Kin ties Vole to Vole: ring, 4 neighbours\nmeasure h = sum of it.heat over Vole\n');
    const { kinds, ties, spaces } = goTo(3);
    expect([spaces, ties[0]!.length]).toEqual([[{ width: 100, height: 100 }], 4 * 80]);
    expect(new Set(kinds[0]!.x).size).toBe(40);
    const far = Math.max(...[...goTo(4).kinds[0]!.x].map((x, i) => Math.abs(x - kinds[0]!.x[i]!)));
    expect(far).toBeLessThan(30);
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
