import { Command } from 'commander';
import { dirname, extname, join } from 'node:path';
import type { LoadedModel, Report, ReportFacts } from '@vole/core';
import {
  checksSection,
  compilePlan,
  ENGINE_VERSION,
  modelSections,
  repeatSection,
  reportDocx,
  reportHtml,
  reportMarkdown,
  runCheck,
  waitingPlaces,
} from '@vole/core';
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
      'Tells a model as a report in the standard order: what it is for, what it is made of, each rule, how to repeat it.',
    )
    .argument('<model>', 'a .vole file')
    .requiredOption(
      '-o, --out <file>',
      'the report: a file that ends in .html, .md (its figures lie beside it) or .docx',
    )
    .option('--checks', 'run the checks of the model and tell what came of them')
    .option('--force', 'replace files that are there already')
    .addHelpText(
      'after',
      '\nExamples:\n  vole report meadow-year.vole --out meadow-year.html\n  vole report meadow-year.vole --out meadow-year.docx --force',
    )
    .action(async (path: string, options: Options) => {
      const write = WRITERS[extname(options.out).toLowerCase()];
      if (!write) throw new UsageError(`${options.out} ends in none of ${Object.keys(WRITERS).join(', ')}`);
      const model = modelOrExplain(path);
      if (!model) return;
      const report = reportOf(model.loaded, model.text, options.checks === true);
      const files = await write(report, options.out);
      const outputs = [...files].map(([file, content]) => ({
        output: new Output(file, { inputs: model.inputs, force: options.force ?? false }),
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

/** A model told, with how to repeat it, and what came of its checks if they are run. */
function reportOf(loaded: LoadedModel, text: string, runsChecks: boolean): Report {
  const { title, checks } = loaded.plan;
  const compiled = compilePlan(loaded.plan);
  return {
    title,
    sections: [
      ...modelSections(loaded, text),
      ...(runsChecks && checks.length > 0 ? [checksSection(checks.map((check) => runCheck(compiled, check)))] : []),
      repeatSection(text, ENGINE_VERSION),
    ],
  };
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
