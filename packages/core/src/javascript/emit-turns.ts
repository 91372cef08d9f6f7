import type { ChangeKernel, RuleKernel } from '../kernel/rule-kernel.ts';
import { effectsOf } from '../plan/analysis.ts';
import type { TurnNumber } from '../kernel/turn-reads.ts';
import * as P from '../plan/plan.ts';
import type { BodyWriter } from './body-writer.ts';
import { emitValue, rasterName } from './emit-expression.ts';
import { rasterCode } from './known-sizes.ts';
import type { PlanWriter } from './plan-writer.ts';

/**
 * Has the turns of a line of the order done by its kernel, or, where that may find at the time that it cannot, by code that is written here.
 *
 * @param first what the kernel is given first: keys of luck, and where rules share turns whether each is due
 * @param drawn the key by which the order of the turns is drawn, if it is; where they are had by number all the same, whose failure is told depends on it
 */
export function emitTurnsByKernel(
  script: PlanWriter,
  out: BodyWriter,
  entry: number,
  kernel: RuleKernel,
  first: readonly string[],
  drawn: number | undefined,
  otherwise: () => void,
): void {
  const given = [...first, ...kernel.numbers.map((one) => numberCode(script.plan, out, one))].join(', ');
  const turns = `S.turnsByKernel(${entry}, [${given}], ${drawn ?? 'undefined'})`;
  if (mayPass(kernel)) script.w.block(`if (!${turns})`, otherwise);
  else script.w.line(`${turns};`);
}

/** Whether a kernel may leave its line to other code at the time: where too many cells are asked for, or too many agents stand in circles. */
export function mayPass({ cells, circles }: RuleKernel): boolean {
  return cells.length > 0 || circles.length > 0;
}

/** What kernels for changes of machines are given beside their keys, by kind and machine, asked for when they are called. */
export function changesCode(script: PlanWriter, changes: readonly ChangeKernel[]): string {
  const of = changes.map(({ kind, machine, turns }) => {
    const body = script.plan.kinds[kind]!.machines[machine]!.change;
    const out = script.body({ atOnce: false, effects: effectsOf({ body }), actorKind: kind });
    const numbers = turns.numbers.map((one) => numberCode(script.plan, out, one));
    return `'${kind}:${machine}': () => [${numbers.join(', ')}]`;
  });
  return of.length === 0 ? '{}' : `{ ${of.join(', ')} }`;
}

function numberCode(plan: P.Plan, out: BodyWriter, number: TurnNumber): string {
  switch (number.op) {
    case 'raster':
      return rasterCode(plan, number.field)[number.part];
    case 'raster of space':
      return `${rasterName(P.rasterOfSpace(number.space))}.${number.part}`;
    case 'bound':
      return `${number.which === 'low' ? 'lo' : 'hi'}${number.field}`;
    case 'index':
      return `k${number.kind}.index.${number.part}`;
    case 'mask': {
      const { of, part } = number;
      return `S.zones.${of.is === 'zone' ? `masks[${of.zone}]` : `blocked[${of.space}]`}.raster.${part}`;
    }
    case 'extent':
      return `S.zones.masks[${number.zone}].extent.${number.part}`;
    case 'in states':
      return `(S.areStatesOpen && S.countStates(), ${number.counters.map((at) => `IN[${at}]`).join(' + ') || '0'})`;
    case 'capacity':
      return `k${number.kind}.capacity`;
    case 'slots':
      return `k${number.kind}.used`;
    case 'most notes':
      return [number.fixed, ...number.perAgent.map(([kind, many]) => `${many} * k${kind}.used`)].join(' + ');
    case 'most living':
      return `W.ceiling - total()${number.kinds.map((kind) => ` + k${kind}.living`).join('')}`;
    default:
      return emitValue(out, number);
  }
}
