import { describe, expect, it } from 'vitest';
import { firstDifference, planOf } from '../../../test/models.ts';
import { csvOf } from '../../csv.ts';
import { compilePlan } from '../../load.ts';
import { MOST_NOTES } from '../../engine/run-context.ts';
import type { RunResult } from '../runner/simulate.ts';
import { simulate } from '../runner/simulate.ts';
import { noteCells, noteHeader, writesNotes } from './note-table.ts';

const TEXT = `model Diary
clock
  step 2 days
  end after 2 steps
space Yard: plane 10 m by 10 m, walled
agent Vole
  start 1 at (2 m, 3 m)
  start 1 at (4 m, 5 m)
  has age = 4 days
  has home = nowhere
  has friend: Vole = nobody
  has coat = brown of brown, grey
  states mood
    Calm
  behaviour write
    age += 1 day
    log "I am", age, coat, mood, number > 1, number / 3
    friend = other Vole
    log friend, self.friend, place, home
behaviour sum_up
  log count Vole, "voles"
order
  write in fixed order
  sum_up
measure n = count Vole
`.replace('    friend = other Vole\n', '    with v = nearest Vole\n      friend = v\n');

function notesOf(text: string): { plan: ReturnType<typeof planOf>; result: RunResult } {
  const plan = planOf(text);
  const outcome = simulate(compilePlan(plan), { parameters: [], seed: 5, every: 1, notes: true });
  return { plan, result: (outcome as { result: RunResult }).result };
}

describe('what log lines write', () => {
  const { plan, result } = notesOf(TEXT);
  const table = csvOf(noteCells(plan, TEXT, 3, 5, result.notes!)).split('\n');

  it('is a table with a row a note: when, who, which line, and values as a reader knows them', () => {
    expect(csvOf([noteHeader(plan)])).toBe('run,seed,step,time [days],agent,line,note');
    expect(table.slice(0, 4)).toEqual([
      '3,5,1,2,Vole 1,17,I am 5 days brown Calm no 0.333333',
      '3,5,1,2,Vole 1,20,"Vole 2 Vole 2 2, 3 m nowhere"',
      '3,5,1,2,Vole 2,17,I am 5 days brown Calm yes 0.666667',
      '3,5,1,2,Vole 2,20,"Vole 1 Vole 1 4, 5 m nowhere"',
    ]);
    expect(table[4]).toBe('3,5,1,2,,22,2 voles');
  });

  it('is the same in both engines', () => expect(firstDifference(plan, 5, 2)).toBe(-1));

  it('says nobody and nowhere in words', () => {
    const alone = TEXT.replace('  start 1 at (4 m, 5 m)\n', '').replace(
      'nearest Vole',
      'nearest Vole where it.age > 99 days',
    );
    const { plan: other, result: of } = notesOf(alone);
    expect(csvOf(noteCells(other, alone, 1, 5, of.notes!))).toContain('nobody nobody 2, 3 m nowhere');
    expect(firstDifference(other, 5, 2)).toBe(-1);
  });

  it('is kept when it is asked for, and of a model that writes none there is none', () => {
    const quiet = planOf('model Q\nagent A\n  start 1\nmeasure n = count A\n');
    expect([writesNotes(plan), writesNotes(quiet)]).toEqual([true, false]);
    const unasked = simulate(compilePlan(plan), { parameters: [], seed: 5, every: 1 }) as { result: RunResult };
    expect(unasked.result.notes).toBeUndefined();
  });

  it('is the first of a run that writes very much', () => {
    const { result: long } = notesOf(
      'model Much\nclock\n  end after 30 steps\nagent A\n  start 500\n  has k = 0\n  behaviour go\n    k += 1\n    log k\norder\n  go in fixed order\nmeasure n = count A\n',
    );
    expect([long.notes!.length, long.notes!.at(-1)!.step]).toEqual([MOST_NOTES, MOST_NOTES / 500]);
  });
});
