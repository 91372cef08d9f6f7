import type { CompiledPlan, Plan } from '../src/index.ts';
import { compilePlan, interpretPlan, loadModel, ModelError, Run } from '../src/index.ts';
import type { Script } from '../src/engine/script.ts';

/** Loads a model that is meant to be right; fails with its findings if it is not. */
export function planOf(text: string, files?: ReadonlyMap<string, string>): Plan {
  const { loaded, diagnostics } = loadModel(text, files);
  if (!loaded)
    throw new Error(`The model has errors:\n${diagnostics.map((d) => `${d.code} ${d.message}`).join('\n')}\n${text}`);
  return loaded.plan;
}

export function usualValues(plan: Plan): number[] {
  return plan.parameters.map((parameter) => parameter.value);
}

export function compiledRun(
  plan: Plan,
  seed = 1,
  compiled: CompiledPlan = compilePlan(plan),
  parameters = usualValues(plan),
): { run: Run; script: Script } {
  const script = compiled.script();
  return { run: new Run(script, parameters, seed), script };
}

export function interpretedRun(plan: Plan, seed = 1, parameters = usualValues(plan)): { run: Run; script: Script } {
  const script = interpretPlan(plan);
  return { run: new Run(script, parameters, seed), script };
}

/** Everything that can differ between two runs, as text that compares to the bit. */
export function stateText(script: Script, run: Run): string {
  const bits = (_: string, value: unknown): unknown =>
    typeof value === 'number' && !Number.isFinite(value) ? String(value) : Object.is(value, -0) ? '-0' : value;
  return JSON.stringify(
    [
      run.step,
      run.hasEnded,
      script.view(),
      [...run.rowData].map((v) => bits('', v)),
      [...script.world.variables],
      [...script.world.entered],
      [...script.world.left],
      script.world.refused,
    ],
    bits,
  );
}

/** What a run has told since it began: log lines, records, marks of the timeline. A snapshot does not hold it. */
function toldText(script: Script, run: Run): string {
  return JSON.stringify([script.world.notes, script.records, run.marks]);
}

/** Runs both engines side by side and gives the first step at which they differ, or -1. */
export function firstDifference(plan: Plan, seed: number, steps: number): number {
  const [a, b] = [compilePlan(plan).script(), interpretPlan(plan)].map((script: Script) => {
    script.recording = true;
    return { script, run: new Run(script, usualValues(plan), seed) };
  }) as [{ script: Script; run: Run }, { script: Script; run: Run }];
  for (let step = 0; step <= steps; step++) {
    if (stateText(a.script, a.run) !== stateText(b.script, b.run)) return step;
    if (toldText(a.script, a.run) !== toldText(b.script, b.run)) return step;
    const failures = [a, b].map(({ run }) => failureOf(() => run.next()));
    if (failures[0] !== failures[1]) return step;
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
