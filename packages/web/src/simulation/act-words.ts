import type { Plan } from '@vole/core';
import { valueWords } from '@vole/core';
import type { ActNote } from './protocol.ts';

/** The name of a line of the order, as the text has it. */
export function orderLineName(plan: Plan, line: number): string {
  const entry = plan.schedule[line]!;
  if (entry.is === 'fields') return entry.fields.map((field) => plan.fields[field]!.name).join(', ');
  return (entry.is === 'surroundings' ? [entry.rule] : entry.rules).map((rule) => plan.rules[rule]!.name).join(', ');
}

/** What was done by hand, in a few words. */
export function actWords(plan: Plan, { act, from }: ActNote): string {
  switch (act.is) {
    case 'set parameter': {
      const parameter = plan.parameters[act.parameter]!;
      return `${parameter.name} ${from === undefined ? '' : `${valueWords(parameter, from)} to `}${valueWords(parameter, act.value)}`;
    }
    case 'paint':
      return `${act.inside ? 'painted' : 'cleared'} ${plan.zones[act.zone]!.name}`;
    case 'place':
      return `placed a ${plan.kinds[act.kind]!.name}`;
    case 'switch':
      return `${orderLineName(plan, act.line)} ${act.on ? 'on' : 'off'}`;
    default:
    // The others are acts on an agent.
  }
  const kind = plan.kinds[act.kind]!;
  const who = `${kind.name} ${act.number}`;
  switch (act.is) {
    case 'move':
      return `moved ${who}`;
    case 'remove':
      return `removed ${who}`;
    case 'send':
      return `sent ${plan.messages[act.message]!.name} to ${who}`;
    case 'set state':
      return `made ${who} ${kind.machines[act.machine]!.states[act.state]!}`;
    case 'set attribute': {
      const column = kind.columns[act.column]!;
      return `${who}: ${column.name} ${valueWords(column, act.value)}`;
    }
  }
}
