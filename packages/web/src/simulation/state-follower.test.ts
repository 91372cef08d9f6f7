import { compilePlan, loadModel, Run } from '@vole/core';
import { describe, expect, it } from 'vitest';
import { StateFollower } from './state-follower.ts';

const TEXT = `model States
clock
  step 1 day
  end after 40 days
agent Vole
  start 6
  states life
    Young
      after 3 days: Old
    Old
      after 2 days: Young
  behaviour come_and_go
    if number is 2 and now is 4 days
      remove self
    if number is 1 and now is 5 days
      create 1 Vole
order
  come_and_go in fixed order
  life in turn
measure m = count Vole
`;

function followed(kind: number, machine: number, steps: number) {
  const { plan } = loadModel(TEXT).loaded!;
  const executable = compilePlan(plan).executable();
  const run = new Run(executable, [], 1);
  const follower = new StateFollower(kind, machine);
  follower.begin(executable);
  const frames = Array.from({ length: steps }, () => {
    follower.before(executable);
    run.next();
    follower.after(executable, run.step);
    return follower.frame(executable);
  });
  return { frames, follower, executable };
}

describe('how agents go from state to state', () => {
  it('is counted step by step, without those who come and go', () => {
    const { frames } = followed(0, 0, 8);
    const flows = frames.map((frame) => [frame!.flows[1], frame!.flows[2]]);
    // Young to Old at the end of day 3, back at the end of day 5; number 2 goes on day 5 as Old, the newborn of day 6 is Young.
    expect(flows).toEqual([
      [0, 0],
      [0, 0],
      [6, 0],
      [0, 0],
      [0, 5],
      [0, 0],
      [0, 0],
      [5, 0],
    ]);
    expect(frames.map((frame) => frame!.counts)).toEqual([
      [6, 0],
      [6, 0],
      [0, 6],
      [0, 6],
      [5, 0],
      [6, 0],
      [6, 0],
      [1, 5],
    ]);
  });

  it('gives the lengths of stays that began and ended while it looked', () => {
    const { frames } = followed(0, 0, 30);
    const stays = frames.at(-1)!.stays.map((list) => [...list]);
    expect(new Set(stays[0])).toEqual(new Set([3]));
    expect(new Set(stays[1])).toEqual(new Set([2]));
    expect(stays[1]!.length).toBeGreaterThan(20);
  });

  it('forgets stays under way when the run stands elsewhere', () => {
    const { follower, executable } = followed(0, 0, 4);
    follower.begin(executable);
    expect(follower.frame(executable)).toMatchObject({ flows: [], stays: [new Float32Array(0), new Float32Array(0)] });
  });

  it('is nothing for a machine that is not there', () => {
    expect(followed(0, 3, 2).frames).toEqual([undefined, undefined]);
    expect(followed(4, 0, 2).frames).toEqual([undefined, undefined]);
  });
});
