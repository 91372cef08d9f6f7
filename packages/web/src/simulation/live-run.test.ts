import { readFileSync } from 'node:fs';
import { beforeAll, describe, expect, it } from 'vitest';
import type { HandAct } from '@vole/core';
import { loadModel } from '@vole/core';
import { LiveRun } from './live-run.ts';
import type { Frame, WatchReply } from './protocol.ts';
import { loadLaterParts } from './on-demand.ts';

beforeAll(loadLaterParts);

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
const parameterOf = (name: string): number =>
  loadModel(MEADOW).loaded!.plan.parameters.findIndex((p) => p.name === name);

/** A live run with a page that draws at once, and a clock that stands still but for `pass`. */
function stage() {
  const replies: WatchReply[] = [];
  let time = 0;
  const live = new LiveRun(
    (message) => replies.push(structuredClone(message)),
    () => time,
  );
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
  const load = (text: string, version = 1, goesOn = false): Extract<WatchReply, { is: 'checked' }> => {
    live.receive({ is: 'load', text, version, seed: 1, parameters: {}, goesOn });
    settle();
    const checks = replies.filter((reply) => reply.is === 'checked');
    return checks[checks.length - 1]!;
  };
  return { live, replies, settle, frame, goTo, load };
}

/** The pen with a fourth line in its behaviour, a new kind and another measure. */
const LARGER_PEN = PEN.replace(
  '    turn by uniform(-60 deg, 60 deg)\n',
  '    turn by uniform(-60 deg, 60 deg)\n    energy += 0.5\n',
)
  .replace('order\n', 'agent Mole\n  start 4 anywhere\n  behaviour dig\n    move by 2\norder\n  dig in turn\n')
  .replace('show Vole', 'measure moles = count Mole\nshow Mole: dot\nshow Vole');

const picture = (frame: Frame): string =>
  JSON.stringify([
    frame.step,
    frame.kinds.map((kind) => [[...kind.numbers], [...kind.x], [...kind.colours]]),
    frame.fields.map((f) => [...f.levels]),
  ]);

