import { Command } from 'commander';
import type { LoadedModel, ParameterPlan, Plan } from '@vole/core';
import { compilePlan, measuresRead, Run, wordsOfParameter } from '@vole/core';
import { counted } from './counted.ts';
import { modelOrExplain } from './model-file.ts';

export function infoCommand(): Command {
  return new Command('info')
    .description('Says what a model is made of: parts, parameters, sizes.')
    .argument('<model>', 'a .vole file')
    .option('--json', 'the same as JSON on standard output')
    .addHelpText('after', '\nExamples:\n  vole info meadow-year.vole\n  vole info meadow-year.vole --json')
    .action(async (path: string, options: { json?: boolean }) => {
      const model = await modelOrExplain(path);
      if (!model) return;
      const words = options.json
        ? JSON.stringify(infoFacts(model.loaded), null, 2)
        : infoLines(model.loaded).join('\n');
      process.stdout.write(`${words}\n`);
    });
}

/** What a program may want to know of a model before it runs or varies it; values in the units that stand beside them. */
function infoFacts({ plan, checked }: LoadedModel): object {
  const series = ({ name, unitLabel, about }: Plan['summaries'][number] | Plan['measures'][number]): object => ({
    name,
    unit: unitLabel,
    about,
  });
  return {
    title: plan.title,
    step: { length: plan.clock.stepLength, unit: plan.clock.unitLabel },
    parameters: plan.parameters.map((parameter) => {
      const { name, type, unitLabel, unitFactor, min, max, about } = parameter;
      const words = wordsOfParameter(parameter);
      const shown = (value: number | undefined): number | undefined =>
        value === undefined ? undefined : Number((value / unitFactor).toPrecision(12));
      return {
        name,
        type,
        value: words ? words[parameter.value] : shown(parameter.value),
        ...(words ? { options: words } : { unit: unitLabel, min: shown(min), max: shown(max) }),
        about,
      };
    }),
    kinds: plan.kinds.map(({ name, columns, machines }) => ({
      name,
      attributes: columns.map((column) => ({ name: column.name, unit: column.unitLabel })),
      states: Object.fromEntries(machines.map((machine) => [machine.name, machine.states])),
    })),
    measures: measuresRead(checked).map(({ index }) => series(plan.measures[index]!)),
    summaries: plan.summaries.map(series),
    records: plan.records.map(({ name }) => name),
    checks: plan.checks.map(({ title }) => title),
  };
}

function infoLines({ plan, checked }: LoadedModel): string[] {
  const executable = compilePlan(plan).executable();
  const run = new Run(
    executable,
    plan.parameters.map((parameter) => parameter.value),
    1,
  );
  return [
    plan.title,
    `clock: ${plan.clock.unitSeconds > 0 ? `a step is ${stepText(plan)}` : 'time is counted in steps'}, at most ${run.stepLimit} steps`,
    ...executable.state.grounds.map(({ space }, s) => spaceText(plan.spaces[s]!, space)),
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
    `measures: ${
      measuresRead(checked)
        .map(({ name }) => name)
        .join(', ') || 'none'
    }`,
    `summaries: ${plan.summaries.map((summary) => summary.name).join(', ') || 'none'}`,
    `checks: ${plan.checks.length}`,
    `memory at the start: ${(executable.bytes / 1e6).toFixed(2)} MB`,
  ];
}

function spaceText(
  { name, unitLabel, cellLength, lanes }: Plan['spaces'][number],
  { form, width, height, edge }: { form: string; width: number; height: number; edge: string },
): string {
  if (!lanes) {
    const size = cellLength === undefined ? unitLabel : `cells of ${cellLength} ${unitLabel}`;
    return `space ${name}: ${form} ${width} by ${height} ${size}`.trimEnd() + `, ${edge}`;
  }
  const { told } = lanes;
  const kilometres = (metres: number): string => `${Number((metres / 1000).toPrecision(3))} km`;
  return [
    `space ${name}: map of ${counted(told.lanes, 'lane')}, ${kilometres(told.metres)}: ${told.kinds.map(([kind, count]) => `${count} ${kind}`).join(', ')}`,
    ...(told.leftOut.lanes > 0
      ? [
          `  left out: ${counted(told.leftOut.parts, 'smaller part')} with ${counted(told.leftOut.lanes, 'lane')}, ${kilometres(told.leftOut.metres)}`,
        ]
      : []),
    ...(told.otherKinds.length > 0 ? [`  ways not taken: ${told.otherKinds.join(', ')}`] : []),
    ...(told.missing > 0 ? [`  points that are not in the file: ${told.missing}`] : []),
    `  named: ${lanes.places.length} places, ${lanes.areas.filter((area) => area.name).length} of ${lanes.areas.length} areas`,
  ].join('\n');
}

function stepText({ clock: { stepLength, unitLabel } }: Plan): string {
  return `${stepLength} ${stepLength === 1 && unitLabel.length > 2 ? unitLabel.replace(/s$/, '') : unitLabel}`;
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
