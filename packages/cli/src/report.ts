import { Command } from 'commander';
import { dirname, extname, join } from 'node:path';
import type { Bundle, CheckOutcome, LoadedModel, ModelFile, Report, ReportFacts, StudyTold } from '@vole/core';
import {
  BlockError,
  compilePlan,
  ENGINE_VERSION,
  loadModel,
  modelFiles,
  projectReport,
  reportDocx,
  reportHtml,
  reportMarkdown,
  Rerun,
  runCheck,
  toldStudy,
  fileMarks,
  waitingPlaces,
} from '@vole/core';
import { isFolder, readBundleAt } from './bundle-files.ts';
import { Output } from './files.ts';
import { modelOrExplain } from './model-file.ts';
import { pngOf } from './png.ts';
import { UsageError } from './usage-error.ts';

interface Options {
  readonly out: string;
  readonly force?: boolean;
  readonly checks?: boolean;
}

export function reportCommand(): Command {
  return new Command('report')
    .description(
      'Tells a model as a report in the standard order: what it is for, what it is made of, each rule, how to repeat it; of a bundle also what came out of its studies.',
    )
    .argument('<model>', 'a .vole file, a .voleparade file, or the folder that one was unpacked into')
    .requiredOption(
      '-o, --out <file>',
      'the report: a file that ends in .html, .md (its figures lie beside it) or .docx',
    )
    .option('--checks', 'run the checks of the model and tell what came of them')
    .option('--force', 'replace files that are there already')
    .addHelpText(
      'after',
      '\nExamples:\n  vole report meadow-year.vole --out meadow-year.html\n  vole report meadow-year.vole --out meadow-year.docx --force\n  vole report meadow.voleparade --checks --out meadow.html',
    )
    .action(async (path: string, options: Options) => {
      const write = WRITERS[extname(options.out).toLowerCase()];
      if (!write) throw new UsageError(`${options.out} ends in none of ${Object.keys(WRITERS).join(', ')}`);
      const source = await sourceOf(path);
      if (!source) return;
      const { model } = source.contents;
      const report = projectReport({ ...source.contents, checks: options.checks && model ? checksOf(model) : [] });
      const files = await write(report, options.out);
      const outputs = [...files].map(([file, content]) => ({
        output: new Output(file, { inputs: source.inputs, force: options.force ?? false }),
        content,
      }));
      for (const { output, content } of outputs) output.write(content);
      for (const { output } of outputs) output.finish();
      for (const { section, heading } of waitingPlaces(report))
        process.stderr.write(
          `${section.title}: “${heading}” waits for a sentence; write “${heading}: ...” under the title of the model\n`,
        );
    });
}

/** What a report is told from, and the files that it must not write over. */
interface Source {
  readonly contents: Omit<Parameters<typeof projectReport>[0], 'checks'>;
  readonly inputs: readonly string[];
}

/** Reads a model or a bundle. @returns nothing where the text of a model has errors, which are told */
async function sourceOf(path: string): Promise<Source | undefined> {
  if (path.endsWith('.voleparade') || isFolder(path))
    return { contents: await bundleContents(readBundleAt(path)), inputs: [path] };
  const read = await modelOrExplain(path);
  if (!read) return undefined;
  const { loaded: model, text, inputs } = read;
  return { contents: { name: model.plan.title, text, model, notes: '', studies: [], observed: [] }, inputs };
}

async function bundleContents({
  project,
  model: text,
  files: texts,
  studies,
  observed,
}: Bundle): Promise<Source['contents']> {
  const files = await modelFiles(Object.entries(texts));
  const told: StudyTold[] = [];
  for (const [i, study] of studies.entries()) {
    if (study.isLeftOut) continue;
    const found = await toldOf(study, String(i + 1), text, files);
    if ('problem' in found) process.stderr.write(`“${study.name}” is left out: ${found.problem}\n`);
    else told.push(found);
  }
  return {
    name: project.name,
    text,
    model: loadModel(text, files).loaded,
    notes: project.notes,
    studies: told,
    observed,
  };
}

/** A study of a bundle told from the runs that came with it. */
async function toldOf(
  study: Bundle['studies'][number],
  id: string,
  text: string,
  files: ReadonlyMap<string, ModelFile>,
): Promise<StudyTold | { readonly problem: string }> {
  const kept = Rerun.of(study, text, files);
  if ('problem' in kept) return kept;
  try {
    if (study.block) kept.takeBlock(study.block);
  } catch (error) {
    if (error instanceof BlockError) return { problem: `its runs cannot be used. ${error.message}` };
    throw error;
  }
  const now = { text, files: fileMarks(files) };
  return toldStudy({ ...study, id, text: kept.text }, kept.plan, now, study.drawn, {
    ask: (question) => Promise.resolve(kept.ask(question)),
    finished: () => Promise.resolve(kept.finished()),
    planned: study.isDone === true || study.kind === 'match' || study.until ? undefined : kept.total,
  });
}

function checksOf({ plan }: LoadedModel): CheckOutcome[] {
  const compiled = compilePlan(plan);
  return plan.checks.map((check) => runCheck(compiled, check));
}

const FACTS: ReportFacts = { language: 'en', generator: `Vole Parade, engine version ${ENGINE_VERSION}` };

/** Files of a report by their paths, for each ending of its name. */
const WRITERS: Readonly<
  Record<string, (report: Report, path: string) => Promise<ReadonlyMap<string, string | Uint8Array>>>
> = {
  '.html': (report, path) => Promise.resolve(new Map([[path, reportHtml(report, FACTS)]])),
  '.md': (report, path) => {
    const { text, figures } = reportMarkdown(report, FACTS);
    return Promise.resolve(
      new Map([[path, text], ...[...figures].map(([name, svg]) => [join(dirname(path), name), svg] as const)]),
    );
  },
  '.docx': async (report, path) => new Map([[path, new Uint8Array(await reportDocx(report, FACTS, pngOf))]]),
};
