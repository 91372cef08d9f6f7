import { Command } from 'commander';
import { writeBundle } from '@vole/core';
import { isFolder, packedName, readBundleAt, writeFolder } from './bundle-files.ts';
import { Output } from './files.ts';
import { studiesInFolder } from './folder-studies.ts';
import { UsageError } from './usage-error.ts';

export function packCommand(): Command {
  return new Command('pack')
    .description(
      'Packs a folder into a bundle: one that was unpacked, or one with a single model. Studies in .study files become studies of the bundle.',
    )
    .argument('<folder>', 'a folder with the files of a bundle, or with one .vole file')
    .option('-o, --out <file>', 'the bundle (FOLDER.voleparade here, if not given)')
    .option('--force', 'replace a file that is there already')
    .addHelpText(
      'after',
      '\nExamples:\n  vole pack meadow\n  vole pack meadow --out meadow-for-review.voleparade --force',
    )
    .action((folder: string, options: { out?: string; force?: boolean }) => {
      if (!isFolder(folder)) throw new UsageError(`there is no folder ${folder}`);
      const read = readBundleAt(folder);
      const bundle = { ...read, studies: [...read.studies, ...studiesInFolder(folder, read)] };
      const path = options.out ?? packedName(folder);
      const output = new Output(path, { inputs: [], force: options.force === true });
      output.write(writeBundle(bundle));
      output.finish();
      process.stderr.write(
        `${path}: ${bundle.project.name}, ${countWords(bundle.studies.length, 'study', 'studies')}\n`,
      );
    });
}

export function unpackCommand(): Command {
  return new Command('unpack')
    .description(
      'Unpacks a bundle into a folder to be kept under version control: the model, its match and its tables beside one another, results as CSV.',
    )
    .argument('<bundle>', 'a .voleparade file')
    .argument('<folder>', 'a folder that is empty, or not there yet')
    .option('--force', 'replace the bundle that is there')
    .addHelpText(
      'after',
      '\nExamples:\n  vole unpack meadow.voleparade meadow\n  vole run meadow/model.vole --seeds 1..20 --summary',
    )
    .action((path: string, folder: string, options: { force?: boolean }) => {
      if (isFolder(path)) throw new UsageError(`${path} is a folder; name a .voleparade file`);
      const files = writeFolder(readBundleAt(path), folder, options.force === true);
      process.stderr.write(`${countWords(files.length, 'file', 'files')} in ${folder}\n`);
    });
}

function countWords(count: number, one: string, many: string): string {
  return `${count} ${count === 1 ? one : many}`;
}