describe('the live run', () => {
  it('hands out what was computed while the page drew before it computes on, and nothing twice', () => {
    const { live, replies, load } = stage();
    load(PEN);
    const steps = (): number[] => replies.flatMap((reply) => (reply.is === 'frame' ? [reply.frame.step] : []));
    const before = steps().length;
    live.receive({ is: 'step' });
    live.work();
    expect(steps().slice(before)).toEqual([1]);
    // Of a long stretch nothing is seen until the page has drawn; then it is, without another stretch.
    live.receive({ is: 'step' });
    live.work();
    expect(steps().slice(before)).toEqual([1]);
    live.receive({ is: 'frame drawn' });
    expect(steps().slice(before)).toEqual([1, 2]);
    live.receive({ is: 'frame drawn' });
    live.work();
    expect(steps().slice(before)).toEqual([1, 2]);
  });

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
    live.receive({ is: 'run again', step: 40 });
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
    for (let x = 4; x <= 8; x++)
      live.receive({ is: 'act', act: { is: 'paint', zone: 0, places: [[x, 4]], radius: 0, inside: true } });
    settle();
    const there = picture(goTo(20));
    const last = replies.filter((reply) => reply.is === 'frame').at(-1)!;
    expect(last.acts).toEqual([
      {
        step: 5,
        act: {
          is: 'paint',
          zone: 0,
          places: [
            [4, 4],
            [5, 4],
            [6, 4],
            [7, 4],
            [8, 4],
          ],
          radius: 0,
          inside: true,
        },
        from: undefined,
      },
    ]);
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
    for (const [condition, why] of [
      ['count Vole >', 'the condition is not complete'],
      ['(count Vole > 3', 'the condition is not complete'],
      ['chance(0.5)', 'a condition to run to may not draw luck'],
    ]) {
      live.receive({ is: 'run until', condition: condition! });
      expect([condition, replies.at(-1)]).toEqual([condition, { is: 'refused', why }]);
    }
  });

  it('says that a condition did not become true before the end', () => {
    const { live, load, settle, frame, replies } = stage();
    load(PEN);
    live.receive({ is: 'run until', condition: 'count Vole > 1000' });
    settle();
    expect(frame().step).toBe(60);
    expect(replies.filter((reply) => reply.is === 'refused')).toEqual([
      { is: 'refused', why: '“count Vole > 1000” did not become true before the end' },
    ]);
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
    const told = [...before]
      .filter((number) => !after.has(number))
      .map((number) => {
        live.receive({ is: 'open agent', kind: 0, number });
        live.receive({ is: 'why' });
        settle();
        return replies.filter((reply) => reply.is === 'story').at(-1)!.story.events;
      });
    expect(told.length).toBeGreaterThan(0);
    for (const events of told) expect(events.some((event) => event.is === 'removed')).toBe(true);
    expect(told.some((events) => events.some((event) => event.is === 'rule' && event.rule === hunt))).toBe(true);
  });

  it('says how far a long story is, and drops it when something else is asked for', () => {
    const replies: WatchReply[] = [];
    let time = 0;
    const live = new LiveRun(
      (message) => replies.push(message),
      () => (time += 5),
    );
    live.receive({ is: 'load', text: MEADOW, version: 1, seed: 1, parameters: {} });
    live.receive({ is: 'go to', step: 60 });
    while (live.work() !== undefined);
    live.receive({ is: 'open agent', kind: 0, number: 5 });
    const told = (turns: number): void => {
      live.receive({ is: 'why' });
      for (let i = 0; i < turns; i++) live.work();
    };
    told(4);
    live.receive({ is: 'go to', step: 60 });
    while (live.work() !== undefined);
    expect(replies.filter((reply) => reply.is === 'story')).toEqual([]);
    told(1000);
    const left = replies.filter((reply) => reply.is === 'telling').map(({ stepsLeft }) => stepsLeft);
    expect(left.length).toBeGreaterThan(0);
    expect(left).toEqual([...left].sort((a, b) => b - a));
    expect(replies.filter((reply) => reply.is === 'story')).toMatchObject([{ story: { step: 60, number: 5 } }]);
  });

  it('refuses the story of the step at which the text changed', () => {
    const { live, load, goTo, settle, replies } = stage();
    load(PEN);
    goTo(20);
    load(LARGER_PEN, 2, true);
    live.receive({ is: 'open agent', kind: 0, number: 5 });
    live.receive({ is: 'why' });
    settle();
    expect(replies.filter((reply) => reply.is === 'refused').at(-1)).toMatchObject({
      why: expect.stringContaining('one step back') as string,
    });
    goTo(19);
    live.receive({ is: 'why' });
    settle();
    expect(replies.filter((reply) => reply.is === 'story').at(-1)).toMatchObject({
      story: { step: 19, history: { length: 19 } },
    });
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
    load(
      'model Ties\nclock\n  end after 20 steps\nagent Vole\n  start 40\n  has heat = 1\n  behaviour warm\n    heat += 0.1 * (count Vole tied by Kin)\nnetwork Kin ties Vole to Vole: ring, 4 neighbours\nmeasure h = sum of it.heat over Vole\n',
    );
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
    expect(wrong.hasPlan).toBe(false);
    expect(wrong.diagnostics.map((d) => d.code)).toContain('name/unknown');
    expect(frame().step).toBe(12);
    expect(load(MEADOW.replace('= 300, whole', '= 200, whole'), 4)).toMatchObject({ restarted: true });
    expect(frame().kinds[0]!.count).toBe(200);
  });

  it('is taken back beyond the step at which the text changed, and comes forward to the same run again', () => {
    const { live, load, goTo, settle, frame, replies } = stage();
    load(PEN);
    goTo(5);
    live.receive({ is: 'act', act: { is: 'place', kind: 0, x: 2, y: 3 } });
    const early = [5, 12, 20].map((step) => picture(goTo(step)));
    expect(load(LARGER_PEN, 2, true)).toMatchObject({
      restarted: true,
      shown: { wentOn: { step: 20 }, until: undefined },
    });
    const late = [20, 33, 47].map((step) => picture(goTo(step)));
    expect(frame().kinds).toHaveLength(2);

    expect(picture(goTo(12))).toBe(early[1]);
    expect(frame().kinds).toHaveLength(1);
    const shown = replies.filter((reply) => reply.is === 'shown').at(-1)!.shown;
    expect([shown.text, shown.until, shown.wentOn]).toEqual([PEN, 20, undefined]);
    // What was run under the old text after the change is not shown: the ribbon ends where the newer text begins.
    expect(frame().furthest).toBe(20);
    expect(picture(goTo(33))).toBe(late[1]);
    expect(frame()).toMatchObject({ furthest: 47 });
    expect(picture(goTo(5))).toBe(early[0]);
    live.receive({ is: 'play', playing: true });
    live.receive({ is: 'pace', stepsPerSecond: Infinity });
    settle();
    expect(frame()).toMatchObject({ step: 60, ended: true, playing: false });
    expect([20, 33, 47].map((step) => picture(goTo(step)))).toEqual(late);
  });

  it('takes the newer text up once more when something before it is changed by hand, and forgets later acts', () => {
    const { live, load, goTo, settle, frame, replies } = stage();
    load(PEN);
    goTo(20);
    load(LARGER_PEN, 2, true);
    goTo(30);
    live.receive({ is: 'act', act: { is: 'remove', kind: 0, number: 7 } });
    const before = picture(goTo(40));
    goTo(10);
    live.receive({ is: 'act', act: { is: 'remove', kind: 0, number: 3 } });
    settle();
    expect(replies.filter((reply) => reply.is === 'shown').at(-1)!.shown.until).toBe(20);
    const after = goTo(40);
    expect(after.kinds).toHaveLength(2);
    expect([after.kinds[0]!.numbers.includes(3), after.kinds[0]!.numbers.includes(7), after.kinds[1]!.count]).toEqual([
      false,
      true,
      4,
    ]);
    expect(picture(after)).not.toBe(before);
    expect(replies.filter((reply) => reply.is === 'frame').at(-1)!.acts).toEqual([]);
    // The act is listed where it was done, and can be taken back from there.
    goTo(15);
    expect(replies.filter((reply) => reply.is === 'frame').at(-1)!.acts).toHaveLength(1);
    live.receive({ is: 'forget act', index: 0 });
    settle();
    expect(frame()).toMatchObject({ step: 15 });
    const { kinds } = goTo(40);
    expect([kinds[0]!.numbers.includes(3), kinds.length]).toEqual([true, 2]);
  });

  it('runs again with its acts and changes of the text, also elsewhere and with another seed', () => {
    const [here, elsewhere] = [stage(), stage()];
    here.load(PEN);
    here.goTo(8);
    here.live.receive({ is: 'act', act: { is: 'set attribute', kind: 0, number: 2, column: 0, value: 50 } });
    here.goTo(20);
    here.load(LARGER_PEN, 2, true);
    here.goTo(25);
    here.live.receive({ is: 'act', act: { is: 'place', kind: 1, x: 9, y: 9 } });
    here.goTo(31);
    here.load(LARGER_PEN.replace('move by 2', 'move by 3'), 3, true);
    const there = picture(here.goTo(44));
    here.live.receive({ is: 'note chapters' });
    const noted = here.replies.filter((reply) => reply.is === 'chapters').at(-1)!;
    expect(noted.chapters.map(({ from, acts }) => [from, acts.length])).toEqual([
      [0, 1],
      [20, 1],
      [31, 0],
    ]);
    here.live.receive({ is: 'run again' });
    here.settle();
    expect(here.frame()).toMatchObject({ step: 0, furthest: 0 });
    expect(picture(here.goTo(44))).toBe(there);

    elsewhere.live.receive({ is: 'run again', seed: 1, step: noted.step, chapters: noted.chapters });
    elsewhere.settle();
    expect(picture(elsewhere.frame())).toBe(there);
    elsewhere.live.receive({ is: 'run again', seed: 2, step: 44, chapters: noted.chapters });
    elsewhere.settle();
    expect(elsewhere.frame().step).toBe(44);
    expect(picture(elsewhere.frame())).not.toBe(there);
  });

  it('takes only the last of several texts that come at one step, as if it had been typed at once', () => {
    const [typed, pasted] = [stage(), stage()];
    for (const { load, goTo } of [typed, pasted]) {
      load(PEN);
      goTo(20);
    }
    typed.load(
      PEN.replace('has energy = 1', 'has energies = 1')
        .replace('energy += 5', 'energies += 5')
        .replace('it.energy', 'it.energies'),
      2,
      true,
    );
    typed.load(LARGER_PEN, 3, true);
    pasted.load(LARGER_PEN, 2, true);
    expect(picture(typed.goTo(40))).toBe(picture(pasted.goTo(40)));
    typed.live.receive({ is: 'note chapters' });
    expect(typed.replies.filter((reply) => reply.is === 'chapters').at(-1)!.chapters).toHaveLength(2);
  });

  it('runs until a condition holds also where the text changes on the way', () => {
    const { live, load, goTo, settle, frame } = stage();
    load(PEN);
    goTo(20);
    load(LARGER_PEN, 2, true);
    goTo(50);
    goTo(5);
    live.receive({ is: 'run until', condition: 'now > 30 steps' });
    settle();
    expect(frame()).toMatchObject({ step: 31, ended: false, playing: false });
    expect(frame().kinds).toHaveLength(2);
    // Asked after step 31, at its end, `now` is 31: the first after 30.
    // A condition that the newer text does not understand ends the way where that text begins.
    load(LARGER_PEN.replace(/energy/g, 'vigour'), 3, true);
    goTo(22);
    live.receive({ is: 'run until', condition: '(max of it.energy over Vole) > 1000' });
    settle();
    expect(frame()).toMatchObject({ step: 31, playing: false });
  });

  it('lets a new text make a run longer that had ended', () => {
    const { load, goTo, frame } = stage();
    load(PEN);
    expect(goTo(80)).toMatchObject({ step: 60, ended: true });
    load(PEN.replace('end after 60 steps', 'end after 90 steps'), 2, true);
    expect(goTo(80)).toMatchObject({ step: 80, ended: false });
    expect(goTo(30).step).toBe(30);
    expect(goTo(85).step).toBe(85);
    expect(frame().ended).toBe(false);
  });

  it('keeps the first step of a text through any number of kept steps', () => {
    const { load, goTo } = stage();
    const long = PEN.replace('end after 60 steps', 'end after 3000 steps');
    load(long);
    goTo(37);
    load(long.replace('energy += 5', 'energy += 6'), 2, true);
    const there = picture(goTo(38));
    goTo(2500);
    expect(picture(goTo(38))).toBe(there);
    expect(goTo(37).step).toBe(37);
    expect(goTo(3).step).toBe(3);
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
    load(
      'model F\nclock\n  end after 9 steps\nagent A\n  start 1\n  has k = 3\n  behaviour go\n    k -= 1\n    let z = 1 / k\n    k += 0 * z\nmeasure m = sum of it.k over A\n',
    );
    goTo(8);
    expect(replies.filter((reply) => reply.is === 'failed')).toMatchObject([
      { step: 3, diagnostic: { code: 'run/not-finite' } },
    ]);
    expect(goTo(1).step).toBe(1);
  });

  it('hands out what log lines write, up to the furthest step; an act by hand forgets what came after it', () => {
    const { frame, goTo, load, live, settle, replies } = stage();
    load(
      PEN.replace(
        '    turn by uniform(-60 deg, 60 deg)\n',
        '    if number <= 2\n      log "turned", energy\n    turn by 5 deg\n',
      ),
    );
    const notes = (): string[] => {
      const kept: { step: number; agent: string; text: string }[] = [];
      for (const reply of replies) {
        if (reply.is !== 'frame') continue;
        kept.splice(reply.frame.fromNote);
        kept.push(...reply.frame.notes);
      }
      return kept.map(({ step, agent, text }) => `${step} ${agent}: ${text}`).sort();
    };
    goTo(3);
    const whole = notes();
    expect(whole).toEqual([1, 2, 3].flatMap((step) => [1, 2].map((number) => `${step} Vole ${number}: turned 1`)));
    goTo(1);
    expect(frame().step).toBe(1);
    expect(notes()).toEqual(whole);
    goTo(3);
    expect(notes()).toEqual(whole);
    goTo(2);
    live.receive({ is: 'act', act: { is: 'remove', kind: 0, number: 2 } });
    settle();
    expect(notes()).toEqual(whole.slice(0, 4));
    goTo(3);
    expect(notes()).toEqual([...whole.slice(0, 4), '3 Vole 1: turned 1']);
  });
});
