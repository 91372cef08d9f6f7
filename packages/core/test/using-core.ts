import type { FinishedRun } from '../src/index.ts';
import {
  answerTo,
  blockOf,
  compilePlan,
  encodeBlock,
  decodeBlock,
  jobsOf,
  loadModel,
  runStudy,
  simulate,
  StudyResults,
  textDigest,
} from '../src/index.ts';

/** Mean population at the end of 20 seeds at three rates, with its 90 % interval: from the text of a model to numbers. */
export async function endByRate(text: string): Promise<string[]> {
  // 1. Text to plan. Findings have a place, a reason, and often a repair.
  const { loaded, diagnostics } = loadModel(text);
  if (!loaded) throw new Error(diagnostics.map(({ message }) => message).join('\n'));
  const { plan } = loaded;

  // 2. A study: which points, which seeds. Values of a factor are in the unit of the text, all others in base units.
  const seeds = Array.from({ length: 20 }, (_, i) => i + 1);
  const design = { is: 'every combination', factors: [{ parameter: 'rate', values: [0, 1, 2] }], seeds } as const;

  // 3. Its runs, here in this thread. A run that fails is an outcome as well; the order in which they finish does not matter.
  const compiled = compilePlan(plan);
  const jobs = jobsOf({ design, parameters: {}, every: 1 }, plan);
  const finished: FinishedRun[] = [];
  await runStudy({
    proposer: { next: () => jobs.next().value },
    executor: { width: 1, run: (job) => Promise.resolve(simulate(compiled, job)!), close: () => undefined },
    sink: { take: (run) => void finished.push(run), flush: () => Promise.resolve() },
  });

  // 4. Kept as a block of columns, read again, and asked.
  const bytes = encodeBlock(blockOf(finished), textDigest(text));
  const results = new StudyResults();
  results.add(decodeBlock(bytes).block);
  const points = answerTo({ plan, design, results }, { is: 'points', most: 3 });
  return points.map(({ id, runs, estimates: [last] }) => {
    const { value, low, high } = last!;
    return `${id}: ${value} (${low.toFixed(1)} to ${high.toFixed(1)}), ${runs} runs`;
  });
}
