import type { AttributeSymbol } from './checked.ts';
import type { Environment } from './environment.ts';
import * as say from './meaning-messages.ts';

/** What the columns of a run and the keys of their luck have room for; far above any model written by hand. */
const MOST_KINDS = 1000;
const MOST_COLUMNS = 4000;
const MOST_STATES = 250;
const MOST_MACHINES = 250;
const MOST_TIE_ATTRIBUTES = 250;

/** Parts of which there are more than a run has room for. */
export function checkSizes(env: Environment): void {
  const kinds = [...env.kinds.values()];
  if (kinds.length > MOST_KINDS)
    env.report(say.tooMany(kinds[MOST_KINDS]!.span, 'The model', 'kinds', kinds.length, MOST_KINDS));
  for (const kind of kinds) {
    const columns = kind.attributes.reduce((sum, attribute) => sum + attributeWidth(attribute), 0);
    if (columns > MOST_COLUMNS)
      env.report(
        say.tooMany(kind.span, kind.name, 'values (a place counts two, a list its length)', columns, MOST_COLUMNS),
      );
    if (kind.machines.length > MOST_MACHINES)
      env.report(say.tooMany(kind.span, kind.name, 'state machines', kind.machines.length, MOST_MACHINES));
    for (const machine of kind.machines) {
      if (machine.states.length > MOST_STATES)
        env.report(say.tooMany(machine.span, machine.name, 'states', machine.states.length, MOST_STATES));
    }
  }
  for (const network of env.networks.values()) {
    if (network.attributes.length > MOST_TIE_ATTRIBUTES)
      env.report(say.tooMany(network.span, network.name, 'attributes', network.attributes.length, MOST_TIE_ATTRIBUTES));
  }
}

/** How many numbers an attribute keeps: places two, lists their length and then each item. */
export function attributeWidth({ type, line }: AttributeSymbol): number {
  if (type.is === 'place') return 2;
  return line.list ? 1 + line.list.size * (line.list.of === 'places' ? 2 : 1) : 1;
}
