import { Command } from 'commander';
import type { LoadedModel, ParameterPlan } from '@vole/core';
import { compilePlan, Run } from '@vole/core';
import { modelOrExplain } from './model-file.ts';

export function infoCommand(): Command {
  return new Command('info')
    .description('Says what a model is made of: parts, parameters, sizes.')
    .argument('<model>', 'a .vole file')
    .action((path: string) => {
      const model = modelOrExplain(path);
      if (model) process.stdout.write(`${infoLines(model.loaded).join('\n')}\n`);
    });
}

function infoLines({ plan }: LoadedModel): string[] {
  const executable = compilePlan(plan).executable();
  const run = new Run(
    executable,
    plan.parameters.map((parameter) => parameter.value),
    1,
  );
  return [
    plan.title,
    `clock: ${plan.clock.unitSeconds > 0 ? `a step is ${plan.clock.stepLength} ${plan.clock.unitLabel}` : 'time is counted in steps'}, at most ${run.stepLimit} steps`,
    ...executable.state.grounds.map(({ space }, s) =>
      `space ${plan.spaces[s]!.name}: ${space.form} ${space.width} by ${space.height} ${plan.spaces[s]!.unitLabel}, ${space.edge}`.replace(
        ' ,',
        ',',
      ),
    ),
    ...plan.parameters.map((parameter) => `parameter ${parameterText(parameter)}`),
    ...plan.fields.map(
      (field, i) =>
        `field ${field.name}: ${executable.state.fields[i]!.columns} by ${executable.state.fields[i]!.rows} cells`,
    ),
    ...plan.kinds.map((kind, k) => {
      const machines = kind.machines.map((machine) => `; ${machine.name}: ${machine.states.join(', ')}`).join('');
      return `agent ${kind.name}: ${executable.living(k)} at the start; ${kind.columns.map((column) => column.name).join(', ') || 'no attributes'}${machines}`;
    }),
    `rules in order: ${plan.schedule.map((entry) => (entry.is === 'fields' ? entry.fields.map((f) => plan.fields[f]!.name).join(', ') : entry.is === 'surroundings' ? plan.rules[entry.rule]!.name : `${entry.rules.map((r) => plan.rules[r]!.name).join(', ')} ${entry.mode}`)).join('; ')}`,
    `measures: ${plan.measures.map((measure) => measure.name).join(', ') || 'none'}`,
    `summaries: ${plan.summaries.map((summary) => summary.name).join(', ') || 'none'}`,
    `checks: ${plan.checks.length}`,
    `memory at the start: ${(executable.bytes / 1e6).toFixed(2)} MB`,
  ];
}

function parameterText({ name, type, value, options, min, max, unitLabel, unitFactor, about }: ParameterPlan): string {
  const shown = (v: number): string => String(Number((v / unitFactor).toPrecision(12)));
  const usual =
    type === 'yes or no'
      ? value
        ? 'yes'
        : 'no'
      : options
        ? options[value]!
        : `${shown(value)}${unitLabel ? ` ${unitLabel}` : ''}`;
  const bounds = min === undefined || max === undefined ? '' : `, from ${shown(min)} to ${shown(max)}`;
  return `${name} = ${usual}${bounds}${about ? `   ${about}` : ''}`;
}
