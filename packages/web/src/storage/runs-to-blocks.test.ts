import 'fake-indexeddb/auto';
import { runsIn, StudyResults, decodeBlock } from '@vole/core';
import Dexie from 'dexie';
import { describe, expect, it } from 'vitest';
import { openDatabase } from './db.ts';

/** The tables as an earlier version of the application left them. */
function earlierDatabase(name: string): Dexie {
  const db = new Dexie(name);
  db.version(2).stores({
    projects: 'id, changedAt, deletedAt',
    studies: 'id, projectId, [projectId+kind], createdAt',
    runs: 'id, studyId, [studyId+index]',
    observed: 'id, projectId',
    versions: 'id, projectId, [projectId+at]',
  });
  return db;
}

const vary = {
  id: 's',
  projectId: 'p',
  kind: 'vary',
  name: 'Vary',
  text: 'model M\n',
  seeds: [4, 9],
  every: 2,
  parameters: {},
  factors: [{ parameter: 'bite', values: [0.1, 0.2] }],
  createdAt: 1,
  status: 'stopped',
};
const run = (index: number, seed: number, numbers: readonly number[], failure?: string) => ({
  id: `s:${index}`,
  studyId: 's',
  index,
  seed,
  steps: numbers.length,
  rows: Float64Array.from(numbers).buffer,
  summaries: Float64Array.of(index).buffer,
  refused: 0,
  ...(failure === undefined ? {} : { failure }),
});

describe('studies that an earlier version stored', () => {
  it('keep all their runs, which are found by point and seed', async () => {
    const earlier = earlierDatabase('earlier');
    await earlier.table('studies').add(vary);
    await earlier
      .table('runs')
      .bulkAdd([
        run(3, 9, [5, 6, 7]),
        run(0, 4, [1, 2]),
        run(1, 9, [], 'A division by 0.'),
        { id: 'odd', studyId: 's' },
      ]);
    earlier.close();

    const db = openDatabase('earlier');
    expect(await db.studies.toArray()).toEqual([vary]);
    const blocks = (await db.blocks.toArray()).map(({ bytes }) => decodeBlock(bytes).block);
    const results = new StudyResults();
    for (const block of blocks) results.add(block);
    const design = { is: 'every combination', factors: vary.factors, seeds: vary.seeds } as const;
    expect(
      results.inOrder(design).map((runs) => runs.map((result) => result && [...result.rows, ...result.summaries])),
    ).toEqual([
      [[1, 2, 0], undefined],
      [undefined, [5, 6, 7, 3]],
    ]);
    expect(results.finished()).toMatchObject({
      points: ['bite=0.1', 'bite=0.1', 'bite=0.2'],
      seeds: [4, 9, 9],
      failed: 1,
    });
    expect(blocks.flatMap(runsIn).find(({ seed, point }) => seed === 9 && point === 'bite=0.1')!.outcome).toMatchObject(
      {
        failure: { code: 'run/earlier', message: 'A division by 0.' },
      },
    );
    expect(db.tables.map(({ name }) => name)).not.toContain('runs');
  });

  it('are moved in blocks of some hundred runs, none left out', async () => {
    const earlier = earlierDatabase('long');
    const seeds = Array.from({ length: 600 }, (_, i) => i);
    await earlier.table('studies').add({ ...vary, factors: [], seeds });
    await earlier.table('runs').bulkAdd(seeds.map((seed) => run(seed, seed, [seed])));
    earlier.close();
    const db = openDatabase('long');
    const runs = (await db.blocks.toArray()).map(({ bytes }) => decodeBlock(bytes).block.seed.length);
    expect(runs).toEqual([256, 256, 88]);
  });
});
