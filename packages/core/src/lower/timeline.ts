import { keyOfName } from '../engine/random/stream.ts';
import { partsOf } from '../language/syntax.ts';
import type * as Ast from '../language/syntax.ts';
import type { TimelinePlan, TimelineWhen } from '../plan/plan.ts';
import type { ModelDraft } from './model-draft.ts';
import { lowerBody } from './statement.ts';

export function timelinePlans(whole: ModelDraft): TimelinePlan[] {
  const lines = partsOf(whole.model.tree, 'timeline').flatMap((part) => part.lines);
  return lines.map((line, i): TimelinePlan => {
    const name = `timeline ${i + 1}`;
    const isPeriod = line.when.is === 'from' || line.when.is === 'while';
    const overrides = !isPeriod
      ? []
      : line.body.flatMap((statement) => {
          const ref = statement.is === 'assign' ? whole.model.refs.get(statement.target) : undefined;
          return statement.is === 'assign' && ref?.is === 'parameter'
            ? [{ parameter: ref.parameter.index, value: whole.asked(statement.value, name) }]
            : [];
        });
    return {
      when: timelineWhen(whole, line.when, name),
      overrides,
      body: isPeriod ? { statements: [], locals: 0 } : lowerBody(whole.draft(name), line.body),
      key: keyOfName(name),
      label: line.body.map((statement) => whole.words(statement.span)).join('; '),
    };
  });
}

function timelineWhen(whole: ModelDraft, when: Ast.TimelineWhen, name: string): TimelineWhen {
  switch (when.is) {
    case 'at start':
      return { is: 'at', time: whole.askNumber(0) };
    case 'at':
      return { is: 'at', time: whole.asked(when.time, name) };
    case 'from':
      return { is: 'from', from: whole.asked(when.from, name), to: whole.asked(when.to, name) };
    case 'every':
      return { is: 'every', period: whole.asked(when.period, name) };
    case 'every year on':
    case 'every day':
      return when;
    default:
      return { is: when.is, condition: whole.asked(when.condition, name) };
  }
}
