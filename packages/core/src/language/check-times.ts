import type { Environment } from './environment.ts';
import * as say from './meaning-messages.ts';
import { constantOf } from './scales.ts';
import type * as Ast from './syntax.ts';
import { partsOf } from './syntax.ts';

/** Slack of comparisons with the step, as in runs. */
const SLACK = 1e-9;

/** Periods that a step cannot keep: what comes every so often comes at most once a step, and a stretch that begins and ends in one step never holds. */
export function checkTimes(env: Environment, tree: Ast.SyntaxTree): void {
  const { stepLength } = env.scales;
  const stepPart = partsOf(tree, 'clock')[0]?.step;
  const step = stepPart ? env.textOf(stepPart.span) : '1 step';

  const period = (expr: Ast.Expr | undefined, what: string): void => {
    if (!expr) return;
    const constant = constantOf(expr, env.scales);
    if (constant && constant.value > 0 && constant.value < stepLength * (1 - SLACK))
      env.report(say.periodTooShort(expr.span, what, env.textOf(expr.span), step));
    const ref = env.refs.get(expr);
    if (ref?.is !== 'parameter' || ref.parameter.type.is !== 'number') return;
    const { name, value, min } = ref.parameter;
    if ((min ?? value) < stepLength * (1 - SLACK)) env.report(say.periodMayBeShort(expr.span, name, step));
  };

  for (const behaviour of [...partsOf(tree, 'behaviour'), ...partsOf(tree, 'agent').flatMap((part) => part.behaviours)])
    period(behaviour.every, 'A period');
  for (const record of partsOf(tree, 'record')) period(record.every, 'A period');
  for (const { when, span } of partsOf(tree, 'timeline').flatMap((part) => part.lines)) {
    if (when.is === 'every') period(when.period, 'A period');
    if (when.is !== 'from') continue;
    const [from, to] = [when.from, when.to].map((time) => constantOf(time, env.scales)?.value);
    if (
      from !== undefined &&
      to !== undefined &&
      Math.floor(from / stepLength + SLACK) >= Math.floor(to / stepLength + SLACK)
    )
      env.report(say.emptyPeriod(span, step));
  }
}
