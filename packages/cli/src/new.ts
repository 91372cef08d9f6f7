import { existsSync } from 'node:fs';
import { basename, join } from 'node:path';
import { Command } from 'commander';
import { makeFolder, Output } from './files.ts';
import { UsageError } from './usage-error.ts';

export function newCommand(): Command {
  return new Command('new')
    .description('Makes a folder with a model that already runs, and a study of it, to be changed.')
    .argument('<name>', 'the folder, which must not be there yet; the model has its name')
    .addHelpText('after', '\nExamples:\n  vole new burrows\n  vole check burrows/burrows.vole')
    .action((folder: string) => {
      const name = basename(folder);
      const file = name
        .toLowerCase()
        .replace(/[^\p{L}\p{N}]+/gu, '-')
        .replace(/^-+|-+$/g, '');
      if (!file) throw new UsageError(`“${folder}” has no letter to name a model by`);
      if (existsSync(folder)) throw new UsageError(`${folder} is there already; name another folder`);
      makeFolder(folder);
      const title = name.replace(/[^\p{L}\p{N} -]+/gu, ' ').trim();
      const paths = [
        [`${file}.vole`, modelText(title.charAt(0).toUpperCase() + title.slice(1))],
        [`${file}.study`, STUDY],
      ] as const;
      for (const [path, text] of paths) {
        const output = new Output(join(folder, path), { inputs: [], force: false });
        output.write(text);
        output.finish();
      }
      process.stdout.write(
        `${paths.map(([path]) => join(folder, path)).join('\n')}\n\nNext:\n  vole run ${quoted(join(folder, paths[0][0]))}\n  vole study ${quoted(join(folder, paths[1][0]))} --out ${quoted(join(folder, 'results'))}\n`,
      );
    });
}

/** A path as a shell takes it. */
function quoted(path: string): string {
  return /^[\w./-]+$/.test(path) ? path : `'${path.replace(/'/g, `'\\''`)}'`;
}

function modelText(title: string): string {
  return `model ${title}
  What the model is about, in a sentence or two.
  Purpose: Which question it is to answer, and for whom.
  Left out: What it leaves out on purpose.

clock
  step 1 day
  end after 100 days

parameter voles  = 200, whole from 1 to 10000   "voles at the start"
parameter stride = 2 m per day, from 0 to 20    "how far a vole goes"

space Meadow: plane 100 m by 100 m, wrapping

agent Vole
  start voles anywhere
  has walked = 0 m                              "way it has gone"

  behaviour roam
    turn by uniform(-40 deg, 40 deg)
    move by stride * step
    walked += stride * step

measure east   = count Vole where it.x > 50 m   "voles in the eastern half"
measure way    = mean of it.walked over Vole
summary most   = max of east                    "most voles in the eastern half at a time"

chart Where they are: east, level voles / 2

show Vole: leaf

check Who does not go stays
  with stride = 0 m per day, over 5 seeds for 10 days
  expect last of way is 0 in every run
`;
}

const STUDY = `study How far they go
  note What does a longer stride change?
  vary stride  1, 2, 4, 8
  20 seeds each
  keep every 10 days
`;
