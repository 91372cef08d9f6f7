import type { Crew } from '../src/kernel/crew.ts';
import { expect } from 'vitest';
import type { CompiledPlan, ModelFile, Plan, StudiedModel } from '../src/index.ts';
import { compileLightly, compilePlan, interpretPlan, loadModel, ModelError, Run } from '../src/index.ts';
import type { Executable } from '../src/engine/executable.ts';
import { makeKernels } from '../src/javascript/make-kernels.ts';

/** Loads a model that is meant to be right; fails with its findings if it is not. */
export function planOf(text: string, files?: ReadonlyMap<string, ModelFile>): Plan {
  return studiedModel(text, files).loaded.plan;
}

/** The same with its text, as studies take it. */
export function studiedModel(text: string, files?: ReadonlyMap<string, ModelFile>): StudiedModel {
  const { loaded, diagnostics } = loadModel(text, files);
  if (!loaded)
    throw new Error(`The model has errors:\n${diagnostics.map((d) => `${d.code} ${d.message}`).join('\n')}\n${text}`);
  return { text, files, loaded };
}

export function usualValues(plan: Plan): number[] {
  return plan.parameters.map((parameter) => parameter.value);
}

export function compiledRun(
  plan: Plan,
  seed = 1,
  compiled: CompiledPlan = compilePlan(plan),
  parameters = usualValues(plan),
): { run: Run; executable: Executable } {
  const executable = compiled.executable();
  return { run: new Run(executable, parameters, seed), executable };
}

export function interpretedRun(
  plan: Plan,
  seed = 1,
  parameters = usualValues(plan),
): { run: Run; executable: Executable } {
  const executable = interpretPlan(plan);
  return { run: new Run(executable, parameters, seed), executable };
}

/** Rows of measures by step, of a model that has the same ones in both engines. */
export function rowsInBoth(text: string, steps: number): number[][] {
  const plan = planOf(text);
  const [compiled, interpreted] = [compiledRun, interpretedRun].map((make) => {
    const { run } = make(plan);
    run.runTo(steps);
    return plan.measures.map((_, m) => Array.from({ length: run.rowCount }, (_, row) => run.valueAt(row, m)));
  });
  expect(interpreted).toEqual(compiled);
  return compiled!;
}

/** Everything that can differ between two runs, as text that compares to the bit. */
export function stateText(executable: Executable, run: Run): string {
  const bits = (_: string, value: unknown): unknown =>
    typeof value === 'number' && !Number.isFinite(value) ? String(value) : Object.is(value, -0) ? '-0' : value;
  return JSON.stringify(
    [
      run.step,
      run.hasEnded,
      executable.view(),
      [...run.rowData].map((v) => bits('', v)),
      [...executable.context.variables],
      [...executable.context.entered],
      [...executable.context.left],
      executable.context.refused,
    ],
    bits,
  );
}

/** What a run has told since it began: log lines, records, marks of the timeline. A snapshot does not hold it. */
function toldText(executable: Executable, run: Run): string {
  return JSON.stringify([executable.context.notes, executable.records, run.marks]);
}

/** How far a run goes on before it comes back, and how often it does. */
const [THERE, EVERY] = [2, 5];

/** Up to how many steps code goes without kernels before it takes them up. */
const LIGHT = 7;

/** Goes some steps further, also into one that fails, and back to where it was. */
function thereAndBack({ executable, run }: { readonly executable: Executable; readonly run: Run }): void {
  const snapshot = structuredClone(run.snapshot());
  // What is recorded stays with the run, wherever it goes.
  executable.recording = false;
  failureOf(() => {
    for (let i = 0; i < THERE; i++) run.next();
  });
  run.restore(snapshot);
  executable.recording = true;
}

/**
 * Runs the interpreter, kernels in WebAssembly, and a third by the seed, side by side, all but the first with ways there and back: kernels in JavaScript (1, 4 ...),
 * code without kernels of turns (5, 11 ...), or code that takes up kernels after some steps, as the page does (2, 8 ...).
 *
 * @param crews threads that help, each crew with a run of its own
 * @returns the first step at which they differ, or -1
 */
export function firstDifference(plan: Plan, seed: number, steps: number, crews: readonly Crew[] = []): number {
  const light = seed % 6 === 2 ? compileLightly(plan) : undefined;
  // Code that tells what agents go through has no kernels for their turns.
  const third = [() => [], () => [compilePlan(plan, false, 'JavaScript')], () => [light ?? compilePlan(plan, true)]];
  const compiled = [compilePlan(plan), ...third[seed % third.length]!()];
  const helped = crews.map((crew) => compiled[0]!.executable(crew));
  const engines = [interpretPlan(plan), ...compiled.map((one) => one.executable()), ...helped];
  const isOne = (answers: readonly unknown[]): boolean => new Set(answers).size === 1;
  const runs: { readonly executable: Executable; readonly run: Run }[] = [];
  const unbegun = engines.map((executable) => {
    executable.recording = true;
    return failureOf(() => runs.push({ executable, run: new Run(executable, usualValues(plan), seed) }));
  });
  if (!isOne(unbegun)) return 0;
  if (unbegun[0] !== undefined) return -1;
  for (let step = 0; step <= steps; step++) {
    if (!isOne(runs.map(({ executable, run }) => stateText(executable, run)))) return step;
    if (!isOne(runs.map(({ executable, run }) => toldText(executable, run)))) return step;
    if (step === (seed % LIGHT) + 1) light?.takeUp(makeKernels);
    if ((step + seed) % EVERY === 0) runs.slice(1).forEach(thereAndBack);
    const failures = runs.map(({ run }) => failureOf(() => run.next()));
    if (!isOne(failures)) return step;
    if (failures[0] !== undefined) return -1;
  }
  return -1;
}

/** The message with which an action stops a run, if it does. */
export function failureOf(action: () => void): string | undefined {
  try {
    action();
    return undefined;
  } catch (error) {
    if (error instanceof ModelError) return error.message;
    throw error;
  }
}

/** Average of a measure's last value over seeds. */
export function meanOverSeeds(
  plan: Plan,
  seeds: number,
  value: (run: Run) => number,
): { mean: number; standardError: number } {
  const compiled = compilePlan(plan);
  const values = Array.from({ length: seeds }, (_, seed) => {
    const { run } = compiledRun(plan, seed + 1, compiled);
    run.runTo();
    return value(run);
  });
  const mean = values.reduce((a, b) => a + b, 0) / seeds;
  const variance = values.reduce((sum, v) => sum + (v - mean) ** 2, 0) / (seeds - 1);
  return { mean, standardError: Math.sqrt(variance / seeds) };
}
