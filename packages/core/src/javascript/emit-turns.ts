import type { RuleKernel } from '../kernel/rule-kernels.ts';
import type { TurnColumn, TurnNumber } from '../kernel/turn-reads.ts';
import type * as P from '../plan/plan.ts';
import type { BodyWriter } from './body-writer.ts';
import { emitValue } from './emit-expression.ts';
import { rasterCode } from './known-sizes.ts';
import type { PlanWriter } from './plan-writer.ts';

/**
 * Has the turns of a rule done by its kernel.
 *
 * @param drawn the key by which the order of the turns is drawn, if it is: whose failure is told depends on it
 */
export function emitTurnsByKernel(
  script: PlanWriter,
  out: BodyWriter,
  rule: P.RulePlan,
  { name, columns, numbers }: RuleKernel,
  drawn?: number,
): void {
  script.w.line(
    `S.turnsByKernel("${name}", ${rule.kind}, [${columns.map(columnCode).join(', ')}], key0, key1, [${numbers.map((one) => numberCode(script.plan, out, one)).join(', ')}], ${drawn ?? 'undefined'});`,
  );
}

const NAMES = { alive: 'alive', number: 'num', x: 'x', y: 'y', direction: 'dir', sine: 'sin', cosine: 'cos' } as const;
const OF_COLUMN = { attribute: 'a', state: 's', due: 'd' } as const;

function columnCode(column: TurnColumn): string {
  switch (column.is) {
    case 'attribute':
    case 'state':
    case 'due':
      return `k${column.kind}_${OF_COLUMN[column.is]}${column.column}`;
    case 'field':
      return `g${column.field}_v`;
    case 'entered':
      return 'WE';
    case 'left':
      return 'WL';
    case 'in state':
      return 'IN';
    case 'trouble':
      return 'S.trouble';
    default:
      return `k${column.kind}_${NAMES[column.is]}`;
  }
}

function numberCode(plan: P.Plan, out: BodyWriter, number: TurnNumber): string {
  if (number.op === 'raster') return rasterCode(plan, number.field)[number.part];
  if (number.op === 'bound') return `${number.which === 'low' ? 'lo' : 'hi'}${number.field}`;
  return emitValue(out, number);
}
